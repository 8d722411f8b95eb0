//! What a page measures, as its script reads it.

use std::collections::{BTreeMap, BTreeSet};

use base64::Engine as _;
use base64::prelude::BASE64_STANDARD;
use icu_normalizer::properties::CanonicalCombiningClassMap;
use icu_properties::CodePointMapData;
use icu_properties::props::JoiningType;
use serde::Serialize;
use tidy_lattice_coverage::lattice::{needs_shaping, shaping_probes};
use tidy_lattice_coverage::platform::Platform;
use tidy_lattice_documents::style::GENERICS;
use tidy_lattice_glyphs::font::{Class, Slope};
use tidy_lattice_glyphs::text::exemplars::{self, Language};
use tidy_lattice_glyphs::text::words::{self, WordCounts};

use super::probe::probe;
use super::result::SCHEMA;
use crate::record::alphabets;

/// Words of a language that runs are learned from: the most frequent ones; and of one whose
/// script is shaped letter by letter, where hardly any run differs.
const LEARN: usize = 120;
const LEARN_PLAIN: usize = 50;

/// Words of a language that cards are checked with, drawn as they occur.
const CHECK: usize = 90;

/// Any; the same words each time.
const SEED: u64 = 21;

/// Letters and signs that are kerned most: by these it is seen whether a letter with a mark
/// behaves as the one without.
const KERNED: &str = "AVTWYLPFKRaoevwyrftkc.,-'’ΑΔΛΤΥΓαογτυАГТУЛРаоуглт";

/// What stands beside letters of every script; other signs are tried with Latin ones.
const USUAL: &str = "0123456789.,:;!?'\"()-/«»“”’–—…";

/// Ligatures of three and more letters, which words may not have.
const RUNS: [&str; 26] = [
    "ffi", "ffl", "fft", "fff", "ffj", "ffb", "ffh", "ffk", "ffy", "fffi", "www", "...", "===",
    "!==", "-->", "<--", "<!--", "<=>", "=>>", ">>>", "<<<", "///", "&&&", "|||", "***", "###",
];

/// Signs between figures, which some faces lift or move.
const SIGNS: &str = ":.,-–—×x/+*'’ ";

/// All that a page measures.
#[derive(Debug, Clone, Serialize)]
pub struct Plan {
    /// The `schema` of the result.
    pub schema: &'static str,
    /// The version of this program.
    pub version: &'static str,
    /// The probe font, in Base64.
    probe: String,
    /// Titles of platforms, which families name by their places.
    pub platforms: Vec<String>,
    /// Families to look for.
    pub families: Vec<PlanFamily>,
    /// CSS keywords of generic families.
    pub generics: Vec<&'static str>,
    languages: Vec<PlanLanguage>,
    scripts: Vec<PlanScript>,
    /// Unicode names of scripts that marks may be of.
    script_names: BTreeSet<String>,
    /// Letters that join on both sides, and on the side of what comes before.
    dual: String,
    right: String,
    shared: &'static str,
    kerned: &'static str,
    usual: &'static str,
    runs: [&'static str; 26],
    signs: &'static str,
    probes: Vec<PlanProbes>,
}

/// A family to look for.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct PlanFamily {
    /// Its name.
    pub name: String,
    /// Its class, where that is known.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub class: Option<Class>,
    /// Places in [`Plan::platforms`] of those that have it; none where the user named it.
    pub on: Vec<usize>,
    /// Its faces; the page guesses them where there are none.
    pub faces: Vec<PlanFace>,
}

/// A face to look for.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct PlanFace {
    /// The full name, for `local()`.
    pub full: String,
    /// The PostScript name, for `local()`.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub postscript: Option<String>,
    /// The weight on the scale of `font-weight`; 400 is not told.
    #[serde(skip_serializing_if = "is_regular")]
    pub weight: f32,
    /// `font-style`; `normal` is not told.
    #[serde(skip_serializing_if = "is_upright")]
    pub style: Slope,
}

// Pages have hundreds of faces, most of them so.
fn is_regular(weight: &f32) -> bool {
    *weight == 400.0
}

fn is_upright(style: &Slope) -> bool {
    *style == Slope::Normal
}

#[derive(Debug, Clone, Serialize)]
struct PlanLanguage {
    tag: &'static str,
    script: String,
    learn: Vec<&'static str>,
    check: Vec<String>,
}

#[derive(Debug, Clone, Serialize)]
struct PlanScript {
    name: String,
    letters: String,
    viramas: String,
}

#[derive(Debug, Clone, Serialize)]
struct PlanProbes {
    script: String,
    needs: Vec<(&'static str, Vec<String>)>,
}

impl Plan {
    /// The languages that can be measured: those with word counts, by their tags.
    pub fn languages() -> impl Iterator<Item = &'static str> {
        words::tags()
    }

