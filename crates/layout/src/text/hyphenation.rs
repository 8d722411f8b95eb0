//! Where words may be parted (`hyphens: auto`), as Firefox does it: by patterns of the
//! language, small letters alone (Gecko's `nsHyphenator.cpp`).

use hypher::{Lang, hyphenate_bounded};
use icu_properties::CodePointMapData;
use icu_properties::props::{GeneralCategory, GeneralCategoryGroup};

/// The fewest letters of a word that is parted (CSS Text 4, `hyphenate-limit-chars: auto`).
const FEWEST: usize = 5;

/// The languages whose words with a capital are parted, too (its `intl.hyphenate-capitalized`).
const CAPITALS: [Lang; 4] = [Lang::Afrikaans, Lang::Dutch, Lang::Finnish, Lang::German];

/// The patterns of a BCP 47 language; `None` where Firefox has none.
pub fn patterns(language: Option<&str>) -> Option<Lang> {
    let tag = language?;
    let primary = tag.split(['-', '_']).next()?.to_ascii_lowercase();
    let [one, other] = <[u8; 2]>::try_from(primary.as_bytes()).ok()?;
    Lang::from_iso(match &[one, other] {
        b"no" => *b"nb",
        b"sk" => *b"cs",
        b"bs" => *b"hr",
        code => *code,
    })
}

/// The bytes of `text` before which a word may go on in the next line. Words that are
/// joined by hyphens are parted there alone, while there is another way.
pub fn points(text: &str, language: Lang) -> Vec<usize> {
    let categories = CodePointMapData::<GeneralCategory>::new();
    let in_word = |c: char| {
        let category = categories.get(c);
        let groups = [GeneralCategoryGroup::Letter, GeneralCategoryGroup::Mark];
        matches!(c, '-' | '\u{ad}' | '\u{2010}')
            || groups.iter().any(|group| group.contains(category))
    };
    let mut found = Vec::new();
    let mut start: Option<usize> = None;
    let ends = text.char_indices().chain([(text.len(), ' ')]);
    for (at, character) in ends {
        match (start, in_word(character)) {
            (None, true) => start = Some(at),
            (Some(from), false) => {
                found.extend(of_word(&text[from..at], language).map(|point| from + point));
                start = None;
            }
            _ => {}
        }
    }
    found
}

/// The bytes of a word before which it may be parted.
fn of_word(word: &str, language: Lang) -> impl Iterator<Item = usize> {
    let mut letters = word.chars();
    let first = letters.next().is_some_and(is_capital);
    // Names and abbreviations stay whole.
    let whole = first && !CAPITALS.contains(&language)
        || letters.any(|c| is_capital(c) || matches!(c, '-' | '\u{ad}' | '\u{2010}'));
    let parted = !whole && word.chars().count() >= FEWEST;
    let (left, right) = match language {
        Lang::Portuguese => (2, 2),
        _ => language.bounds(),
    };
    let parts = parted.then(|| hyphenate_bounded(word, language, left, right));
    let mut ends: Vec<usize> = (parts.into_iter().flatten())
        .scan(0, |end, part| {
            *end += part.len();
            Some(*end)
        })
        .collect();
    ends.pop();
    ends.into_iter()
}

fn is_capital(character: char) -> bool {
    character.to_lowercase().next() != Some(character)
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::*;

    fn parted(text: &str, tag: &str) -> String {
        let mut out = String::new();
        let mut last = 0;
        for point in points(text, patterns(Some(tag)).expect("patterns")) {
            out.push_str(&text[last..point]);
            out.push('-');
            last = point;
        }
        out + &text[last..]
    }

    #[rstest]
    #[case::english("en-GB", "a policy of packages", "a pol-icy of pack-ages")]
    #[case::too_short("en", "into", "into")]
    #[case::names_stay("en", "Harbour timetable SCSI", "Harbour timetable SCSI")]
    #[case::nouns_do_not("de", "Hafenrundfahrt", "Ha-fen-rund-fahrt")]
    #[case::capitals_inside("de", "HafenRundfahrt", "HafenRundfahrt")]
    #[case::each_part("en", "packages/policies", "pack-ages/poli-cies")]
    #[case::joined_by_a_hyphen("ca", "comportar-se fraternalment", "comportar-se fra-ter-nal-ment")]
    #[case::two_letters_at_the_end("pt", "inerente", "ine-ren-te")]
    fn words_are_parted_as_in_firefox(
        #[case] tag: &str,
        #[case] text: &str,
        #[case] expected: &str,
    ) {
        assert_eq!(parted(text, tag), expected);
    }

    #[rstest]
    #[case(Some("ja"))]
    #[case(Some("x"))]
    #[case(Some(""))]
    #[case(None)]
    fn other_languages_have_no_patterns(#[case] tag: Option<&str>) {
        assert!(patterns(tag).is_none());
    }
}
