//! The letters that a face's texts are made of, script by script.

use std::collections::HashSet;

use foldhash::HashMap;

use tidy_lattice_glyphs::text::exemplars::{self, Language};
use tidy_lattice_glyphs::text::{Source, is_shown, samples};

/// The most letters of a script whose pairs are measured; those of most
/// languages come first.
const MOST_LETTERS: usize = 330;

/// Languages with more letters than this are written in ideographs or
/// syllables, which are not paired.
const LARGEST: usize = 400;

/// What all scripts share: blanks, figures, punctuation, common signs.
pub(super) const SHARED: &str =
    " 0123456789.,:;!?'\"()[]{}/\\|-_+=*&@#%$<>~^«»‹›„“”‘’‚–—…·•°×©®€£¥";

/// Figures and the signs beside them.
pub const FIGURES: &str = "0123456789:.,";

/// The letters of one script.
#[derive(Debug, Clone)]
pub struct Alphabet {
    /// The script's Unicode name.
    pub script: String,
    /// Letters and marks that the face has; those of most languages first.
    pub letters: Vec<char>,
    /// Figures, punctuation and signs that the face has.
    pub shared: Vec<char>,
    /// Languages of the script that the face has most letters of.
    pub languages: Vec<&'static Language>,
}

impl Alphabet {
    /// Everything that texts of the script are made of.
    pub fn all(&self) -> Vec<char> {
        self.letters.iter().chain(&self.shared).copied().collect()
    }

    /// The words of the built-in samples of its languages, sample by sample:
    /// every other one to learn from, and the rest to check with.
    pub fn words(&self) -> Vec<Halves> {
        let samples = self.samples();
        let halves = samples.map(|sample| {
            let mut halves = Halves::default();
            for (index, word) in sample.text.split_whitespace().enumerate() {
                let half = match index % 2 {
                    0 => &mut halves.learn,
                    _ => &mut halves.check,
                };
                half.push(word.to_owned());
            }
            halves
        });
        halves.collect()
    }

    /// The built-in samples of its languages.
    fn samples(&self) -> impl Iterator<Item = Source> {
        let languages = self.languages.iter();
        let sampled = languages.filter(|l| samples::tags().any(|tag| tag == l.tag));
        sampled.filter_map(|l| samples::of(l.tag))
    }
}

/// The words of a sample.
#[derive(Debug, Default)]
pub struct Halves {
    /// Words that runs are learned from.
    pub learn: Vec<String>,
    /// Words that the result is checked with.
    pub check: Vec<String>,
}

/// How often characters occur, the most frequent first.
pub struct Frequencies(Vec<(char, u64)>);

impl Frequencies {
    /// Counts the samples of all languages of `alphabets`; letters that occur in
    /// none follow in the order of their alphabets.
    pub fn count(alphabets: &[Alphabet]) -> Self {
        // A letter counts as in the language that has most of it, so that every
        // language keeps its own.
        const PARTS: u64 = 1_000_000;
        let mut counts: HashMap<char, u64> = HashMap::default();
        for sample in alphabets.iter().flat_map(Alphabet::samples) {
            let mut letters: HashMap<char, u64> = HashMap::default();
            for letter in sample.text.chars() {
                *letters.entry(letter).or_default() += 1;
            }
            let all = sample.text.chars().count().max(1) as u64;
            for (letter, count) in letters {
                let known = counts.entry(letter).or_default();
                *known = (*known).max(count * PARTS / all);
            }
        }
        // Samples are prose; pages are full of figures.
        for figure in FIGURES.chars() {
            let known = counts.entry(figure).or_default();
            *known = (*known).max(PARTS / 200);
        }
        let letters = alphabets
            .iter()
            .flat_map(|alphabet| alphabet.all().into_iter().enumerate());
        let mut letters: Vec<(u64, usize, char)> = letters
            .map(|(place, letter)| (counts.get(&letter).copied().unwrap_or(0), place, letter))
            .collect();
        letters.sort_by_key(|(count, place, letter)| (std::cmp::Reverse(*count), *place, *letter));
        let mut seen = HashSet::new();
        letters.retain(|(_, _, letter)| seen.insert(*letter));
        Frequencies(
            letters
                .into_iter()
                .map(|(count, _, letter)| (letter, count))
                .collect(),
        )
    }

    /// The place of every letter in the order of frequency, and a weight.
    pub fn by_letter(&self) -> HashMap<char, (usize, u64)> {
        let ranked = self.0.iter().enumerate();
        ranked
            .map(|(place, (letter, count))| (*letter, (place, count + 1)))
            .collect()
    }
}

/// The alphabets of every script that a face which `has` these characters can write
/// something in, in the order of the script names.
pub fn of(has: impl Fn(char) -> bool) -> Vec<Alphabet> {
    let shared: Vec<char> = SHARED.chars().filter(|c| has(*c)).collect();
    let mut alphabets: Vec<Alphabet> = Vec::new();
    for language in exemplars::all() {
        let letters = &language.main.characters;
        let here = letters.iter().filter(|c| has(**c)).count();
        if letters.is_empty() || here * 4 < letters.len() * 3 {
            continue;
        }
        match alphabets.iter_mut().find(|a| a.script == language.script) {
            Some(alphabet) => alphabet.languages.push(language),
            None => alphabets.push(Alphabet {
                script: language.script.clone(),
                letters: Vec::new(),
                shared: shared.clone(),
                languages: vec![language],
            }),
        }
    }
    for alphabet in &mut alphabets {
        alphabet.letters = letters(&has, &alphabet.languages);
    }
    alphabets.sort_by(|a, b| a.script.cmp(&b.script));
    alphabets
}

/// The letters and marks of `languages` that a face `has`; those of most languages first.
pub(super) fn letters(has: impl Fn(char) -> bool, languages: &[&Language]) -> Vec<char> {
    let mut counts: HashMap<char, usize> = HashMap::default();
    for language in languages {
        if language.main.len() > LARGEST {
            continue;
        }
        let marks = language.main.sequences.iter().flat_map(|s| s.chars());
        for letter in language.main.characters.iter().copied().chain(marks) {
            *counts.entry(letter).or_default() += 1;
        }
    }
    let mut letters: Vec<(char, usize)> = counts
        .into_iter()
        .filter(|(letter, _)| is_shown(*letter) && has(*letter))
        .collect();
    letters.sort_by(|a, b| b.1.cmp(&a.1).then_with(|| a.0.cmp(&b.0)));
    letters.truncate(MOST_LETTERS);
    letters.into_iter().map(|(letter, _)| letter).collect()
}
