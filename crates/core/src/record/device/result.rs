//! What a page measured, read as the hostile input that a file is.

use std::collections::{BTreeMap, BTreeSet};

use serde::{Deserialize, Serialize};
use tidy_lattice_documents::style::is_generic;
use tidy_lattice_glyphs::font::{CharacterSet, Class, MeasuredIn, RunTable, Slope, Strokes, Works};
use tidy_lattice_glyphs::text::is_steering;

/// The `schema` of the results that this version's pages give.
pub const SCHEMA: &str = "tidy-lattice/measured/1";

/// Bounds on files of hostile size.
const MOST_FACES: usize = 2000;
const MOST_FAMILIES: usize = 4000;
const MOST_WORDS: usize = 40_000;
/// In characters; pages of this version have 45,000.
const MOST_TEXT: usize = 150_000;
/// Faces with much kerning have 13,000.
const MOST_PAIRS: usize = 30_000;
const MOST_RUNS: usize = 8000;
/// Unicode has 160,000.
const MOST_CHARACTERS: u64 = 200_000;
/// A hundred faces of Chinese have two millions.
const MOST_CHARACTERS_IN_ALL: u64 = 10_000_000;
const LONGEST_NAME: usize = 200;
const LONGEST_WORD: usize = 400;

/// The result of a page.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Measured {
    /// `tidy-lattice/measured/1`.
    pub schema: String,
    /// The version of the program that made the page.
    pub made_by: String,
    /// The browser, as it calls itself.
    pub browser: MeasuredIn,
    /// Words that nothing was learned from, by language (BCP 47).
    pub texts: BTreeMap<String, Vec<String>>,
    /// The script of each language (its Unicode name).
    pub scripts: BTreeMap<String, String>,
    /// Families that are there.
    pub families: Vec<MeasuredFamily>,
    /// Families that are not.
    pub absent: Vec<String>,
    /// Characters that this browser shows in other fonts than those that are asked for, as in
    /// `unicode-range`: whether the faces have them is not known.
    pub untold: String,
    /// What generic families are.
    pub generics: Vec<MeasuredGeneric>,
    /// The faces.
    pub faces: Vec<MeasuredFace>,
}

/// A family that is there.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct MeasuredFamily {
    /// The name.
    pub name: String,
    /// The class, where the page was given it.
    pub class: Option<Class>,
    /// Whether style sheets reach it by its name.
    pub by_name: bool,
    /// How many of its faces were measured.
    pub faces: u32,
}

/// What a generic family is.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct MeasuredGeneric {
    /// The CSS keyword.
    pub keyword: String,
    /// Families that are as wide in every sample; none where it is none of those that were
    /// looked for.
    pub families: Vec<String>,
}

/// How a face was reached.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Reached {
    /// By `local()`.
    Local,
    /// By the name of its family, with weight and style.
    Family,
}

/// A face as a browser shows it. Lengths are in font units, where nothing else is said.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct MeasuredFace {
    /// The family.
    pub family: String,
    /// The full name.
    pub full: String,
    /// The PostScript name.
    pub postscript: Option<String>,
    /// The weight on the scale of `font-weight`, 1 to 1000.
    pub weight: f32,
    /// `font-style`.
    pub style: Slope,
    /// How it was reached.
    pub by: Reached,
    /// What widths are whole numbers of, to an em: 16 to 16384.
    pub units_per_em: u16,
    /// Ascent, descent and gap as the browser counts them, in em.
    pub line: LineSeen,
    /// The height of `x`, in em.
    pub x_height: Option<f64>,
    /// The height of `H`, in em.
    pub cap_height: Option<f64>,
    /// Thicknesses, in em.
    pub strokes: Option<Strokes>,
    /// What its stems look like.
    pub stems: StemsSeen,
    /// Whether letters and figures are of one width.
    pub fixed: bool,
    /// Whether it is drawn in colours.
    pub colour: bool,
    /// Whether the browser lets marks be told that the face lacks.
    pub marks_told: bool,
    /// How well scripts are shaped, by their Unicode names.
    pub shaping: BTreeMap<String, Works>,
    /// The characters, as in `unicode-range`.
    pub characters: String,
    /// Their advances, as on a card.
    pub advances: String,
    /// Advances of joined forms, as on a card.
    pub joined: BTreeMap<String, String>,
    /// Letters that behave beside others as the one before the colon.
    pub followers: BTreeMap<String, String>,
    /// What pairs differ, as on a card.
    pub pairs: RunTable,
    /// What longer runs differ, as on a card.
    pub runs: RunTable,
    /// The widths of the words of a language together, for each third of them.
    pub widths: BTreeMap<String, Vec<i64>>,
}

/// Ascent, descent and gap, in em.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct LineSeen {
    /// Above the baseline.
    pub ascent: f64,
    /// Below it.
    pub descent: f64,
    /// What `line-height: normal` has over these.
    pub line_gap: f64,
}

