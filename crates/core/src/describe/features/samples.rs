//! Samples of what a feature does: text found from its own lookups, shaped with
//! the feature off and on.

use std::collections::HashMap;

use icu_normalizer::ComposingNormalizerBorrowed;
use icu_properties::CodePointMapData;
use icu_properties::props::JoiningType;
use serde::Serialize;

use tidy_lattice_glyphs::font::Face;
use tidy_lattice_glyphs::font::lookups::Effect;
use tidy_lattice_glyphs::shaping::{PlacedGlyph, ShapeSettings, Shaper};
use tidy_lattice_glyphs::text::is_shown;

/// How many samples a feature gets.
const MOST: usize = 3;
/// A sample of this many characters is enough by itself.
const LONG: usize = 7;
/// How many candidates are tried for each.
const TRIALS: usize = 160;

/// Text that a feature changes.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct Sample {
    /// The text.
    pub text: String,
    /// The language that it must be in, by its BCP 47 tag.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub language: Option<String>,
    /// The glyphs without the feature, by number.
    pub before: Vec<u32>,
    /// The glyphs with it; the same where only places change.
    pub after: Vec<u32>,
}

/// Languages for `locl`, by OpenType language tag.
const LANGUAGES: [(&str, &str); 24] = [
    ("AZE", "az"),
    ("BGR", "bg"),
    ("CAT", "ca"),
    ("CRT", "crh"),
    ("ESP", "es"),
    ("JAN", "ja"),
    ("KAZ", "kk"),
    ("KOR", "ko"),
    ("MAH", "mh"),
    ("MAR", "mr"),
    ("MKD", "mk"),
    ("MOL", "ro"),
    ("NEP", "ne"),
    ("NLD", "nl"),
    ("PLK", "pl"),
    ("ROM", "ro"),
    ("SND", "sd"),
    ("SRB", "sr"),
    ("TAT", "tt"),
    ("TRK", "tr"),
    ("URD", "ur"),
    ("ZHH", "zh-HK"),
    ("ZHS", "zh-Hans"),
    ("ZHT", "zh-Hant"),
];

/// Texts that are tried where the lookups name no example: contexts by class.
const COMMON: [&str; 12] = [
    "1/2 3/4",
    "0123456789",
    "1st 2nd",
    "2a 4o",
    "H2O",
    "->",
    "10:30",
    "fi ffl",
    "AVATAR",
    "(A-B)",
    "the to",
    "www",
];

/// Finds samples in one face.
pub struct Sampler<'a> {
    shaper: Shaper<'a>,
    characters: HashMap<u32, char>,
}

impl<'a> Sampler<'a> {
    pub fn new(face: &'a Face) -> Self {
        let mut characters: HashMap<u32, char> = HashMap::new();
        for (character, glyph) in face.mapped() {
            let character = written(character);
            let known = characters.entry(glyph).or_insert(character);
            // The plainest of the characters that share a glyph.
            if rank(character) < rank(*known) {
                *known = character;
            }
        }
        Sampler {
            shaper: Shaper::new(face),
            characters,
        }
    }

    /// The characters of `glyphs`; `None` where one has no character.
    pub fn letters(&self, glyphs: &[u32]) -> Option<String> {
        glyphs
            .iter()
            .map(|glyph| self.characters.get(glyph))
            .collect()
    }

    /// Samples of the feature `tag`, which has these effects.
    pub fn samples(
        &mut self,
        tag: &str,
        systems: &[&str],
        effects: [Option<&Effect>; 2],
    ) -> Vec<Sample> {
        let candidates = self.candidates(tag, effects);
        let languages = languages(tag, systems);
        let mut samples: Vec<Sample> = Vec::new();
        for language in languages {
            for text in candidates.iter().take(TRIALS) {
                if samples.len() >= MOST {
                    return samples;
                }
                // What an earlier sample shows need not be shown again.
                let is_known = |sample: &Sample| {
                    sample.language.is_none() && sample.text.contains(text.as_str())
                };
                if samples.iter().any(is_known) {
                    continue;
                }
                let sample = self.verified(tag, text, language);
                let long = sample.is_some() && text.chars().count() >= LONG;
                samples.extend(sample);
                // A row of letters or figures shows enough by itself.
                if long && language.is_none() {
                    return samples;
                }
                // One sample a language is enough to tell them apart.
                if language.is_some()
                    && samples
                        .last()
                        .is_some_and(|s| s.language.as_deref() == language)
                {
                    break;
                }
            }
        }
        samples
    }

