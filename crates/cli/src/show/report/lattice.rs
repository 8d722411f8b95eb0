//! Which characters, scripts and languages each family has, and what is missing.

use maud::{Markup, PreEscaped, html};
use tidy_lattice_core::lattice::GapCause;
use tidy_lattice_core::lattice::survey::{SetCoverage, SetDevice, SetRow, SurveyGap, Surveyed};
use tidy_lattice_core::style::read::FamilyName;

use super::parts::scrolled;
use crate::results::{Covered, DrawnGap};
use crate::show::cover::{cause, code_points};
use crate::show::text::{count, share, thousands};

/// The most gaps of a page.
const MOST_GAPS: usize = 200;

/// Those that are seen at once.
const FIRST_GAPS: usize = 12;

/// The most rows of a lattice.
const MOST_ROWS: usize = 200;

/// Those that are seen at once.
const FIRST_ROWS: usize = 12;

/// Gaps, then one lattice a stack.
pub fn section(covered: &Covered, drawn: &[DrawnGap]) -> Markup {
    let survey = &covered.survey;
    html! {
        (gaps(survey, drawn))
        (system(survey))
        h3 { "Languages and scripts by fonts" }
        p.hint {
            "A cell is the share of a row that the family shows; in brackets what it could show, \
             were an earlier one not there."
        }
        p.tool {
            label for="filter" { "Only rows and stacks with" }
            " " input id="filter" type="search" placeholder="Greek, uk, notices …";
        }
        @for set in &survey.sets { (lattice(set, survey)) }
        (features(survey))
    }
}

fn gaps(survey: &Surveyed, drawn: &[DrawnGap]) -> Markup {
    let open: Vec<&SurveyGap> = survey.gaps.iter().filter(|gap| !gap.allowed).collect();
    if open.is_empty() {
        return html! { p { "Nothing is missing." } };
    }
    let title = format!(
        "{} missing or drawn wrongly somewhere",
        count(open.len() as u64, "character is", "characters are")
    );
    let (first, more) = open.split_at(open.len().min(FIRST_GAPS));
    html! {
        h3 { "Missing" }
        (gap_table(&title, first, survey, drawn))
        @if !more.is_empty() {
            details {
                summary { (count(more.len() as u64, "character", "characters")) " more" }
                (gap_table("The less frequent ones", &more[..more.len().min(MOST_GAPS)], survey, drawn))
                @if more.len() > MOST_GAPS {
                    p.hint { "and " (more.len() - MOST_GAPS) " more; cover --all lists them" }
                }
            }
        }
    }
}

fn gap_table(title: &str, gaps: &[&SurveyGap], survey: &Surveyed, drawn: &[DrawnGap]) -> Markup {
    let table = html! {
        table.sorted {
            caption { (title) }
            thead { tr {
                th scope="col" { "Character" }
                th scope="col" { "Code points" }
                th.number scope="col" { "Times" }
                th scope="col" { "What happens" }
                th scope="col" { "First seen" }
                th scope="col" { "Where" }
                th scope="col" { "Would show it" }
            } }
            tbody {
                @for gap in gaps { (missing(gap, survey, drawn)) }
            }
        }
    };
    scrolled(title, &table)
}

fn missing(gap: &SurveyGap, survey: &Surveyed, drawn: &[DrawnGap]) -> Markup {
    let drawn = drawn.iter().find(|drawn| drawn.cluster == gap.cluster);
    let now = drawn.and_then(|drawn| drawn.now.as_deref());
    let then = drawn.and_then(|drawn| drawn.then.as_deref());
    let font = |number: usize| gap.fonts.get(number).cloned().unwrap_or_default();
    let names: Vec<&str> = gap.characters.iter().map(|one| one.name.as_str()).collect();
    html! {
        tr {
            td.glyph { bdi { (gap.cluster) } }
            td { (code_points(&gap.characters)) br; span.hint { (names.join(", ")) } }
            td.number { (thousands(gap.count)) }
            td {
                @if let Some(svg) = now { span.drawn { (PreEscaped(svg)) } " " }
                @if let GapCause::Missing { .. } = gap.cause { "no font of the stack has it" }
                @else { (cause(&gap.characters, &gap.cause, font)) }
            }
            td { code { (gap.first.source) ":" (gap.first.line) } }
            td {
                @if gap.platforms.len() == survey.platforms.len() { "everywhere" }
                @else { (gap.platforms.join(", ")) }
            }
            td {
                @if gap.filled_by.is_empty() { span.hint { "nothing known here" } }
                @else {
                    @if let Some(svg) = then { span.drawn { (PreEscaped(svg)) } " " }
                    (gap.filled_by.join(", "))
                }
            }
        }
    }
}

/// What the system shows by itself.
fn system(survey: &Surveyed) -> Markup {
    if survey.left.is_empty() {
        return html! {};
    }
    let shown: Vec<&str> = survey
        .left
        .iter()
        .take(40)
        .map(|gap| gap.cluster.as_str())
        .collect();
    html! {
        p {
            "Left to fonts that the system picks, as no stack names one: "
            bdi { (shown.join(" ")) }
            @if survey.left.len() > 40 { " and " (survey.left.len() - 40) " more" }
        }
    }
}

fn names(stack: &[FamilyName]) -> String {
    let names: Vec<&str> = stack.iter().map(FamilyName::as_str).collect();
    names.join(", ")
}

