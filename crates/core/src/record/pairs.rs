//! What pairs of characters differ from the sum of their advances: kerning and
//! ligatures of two.

use std::collections::BTreeSet;

use tidy_lattice_glyphs::font::lookups::{positioned_by, substituted_by};
use tidy_lattice_glyphs::font::{Face, PairTable, RunTable, WidthModel};
use tidy_lattice_glyphs::shaping::Shaper;

use super::alphabets::Alphabet;
use super::compact::groups;

/// Features for substitution that are on in text without a style.
pub const SUBSTITUTING: [&str; 9] = [
    "ccmp", "locl", "rlig", "liga", "clig", "calt", "rclt", "abvs", "blws",
];

/// Features of position that change advances.
const POSITIONING: [&str; 3] = ["kern", "dist", "curs"];

/// Measures the pairs of every alphabet.
pub fn measure(face: &Face, alphabets: &[Alphabet], model: &mut WidthModel) {
    let mut shaper = Shaper::new(face);
    let active = Active::of(face);
    for alphabet in alphabets {
        let letters = alphabet.all();
        for first in &letters {
            for second in &letters {
                if !active.touches(*first, *second, model) {
                    continue;
                }
                let pair = format!("{first}{second}");
                let differs = shaper.units(&pair) - model.units(&pair);
                if let (Ok(differs), true) = (i32::try_from(differs), differs != 0) {
                    model.pairs.insert((*first, *second), differs);
                }
            }
        }
    }
}

/// The characters that some feature acts on, so that other pairs need not be
/// shaped.
struct Active {
    /// Those that start something.
    starts: BTreeSet<char>,
    /// Those that something happens to, whatever comes first.
    changes: BTreeSet<char>,
    /// Whether there is an old `kern` table, which is not looked into.
    all: bool,
}

impl Active {
    fn of(face: &Face) -> Self {
        let (moved, changed) = (
            positioned_by(face, &POSITIONING).inputs,
            substituted_by(face, &SUBSTITUTING).inputs,
        );
        let mut active = Active {
            starts: BTreeSet::new(),
            changes: BTreeSet::new(),
            all: moved.is_empty() && has_kern_table(face),
        };
        for (character, glyph) in face.mapped() {
            if moved.contains(&glyph) {
                active.starts.insert(character);
            }
            if changed.contains(&glyph) {
                active.changes.insert(character);
            }
        }
        active
    }

    fn touches(&self, first: char, second: char, model: &WidthModel) -> bool {
        self.all
            || self.starts.contains(&first)
            || self.changes.contains(&first)
            || self.changes.contains(&second)
            || model.joined.contains_key(&first)
            || model.joined.contains_key(&second)
            || u32::from(first) >= 0x300 && u32::from(second) >= 0x300
    }
}

fn has_kern_table(face: &Face) -> bool {
    use skrifa::raw::TableProvider as _;
    match face.font().map(skrifa::font::Font::kind) {
        Some(skrifa::font::Kind::Sfnt(tables, _)) => tables.kern().is_ok(),
        _ => false,
    }
}

/// The pairs as they stand on a card.
pub fn table(model: &WidthModel) -> PairTable {
    let mut pairs: Vec<_> = model.pairs.iter().collect();
    pairs.sort_unstable();
    let mut differ = RunTable::new();
    for ((first, second), value) in pairs {
        let by_value = differ.entry(first.to_string()).or_default();
        by_value.entry(*value).or_default().push(*second);
    }
    PairTable {
        alike_first: groups(&model.alike_first),
        alike_second: groups(&model.alike_second),
        differ,
    }
}