    /// The sample of `text`, where the feature changes it.
    fn verified(&mut self, tag: &str, text: &str, language: Option<&str>) -> Option<Sample> {
        let features = |value| [(tag, value)];
        let (off, on) = (features(0), features(1));
        let mut shaped = |features: &[(&str, u32)], language| {
            self.shaper.glyphs(
                text,
                ShapeSettings {
                    features,
                    language,
                    script: None,
                },
            )
        };
        let (before, after) = match language {
            // What a language changes shows against text of none.
            Some(_) => (shaped(&[], None), shaped(&[], language)),
            None => (shaped(&off, None), shaped(&on, None)),
        };
        let glyphs = |placed: &[PlacedGlyph]| placed.iter().map(|glyph| glyph.glyph).collect();
        (before != after).then(|| Sample {
            text: text.to_owned(),
            language: language.map(str::to_owned),
            before: glyphs(&before),
            after: glyphs(&after),
        })
    }

    /// Texts to try, the likeliest first.
    fn candidates(&self, tag: &str, effects: [Option<&Effect>; 2]) -> Vec<String> {
        let mut candidates: Vec<String> = Vec::new();
        let [sub, pos] = effects;
        for effect in [sub, pos].into_iter().flatten() {
            let mut singles: Vec<char> = effect
                .inputs
                .iter()
                .filter_map(|glyph| self.characters.get(glyph).copied())
                .filter(|character| is_shown(*character))
                .collect();
            singles.sort_by_key(|character| rank(*character));
            singles.dedup();
            let mut ligatures: Vec<String> = effect
                .ligatures
                .iter()
                .filter_map(|glyphs| self.letters(glyphs))
                .collect();
            // Short ligatures of plain letters are what people look for.
            ligatures.sort_by_key(|letters| {
                let worst = letters.chars().map(rank).max().unwrap_or_default();
                (worst.0, letters.chars().count(), letters.clone())
            });
            candidates.extend(ligatures);
            let plain: String =
                if matches!(tag, "kern" | "mark" | "mkmk" | "abvm" | "blwm" | "ccmp") {
                    String::new()
                } else if singles.iter().filter(|c| c.is_ascii_digit()).count() == 10 {
                    "0123456789".to_owned()
                } else {
                    singles.iter().take(10).collect()
                };
            candidates.push(plain);
            match tag {
                "kern" => {
                    candidates.extend(["AV", "To", "Ty", "LT", "P.", "r,"].map(str::to_owned));
                }
                "mark" | "abvm" | "blwm" => {
                    let bases = ['o', 'n', '\u{628}', '\u{915}', '\u{e01}', '\u{5d1}'];
                    let marks = singles.iter().take(20);
                    candidates
                        .extend(marks.flat_map(|mark| bases.map(|base| format!("{base}{mark}"))));
                }
                "mkmk" => {
                    let marks = singles.iter().take(20);
                    candidates.extend(marks.map(|mark| format!("o{mark}{mark}")));
                }
                _ => {}
            }
            candidates.extend(
                effect
                    .contexts
                    .iter()
                    .filter_map(|glyphs| self.letters(glyphs)),
            );
            candidates.extend(singles.iter().take(40).map(char::to_string));
            // Joined forms show only between letters.
            let joining = CodePointMapData::<JoiningType>::new();
            let joined = singles
                .iter()
                .filter(|c| joining.get(**c) == JoiningType::DualJoining);
            candidates.extend(joined.take(20).map(|c| format!("{c}{c}{c}")));
        }
        candidates.extend(COMMON.map(str::to_owned));
        candidates.retain(|text| !text.is_empty());
        let mut seen = std::collections::HashSet::new();
        candidates.retain(|text| seen.insert(text.clone()));
        candidates
    }
}

/// The character that text is written with: shapers pick the presentation forms
/// of Arabic themselves.
fn written(character: char) -> char {
    if !matches!(character, '\u{fb50}'..='\u{fdff}' | '\u{fe70}'..='\u{feff}') {
        return character;
    }
    let mut buffer = [0; 4];
    let normalizer = ComposingNormalizerBorrowed::new_nfkc();
    let plain = normalizer.normalize(character.encode_utf8(&mut buffer));
    let mut letters = plain.chars();
    match (letters.next(), letters.next()) {
        (Some(letter), None) => letter,
        _ => character,
    }
}

/// Small letters, figures, capitals, other ASCII, then everything else.
fn rank(character: char) -> (u8, u32) {
    let group = match character {
        'a'..='z' => 0,
        '0'..='9' => 1,
        'A'..='Z' => 2,
        ' '..='~' => 3,
        // Compatibility characters come last.
        '\u{e000}'..='\u{ffff}' => 6,
        _ if character.is_alphabetic() => 4,
        _ => 5,
    };
    (group, u32::from(character))
}

/// Languages to try: none, or for `locl` those that the font knows.
fn languages<'l>(tag: &str, systems: &[&str]) -> Vec<Option<&'l str>> {
    if tag != "locl" {
        return vec![None];
    }
    LANGUAGES
        .iter()
        .filter(|(opentype, _)| {
            systems
                .iter()
                .any(|system| system.rsplit('/').next() == Some(opentype))
        })
        .map(|(_, language)| Some(*language))
        .collect()
}
