//! What is wrong, file by file.

use maud::{Markup, html};
use tidy_lattice_checks::Finding;
use tidy_lattice_checks::catalogue::Level;

use crate::results::Checked;
use crate::show::text::count;

/// The most findings that are told.
const MOST: usize = 300;

/// Findings by file, with their places.
pub fn section(checked: &Checked) -> Markup {
    if checked.findings.is_empty() {
        return html! { p { "Nothing is wrong in pages and style sheets." } };
    }
    let mut files: Vec<(&str, Vec<&Finding>)> = Vec::new();
    for finding in checked.findings.iter().take(MOST) {
        let file = finding.place.file.as_str();
        match files.iter_mut().find(|(known, _)| *known == file) {
            Some((_, findings)) => findings.push(finding),
            None => files.push((file, vec![finding])),
        }
    }
    html! {
        @for (file, findings) in &files {
            details open[findings.iter().any(|finding| finding.level == Level::Error)] {
                summary { code { (file) } " " span.hint { (count(findings.len() as u64, "finding", "findings")) } }
                @for finding in findings { (one(finding)) }
            }
        }
        @if checked.findings.len() > MOST {
            p.hint { "and " (checked.findings.len() - MOST) " more; check lists them" }
        }
    }
}

fn one(finding: &Finding) -> Markup {
    html! {
        div.finding {
            p {
                span class={ "level " (finding.level.label()) } { (finding.level.label()) }
                " " strong { (coded(&finding.what)) }
                " " span.hint { "line " (finding.place.line) ", " (finding.code) }
            }
            @if let Some(excerpt) = &finding.excerpt {
                @let (before, meant, after) = parts(&excerpt.text, excerpt.start, excerpt.length);
                pre tabindex="0" { code { (before) mark { (meant) } (after) } }
            }
            p { (coded(&finding.why)) " " (coded(&finding.todo)) }
        }
    }
}

/// A text with what stands between backticks as code.
fn coded(text: &str) -> Markup {
    let pieces = text.split('`').enumerate();
    html! {
        @for (place, piece) in pieces {
            @if place % 2 == 1 { code { (piece) } } @else { (piece) }
        }
    }
}

/// A line before, within and behind the part that is meant, in characters.
fn parts(text: &str, start: usize, length: usize) -> (String, String, String) {
    let mut characters = text.chars();
    let before: String = characters.by_ref().take(start).collect();
    let meant: String = characters.by_ref().take(length).collect();
    (before, meant, characters.collect())
}
