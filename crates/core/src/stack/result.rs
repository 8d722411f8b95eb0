//! A finished stack, as plain data.

use serde::Serialize;

use super::Note;
use crate::font::{Face, LineMetrics, Names};
use crate::layout::Overrides;
use crate::standin::{StandInLines, WidthFit};

/// What widths were fitted on.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum SampleKind {
    /// The user's own text.
    OwnText {
        /// Where it came from.
        sources: Vec<String>,
    },
    /// The built-in sample of a language.
    Language {
        /// The language's BCP 47 tag.
        language: String,
    },
}

impl SampleKind {
    /// The sample in words.
    pub fn label(&self) -> String {
        match self {
            SampleKind::OwnText { sources } => match sources.as_slice() {
                [one] => one.clone(),
                many => format!("{} texts", many.len()),
            },
            SampleKind::Language { language } => {
                format!("the built-in sample for language {language}")
            }
        }
    }
}

/// A finished stack.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Built {
    /// The web font and what its rule states.
    pub web: WebFont,
    /// What widths were fitted on.
    pub sample: SampleKind,
    /// The stand-ins, in stack order.
    pub stand_ins: Vec<StandIn>,
    /// The families in order, the generic last.
    pub stack: Vec<String>,
    /// The value for `font-family`.
    pub font_family: String,
    /// The name of the custom property that holds it.
    pub custom_property: String,
    /// Sizes in px that the user named.
    pub sizes: Vec<f32>,
    /// What the user should know.
    pub notes: Vec<Note>,
    /// The style sheet.
    pub css: String,
}

/// The web font of a stack.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct WebFont {
    /// The family in the style sheet.
    pub family: String,
    /// The face as it describes itself.
    pub face: StackFace,
    /// The URL in the style sheet.
    pub url: String,
    /// What the rule states so that engines treat it like its stand-ins.
    pub pinned: Option<Overrides>,
    /// Whether the line gap went half into ascent and half into descent.
    pub gap_folded: bool,
    /// Sizes in px at which pinning changes its own lines in Chromium.
    pub own_lines_changed: Vec<f32>,
    /// Words of the sample, repeats included, that it cannot show; they were
    /// left out of all width fits.
    pub words_lacked: u64,
}

/// A face as a stack sees it.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct StackFace {
    /// Its names.
    pub names: Names,
    /// Its weight, 1 to 1000.
    pub weight: f32,
    /// The line metrics that browsers use, in em.
    pub line: LineMetrics,
}

impl StackFace {
    /// What a stack needs to know of `face`.
    pub fn of(face: &Face) -> Self {
        StackFace {
            names: face.names().clone(),
            weight: face.weight(),
            line: face.line(),
        }
    }
}

/// A stand-in over one local face.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct StandIn {
    /// The family in the style sheet.
    pub family: String,
    /// The names in `local()`.
    pub local: Vec<String>,
    /// The face as it describes itself.
    pub face: StackFace,
    /// The width fit.
    pub width: WidthFit,
    /// The line fit.
    pub lines: StandInLines,
}
