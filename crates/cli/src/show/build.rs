//! `build` for people.

use std::fmt::Write as _;
use std::path::Path;

use tidy_lattice_core::stack::{Built, EntryKind, StandIn, StandInFace};
use tidy_lattice_core::standin::{StandInLines, half_pixel_sizes};

use super::table::{lines, table};
use super::text::{BAD, FAINT, GOOD, TITLE, count, next_step, paragraph, px_list, safe, styled};
use crate::screen;

/// The report of all stacks: what was built and what is wrong; with `all` every fit, size
/// and note.
pub fn view(built: &[Built], all: bool) -> String {
    let of = if all { stack } else { short };
    let views: Vec<String> = built.iter().map(of).collect();
    views.join("\n")
}

/// How a style sheet of stacks that was written is used; where `told` it was said already.
pub fn use_of(built: &[Built], sheet: &Path, summary: bool) -> String {
    let is_css = sheet.extension().is_some_and(|ending| ending == "css");
    if summary || !is_css || built.is_empty() {
        return String::new();
    }
    let uses = built.iter().map(|built| {
        format!(
            "font-family: var({}) for {}",
            built.custom_property,
            safe(&built.role)
        )
    });
    let stand_ins = built.iter().any(|built| !built.stand_ins.is_empty());
    let in_firefox = if stand_ins {
        "for Firefox add the script in its first comment; "
    } else {
        ""
    };
    next_step(&format!(
        "link it in the pages and state {}; {in_firefox}`tidy-lattice shift --variants` tells what \
         that gains, `prove` whether it does.",
        uses.collect::<Vec<_>>().join(", ")
    ))
}

/// What was built, the worst of it, and what to do.
fn short(built: &Built) -> String {
    let mut view = heading(built);
    let mut summary = vec![over(built), worst_lines(built)];
    summary.extend(heights(built));
    let findings = built.notes.iter().filter(|note| note.finding).count();
    let notes = built.notes.len() - findings;
    summary.push(format!(
        "{} and {}; --all tells every fit, size and note.",
        count(findings as u64, "finding", "findings"),
        count(notes as u64, "note", "notes")
    ));
    summary.push(format!(
        "font-family: {}",
        screen::families(&safe(&built.font_family))
    ));
    for line in summary {
        view.push_str(&paragraph(&line));
    }
    // A stand-in of another kind of font is worth knowing, though nothing is to be done.
    let far = built
        .notes
        .iter()
        .filter(|note| note.code == "no-close-fallback");
    for note in far {
        let word = styled(FAINT, "note:");
        view.push_str(&paragraph(&format!("{word} {}", safe(&note.text))));
    }
    let mut codes: Vec<&str> = Vec::new();
    for note in built.notes.iter().filter(|note| note.finding) {
        if codes.contains(&note.code) {
            continue;
        }
        codes.push(note.code);
        let alike = built.notes.iter().filter(|other| other.code == note.code);
        let more = match alike.count() - 1 {
            0 => String::new(),
            more => format!(" (and {more} more of this kind)"),
        };
        let word = styled(BAD, "finding:");
        view.push_str(&paragraph(&format!("{word} {}{more}", safe(&note.text))));
    }
    view
}

/// What stands in, and where.
fn over(built: &Built) -> String {
    if built.stand_ins.is_empty() {
        return "There are no stand-ins.".to_owned();
    }
    let all: Vec<String> = built
        .stand_ins
        .iter()
        .map(|stand_in| match stand_in.platforms.as_slice() {
            [] => safe(&stand_in.over.join(", ")),
            platforms => safe(&format!(
                "{} ({})",
                stand_in.over.join(", "),
                platforms.join(", ")
            )),
        })
        .collect();
    format!(
        "{} over {}; {} in the stack.",
        count(all.len() as u64, "stand-in", "stand-ins"),
        all.join(", "),
        count(built.stack.len() as u64, "family", "families")
    )
}

