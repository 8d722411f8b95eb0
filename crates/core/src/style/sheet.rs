//! `@font-face` rules and the sheet that holds them.

use std::fmt::Write as _;

use super::text::quoted;
use crate::layout::Overrides;

/// One entry of an `src` descriptor (CSS Fonts 4, §4.3).
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum SourceRef {
    /// `url()` with a `format()`.
    Url {
        /// The URL, already encoded.
        url: String,
        /// The `format()` keyword.
        format: &'static str,
    },
    /// `local()`, which matches a full or PostScript name.
    Local(String),
}

/// An `@font-face` rule.
#[derive(Debug, Clone, PartialEq)]
pub struct FontFaceRule {
    /// A line for the reader above the rule.
    pub comment: String,
    /// `font-family`.
    pub family: String,
    /// `src`, in order.
    pub sources: Vec<SourceRef>,
    /// `font-weight`, 1 to 1000.
    pub weight: f32,
    /// `font-style`.
    pub style: &'static str,
    /// `font-display`, for rules that load something.
    pub display: Option<String>,
    /// `size-adjust` in %.
    pub size_adjust: Option<f64>,
    /// The line metrics, where the rule states them.
    pub overrides: Option<Overrides>,
}

/// A style sheet: rules, then custom properties on the root.
#[derive(Debug, Clone, PartialEq)]
pub struct StyleSheet {
    /// Lines of the comment at the top.
    pub heading: Vec<String>,
    /// The rules, in order.
    pub rules: Vec<FontFaceRule>,
    /// Custom properties: name with its hyphens, value.
    pub properties: Vec<(String, String)>,
}

impl StyleSheet {
    /// The sheet as CSS.
    pub fn to_css(&self) -> String {
        let mut css = String::new();
        let heading: Vec<String> = self.heading.iter().map(|line| comment_text(line)).collect();
        let _ = writeln!(css, "/* {} */", heading.join("\n   "));
        for rule in &self.rules {
            let _ = write!(css, "\n{}", rule.to_css());
        }
        if !self.properties.is_empty() {
            css.push_str("\n:root {\n");
            for (name, value) in &self.properties {
                let _ = writeln!(css, "  {name}: {value};");
            }
            css.push_str("}\n");
        }
        css
    }
}

impl FontFaceRule {
    fn to_css(&self) -> String {
        let mut css = format!("/* {} */\n@font-face {{\n", comment_text(&self.comment));
        let mut descriptor = |name: &str, value: &str| {
            let _ = writeln!(css, "  {name}: {value};");
        };
        descriptor("font-family", &quoted(&self.family));
        let sources: Vec<String> = self.sources.iter().map(SourceRef::to_css).collect();
        descriptor("src", &sources.join(",\n       "));
        descriptor("font-weight", &number(f64::from(self.weight)));
        descriptor("font-style", self.style);
        if let Some(display) = &self.display {
            descriptor("font-display", display);
        }
        if let Some(size_adjust) = self.size_adjust {
            descriptor("size-adjust", &percent(size_adjust));
        }
        if let Some(overrides) = &self.overrides {
            descriptor("ascent-override", &percent(overrides.ascent));
            descriptor("descent-override", &percent(overrides.descent));
            descriptor("line-gap-override", &percent(overrides.line_gap));
        }
        css.push_str("}\n");
        css
    }
}

impl SourceRef {
    fn to_css(&self) -> String {
        match self {
            SourceRef::Url { url, format } => format!("url({}) format(\"{format}\")", quoted(url)),
            SourceRef::Local(name) => format!("local({})", quoted(name)),
        }
    }
}

/// The shortest decimal that reads back as `value` to 5 places.
fn number(value: f64) -> String {
    let text = format!("{value:.5}");
    text.trim_end_matches('0').trim_end_matches('.').to_owned()
}

fn percent(value: f64) -> String {
    format!("{}%", number(value))
}

/// Text that cannot end the comment, or the style element, that it stands in.
fn comment_text(text: &str) -> String {
    let clean: String = text
        .chars()
        .map(|c| if c.is_control() { ' ' } else { c })
        .collect();
    clean.replace("*/", "* /").replace("</", "< /")
}
