//! Making cards: the measurements of a face that serve where the face itself
//! is not installed.
//!
//! - names, weight, metrics, characters: as tables and outlines have them;
//! - advances: each character shaped by itself, joined forms beside joiners;
//! - pairs: every pair of a script's letters, shaped, against the sum of the
//!   advances;
//! - runs: ligatures of three and more letters, conjuncts, and runs from
//!   samples of languages, against advances and pairs;
//! - where the card would be large, corrections that hardly differ become one;
//! - last, texts of each script are measured both ways, and where the tables do
//!   not carry the script, the card says so.

mod advances;
mod alphabets;
mod check;
mod compact;
pub mod device;
mod pairs;
mod runs;

use std::collections::BTreeMap;

use alphabets::{Alphabet, Frequencies};
use check::Check;
use compact::Level;
use tidy_lattice_coverage::lattice::scripts_shaped;
use tidy_lattice_glyphs::font::{
    Card, CardSource, CharacterSet, ClassJudgement, Face, PairTable, RunTable, WidthModel,
};

use crate::describe::{LineDescription, joined_sequences, strokes};

/// The most variation sequences that are read.
const MOST_VARIATIONS: usize = 1 << 17;

/// A card should not be larger than this, in bytes; see [`Level`].
const LARGE: usize = 38_000;

/// Nor than this when packed.
const LARGE_PACKED: usize = 7_300;

/// The card of `face`, which came from `source`; `None` where `face` is known
/// by a card only.
pub fn record(face: &Face, source: CardSource) -> Option<Card> {
    let alphabets = alphabets::of(|c| face.maps(c));
    let mut model = advances::measure(face);
    pairs::measure(face, &alphabets, &mut model);
    runs::measure(face, &alphabets, &mut model);
    let check = Check::new(face, &alphabets);
    let unknown = check.unknown_scripts(&model);
    check::forget(&alphabets, &unknown, &mut model);
    let mut card = head(face, &model, source)?;
    card.unknown_widths = unknown;
    fill(&mut card, &model, &check, &alphabets);
    Some(card)
}

/// Puts `model` on `card`, as small as it may be.
fn fill(card: &mut Card, model: &WidthModel, check: &Check, alphabets: &[Alphabet]) {
    card.advances = advances::text(model);
    let letters = Frequencies::count(alphabets);
    for (step, level) in Level::ALL.into_iter().enumerate() {
        let mut smaller = model.clone();
        compact::compact(&mut smaller, level, card.units_per_em, &letters);
        if step > 0 && !check.holds(&smaller, model, &card.unknown_widths) {
            break;
        }
        card.joined = advances::joined_text(&smaller.joined);
        card.pairs = pairs::table(&smaller);
        card.runs = runs::table(&smaller);
        let json = card.json();
        if json.len() <= LARGE && packed(json.as_bytes()) <= LARGE_PACKED {
            break;
        }
    }
}

/// The size of `bytes` when packed with Brotli, as repositories and servers
/// store text.
pub fn packed(bytes: &[u8]) -> usize {
    use std::io::Write as _;
    const QUALITY: u32 = 5;
    const WINDOW: u32 = 22;
    let mut packer = brotli::CompressorWriter::new(Vec::new(), 4096, QUALITY, WINDOW);
    // A vector takes everything.
    let _ = packer.write_all(bytes);
    packer.into_inner().len()
}

/// A card without kerning.
fn head(face: &Face, model: &WidthModel, source: CardSource) -> Option<Card> {
    let font = face.font()?;
    let line = LineDescription::read(face, true, "en")?;
    Some(Card {
        schema: Card::SCHEMA.to_owned(),
        names: face.names().clone(),
        source,
        measured_on: None,
        only_widths: false,
        measured_in: None,
        class: ClassJudgement::judge(face, true).class,
        weight: face.weight(),
        width: face.width(),
        slope: face.slope(),
        units_per_em: face.units_per_em(),
        line: face.line(),
        x_height: line.x_height.best(),
        cap_height: line.cap_height.best(),
        strokes: strokes(face),
        underline: face.underline(),
        colour: face.has_colour(),
        shaping: scripts_shaped(face)
            .into_iter()
            .map(|shaping| (shaping.script, shaping.works))
            .collect(),
        unknown_widths: Vec::new(),
        features: face.feature_tags().into_iter().collect(),
        characters: model.characters.css(),
        variations: variations(font),
        sequences: joined_sequences(face).join(" "),
        advances: advances::text(model),
        joined: BTreeMap::new(),
        pairs: PairTable::default(),
        runs: RunTable::new(),
    })
}

/// Variation sequences that the face lists, by selector.
fn variations(font: &skrifa::font::Font) -> BTreeMap<String, String> {
    let mut bases: BTreeMap<u32, Vec<u32>> = BTreeMap::new();
    for (base, selector, _) in font.charmap().unicode_variants().take(MOST_VARIATIONS) {
        bases.entry(selector).or_default().push(base);
    }
    bases
        .into_iter()
        .map(|(selector, bases)| (format!("U+{selector:X}"), CharacterSet::of(bases).css()))
        .collect()
}
