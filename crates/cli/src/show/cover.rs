//! `cover` for people.

use std::fmt::Write as _;

use tidy_lattice_core::lattice::{Cell, Coverage, Gap, GapCause};
use tidy_lattice_core::text::Character;

use super::GapLimit;
use super::gap_lines::{cells, gap_lines, listed, rest};
use super::table::{lines, table};
use super::text::{BAD, FAINT, GOOD, count, safe, share, styled, thousands};

/// The verdict, the fonts, the lattice, the gaps.
pub fn view(coverage: &Coverage, limit: GapLimit) -> String {
    let mut view = verdict(coverage);
    let _ = write!(view, "\n{}", fonts(coverage));
    let _ = write!(view, "\n{}", lattice(coverage));
    if !coverage.gaps.is_empty() {
        let _ = write!(view, "\n{}", gaps(coverage, limit));
    }
    view
}

fn verdict(coverage: &Coverage) -> String {
    let whole = count(coverage.clusters, "cluster", "clusters");
    if coverage.gaps.is_empty() {
        let text = format!("Every character shows: the stack serves all {whole}.");
        return format!("{}\n", styled(GOOD, &text));
    }
    let served = coverage.clusters - coverage.gap_clusters;
    let text = format!(
        "{} of {whole} fall through ({} different); the stack serves {}.",
        thousands(coverage.gap_clusters),
        thousands(coverage.gaps.len() as u64),
        share(served, coverage.clusters),
    );
    format!("{}\n", styled(BAD, &text))
}

fn fonts(coverage: &Coverage) -> String {
    let mut table = table(
        &["", "Font", "serves", "of text", "could serve"],
        &[0, 2, 3, 4],
    );
    for (index, font) in coverage.fonts.iter().enumerate() {
        table.add_row([
            (index + 1).to_string(),
            safe(&font.name),
            thousands(font.serves),
            share(font.serves, coverage.clusters),
            share(font.covers, coverage.clusters),
        ]);
    }
    let mut text = lines(&table);
    for font in coverage.fonts.iter().filter(|font| font.serves == 0) {
        let _ = writeln!(
            text,
            " {} serves nothing here and need not be loaded for this text.",
            safe(&font.name)
        );
    }
    text
}

fn lattice(coverage: &Coverage) -> String {
    let numbers: Vec<String> = (1..=coverage.fonts.len())
        .map(|n| format!("font {n}"))
        .collect();
    let mut header = vec!["Script", "clusters"];
    header.extend(numbers.iter().map(String::as_str));
    header.push("gaps");
    let right: Vec<usize> = (1..header.len()).collect();
    let mut table = table(&header, &right);
    for row in &coverage.rows {
        let mut cells = vec![row.group.clone(), thousands(row.clusters)];
        cells.extend(
            row.cells
                .iter()
                .map(|cell| lattice_cell(*cell, row.clusters)),
        );
        cells.push(if row.gaps == 0 {
            styled(FAINT, "·")
        } else {
            styled(BAD, &thousands(row.gaps))
        });
        table.add_row(cells);
    }
    format!(
        "{}{}\n",
        lines(&table),
        styled(
            FAINT,
            " A cell: the share that the font serves, or (could serve, but an earlier font does)."
        )
    )
}

fn lattice_cell(cell: Cell, clusters: u64) -> String {
    match cell {
        Cell { covers: 0, .. } => styled(FAINT, "·"),
        Cell { serves: 0, covers } => styled(FAINT, &format!("({})", share(covers, clusters))),
        Cell { serves, .. } => share(serves, clusters),
    }
}

fn gaps(coverage: &Coverage, limit: GapLimit) -> String {
    let all: Vec<&Gap> = coverage.gaps.iter().collect();
    let all = gap_lines(&all, limit);
    let listed = listed(all.len(), limit);
    let mut table = table(&["Gap", "times", "code points", "name", "first seen"], &[1]);
    for line in &all[..listed] {
        let first = &line[0].first;
        let font =
            |index: usize| format!("font {} ({})", index + 1, safe(&coverage.fonts[index].name));
        let place = format!("{}:{}:{}", safe(&first.source), first.line, first.column);
        table.add_row(cells(line, font).into_iter().chain([place]));
    }
    lines(&table) + &rest(&all, listed)
}

/// The most characters of a cluster that a view spells out.
const SPELLED: usize = 8;

/// The cluster where its base is printable and it is not endless.
pub fn shown(cluster: &str, characters: &[Character]) -> String {
    match characters.first() {
        Some(first) if first.shown.is_some() && characters.len() <= 2 * SPELLED => safe(cluster),
        _ => "·".to_owned(),
    }
}

/// What `of` gives for the characters of a cluster.
fn spelled<'a>(
    characters: &'a [Character],
    between: &str,
    of: impl Fn(&'a Character) -> &'a str,
) -> String {
    let parts: Vec<&str> = characters.iter().take(SPELLED).map(of).collect();
    let more = if characters.len() > SPELLED {
        " …"
    } else {
        ""
    };
    format!("{}{more}", parts.join(between))
}

/// The code points of a cluster.
pub fn code_points(characters: &[Character]) -> String {
    spelled(characters, " ", |character| &character.code_point)
}

/// The names of a cluster's characters, and why it is a gap; `font` names the
/// fonts of the stack.
pub fn cause(characters: &[Character], cause: &GapCause, font: impl Fn(usize) -> String) -> String {
    let names = spelled(characters, " + ", |character| &character.name);
    match cause {
        GapCause::Missing { code_points }
            if code_points.len() < characters.len() && characters.len() > 1 =>
        {
            format!("{names}; no font has {}", code_points.join(", "))
        }
        GapCause::Missing { .. } => names,
        GapCause::Split { lacks } => {
            let parts: Vec<String> = lacks
                .iter()
                .map(|part| format!("{} lacks {}", font(part.font), part.code_points.join(", ")))
                .collect();
            format!("{names}; no font has all of it: {}", parts.join("; "))
        }
        GapCause::Variation { font: base } => format!(
            "{names}; {} has the base, not this variant, so the device's fonts decide",
            font(*base)
        ),
        GapCause::Flawed {
            font: taker,
            flaw,
            better,
        } => {
            let way_out = better.map_or_else(String::new, |later| {
                format!("; {} does it right, so put that font first", font(later))
            });
            format!(
                "{names}; {} has it, but {}{way_out}",
                font(*taker),
                flaw.label()
            )
        }
        GapCause::Unjoined {
            font: taker,
            joined_by,
        } => {
            let way_out = joined_by.map_or_else(String::new, |later| {
                format!(
                    "; {} would draw it as one, so put that font first",
                    font(later)
                )
            });
            format!("{names}; {} draws it in pieces{way_out}", font(*taker))
        }
    }
}
