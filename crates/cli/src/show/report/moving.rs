//! What moves when web fonts arrive.

use maud::{Markup, html};

use super::parts::{bar, scrolled};
use super::verdict::worst;
use crate::results::{Drawn, Report, Shifts};
use crate::show::shift::px;

/// The score from which readers are bothered, as browsers' vendors have it.
const POOR: f64 = 0.1;

/// The most boxes that are listed.
const MOST_BLOCKS: usize = 12;

/// Scores, the page that moves most, and its boxes.
pub fn section(report: &Report, drawn: &Drawn) -> Markup {
    let Some(shift) = &report.shift else {
        return html! { p { "No page was laid out." } };
    };
    html! {
        p.hint {
            "The layout-shift score of each page when its web fonts arrive: 0 is still, "
            (POOR) " and more is poor. Predicted, without a browser."
        }
        (scores(shift))
        (ways(shift))
        (boxes(shift))
        @if let Some(svg) = &drawn.moved {
            (super::parts::picture(
                "The page that moves most, in outline, before and after.",
                "Outlines of the page before and after its web fonts arrive; what moves is coloured",
                svg
            ))
        }
    }
}

fn scores(shift: &Shifts) -> Markup {
    let largest = shift
        .cells
        .iter()
        .filter_map(|cell| cell.shift.value())
        .fold(POOR, f64::max);
    let mut platforms: Vec<&str> = Vec::new();
    for cell in &shift.cells {
        if !platforms.contains(&cell.title.as_str()) {
            platforms.push(&cell.title);
        }
    }
    let mut rows: Vec<(&str, String)> = Vec::new();
    for cell in &shift.cells {
        let row = (cell.page.as_str(), cell.window.label());
        if !rows.contains(&row) {
            rows.push(row);
        }
    }
    let cell = |page: &str, window: &str, platform: &str| {
        let mut cells = shift.cells.iter();
        cells.find(|cell| {
            cell.page == page && cell.window.label() == window && cell.title == platform
        })
    };
    let table = html! {
        table.sorted {
            caption { "Layout-shift score by page, window and platform" }
            thead { tr {
                th scope="col" { "Page" }
                th scope="col" { "Window" }
                @for platform in &platforms { th.number scope="col" { (platform) } }
            } }
            tbody {
                @for (page, window) in &rows {
                    tr {
                        th scope="row" { (page) }
                        td { (window) }
                        @for platform in &platforms {
                            td.number {
                                @if let Some(cell) = cell(page, window, platform) {
                                    @match cell.shift.value() {
                                        Some(score) => {
                                            (format!("{score:.4}"))
                                            (bar(score / largest, score > shift.budget.unwrap_or(POOR)))
                                        }
                                        None => span.hint title=[cell.shift.unknown.as_deref()] { "not known" },
                                    }
                                }
                            }
                        }
                    }
                }
            }
        }
    };
    scrolled("Scores", &table)
}

/// The pages served in other ways.
fn ways(shift: &Shifts) -> Markup {
    if shift.variants.is_empty() {
        return html! {};
    }
    let mean = |scores: &[Option<f64>]| {
        let known: Vec<f64> = scores.iter().flatten().copied().collect();
        let sum: f64 = known.iter().sum();
        (!known.is_empty()).then(|| {
            (
                sum / known.len() as f64,
                known.iter().copied().fold(0.0, f64::max),
            )
        })
    };
    let now: Vec<Option<f64>> = shift.cells.iter().map(|cell| cell.shift.value()).collect();
    let mut rows = vec![("as they are".to_owned(), mean(&now))];
    rows.extend(
        shift
            .variants
            .iter()
            .map(|row| (row.what.clone(), mean(&row.scores))),
    );
    let table = html! {
        table {
            caption { "The same pages served in other ways" }
            thead { tr {
                th scope="col" { "Way" }
                th.number scope="col" { "Mean score" }
                th.number scope="col" { "Worst" }
            } }
            tbody {
                @for (what, scores) in &rows {
                    tr {
                        th scope="row" { (what) }
                        @match scores {
                            Some((mean, worst)) => {
                                td.number { (format!("{mean:.4}")) }
                                td.number { (format!("{worst:.4}")) }
                            }
                            None => { td.number { "not known" } td.number { "not known" } }
                        }
                    }
                }
            }
        }
    };
    scrolled("Other ways to serve the pages", &table)
}

/// A text with something to see for the boxes in it.
fn readable(text: &str) -> String {
    text.replace('\u{fffc}', "▭")
}

/// The boxes of the page that moves most.
fn boxes(shift: &Shifts) -> Markup {
    let Some(worst) = worst(&shift.cells).filter(|cell| !cell.shift.blocks.is_empty()) else {
        return html! {};
    };
    let mut blocks: Vec<_> = worst.shift.blocks.iter().collect();
    blocks.sort_by(|a, b| {
        let far = |block: &tidy_lattice_core::shift::BlockShift| {
            block.moved.1.abs() + block.grows().abs()
        };
        far(b).total_cmp(&far(a)).then(a.number.cmp(&b.number))
    });
    let table = html! {
        table {
            caption { "Boxes that change on " (worst.page) " in a window of " (worst.window.label()) " on " (worst.title) }
            thead { tr {
                th scope="col" { "Element" }
                th scope="col" { "Text" }
                th.number scope="col" { "Lines" }
                th.number scope="col" { "Higher by, px" }
                th.number scope="col" { "Moves down, px" }
            } }
            tbody {
                @for block in blocks.iter().take(MOST_BLOCKS) {
                    tr {
                        th scope="row" { code { (block.element) } " " span.hint { "line " (block.line) } }
                        td { bdi { (readable(&block.text)) } }
                        td.number {
                            (block.lines.0)
                            @if block.lines.0 != block.lines.1 { " → " (block.lines.1) }
                        }
                        td.number { (px(block.grows())) }
                        td.number { (px(block.moved.1)) }
                    }
                }
            }
        }
    };
    html! {
        (scrolled("Boxes that change", &table))
        @if blocks.len() > MOST_BLOCKS {
            p.hint { "and " (blocks.len() - MOST_BLOCKS) " more; shift --all lists them" }
        }
    }
}
