//! `build` for people.

use std::fmt::Write as _;

use tidy_lattice_core::stack::Built;
use tidy_lattice_core::standin::half_pixel_sizes;

use super::table::{lines, table};
use super::text::{BAD, FAINT, GOOD, TITLE, count, paragraph, px_list, safe, styled};

/// The fit of each stand-in, what is off, the stack.
pub fn view(built: &Built) -> String {
    let mut view = format!(
        "{}\n\n{}",
        styled(
            TITLE,
            &format!(
                "{} with {}, widths fitted on {}",
                safe(&built.web.family),
                count(built.stand_ins.len() as u64, "stand-in", "stand-ins"),
                safe(&built.sample.label()),
            )
        ),
        stand_ins(built),
    );
    let _ = write!(view, "\n{}", off_lists(built));
    if let Some(change) = own_change(built) {
        view.push_str(&paragraph(&change));
    }
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

fn stand_ins(built: &Built) -> String {
    let at_sizes = format!("lines at {}", px_list(&built.sizes));
    let mut table = table(
        &[
            "Stand-in over",
            "size-adjust",
            "words differ by",
            at_sizes.as_str(),
            "Chromium, 8 to 96 px",
            "Firefox, 8 to 96 px",
        ],
        &[1, 4, 5],
    );
    for stand_in in &built.stand_ins {
        let lines = &stand_in.lines;
        let off = built.sizes.iter().filter(|size| {
            lines.off_in_chromium.contains(size)
                || lines
                    .off_in_firefox
                    .as_ref()
                    .is_some_and(|off| off.contains(size))
        });
        let verdict = match off.count() {
            0 => styled(GOOD, "equal"),
            off => styled(BAD, &format!("{off} differ")),
        };
        table.add_row([
            safe(&stand_in.face.names.label()),
            format!("{} %", stand_in.width.size_adjust),
            format!(
                "{:.1} % (was {:.1} %)",
                stand_in.width.after.word_mean, stand_in.width.before.word_mean
            ),
            verdict,
            equal_sizes(Some(&lines.off_in_chromium)),
            equal_sizes(lines.off_in_firefox.as_ref()),
        ]);
    }
    lines(&table)
}

/// What pinning does to the web font's own lines.
fn own_change(built: &Built) -> Option<String> {
    let changed = &built.web.own_lines_changed;
    let halves = half_pixel_sizes()
        .filter(|size| changed.contains(size))
        .count();
    let named = built
        .sizes
        .iter()
        .filter(|size| changed.contains(size))
        .count();
    (halves > 0).then(|| {
        format!(
            "Pinning moves {}'s own lines in Chromium by a pixel at {halves} of {} sizes, {}.",
            safe(&built.web.family),
            half_pixel_sizes().count(),
            if named == 0 {
                "none of them named".to_owned()
            } else {
                format!("{named} of them named")
            },
        )
    })
}

/// How many of the half-pixel sizes agree.
fn equal_sizes(off: Option<&Vec<f32>>) -> String {
    let all = half_pixel_sizes().count();
    match off {
        None => "not met".to_owned(),
        Some(off) => {
            let equal = half_pixel_sizes()
                .filter(|size| !off.contains(size))
                .count();
            format!("{equal} of {all} equal")
        }
    }
}

/// The sizes at which no triple agrees.
fn off_lists(built: &Built) -> String {
    const LISTED: usize = 12;
    let mut text = String::new();
    for stand_in in &built.stand_ins {
        let engines = [
            ("Chromium", Some(&stand_in.lines.off_in_chromium)),
            ("Firefox", stand_in.lines.off_in_firefox.as_ref()),
        ];
        for (engine, off) in engines {
            let Some(off) = off.filter(|off| !off.is_empty()) else {
                continue;
            };
            let rest = off.len().saturating_sub(LISTED);
            let more = if rest == 0 {
                String::new()
            } else {
                format!(" and {rest} more")
            };
            text.push_str(&paragraph(&format!(
                "{} in {engine}: no triple agrees at {}{more}",
                safe(&stand_in.face.names.label()),
                px_list(&off[..off.len().min(LISTED)]),
            )));
        }
    }
    text
}
