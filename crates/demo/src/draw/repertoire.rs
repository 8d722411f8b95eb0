//! Which characters a font gets, and what each is made of.

use icu_normalizer::properties::{CanonicalDecomposition, Decomposed};

use super::skeleton::Skeletons;

/// A set of characters.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Set {
    /// ASCII.
    Ascii,
    /// Latin-1 and the quotation marks, dashes and signs of Western text.
    Western,
    /// Latin Extended-A and the letters of Romanian.
    LatinExtended,
    /// The letters of Vietnamese.
    Vietnamese,
    /// Modern Greek.
    Greek,
    /// Ukrainian, Russian and their neighbours.
    Cyrillic,
    /// Currency signs beyond the Western ones.
    Currency,
    /// Combining marks on their own.
    Marks,
    /// Arrows.
    Arrows,
    /// Pictograms.
    Pictograms,
}

impl Set {
    fn ranges(self) -> &'static [(u32, u32)] {
        match self {
            Set::Ascii => &[(0x20, 0x7e)],
            Set::Western => &[
                (0xa0, 0xa3),
                (0xa5, 0xa5),
                (0xa7, 0xa7),
                (0xa9, 0xab),
                (0xad, 0xae),
                (0xb0, 0xb3),
                (0xb6, 0xb7),
                (0xb9, 0xff),
                (0x152, 0x153),
                (0x178, 0x178),
                (0x2013, 0x2014),
                (0x2018, 0x201a),
                (0x201c, 0x201e),
                (0x2020, 0x2020),
                (0x2022, 0x2022),
                (0x2026, 0x2026),
                (0x2039, 0x203a),
                (0x20ac, 0x20ac),
                (0x2122, 0x2122),
                (0x2212, 0x2212),
            ],
            Set::LatinExtended => &[
                (0x100, 0x17f),
                (0x18f, 0x18f),
                (0x218, 0x21b),
                (0x259, 0x259),
                (0x2030, 0x2030),
            ],
            Set::Vietnamese => &[(0x1a0, 0x1a1), (0x1af, 0x1b0), (0x1ea0, 0x1ef9)],
            Set::Greek => &[
                (0x384, 0x38a),
                (0x38c, 0x38c),
                (0x38e, 0x3a1),
                (0x3a3, 0x3ce),
            ],
            Set::Cyrillic => &[(0x400, 0x45f), (0x490, 0x491), (0x2116, 0x2116)],
            Set::Currency => &[(0x20ab, 0x20ab), (0x20b4, 0x20b4), (0x20bd, 0x20bd)],
            Set::Marks => &[
                (0x300, 0x304),
                (0x306, 0x30c),
                (0x313, 0x313),
                (0x323, 0x323),
                (0x326, 0x328),
                (0x331, 0x331),
            ],
            Set::Arrows => &[(0x2190, 0x2194), (0x2197, 0x2197), (0x21c4, 0x21c4)],
            Set::Pictograms => &[
                (0x23f1, 0x23f1),
                (0x2139, 0x2139),
                (0x2602, 0x2602),
                (0x2605, 0x2606),
                (0x260e, 0x260e),
                (0x267f, 0x267f),
                (0x2693, 0x2693),
                (0x26a0, 0x26a0),
                (0x26f4, 0x26f4),
                (0x2709, 0x2709),
                (0x2713, 0x2713),
                (0x2717, 0x2717),
            ],
        }
    }
}

/// What a character is made of.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Recipe {
    /// White space of this share of an em.
    Space(u16),
    /// The strokes of a character, perhaps at the height of small letters.
    Strokes(char, bool),
    /// A letter and a mark on it; either may be made of others.
    Marked(char, char),
}

/// The characters of `sets` that can be drawn, with their recipes, in order.
pub fn recipes(sets: &[Set], skeletons: &Skeletons) -> Vec<(char, Recipe)> {
    let mut wanted: Vec<char> = sets
        .iter()
        .flat_map(|set| set.ranges())
        .flat_map(|(first, last)| *first..=*last)
        .filter_map(char::from_u32)
        .collect();
    wanted.sort_unstable();
    wanted.dedup();
    wanted
        .into_iter()
        .filter_map(|character| Some((character, recipe(character, skeletons)?)))
        .collect()
}

/// How `character` is made; `None` where nothing of it is drawn.
pub fn recipe(character: char, skeletons: &Skeletons) -> Option<Recipe> {
    match character {
        ' ' | '\u{a0}' => return Some(Recipe::Space(260)),
        '\u{ad}' => return Some(Recipe::Strokes('-', false)),
        _ => {}
    }
    if skeletons.contains_key(&character) {
        return Some(Recipe::Strokes(character, false));
    }
    if let Some((drawn, small)) = same_shape(character) {
        return Some(Recipe::Strokes(drawn, small));
    }
    if let Some((letter, mark)) = spacing_mark(character) {
        return Some(Recipe::Marked(letter, mark));
    }
    match CanonicalDecomposition::new().decompose(character) {
        Decomposed::Expansion(letter, mark) => {
            // Marks above replace the dot of i and j.
            let letter = match (letter, mark) {
                (_, '\u{323}' | '\u{328}') => letter,
                ('i' | 'і', _) => 'ı',
                ('j' | 'ј', _) => 'ȷ',
                _ => letter,
            };
            recipe(letter, skeletons)?;
            recipe(mark, skeletons)?;
            Some(Recipe::Marked(letter, mark))
        }
        Decomposed::Singleton(other) => recipe(other, skeletons),
        Decomposed::Default => None,
    }
}

/// Characters that look like another: Greek and Cyrillic letters like Latin
/// ones, and small Cyrillic letters that are low capitals.
fn same_shape(character: char) -> Option<(char, bool)> {
    const SAME: &str = "ΑA ΒB ΕE ΖZ ΗH ΙI ΚK ΜM ΝN ΟO ΡP ΤT ΥY ΧX νv οo \
        ΑA АA ВB ЕE КK МM НH ОO ПΠ РP СC ТT ФΦ ХX ІI ЅS ЈJ ГΓ ДД \
        аa еe оo рp сc уy хx іi ѕs јj ¤O ¦| ¬- µμ ĸκ";
    const LOW: &str = "вB гΓ дД жЖ иИ кK лЛ мM нH пΠ тT цЦ чЧ шШ щЩ ъЪ ыЫ ьЬ эЭ юЮ яЯ єЄ ґҐ з3";
    let find = |table: &str| {
        table.split_whitespace().find_map(|pair| {
            let mut pair = pair.chars();
            (pair.next() == Some(character))
                .then(|| pair.next())
                .flatten()
        })
    };
    match character {
        'З' => Some(('3', false)),
        _ => find(LOW).map(|drawn| (drawn, true)).or_else(|| {
            find(SAME)
                .filter(|drawn| *drawn != character)
                .map(|drawn| (drawn, false))
        }),
    }
}

/// Marks that stand on their own, drawn on a space.
fn spacing_mark(character: char) -> Option<(char, char)> {
    let mark = match character {
        '´' | '΄' => '\u{301}',
        '¨' => '\u{308}',
        '¯' => '\u{304}',
        '¸' => '\u{327}',
        _ => return None,
    };
    Some((' ', mark))
}
