//! What runs of three and more characters differ from their advances and pairs:
//! longer ligatures, conjuncts of Indic scripts, and runs from samples of
//! languages.

use std::collections::HashSet;

use foldhash::HashMap;

use icu_normalizer::properties::CanonicalCombiningClassMap;
use icu_properties::CodePointMapData;
use icu_properties::props::{GeneralCategory, GeneralCategoryGroup, JoiningType};
use tidy_lattice_glyphs::font::lookups::substituted_by;
use tidy_lattice_glyphs::font::{Face, RunTable, WidthModel};
use tidy_lattice_glyphs::shaping::Shaper;

use super::alphabets::Alphabet;
use super::pairs::SUBSTITUTING;

/// The most runs of each kind that are tried.
const MOST: usize = 4000;

/// The longest ligature that is recorded, in characters.
const LONGEST: usize = 6;

/// Measures runs of every alphabet.
pub fn measure(face: &Face, alphabets: &[Alphabet], model: &mut WidthModel) {
    let mut shaper = Shaper::new(face);
    let mut candidates = ligatures(face, alphabets);
    candidates.extend(figures(face));
    for alphabet in alphabets {
        candidates.extend(conjuncts(alphabet));
        candidates.extend(joined_ligatures(alphabet, model));
        candidates.extend(sampled(alphabet));
    }
    // Longer runs are measured on top of shorter ones.
    candidates.sort_by_key(|run| (run.chars().count(), run.clone()));
    candidates.dedup();
    for run in candidates {
        learn(&mut shaper, &run, model);
    }
}

/// Adds `run` where the model measures it wrongly.
fn learn(shaper: &mut Shaper<'_>, run: &str, model: &mut WidthModel) {
    let letters = model.letters(run);
    if letters.len() < 3 || letters.len() > LONGEST {
        return;
    }
    let shaped = shaper.units(run);
    if shaped == model.units(run) {
        return;
    }
    // The longest run counts alone, so what shorter ones said is taken back.
    model.add_run(letters.clone(), 0);
    let differs = i32::try_from(shaped - model.units(run)).unwrap_or(0);
    model.add_run(letters, differs);
}

/// The letters of ligatures of three and more glyphs, where texts have them.
fn ligatures(face: &Face, alphabets: &[Alphabet]) -> Vec<String> {
    let frequent: HashSet<char> = alphabets.iter().flat_map(Alphabet::all).collect();
    let mut characters: HashMap<u32, char> = HashMap::default();
    for (character, glyph) in face.mapped() {
        characters.entry(glyph).or_insert(character);
    }
    let effect = substituted_by(face, &SUBSTITUTING);
    let texts = effect.ligatures.iter().filter_map(|glyphs| {
        let known = glyphs.iter().map(|glyph| characters.get(glyph));
        known.collect::<Option<String>>()
    });
    texts
        .filter(|text| (3..=LONGEST).contains(&text.chars().count()))
        .filter(|text| text.chars().all(|c| frequent.contains(&c)))
        .take(MOST)
        .collect()
}

/// Signs between figures, which some faces lift or move: `12:30`, `3×4`.
fn figures(face: &Face) -> Vec<String> {
    const SIGNS: &str = ":.,-–—×x/+*'’ ";
    let signs: Vec<char> = SIGNS.chars().filter(|c| face.maps(*c)).collect();
    let figures: Vec<char> = ('0'..='9').filter(|c| face.maps(*c)).collect();
    let mut texts = Vec::new();
    for sign in signs {
        for first in &figures {
            for second in &figures {
                texts.push(format!("{first}{sign}{second}"));
            }
        }
    }
    texts
}

/// Consonant, virama, consonant.
fn conjuncts(alphabet: &Alphabet) -> Vec<String> {
    const VIRAMA: u8 = 9;
    let classes = CanonicalCombiningClassMap::new();
    let categories = CodePointMapData::<GeneralCategory>::new();
    let viramas = alphabet
        .letters
        .iter()
        .filter(|letter| classes.get_u8(**letter) == VIRAMA);
    let consonants: Vec<char> = alphabet
        .letters
        .iter()
        .copied()
        .filter(|letter| GeneralCategoryGroup::Letter.contains(categories.get(*letter)))
        .collect();
    let mut texts = Vec::new();
    for virama in viramas {
        for first in &consonants {
            for second in &consonants {
                texts.push(format!("{first}{virama}{second}"));
            }
        }
    }
    texts.truncate(MOST);
    texts
}

/// Ligatures of joining scripts after a letter that joins: the pair's
/// correction was measured at the start of a run of letters.
fn joined_ligatures(alphabet: &Alphabet, model: &WidthModel) -> Vec<String> {
    let joining = CodePointMapData::<JoiningType>::new();
    let before: Vec<char> = alphabet
        .letters
        .iter()
        .copied()
        .filter(|letter| joining.get(*letter) == JoiningType::DualJoining)
        .collect();
    let mut pairs: Vec<&(char, char)> = model
        .pairs
        .keys()
        .filter(|(first, second)| before.contains(first) && alphabet.letters.contains(second))
        .collect();
    pairs.sort_unstable();
    let texts = pairs
        .into_iter()
        .flat_map(|(first, second)| before.iter().map(move |b| format!("{b}{first}{second}")));
    texts.take(MOST).collect()
}

/// Every three and four characters in a row in the samples of the alphabet's
/// languages.
fn sampled(alphabet: &Alphabet) -> Vec<String> {
    let mut texts = Vec::new();
    for word in alphabet.words().into_iter().flat_map(|halves| halves.learn) {
        let letters: Vec<char> = word.chars().collect();
        for length in [3, 4] {
            let runs = letters.windows(length);
            texts.extend(runs.map(|run| run.iter().collect::<String>()));
        }
    }
    texts.sort_unstable();
    texts.dedup();
    texts.truncate(MOST);
    texts
}

/// The runs as they stand on a card.
pub fn table(model: &WidthModel) -> RunTable {
    let mut runs: Vec<(&Vec<char>, &i32)> = model.runs.iter().collect();
    runs.sort_unstable();
    let mut table = RunTable::new();
    for (run, value) in runs {
        if let Some((last, start)) = run.split_last() {
            let by_value = table.entry(start.iter().collect()).or_default();
            by_value.entry(*value).or_default().push(*last);
        }
    }
    table
}
