//! `@font-face` rules and the sheet that holds them.

use std::fmt::Write as _;

use tidy_lattice_glyphs::font::CharacterSet;
use tidy_lattice_glyphs::text::without_steering;

use super::text::quoted;
use crate::style::Overrides;

/// One entry of an `src` descriptor (CSS Fonts 4, §4.3).
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum SourceRef {
    /// `url()` with a `format()`.
    Url {
        /// The URL, already encoded.
        url: String,
        /// The `format()` keyword.
        format: String,
    },
    /// `local()`, which matches a full or PostScript name.
    Local(String),
}

/// An `@font-face` rule.
#[derive(Debug, Clone, PartialEq)]
pub struct FontFaceRule {
    /// A line for the reader above the rule; empty for none.
    pub comment: String,
    /// `font-family`.
    pub family: String,
    /// `src`, in order.
    pub sources: Vec<SourceRef>,
    /// `font-weight`: the least and the most, 1 to 1000.
    pub weight: (f32, f32),
    /// `font-stretch` in %, where it is not 100: the least and the most.
    pub stretch: Option<(f32, f32)>,
    /// `font-style`.
    pub style: &'static str,
    /// `font-display`, for rules that load something.
    pub display: Option<String>,
    /// `unicode-range`; `None` for all characters.
    pub unicode_range: Option<CharacterSet>,
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
    /// Custom properties.
    pub properties: Vec<Property>,
    /// Classes: name without its dot, declarations.
    pub classes: Vec<(String, Vec<(String, String)>)>,
}

/// A custom property on the root.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Property {
    /// Lines for the reader above it.
    pub comment: Vec<String>,
    /// Its name, with its hyphens.
    pub name: String,
    /// Its value.
    pub value: String,
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
            for property in &self.properties {
                if !property.comment.is_empty() {
                    let lines: Vec<String> = property
                        .comment
                        .iter()
                        .map(|line| comment_text(line))
                        .collect();
                    let _ = writeln!(css, "  /* {} */", lines.join("\n     "));
                }
                let _ = writeln!(css, "  {}: {};", property.name, property.value);
            }
            css.push_str("}\n");
        }
        for (name, declarations) in &self.classes {
            let _ = writeln!(css, "\n.{name} {{");
            for (property, value) in declarations {
                let _ = writeln!(css, "  {property}: {value};");
            }
            css.push_str("}\n");
        }
        css
    }
}

impl FontFaceRule {
    fn to_css(&self) -> String {
        let mut css = String::new();
        if !self.comment.is_empty() {
            let _ = writeln!(css, "/* {} */", comment_text(&self.comment));
        }
        css.push_str("@font-face {\n");
        let mut descriptor = |name: &str, value: &str| {
            let _ = writeln!(css, "  {name}: {value};");
        };
        descriptor("font-family", &quoted(&self.family));
        let sources: Vec<String> = self.sources.iter().map(SourceRef::to_css).collect();
        descriptor("src", &sources.join(",\n       "));
        descriptor("font-weight", &pair(self.weight, ""));
        if let Some(stretch) = self.stretch {
            descriptor("font-stretch", &pair(stretch, "%"));
        }
        descriptor("font-style", self.style);
        if let Some(display) = &self.display {
            descriptor("font-display", display);
        }
        if let Some(range) = &self.unicode_range {
            descriptor("unicode-range", &range.css());
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

/// One value, or the two ends of a range.
fn pair((from, to): (f32, f32), unit: &str) -> String {
    let (from, to) = (number(f64::from(from)), number(f64::from(to)));
    if from == to {
        format!("{from}{unit}")
    } else {
        format!("{from}{unit} {to}{unit}")
    }
}

fn percent(value: f64) -> String {
    format!("{}%", number(value))
}

/// Text that cannot end the comment, or the style element, that it stands in.
fn comment_text(text: &str) -> String {
    let clean: String = without_steering(text)
        .chars()
        .map(|c| if c.is_control() { ' ' } else { c })
        .collect();
    clean.replace("*/", "* /").replace("</", "< /")
}
