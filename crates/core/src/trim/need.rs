//! What a cut face must show: the text, and as much more as is wanted for safety.

use std::collections::{BTreeMap, BTreeSet};

use serde::Deserialize;
use tidy_lattice_coverage::need::{Need, language_need};
use tidy_lattice_glyphs::font::CharacterSet;
use tidy_lattice_glyphs::text::words::{self, WordCounts};
use tidy_lattice_subset::proof::Sample;

/// How much more than the text has is kept, as texts change.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Deserialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Margin {
    /// Nothing: the characters of the text as it is.
    Text,
    /// Everything that its languages need: their letters, digits, punctuation,
    /// quotation marks and currency; and ASCII.
    #[default]
    Languages,
    /// That, and common signs.
    Signs,
}

/// Signs that turn up in texts sooner or later.
pub const COMMON_SIGNS: &[(u32, u32)] = &[
    (0x20, 0x7E),
    (0xA0, 0xBF),
    (0xD7, 0xD7),
    (0xF7, 0xF7),
    (0x2010, 0x2015),
    (0x2018, 0x201E),
    (0x2020, 0x2022),
    (0x2026, 0x2026),
    (0x202F, 0x2030),
    (0x2032, 0x2033),
    (0x2039, 0x203A),
    (0x2044, 0x2044),
    (0x20AC, 0x20AC),
    (0x2116, 0x2116),
    (0x2122, 0x2122),
    (0x2190, 0x2193),
    (0x2212, 0x2212),
    (0x2248, 0x2248),
    (0x2260, 0x2260),
    (0x2264, 0x2265),
];

/// What must show.
#[derive(Debug, Clone, Default)]
pub struct TrimNeed {
    /// All characters.
    pub characters: CharacterSet,
    /// Whether they are a `unicode-range` as it is written: a letter that it does not name is
    /// in another file, even where its marks are in this one.
    pub literal: bool,
    /// How often each occurs in the text; those that a margin adds are not in here.
    pub counts: BTreeMap<u32, u64>,
    /// How often each occurs in 100,000 words of the languages, as far as these are counted.
    pub frequent: BTreeMap<u32, u64>,
    /// Words of the languages, for what is to be judged where there are no texts.
    pub words: Vec<String>,
    /// Texts for the proof.
    pub samples: Vec<Sample>,
}

impl TrimNeed {
    /// What is asked for itself: the text's characters, not what a margin adds.
    pub(super) fn asked(&self) -> impl Iterator<Item = u32> + '_ {
        let all = self.counts.is_empty();
        (self.characters.iter()).filter(move |point| all || self.counts.contains_key(point))
    }

    /// The characters of these, and nothing about how often they occur.
    pub fn of_characters(characters: CharacterSet) -> Self {
        TrimNeed {
            characters,
            ..Self::default()
        }
    }
}

/// How many words of a language are drawn.
const DRAWN: usize = 2000;

/// How often each character occurs in words of `languages`.
fn frequent(languages: &BTreeSet<String>) -> BTreeMap<u32, u64> {
    let mut counts: BTreeMap<u32, u64> = BTreeMap::new();
    for list in languages.iter().filter_map(|tag| WordCounts::of(tag)) {
        for (word, count) in list.words {
            for character in word.chars() {
                *counts.entry(u32::from(character)).or_default() += u64::from(count);
            }
        }
    }
    counts
}

/// What `need` asks for, with this margin for `languages`.
pub fn with_margin(
    need: &Need,
    languages: &BTreeSet<String>,
    margin: Margin,
    samples: Vec<Sample>,
) -> TrimNeed {
    let mut counts: BTreeMap<u32, u64> = BTreeMap::new();
    for cluster in &need.clusters {
        for character in cluster.text.chars() {
            *counts.entry(u32::from(character)).or_default() += cluster.count;
        }
    }
    // Blanks are no cluster, but the width between words is the font's.
    let blank = need.clusters.iter().any(|cluster| !cluster.text.is_empty());
    let mut points: BTreeSet<u32> = counts.keys().copied().collect();
    points.extend(blank.then_some([0x20, 0xA0]).into_iter().flatten());
    if margin != Margin::Text {
        for language in languages {
            let pieces = language_need(language).unwrap_or_default();
            points.extend(pieces.iter().flat_map(|piece| piece.chars()).map(u32::from));
        }
        // Addresses, numbers and names are in every text sooner or later.
        points.extend(0x20..=0x7E);
    }
    if margin == Margin::Signs {
        points.extend(COMMON_SIGNS.iter().flat_map(|(first, last)| *first..=*last));
    }
    points.retain(|point| *point >= 0x20);
    let drawn = languages.iter().filter(|_| samples.is_empty());
    let drawn = drawn.filter_map(|language| words::sample(language, DRAWN));
    TrimNeed {
        characters: CharacterSet::of(points),
        literal: false,
        counts,
        frequent: frequent(languages),
        words: drawn.map(|drawn| drawn.text).collect(),
        samples,
    }
}
