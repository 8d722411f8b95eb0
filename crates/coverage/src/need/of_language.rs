//! A language alone as a need: what it is written with.

use tidy_lattice_documents::content::message::{Kind, brought};
use tidy_lattice_glyphs::text::{exemplars, signs};

/// Everything that text in the language of `tag` may hold: its exemplar
/// characters with capitals, its punctuation and quotation marks, its digits and
/// the signs of numbers, and its currency signs; one cluster a piece. `None` for
/// languages that CLDR does not know.
pub fn language_need(tag: &str) -> Option<Vec<String>> {
    let language = exemplars::find(tag)?;
    let mut pieces: Vec<String> = Vec::new();
    let mut add = |piece: String| {
        if !pieces.contains(&piece) {
            pieces.push(piece);
        }
    };
    for set in [&language.main, &language.punctuation, &language.numbers] {
        set.characters.iter().for_each(|c| add(c.to_string()));
        set.sequences
            .iter()
            .for_each(|sequence| add(sequence.clone()));
    }
    brought(Kind::Number, Some(tag))
        .chars()
        .for_each(|c| add(c.to_string()));
    if let Some(signs) = signs(tag) {
        let quotes = [signs.quotes, signs.inner_quotes];
        let quotes = quotes.iter().flat_map(|(open, close)| [*open, *close]);
        let currency = [signs.currency_signs.0, signs.currency_signs.1];
        for text in quotes.chain(currency).filter(|text| *text != "-") {
            text.chars().for_each(|c| add(c.to_string()));
        }
    }
    Some(pieces)
}
