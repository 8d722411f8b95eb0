//! Words of languages with how often each occurs, for fits without a text of the user's
//! own or with little of it.
//!
//! They are counted in help pages, message catalogues and the Universal Declaration of
//! Human Rights by `scripts/count-words`: 1,000 to 600,000 words by language. Half of a list
//! are the most frequent words; the other half are drawn from the rest and share its
//! weight, since the most frequent words alone are too short. Text is drawn from a list in
//! which every word and every sign around words has its share; the same each time.

use std::collections::HashSet;

use super::exemplars::preferred;
use super::{Dice, Source};

macro_rules! lists {
    ($($tag:literal),* $(,)?) => {
        &[$(($tag, include_str!(concat!("../../data/words/", $tag, ".txt")))),*]
    };
}

/// Tag and list, in the order of the tags.
#[rustfmt::skip]
const LISTS: &[(&str, &str)] = lists![
    "af", "ar", "az", "be", "bg", "bn", "ca", "cs", "cy", "da", "de", "el", "en", "es", "et",
    "eu", "fa", "fi", "fr", "ga", "gl", "gu", "he", "hi", "hr", "hu", "hy", "id", "is", "it",
    "ja", "ka", "kk", "km", "kn", "ko", "lo", "lt", "lv", "mk", "ml", "mn", "mr", "ms", "my",
    "nb", "ne", "nl", "pa", "pl", "pt", "pt-BR", "ro", "ru", "sk", "sl", "sq", "sr", "sr-Latn",
    "sv", "sw", "ta", "te", "th", "tr", "uk", "ur", "vi", "zh-Hans", "zh-Hant",
];

/// Languages written without spaces between words.
const UNSPACED: [&str; 7] = ["ja", "km", "lo", "my", "th", "zh-Hans", "zh-Hant"];

/// Tags that CLDR has no list of letters of its own for (likely subtags, UTS #35).
const ALIKE: [(&str, &str); 6] = [
    ("zh-TW", "zh-Hant"),
    ("zh-HK", "zh-Hant"),
    ("zh-MO", "zh-Hant"),
    ("zh", "zh-Hans"),
    ("no", "nb"),
    ("nn", "nb"),
];

/// Words of a paragraph: the fewest, and how many more there may be.
const PARAGRAPH: (usize, usize) = (15, 60);

/// The words of a language in 100,000 of them.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct WordCounts {
    /// The tag (BCP 47).
    pub tag: &'static str,
    /// Each word as it is written, with its count.
    pub words: Vec<(&'static str, u32)>,
    /// What stands before and after words, with its count.
    pub around: Vec<(&'static str, &'static str, u32)>,
    /// Whether words have spaces between them.
    pub spaced: bool,
}

/// The tags of the languages that have a list, in alphabetical order.
pub fn tags() -> impl Iterator<Item = &'static str> {
    LISTS.iter().map(|(tag, _)| *tag)
}

impl WordCounts {
    /// The list for a BCP 47 `tag`: that of its language where there is none of its
    /// region or script. `None` for languages without one.
    pub fn of(tag: &str) -> Option<Self> {
        let tag = preferred(tag);
        let mut wanted = tag.as_str();
        loop {
            let alike = ALIKE
                .iter()
                .find(|(from, _)| from.eq_ignore_ascii_case(wanted));
            let name = alike.map_or(wanted, |(_, to)| to);
            let known = LISTS.iter().find(|(tag, _)| tag.eq_ignore_ascii_case(name));
            if let Some((tag, list)) = known {
                return Some(Self::read(tag, list));
            }
            wanted = &wanted[..wanted.rfind('-')?];
        }
    }

    fn read(tag: &'static str, list: &'static str) -> Self {
        let mut counts = WordCounts {
            tag,
            words: Vec::new(),
            around: Vec::new(),
            spaced: !UNSPACED.contains(&tag),
        };
        for line in list.lines().filter(|line| !line.starts_with('#')) {
            let Some((what, count)) = line.rsplit_once(' ') else {
                continue;
            };
            let count = count.parse().unwrap_or(1);
            match what.split_once('…') {
                Some((before, after)) => counts.around.push((before, after, count)),
                None => counts.words.push((what, count)),
            }
        }
        counts
    }

    /// Text of `words` words, in paragraphs with an empty line between them. `seed`
    /// picks among many such texts.
    pub fn text(&self, words: usize, seed: u64) -> String {
        let mut dice = Dice::new(seed);
        let drawn = even(&self.words, |(_, count)| *count, words, &mut dice);
        let around = even(&self.around, |(_, _, count)| *count, words, &mut dice);
        let mut text = String::new();
        let mut left = 0;
        for (index, ((word, _), around)) in drawn.iter().zip(&around).enumerate() {
            if left == 0 {
                left = PARAGRAPH.0 + dice.roll(PARAGRAPH.1);
                if index > 0 {
                    text.push_str("\n\n");
                }
            } else if self.spaced {
                text.push(' ');
            }
            left -= 1;
            text.push_str(around.0);
            text.push_str(word);
            text.push_str(around.1);
        }
        text
    }
}

/// The language that `text` seems to be in: the one whose list holds most of its words,
/// and a third of them at least. `None` where none does, and for less than three words.
pub fn guess(text: &str) -> Option<&'static str> {
    /// Words that are looked at.
    const ENOUGH: usize = 400;
    let is_word = |c: &char| c.is_alphabetic() || matches!(c, '\'' | '’' | '-');
    let words: Vec<&str> = text
        .split(|c: char| !is_word(&c) && !c.is_numeric())
        .filter(|word| word.chars().any(char::is_alphabetic))
        .take(ENOUGH)
        .collect();
    if words.len() < 3 {
        return None;
    }
    let found = |list: &str| {
        let list: HashSet<&str> = list
            .lines()
            .filter_map(|line| Some(line.rsplit_once(' ')?.0))
            .collect();
        let held = words
            .iter()
            .filter(|word| list.contains(**word) || list.contains(word.to_lowercase().as_str()));
        held.count()
    };
    let best = LISTS
        .iter()
        .map(|(tag, list)| (found(list), *tag))
        // The first of equals.
        .reduce(|best, next| if next.0 > best.0 { next } else { best })?;
    (best.0 * 3 >= words.len()).then_some(best.1)
}

/// Text of `words` words in the language `tag`; see [`WordCounts::text`].
pub fn sample(tag: &str, words: usize) -> Option<Source> {
    let counts = WordCounts::of(tag)?;
    Some(Source {
        name: format!("words of {}", counts.tag),
        text: counts.text(words, 1),
    })
}

/// `wanted` of `items`, each as often as its weight asks for, in random order:
/// systematic sampling, so that no item comes too often or too seldom by chance.
fn even<T: Copy>(
    items: &[T],
    weight: impl Fn(&T) -> u32,
    wanted: usize,
    dice: &mut Dice,
) -> Vec<T> {
    let total: u64 = items.iter().map(|item| u64::from(weight(item))).sum();
    if total == 0 || wanted == 0 {
        return Vec::new();
    }
    let step = total as f64 / wanted as f64;
    let mut next = step * (dice.roll(1000) as f64 + 0.5) / 1000.0;
    let mut at = 0.0;
    let mut drawn = Vec::with_capacity(wanted + 1);
    for item in items {
        at += f64::from(weight(item));
        while next < at {
            drawn.push(*item);
            next += step;
        }
    }
    for place in (1..drawn.len()).rev() {
        drawn.swap(place, dice.roll(place + 1));
    }
    drawn
}
