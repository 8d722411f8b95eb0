//! Widths of text as a card knows them: an advance for each character, the
//! advances of joined forms, what pairs and longer runs of characters differ
//! from their sum.

use std::sync::OnceLock;

use foldhash::HashMap;

use icu_normalizer::properties::{CanonicalComposition, CanonicalDecomposition, Decomposed};
use icu_properties::props::{DefaultIgnorableCodePoint, JoiningType};
use icu_properties::{CodePointMapData, CodePointSetData};

use crate::font::CharacterSet;

/// Advances of the forms of a letter that joins its neighbours, in font units.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct JoinedForms {
    /// At the start of a joined run.
    pub initial: i32,
    /// Within one.
    pub medial: i32,
    /// At its end.
    pub last: i32,
}

/// A model of text widths; all lengths in font units.
#[derive(Debug, Clone, Default)]
pub struct WidthModel {
    /// The characters that have an advance.
    pub characters: CharacterSet,
    /// The advance of each, in order.
    pub advances: Vec<i32>,
    /// Forms of joining letters.
    pub joined: HashMap<char, JoinedForms>,
    /// The character that stands for each one as the first of a pair, where it
    /// is another.
    pub alike_first: HashMap<char, char>,
    /// The same for the second of a pair.
    pub alike_second: HashMap<char, char>,
    /// What a pair differs from its two advances.
    pub pairs: HashMap<(char, char), i32>,
    /// What a longer run differs from its advances and pairs; see [`WidthModel::add_run`].
    pub runs: HashMap<Vec<char>, i32>,
    /// The longest run that begins with two characters, in characters.
    longest: HashMap<(char, char), usize>,
    /// The advances of the first code points, which most text is of.
    frequent: OnceLock<Vec<Option<i32>>>,
}

/// Code points before this one are looked up at once: Latin ones.
const FREQUENT: u32 = 0x250;

impl WidthModel {
    /// These characters with the advance of each, in order.
    pub fn of(characters: CharacterSet, advances: Vec<i32>) -> Self {
        WidthModel {
            characters,
            advances,
            ..WidthModel::default()
        }
    }

    /// The advance of a character by itself.
    pub fn advance(&self, character: char) -> Option<i32> {
        let point = u32::from(character);
        if point < FREQUENT {
            let frequent = self.frequent.get_or_init(|| {
                let points = 0..FREQUENT;
                points.map(|point| self.sought(point)).collect()
            });
            return frequent[point as usize];
        }
        self.sought(point)
    }

    fn sought(&self, point: u32) -> Option<i32> {
        let place = self.characters.rank(point)?;
        self.advances.get(place).copied()
    }

    /// The width of `text`.
    pub fn units(&self, text: &str) -> i64 {
        let letters = self.letters(text);
        let mut units = 0;
        for (index, letter) in letters.iter().enumerate() {
            units += i64::from(self.form(&letters, index, *letter));
        }
        units + self.corrections(&letters)
    }

    /// The characters that a face would draw for `text`: without
    /// default-ignorable ones, spelled as the face has them.
    pub fn letters(&self, text: &str) -> Vec<char> {
        let ignorable = CodePointSetData::new::<DefaultIgnorableCodePoint>();
        let mut letters = Vec::with_capacity(text.len());
        let drawn = |c: &char| c.is_ascii() || !ignorable.contains(*c);
        for character in text.chars().filter(drawn) {
            self.spell(character, &mut letters);
        }
        self.compose(letters)
    }

    /// Letters and marks after them as one character where the face has it, as
    /// shapers do.
    fn compose(&self, letters: Vec<char>) -> Vec<char> {
        if letters.iter().all(|letter| u32::from(*letter) < 0x300) {
            return letters;
        }
        let composition = CanonicalComposition::new();
        let mut composed: Vec<char> = Vec::with_capacity(letters.len());
        for letter in letters {
            let whole = composed
                .last()
                .filter(|_| u32::from(letter) >= 0x300)
                .and_then(|last| composition.compose(*last, letter))
                .filter(|whole| self.characters.contains(u32::from(*whole)));
            match (whole, composed.last_mut()) {
                (Some(whole), Some(last)) => *last = whole,
                _ => composed.push(letter),
            }
        }
        composed
    }

    fn spell(&self, character: char, letters: &mut Vec<char>) {
        if self.advance(character).is_some() {
            return letters.push(character);
        }
        match CanonicalDecomposition::new().decompose(character) {
            Decomposed::Singleton(other) if other != character => self.spell(other, letters),
            Decomposed::Expansion(first, second) => {
                self.spell(first, letters);
                self.spell(second, letters);
            }
            _ if character == '\u{2011}' => letters.push('\u{2010}'),
            _ if character.is_whitespace() => letters.push(' '),
            _ => letters.push(character),
        }
    }

