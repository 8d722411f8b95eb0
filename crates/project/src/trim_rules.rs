//! What a project says of how its fonts are cut, and the words for it.

use std::path::PathBuf;

use serde::Deserialize;
use tidy_lattice_core::trim::subset::AxisLimit;
use tidy_lattice_core::trim::{Margin, Packing, Slicing};

/// How `trim` cuts a project's fonts. Where `output` is said, too, `build` cuts them as it
/// goes, and its style sheet names the cut files.
#[derive(Debug, Clone, Default, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct TrimRules {
    /// The folder that the cut files go to.
    pub output: Option<PathBuf>,
    /// How much more than the text has stays: `text` (nothing), `languages` (the default) or
    /// `signs`.
    pub margin: Option<Margin>,
    /// Into how many files a face is cut: `whole` (the default), `text`, a number, or the
    /// largest size of a file (`60k`).
    pub slices: Option<SlicingText>,
    /// Features to keep besides those that CSS turns on by default and those that styles ask
    /// for; `all`: everything.
    #[serde(default)]
    pub features: Vec<String>,
    /// Whether instructions for small sizes stay; they do by default.
    pub hints: Option<bool>,
    /// What is left of axes of variable fonts: `wght=400..700`, or `wght=400` to pin it.
    #[serde(default)]
    pub axes: Vec<String>,
    /// Forms of the files: `woff2` (the default), `woff`, `sfnt`.
    #[serde(default)]
    pub formats: Vec<Packing>,
    /// Whether a licence allows to cut what the files say may not be cut or embedded.
    #[serde(default)]
    pub licence_allows: bool,
}

impl TrimRules {
    /// What is wrong with it, if anything.
    pub(super) fn check(&self) -> Result<(), String> {
        if let Some(slices) = &self.slices {
            slicing(&slices.text()).map_err(|reason| format!("trim.slices: {reason}"))?;
        }
        axis_limits(&self.axes).map_err(|reason| format!("trim.axes: {reason}"))?;
        for tag in self.features.iter().filter(|tag| *tag != "all") {
            feature(tag).map_err(|reason| format!("trim.features: {reason}"))?;
        }
        Ok(())
    }
}

/// `slices` of a project file: a number, or a word.
#[derive(Debug, Clone, Deserialize, schemars::JsonSchema)]
#[serde(untagged)]
pub enum SlicingText {
    /// How many.
    Number(u16),
    /// `whole`, `text`, or the largest size of a file.
    Word(String),
}

impl SlicingText {
    /// As the command line has it.
    pub fn text(&self) -> String {
        match self {
            SlicingText::Number(number) => number.to_string(),
            SlicingText::Word(word) => word.clone(),
        }
    }
}

/// Into how many files faces are cut: `whole`, `text`, `4`, `60k`.
///
/// # Errors
///
/// What to write, where it is none of these.
pub fn slicing(text: &str) -> Result<Slicing, String> {
    let wrong = || {
        format!(
            "{text}: write whole, text, a number of files from 1 to 1000, or the largest size of \
             a file (60k, 1m)"
        )
    };
    let lower = text.trim().to_ascii_lowercase();
    let size = |digits: &str, unit: u64| {
        let number: u64 = digits.parse().map_err(|_| wrong())?;
        // Nothing useful is smaller than a kilobyte.
        let bytes = number.checked_mul(unit).filter(|bytes| *bytes >= 1000);
        bytes.map(Slicing::Largest).ok_or_else(wrong)
    };
    if lower == "whole" {
        Ok(Slicing::Whole)
    } else if lower == "text" {
        Ok(Slicing::Text)
    } else if let Some(digits) = lower.strip_suffix('k') {
        size(digits, 1000)
    } else if let Some(digits) = lower.strip_suffix('m') {
        size(digits, 1_000_000)
    } else {
        match lower.parse::<usize>() {
            Ok(count) if (1..=1000).contains(&count) => Ok(Slicing::Count(count)),
            _ => Err(wrong()),
        }
    }
}

/// What is left of axes, as `wght=400..700` or `wght=400`.
///
/// # Errors
///
/// What to write, where one is neither, or is named twice.
pub fn axis_limits(texts: &[String]) -> Result<Vec<AxisLimit>, String> {
    let mut limits: Vec<AxisLimit> = Vec::new();
    for text in texts {
        let limit = axis_limit(text).ok_or_else(|| {
            format!(
                "{text}: write an axis and what is left of it, as wght=400..700, or the one \
                 value that is left, as wdth=100"
            )
        })?;
        if limits.iter().any(|known| known.tag == limit.tag) {
            return Err(format!(
                "{text}: {} is named twice; name each axis once",
                limit.name()
            ));
        }
        limits.push(limit);
    }
    Ok(limits)
}

fn axis_limit(text: &str) -> Option<AxisLimit> {
    let (tag, values) = text.split_once('=')?;
    let (from, to) = values.split_once("..").unwrap_or((values, values));
    let number = |text: &str| {
        let value: f64 = text.trim().parse().ok()?;
        // As fonts have it, in 16.16 fixed-point numbers.
        let known = value.is_finite() && value.abs() < 32768.0;
        known.then(|| (value * 65536.0).round() / 65536.0)
    };
    let limit = AxisLimit {
        tag: <[u8; 4]>::try_from(tag.trim().as_bytes()).ok()?,
        from: number(from)?,
        to: number(to)?,
    };
    (limit.from <= limit.to).then_some(limit)
}

/// The tag of a feature.
///
/// # Errors
///
/// What to write, where it is none.
pub fn feature(tag: &str) -> Result<[u8; 4], String> {
    <[u8; 4]>::try_from(tag.as_bytes())
        .map_err(|_| format!("{tag}: a feature has a tag of four characters, as smcp or ss01"))
}
