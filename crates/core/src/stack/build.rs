//! Builds a stack.

use tidy_lattice_coverage::need::Need;
use tidy_lattice_documents::style::{Overrides, class_name, custom_property, family_list};
use tidy_lattice_glyphs::font::{Class, ClassJudgement, Face};
use tidy_lattice_layout::firefox::{AdjustedLines, Design, natural_height};

use super::extras::{self, Extra};
use super::installed::installed;
use super::notes::notes;
use super::plain::PlainStack;
use super::request::{BuildRequest, KeptFamily};
use super::result::{
    Built, Entry, EntryKind, ExtraFont, StackFace, StandIn, WebFamily, WebFont, WebLines,
};
use super::rules::sheets;
use super::stand_ins::{Fitted, main_place, rank_families, set_by_face, stand_ins, web_faces};
use super::{Note, misread};
use crate::describe::LetterShape;
use tidy_lattice_standin::{
    Fitting, LineFit, LineRequest, ResizedFace, SetSample, StandInLines, fit_lines,
    half_pixel_sizes,
};

/// A line of text is between these high, in em, or its metrics are damaged.
const LINES: std::ops::RangeInclusive<f64> = 0.5..=4.0;

/// How many pieces of text candidates are ranked on: with 4,000 and with 800 the same ones
/// come first.
const RANKED_ON: usize = 800;

/// Why no stack can be built.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum BuildError {
    /// There is no web font.
    #[error("there is no web font to build a stack for")]
    NoWebFont,
}

/// The custom property that holds the stack of the role `role`.
pub fn stack_property(role: &str) -> String {
    custom_property(&format!("{role} stack"))
}

/// Builds the stack that `request` describes. `shared` is what all roles with the
/// same fonts need together, so that their rules are the same; the role's own
/// need where it is alone.
///
/// # Errors
///
/// [`BuildError`], where there is nothing to start from; all else is noted, and
/// the best stack is built that can be.
pub fn build(request: &BuildRequest<'_>, shared: Option<&Need>) -> Result<Built, BuildError> {
    let main = main_face(request).ok_or(BuildError::NoWebFont)?;
    let shared = shared.unwrap_or(request.need);
    let mut found = Vec::new();
    check_web_font(request, main, &mut found);
    let faces = web_faces(request);
    let set = set_by_face(request, &faces);
    let samples: Vec<SetSample> = set
        .iter()
        .map(|set| SetSample::new(set, request.sample, &request.sizes, &request.widths))
        .collect();
    let fittings: Vec<Fitting<'_>> = faces
        .iter()
        .zip(&samples)
        .map(|((_, face), known)| Fitting::in_columns(face, &known.sample, &known.columns))
        .collect();
    let words_lacked = fittings[0].words() - fittings[0].words_in_web_font();
    let (mut fitted, plain) = if fittings[0].words_in_web_font() == 0 {
        found.push(nothing_to_fit(request, main));
        (Vec::new(), PlainStack::default())
    } else {
        let face = faces[main_place(&faces)].1;
        let start = request.sample.beginning(RANKED_ON);
        let fitting = Fitting::new(face, &start, &request.sizes, &request.widths);
        let ranked = rank_families(request, (face, &fitting), &mut found);
        let plain = PlainStack::new(request, &ranked);
        let fitted = stand_ins(request, ranked, (&fittings, &set), &mut found);
        (fitted, plain)
    };
    let shape = LetterShape::of(main);
    let mut signs = extras::signs(request, shared, &mut found);
    let mut scripts = extras::scripts(request, shared, &shape, &mut found);
    let faces = fit_all_lines(request, &mut fitted, &mut signs, &mut scripts);
    let class = match request.generic.as_deref().and_then(class_of_generic) {
        Some(class) => class,
        None => ClassJudgement::of(main),
    };
    let mut stand_ins: Vec<StandIn> = fitted.into_iter().map(|fitted| fitted.stand_in).collect();
    let all: Vec<&Extra<'_>> = signs.iter().chain(&scripts).collect();
    let installed = installed(request, class, &stand_ins, &all, &mut found);
    let generic = request
        .generic
        .clone()
        .unwrap_or_else(|| class.generic().unwrap_or("sans-serif").to_owned());
    let rivals = rivals(request, main);
    found.extend(hold_to_web(&rivals, request, main, &mut stand_ins));
    let behind: Vec<&str> = rivals.iter().map(|kept| kept.name.as_str()).collect();
    let fonts = (signs.as_slice(), scripts.as_slice());
    let stack = entries(request, fonts, (&stand_ins, &behind), installed, &generic);
    let (generic, families) = stack.split_last().expect("the generic is always there");
    let font_family = family_list(
        families.iter().map(|entry| entry.family.as_str()),
        &generic.family,
    );
    let plain = plain.ending(&generic.family);
    let kept = |extras: Vec<Extra<'_>>| -> Vec<ExtraFont> {
        extras.into_iter().map(|extra| extra.font).collect()
    };
    let mut built = Built {
        role: request.role.clone(),
        web: WebFamily {
            family: request.family.clone(),
            faces,
            words_lacked,
        },
        sample: request.sample_kind.clone(),
        texts_in_columns: request
            .set
            .iter()
            .filter(|text| text.width.is_some())
            .count(),
        font_family,
        custom_property: stack_property(&request.role),
        class_name: class_name(&request.role),
        stack,
        stand_ins,
        signs: kept(signs),
        scripts: kept(scripts),
        plain,
        sizes: request.sizes.clone(),
        widths: request.widths.clone(),
        minimise: request.fit.minimise,
        notes: Vec::new(),
        css: String::new(),
    };
    found.extend(notes(request, &built, main));
    found.extend(write_sheet(request, &mut built));
    built.notes = found;
    Ok(built)
}