/// The face whose paragraphs break elsewhere most.
fn worst_lines(built: &Built) -> String {
    let broken = |face: &StandInFace| face.width.breaks_after.map(|breaks| breaks.share());
    let worst = faces(built)
        .filter_map(|(_, face)| Some((broken(face)?, face)))
        .max_by(|a, b| a.0.total_cmp(&b.0));
    let Some((share, face)) = worst else {
        return "There is no running text, so nothing is known of lines.".to_owned();
    };
    let before = face
        .width
        .breaks_before
        .map_or(0.0, |breaks| breaks.share());
    format!(
        "Lines: at most {share:.1} % of paragraphs wrap differently, with {} ({before:.1} % with the \
         font as it is).",
        safe(&face.face.names.label())
    )
}

/// Whether lines are as high as the web font's.
fn heights(built: &Built) -> Option<String> {
    let mut decided = faces(built).filter(|(_, face)| !face.line_height_specified);
    if built.stand_ins.is_empty() {
        return None;
    }
    let off = |face: &StandInFace| {
        let lines = |size: &&f32| face.lines.iter().any(|lines| is_off(lines, **size));
        built.sizes.iter().filter(lines).count() > 0
    };
    let text = if faces(built).all(|(_, face)| face.line_height_specified) {
        "Heights: line-height is stated wherever the pages set this family."
    } else if decided.any(|(_, face)| off(face)) {
        "Heights: lines differ at sizes in use, as the findings say."
    } else {
        "Heights: lines are as high as the web font's at all sizes in use."
    };
    Some(text.to_owned())
}

fn heading(built: &Built) -> String {
    let title = format!(
        "{}: a stack for {}, widths fitted on {}",
        safe(&built.role),
        safe(&built.web.family),
        safe(&built.sample.label()),
    );
    let title = match built.texts_in_columns {
        0 => title,
        texts => format!("{title}, and on {texts} in the columns of its pages"),
    };
    format!("{}\n\n", styled(TITLE, &title))
}

/// One stack: its families, the fit of each stand-in, what is off.
fn stack(built: &Built) -> String {
    let mut view = heading(built);
    view.push_str(&entries(built));
    if !built.stand_ins.is_empty() {
        let _ = write!(view, "\n{}", stand_ins(built));
    }
    let _ = write!(view, "\n{}", off_lists(built));
    view.push_str(&web_line_changes(built));
    view.push_str(&paragraph(&format!(
        "font-family: {}",
        screen::families(&safe(&built.font_family))
    )));
    for note in &built.notes {
        let (style, word) = if note.finding {
            (BAD, "finding")
        } else {
            (FAINT, "note")
        };
        let word = styled(style, &format!("{word}:"));
        view.push_str(&paragraph(&format!("{word} {}", safe(&note.text))));
    }
    view
}

fn entries(built: &Built) -> String {
    let mut table = table(&["", "Family", "is", "why", "on"], &[0]);
    for (place, entry) in built.stack.iter().enumerate() {
        table.add_row([
            (place + 1).to_string(),
            safe(&entry.family),
            kind(entry.kind).to_owned(),
            safe(&entry.why),
            safe(&entry.platforms.join(", ")),
        ]);
    }
    lines(&table)
}

fn kind(kind: EntryKind) -> &'static str {
    match kind {
        EntryKind::Sign => "signs",
        EntryKind::Web => "web font",
        EntryKind::StandIn => "stand-in",
        EntryKind::Script => "script",
        EntryKind::Kept => "kept",
        EntryKind::Local => "installed",
        EntryKind::Generic => "generic",
    }
}

