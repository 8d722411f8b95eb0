//! Which scripts the tables of a card carry.

use icu_properties::CodePointMapData;
use icu_properties::props::{GeneralCategory, GeneralCategoryGroup};
use tidy_lattice_coverage::lattice::{Fit, fit, needs_shaping};
use tidy_lattice_glyphs::font::{Face, WidthModel};
use tidy_lattice_glyphs::shaping::Shaper;

use super::alphabets::Alphabet;

/// Times, dates and prices, which texts are full of besides words.
const FIGURES: [&str; 8] = [
    "05:40,", "12:25", "19:55.", "2,350.00", "14.09.", "87", "1966", "3.70",
];

/// How far the width of a text may be off, as a share of it.
const TOLERANCE: f64 = 0.001;

/// Texts of every script, as the face itself sets them.
pub struct Check {
    /// How much of the tolerance a smaller card may take.
    room: f64,
    scripts: Vec<(String, Vec<Text>)>,
}

/// A text as words.
pub struct Text {
    /// The words.
    pub words: Vec<String>,
    /// Their width together in font units, shaped.
    pub units: i64,
}

impl Check {
    /// Shapes the texts of `alphabets`.
    pub fn new(face: &Face, alphabets: &[Alphabet]) -> Self {
        let mut shaper = Shaper::new(face);
        let scripts = alphabets.iter().map(|alphabet| {
            let texts = texts(face, &mut shaper, alphabet);
            let texts = texts.into_iter().map(|words| Text {
                units: words.iter().map(|word| shaper.units(word)).sum(),
                words,
            });
            (alphabet.script.clone(), texts.collect())
        });
        Check {
            room: 0.7,
            scripts: scripts.collect(),
        }
    }

    /// Texts of scripts that were measured elsewhere: words, and their width together in
    /// font units.
    pub fn measured(scripts: Vec<(String, Vec<Text>)>) -> Self {
        Check {
            // These texts are short: others must stay right as well.
            room: 0.2,
            scripts,
        }
    }

    /// Whether there is a text of `script`.
    pub fn tries(&self, script: &str) -> bool {
        let mut scripts = self.scripts.iter();
        scripts.any(|(known, texts)| known == script && !texts.is_empty())
    }

    /// The scripts whose texts come out wrong by more than 0.1 %, or of which
    /// there is no text to try though they need shaping.
    pub fn unknown_scripts(&self, model: &WidthModel) -> Vec<String> {
        let unknown = self.scripts.iter().filter(|(script, texts)| {
            let wrong = texts.iter().any(|text| text.error(model) > TOLERANCE);
            wrong || (texts.is_empty() && needs_shaping(script))
        });
        unknown.map(|(script, _)| script.clone()).collect()
    }

    /// Whether `smaller` measures all scripts but the `unknown` ones hardly worse
    /// than `whole`: other texts must stay right as well.
    pub fn holds(&self, smaller: &WidthModel, whole: &WidthModel, unknown: &[String]) -> bool {
        let known = self
            .scripts
            .iter()
            .filter(|(script, _)| !unknown.contains(script));
        known.into_iter().flat_map(|(_, texts)| texts).all(|text| {
            let allowed = (self.room * TOLERANCE).max(text.error(whole) + 0.1 * TOLERANCE);
            text.error(smaller) <= allowed.min(TOLERANCE)
        })
    }
}

impl Text {
    /// How far `model` is off, as a share of the width.
    fn error(&self, model: &WidthModel) -> f64 {
        let predicted: i64 = self.words.iter().map(|word| model.units(word)).sum();
        (self.units - predicted).unsigned_abs() as f64 / self.units.max(1) as f64
    }
}

/// Takes what was measured of the scripts `unknown` out of `model`.
pub fn forget(alphabets: &[Alphabet], unknown: &[String], model: &mut WidthModel) {
    for alphabet in alphabets.iter().filter(|a| unknown.contains(&a.script)) {
        let of_script = |letter: &char| alphabet.letters.contains(letter);
        model
            .pairs
            .retain(|(first, second), _| !of_script(first) && !of_script(second));
        model.runs.retain(|run, _| !run.iter().any(of_script));
        model.joined.retain(|letter, _| !of_script(letter));
    }
}

/// Texts of the alphabet's languages that the face can show, each as words:
/// the samples of languages, and for other scripts that need no shaping words
/// made up of their letters.
fn texts(face: &Face, shaper: &mut Shaper<'_>, alphabet: &Alphabet) -> Vec<Vec<String>> {
    let mut texts: Vec<Vec<String>> = Vec::new();
    for words in alphabet.words().into_iter().map(|halves| halves.check) {
        let shown = words
            .into_iter()
            .filter(|word| fit(face, shaper, word) == Fit::Whole);
        texts.push(shown.map(|word| format!(" {word} ")).collect());
    }
    let simple = !needs_shaping(&alphabet.script) || alphabet.script == "Hebrew";
    if texts.is_empty() && simple {
        texts.push(made_up(alphabet));
    }
    texts.retain(|text| !text.is_empty());
    for text in &mut texts {
        text.extend(FIGURES.map(|figures| format!(" {figures} ")));
    }
    texts
}

/// Words that have every letter, each beside several others.
fn made_up(alphabet: &Alphabet) -> Vec<String> {
    let categories = CodePointMapData::<GeneralCategory>::new();
    let letters: Vec<char> = alphabet
        .letters
        .iter()
        .copied()
        .filter(|c| GeneralCategoryGroup::Letter.contains(categories.get(*c)))
        .collect();
    let mut words = Vec::new();
    for step in [1, 3, 7, 12] {
        for start in 0..letters.len() {
            let picked = (0..5).map(|place| letters[(start + place * step) % letters.len()]);
            let mut word: Vec<char> = picked.collect();
            // Capitals come first, as in text.
            word.sort_by_key(|letter| !letter.is_uppercase());
            words.push(word.into_iter().collect());
        }
    }
    words
}
