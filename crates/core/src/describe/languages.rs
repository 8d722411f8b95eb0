//! Which languages a face can write: the letters, and whether the script works.

use std::collections::{BTreeSet, HashMap};

use icu_normalizer::DecomposingNormalizerBorrowed;
use serde::Serialize;

use tidy_lattice_coverage::lattice::{Fit, Prober, ScriptShaping, ShapingNeed, fit};
use tidy_lattice_glyphs::font::{Face, Works};
use tidy_lattice_glyphs::shaping::Shaper;
use tidy_lattice_glyphs::text::exemplars::{self, Exemplars, Language};
use tidy_lattice_glyphs::text::{Character, is_rare, is_shown};

/// A face that lacks more than this share of a language's characters does not
/// have the language.
const MOST_LACKING: f64 = 0.25;

/// A face that lacks more letters than this lacks more than rare ones.
const MOST_RARE: usize = 2;

/// How many lacking characters are told.
const TOLD: usize = 200;

/// How a face stands to a language.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct LanguageVerdict {
    /// The BCP 47 tag.
    pub tag: String,
    /// The English name.
    pub name: String,
    /// The script's Unicode name.
    pub script: String,
    /// The verdict.
    pub verdict: Verdict,
    /// Whether the face can write the language: it has the main set whole, or but for
    /// one or two rare letters, and the script's shaping works.
    pub writes: bool,
    /// What the language is written with, capitals included.
    pub main: SetCoverage,
    /// Letters of foreign words and names.
    pub auxiliary: SetCoverage,
    /// Punctuation.
    pub punctuation: SetCoverage,
    /// Digits and signs of numbers.
    pub numbers: SetCoverage,
    /// How well the script's shaping works; `None` where letters are enough.
    pub shaping: Option<Works>,
    /// Letters with marks that are not placed on them.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub unplaced: Vec<String>,
}

/// The verdict on a language.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Verdict {
    /// Everything is there and works.
    Complete,
    /// One or two letters are lacking that the language hardly uses, such as ÿ in
    /// French.
    AllButRare,
    /// A few characters are lacking, or marks are not placed on a few letters.
    Lacks,
    /// The letters are there, but the script does not work, or only partly.
    LettersOnly,
    /// A quarter of the characters or more is lacking.
    No,
}

impl Verdict {
    /// Whether the language can be written.
    pub fn writes(self) -> bool {
        matches!(self, Verdict::Complete | Verdict::AllButRare)
    }

    /// The verdict in words.
    pub fn label(self) -> &'static str {
        match self {
            Verdict::Complete => "complete",
            Verdict::AllButRare => "all but rare letters",
            Verdict::Lacks => "letters missing",
            Verdict::LettersOnly => "letters only",
            Verdict::No => "no",
        }
    }
}

/// What a face has of one set of exemplar characters.
#[derive(Debug, Clone, Default, PartialEq, Serialize, schemars::JsonSchema)]
pub struct SetCoverage {
    /// Characters and sequences that it has.
    pub covered: usize,
    /// Characters and sequences of the set.
    pub of: usize,
    /// The first 200 that it lacks.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub lacking: Vec<Character>,
}

/// Judges `face` for the languages `tags`, or for every one that it has some of
/// where there are none.
pub(super) fn judge(
    face: &Face,
    tags: Option<&[&'static Language]>,
    shaping: &[ScriptShaping],
) -> Vec<LanguageVerdict> {
    let mut judge = Judge {
        face,
        shaper: Shaper::new(face),
        prober: Prober::new(face),
        shaping,
        known: HashMap::new(),
    };
    match tags {
        Some(languages) => languages
            .iter()
            .map(|language| judge.language(language))
            .collect(),
        None => exemplars::all()
            .iter()
            .map(|language| judge.language(language))
            .collect(),
    }
}

struct Judge<'a> {
    face: &'a Face,
    shaper: Shaper<'a>,
    prober: Prober<'a>,
    shaping: &'a [ScriptShaping],
    known: HashMap<char, bool>,
}

/// Whether what is lacking of a main set is one or two rare letters, capital and small.
fn all_rare(language: &Language, lacking: &[char]) -> bool {
    let letters: BTreeSet<String> = lacking
        .iter()
        .map(|letter| letter.to_lowercase().collect())
        .collect();
    letters.len() <= MOST_RARE && lacking.iter().all(|c| is_rare(language.tag, *c))
}