fn stand_ins(built: &Built) -> String {
    let at_sizes = format!("lines at {}", px_list(&built.sizes));
    let mut table = table(
        &[
            "Stand-in over",
            "for",
            "size-adjust",
            "words differ by",
            "paragraphs that wrap differently",
            at_sizes.as_str(),
            "Chromium, 8 to 96 px",
            "Firefox, 8 to 96 px",
        ],
        &[3, 4, 6, 7],
    );
    for (_, face) in faces(built) {
        let off = built
            .sizes
            .iter()
            .filter(|size| face.lines.iter().any(|lines| is_off(lines, **size)));
        let verdict = match off.count() {
            _ if face.line_height_specified => styled(FAINT, "line-height stated"),
            0 => styled(GOOD, "equal"),
            off => styled(BAD, &format!("{off} differ")),
        };
        let breaks = face.width.breaks_after.zip(face.width.breaks_before);
        table.add_row([
            safe(&face.face.names.label()),
            asked(built, face),
            sizes(face),
            format!(
                "{:.1} % (was {:.1} %)",
                face.width.after.word_mean, face.width.before.word_mean
            ),
            breaks.map_or("–".to_owned(), |(after, before)| {
                format!("{:.1} % (was {:.1} %)", after.share(), before.share())
            }),
            verdict,
            equal_sizes(face, |lines| Some(&lines.off_in_chromium)),
            equal_sizes(face, |lines| lines.off_in_firefox.as_ref()),
        ]);
    }
    lines(&table)
}

fn faces(built: &Built) -> impl Iterator<Item = (&StandIn, &StandInFace)> {
    let stand_ins = built.stand_ins.iter();
    stand_ins.flat_map(|stand_in| stand_in.faces.iter().map(move |face| (stand_in, face)))
}

/// What of the web font a face stands for.
fn asked(built: &Built, face: &StandInFace) -> String {
    let names = &built.web.faces[face.web].face.names;
    let (label, family) = (names.label(), names.family.as_str());
    let style = label.strip_prefix(family).unwrap_or(&label).trim();
    let style = if style.is_empty() { "Regular" } else { style };
    let several = built.web.faces[face.web].weight.0 != built.web.faces[face.web].weight.1;
    if several {
        // Of a variable font the weight tells, not the name of a position.
        match face.slope.css() {
            "normal" => face.weight.to_string(),
            slope => format!("{} {slope}", face.weight),
        }
    } else {
        safe(style)
    }
}

/// The factor, or the least and the most of several with their spread.
fn sizes(face: &StandInFace) -> String {
    let slices = &face.width.slices;
    let all = slices.iter().map(|slice| slice.size_adjust);
    let (least, most) = all.fold((f64::INFINITY, 0.0), |(least, most): (f64, f64), size| {
        (least.min(size), most.max(size))
    });
    if slices.len() == 1 {
        format!("{most} %")
    } else {
        format!(
            "{} slices, {least:.0} to {most:.0} %, spread {:.1} %",
            slices.len(),
            face.width.spread
        )
    }
}

fn is_off(lines: &StandInLines, size: f32) -> bool {
    lines.off_in_chromium.contains(&size)
        || lines
            .off_in_firefox
            .as_ref()
            .is_some_and(|off| off.contains(&size))
}

/// What pinning does to the web font's own lines, and what leaving it out would do.
fn web_line_changes(built: &Built) -> String {
    let mut text = String::new();
    for web in built.web.faces.iter().filter(|web| web.pinned.is_some()) {
        let chromium = web.web_lines_changed.len();
        let in_use = |changed: &[f32]| match built
            .sizes
            .iter()
            .filter(|size| changed.contains(size))
            .count()
        {
            0 => "none of them in use".to_owned(),
            named => format!("{named} of them in use"),
        };
        let mut summary = format!(
            "Pinned: where line-height is normal, lines of {} itself change once by 1 px or more in \
             Chromium at {chromium} of the sizes, {}",
            safe(&web.face.names.label()),
            in_use(&web.web_lines_changed)
        );
        if let Some(firefox) = &web.web_lines_in_firefox {
            let _ = write!(
                summary,
                "; in Firefox at {} of {}, {}, by {} px at most there and {} px in the mean of all",
                firefox.changed.len(),
                firefox.sizes,
                in_use(&firefox.changed),
                firefox.most_in_use,
                firefox.mean
            );
            if let Some(off) = firefox.off_unpinned {
                let _ = write!(
                    summary,
                    "; with --no-pin, lines of the first stand-in would be of another height there at \
                     {off}"
                );
            }
        }
        summary.push('.');
        text.push_str(&paragraph(&summary));
    }
    text
}

