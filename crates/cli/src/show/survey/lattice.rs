//! The lattice of one stack: languages and scripts by families, and by devices.

use std::fmt::Write as _;

use tidy_lattice_core::lattice::survey::{SetCoverage, SetDevice, SetRow};

use super::stack_text;
use crate::screen::held;
use crate::show::table::{Table, fits, lines, table};
use crate::show::text::{BAD, FAINT, TITLE, safe, share, styled, thousands};

/// Rows of a lattice that are shown before the rest is counted; rows with gaps
/// are shown besides, up to twice as many.
const MOST_ROWS: usize = 10;

/// Which rows of a lattice are shown.
#[derive(Clone, Copy, PartialEq)]
pub enum Rows {
    All,
    /// The first, and more where something is missing.
    First,
    /// Those where something is missing.
    WithGaps,
}

/// Families that are loaded as columns, then what each kind of device shows in
/// all.
pub fn lattice(set: &SetCoverage, platforms: usize, shown: Rows) -> String {
    let Some(first) = set.devices.first() else {
        return String::new();
    };
    let gaps_in = |row: &SetRow| set.devices.iter().any(|device| gaps_of(device, row) > 0);
    let roles = set.roles.join(", ");
    let mut text = format!("{}\n", styled(TITLE, &safe(&roles)));
    let rows: Vec<&SetRow> = (first.rows.iter().enumerate())
        .filter(|(place, row)| match shown {
            Rows::All => true,
            Rows::First => *place < MOST_ROWS || (*place < 4 * MOST_ROWS && gaps_in(row)),
            Rows::WithGaps => *place < 4 * MOST_ROWS && gaps_in(row),
        })
        .map(|(_, row)| row)
        .collect();
    let hidden = first.rows.len() - rows.len();
    let named = drawn(set, platforms, &rows, false);
    // Names as headings take room that a small screen does not have.
    if fits(&named) {
        let stack = stack_text(&set.stack);
        let _ = write!(text, " {}\n{}", styled(FAINT, &stack), lines(&named));
    } else {
        let families = set.stack.iter().enumerate();
        let families = families
            .map(|(place, family)| held(&format!("{} {}", place + 1, safe(family.as_str()))));
        let stack = families.collect::<Vec<_>>().join(", ");
        let numbered = drawn(set, platforms, &rows, true);
        let _ = write!(text, " {}\n{}", styled(FAINT, &stack), lines(&numbered));
    }
    if hidden > 0 {
        let what = match shown {
            Rows::WithGaps if !rows_with_gaps_hidden(first, gaps_in) => " without a gap",
            _ => "",
        };
        let _ = writeln!(
            text,
            " and {} more {}{what}; {} lists them",
            thousands(hidden as u64),
            if hidden == 1 { "row" } else { "rows" },
            styled(TITLE, "--all")
        );
    }
    text.push_str(&absent(set, first));
    text
}

/// The table: families that are loaded as columns, by name or by their place in the stack,
/// then what each kind of device shows in all.
fn drawn(set: &SetCoverage, platforms: usize, rows: &[&SetRow], numbered: bool) -> Table {
    let web: Vec<usize> = (0..set.stack.len())
        .filter(|entry| set.devices[0].fonts[*entry].web)
        .collect();
    let mut header: Vec<String> = ["Language", "Script", "clusters"].map(str::to_owned).into();
    header.extend(web.iter().map(|entry| match numbered {
        true => format!("{}", entry + 1),
        false => safe(set.stack[*entry].as_str()),
    }));
    let whole = if web.is_empty() { "shown" } else { "in all" };
    let kinds = alike(&set.devices);
    header.extend(kinds.iter().map(|(_, names)| {
        if names.len() == platforms {
            if platforms > 1 {
                format!("{whole}, anywhere")
            } else {
                whole.to_owned()
            }
        } else {
            names.join(" ")
        }
    }));
    let titles: Vec<&str> = header.iter().map(String::as_str).collect();
    let right: Vec<usize> = (2..titles.len()).collect();
    let mut table = table(&titles, &right);
    for row in rows {
        let mut cells = vec![
            row.language.clone().unwrap_or_else(|| "·".to_owned()),
            row.group.clone(),
            thousands(row.clusters),
        ];
        cells.extend(web.iter().map(|entry| {
            let cell = row.cells[*entry];
            match (cell.serves, cell.covers) {
                (0, 0) => styled(FAINT, "·"),
                (0, covers) => styled(FAINT, &format!("({})", share(covers, row.clusters))),
                (serves, _) => share(serves, row.clusters),
            }
        }));
        cells.extend(kinds.iter().map(|(device, _)| in_all(device, row)));
        table.add_row(cells);
    }
    table
}

/// Whether nothing that a set needs is missing, and each of its fonts is there and of use.
pub fn shows_all(set: &SetCoverage) -> bool {
    let Some(first) = set.devices.first() else {
        return true;
    };
    let gaps = |row: &SetRow| set.devices.iter().any(|device| gaps_of(device, row) > 0);
    !first.rows.iter().any(gaps) && absent(set, first).is_empty()
}

/// Whether rows with gaps are so many that some are not shown.
fn rows_with_gaps_hidden(first: &SetDevice, gaps_in: impl Fn(&SetRow) -> bool) -> bool {
    first.rows.iter().skip(4 * MOST_ROWS).any(gaps_in)
}

/// Devices that show as much of each row, by the first of them, with all names.
fn alike(devices: &[SetDevice]) -> Vec<(&SetDevice, Vec<String>)> {
    let mut kinds: Vec<(&SetDevice, Vec<String>)> = Vec::new();
    for device in devices {
        let same = |(known, _): &&mut (&SetDevice, Vec<String>)| {
            device
                .rows
                .iter()
                .all(|row| gaps_of(known, row) == row.gaps)
        };
        match kinds.iter_mut().find(same) {
            Some((_, names)) => names.extend(device.platforms.iter().cloned()),
            None => kinds.push((device, device.platforms.clone())),
        }
    }
    kinds
}

/// The share of a row that a device shows.
fn in_all(device: &SetDevice, row: &SetRow) -> String {
    let gaps = gaps_of(device, row);
    let text = share(row.clusters - gaps.min(row.clusters), row.clusters);
    if gaps == 0 { text } else { styled(BAD, &text) }
}

/// How many clusters of a row a device does not show.
fn gaps_of(device: &SetDevice, row: &SetRow) -> u64 {
    let mut rows = device.rows.iter();
    let same = rows.find(|other| other.language == row.language && other.group == row.group);
    same.map_or(0, |row| row.gaps)
}

/// Families of the stack that give nothing.
fn absent(set: &SetCoverage, first: &SetDevice) -> String {
    let mut text = String::new();
    for (entry, font) in first.fonts.iter().enumerate() {
        let everywhere = set
            .devices
            .iter()
            .all(|device| device.fonts[entry].absent.is_some());
        if let Some(reason) = font.absent.as_ref().filter(|_| everywhere) {
            let line = format!(" {}: {}", safe(font.family.as_str()), safe(reason));
            let _ = writeln!(text, "{}", styled(BAD, &line));
        }
        let unused = set.devices.iter().all(|device| {
            let draws = device
                .rows
                .iter()
                .any(|row| row.gaps > 0 && row.cells[entry].covers > 0);
            device.fonts[entry].serves == 0 && !draws
        });
        if font.web && unused {
            let _ = writeln!(
                text,
                " {} serves nothing here and need not be loaded for these texts.",
                safe(font.family.as_str())
            );
        }
    }
    text
}
