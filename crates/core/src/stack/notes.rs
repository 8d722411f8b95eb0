//! What the user should know about a stack: findings and notes, each with a
//! stable code.

use std::collections::BTreeSet;

use serde::Serialize;
use tidy_lattice_coverage::platform::Known;
use tidy_lattice_glyphs::font::{Body, Class, ClassJudgement, Face, Slope};

use super::request::BuildRequest;
use super::result::{Built, StandIn, StandInFace};
use tidy_lattice_standin::{EM_ROUNDED_UP, StandInLines};

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

impl Note {
    /// A note that is no finding.
    pub(super) fn remark(code: &'static str, text: String) -> Self {
        Note {
            code,
            finding: false,
            text,
        }
    }

    /// A note that is one.
    pub(super) fn finding(code: &'static str, text: String) -> Self {
        Note {
            code,
            finding: true,
            text,
        }
    }
}

/// The notes on a fitted stack.
pub(super) fn notes(request: &BuildRequest<'_>, built: &Built, main: &Face) -> Vec<Note> {
    let mut notes = on_web_font(request, built, main);
    let mut seen: BTreeSet<String> = BTreeSet::new();
    for stand_in in &built.stand_ins {
        for face in &stand_in.faces {
            let name = face.face.names.label();
            let web = built.web.faces[face.web].face.names.label();
            notes.extend(on_lines(request, built, &web, face));
            if let Some(local) = local_face(request, face).filter(|_| seen.insert(name)) {
                notes.extend(on_card(local));
            }
        }
        notes.extend(on_looks(request, built, stand_in));
    }
    notes.extend(on_engines(built));
    notes.extend(on_name_only(request, built));
    for extra in built.signs.iter().chain(&built.scripts) {
        if let Some(lines) = &extra.lines {
            notes.extend(off(request, &built.web.family, &extra.family, lines, ""));
        }
        let line = extra.face.line;
        let extent = (line.ascent + line.descent) * extra.size_adjust / 100.0;
        let web = main.line();
        if extent > 1.15 * (web.ascent + web.descent) {
            notes.push(Note::remark(
                "tall-script",
                format!(
                    "{} asks for a line of {extent:.2} em, {} gives {:.2}; stacked marks may touch the \
                     lines above and below, so state a line-height of {extent:.2} or more where its \
                     text runs",
                    extra.family,
                    built.web.family,
                    web.ascent + web.descent
                ),
            ));
        }
    }
    notes
}

/// The local face that `face` stands on.
fn local_face<'a>(request: &BuildRequest<'a>, face: &StandInFace) -> Option<&'a Face> {
    let mut all = request
        .locals
        .iter()
        .flat_map(|family| family.faces.iter().copied());
    all.find(|local| *local.names() == face.face.names)
}

/// Platforms on which no stand-in is installed, though they have families of the web font's
/// class that nobody has measured.
fn on_name_only(request: &BuildRequest<'_>, built: &Built) -> Option<Note> {
    const NAMED: usize = 3;
    let class = ClassJudgement::of(request.web[0].faces[0]);
    let mut parts = Vec::new();
    for device in request.devices {
        let served = built.stand_ins.iter().any(|stand_in| {
            let mut over = stand_in.over.iter();
            over.any(|name| device.family(name).is_some())
        });
        let families = device.platform().families.iter();
        let unmeasured: Vec<&str> = families
            .filter(|family| family.class == class && family.known == Known::ByName)
            .map(|family| family.name.as_str())
            .collect();
        if served || unmeasured.is_empty() {
            continue;
        }
        let named = &unmeasured[..unmeasured.len().min(NAMED)];
        let more = match unmeasured.len() - named.len() {
            0 => String::new(),
            more => format!(" and {more} more"),
        };
        parts.push(format!(
            "{} ({}{more})",
            device.platform().title,
            named.join(", ")
        ));
    }
    (!parts.is_empty()).then(|| {
        Note::remark(
            "known-by-name-only",
            format!(
                "nothing stands in on {}, whose families of this class nobody has measured: the \
                 page of `tidy-lattice record --page`, opened there, measures them",
                parts.join(", ")
            ),
        )
    })
}