/// How many of the half-pixel sizes agree, in all slices.
fn equal_sizes(face: &StandInFace, off: impl Fn(&StandInLines) -> Option<&Vec<f32>>) -> String {
    let all = half_pixel_sizes().count();
    let lists: Option<Vec<&Vec<f32>>> = face.lines.iter().map(off).collect();
    match lists {
        Some(lists) if !lists.is_empty() => {
            let equal = half_pixel_sizes()
                .filter(|size| lists.iter().all(|off| !off.contains(size)))
                .count();
            format!("{equal} of {all} equal")
        }
        _ => "not met".to_owned(),
    }
}

/// The sizes at which no triple agrees.
fn off_lists(built: &Built) -> String {
    const LISTED: usize = 12;
    let mut text = String::new();
    for (_, face) in faces(built).filter(|(_, face)| !face.line_height_specified) {
        let engines: [(&str, Vec<f32>); 2] = [
            (
                "Chromium",
                merged(face, |lines| Some(&lines.off_in_chromium)),
            ),
            (
                "Firefox",
                merged(face, |lines| lines.off_in_firefox.as_ref()),
            ),
        ];
        for (engine, off) in engines {
            if off.is_empty() {
                continue;
            }
            let rest = off.len().saturating_sub(LISTED);
            let more = if rest == 0 {
                String::new()
            } else {
                format!(" and {rest} more")
            };
            text.push_str(&paragraph(&format!(
                "{} in {engine}: no overrides give lines of the web font's height at {}{more}",
                safe(&face.face.names.label()),
                px_list(&off[..off.len().min(LISTED)]),
            )));
        }
    }
    text
}

fn merged(face: &StandInFace, off: impl Fn(&StandInLines) -> Option<&Vec<f32>>) -> Vec<f32> {
    let mut all: Vec<f32> = face
        .lines
        .iter()
        .filter_map(off)
        .flatten()
        .copied()
        .collect();
    all.sort_by(f32::total_cmp);
    all.dedup();
    all
}

/// The stacks for where `@font-face` cannot be used.
pub fn plain(built: &[Built]) -> String {
    let mut text = String::new();
    for built in built {
        let _ = write!(
            text,
            "{}\n\nfont-family: {};\n\n",
            styled(TITLE, &format!("{} without @font-face", safe(&built.role))),
            screen::families(&built.plain.font_family)
        );
        let mut table = table(
            &[
                "Family",
                "class",
                "x-height",
                "words off",
                "text",
                "breaks",
                "on",
            ],
            &[2, 3, 4, 5],
        );
        for family in &built.plain.families {
            table.add_row([
                safe(&family.family),
                format!(
                    "{}{}",
                    family.class.label(),
                    if family.same_class { "" } else { " (another)" }
                ),
                family
                    .x_height_ratio
                    .map_or("–".to_owned(), |ratio| format!("{:.0} %", ratio * 100.0)),
                format!("{:.1} %", family.words_off),
                format!("{:+.1} %", family.text_off),
                family
                    .layouts_off
                    .map_or("–".to_owned(), |off| format!("{off:.0} %")),
                safe(&family.platforms.join(", ")),
            ]);
        }
        text.push_str(&lines(&table));
        text.push_str(&paragraph(&styled(
            FAINT,
            "x-height in % of the web font's at equal size; words off on average, and how much \
             longer the text is; paragraphs that wrap differently",
        )));
        text.push('\n');
    }
    text
}