    /// The language of a BCP 47 tag among [`Plan::languages`].
    pub fn language(tag: &str) -> Option<&'static str> {
        WordCounts::of(tag).map(|counts| counts.tag)
    }

    /// A plan for these languages (tags that [`Plan::languages`] has) and for the families
    /// of `platforms`, and those called `names` besides.
    pub fn new(tags: &[&'static str], platforms: &[Platform], names: &[String]) -> Self {
        let known: Vec<(&'static str, &'static Language)> = tags
            .iter()
            .filter_map(|tag| Some((*tag, exemplars::find(tag)?)))
            .collect();
        let languages = known.iter().filter_map(|(tag, language)| {
            let counts = WordCounts::of(tag)?;
            Some(PlanLanguage {
                tag,
                script: language.script.clone(),
                learn: frequent(&counts, &language.script),
                check: drawn(&counts),
            })
        });
        let languages: Vec<PlanLanguage> = languages.collect();
        let mut by_script: BTreeMap<&str, Vec<&'static Language>> = BTreeMap::new();
        for (_, language) in &known {
            by_script
                .entry(&language.script)
                .or_default()
                .push(language);
        }
        let scripts: Vec<PlanScript> = by_script
            .into_iter()
            .map(|(name, languages)| PlanScript::new(name, &languages))
            .collect();
        let probes: Vec<PlanProbes> = shaping_probes()
            .filter(|(script, _)| scripts.iter().any(|known| known.name == *script))
            .map(|(script, needs)| PlanProbes::new(script, needs, &scripts))
            .collect();
        let joins = |wanted: JoiningType| {
            let joining = CodePointMapData::<JoiningType>::new();
            let letters = scripts.iter().flat_map(|script| script.letters.chars());
            let of_type = letters.filter(|letter| joining.get(*letter) == wanted);
            of_type.collect::<BTreeSet<char>>().into_iter().collect()
        };
        Plan {
            schema: SCHEMA,
            version: env!("CARGO_PKG_VERSION"),
            probe: BASE64_STANDARD.encode(probe()),
            platforms: platforms.iter().map(|p| p.title.clone()).collect(),
            families: families(platforms, names),
            generics: GENERICS.to_vec(),
            script_names: scripts.iter().map(|script| script.name.clone()).collect(),
            dual: joins(JoiningType::DualJoining),
            right: joins(JoiningType::RightJoining),
            shared: alphabets::SHARED,
            kerned: KERNED,
            usual: USUAL,
            runs: RUNS,
            signs: SIGNS,
            probes,
            languages,
            scripts,
        }
    }
}

/// The most frequent words.
fn frequent(counts: &WordCounts, script: &str) -> Vec<&'static str> {
    let mut words = counts.words.clone();
    words.sort_by(|a, b| b.1.cmp(&a.1).then_with(|| a.0.cmp(b.0)));
    words.truncate(if needs_shaping(script) {
        LEARN
    } else {
        LEARN_PLAIN
    });
    words.into_iter().map(|(word, _)| word).collect()
}

/// Words as they stand in texts, with the signs around them.
fn drawn(counts: &WordCounts) -> Vec<String> {
    // Where no spaces stand between words, a sentence is one; letters and marks of such
    // scripts stand together in more ways.
    let most = if counts.spaced { CHECK } else { 3 * CHECK };
    let text = counts.text(most, SEED);
    let parts = text.split_whitespace().map(str::to_owned);
    parts.take(most).collect()
}

impl PlanScript {
    fn new(name: &str, languages: &[&'static Language]) -> Self {
        const VIRAMA: u8 = 9;
        let letters = alphabets::letters(|_| true, languages);
        let classes = CanonicalCombiningClassMap::new();
        let viramas = letters.iter().filter(|c| classes.get_u8(**c) == VIRAMA);
        PlanScript {
            name: name.to_owned(),
            viramas: viramas.collect(),
            letters: letters.into_iter().collect(),
        }
    }
}

impl PlanProbes {
    fn new(
        script: &str,
        needs: Vec<(&'static str, Vec<&'static str>)>,
        scripts: &[PlanScript],
    ) -> Self {
        /// Letters that are looked at for joining.
        const JOINING: usize = 10;
        let joining = CodePointMapData::<JoiningType>::new();
        let letters = || {
            let of_script = scripts.iter().filter(|known| known.name == script);
            let letters = of_script.flat_map(|known| known.letters.chars());
            let dual = letters.filter(|c| joining.get(*c) == JoiningType::DualJoining);
            dual.take(JOINING).map(String::from).collect()
        };
        let needs = needs.into_iter().map(|(need, texts)| {
            let texts = match need {
                "joining" => letters(),
                _ => texts.into_iter().map(str::to_owned).collect(),
            };
            (need, texts)
        });
        PlanProbes {
            script: script.to_owned(),
            needs: needs.collect(),
        }
    }
}

/// Each family once, with the platforms that have it.
fn families(platforms: &[Platform], names: &[String]) -> Vec<PlanFamily> {
    let mut families: BTreeMap<String, PlanFamily> = BTreeMap::new();
    for (place, platform) in platforms.iter().enumerate() {
        for family in &platform.families {
            let key = family.name.to_lowercase();
            let known = families.entry(key).or_insert_with(|| PlanFamily {
                name: family.name.clone(),
                class: Some(family.class),
                on: Vec::new(),
                faces: Vec::new(),
            });
            known.on.push(place);
            for face in &family.faces {
                if !known.faces.iter().any(|other| other.full == face.full) {
                    known.faces.push(PlanFace {
                        full: face.full.clone(),
                        postscript: face.postscript.clone(),
                        weight: face.weight,
                        style: face.style,
                    });
                }
            }
        }
    }
    for name in names {
        let key = name.to_lowercase();
        let known = families.entry(key).or_insert_with(|| PlanFamily {
            name: name.clone(),
            class: None,
            on: Vec::new(),
            faces: Vec::new(),
        });
        // What the user named is looked for everywhere.
        known.on.clear();
    }
    families.into_values().collect()
}
