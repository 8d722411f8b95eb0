//! The characters that languages are written with: CLDR exemplar characters
//! (UTS #35, part 2, "Character Elements"), through ICU4X.

use std::sync::LazyLock;

use icu_locale::Locale;
use icu_locale::exemplar_chars::{ExemplarCharacters, ExemplarCharactersBorrowed};
use icu_normalizer::ComposingNormalizerBorrowed;
use icu_properties::CodePointMapData;
use icu_properties::props::Script;

use super::script_name;

/// Tags and names.
const LANGUAGES: &str = include_str!("../../data/languages.txt");

/// A language with exemplar characters.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Language {
    /// The BCP 47 tag.
    pub tag: &'static str,
    /// The English name.
    pub name: &'static str,
    /// The Unicode name of the script that most of its letters belong to.
    pub script: String,
    /// What it is written with, capitals included.
    pub main: Exemplars,
    /// Letters of foreign words and names.
    pub auxiliary: Exemplars,
    /// Punctuation.
    pub punctuation: Exemplars,
    /// Digits and signs of numbers.
    pub numbers: Exemplars,
}

/// A set of exemplar characters.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Exemplars {
    /// Single characters, in order.
    pub characters: Vec<char>,
    /// Letters with marks that Unicode does not compose.
    pub sequences: Vec<String>,
}

static KNOWN: LazyLock<Vec<Language>> = LazyLock::new(|| {
    LANGUAGES
        .lines()
        .filter(|line| !line.starts_with('#'))
        .filter_map(|line| line.split_once(' '))
        .filter_map(|(tag, name)| read(tag, name))
        .collect()
});

/// Every language with exemplar characters, in the order of the tags.
pub fn all() -> &'static [Language] {
    &KNOWN
}

/// Languages whose tags were replaced (`Deprecated` and `Preferred-Value` in the IANA
/// registry of BCP 47), and what replaced them; old catalogues have them still.
const REPLACED: [(&str, &str); 6] = [
    ("iw", "he"),
    ("in", "id"),
    ("ji", "yi"),
    ("jw", "jv"),
    ("mo", "ro"),
    ("sh", "sr-Latn"),
];

/// The tag with hyphens, and with the language that replaced one that is out of use:
/// `iw_IL` is `he-IL`.
pub fn preferred(tag: &str) -> String {
    let tag = tag.replace('_', "-");
    let (language, rest) = tag.split_at(tag.find('-').unwrap_or(tag.len()));
    let replaced = REPLACED
        .iter()
        .find(|(old, _)| old.eq_ignore_ascii_case(language));
    replaced.map_or(tag.clone(), |(_, new)| format!("{new}{rest}"))
}

/// The language of a BCP 47 tag; regions are ignored (`pl-PL` is `pl`), scripts
/// count where there is a choice (`sr-Latn`), tags out of use are known (`iw`).
pub fn find(tag: &str) -> Option<&'static Language> {
    let tag = preferred(tag);
    let exact = |tag: &str| {
        KNOWN
            .iter()
            .find(|language| language.tag.eq_ignore_ascii_case(tag))
    };
    let language = tag.split('-').next()?;
    exact(&tag)
        .or_else(|| {
            let script = tag.split('-').nth(1).filter(|part| part.len() == 4)?;
            exact(&format!("{language}-{script}"))
        })
        .or_else(|| exact(language))
}

fn read(tag: &'static str, name: &'static str) -> Option<Language> {
    let locale: Locale = tag.parse().ok()?;
    let locale = (&locale).into();
    let main = ExemplarCharacters::try_new_main(&locale).ok()?;
    let set = |set: Result<ExemplarCharactersBorrowed<'static>, _>| {
        set.map(|set| gather(&set)).unwrap_or_default()
    };
    let mut main = gather(&main);
    let language = tag.split('-').next().unwrap_or(tag);
    main.add_capitals(language);
    Some(Language {
        tag,
        name,
        script: script(&main.characters),
        main,
        auxiliary: set(ExemplarCharacters::try_new_auxiliary(&locale)),
        punctuation: set(ExemplarCharacters::try_new_punctuation(&locale)),
        numbers: set(ExemplarCharacters::try_new_numbers(&locale)),
    })
}

/// Single characters, and those sequences that stay sequences when composed:
/// digraphs such as "ch" are written with their letters.
fn gather(set: &ExemplarCharactersBorrowed<'_>) -> Exemplars {
    let composer = ComposingNormalizerBorrowed::new_nfc();
    let mut exemplars = Exemplars::default();
    exemplars.characters.extend(set.code_points().iter_chars());
    for string in set.strings().iter() {
        let string = composer.normalize(string);
        let marked = string.chars().skip(1).any(is_mark);
        if marked && string.chars().count() > 1 {
            exemplars.sequences.push(string.into_owned());
        } else {
            exemplars.characters.extend(string.chars());
        }
    }
    exemplars.tidy();
    exemplars
}

fn is_mark(character: char) -> bool {
    use icu_properties::props::{GeneralCategory, GeneralCategoryGroup};
    GeneralCategoryGroup::Mark.contains(CodePointMapData::<GeneralCategory>::new().get(character))
}

impl Exemplars {
    /// CLDR lists small letters only; text has capitals too. Turkic languages
    /// dot their capital I.
    fn add_capitals(&mut self, language: &str) {
        let capitals: Vec<char> = self
            .characters
            .iter()
            .flat_map(|letter| match (*letter, language) {
                ('i', "tr" | "az" | "tt" | "crh" | "kk") => vec!['İ'],
                // Georgian capitals are for whole words only.
                ('\u{10d0}'..='\u{10ff}', _) => Vec::new(),
                (letter, _) => {
                    let upper: Vec<char> = letter.to_uppercase().collect();
                    // ß and the like have no capital of their own.
                    if upper.len() == 1 { upper } else { Vec::new() }
                }
            })
            .collect();
        self.characters.extend(capitals);
        self.tidy();
    }

    fn tidy(&mut self) {
        self.characters.sort_unstable();
        self.characters.dedup();
        self.sequences.sort_unstable();
        self.sequences.dedup();
    }

    /// How many there are.
    pub fn len(&self) -> usize {
        self.characters.len() + self.sequences.len()
    }

    /// Whether there are none.
    pub fn is_empty(&self) -> bool {
        self.len() == 0
    }
}

/// The script of most of the letters.
fn script(letters: &[char]) -> String {
    let scripts = CodePointMapData::<Script>::new();
    let mut counts: Vec<(String, usize)> = Vec::new();
    for letter in letters {
        let name = script_name(scripts.get(*letter));
        match counts.iter_mut().find(|(known, _)| *known == name) {
            Some((_, count)) => *count += 1,
            None => counts.push((name, 1)),
        }
    }
    counts.retain(|(name, _)| !["Common", "Inherited"].contains(&name.as_str()));
    counts
        .into_iter()
        .max_by_key(|(_, count)| *count)
        .map_or_else(|| "Common".to_owned(), |(name, _)| name)
}