/// Whether a letter with marks, composed or not, is rare: one of its characters is.
fn is_rare_cluster(language: &Language, cluster: &str) -> bool {
    cluster.chars().any(|c| is_rare(language.tag, c))
}

impl Judge<'_> {
    fn language(&mut self, language: &Language) -> LanguageVerdict {
        let missing = self.lacking(&language.main);
        let main = self.set(&language.main);
        let shaping = self.shaping_of(language);
        let unplaced: Vec<String> = language
            .main
            .sequences
            .iter()
            // Scripts with probes of their own are judged by those.
            .filter(|sequence| shaping.is_none() && sequence.chars().all(|c| self.face.maps(c)))
            .filter(|sequence| !self.prober.places_marks(sequence))
            .cloned()
            .collect();
        let lacking = main.of - main.covered;
        let verdict = if main.covered == 0 || lacking as f64 > MOST_LACKING * main.of as f64 {
            Verdict::No
        } else if lacking > 0 && !all_rare(language, &missing) {
            Verdict::Lacks
        } else if shaping.is_some_and(|works| works != Works::Works) {
            Verdict::LettersOnly
        } else if !unplaced
            .iter()
            .all(|letter| is_rare_cluster(language, letter))
        {
            Verdict::Lacks
        } else if lacking > 0 || !unplaced.is_empty() {
            Verdict::AllButRare
        } else {
            Verdict::Complete
        };
        LanguageVerdict {
            tag: language.tag.to_owned(),
            name: language.name.to_owned(),
            script: language.script.clone(),
            verdict,
            writes: verdict.writes(),
            main,
            auxiliary: self.set(&language.auxiliary),
            punctuation: self.set(&language.punctuation),
            numbers: self.set(&language.numbers),
            shaping,
            unplaced,
        }
    }

    /// How well the script works for the letters of `language`: a letter that
    /// only another language uses does not count.
    fn shaping_of(&self, language: &Language) -> Option<Works> {
        let script = self
            .shaping
            .iter()
            .find(|shaping| shaping.script == language.script)?;
        let used = |letter: &String| {
            let mut characters = letter.chars();
            characters.any(|c| language.main.characters.binary_search(&c).is_ok())
        };
        let checks = script.checks.iter().map(|check| match check.need {
            ShapingNeed::Joining if !check.failed.iter().any(used) => Works::Works,
            _ => check.works,
        });
        checks.min().or(Some(script.works))
    }

    /// The characters of a set, those of its sequences too, that the face lacks.
    fn lacking(&mut self, exemplars: &Exemplars) -> Vec<char> {
        let sequences = exemplars.sequences.iter().flat_map(|one| one.chars());
        let all = exemplars.characters.iter().copied().chain(sequences);
        let mut lacking: Vec<char> = all.filter(|c| is_shown(*c) && !self.has(*c)).collect();
        lacking.sort_unstable();
        lacking.dedup();
        lacking
    }

    fn set(&mut self, exemplars: &Exemplars) -> SetCoverage {
        let mut coverage = SetCoverage::default();
        for character in exemplars.characters.iter().copied() {
            // Joiners and the like need no glyph.
            if !is_shown(character) {
                continue;
            }
            coverage.of += 1;
            coverage.covered += usize::from(self.has(character));
        }
        for sequence in &exemplars.sequences {
            coverage.of += 1;
            coverage.covered += usize::from(sequence.chars().all(|c| !is_shown(c) || self.has(c)));
        }
        coverage.lacking = self
            .lacking(exemplars)
            .into_iter()
            .take(TOLD)
            .map(Character::describe)
            .collect();
        coverage
    }

    fn has(&mut self, character: char) -> bool {
        if self.face.maps(character) {
            return true;
        }
        if let Some(known) = self.known.get(&character) {
            return *known;
        }
        let decomposer = DecomposingNormalizerBorrowed::new_nfd();
        let mut buffer = [0; 4];
        let cluster: &str = character.encode_utf8(&mut buffer);
        // What is put together of letter and marks needs the marks in place.
        let has = fit(self.face, &mut self.shaper, cluster) == Fit::Whole
            && self.prober.places_marks(&decomposer.normalize(cluster));
        self.known.insert(character, has);
        has
    }
}
