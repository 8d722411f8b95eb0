//! A finished stack, as plain data.

use serde::Serialize;
use tidy_lattice_documents::style::Overrides;
use tidy_lattice_glyphs::font::{CharacterSet, Face, LineMetrics, Names, Slope};

use super::engines::WithoutOverrides;
use super::plain::PlainStack;
use super::{Note, SampleKind};
use crate::rank::Ranked;
use tidy_lattice_standin::{StandInLines, WidthsOfStandIn};

/// A finished stack.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Built {
    /// The role that it is for.
    pub role: String,
    /// Faces for some signs only, which come first.
    pub signs: Vec<ExtraFont>,
    /// The web font.
    pub web: WebFamily,
    /// What widths were fitted on.
    pub sample: SampleKind,
    /// How many texts of pages were fitted on besides in the columns that they stand in,
    /// once for each window.
    pub texts_in_columns: usize,
    /// The stand-ins, in stack order.
    pub stand_ins: Vec<StandIn>,
    /// Web fonts for other scripts, in order of need.
    pub scripts: Vec<ExtraFont>,
    /// The stack for where `@font-face` cannot be used.
    pub plain: PlainStack,
    /// All families in order, the generic last, with why each is there.
    pub stack: Vec<Entry>,
    /// The value for `font-family`.
    pub font_family: String,
    /// The name of the custom property that holds it.
    pub custom_property: String,
    /// The name of the class that sets it.
    pub class_name: String,
    /// Sizes in px that are in use.
    pub sizes: Vec<f32>,
    /// Widths of columns in px that lines were broken at.
    pub widths: Vec<f64>,
    /// What is made small.
    pub minimise: tidy_lattice_standin::Minimise,
    /// What the user should know.
    pub notes: Vec<Note>,
    /// The style sheet.
    pub css: String,
}

/// One family of a stack.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Entry {
    /// The name, as `font-family` takes it.
    pub family: String,
    /// What it is.
    pub kind: EntryKind,
    /// Why it is there.
    pub why: String,
    /// The platforms that it serves; empty for all.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub platforms: Vec<String>,
}

/// What an entry of a stack is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum EntryKind {
    /// A web font for some signs.
    Sign,
    /// The web font.
    Web,
    /// A local face in its place.
    StandIn,
    /// A web font for another script.
    Script,
    /// A further web font, as the page declares it.
    Kept,
    /// An installed family as it is.
    Local,
    /// A generic family.
    Generic,
}

/// The web font of a stack.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct WebFamily {
    /// The family in the style sheet.
    pub family: String,
    /// Its files.
    pub faces: Vec<WebFont>,
    /// Pieces of the sample, repeats included, that it cannot show; they were
    /// left out of all width fits.
    pub words_lacked: u64,
}

/// One file of the web font, and what its rule states.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct WebFont {
    /// The face as it describes itself.
    pub face: StackFace,
    /// Its characters.
    #[serde(skip)]
    pub characters: CharacterSet,
    /// The URL in the style sheet.
    pub url: String,
    /// The `format()` keyword.
    pub format: String,
    /// The files, where there are several, in the order of their rules.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub slices: Vec<WebSlice>,
    /// `font-weight`: the least and the most.
    pub weight: (f32, f32),
    /// `font-stretch` in %, where it is not 100: the least and the most.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub stretch: Option<(f32, f32)>,
    /// What the rule states so that engines treat it like its stand-ins.
    pub pinned: Option<Overrides>,
    /// Whether the line gap went half into ascent and half into descent.
    pub gap_folded: bool,
    /// How much taller its line was pinned, in % of an em.
    pub taller: f64,
    /// Sizes in px at which pinning changes its own lines in Chromium.
    pub web_lines_changed: Vec<f32>,
    /// How pinning changes its own lines in Firefox; `None` where it is not pinned.
    pub web_lines_in_firefox: Option<WebLines>,
    /// The line-height to state where lines cannot be met otherwise.
    pub specified_line_height: f64,
}

