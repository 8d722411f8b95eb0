//! One face in several files: what must be shaped together stays together, what is
//! used most comes first.

use std::collections::BTreeMap;

use icu_properties::CodePointMapData;
use icu_properties::props::Script;
use tidy_lattice_glyphs::font::CharacterSet;
use tidy_lattice_subset::CutError;

use super::{Made, TrimNeed};

/// Into how many files a face is cut.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Slicing {
    /// One.
    Whole,
    /// As many as it takes for none to be larger than this, in bytes. What must be
    /// shaped together stays together even so.
    Largest(u64),
    /// This many, of about the same number of characters.
    Count(usize),
    /// Two: what the text has, and what a margin or the face have besides.
    Text,
    /// One for each of these.
    Ranges(Vec<CharacterSet>),
}

/// A slice is planned for so many characters before its size is known.
const PLANNED: usize = 160;

impl Slicing {
    pub(super) fn largest(&self) -> Option<u64> {
        match self {
            Slicing::Largest(bytes) => Some(*bytes),
            _ => None,
        }
    }

    /// The characters of each file, most used first.
    pub(super) fn plan(&self, need: &TrimNeed, characters: &CharacterSet) -> Vec<CharacterSet> {
        let wanted: Vec<u32> = need.characters.iter().collect();
        let has = |set: &CharacterSet| set.iter().any(|point| characters.contains(point));
        let sets = match self {
            Slicing::Whole => vec![need.characters.clone()],
            Slicing::Ranges(ranges) => (ranges.iter())
                .map(|range| {
                    CharacterSet::of(
                        wanted
                            .iter()
                            .copied()
                            .filter(|point| range.contains(*point)),
                    )
                })
                .collect(),
            Slicing::Text => {
                let (text, rest): (Vec<u32>, Vec<u32>) = (wanted.iter().copied())
                    .partition(|point| need.counts.contains_key(point) || *point == 0x20);
                vec![CharacterSet::of(text), CharacterSet::of(rest)]
            }
            Slicing::Largest(_) => packed(&units(need, characters), PLANNED),
            Slicing::Count(count) => {
                let known: usize = wanted
                    .iter()
                    .filter(|point| characters.contains(**point))
                    .count();
                packed(
                    &units(need, characters),
                    known.div_ceil((*count).max(1)).max(1),
                )
            }
        };
        let shared: Vec<u32> = (wanted.iter().copied())
            .filter(|point| goes_everywhere(*point))
            .collect();
        let kept: Vec<CharacterSet> = (sets.into_iter())
            .filter(has)
            .map(|set| CharacterSet::of(set.iter().chain(shared.iter().copied())))
            .collect();
        if kept.is_empty() {
            // Nothing of it: the error says so.
            return vec![need.characters.clone()];
        }
        kept
    }
}

/// Characters that may not be parted.
struct Unit {
    points: Vec<u32>,
}

/// Scripts whose characters stand each for itself, so that they may be parted.
fn parts(script: Script) -> bool {
    [
        Script::Han,
        Script::Hangul,
        Script::Hiragana,
        Script::Katakana,
        Script::Bopomofo,
        Script::Yi,
        Script::Cuneiform,
        Script::EgyptianHieroglyphs,
        Script::Tangut,
    ]
    .contains(&script)
}

/// Consonants and vowels of Korean that are put together to syllables, with their tones.
fn is_jamo(point: u32) -> bool {
    matches!(point, 0x1100..=0x11FF | 0xA960..=0xA97F | 0xD7B0..=0xD7FF | 0x302E | 0x302F)
}

/// What keeps letters apart or together, and chooses their forms: of use in every file.
fn goes_everywhere(point: u32) -> bool {
    matches!(point, 0x034F | 0x180B..=0x180F | 0x200C | 0x200D | 0xFE00..=0xFE0F | 0xE0100..=0xE01EF)
}

/// The script that a character goes with, and whether it may not be parted from it.
fn group_of(point: u32, script: Script, latin: bool) -> (Script, bool) {
    match (point, script) {
        _ if is_jamo(point) => (Script::Hangul, true),
        // Kana are few, and take marks.
        (0x3041..=0x30FF, _) => (Script::Hiragana, true),
        // Signs and digits go with letters of the text.
        (..0x3000, Script::Common | Script::Inherited) if latin => (Script::Latin, true),
        (_, Script::Common | Script::Inherited) => (script, false),
        _ => (script, !parts(script)),
    }
}

/// How often a character is used, most first: in the text, then in words of its languages.
type Used = (std::cmp::Reverse<u64>, std::cmp::Reverse<u64>);

fn used(need: &TrimNeed, point: u32) -> Used {
    let of =
        |counts: &BTreeMap<u32, u64>| std::cmp::Reverse(counts.get(&point).copied().unwrap_or(0));
    (of(&need.counts), of(&need.frequent))
}

