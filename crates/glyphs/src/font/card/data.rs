//! What stands on a card.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::body::CardBody;
use crate::font::{Class, LineMetrics, Names, Slope, Works};

/// The `schema` of the cards that this program writes and reads.
const SCHEMA: &str = "tidy-lattice/card/1";

/// Measurements of a face, without outlines.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Card {
    /// `tidy-lattice/card/1`.
    pub schema: String,
    /// What the face calls itself.
    pub names: Names,
    /// The file that the measurements come from.
    #[serde(default, skip_serializing_if = "CardSource::is_empty")]
    pub source: CardSource,
    /// The family that was measured, where it is another one that was designed
    /// to the same widths: its characters, kerning and features are not this
    /// face's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub measured_on: Option<String>,
    /// The browser that it was measured in, where it was not made of a font file: the
    /// underline, features that are off, variation and emoji sequences are not known then.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub measured_in: Option<MeasuredIn>,
    /// Whether nothing but widths is known: of characters one by one, from a table that
    /// somebody else measured. Kerning, lines, heights, strokes and features are not known
    /// then, and which characters there are only as far as the table goes.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub only_widths: bool,
    /// The class, from what the tables state and the outlines show.
    pub class: Class,
    /// The weight on the scale of `font-weight`, 1 to 1000.
    pub weight: f32,
    /// The width as `font-stretch` counts it, in %; 100 is normal.
    pub width: f32,
    /// The slope.
    pub slope: Slope,
    /// Font units per em, 16 to 16384.
    pub units_per_em: u16,
    /// The vertical metrics that browsers use, in em.
    pub line: LineMetrics,
    /// Height of `x` as drawn, else as stated, in font units.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub x_height: Option<f64>,
    /// Height of `H` as drawn, else as stated, in font units.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cap_height: Option<f64>,
    /// How thick its strokes are.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub strokes: Option<Strokes>,
    /// The underline, which Firefox keeps inside the descent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub underline: Option<Underline>,
    /// Whether glyphs are in colour.
    pub colour: bool,
    /// Scripts that need more than characters (Unicode names), and how well
    /// shaping them works.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub shaping: BTreeMap<String, Works>,
    /// Scripts (Unicode names) whose widths this card does not know, as the
    /// tables below do not carry how the face shapes them.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub unknown_widths: Vec<String>,
    /// Tags of the features, in GSUB or GPOS.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub features: Vec<String>,
    /// The characters, as in `unicode-range`.
    pub characters: String,
    /// Variation sequences: characters by selector, as in `unicode-range`.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub variations: BTreeMap<String, String>,
    /// Emoji sequences that are drawn as one picture, sorted, with blanks
    /// between them.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub sequences: String,
    /// The advance of each character, in the order of `characters`, in font
    /// units; `1000*20` is twenty times 1000, and `=` the advance of the
    /// character that this one decomposes to (its letter without the mark).
    pub advances: String,
    /// Advances of joined forms, in font units: `"initial medial final"`, and
    /// the letters that have these.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub joined: BTreeMap<String, String>,
    /// Kerning and ligatures of two characters.
    #[serde(default, skip_serializing_if = "PairTable::is_empty")]
    pub pairs: PairTable,
    /// What a run of three or more characters differs from its advances and
    /// pairs: by the run without its last character, then by font units, the
    /// characters that end it. A run may start with the end of another.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub runs: RunTable,
}

/// Corrections by the characters before, then by font units, for the characters
/// that follow: `{"A": {"-152": "VWY"}}`.
pub type RunTable = BTreeMap<String, BTreeMap<i32, String>>;

/// What pairs of characters differ from the sum of their advances.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct PairTable {
    /// Characters that are alike as the first of a pair; the first one stands
    /// for the others in `differ`.
    pub alike_first: Vec<String>,
    /// Characters that are alike as the second of a pair.
    pub alike_second: Vec<String>,
    /// By first character, then by font units, the second characters.
    pub differ: RunTable,
}

impl PairTable {
    fn is_empty(&self) -> bool {
        self.differ.is_empty()
    }
}

/// Thicknesses of strokes as drawn, in font units.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Strokes {
    /// The stem of `n`, at two fifths of its height.
    pub stem: f64,
    /// The side of `o`, at half of its height.
    pub side: f64,
    /// The bottom of `o`, at half of its width.
    pub bottom: f64,
}

impl Strokes {
    /// The bottom of `o` against its side.
    pub fn contrast(self) -> Option<f64> {
        (self.side > 0.0).then_some(self.bottom / self.side)
    }
}

/// An underline as the `post` table states it, in font units.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Underline {
    /// Its top above the baseline; usually negative.
    pub position: f64,
    /// Its thickness.
    pub thickness: f64,
}