/// How the web font's own lines change by what its rule states, at the half-pixel sizes from
/// 8 to 96 px and those in use, where `line-height` is `normal`.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct WebLines {
    /// The sizes in px at which they change.
    pub changed: Vec<f32>,
    /// By how much at most at the sizes in use, in px.
    pub most_in_use: f64,
    /// By how much in the mean of all sizes, in px.
    pub mean: f64,
    /// At how many of all sizes lines of the first stand-in would be of another height than
    /// the web font's, were nothing stated for it; `None` without stand-ins.
    pub off_unpinned: Option<usize>,
    /// How many sizes there are.
    pub sizes: usize,
}

/// One file of a face that is several.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct WebSlice {
    /// URLs, encoded, with their `format()` keywords, in order.
    pub sources: Vec<(String, String)>,
    /// The characters that it is held to.
    #[serde(serialize_with = "as_css")]
    #[schemars(with = "String")]
    pub range: CharacterSet,
}

/// A face as a stack sees it.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct StackFace {
    /// Its names.
    pub names: Names,
    /// Its weight, 1 to 1000.
    pub weight: f32,
    /// Its slope.
    pub slope: Slope,
    /// The line metrics that browsers use, in em.
    pub line: LineMetrics,
    /// Font units per em.
    pub units_per_em: u16,
}

impl StackFace {
    /// What a stack needs to know of `face`.
    pub fn of(face: &Face) -> Self {
        StackFace {
            names: face.names().clone(),
            weight: face.weight(),
            slope: face.slope(),
            line: face.line(),
            units_per_em: face.units_per_em(),
        }
    }
}

/// A family that stands in: local families of equal metrics.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct StandIn {
    /// The family in the style sheet.
    pub family: String,
    /// The local families.
    pub over: Vec<String>,
    /// The platforms that have one of them.
    pub platforms: Vec<String>,
    /// How close its main face is, as `rank` says it.
    pub rank: Ranked,
    /// One face for each of the web font's, and each weight in use.
    pub faces: Vec<StandInFace>,
}

/// A local face in place of a face of the web font.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct StandInFace {
    /// Which of the web font's files it stands for, counted from 0.
    pub web: usize,
    /// `font-weight` of its rules.
    pub weight: f32,
    /// `font-style` of its rules.
    pub slope: Slope,
    /// The names in `local()`.
    pub local: Vec<String>,
    /// The face as it describes itself.
    pub face: StackFace,
    /// The characters that its first slice is held to, those of the web font, where a
    /// further web font stands behind it; `None` where it is held to none.
    #[serde(
        serialize_with = "as_css_if_any",
        skip_serializing_if = "Option::is_none"
    )]
    #[schemars(with = "Option<String>")]
    pub held_to: Option<CharacterSet>,
    /// The width fit.
    pub width: WidthsOfStandIn,
    /// The line fit of each slice.
    pub lines: Vec<StandInLines>,
    /// Whether the `line-height` of its texts is stated, so that lines are as high in any
    /// face, whatever sizes [`StandInFace::lines`] lists.
    pub line_height_specified: bool,
    /// Lines in engines that honour `size-adjust` and not the line overrides;
    /// `None` where those of the local face are not known.
    pub without_overrides: Option<WithoutOverrides>,
}

/// A web font beside the main one: for signs, or for another script.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct ExtraFont {
    /// The family in the style sheet.
    pub family: String,
    /// The face as it describes itself.
    pub face: StackFace,
    /// The URL in the style sheet.
    pub url: String,
    /// The `format()` keyword.
    pub format: String,
    /// The characters it is held to.
    #[serde(serialize_with = "as_css")]
    #[schemars(with = "String")]
    pub range: CharacterSet,
    /// Scripts and groups of these characters, most frequent first.
    pub serves: Vec<String>,
    /// `size-adjust` in %.
    pub size_adjust: f64,
    /// The rule that the size follows.
    pub scaled_by: String,
    /// Its lines beside the web font's; `None` where the web font is not pinned.
    pub lines: Option<StandInLines>,
}

fn as_css<S: serde::Serializer>(range: &CharacterSet, to: S) -> Result<S::Ok, S::Error> {
    to.serialize_str(&range.css())
}

fn as_css_if_any<S: serde::Serializer>(
    range: &Option<CharacterSet>,
    to: S,
) -> Result<S::Ok, S::Error> {
    match range {
        Some(range) => as_css(range, to),
        None => to.serialize_none(),
    }
}
