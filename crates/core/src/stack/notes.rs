//! What the user should know about a stack: findings and notes, each with a
//! stable code.

use serde::Serialize;

use super::{BuildRequest, StandIn};
use crate::font::{Body, Face};
use crate::standin::LineFit;

/// Something that the user should know about a stack.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct Note {
    /// A stable code.
    pub code: &'static str,
    /// Whether it counts as a finding (exit status 1).
    pub finding: bool,
    /// What, where, why it matters and what to do.
    pub text: String,
}

/// The notes on a fitted stack.
pub(super) fn notes(
    request: &BuildRequest<'_>,
    fitted: &LineFit,
    stand_ins: &[StandIn],
    words_lacked: u64,
) -> Vec<Note> {
    let web = request.web.names().label();
    let mut notes = on_web_font(request, &web, fitted, words_lacked);
    for (stand_in, local) in stand_ins.iter().zip(request.locals) {
        notes.extend(on_lines(request, &web, stand_in));
        notes.extend(on_card(local));
        notes.extend(on_looks(request, &web, stand_in, local.stated_generic()));
    }
    notes
}

/// What a card does not know of the local face.
fn on_card(local: &Face) -> Vec<Note> {
    let Body::Card(card) = local.body() else {
        return Vec::new();
    };
    let (card, name) = (card.card(), local.names().label());
    let mut notes = Vec::new();
    if let Some(other) = &card.measured_on {
        notes.push(Note::remark(
            "card-of-another-face",
            format!(
                "{name} was measured on {other}, which was designed to the same widths; its kerning \
                 and characters may differ, so look at the page where {name} is installed"
            ),
        ));
    }
    if !card.unknown_widths.is_empty() {
        notes.push(Note::remark(
            "card-widths-unknown",
            format!(
                "the card of {name} does not know widths in {}, so words in these scripts were \
                 left out of the fit; name the font file itself where you have it",
                card.unknown_widths.join(", ")
            ),
        ));
    }
    notes
}

fn on_web_font(
    request: &BuildRequest<'_>,
    web: &str,
    fitted: &LineFit,
    words_lacked: u64,
) -> Vec<Note> {
    let mut notes = Vec::new();
    if request.web.kerning_dropped() {
        notes.push(Note::remark(
            "kerning-dropped",
            format!(
                "browsers drop the old kerning table of {web} when they load it as a web font, so \
                 it was measured without; where it is installed it is kerned and narrower"
            ),
        ));
    }
    if words_lacked > 0 {
        notes.push(Note::remark(
            "words-lacked",
            format!(
                "{words_lacked} of {} words have a character that {web} lacks and were left out \
                 of the width fits; `cover` tells which",
                request.sample.total()
            ),
        ));
    }
    let changed = named(&fitted.own_lines_changed, &request.sizes);
    if !changed.is_empty() {
        notes.push(Note::remark(
            "pinned-lines-changed",
            format!(
                "stating its own metrics changes lines of {web} by 1 px in Chromium at {}; they \
                 then stay put while loading",
                px_list(&changed)
            ),
        ));
    }
    if fitted.gap_folded {
        notes.push(Note::remark(
            "gap-folded",
            format!(
                "the line gap of {web} was folded into its ascent and descent, half each, because \
                 Firefox makes equal lines only so; backgrounds of inline boxes grow by that much"
            ),
        ));
    }
    if !request.pin {
        notes.push(Note::remark(
            "firefox-not-met",
            format!(
                "{web} is not pinned; Firefox then rounds its lines in another way than those of \
                 its stand-ins, and they can differ by a pixel or more"
            ),
        ));
    }
    notes
}

fn on_lines(request: &BuildRequest<'_>, web: &str, stand_in: &StandIn) -> Vec<Note> {
    let local = stand_in.face.names.label();
    let line = request.web.line();
    let extent = line.ascent + line.descent;
    let resized = stand_in.width.size_adjust / 100.0;
    let cause = if extent < resized + 0.07 {
        format!(
            ": Firefox makes no line lower than the em, and ascent and descent of {web} make only \
             {extent:.2} em where {local} is resized to {resized:.2}"
        )
    } else {
        String::new()
    };
    let mut notes = Vec::new();
    let mut off = |code, engine: &str, sizes: &[f32], cause: &str| {
        let sizes = named(sizes, &request.sizes);
        if !sizes.is_empty() {
            notes.push(Note {
                code,
                finding: true,
                text: format!(
                    "at {} lines of {local} and {web} differ in {engine}, as no overrides agree \
                     there{cause}; state a line-height for text of these sizes",
                    px_list(&sizes)
                ),
            });
        }
    };
    let lines = &stand_in.lines;
    off("lines-off-chromium", "Chromium", &lines.off_in_chromium, "");
    if let Some(sizes) = &lines.off_in_firefox {
        off("lines-off-firefox", "Firefox", sizes, &cause);
    }
    notes
}

fn on_looks(
    request: &BuildRequest<'_>,
    web: &str,
    stand_in: &StandIn,
    class: Option<&str>,
) -> Vec<Note> {
    let local = stand_in.face.names.label();
    let mut notes = Vec::new();
    let (weight, web_weight) = (stand_in.face.weight, request.web.weight());
    if (weight - web_weight).abs() >= 100.0 {
        notes.push(Note::remark(
            "weight-differs",
            format!(
                "{local} has weight {weight}, {web} has {web_weight}; the text will look darker or \
                 lighter until the web font arrives, so give the local face of the same weight"
            ),
        ));
    }
    if let (Some(web_class), Some(class)) = (request.web.stated_generic(), class)
        && web_class != class
    {
        notes.push(Note::remark(
            "class-differs",
            format!(
                "{local} is {class}, {web} is {web_class}; the swap will be seen even where \
                 nothing moves"
            ),
        ));
    }
    let width = &stand_in.width;
    if width.words_left_out > 0 {
        notes.push(Note::remark(
            "words-left-out",
            format!(
                "{} of {} words have a character that {local} lacks; they will show in the next \
                 font of the stack, and nothing holds their lines",
                width.words_left_out,
                width.words + width.words_left_out
            ),
        ));
    }
    notes
}

impl Note {
    /// A note that is no finding.
    fn remark(code: &'static str, text: String) -> Self {
        Note {
            code,
            finding: false,
            text,
        }
    }
}

/// The sizes of `off` that the user named.
fn named(off: &[f32], sizes: &[f32]) -> Vec<f32> {
    off.iter()
        .copied()
        .filter(|size| sizes.contains(size))
        .collect()
}

fn px_list(sizes: &[f32]) -> String {
    let sizes: Vec<String> = sizes.iter().map(|size| format!("{size} px")).collect();
    sizes.join(", ")
}