/// A browser that a face was measured in, as it calls itself.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct MeasuredIn {
    /// `Chromium`, `Firefox`, `WebKit`.
    pub engine: String,
    /// Its version.
    pub version: String,
    /// `Windows`, `macOS`, `iOS`, `Android`, `Linux`; empty where it does not say.
    pub system: String,
    /// Its `navigator.userAgent`.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub agent: String,
}

impl MeasuredIn {
    /// `Chromium 156 on Windows`.
    pub fn label(&self) -> String {
        let version = self.version.split('.').next().unwrap_or_default();
        let mut label = format!("{} {version}", self.engine).trim_end().to_owned();
        if !self.system.is_empty() {
            label.push_str(" on ");
            label.push_str(&self.system);
        }
        label
    }
}

/// The file that a card was made of.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct CardSource {
    /// The file's name, without its folder; empty where there was none.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub file: String,
    /// The face's number in a collection, from 0.
    #[serde(default, skip_serializing_if = "is_zero")]
    pub index: u32,
    /// The position of a variable font, such as `Bold` or `wght=650`.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub position: Option<String>,
    /// SHA-256 of the file, in hexadecimal.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub sha256: String,
    /// The package that the file came in.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub package: Option<String>,
    /// The version of that package.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub package_version: Option<String>,
}

impl CardSource {
    fn is_empty(&self) -> bool {
        *self == CardSource::default()
    }
}

fn is_zero(number: &u32) -> bool {
    *number == 0
}

/// Why bytes are no card.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum CardError {
    /// It is not JSON, or fields are missing or of the wrong kind.
    #[error("this is no card of tidy-lattice ({0}); make one with `tidy-lattice record`")]
    NotACard(String),
    /// It is what a measuring page saved, of which cards are made.
    #[error(
        "this is what a measuring page saved; `tidy-lattice record` makes cards of it: name it \
         there, with -o and a folder"
    )]
    Unmade,
    /// A field has a value that cannot be.
    #[error("the card's \"{field}\" {reason}; make the card again with `tidy-lattice record`")]
    Wrong {
        /// The field.
        field: &'static str,
        /// What is wrong with it.
        reason: String,
    },
}

impl CardError {
    /// A field that `reason` speaks of.
    pub(super) fn wrong(field: &'static str, reason: impl Into<String>) -> Self {
        CardError::Wrong {
            field,
            reason: reason.into(),
        }
    }
}

impl Card {
    /// Cards beyond this size are refused: 8 MiB, several times that of a face
    /// with all of Unicode.
    pub const LARGEST: u64 = 8 * 1024 * 1024;

    /// The `schema` of this version's cards.
    pub const SCHEMA: &'static str = SCHEMA;

    /// Whether `bytes` start like a card: like JSON.
    pub fn looks_like_one(bytes: &[u8]) -> bool {
        let start = &bytes[..bytes.len().min(200)];
        start.trim_ascii_start().starts_with(b"{")
    }

    /// Reads a card.
    ///
    /// # Errors
    ///
    /// [`CardError`], which names the field.
    pub fn read(bytes: &[u8]) -> Result<Self, CardError> {
        let card: Card = serde_json::from_slice(bytes).map_err(|error| {
            let start = String::from_utf8_lossy(&bytes[..bytes.len().min(200)]);
            match start.contains("\"tidy-lattice/measured/") {
                true => CardError::Unmade,
                false => CardError::NotACard(error.to_string()),
            }
        })?;
        if card.schema != SCHEMA {
            return Err(CardError::wrong(
                "schema",
                format!("is {:?}, but {SCHEMA:?} is read here", card.schema),
            ));
        }
        CardBody::new(card.clone())?;
        Ok(card)
    }

    /// The card as a JSON document: a line for each field, and for each row of
    /// a table.
    pub fn json(&self) -> String {
        // Our own structs have string keys only, so this does not fail.
        let value = serde_json::to_value(self).unwrap_or_default();
        let mut text = String::new();
        write_value(&value, 0, &mut text);
        text.push('\n');
        text
    }
}

/// Writes `value`; what is nested deeper than the rows of tables goes on one
/// line.
fn write_value(value: &serde_json::Value, depth: usize, text: &mut String) {
    const ROWS: usize = 3;
    let serde_json::Value::Object(fields) = value else {
        text.push_str(&value.to_string());
        return;
    };
    let nested = fields
        .values()
        .any(|field| field.is_object() || field.is_array());
    if depth > 0 && !nested || depth >= ROWS || fields.is_empty() {
        text.push_str(&value.to_string());
        return;
    }
    text.push('{');
    for (index, (key, field)) in fields.iter().enumerate() {
        text.push_str(if index == 0 { "\n" } else { ",\n" });
        text.extend(std::iter::repeat_n(' ', depth + 1));
        text.push_str(&serde_json::Value::from(key.as_str()).to_string());
        text.push_str(": ");
        write_value(field, depth + 1, text);
    }
    text.push('\n');
    text.extend(std::iter::repeat_n(' ', depth));
    text.push('}');
}
