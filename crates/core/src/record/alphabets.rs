//! The letters that a face's texts are made of, script by script.

use std::collections::{HashMap, HashSet};

use crate::font::Face;
use crate::need::exemplars::{self, Language};
use crate::need::{Source, is_shown, language};

/// The most letters of a script whose pairs are measured; those of most
/// languages come first.
const MOST_LETTERS: usize = 330;

/// Languages with more letters than this are written in ideographs or
/// syllables, which are not paired.
const LARGEST: usize = 400;

/// What all scripts share: blanks, figures, punctuation, common signs.
const SHARED: &str = " 0123456789.,:;!?'\"()[]{}/\\|-_+=*&@#%$<>~^«»‹›„“”‘’‚–—…·•°×©®€£¥";

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

    /// The built-in samples of its languages.
    pub fn samples(&self) -> impl Iterator<Item = Source> {
        let languages = self.languages.iter();
        let sampled = languages.filter(|l| language::tags().any(|tag| tag == l.tag));
        sampled.filter_map(|l| language::sample(l.tag))
    }
}

/// How often characters occur, the most frequent first.
pub struct Frequencies(Vec<(char, u64)>);

impl Frequencies {
    /// Counts the samples of all languages of `alphabets`; letters that occur in
    /// none follow in the order of their alphabets.
    pub fn count(alphabets: &[Alphabet]) -> Self {
        let mut counts: HashMap<char, u64> = HashMap::new();
        for alphabet in alphabets {
            for sample in alphabet.samples() {
                for letter in sample.text.chars() {
                    *counts.entry(letter).or_default() += 1;
                }
            }
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

/// The alphabets of every script that `face` can write something in, in the
/// order of the script names.
pub fn of(face: &Face) -> Vec<Alphabet> {
    let shared: Vec<char> = SHARED.chars().filter(|c| face.maps(*c)).collect();
    let mut alphabets: Vec<Alphabet> = Vec::new();
    for language in exemplars::all() {
        let letters = &language.main.characters;
        let has = letters.iter().filter(|c| face.maps(**c)).count();
        if letters.is_empty() || has * 4 < letters.len() * 3 {
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
        alphabet.letters = letters(face, &alphabet.languages);
    }
    alphabets.sort_by(|a, b| a.script.cmp(&b.script));
    alphabets
}

fn letters(face: &Face, languages: &[&Language]) -> Vec<char> {
    let mut counts: HashMap<char, usize> = HashMap::new();
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
        .filter(|(letter, _)| is_shown(*letter) && face.maps(*letter))
        .collect();
    letters.sort_by(|a, b| b.1.cmp(&a.1).then_with(|| a.0.cmp(&b.0)));
    letters.truncate(MOST_LETTERS);
    letters.into_iter().map(|(letter, _)| letter).collect()
}