    /// The advance of the form that `letter` has among its neighbours.
    fn form(&self, letters: &[char], index: usize, letter: char) -> i32 {
        if let Some(forms) = (!self.joined.is_empty())
            .then(|| self.joined.get(&letter))
            .flatten()
        {
            match (joins_before(letters, index), joins_after(letters, index)) {
                (true, true) => return forms.medial,
                (true, false) => return forms.last,
                (false, true) => return forms.initial,
                (false, false) => {}
            }
        }
        self.advance(letter).unwrap_or(0)
    }

    /// Corrections for pairs, and for longer runs on top of them. A run may
    /// start with the last character of the run before it.
    fn corrections(&self, letters: &[char]) -> i64 {
        let mut units = 0;
        let mut next = 0;
        for index in 0..letters.len() {
            if let Some(&[first, second]) = letters.get(index..index + 2) {
                units += i64::from(self.pair(first, second));
            }
            if index >= next
                && let Some((length, value)) = self.run_at(letters, index)
            {
                units += i64::from(value);
                next = index + length - 1;
            }
        }
        units
    }

    fn pair(&self, first: char, second: char) -> i32 {
        let first = self.alike_first.get(&first).copied().unwrap_or(first);
        let second = self.alike_second.get(&second).copied().unwrap_or(second);
        self.pairs.get(&(first, second)).copied().unwrap_or(0)
    }

    /// The longest run that starts at `index`: its length and its correction.
    fn run_at(&self, letters: &[char], index: usize) -> Option<(usize, i32)> {
        let start = (*letters.get(index)?, *letters.get(index + 1)?);
        let most = (*self.longest.get(&start)?).min(letters.len() - index);
        (2..=most).rev().find_map(|length| {
            let value = self.runs.get(&letters[index..index + length])?;
            Some((length, *value))
        })
    }

    /// Adds a run.
    pub fn add_run(&mut self, run: Vec<char>, value: i32) {
        if let [first, second, ..] = run.as_slice() {
            let longest = self.longest.entry((*first, *second)).or_default();
            *longest = (*longest).max(run.len());
        }
        self.runs.insert(run, value);
    }

    /// Adds a sequence that is drawn as one picture, as wide as its first.
    pub fn add_picture(&mut self, sequence: &str) {
        let letters = self.letters(sequence);
        let first = letters.first().and_then(|first| self.advance(*first));
        let (Some(first), true) = (first, letters.len() > 1) else {
            return;
        };
        let sum: i32 = letters.iter().filter_map(|c| self.advance(*c)).sum();
        self.add_run(letters, first.saturating_sub(sum));
    }

    /// How many characters of `text` take room.
    pub fn wide_letters(&self, text: &str) -> usize {
        let letters = self.letters(text);
        let wide = letters.iter().filter(|c| self.advance(**c) != Some(0));
        wide.count()
    }
}

/// The character that `character` decomposes to first, in one step; accented
/// letters are as wide as it as a rule.
pub fn without_mark(character: char) -> Option<char> {
    match CanonicalDecomposition::new().decompose(character) {
        Decomposed::Singleton(plain) | Decomposed::Expansion(plain, _) => Some(plain),
        Decomposed::Default => None,
    }
}

fn joining(character: char) -> JoiningType {
    CodePointMapData::<JoiningType>::new().get(character)
}

/// Whether `character` joins with what comes before it (Unicode Standard,
/// §9.2, Joining_Type).
pub fn joins_right(character: char) -> bool {
    [
        JoiningType::DualJoining,
        JoiningType::RightJoining,
        JoiningType::JoinCausing,
    ]
    .contains(&joining(character))
}

/// Whether `character` joins with what comes after it.
pub fn joins_left(character: char) -> bool {
    [
        JoiningType::DualJoining,
        JoiningType::LeftJoining,
        JoiningType::JoinCausing,
    ]
    .contains(&joining(character))
}

fn is_transparent(character: char) -> bool {
    joining(character) == JoiningType::Transparent
}

fn joins_before(letters: &[char], index: usize) -> bool {
    let before = letters[..index].iter().rev().find(|c| !is_transparent(**c));
    joins_right(letters[index]) && before.is_some_and(|c| joins_left(*c))
}

fn joins_after(letters: &[char], index: usize) -> bool {
    let after = letters[index + 1..].iter().find(|c| !is_transparent(**c));
    joins_left(letters[index]) && after.is_some_and(|c| joins_right(*c))
}
