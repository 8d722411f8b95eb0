//! Widths of text from a card.

use icu_normalizer::properties::{CanonicalDecomposition, Decomposed};
use icu_properties::props::{DefaultIgnorableCodePoint, JoiningType, Script};
use icu_properties::{CodePointMapData, CodePointSetData};

use super::data::{Card, Lookup};
use crate::need::script_name;

/// Measures text by a card.
pub struct CardRuler<'a> {
    card: &'a Card,
    lookup: &'a Lookup,
}

impl<'a> CardRuler<'a> {
    pub(crate) fn new(card: &'a Card, lookup: &'a Lookup) -> Self {
        CardRuler { card, lookup }
    }

    /// The width of `text` in em, kerning and ligatures included as far as the
    /// card has them.
    pub fn width(&self, text: &str) -> f64 {
        self.units(text) as f64 / f64::from(self.card.units_per_em)
    }

    /// The width of `text` in font units.
    pub fn units(&self, text: &str) -> i64 {
        let letters = skeleton(text, |c| self.lookup.characters.contains(u32::from(c)));
        let mut units = 0;
        for (index, letter) in letters.iter().enumerate() {
            units += i64::from(self.form(&letters, index, *letter));
        }
        units + self.corrections(&letters)
    }

    /// The advance of the form that `letter` has among its neighbours.
    fn form(&self, letters: &[char], index: usize, letter: char) -> i32 {
        if let Some(forms) = self.card.joined.get(&letter) {
            match (joins_before(letters, index), joins_after(letters, index)) {
                (true, true) => return forms.medial,
                (true, false) => return forms.r#final,
                (false, true) => return forms.initial,
                (false, false) => {}
            }
        }
        self.lookup.advance(letter).unwrap_or(0)
    }

    /// Corrections for pairs, and for longer sequences on top of them.
    fn corrections(&self, letters: &[char]) -> i64 {
        let mut units = 0;
        let mut next = 0;
        for index in 0..letters.len() {
            if let Some(pair) = letters.get(index..index + 2)
                && let Some(value) = self.lookup.pairs.get(&(pair[0], pair[1]))
            {
                units += i64::from(*value);
            }
            if index >= next
                && let Some((length, value)) = self.sequence_at(letters, index)
            {
                units += i64::from(value);
                next = index + length;
            }
        }
        units
    }

    /// The longest sequence with a correction that starts at `index`.
    fn sequence_at(&self, letters: &[char], index: usize) -> Option<(usize, i32)> {
        let most = self.lookup.longest.min(letters.len() - index);
        (2..=most).rev().find_map(|length| {
            let sequence: String = letters[index..index + length].iter().collect();
            let value = self.card.sequences_of_letters.get(&sequence)?;
            Some((length, *value))
        })
    }

    /// Whether the card knows the widths of all scripts of `text`.
    pub fn knows_width(&self, text: &str) -> bool {
        self.card.unknown_widths.is_empty()
            || text.chars().all(|c| {
                let script = CodePointMapData::<Script>::new().get(c);
                let name = script_name(script);
                !self.card.unknown_widths.contains(&name)
            })
    }

    /// 1 for a sequence that the card lists; else how many characters take
    /// room.
    pub fn visible_glyphs(&self, text: &str) -> usize {
        if self
            .card
            .sequences
            .binary_search_by(|known| known.as_str().cmp(text))
            .is_ok()
        {
            return 1;
        }
        let letters = skeleton(text, |c| self.lookup.characters.contains(u32::from(c)));
        let wide = letters
            .iter()
            .filter(|c| self.lookup.advance(**c) != Some(0));
        wide.count()
    }
}

/// The characters that a face would draw for `text`: without default-ignorable
/// ones, spelled as the face `has` them.
pub fn skeleton(text: &str, has: impl Fn(char) -> bool) -> Vec<char> {
    let ignorable = CodePointSetData::new::<DefaultIgnorableCodePoint>();
    let mut letters = Vec::with_capacity(text.len());
    for character in text.chars().filter(|c| !ignorable.contains(*c)) {
        spell(character, &has, &mut letters);
    }
    letters
}

fn spell(character: char, has: &impl Fn(char) -> bool, letters: &mut Vec<char>) {
    if has(character) {
        return letters.push(character);
    }
    match CanonicalDecomposition::new().decompose(character) {
        Decomposed::Singleton(other) if other != character => spell(other, has, letters),
        Decomposed::Expansion(first, second) => {
            spell(first, has, letters);
            spell(second, has, letters);
        }
        _ if character == '\u{2011}' => letters.push('\u{2010}'),
        _ if character.is_whitespace() => letters.push(' '),
        _ => letters.push(character),
    }
}

/// Whether `character` joins with what comes before it (Unicode Standard,
/// §9.2, Joining_Type).
pub fn joins_right(character: char) -> bool {
    let joining = CodePointMapData::<JoiningType>::new().get(character);
    [
        JoiningType::DualJoining,
        JoiningType::RightJoining,
        JoiningType::JoinCausing,
    ]
    .contains(&joining)
}

/// Whether `character` joins with what comes after it.
pub fn joins_left(character: char) -> bool {
    let joining = CodePointMapData::<JoiningType>::new().get(character);
    [
        JoiningType::DualJoining,
        JoiningType::LeftJoining,
        JoiningType::JoinCausing,
    ]
    .contains(&joining)
}

fn is_transparent(character: char) -> bool {
    CodePointMapData::<JoiningType>::new().get(character) == JoiningType::Transparent
}

fn joins_before(letters: &[char], index: usize) -> bool {
    let before = letters[..index].iter().rev().find(|c| !is_transparent(**c));
    joins_right(letters[index]) && before.is_some_and(|c| joins_left(*c))
}

fn joins_after(letters: &[char], index: usize) -> bool {
    let after = letters[index + 1..].iter().find(|c| !is_transparent(**c));
    joins_left(letters[index]) && after.is_some_and(|c| joins_right(*c))
}
