//! Files, bytes, and what each page fetches.

use maud::{Markup, html};

use super::parts::{bar, scrolled};
use crate::results::{Forecasts, Report, TrimmedFaces};
use crate::show::text::{count, kilobytes, thousands};

/// What the fonts weigh, and what pages fetch.
pub fn section(report: &Report) -> Markup {
    html! {
        @if let Some(trim) = &report.trim { (faces(trim)) }
        @if let Some(forecast) = &report.forecast { (pages(forecast)) }
        @if report.trim.is_none() && report.forecast.is_none() {
            p { "Nothing is known of files." }
        }
    }
}

fn faces(trim: &TrimmedFaces) -> Markup {
    let largest = trim
        .faces
        .iter()
        .map(|face| face.bytes_before)
        .max()
        .unwrap_or(1)
        .max(1) as f64;
    let table = html! {
        table.sorted {
            caption { "Web fonts as they are, and cut to what the texts need" }
            thead { tr {
                th scope="col" { "File" }
                th scope="col" { "Family" }
                th.number scope="col" { "KiB now" }
                th.number scope="col" { "KiB cut" }
                th.number scope="col" { "Glyphs" }
                th scope="col" { "Features that stay" }
            } }
            tbody {
                @for face in &trim.faces {
                    @let glyphs: usize = face.cut.pieces.iter().map(|piece| piece.glyphs).sum();
                    tr {
                        th scope="row" { code { (face.source) } }
                        td { (face.family) " " span.hint { (face.style) } }
                        td.number { (kilobytes(face.bytes_before)) (bar(face.bytes_before as f64 / largest, false)) }
                        td.number { (kilobytes(face.bytes)) (bar(face.bytes as f64 / largest, false)) }
                        td.number { (thousands(glyphs as u64)) " of " (thousands(u64::from(face.cut.glyphs_before))) }
                        td { (face.cut.features.join(" ")) }
                    }
                }
                @for file in &trim.not_needed {
                    tr {
                        th scope="row" { code { (file.source) } }
                        td { span.bad { "nothing of it is needed" } }
                        td.number { (kilobytes(file.bytes)) (bar(file.bytes as f64 / largest, true)) }
                        td.number { "0" }
                        td {} td {}
                    }
                }
            }
            tfoot { tr {
                th scope="row" { "Together" }
                td {}
                td.number { (kilobytes(trim.bytes_before)) }
                td.number { (kilobytes(trim.bytes)) }
                td {} td {}
            } }
        }
    };
    html! {
        h3 { "Fonts" }
        (scrolled("Web fonts", &table))
    }
}

fn pages(forecast: &Forecasts) -> Markup {
    let largest = forecast.pages.iter().flat_map(|page| &page.forecast.files);
    let largest = largest.map(|file| file.bytes).max().unwrap_or(1).max(1) as f64;
    html! {
        h3 { "What each page fetches" }
        @for page in &forecast.pages {
            @let over = forecast.budget.is_some_and(|budget| page.forecast.bytes > budget);
            @let table = html! {
                table {
                    caption {
                        (page.page) ": " (count(page.forecast.files.len() as u64, "file", "files")) ", "
                        (kilobytes(page.forecast.bytes)) " KiB "
                        @if over { span.bad { "above the budget" } }
                        " " span.hint { @if page.everywhere { "everywhere" } @else { (page.on.join(", ")) } }
                    }
                    thead { tr {
                        th scope="col" { "File" }
                        th.number scope="col" { "KiB" }
                        th.number scope="col" { "Characters" }
                        th scope="col" { "Only for" }
                    } }
                    tbody {
                        @for file in &page.forecast.files {
                            tr {
                                th scope="row" { code { (file.file) } " " span.hint { (file.family) } }
                                td.number { (kilobytes(file.bytes)) (bar(file.bytes as f64 / largest, file.characters == 0)) }
                                td.number { (thousands(file.characters)) }
                                td { bdi { (file.only_for.join(" ")) } @if file.characters == 0 { span.bad { "fetched in vain" } } }
                            }
                        }
                    }
                }
            };
            (scrolled(&format!("Files of {}, {}", page.page, page.on.join(", ")), &table))
            @for url in &page.forecast.not_known {
                p.note { "Not known: " code { (url) } }
            }
        }
        @if !forecast.never_fetched.is_empty() {
            h3 { "Never fetched" }
            ul {
                @for font in &forecast.never_fetched {
                    li { code { (font.file) } " (" (kilobytes(font.bytes)) " KiB), " (font.family) ", declared in " code { (font.rule) } }
                }
            }
        }
    }
}
