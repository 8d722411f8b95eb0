//! What stands on a card, and its tables made quick to look up.

use std::collections::{BTreeMap, HashMap};

use serde::{Deserialize, Serialize};

use crate::font::{CharacterSet, LineMetrics, Names, Slope};

/// The `schema` of the cards that this program writes and reads.
const SCHEMA: &str = "tidy-lattice/card/1";

/// Corrections by first character, then by font units, for the characters that
/// follow: `{"A": {"-152": "VWY"}}`.
pub type Adjustments = BTreeMap<char, BTreeMap<i32, String>>;

/// Measurements of a face, without outlines.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Card {
    /// `tidy-lattice/card/1`.
    pub schema: String,
    /// What the face calls itself.
    pub names: Names,
    /// The generic family that it belongs to, where its tables say so.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub generic: Option<String>,
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
    /// Height of `x`, in font units.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub x_height: Option<f64>,
    /// Height of `H`, in font units.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cap_height: Option<f64>,
    /// The underline, which Firefox keeps inside the descent.
    pub underline: Underline,
    /// Whether glyphs are in colour.
    pub colour: bool,
    /// The characters, as in `unicode-range`.
    pub characters: String,
    /// Variation sequences: characters by selector, as in `unicode-range`.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub variations: BTreeMap<String, String>,
    /// Emoji sequences that are drawn as one picture.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub sequences: Vec<String>,
    /// The advance of each character, in the order of `characters`, in font
    /// units; `1000*20` is twenty times 1000.
    pub advances: String,
    /// What a pair of characters is wider than its two advances: kerning and
    /// ligatures of pairs that are frequent in text, in font units.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub pairs: Adjustments,
    /// What a longer sequence is wider than its pairs say, in font units.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub sequences_of_letters: BTreeMap<String, i32>,
    /// Advances of joined forms, in font units.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub joined: BTreeMap<char, JoinedForms>,
    /// Scripts (Unicode names) whose widths this card does not know.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub unknown_widths: Vec<String>,
    /// Tags of the features for substitution and positioning.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub features: Vec<String>,
    /// Where the measurements come from.
    pub source: CardSource,
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

/// Advances of the forms of a letter that joins its neighbours, in font units.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct JoinedForms {
    /// At the start of a joined run.
    pub initial: i32,
    /// Within one.
    pub medial: i32,
    /// At its end.
    pub r#final: i32,
}

/// The file that a card was made of.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct CardSource {
    /// The file's name, without its folder.
    pub file: String,
    /// SHA-256 of the file, in hexadecimal.
    pub sha256: String,
    /// The package that the file came in.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub package: Option<String>,
    /// The version of that package.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub version: Option<String>,
}

/// Why bytes are no card.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum CardError {
    /// It is not JSON, or fields are missing or of the wrong kind.
    #[error("this is no card of tidy-lattice ({0}); make one with `tidy-lattice record`")]
    NotACard(String),
    /// A field has a value that cannot be.
    #[error("the card's \"{field}\" {reason}; make the card again with `tidy-lattice record`")]
    Wrong {
        /// The field.
        field: &'static str,
        /// What is wrong with it.
        reason: String,
    },
}

impl Card {
    /// Cards beyond this size are refused: 8 MiB, several times that of a face
    /// with all of Unicode.
    pub const LARGEST: u64 = 8 * 1024 * 1024;

    /// The `schema` of this version's cards.
    pub const SCHEMA: &'static str = SCHEMA;

    /// Whether `bytes` start like a card, so that errors should speak of one.
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
        let card: Card = serde_json::from_slice(bytes)
            .map_err(|error| CardError::NotACard(error.to_string()))?;
        if card.schema != SCHEMA {
            return Err(wrong(
                "schema",
                format!("is {:?}, but {SCHEMA:?} is read here", card.schema),
            ));
        }
        Lookup::new(&card)?;
        Ok(card)
    }

    /// The card as a JSON document.
    pub fn json(&self) -> String {
        // Our own structs have string keys only, so this does not fail.
        let mut text = serde_json::to_string_pretty(self).unwrap_or_default();
        text.push('\n');
        text
    }
}

fn wrong(field: &'static str, reason: impl Into<String>) -> CardError {
    CardError::Wrong {
        field,
        reason: reason.into(),
    }
}

/// A card's tables, quick to look up.
pub(crate) struct Lookup {
    pub characters: CharacterSet,
    pub variations: HashMap<u32, CharacterSet>,
    pub advances: Vec<i32>,
    pub pairs: HashMap<(char, char), i32>,
    /// The longest sequence of letters that has a correction, in characters.
    pub longest: usize,
}

impl Lookup {
    pub(crate) fn new(card: &Card) -> Result<Self, CardError> {
        if !(16..=16384).contains(&card.units_per_em) {
            return Err(wrong(
                "units_per_em",
                format!("is {}, but 16 to 16384 are possible", card.units_per_em),
            ));
        }
        if !(1.0..=1000.0).contains(&card.weight) {
            return Err(wrong(
                "weight",
                format!("is {}, but 1 to 1000 are possible", card.weight),
            ));
        }
        let line = [card.line.ascent, card.line.descent, card.line.line_gap];
        if line
            .iter()
            .any(|value| !value.is_finite() || value.abs() > 100.0)
        {
            return Err(wrong("line", "has a value beyond 100 em"));
        }
        let characters = CharacterSet::parse(&card.characters)
            .ok_or_else(|| wrong("characters", "is no list like U+20-7E, U+A0"))?;
        let advances = read_advances(&card.advances)
            .ok_or_else(|| wrong("advances", "is no list like 569 1000*20"))?;
        if advances.len() as u64 != characters.len() {
            return Err(wrong(
                "advances",
                format!(
                    "has {} values for {} characters",
                    advances.len(),
                    characters.len()
                ),
            ));
        }
        let mut variations = HashMap::new();
        for (selector, bases) in &card.variations {
            let selector = selector
                .strip_prefix("U+")
                .and_then(|digits| u32::from_str_radix(digits, 16).ok());
            let (Some(selector), Some(bases)) = (selector, CharacterSet::parse(bases)) else {
                return Err(wrong(
                    "variations",
                    "is not of the form {\"U+FE0F\": \"U+2764\"}",
                ));
            };
            variations.insert(selector, bases);
        }
        let mut pairs = HashMap::new();
        for (first, by_value) in &card.pairs {
            for (value, seconds) in by_value {
                pairs.extend(seconds.chars().map(|second| ((*first, second), *value)));
            }
        }
        let longest = card
            .sequences_of_letters
            .keys()
            .map(|letters| letters.chars().count())
            .max()
            .unwrap_or(0);
        Ok(Lookup {
            characters,
            variations,
            advances,
            pairs,
            longest,
        })
    }

    pub(crate) fn advance(&self, character: char) -> Option<i32> {
        self.advances
            .get(self.characters.rank(u32::from(character))?)
            .copied()
    }
}

/// Reads `569 1000*20`; at most as many values as Unicode has code points.
fn read_advances(text: &str) -> Option<Vec<i32>> {
    let mut advances = Vec::new();
    for part in text.split_ascii_whitespace() {
        let (value, times) = part.split_once('*').unwrap_or((part, "1"));
        let (value, times): (i32, usize) = (value.parse().ok()?, times.parse().ok()?);
        if advances.len() + times > 0x11_0000 {
            return None;
        }
        advances.extend(std::iter::repeat_n(value, times));
    }
    Some(advances)
}
