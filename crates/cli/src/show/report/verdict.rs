//! The figures at the top.

use maud::{Markup, html};

use crate::results::{Report, ShiftCell};
use crate::show::text::{count, kilobytes, thousands};

/// A figure and what it means.
pub struct Figure {
    /// What it is of.
    pub title: &'static str,
    /// The figure.
    pub value: String,
    /// What it means.
    pub meaning: String,
    /// The part of the page that tells more.
    pub part: &'static str,
    /// Whether something is to be done.
    pub wrong: bool,
}

/// All of them.
pub fn figures(report: &Report) -> Vec<Figure> {
    let mut figures = vec![characters(report), faults(report)];
    figures.extend(moves(report));
    figures.extend(bytes(report));
    figures
}

fn characters(report: &Report) -> Figure {
    let survey = &report.cover.survey;
    let left: u64 = survey.left.iter().map(|gap| gap.count).sum();
    let all = count(survey.clusters, "character", "characters");
    let meaning = match (survey.gap_clusters, left) {
        (0, 0) if survey.open => {
            "As far as is known: a style sheet on the network was not read.".to_owned()
        }
        (0, 0) => format!("The stacks show all {all} of the texts, on every platform."),
        (0, left) => format!(
            "Every one of {all} shows; {} of them in a font that the system picks.",
            thousands(left)
        ),
        (_, _) => {
            let different = survey.gaps.iter().filter(|gap| !gap.allowed).count() as u64;
            format!(
                "Of {all}, somewhere missing or drawn wrongly: {} different.",
                thousands(different)
            )
        }
    };
    Figure {
        title: "Characters missing",
        value: thousands(survey.gap_clusters),
        meaning,
        part: "characters",
        wrong: survey.gap_clusters > report.cover.most_gaps,
    }
}

fn faults(report: &Report) -> Figure {
    let check = &report.check;
    let (errors, warnings) = (check.errors as u64, check.warnings as u64);
    Figure {
        title: "Faults",
        value: thousands(errors + warnings),
        meaning: format!(
            "{} and {} in {} and {}; {} can be mended by check --fix.",
            count(errors, "error", "errors"),
            count(warnings, "warning", "warnings"),
            count(check.pages as u64, "page", "pages"),
            count(check.sheets as u64, "style sheet", "style sheets"),
            thousands(check.mendable as u64)
        ),
        part: "faults",
        wrong: errors > 0,
    }
}

/// The page that moves most, of those of which it is known.
pub fn worst(cells: &[ShiftCell]) -> Option<&ShiftCell> {
    let known = cells.iter().filter(|cell| cell.shift.is_known());
    known.max_by(|a, b| {
        let score = |cell: &ShiftCell| cell.shift.value().unwrap_or_default();
        score(a).total_cmp(&score(b))
    })
}

fn moves(report: &Report) -> Option<Figure> {
    let shift = report.shift.as_ref()?;
    let unknown = match shift.unknown as u64 {
        0 => String::new(),
        some => format!(" Of {} it is not known.", count(some, "window", "windows")),
    };
    let Some(worst) = worst(&shift.cells) else {
        return Some(Figure {
            title: "Layout shift",
            value: "not known".to_owned(),
            meaning: "No page is measured well enough to tell.".to_owned(),
            part: "moving",
            wrong: false,
        });
    };
    let score = worst.shift.value().unwrap_or_default();
    // Either way tells something only where it is another.
    let other = |name: &str| {
        let row = shift.variants.iter().find(|row| row.name == name)?;
        let worst = row.scores.iter().flatten().copied().reduce(f64::max)?;
        ((worst - score).abs() >= 0.00005).then_some(worst)
    };
    let against = match (other("built"), other("plain"), other("one-factor")) {
        (Some(built), ..) if built < score => {
            format!(" With the stacks that build makes it would be {built:.4}.")
        }
        (_, Some(plain), _) if plain > score => {
            format!(" Without stand-ins it would be {plain:.4}.")
        }
        (_, _, Some(fitted)) if fitted < score => {
            format!(" With stand-ins of one factor it would be {fitted:.4}.")
        }
        _ => String::new(),
    };
    Some(Figure {
        title: "Layout shift",
        value: format!("{score:.4}"),
        meaning: format!(
            "At most, when web fonts arrive: {} on {}.{against}{unknown}",
            worst.page, worst.title
        ),
        part: "moving",
        wrong: shift.over_budget > 0,
    })
}

fn bytes(report: &Report) -> Option<Figure> {
    let trim = report.trim.as_ref()?;
    let fetched = report.forecast.as_ref().and_then(|forecast| {
        let pages = forecast.pages.iter();
        pages.max_by_key(|page| page.forecast.bytes)
    });
    let fetched = fetched.map_or(String::new(), |page| {
        format!(
            " At most a page fetches {} KiB ({}).",
            kilobytes(page.forecast.bytes),
            page.page
        )
    });
    let over = report.forecast.as_ref().is_some_and(|f| f.over_budget > 0);
    Some(Figure {
        title: "Web fonts",
        value: format!("{} KiB", kilobytes(trim.bytes_before)),
        meaning: format!(
            "Cut to what the texts need they are {} KiB.{fetched}",
            kilobytes(trim.bytes)
        ),
        part: "files",
        wrong: over,
    })
}

/// The verdict.
pub fn section(report: &Report) -> Markup {
    html! {
        section.verdict aria-label="Verdict" {
            @for figure in figures(report) {
                a.figure.wrong[figure.wrong] href={ "#" (figure.part) } {
                    span.title { (figure.title) }
                    strong { (figure.value) }
                    span.state { @if figure.wrong { "needs work" } @else { "in order" } }
                    span.meaning { (figure.meaning) }
                }
            }
        }
        @for part in &report.not_done {
            p.note { strong { (part.part) } " is not part of this report: " (part.reason) }
        }
    }
}