/// Writes the style sheet of a stack, and reads it again; what is read otherwise is told.
fn write_sheet(request: &BuildRequest<'_>, built: &mut Built) -> Vec<Note> {
    let alone = std::slice::from_ref(&*built);
    let sheets = sheets(alone, &[], &request.display, request.comments);
    built.css = sheets.whole();
    let rules = super::rules::font_faces(built, &request.display, request.comments);
    let faults = misread(&built.css, &rules).into_iter();
    let note = |fault| format!("the style sheet reads otherwise: {fault}");
    faults
        .map(|fault| Note::finding("css-misread", note(fault)))
        .collect()
}

/// The face that most of the text is set in: the first file's, nearest to
/// weight 400.
fn main_face<'a>(request: &BuildRequest<'a>) -> Option<&'a Face> {
    let faces = request.web.first()?.faces.iter().copied();
    faces.min_by(|a, b| {
        let off = |face: &Face| (face.weight() - 400.0).abs();
        off(a).total_cmp(&off(b))
    })
}

fn check_web_font(request: &BuildRequest<'_>, main: &Face, notes: &mut Vec<Note>) {
    let label = main.names().label();
    let line = main.line();
    let extent = line.ascent + line.descent + line.line_gap;
    if extent <= 0.0 {
        notes.push(Note::finding(
            "no-line-metrics",
            format!(
                "{label} states no vertical metrics (hhea and OS/2 are zero), so its lines cannot \
                 be met; state a line-height, and have the font mended"
            ),
        ));
    } else if !LINES.contains(&extent) {
        notes.push(Note::finding(
            "absurd-line-metrics",
            format!(
                "a line of {label} is {extent:.2} em high by its own metrics; state a line-height, \
                 and have the font mended"
            ),
        ));
    }
    for (letter, name) in [(' ', "space"), ('x', "x")] {
        if !main.maps(letter) {
            notes.push(Note::remark(
                "letter-missing",
                format!("{label} has no {name}; what depends on it is measured without"),
            ));
        }
    }
    if request.sample.total() == 0 {
        notes.push(Note::remark(
            "no-text",
            format!("{} has no text, so nothing could be fitted", request.role),
        ));
    }
}

