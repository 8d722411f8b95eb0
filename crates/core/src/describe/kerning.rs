//! Kerning: where it stands, and the pairs that a language meets most.

use std::collections::HashMap;

use serde::Serialize;
use skrifa::font::Kind;
use skrifa::raw::TableProvider as _;

use tidy_lattice_glyphs::font::lookups::positioned_by;
use tidy_lattice_glyphs::font::{Face, FontFile};
use tidy_lattice_glyphs::shaping::{ShapeSettings, Shaper};
use tidy_lattice_glyphs::text::words;

/// How many of the most frequent pairs are shaped.
const SHAPED: usize = 400;
/// How many of the kerned ones are told.
const TOLD: usize = 12;

/// The kerning of a face.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Kerning {
    /// Where it stands.
    pub source: KerningSource,
    /// Pairs that are named one by one.
    pub pairs: u64,
    /// Subtables that name pairs by classes of glyphs.
    pub class_tables: u64,
    /// The most frequent kerned pairs in the sample of a language.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub frequent: Vec<KernedPair>,
}

/// The table that holds the kerning.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum KerningSource {
    /// GPOS, feature `kern`.
    Gpos,
    /// The old `kern` table.
    KernTable,
    /// An old `kern` table that browsers drop when the font is a web font.
    KernTableDropped,
    /// There is none.
    None,
}

/// A pair of characters and its kerning.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct KernedPair {
    /// The two characters.
    pub pair: String,
    /// How often it occurs in the sample.
    pub count: u64,
    /// The kerning, in font units.
    pub units: i32,
    /// The kerning, in thousandths of an em.
    pub milli_em: f64,
}

impl Kerning {
    pub(super) fn read(face: &Face, file: &FontFile, index: u32, measure: Option<&str>) -> Self {
        let effect = positioned_by(face, &["kern"]);
        let old = old_pairs(face);
        let dropped = file.clone().as_web_font().kerning_dropped();
        let (source, pairs) = if !effect.inputs.is_empty() {
            (KerningSource::Gpos, effect.pairs as u64)
        } else if let (Some(pairs), true) = (old, index == 0 && dropped) {
            (KerningSource::KernTableDropped, pairs)
        } else if let Some(pairs) = old {
            (KerningSource::KernTable, pairs)
        } else {
            (KerningSource::None, 0)
        };
        let frequent = measure.filter(|_| source != KerningSource::None);
        Kerning {
            source,
            pairs,
            class_tables: effect.class_tables as u64,
            frequent: frequent.map_or_else(Vec::new, |tag| frequent_pairs(face, tag)),
        }
    }
}

/// How many pairs the old table lists (format 0 subtables).
fn old_pairs(face: &Face) -> Option<u64> {
    let Kind::Sfnt(tables, _) = face.font()?.kind() else {
        return None;
    };
    let data = tables.data_for_tag(skrifa::Tag::new(b"kern"))?;
    tables.kern().ok()?;
    // Version 0: a header of 4 bytes, then subtables with one of 6 bytes and
    // the number of pairs. The length of a subtable may have overflowed, and
    // then it is the only one.
    let (count, mut at, mut pairs) = (data.read_at::<u16>(2).ok()?, 4, 0);
    for _ in 0..count.min(64) {
        let Ok(length) = data.read_at::<u16>(at + 2) else {
            break;
        };
        pairs += u64::from(data.read_at::<u16>(at + 6).unwrap_or(0));
        at += usize::from(length.max(6));
    }
    Some(pairs)
}

/// How many words pairs are counted in.
const WORDS: usize = 4000;

/// The kerned ones among the most frequent pairs of the language `tag`.
fn frequent_pairs(face: &Face, tag: &str) -> Vec<KernedPair> {
    let Some(sample) = words::sample(tag, WORDS) else {
        return Vec::new();
    };
    let mut counts: HashMap<(char, char), u64> = HashMap::new();
    for word in sample.text.split_whitespace() {
        for pair in word.chars().zip(word.chars().skip(1)) {
            *counts.entry(pair).or_default() += 1;
        }
    }
    let mut counts: Vec<((char, char), u64)> = counts.into_iter().collect();
    counts.sort_by(|a, b| b.1.cmp(&a.1).then_with(|| a.0.cmp(&b.0)));
    let mut shaper = Shaper::new(face);
    let mut advance = |text: &str, kern: u32| -> i32 {
        let features = [("kern", kern)];
        let settings = ShapeSettings {
            features: &features,
            ..ShapeSettings::default()
        };
        shaper
            .glyphs(text, settings)
            .iter()
            .map(|glyph| glyph.advance)
            .sum()
    };
    let mut kerned = Vec::new();
    for ((first, second), count) in counts.into_iter().take(SHAPED) {
        let pair = format!("{first}{second}");
        let units = advance(&pair, 1) - advance(&pair, 0);
        if units != 0 {
            let em = f64::from(units) / f64::from(face.units_per_em());
            kerned.push(KernedPair {
                pair,
                count,
                units,
                milli_em: (em * 10_000.0).round() / 10.0,
            });
        }
        if kerned.len() == TOLD {
            break;
        }
    }
    kerned
}
