//! The report: one page of HTML that holds all it needs.
//!
//! The page reads without its script, which sorts and filters tables, lays stand-ins over web
//! fonts and sets a text of the reader's own.

mod files;
mod findings;
mod lattice;
mod moving;
mod parts;
mod stacks;
mod verdict;

use std::path::Path;

use maud::{DOCTYPE, PreEscaped, html};

use super::text::{BAD, GOOD, kilobytes, paragraph, safe, styled};
use crate::results::{Drawn, Report};
use verdict::figures;

/// How the page looks.
const STYLE: &str = include_str!("page.css");

/// What moves on it.
const SCRIPT: &str = include_str!("page.js");

/// The page.
pub fn page(report: &Report, drawn: &Drawn) -> String {
    let project = match report.cover.project.as_str() {
        "" => "Fonts of this project",
        title => title,
    };
    let sections = [
        (
            "characters",
            "Characters",
            lattice::section(&report.cover, &drawn.gaps),
        ),
        ("stacks", "Stacks", stacks::section(report, drawn)),
        ("moving", "What moves", moving::section(report, drawn)),
        ("files", "Files", files::section(report)),
        ("faults", "Faults", findings::section(&report.check)),
        ("how", "How this was found", parts::how(report)),
    ];
    // The remark comes first, as it says whose the file is; it changes nothing of the mode.
    let page = html! {
        (PreEscaped("<!-- Made by tidy-lattice -->\n"))
        (DOCTYPE)
        html lang="en" {
            head {
                meta charset="utf-8";
                meta name="viewport" content="width=device-width, initial-scale=1";
                meta name="color-scheme" content="light dark";
                title { (project) ": fonts" }
                style { (PreEscaped(STYLE)) (PreEscaped(closed_style(&drawn.rules))) }
            }
            body {
                a.skip href="#main" { "To the report" }
                header {
                    p.made { "Font report" }
                    h1 { (project) }
                    nav aria-label="Parts of the report" {
                        ul {
                            @for (id, title, _) in &sections {
                                li { a href={ "#" (id) } { (title) } }
                            }
                        }
                    }
                }
                main id="main" {
                    (verdict::section(report))
                    @for (id, title, content) in &sections {
                        section id=(id) aria-labelledby={ (id) "-title" } {
                            h2 id={ (id) "-title" } { (title) }
                            (content)
                        }
                    }
                }
                footer {
                    p { "Made by tidy-lattice " (env!("CARGO_PKG_VERSION")) ". Same project, same page." }
                }
                script { (PreEscaped(SCRIPT)) }
            }
        }
    };
    page.into_string()
}

/// Rules with nothing in them that would end the style element.
fn closed_style(rules: &str) -> String {
    rules.replace("</", "<\\/")
}

/// Whether something is to be done.
pub fn is_wrong(report: &Report) -> bool {
    figures(report).iter().any(|figure| figure.wrong)
}

/// What was written, and the verdict.
pub fn brief(report: &Report, path: &Path, bytes: usize) -> String {
    let mut text = String::new();
    for figure in figures(report) {
        let style = if figure.wrong { BAD } else { GOOD };
        let line = format!("{}: {}. {}", figure.title, figure.value, figure.meaning);
        text.push_str(&paragraph(&styled(style, &safe(&line))));
    }
    for part in &report.not_done {
        let line = format!("{} is not in it: {}", part.part, part.reason);
        text.push_str(&paragraph(&safe(&line)));
    }
    let written = format!(
        "\nWritten to {} ({} KiB); open it in a browser.",
        safe(&path.display().to_string()),
        kilobytes(bytes as u64)
    );
    text.push_str(&written);
    text.push('\n');
    text
}
