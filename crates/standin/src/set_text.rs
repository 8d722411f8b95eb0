//! Texts as pages set them, to be fitted on in their very columns.

use tidy_lattice_documents::style::read::FamilyName;

use super::breaks::{Column, all_columns};
use super::sample::TextSample;

/// How much more a text counts that is seen as the page opens.
const FIRST: u64 = 3;

/// What another number of lines counts, in lines that end elsewhere: it moves all that
/// follows. In the window as the page opens, where that is a layout shift, it counts more.
const COUNT: u64 = 4;
const COUNT_IN_FIRST: u64 = 16;

/// What texts as they are set count against all texts in columns of any width.
const SET: u64 = 4;

/// Running text of one box.
#[derive(Debug, Clone, PartialEq)]
pub struct SetText {
    /// The text, with blanks collapsed.
    pub text: String,
    /// The families that most of it asks for.
    pub families: Vec<FamilyName>,
    /// Its size, in px.
    pub size: f32,
    /// Its weight, 1 to 1000.
    pub weight: f32,
    /// Whether it is italic or oblique.
    pub sloped: bool,
    /// `letter-spacing`, in px.
    pub letter_spacing: f32,
    /// Whether its `line-height` is stated, so that no face decides how high lines are.
    pub line_height_specified: bool,
    /// The width of its column, in px; `None` where the column is as wide as the text.
    pub width: Option<f64>,
    /// How many lines it has.
    pub lines: usize,
    /// Whether it begins in the window as the page opens.
    pub in_first_window: bool,
}

/// A sample with the columns that its paragraphs stand in.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct SetSample {
    /// The sample.
    pub sample: TextSample,
    /// The columns.
    pub columns: Vec<Column>,
}

impl SetSample {
    /// The `texts` in their columns, and `others` at `sizes` in columns of all `widths`, both
    /// in px, which count a fifth in all.
    pub fn new(texts: &[&SetText], others: &TextSample, sizes: &[f32], widths: &[f64]) -> Self {
        let mut distinct: Vec<&str> = texts.iter().map(|text| text.text.as_str()).collect();
        distinct.sort_unstable();
        distinct.dedup();
        let (sample, places) = others.preceded_by(&distinct);
        let others = all_columns(&sample, sizes, widths);
        let in_columns: Vec<(&&SetText, f64)> = texts
            .iter()
            .filter_map(|text| Some((text, text.width?)))
            .collect();
        let all: u64 = in_columns.iter().map(|(text, _)| weight_of(text)).sum();
        let scale = (SET * others.len() as u64).div_ceil(all.max(1)).max(1);
        let set = in_columns.into_iter().filter_map(|(text, width)| {
            let place = distinct.binary_search(&text.text.as_str()).ok()?;
            let weight = weight_of(text) * scale;
            Some(Column {
                paragraph: places[place]?,
                size: text.size,
                width,
                letter_spacing: text.letter_spacing,
                weights: (weight, weight * count_of(text)),
                lines: Some(text.lines),
            })
        });
        SetSample {
            columns: set.chain(others).collect(),
            sample,
        }
    }
}

fn count_of(text: &SetText) -> u64 {
    if text.in_first_window {
        COUNT_IN_FIRST
    } else {
        COUNT
    }
}

fn weight_of(text: &SetText) -> u64 {
    if text.in_first_window { FIRST } else { 1 }
}
