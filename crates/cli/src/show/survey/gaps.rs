//! The gaps: what falls through, most frequent first.

use tidy_lattice_core::lattice::survey::{SurveyGap, Surveyed};

use crate::show::GapLimit;
use crate::show::gap_lines::{cells, gap_lines, listed, rest};
use crate::show::table::{lines, table};
use crate::show::text::{next_step, paragraph, safe};

/// The most frequent gap, and what to do about it.
pub fn worst(survey: &Surveyed) -> String {
    let open: Vec<&SurveyGap> = survey.gaps.iter().filter(|gap| !gap.allowed).collect();
    let lines = gap_lines(&open, GapLimit::Most(1));
    let Some(line) = lines.first() else {
        return String::new();
    };
    let gap = line[0];
    let font = |number: usize| safe(gap.fonts.get(number).map_or("", String::as_str));
    let [clusters, times, points, what] = cells(line, font);
    let what = match line.as_slice() {
        [_] => format!("{clusters} {points} {what}"),
        _ => what,
    };
    let times = if times == "1" {
        "once".to_owned()
    } else {
        format!("{times} times")
    };
    let place = format!("{}:{}", safe(&gap.first.source), gap.first.line);
    let mut text = paragraph(&format!("Most often: {what} ({times}, first in {place})."));
    let add = match gap.filled_by.first() {
        Some(font) => format!(
            "put {} into the stack, or another font that has it",
            safe(font)
        ),
        None => "add a font that has it to the stack".to_owned(),
    };
    text.push_str(&next_step(&format!(
        "{add}; `tidy-lattice trace` shows the way of one text through its stack."
    )));
    text
}

/// The table of gaps.
pub fn gaps(survey: &Surveyed, limit: GapLimit) -> String {
    let open: Vec<&SurveyGap> = survey.gaps.iter().filter(|gap| !gap.allowed).collect();
    if open.is_empty() {
        return String::new();
    }
    let all = gap_lines(&open, limit);
    let listed = listed(all.len(), limit);
    // Columns that would say the same in each row are left out.
    let shown_lines = || all[..listed].iter().map(|line| line[0]);
    let somewhere = shown_lines().any(|gap| gap.platforms.len() < survey.platforms.len());
    let filled = shown_lines().any(|gap| !gap.filled_by.is_empty());
    let mut header = vec!["Gap", "times", "code points", "what", "first seen"];
    header.extend(somewhere.then_some("where"));
    header.extend(filled.then_some("would show it"));
    let mut table = table(&header, &[1]);
    for line in &all[..listed] {
        let gap = line[0];
        let font = |number: usize| safe(gap.fonts.get(number).map_or("", String::as_str));
        let mut row = Vec::from(cells(line, font));
        row.push(format!("{}:{}", safe(&gap.first.source), gap.first.line));
        let everywhere = gap.platforms.len() == survey.platforms.len();
        row.extend(somewhere.then(|| match everywhere {
            true => "everywhere".to_owned(),
            false => gap.platforms.join(" "),
        }));
        row.extend(filled.then(|| match gap.filled_by.as_slice() {
            [] => "·".to_owned(),
            fonts => safe(&fonts.join(", ")),
        }));
        table.add_row(row);
    }
    lines(&table) + &rest(&all, listed)
}