/// The further web fonts that have most letters of `main`, too: before the stand-ins, text
/// would show in them for a moment where their files come first.
fn rivals<'r, 'a>(request: &'r BuildRequest<'a>, main: &Face) -> Vec<&'r KeptFamily<'a>> {
    let characters = main.characters();
    let letters: Vec<u32> = characters
        .iter()
        .filter(|point| is_letter(*point))
        .collect();
    let shares = |kept: &&KeptFamily<'_>| {
        let others = kept.face.characters();
        let shared = letters.iter().filter(|point| others.contains(**point));
        shared.count() * 2 > letters.len()
    };
    request.kept.iter().filter(shares).collect()
}

/// Puts `rivals` behind the stand-ins: these are held to the web font's characters, so that
/// what it lacks still shows in the further fonts.
fn hold_to_web(
    rivals: &[&KeptFamily<'_>],
    request: &BuildRequest<'_>,
    main: &Face,
    stand_ins: &mut [StandIn],
) -> Option<Note> {
    let (first, label) = (rivals.first()?, main.names().label());
    if stand_ins.is_empty() {
        return None;
    }
    for face in stand_ins.iter_mut().flat_map(|one| &mut one.faces) {
        // All faces of a file have the same characters.
        let web = request.web.get(face.web);
        let web = web.and_then(|source| source.faces.first());
        face.held_to = Some(web.map_or_else(|| main.characters(), |web| web.characters()));
    }
    let names: Vec<&str> = rivals.iter().map(|kept| kept.name.as_str()).collect();
    let has = if rivals.len() == 1 { "has" } else { "have" };
    let text = format!(
        "{} {has} the letters of {label}, too, so the stand-ins come before and are held to the \
         characters of {label}: no text shows in {} for a moment",
        names.join(", "),
        first.name
    );
    Some(Note::remark("kept-behind-stand-ins", text))
}

fn is_letter(point: u32) -> bool {
    char::from_u32(point).is_some_and(char::is_alphabetic)
}

fn nothing_to_fit(request: &BuildRequest<'_>, main: &Face) -> Note {
    Note::finding(
        "nothing-to-fit",
        format!(
            "{} has no whole word of {} with a width, so there are no stand-ins; give text that \
             this font is meant for (text files or --text), or another --language",
            main.names().label(),
            request.sample_kind.label()
        ),
    )
}

/// Fits the lines of every file of the web font with all that stands beside it.
fn fit_all_lines<'a>(
    request: &BuildRequest<'_>,
    fitted: &mut [Fitted],
    signs: &mut [Extra<'a>],
    scripts: &mut [Extra<'a>],
) -> Vec<WebFont> {
    let mut made = Vec::new();
    for (index, source) in request.web.iter().enumerate() {
        let face = source.faces[0];
        let line = face.line();
        let mut resized: Vec<ResizedFace> = Vec::new();
        for family in fitted.iter() {
            for (made, designs) in family.stand_in.faces.iter().zip(&family.designs) {
                for design in designs.iter().filter(|_| made.web == index) {
                    resized.extend(made.width.slices.iter().map(|slice| ResizedFace {
                        size_adjust: slice.size_adjust,
                        design: *design,
                    }));
                }
            }
        }
        let mut beside: Vec<ResizedFace> = Vec::new();
        if index == 0 {
            beside.extend(signs.iter().chain(scripts.iter()).map(|extra| ResizedFace {
                size_adjust: extra.font.size_adjust,
                design: Design::of(extra.face),
            }));
        }
        let has_line = line.ascent + line.descent > 0.0;
        let fit = fit_lines(&LineRequest {
            web: line,
            web_design: Design::of(face),
            stand_ins: resized,
            beside,
            sizes: request.sizes.clone(),
            pin: request.pin && has_line,
            taller: request.taller / 100.0,
        });
        if has_line {
            hand_out(fitted, index, &fit);
            let extras = signs.iter_mut().chain(scripts.iter_mut());
            for (extra, lines) in extras.zip(fit.beside.iter().filter(|_| index == 0)) {
                extra.font.lines = Some(lines.clone());
            }
        }
        let mut made_one = web_font(face, source, &fit);
        made_one.web_lines_in_firefox = fit.pinned.map(|pinned| {
            let first = fitted.iter().find_map(|family| {
                let made = family.stand_in.faces.iter().zip(&family.designs);
                let (made, designs) = made.into_iter().find(|(made, _)| made.web == index)?;
                Some(ResizedFace {
                    size_adjust: made.width.slices.first()?.size_adjust,
                    design: *designs.first()?,
                })
            });
            web_lines(request, face, pinned, first)
        });
        made.push(made_one);
    }
    made
}

/// What `pinned` does to the web font's own lines in Firefox, and what leaving it out would
/// do to those of `stand_in`.
fn web_lines(
    request: &BuildRequest<'_>,
    face: &Face,
    pinned: Overrides,
    stand_in: Option<ResizedFace>,
) -> WebLines {
    /// Less is arithmetic: half of the 1/60 px that Firefox lays out in.
    const CHANGED: f64 = 1.0 / 120.0;
    let declared = |design, size_adjust, overrides| AdjustedLines {
        design,
        size_adjust,
        overrides,
    };
    let pinned_line = declared(Design::of(face), 100.0, pinned);
    let mut sizes: Vec<f32> = half_pixel_sizes()
        .chain(request.sizes.iter().copied())
        .collect();
    sizes.sort_by(f32::total_cmp);
    sizes.dedup();
    let natural = |size: f32| natural_height(face, size);
    let change = |size: f32| (pinned_line.line(size).height() - natural(size)).abs();
    let in_use = request.sizes.iter().map(|size| change(*size));
    let unpinned = stand_in.map(|stand_in| {
        let fit = fit_lines(&LineRequest {
            web: face.line(),
            web_design: Design::of(face),
            stand_ins: vec![stand_in],
            beside: Vec::new(),
            sizes: request.sizes.clone(),
            pin: false,
            taller: 0.0,
        });
        let overrides = fit.stand_ins[0].overrides;
        let lines = declared(stand_in.design, stand_in.size_adjust, overrides);
        let differs = |size: &&f32| (lines.line(**size).height() - natural(**size)).abs() > CHANGED;
        sizes.iter().filter(differs).count()
    });
    WebLines {
        most_in_use: hundredths(in_use.fold(0.0, f64::max)),
        mean: hundredths(sizes.iter().map(|size| change(*size)).sum::<f64>() / sizes.len() as f64),
        off_unpinned: unpinned,
        sizes: sizes.len(),
        changed: sizes
            .into_iter()
            .filter(|size| change(*size) > CHANGED)
            .collect(),
    }
}

fn hundredths(px: f64) -> f64 {
    (px * 100.0).round() / 100.0
}

/// Puts the lines of `fit` where they belong.
fn hand_out(fitted: &mut [Fitted], web: usize, fit: &LineFit) {
    let mut lines = fit.stand_ins.iter();
    for family in fitted {
        for (made, designs) in family.stand_in.faces.iter_mut().zip(&family.designs) {
            if made.web != web {
                continue;
            }
            for _ in designs {
                let of_design = lines.by_ref().take(made.width.slices.len());
                if made.lines.is_empty() {
                    made.lines = of_design.cloned().collect();
                } else {
                    // The overrides are the same; what is off adds up.
                    for (known, more) in made.lines.iter_mut().zip(of_design) {
                        merge(known, more);
                    }
                }
            }
        }
    }
}

fn merge(known: &mut StandInLines, more: &StandInLines) {
    let add = |list: &mut Vec<f32>, more: &[f32]| {
        list.extend(more);
        list.sort_by(f32::total_cmp);
        list.dedup();
    };
    add(&mut known.off_in_chromium, &more.off_in_chromium);
    if let (Some(known), Some(more)) = (&mut known.off_in_firefox, &more.off_in_firefox) {
        add(known, more);
    }
}

fn web_font(face: &Face, source: &super::WebSource<'_>, fit: &LineFit) -> WebFont {
    let line = face.line();
    let extent = line.ascent + line.descent + line.line_gap;
    let width = face.width();
    let stretch = source.widths.unwrap_or((width, width));
    WebFont {
        face: StackFace::of(face),
        characters: face.characters(),
        url: source.url.clone(),
        format: face.container().css_format().to_owned(),
        slices: source.slices.clone(),
        weight: source.weights.unwrap_or((face.weight(), face.weight())),
        stretch: (stretch != (100.0, 100.0)).then_some(stretch),
        pinned: fit.pinned,
        gap_folded: fit.gap_folded,
        taller: (fit.taller * 10_000.0).round() / 100.0,
        web_lines_changed: fit.web_lines_changed.clone(),
        web_lines_in_firefox: None,
        specified_line_height: ((extent + fit.taller) * 100.0).round() / 100.0,
    }
}

/// All families in order; `behind` names the further web fonts that come after the
/// stand-ins.
fn entries(
    request: &BuildRequest<'_>,
    (signs, scripts): (&[Extra<'_>], &[Extra<'_>]),
    (stand_ins, behind): (&[StandIn], &[&str]),
    installed: Vec<Entry>,
    generic: &str,
) -> Vec<Entry> {
    let entry = |family: &str, kind, why: String, platforms: &[String]| Entry {
        family: family.to_owned(),
        kind,
        why,
        platforms: platforms.to_vec(),
    };
    let needed = |extras: &'_ [Extra<'_>]| -> Vec<ExtraFont> {
        let needed = extras.iter().filter(|extra| extra.needed);
        needed.map(|extra| extra.font.clone()).collect()
    };
    let mut stack = Vec::new();
    for sign in needed(signs) {
        let why = format!(
            "before the web font, for {} of its signs only",
            sign.range.len()
        );
        stack.push(entry(&sign.family, EntryKind::Sign, why, &[]));
    }
    let why = "the web font".to_owned();
    stack.push(entry(&request.family, EntryKind::Web, why, &[]));
    for script in needed(scripts) {
        let why = format!("for {}", script.serves.join(", "));
        stack.push(entry(&script.family, EntryKind::Script, why, &[]));
    }
    let keep = |name: &str| {
        let why = "a further web font, as the page declares it".to_owned();
        entry(name, EntryKind::Kept, why, &[])
    };
    let before = request.kept.iter().map(|kept| kept.name.as_str());
    stack.extend(before.filter(|name| !behind.contains(name)).map(keep));
    for stand_in in stand_ins {
        let why = format!(
            "{} as wide and as high as the web font",
            stand_in.over.join(", ")
        );
        let kind = EntryKind::StandIn;
        stack.push(entry(&stand_in.family, kind, why, &stand_in.platforms));
    }
    stack.extend(behind.iter().copied().map(keep));
    stack.extend(installed);
    let why = "whatever the device has".to_owned();
    stack.push(entry(generic, EntryKind::Generic, why, &[]));
    stack
}

fn class_of_generic(generic: &str) -> Option<Class> {
    match generic {
        "serif" | "ui-serif" => Some(Class::Serif),
        "sans-serif" | "ui-sans-serif" | "system-ui" => Some(Class::Sans),
        "monospace" | "ui-monospace" => Some(Class::Monospace),
        "cursive" => Some(Class::Script),
        _ => None,
    }
}