/// Units by how often they are used, then by script, then by code point. Of an
/// alphabet the letters of the text are one unit and the others a second: they are kerned
/// with each other, and with marks and digits.
fn units(need: &TrimNeed, characters: &CharacterSet) -> Vec<Unit> {
    let scripts = CodePointMapData::<Script>::new();
    let mut alphabets: BTreeMap<(Script, bool), Vec<u32>> = BTreeMap::new();
    let mut single: Vec<(Used, Script, u32)> = Vec::new();
    let latin = need
        .characters
        .iter()
        .any(|point| (0x41..=0x7A).contains(&point));
    let known = |point: &u32| characters.contains(*point) && !goes_everywhere(*point);
    for point in need.characters.iter().filter(known) {
        let count = need.counts.get(&point).copied().unwrap_or(0);
        let used = used(need, point);
        let (script, together) = group_of(point, scripts.get32(point), latin);
        if together {
            // Scripts that join are one unit whatever the text has of them.
            let apart = matches!(script, Script::Latin | Script::Cyrillic | Script::Greek);
            let first = count > 0 || point < 0x80 || !apart;
            alphabets.entry((script, !first)).or_default().push(point);
        } else {
            single.push((used, script, point));
        }
    }
    let mut units: Vec<(Used, Unit)> = (alphabets.into_values())
        .map(|points| {
            // The first of these is the one that is used most.
            let most = points.iter().map(|point| used(need, *point)).min();
            (most.unwrap_or_default(), Unit { points })
        })
        .collect();
    single.sort_unstable();
    units.extend(single.into_iter().map(|(used, _, point)| {
        (
            used,
            Unit {
                points: vec![point],
            },
        )
    }));
    units.sort_by_key(|(used, _)| *used);
    units.into_iter().map(|(_, unit)| unit).collect()
}

/// Units put together up to `most` characters.
fn packed(units: &[Unit], most: usize) -> Vec<CharacterSet> {
    let mut sets: Vec<Vec<u32>> = Vec::new();
    // Alphabets fill files of their own, single characters are put together.
    let mut open: Vec<u32> = Vec::new();
    for unit in units {
        if unit.points.len() > 1 {
            sets.push(unit.points.clone());
            continue;
        }
        open.extend(&unit.points);
        if open.len() >= most {
            sets.push(std::mem::take(&mut open));
        }
    }
    if !open.is_empty() {
        sets.push(open);
    }
    sets.into_iter().map(CharacterSet::of).collect()
}

/// A cut with its files, cut again in halves where a file is larger than `limit` and its
/// characters may be parted.
pub(super) fn made_to_fit(
    set: &CharacterSet,
    limit: Option<u64>,
    make: &(dyn Fn(CharacterSet) -> Result<Made, CutError> + Sync),
) -> Result<Vec<Made>, CutError> {
    let scripts = CodePointMapData::<Script>::new();
    let (cut, files) = match make(set.clone()) {
        Ok(made) => made,
        // What the face does not have of a range is no error of the others.
        Err(CutError::NothingNeeded { .. }) => return Ok(Vec::new()),
        Err(error) => return Err(error),
    };
    let bytes = files.first().map_or(0, |(_, bytes)| bytes.len() as u64);
    let points: Vec<u32> = set.iter().collect();
    let may_part = (points.iter())
        .filter(|point| !goes_everywhere(**point))
        .all(|point| !group_of(*point, scripts.get32(*point), false).1);
    let Some(limit) = limit.filter(|limit| bytes > *limit && may_part && points.len() > 1) else {
        return Ok(vec![(cut, files)]);
    };
    // Into as many as it takes, not in halves of halves.
    let count = (bytes.div_ceil(limit.max(1)) as usize).clamp(2, points.len());
    let mut all = Vec::new();
    let (shared, special): (Vec<u32>, Vec<u32>) = points
        .into_iter()
        .partition(|point| goes_everywhere(*point));
    for part in special.chunks(special.len().div_ceil(count).max(1)) {
        let part = CharacterSet::of(part.iter().chain(&shared).copied());
        all.extend(made_to_fit(&part, Some(limit), make)?);
    }
    Ok(all)
}

#[cfg(test)]
mod tests {
    use std::collections::BTreeSet;

    use super::*;
    use crate::trim::{Margin, with_margin};
    use tidy_lattice_coverage::need::Need;
    use tidy_lattice_glyphs::text::Source;

    /// The place in the order of use that each of `letters` has for Japanese texts.
    fn places(text: &str, letters: &str) -> Vec<usize> {
        let need = Need::gather(&[Source {
            name: "ja.txt".to_owned(),
            text: text.to_owned(),
        }]);
        let languages = BTreeSet::from(["ja".to_owned()]);
        let need = with_margin(&need, &languages, Margin::Languages, Vec::new());
        let characters = need.characters.clone();
        let units = units(&need, &characters);
        let place = |letter: char| {
            let point = u32::from(letter);
            let place = units.iter().position(|unit| unit.points.contains(&point));
            place.unwrap_or_else(|| panic!("{letter} is needed"))
        };
        letters.chars().map(place).collect()
    }

    #[test]
    fn what_the_text_has_comes_first_then_what_is_frequent_in_its_language() {
        // 亜 comes first by its number, 人 is in every second sentence, 鮭 in none.
        let places = places("港の霧", "霧人亜");
        assert!(places[0] < places[1] && places[1] < places[2], "{places:?}");
    }

    #[test]
    fn without_texts_of_a_language_words_of_it_stand_for_them() {
        let languages = BTreeSet::from(["en".to_owned(), "ja".to_owned()]);
        let need = with_margin(&Need::default(), &languages, Margin::Languages, Vec::new());
        assert_eq!(need.words.len(), 2);
        assert!(need.frequent[&u32::from('e')] > need.frequent[&u32::from('z')]);
        let none = with_margin(&Need::default(), &BTreeSet::new(), Margin::Text, Vec::new());
        assert!(none.words.is_empty() && none.frequent.is_empty());
    }
}
