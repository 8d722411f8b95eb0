//! `text-transform` (CSS Text 4, §2.1): the characters that a text shows are not
//! those that stand in the file.

use std::borrow::Cow;

use icu_casemap::{CaseMapper, TitlecaseMapper};
use icu_locale::LanguageIdentifier;
use icu_properties::CodePointSetData;
use icu_properties::props::Alphabetic;

use crate::style::computed::{CaseChange, Transform};

/// `text` as it shows in `language`.
pub fn transformed<'t>(
    text: &'t str,
    transform: Transform,
    language: Option<&str>,
) -> Cow<'t, str> {
    if transform.is_none() {
        return Cow::Borrowed(text);
    }
    let language = language
        .and_then(|tag| LanguageIdentifier::try_from_str(tag).ok())
        .unwrap_or(LanguageIdentifier::UNKNOWN);
    let mapper = CaseMapper::new();
    let mut text: Cow<'t, str> = match transform.case {
        None => Cow::Borrowed(text),
        Some(CaseChange::Uppercase) => mapper
            .uppercase_to_string(text, &language)
            .into_owned()
            .into(),
        Some(CaseChange::Lowercase) => mapper
            .lowercase_to_string(text, &language)
            .into_owned()
            .into(),
        Some(CaseChange::Capitalize) => capitalized(text, &language).into(),
    };
    if transform.full_width {
        text = text.chars().map(full_width).collect::<String>().into();
    }
    if transform.full_size_kana {
        text = text.chars().map(full_size_kana).collect::<String>().into();
    }
    text
}

/// Puts the first letter of every word into title case and leaves the rest.
fn capitalized(text: &str, language: &LanguageIdentifier) -> String {
    let mapper = TitlecaseMapper::new();
    let letters = CodePointSetData::new::<Alphabetic>();
    let mut result = String::with_capacity(text.len());
    let mut in_word = false;
    for character in text.chars() {
        let letter = letters.contains(character) || character.is_numeric();
        if letter && !in_word {
            let mut buffer = [0; 4];
            let one: &str = character.encode_utf8(&mut buffer);
            result.push_str(&mapper.titlecase_segment_to_string(
                one,
                language,
                icu_casemap::options::TitlecaseOptions::default(),
            ));
        } else {
            result.push(character);
        }
        in_word = letter
            || (in_word && matches!(character, '\'' | '’' | '\u{ad}'))
            || (in_word && unicode_mark(character));
    }
    result
}

fn unicode_mark(character: char) -> bool {
    use icu_properties::CodePointMapData;
    use icu_properties::props::{GeneralCategory, GeneralCategoryGroup};
    let category = CodePointMapData::<GeneralCategory>::new().get(character);
    GeneralCategoryGroup::Mark.contains(category)
}

/// The full-width form of what has one as a compatibility equivalent.
fn full_width(character: char) -> char {
    match character {
        ' ' => '\u{3000}',
        '!'..='~' => char::from_u32(u32::from(character) + 0xfee0).unwrap_or(character),
        '¢' => '￠',
        '£' => '￡',
        '¬' => '￢',
        '¥' => '￥',
        '₩' => '￦',
        _ => character,
    }
}

/// Small kana as full-size kana (CSS Text 4, appendix G).
fn full_size_kana(character: char) -> char {
    const PAIRS: [(char, char); 22] = [
        ('ぁ', 'あ'),
        ('ぃ', 'い'),
        ('ぅ', 'う'),
        ('ぇ', 'え'),
        ('ぉ', 'お'),
        ('ゕ', 'か'),
        ('ゖ', 'け'),
        ('っ', 'つ'),
        ('ゃ', 'や'),
        ('ゅ', 'ゆ'),
        ('ょ', 'よ'),
        ('ゎ', 'わ'),
        ('ァ', 'ア'),
        ('ィ', 'イ'),
        ('ゥ', 'ウ'),
        ('ェ', 'エ'),
        ('ォ', 'オ'),
        ('ッ', 'ツ'),
        ('ャ', 'ヤ'),
        ('ュ', 'ユ'),
        ('ョ', 'ヨ'),
        ('ヮ', 'ワ'),
    ];
    PAIRS
        .iter()
        .find(|(small, _)| *small == character)
        .map_or(character, |(_, full)| *full)
}
