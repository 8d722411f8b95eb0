//! What the borders between the files of a face cut: pairs of letters that the face kerns, or
//! draws as one, and that are shaped apart as they come from different files.

use std::collections::BTreeMap;

use serde::Serialize;
use tidy_lattice_glyphs::font::{CharacterSet, Face};
use tidy_lattice_glyphs::shaping::Shaper;

/// The most different pairs that are looked at; texts have a few thousand.
const MOST_PAIRS: usize = 20_000;

/// How many pairs are named.
const NAMED: usize = 6;

/// What borders cut of texts.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct Borders {
    /// Neighbouring characters of the texts that the face has, repeats included.
    pub pairs: u64,
    /// Those of them that come from two files.
    pub apart: u64,
    /// Those of these that the face kerns or draws as one, which is lost.
    pub cut: u64,
    /// The most frequent of the last.
    pub most: Vec<CutPair>,
}

/// A pair that a border cuts.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct CutPair {
    /// The two characters.
    pub text: String,
    /// How often they occur.
    pub count: u64,
    /// How much wider they are apart, in font units; negative where narrower.
    pub wider: i64,
}

/// What the borders between `files`, the first of which has a character where several do,
/// cut of `texts` in `face`.
pub fn borders<'t>(
    face: &Face,
    files: &[&CharacterSet],
    texts: impl Iterator<Item = &'t str>,
) -> Borders {
    let mut known: BTreeMap<char, Option<usize>> = BTreeMap::new();
    let mut file_of = |character: char| {
        *known.entry(character).or_insert_with(|| {
            let point = u32::from(character);
            files.iter().position(|set| set.contains(point))
        })
    };
    let mut borders = Borders::default();
    let mut apart: BTreeMap<(char, char), u64> = BTreeMap::new();
    for text in texts {
        let letters: Vec<char> = text.chars().collect();
        for pair in letters.windows(2) {
            let (first, second) = (pair[0], pair[1]);
            if first.is_whitespace() || second.is_whitespace() {
                continue;
            }
            let (Some(a), Some(b)) = (file_of(first), file_of(second)) else {
                continue;
            };
            borders.pairs += 1;
            if a == b {
                continue;
            }
            borders.apart += 1;
            if apart.len() < MOST_PAIRS || apart.contains_key(&(first, second)) {
                *apart.entry((first, second)).or_default() += 1;
            }
        }
    }
    let mut shaper = Shaper::new(face);
    let mut cut: Vec<CutPair> = Vec::new();
    for ((first, second), count) in apart {
        let text = format!("{first}{second}");
        let mut alone = |one: char| {
            let one = one.to_string();
            (shaper.units(&one), shaper.visible_glyphs(&one))
        };
        let (a, b) = (alone(first), alone(second));
        let wider = a.0 + b.0 - shaper.units(&text);
        if wider != 0 || shaper.visible_glyphs(&text) != a.1 + b.1 {
            cut.push(CutPair { text, count, wider });
        }
    }
    borders.cut = cut.iter().map(|pair| pair.count).sum();
    cut.sort_by(|a, b| b.count.cmp(&a.count).then_with(|| a.text.cmp(&b.text)));
    cut.truncate(NAMED);
    borders.most = cut;
    borders
}

#[cfg(test)]
mod tests {
    use super::*;
    use tidy_lattice_glyphs::font::{FacePick, FontFile, Limits};

    fn face() -> Face {
        let bytes = tidy_lattice_demo::file("fonts/SkerrymarkText-Regular.ttf");
        let file = FontFile::read(bytes.expect("a font").to_vec(), Limits::DEFAULT);
        Face::open(&file.expect("a font"), &FacePick::default()).expect("a face")
    }

    fn set(letters: &str) -> CharacterSet {
        CharacterSet::of(letters.chars().map(u32::from))
    }

    #[test]
    fn pairs_that_the_face_kerns_are_counted_where_a_border_parts_them() {
        let face = face();
        let mut shaper = Shaper::new(&face);
        let kerned = ["AV", "Ta", "Yo", "Va"].into_iter().find(|pair| {
            let alone: i64 = pair.chars().map(|c| shaper.units(&c.to_string())).sum();
            alone != shaper.units(pair)
        });
        let kerned = kerned.expect("the demo's text face kerns");
        let (first, second) = kerned.split_at(1);
        let (a, b) = (set(&format!("{first}n")), set(&format!("{second}m")));
        let text = format!("{kerned} nm {kerned}");
        let cut = borders(&face, &[&a, &b], std::iter::once(text.as_str()));
        assert_eq!((cut.pairs, cut.apart, cut.cut), (3, 3, 2));
        assert_eq!((cut.most[0].text.as_str(), cut.most[0].count), (kerned, 2));
        assert_ne!(cut.most[0].wider, 0);
        // In one file nothing is parted.
        let both = set(&format!("{kerned}nm"));
        let cut = borders(&face, &[&both], std::iter::once(text.as_str()));
        assert_eq!((cut.pairs, cut.apart, cut.cut), (3, 0, 0));
        // What several files have comes from the first.
        let cut = borders(&face, &[&both, &b], std::iter::once(text.as_str()));
        assert_eq!(cut.apart, 0);
        // Letters that the face lacks are not counted.
        let cut = borders(&face, &[&a, &b], std::iter::once("漢字"));
        assert_eq!(cut, Borders::default());
    }
}
