//! `build` for people.

use std::fmt::Write as _;

use tidy_lattice_core::stack::{Built, EntryKind, StandIn, StandInFace};
use tidy_lattice_core::standin::{StandInLines, half_pixel_sizes};

use super::table::{lines, table};
use super::text::{BAD, FAINT, GOOD, TITLE, count, paragraph, px_list, safe, styled};

/// The report of all stacks.
pub fn view(built: &[Built]) -> String {
    let views: Vec<String> = built.iter().map(stack).collect();
    views.join("\n")
}

/// The first stack with its stand-ins, and how much there is to say of each.
pub fn brief(built: &[Built]) -> String {
    let mut view = String::new();
    for (place, built) in built.iter().enumerate() {
        if place == 0 {
            view.push_str(&heading(built));
            view.push_str(&entries(built));
            let _ = write!(view, "\n{}\n", stand_ins(built));
        }
        let findings = built.notes.iter().filter(|note| note.finding).count();
        let notes = built.notes.len() - findings;
        view.push_str(&paragraph(&format!(
            "{}: {} families, {} and {}, which `tidy-lattice build --role {}` tells",
            safe(&built.role),
            built.stack.len(),
            count(findings as u64, "finding", "findings"),
            count(notes as u64, "note", "notes"),
            safe(&built.role)
        )));
    }
    view
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
    view.push_str(&own_changes(built));
    view.push_str(&paragraph(&format!(
        "font-family: {}",
        safe(&built.font_family)
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
            "paragraphs that break elsewhere",
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
            _ if face.line_height_stated => styled(FAINT, "line-height stated"),
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

/// What pinning does to the web font's own lines.
fn own_changes(built: &Built) -> String {
    let mut text = String::new();
    for web in &built.web.faces {
        let changed = web.own_lines_changed.len();
        if web.pinned.is_none() || changed == 0 {
            continue;
        }
        let named = built
            .sizes
            .iter()
            .filter(|size| web.own_lines_changed.contains(size))
            .count();
        text.push_str(&paragraph(&format!(
            "Pinned: lines of {} itself change once by 1 px or more in Chromium at {changed} of the \
             sizes, {}.",
            safe(&web.face.names.label()),
            match named {
                0 => "none of them in use".to_owned(),
                named => format!("{named} of them in use"),
            }
        )));
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
    for (_, face) in faces(built).filter(|(_, face)| !face.line_height_stated) {
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
                "{} in {engine}: no triple agrees at {}{more}",
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
            built.plain.font_family
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
             longer the text is; paragraphs that break elsewhere",
        )));
        text.push('\n');
    }
    text
}