fn lattice(set: &SetCoverage, survey: &Surveyed) -> Markup {
    let Some(first) = set.devices.first() else {
        return html! {};
    };
    // Families that show something somewhere; the others are told below.
    let of_use = |entry: &usize| {
        let mut devices = set.devices.iter();
        devices.any(|device| device.fonts[*entry].serves > 0)
    };
    let shown: Vec<usize> = (0..set.stack.len()).filter(of_use).collect();
    let rows = &first.rows[..first.rows.len().min(MOST_ROWS)];
    let (seen, more) = rows.split_at(rows.len().min(FIRST_ROWS));
    let roles = set.roles.join(", ");
    html! {
        div.set data-roles=(roles) {
            h4 { (roles) }
            (rows_of(set, seen, &shown, survey, &names(&set.stack)))
            @if !more.is_empty() {
                details {
                    summary { (count(more.len() as u64, "row", "rows")) " more" }
                    (rows_of(set, more, &shown, survey, "The rows with less text"))
                }
            }
            (absent(set))
        }
    }
}

fn rows_of(
    set: &SetCoverage,
    rows: &[SetRow],
    shown: &[usize],
    survey: &Surveyed,
    caption: &str,
) -> Markup {
    let table = html! {
        table.sorted {
            caption { span.hint { (caption) } }
            thead { tr {
                th scope="col" { "Language" }
                th scope="col" { "Script" }
                th.number scope="col" { "Characters" }
                @for entry in shown { th.number scope="col" { (set.stack[*entry].as_str()) } }
                th scope="col" { "Missing on" }
            } }
            tbody {
                @for row in rows { (line(set, row, shown, survey)) }
            }
        }
    };
    scrolled(&format!("{}: {caption}", set.roles.join(", ")), &table)
}

fn line(set: &SetCoverage, row: &SetRow, shown: &[usize], survey: &Surveyed) -> Markup {
    let lacking: Vec<&String> = set
        .devices
        .iter()
        .filter(|device| gaps_of(device, row) > 0)
        .flat_map(|device| &device.platforms)
        .collect();
    html! {
        tr {
            th scope="row" { (row.language.as_deref().unwrap_or("not stated")) }
            td { (row.group) }
            td.number { (thousands(row.clusters)) }
            @for entry in shown {
                @let (serves, covers) = most(set, row, *entry);
                td.number.none[serves == 0] {
                    @if serves > 0 { (share(serves, row.clusters)) }
                    @else if covers > 0 { "(" (share(covers, row.clusters)) ")" }
                    @else { "–" }
                }
            }
            td.bad[!lacking.is_empty()] {
                @if lacking.is_empty() { span.hint { "nowhere" } }
                @else if lacking.len() == survey.platforms.len() { "every platform" }
                @else { (lacking.iter().map(|name| name.as_str()).collect::<Vec<_>>().join(", ")) }
            }
        }
    }
}

/// The most that a family serves and covers of a row, on any device.
fn most(set: &SetCoverage, row: &SetRow, entry: usize) -> (u64, u64) {
    let cells = set.devices.iter().filter_map(|device| {
        let row = same_row(device, row)?;
        row.cells.get(entry)
    });
    cells.fold((0, 0), |(serves, covers), cell| {
        (serves.max(cell.serves), covers.max(cell.covers))
    })
}

fn same_row<'d>(device: &'d SetDevice, row: &SetRow) -> Option<&'d SetRow> {
    let mut rows = device.rows.iter();
    rows.find(|other| other.language == row.language && other.group == row.group)
}

fn gaps_of(device: &SetDevice, row: &SetRow) -> u64 {
    same_row(device, row).map_or(0, |row| row.gaps)
}

/// Families of the stack that give nothing anywhere.
fn absent(set: &SetCoverage) -> Markup {
    let reasons = (0..set.stack.len()).filter_map(|entry| {
        let everywhere = set
            .devices
            .iter()
            .all(|one| one.fonts[entry].absent.is_some());
        let reason = set.devices.first()?.fonts[entry].absent.as_ref()?;
        everywhere.then(|| (set.stack[entry].as_str(), reason))
    });
    let reasons: Vec<_> = reasons.collect();
    html! {
        @for (family, reason) in reasons {
            p.bad { (family) ": " (reason) }
        }
    }
}

fn features(survey: &Surveyed) -> Markup {
    if survey.features.is_empty() {
        return html! {};
    }
    let table = html! {
        table {
            caption { "OpenType features that are asked for and not there" }
            thead { tr {
                th scope="col" { "Asked for" }
                th scope="col" { "By" }
                th scope="col" { "Font without it" }
                th.number scope="col" { "Characters" }
                th scope="col" { "First seen" }
            } }
            tbody {
                @for lack in &survey.features {
                    tr {
                        td { code { (lack.feature) } " " span.hint { (lack.asked_by) } }
                        td { code { (lack.asked_in) } }
                        td {
                            (lack.font)
                            @if lack.lost_in_fallback { " " span.hint { "(a fallback steps in)" } }
                        }
                        td.number { (thousands(lack.clusters)) }
                        td { code { (lack.first.source) ":" (lack.first.line) } }
                    }
                }
            }
        }
    };
    html! {
        h3 { "Features" }
        (scrolled("Features that are not there", &table))
    }
}