/// What a card does not know of the local face.
fn on_card(local: &Face) -> Vec<Note> {
    let Body::Card(card) = local.body() else {
        return Vec::new();
    };
    let (card, name) = (card.card(), local.names().label());
    let mut notes = Vec::new();
    if let Some(browser) = &card.measured_in {
        notes.push(Note::remark(
            "card-of-a-browser",
            format!(
                "{name} was measured in {}, which does not tell its underline: in Firefox, lines \
                 that are set closer than its ascent and descent may come out otherwise",
                browser.label()
            ),
        ));
    }
    if let Some(other) = &card.measured_on {
        notes.push(Note::remark(
            "card-of-another-face",
            format!(
                "{name} was measured on {other}, which was designed to the same widths; its kerning \
                 and characters may differ, so look at the page where {name} is installed"
            ),
        ));
    }
    if card.only_widths {
        notes.push(Note::remark(
            "card-of-widths",
            format!(
                "of {name} the widths of single letters alone are known{}: not its kerning, lines \
                 and heights, so look at the page where {name} is installed",
                match &card.source.package {
                    Some(package) => format!(" (from {package})"),
                    None => String::new(),
                }
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

fn on_web_font(request: &BuildRequest<'_>, built: &Built, main: &Face) -> Vec<Note> {
    let mut notes = Vec::new();
    let web = &main.names().label();
    let words_lacked = built.web.words_lacked;
    if main.kerning_dropped() {
        notes.push(Note::remark(
            "kerning-dropped",
            format!(
                "browsers drop the old kerning table of {web} when they load it as a web font, so \
                 it was measured without; where it is installed it is kerned and narrower"
            ),
        ));
    }
    // Lists of words hold a few foreign ones.
    let few = !request.sample_kind.is_own() && words_lacked * 50 < request.sample.total();
    if words_lacked > 0 && !few {
        notes.push(Note::remark(
            "words-lacked",
            format!(
                "{words_lacked} of {} words have a character that {web} lacks and were left out \
                 of the width fits; `cover` tells which",
                request.sample.total()
            ),
        ));
    }
    for face in &built.web.faces {
        let web = face.face.names.label();
        let changed = named(&face.web_lines_changed, &request.sizes);
        if !changed.is_empty() && face.taller == 0.0 {
            notes.push(Note::remark(
                "pinned-lines-changed",
                format!(
                    "stating its own metrics changes lines of {web} by 1 px in Chromium at {}; they \
                     then stay put while loading",
                    px_list(&changed)
                ),
            ));
        }
        if face.gap_folded {
            notes.push(Note::remark(
                "gap-folded",
                format!(
                    "the line gap of {web} was folded into its ascent and descent, half each, \
                     because Firefox makes equal lines only so; backgrounds of inline boxes grow by \
                     that much"
                ),
            ));
        }
        if face.taller > 0.0 {
            notes.push(Note::remark(
                "line-taller",
                format!(
                    "the line of {web} is pinned {:.2} % of an em taller than its own, as you \
                     allowed, because Firefox makes no line lower than the largest stand-in's em",
                    face.taller
                ),
            ));
        }
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

/// Sizes in use at which lines are off.
fn on_lines(request: &BuildRequest<'_>, built: &Built, web: &str, face: &StandInFace) -> Vec<Note> {
    if face.line_height_specified {
        return Vec::new();
    }
    let local = face.face.names.label();
    let web_face = &built.web.faces[face.web];
    let line = web_face.face.line;
    let extent = line.ascent + line.descent + line.line_gap;
    let sizes = face
        .width
        .slices
        .iter()
        .map(|slice| slice.size_adjust / 100.0);
    let largest = sizes.fold(0.0, f64::max);
    let lacking = largest + EM_ROUNDED_UP - extent;
    let cause = if lacking > 0.0 {
        format!(
            ": Firefox makes no line lower than the em, and a line of {web} makes only {extent:.2} \
             em where {local} is resized to {largest:.2}; a line {:.1} % of an em taller would do \
             (--taller)",
            lacking * 100.0
        )
    } else {
        String::new()
    };
    let mut notes = Vec::new();
    let mut sizes_told = BTreeSet::new();
    for lines in &face.lines {
        for note in off(request, web, &local, lines, &cause) {
            if sizes_told.insert(note.text.clone()) {
                let text = format!(
                    "{}; state a line-height there, such as {:.2}",
                    note.text, web_face.specified_line_height
                );
                notes.push(Note { text, ..note });
            }
        }
    }
    notes
}

/// Findings where `lines` of `local` are not those of `web` at a size in use.
fn off(
    request: &BuildRequest<'_>,
    web: &str,
    local: &str,
    lines: &StandInLines,
    cause: &str,
) -> Vec<Note> {
    let empty = Vec::new();
    let engines = [
        ("lines-off-chromium", "Chromium", &lines.off_in_chromium, ""),
        (
            "lines-off-firefox",
            "Firefox",
            lines.off_in_firefox.as_ref().unwrap_or(&empty),
            cause,
        ),
    ];
    let mut notes = Vec::new();
    for (code, engine, sizes, cause) in engines {
        let sizes = named(sizes, &request.sizes);
        if !sizes.is_empty() {
            notes.push(Note::finding(
                code,
                format!(
                    "at {} lines of {local} and {web} differ in {engine}, as no overrides agree \
                     there{cause}",
                    px_list(&sizes)
                ),
            ));
        }
    }
    notes
}

/// What is seen of a family although nothing moves.
fn on_looks(request: &BuildRequest<'_>, built: &Built, stand_in: &StandIn) -> Vec<Note> {
    let mut notes = Vec::new();
    let local = &stand_in.over[0];
    let web_of = |face: &StandInFace| built.web.faces[face.web].face.names.label();
    let named = |differs: &dyn Fn(&StandInFace) -> bool| -> Vec<String> {
        let faces = stand_in.faces.iter().filter(|face| differs(face));
        faces.map(web_of).collect()
    };
    let heavier = named(&|face| (face.face.weight - face.weight).abs() >= 100.0);
    if !heavier.is_empty() {
        notes.push(Note::remark(
            "weight-differs",
            format!(
                "{local} has no face as heavy or as light as {}; such text looks darker or lighter \
                 until the web font arrives",
                heavier.join(", ")
            ),
        ));
    }
    let upright = |slope: Slope| slope == Slope::Normal;
    let sloped = named(&|face| upright(face.face.slope) != upright(face.slope));
    if !sloped.is_empty() {
        notes.push(Note::remark(
            "slope-differs",
            format!(
                "{local} has no face sloped as {}; lines hold, but letters lean or straighten when \
                 the web font arrives",
                sloped.join(", ")
            ),
        ));
    }
    let class = |face: Option<&Face>| {
        face.map(ClassJudgement::of)
            .filter(|class| *class != Class::Unknown)
    };
    let first = stand_in.faces.first();
    let web_face = request.web[0].faces.first().copied();
    let local_face = first.and_then(|face| local_face(request, face));
    if let (Some(web_class), Some(local_class)) = (class(web_face), class(local_face))
        && web_class != local_class
    {
        notes.push(Note::remark(
            "class-differs",
            format!(
                "{local} is {}, {} is {}; the swap will be seen even where nothing moves",
                local_class.label(),
                built.web.family,
                web_class.label()
            ),
        ));
    }
    let lacking = stand_in.faces.iter().map(|face| &face.width);
    if let Some(width) = lacking.max_by_key(|width| width.words_left_out)
        && width.words_left_out > 0
    {
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

/// What engines show that honour `size-adjust` and not the line overrides.
fn on_engines(built: &Built) -> Option<Note> {
    let of_families: Vec<String> = built
        .stand_ins
        .iter()
        .filter_map(|stand_in| {
            let lines = stand_in.faces.first()?.without_overrides?;
            ((lines.web - lines.stand_in).abs() >= 0.005)
                .then(|| format!("{:.3} em with {}", lines.stand_in, stand_in.family))
        })
        .collect();
    let first = built.stand_ins.first()?.faces.first()?;
    let web = built.web.faces[first.web].face.line;
    let extent = web.ascent + web.descent + web.line_gap;
    if of_families.is_empty() {
        return None;
    }
    let support = super::engine_support();
    let engines: Vec<String> = support
        .engines
        .iter()
        .filter(|engine| engine.line_overrides.is_none())
        .map(|engine| format!("{} ({})", engine.name, engine.browser))
        .collect();
    Some(Note::remark(
        "line-overrides-ignored",
        format!(
            "{} honours size-adjust but no line overrides ({}, {}): where no line-height is stated, \
             a line there is {extent:.3} em in the web font and {}; any stated line-height, such as \
             {:.2}, takes the difference away",
            engines.join(", "),
            support.source,
            support.date,
            of_families.join(", "),
            built.web.faces[first.web].specified_line_height
        ),
    ))
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
