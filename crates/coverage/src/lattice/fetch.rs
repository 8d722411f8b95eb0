//! Which faces a browser asks for to show a text: those whose `unicode-range` holds one
//! of its characters, in the order of the stack, until one has it (CSS Fonts 4, §4.5.1
//! and §11; measured in Chromium and Firefox).

use std::collections::{BTreeMap, BTreeSet};

use super::stack::{Candidate, Origin};

/// The candidates that are files to load, by number, with the characters that they are
/// asked for. What a face lacks although its range holds it is found out by loading it.
pub fn fetched(
    candidates: &[Candidate],
    text: impl IntoIterator<Item = char>,
) -> BTreeMap<usize, BTreeMap<char, u64>> {
    let mut fetched: BTreeMap<usize, BTreeMap<char, u64>> = BTreeMap::new();
    let mut known: BTreeMap<char, BTreeSet<usize>> = BTreeMap::new();
    for character in text {
        let asked = known
            .entry(character)
            .or_insert_with(|| asked_for(candidates, character));
        for number in asked.iter() {
            *fetched
                .entry(*number)
                .or_default()
                .entry(character)
                .or_default() += 1;
        }
    }
    fetched
}

fn asked_for(candidates: &[Candidate], character: char) -> BTreeSet<usize> {
    let mut asked = BTreeSet::new();
    for (number, candidate) in candidates.iter().enumerate() {
        let within =
            (candidate.range.as_ref()).is_none_or(|range| range.contains(u32::from(character)));
        if !within {
            continue;
        }
        if matches!(candidate.origin, Origin::Web { .. }) {
            asked.insert(number);
        }
        // Of a face that is known by name only it is taken that it has what it stands for.
        if candidate
            .face
            .as_ref()
            .is_none_or(|face| face.maps(character))
        {
            break;
        }
    }
    asked
}