/// What stems look like.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct StemsSeen {
    /// Whether the stem of `l` stands on a foot.
    pub feet: Option<bool>,
    /// How far it leans to the right, in degrees.
    pub lean: Option<f64>,
}

/// Why bytes are no result of a page.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum MeasuredError {
    /// It is not JSON, or fields are missing or of the wrong kind.
    #[error(
        "this is no result of a measuring page ({0}); `tidy-lattice record --page FILE.html` makes \
         the page"
    )]
    NotAResult(String),
    /// Something in it cannot be.
    #[error("{place} {reason}; measure again with a page of this version")]
    Wrong {
        /// Where.
        place: String,
        /// What is wrong with it.
        reason: String,
    },
}

pub(super) fn wrong(place: impl Into<String>, reason: impl Into<String>) -> MeasuredError {
    MeasuredError::Wrong {
        place: place.into(),
        reason: reason.into(),
    }
}

impl Measured {
    /// Results beyond this size are refused: 64 MiB, a thousand faces with many scripts.
    pub const LARGEST: u64 = 64 * 1024 * 1024;

    /// Whether `bytes` start like a result rather than like a font or a card.
    pub fn looks_like_one(bytes: &[u8]) -> bool {
        let start = String::from_utf8_lossy(&bytes[..bytes.len().min(400)]);
        start.trim_start().starts_with('{') && start.contains("tidy-lattice/measured/")
    }

    /// Reads a result.
    ///
    /// # Errors
    ///
    /// [`MeasuredError`], which names the place.
    pub fn read(bytes: &[u8]) -> Result<Self, MeasuredError> {
        let measured: Measured = serde_json::from_slice(bytes)
            .map_err(|error| MeasuredError::NotAResult(error.to_string()))?;
        if measured.schema != SCHEMA {
            return Err(wrong(
                "\"schema\"",
                format!(
                    "is {:?}, but {SCHEMA:?} is read here",
                    short(&measured.schema)
                ),
            ));
        }
        measured.check()?;
        Ok(measured)
    }

    fn check(&self) -> Result<(), MeasuredError> {
        most("\"faces\"", self.faces.len(), MOST_FACES)?;
        let families = self.families.len() + self.absent.len();
        most("\"families\"", families, MOST_FAMILIES)?;
        most("\"generics\"", self.generics.len(), 100)?;
        let about = [
            ("\"made_by\"", &self.made_by),
            ("\"browser\"", &self.browser.engine),
            ("\"browser\"", &self.browser.version),
            ("\"browser\"", &self.browser.system),
        ];
        for (place, text) in about {
            if text.chars().count() > LONGEST_NAME || text.chars().any(is_no_name) {
                return Err(wrong(place, "is no name"));
            }
        }
        if self.browser.agent.len() > 1000 || self.browser.agent.chars().any(is_no_name) {
            return Err(wrong("\"agent\"", "is no name"));
        }
        let families = self.families.iter().map(|family| &family.name);
        for (index, name) in families.clone().chain(&self.absent).enumerate() {
            check_name("\"families\"", index, name)?;
        }
        let known: BTreeSet<&String> = families.collect();
        if !self.untold.is_empty() && CharacterSet::parse(&self.untold).is_none() {
            return Err(wrong("\"untold\"", "is no list like U+20-7E"));
        }
        for generic in &self.generics {
            most("\"generics\"", generic.families.len(), MOST_FAMILIES)?;
            if !is_generic(&generic.keyword) {
                return Err(wrong(
                    "\"generics\"",
                    format!(
                        "has {:?}, which is no generic family",
                        short(&generic.keyword)
                    ),
                ));
            }
            if let Some(other) = generic.families.iter().find(|name| !known.contains(name)) {
                return Err(wrong(
                    "\"generics\"",
                    format!("names {:?}, which \"families\" does not have", short(other)),
                ));
            }
        }
        let words: usize = self.texts.values().map(Vec::len).sum();
        most("\"texts\"", words, MOST_WORDS)?;
        let words = self.texts.values().flatten();
        let text: usize = words.map(|word| word.chars().count()).sum();
        if text > MOST_TEXT {
            return Err(wrong(
                "\"texts\"",
                format!("have {text} characters; {MOST_TEXT} is the most"),
            ));
        }
        for (tag, words) in &self.texts {
            if !is_tag(tag) || !self.scripts.get(tag).is_some_and(|script| is_word(script)) {
                return Err(wrong(
                    "\"texts\"",
                    format!("has no script for {:?}", short(tag)),
                ));
            }
            if words.iter().any(|word| word.chars().count() > LONGEST_WORD) {
                return Err(wrong(
                    "\"texts\"",
                    format!("has too long a word for {tag:?}"),
                ));
            }
        }
        let mut characters = 0;
        for (index, face) in self.faces.iter().enumerate() {
            characters += face.check(index)?;
            if characters > MOST_CHARACTERS_IN_ALL {
                return Err(wrong(
                    format!("\"faces\" {index}"),
                    format!("brings the characters of all faces over {MOST_CHARACTERS_IN_ALL}"),
                ));
            }
            if !known.contains(&face.family) {
                return Err(wrong(
                    format!("\"faces\" {index}"),
                    format!("is of {:?}, which \"families\" does not have", face.family),
                ));
            }
        }
        Ok(())
    }
}

