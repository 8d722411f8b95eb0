//! What several parts of the page have.

use maud::{Markup, PreEscaped, html};

use crate::results::Report;

/// A table that scrolls by itself where it is wider than the page, and by keyboard.
pub fn scrolled(label: &str, table: &Markup) -> Markup {
    html! {
        div.scrolled role="region" aria-label=(label) tabindex="0" { (table) }
    }
}

/// A picture with what it shows in words; it scrolls by itself on narrow pages.
pub fn picture(caption: &str, shows: &str, svg: &str) -> Markup {
    html! {
        figure {
            figcaption { (caption) }
            div.picture role="region" aria-label={ "Picture: " (shows) } tabindex="0" {
                div role="img" aria-label=(shows) { (PreEscaped(svg)) }
            }
        }
    }
}

/// A bar that is `share` (0 to 1) of its room, beside the number that it stands for.
pub fn bar(share: f64, wrong: bool) -> Markup {
    let width = format!("width:{:.1}%", share.clamp(0.0, 1.0) * 100.0);
    html! {
        span.bar aria-hidden="true" { span.wrong[wrong] style=(width) {} }
    }
}

/// How it was computed.
pub fn how(report: &Report) -> Markup {
    let platforms = report.cover.survey.platforms.join(", ");
    html! {
        dl {
            dt { "Characters" }
            dd { "Texts of pages and catalogues are counted as extended grapheme clusters; each is \
                  given to the first face of its stack that has it and joins it, as browsers do, on: "
                  (platforms) "." }
            dt { "Stacks" }
            dd { "Stand-ins are installed families under @font-face rules with size-adjust and line \
                  metrics, fitted on the lines of the texts." }
            dt { "What moves" }
            dd { "Pages are laid out twice, before and after their web fonts arrive, without a \
                  browser; the score is that of the Layout Instability specification. "
                  code { "tidy-lattice prove" } " holds it against real browsers." }
            dt { "Files" }
            dd { "Sizes as files lie on disk. Cut fonts are compared with the source, outline by \
                  outline and text by text, before they count." }
            @if let Some(shift) = report.shift.as_ref().filter(|shift| !shift.problems.is_empty()) {
                dt { "Not laid out" }
                dd {
                    ul {
                        @for problem in shift.problems.iter().take(12) {
                            li { (problem.file) ":" (problem.line) " " (problem.what) }
                        }
                        @if shift.problems.len() > 12 {
                            li { "and " (shift.problems.len() - 12) " more" }
                        }
                    }
                }
            }
            dt { "Version" }
            dd { "tidy-lattice " (env!("CARGO_PKG_VERSION")) }
        }
    }
}