impl MeasuredFace {
    /// Checks the face; how many characters it has.
    fn check(&self, index: usize) -> Result<u64, MeasuredError> {
        check_name("\"faces\"", index, &self.family)?;
        check_name("\"faces\"", index, &self.full)?;
        if let Some(name) = &self.postscript {
            check_name("\"faces\"", index, name)?;
        }
        let place = || format!("\"faces\" {index} ({})", self.full);
        let lengths = [
            Some(self.line.ascent),
            Some(self.line.descent),
            Some(self.line.line_gap),
            self.x_height,
            self.cap_height,
            self.strokes.map(|strokes| strokes.stem),
            self.strokes.map(|strokes| strokes.side),
            self.strokes.map(|strokes| strokes.bottom),
        ];
        // In em: nothing of a font is ten lines high.
        let cannot = |length: &f64| !length.is_finite() || !(-10.0..=10.0).contains(length);
        if lengths.iter().flatten().any(cannot) {
            return Err(wrong(place(), "has a height that cannot be"));
        }
        if self
            .stems
            .lean
            .is_some_and(|lean| !lean.is_finite() || lean.abs() > 90.0)
        {
            return Err(wrong(place(), "has stems that lean as none can"));
        }
        let pairs = values(&self.pairs);
        most(&format!("{} \"pairs\"", place()), pairs.len(), MOST_PAIRS)?;
        let runs = values(&self.runs);
        most(&format!("{} \"runs\"", place()), runs.len(), MOST_RUNS)?;
        let far = 64 * i32::from(self.units_per_em);
        if pairs
            .iter()
            .chain(&runs)
            .any(|value| !(-far..=far).contains(value))
        {
            return Err(wrong(
                place(),
                "has pairs or runs that differ by more than can be",
            ));
        }
        let characters = CharacterSet::parse(&self.characters)
            .ok_or_else(|| wrong(place(), "has \"characters\" that are no list like U+20-7E"))?;
        if characters.len() > MOST_CHARACTERS {
            let many = characters.len();
            return Err(wrong(
                place(),
                format!("has {many} characters; {MOST_CHARACTERS} is the most"),
            ));
        }
        let followers: usize = self
            .followers
            .values()
            .map(|text| text.chars().count())
            .sum();
        most(&format!("{} \"followers\"", place()), followers, 4000)?;
        if self.shaping.keys().any(|script| !is_word(script)) {
            return Err(wrong(
                place(),
                "has \"shaping\" of something that is no script",
            ));
        }
        let mut widths = self.widths.values().flatten();
        if widths.any(|width| !(0..=1 << 40).contains(width)) {
            return Err(wrong(place(), "has \"widths\" that cannot be"));
        }
        Ok(characters.len())
    }
}

/// One value for each correction of a table.
fn values(table: &RunTable) -> Vec<i32> {
    let rows = table.values().flat_map(BTreeMap::iter);
    rows.flat_map(|(value, ends)| ends.chars().map(move |_| *value))
        .collect()
}

fn most(place: &str, count: usize, most: usize) -> Result<(), MeasuredError> {
    match count > most {
        true => Err(wrong(
            place,
            format!("has {count} entries; {most} is the most"),
        )),
        false => Ok(()),
    }
}

fn check_name(place: &str, index: usize, name: &str) -> Result<(), MeasuredError> {
    let long = name.chars().count() > LONGEST_NAME;
    if name.trim().is_empty() || long || name.chars().any(is_no_name) {
        return Err(wrong(
            format!("{place} {index}"),
            format!(
                "is called {:?}, which is no name: 1 to {LONGEST_NAME} characters, no control signs",
                short(name)
            ),
        ));
    }
    Ok(())
}

fn is_no_name(character: char) -> bool {
    character.is_control() || is_steering(character)
}

fn is_tag(tag: &str) -> bool {
    (1..=35).contains(&tag.len()) && tag.chars().all(|c| c.is_ascii_alphanumeric() || c == '-')
}

/// Whether `text` may be the Unicode name of a script.
fn is_word(text: &str) -> bool {
    let fits = |c: char| c.is_ascii_alphabetic() || " _-'".contains(c);
    (1..=60).contains(&text.len()) && text.chars().all(fits)
}

/// The start of something long.
fn short(text: &str) -> String {
    const SHOWN: usize = 60;
    match text.char_indices().nth(SHOWN) {
        Some((end, _)) => format!("{}…", &text[..end]),
        None => text.to_owned(),
    }
}
