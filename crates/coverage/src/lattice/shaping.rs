//! Whether a face does what a script needs beyond its characters: joining,
//! conjuncts, reordering, marks in their place. Found out by shaping probes of
//! our own, not by looking for feature tags.

use std::collections::{HashMap, HashSet};
use std::sync::LazyLock;

use icu_properties::props::{GeneralCategory, GeneralCategoryGroup, JoiningType, Script};
use icu_properties::{CodePointMapData, CodePointSetData};
use serde::Serialize;

use tidy_lattice_glyphs::font::lookups::positioned_by;
use tidy_lattice_glyphs::font::{Body, Face, Works};
use tidy_lattice_glyphs::shaping::{ShapeSettings, Shaper};
use tidy_lattice_glyphs::text::script_name;

/// The probes: see the head of the file.
const PROBES: &str = include_str!("../../data/shaping-probes.txt");

/// The most letters of a joining script that are tried.
const MOST_LETTERS: usize = 80;

/// Something that a script needs.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum ShapingNeed {
    /// Letters join their neighbours.
    Joining,
    /// Consonants form conjuncts.
    Conjuncts,
    /// Vowel signs move before their consonant.
    Reordering,
    /// Marks are placed on their letters.
    Marks,
    /// Letters stack under one another.
    Stacks,
}

impl ShapingNeed {
    /// The need in words.
    pub fn label(self) -> &'static str {
        match self {
            ShapingNeed::Joining => "joining",
            ShapingNeed::Conjuncts => "conjuncts",
            ShapingNeed::Reordering => "reordering",
            ShapingNeed::Marks => "mark placement",
            ShapingNeed::Stacks => "stacking",
        }
    }

    fn word(self) -> &'static str {
        match self {
            ShapingNeed::Joining => "joining",
            ShapingNeed::Conjuncts => "conjuncts",
            ShapingNeed::Reordering => "reordering",
            ShapingNeed::Marks => "marks",
            ShapingNeed::Stacks => "stacks",
        }
    }

    fn named(word: &str) -> Option<Self> {
        match word {
            "joining" => Some(ShapingNeed::Joining),
            "conjuncts" => Some(ShapingNeed::Conjuncts),
            "reordering" => Some(ShapingNeed::Reordering),
            "marks" => Some(ShapingNeed::Marks),
            "stacks" => Some(ShapingNeed::Stacks),
            _ => None,
        }
    }
}

/// How a face shapes one script.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct ScriptShaping {
    /// The script's Unicode name.
    pub script: String,
    /// The worst of its checks.
    pub works: Works,
    /// What was checked.
    pub checks: Vec<ShapingCheck>,
}

/// One need of a script and how well it is met.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct ShapingCheck {
    /// The need.
    pub need: ShapingNeed,
    /// How well it is met.
    pub works: Works,
    /// How many probes were shaped.
    pub probes: usize,
    /// Probes that failed.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub failed: Vec<String>,
}

/// The probes of one script.
struct Probes {
    script: String,
    needs: Vec<(ShapingNeed, Vec<&'static str>)>,
}

static SCRIPTS: LazyLock<Vec<Probes>> = LazyLock::new(|| {
    let mut scripts: Vec<Probes> = Vec::new();
    for line in PROBES.lines().filter(|line| !line.starts_with('#')) {
        let mut words = line.split_whitespace();
        match (words.next(), scripts.last_mut()) {
            (Some("script"), _) => scripts.push(Probes {
                script: words.collect::<Vec<_>>().join(" "),
                needs: Vec::new(),
            }),
            (Some(word), Some(script)) => {
                let need = ShapingNeed::named(word).map(|need| (need, words.collect()));
                script.needs.extend(need);
            }
            _ => {}
        }
    }
    scripts
});

/// The probes of each script: its Unicode name, each need by its word, and the texts.
pub fn shaping_probes()
-> impl Iterator<Item = (&'static str, Vec<(&'static str, Vec<&'static str>)>)> {
    SCRIPTS.iter().map(|probes| {
        let needs = probes.needs.iter();
        let needs = needs.map(|(need, texts)| (need.word(), texts.clone()));
        (probes.script.as_str(), needs.collect())
    })
}

/// Whether `script` (its Unicode name) needs more than characters.
pub fn needs_shaping(script: &str) -> bool {
    SCRIPTS.iter().any(|probes| probes.script == script)
}

/// Whether `script` (its Unicode name) has this need.
pub(super) fn script_needs(script: &str, need: ShapingNeed) -> bool {
    let mut probes = SCRIPTS.iter().filter(|probes| probes.script == script);
    probes.any(|probes| probes.needs.iter().any(|(known, _)| *known == need))
}

/// Shapes the probes of every script that `face` has letters of.
///
/// Of a card, what was found out when it was made.
pub fn scripts_shaped(face: &Face) -> Vec<ScriptShaping> {
    if let Body::Card(card) = face.body() {
        let scripts = card.card().shaping.iter();
        return scripts
            .map(|(script, works)| ScriptShaping {
                script: script.clone(),
                works: *works,
                checks: Vec::new(),
            })
            .collect();
    }
    let mut prober = Prober::new(face);
    SCRIPTS
        .iter()
        .filter_map(|probes| {
            let checks: Vec<ShapingCheck> = probes
                .needs
                .iter()
                .filter_map(|(need, texts)| prober.check(&probes.script, *need, texts))
                .collect();
            let works = checks.iter().map(|check| check.works).min()?;
            Some(ScriptShaping {
                script: probes.script.clone(),
                works,
                checks,
            })
        })
        .collect()
}

/// Shapes probes in one face.
pub struct Prober<'a> {
    face: &'a Face,
    shaper: Shaper<'a>,
    /// Glyphs that GPOS places on others.
    placed: HashSet<u32>,
    /// By script, whether any letter joins.
    joins: HashMap<String, bool>,
}

impl<'a> Prober<'a> {
    /// A prober for `face`.
    pub fn new(face: &'a Face) -> Self {
        let effect = positioned_by(face, &["mark", "mkmk", "abvm", "blwm"]);
        Prober {
            face,
            shaper: Shaper::new(face),
            placed: effect.inputs.into_iter().collect(),
            joins: HashMap::new(),
        }
    }

    /// `None` where the face lacks the characters of all probes.
    fn check(&mut self, script: &str, need: ShapingNeed, texts: &[&str]) -> Option<ShapingCheck> {
        let texts: Vec<String> = if need == ShapingNeed::Joining {
            self.joining_letters(script)
                .iter()
                .map(char::to_string)
                .collect()
        } else {
            let whole = texts
                .iter()
                .filter(|text| text.chars().all(|c| self.has(c)));
            whole.map(|text| (*text).to_owned()).collect()
        };
        if texts.is_empty() {
            return None;
        }
        let failed: Vec<String> = texts
            .iter()
            .filter(|text| !self.meets(need, text))
            .cloned()
            .collect();
        Some(ShapingCheck {
            need,
            works: Works::of(texts.len() - failed.len(), texts.len()),
            probes: texts.len(),
            failed,
        })
    }

    fn has(&self, character: char) -> bool {
        character == '\u{200d}' || self.face.maps(character)
    }

    /// Whether any letter of `script` joins its neighbours in the face.
    pub(super) fn joins(&mut self, script: &str) -> bool {
        if let Some(known) = self.joins.get(script) {
            return *known;
        }
        let letters = self.joining_letters(script);
        let joins = letters
            .iter()
            .any(|letter| self.meets(ShapingNeed::Joining, &letter.to_string()));
        self.joins.insert(script.to_owned(), joins);
        joins
    }

    /// Whether the face meets this need of `script` for any probe that it has the
    /// characters of; true where it has those of none.
    pub(super) fn meets_any(&mut self, script: &str, need: ShapingNeed) -> bool {
        let probes = SCRIPTS.iter().filter(|probes| probes.script == script);
        let texts: Vec<&str> = probes
            .flat_map(|probes| probes.needs.iter())
            .filter(|(known, _)| *known == need)
            .flat_map(|(_, texts)| texts.iter().copied())
            .filter(|text| text.chars().all(|c| self.has(c)))
            .collect();
        texts.is_empty() || texts.iter().any(|text| self.meets(need, text))
    }

    /// Whether a mark of `text` that should stand on another glyph takes a place
    /// of its own: it is drawn plainly, moves the pen, and nothing places it.
    /// Shapers put marks without an advance on their base themselves.
    pub(super) fn strays(&mut self, text: &str) -> bool {
        let categories = CodePointMapData::<GeneralCategory>::new();
        let marks: Vec<u32> = text
            .chars()
            .skip(1)
            .filter(|c| categories.get(*c) == GeneralCategory::NonspacingMark)
            .filter_map(|mark| self.nominal(mark))
            .filter(|glyph| !self.placed.contains(glyph))
            .collect();
        let glyphs = self.shaper.glyphs(text, ShapeSettings::default());
        glyphs
            .iter()
            .any(|glyph| glyph.advance != 0 && marks.contains(&glyph.glyph))
    }

    /// Letters of `script` that join on both sides and that the face has.
    fn joining_letters(&self, script: &str) -> Vec<char> {
        let (scripts, joining) = (
            CodePointMapData::<Script>::new(),
            CodePointMapData::<JoiningType>::new(),
        );
        let presentation = |point: u32| (0xfb50..=0xfeff).contains(&point);
        self.face
            .characters()
            .iter()
            .filter(|point| !presentation(*point))
            .filter_map(char::from_u32)
            .filter(|c| joining.get(*c) == JoiningType::DualJoining)
            .filter(|c| script_name(scripts.get(*c)) == script)
            .take(MOST_LETTERS)
            .collect()
    }

    /// Whether the face does what `text`, a probe of this need, asks.
    pub(super) fn meets(&mut self, need: ShapingNeed, text: &str) -> bool {
        let Some(first) = text.chars().next() else {
            return false;
        };
        match need {
            ShapingNeed::Joining => {
                let alone = self.glyphs(text);
                let three = self.glyphs(&text.repeat(3));
                let unjoined: Vec<u32> = alone.repeat(3);
                three != unjoined
            }
            ShapingNeed::Conjuncts => {
                let (glyphs, viramas) = (self.glyphs(text), viramas(text));
                viramas.iter().all(|virama| !self.shows(&glyphs, *virama))
            }
            ShapingNeed::Reordering => {
                let glyphs = self.glyphs(text);
                let base = self.nominal(first);
                glyphs.len() < 2 || (glyphs.first().copied() != base)
            }
            ShapingNeed::Marks | ShapingNeed::Stacks => self.places_marks(text),
        }
    }

    /// Whether every mark of `text` goes into another glyph or is one that the
    /// font places.
    pub fn places_marks(&mut self, text: &str) -> bool {
        let glyphs = self.glyphs(text);
        let categories = CodePointMapData::<GeneralCategory>::new();
        text.chars()
            .skip(1)
            .filter(|c| GeneralCategoryGroup::Mark.contains(categories.get(*c)))
            .all(|mark| {
                let glyph = self.nominal(mark);
                !self.shows(&glyphs, mark)
                    || glyph.is_some_and(|glyph| self.placed.contains(&glyph))
            })
    }

    pub(super) fn glyphs(&mut self, text: &str) -> Vec<u32> {
        let glyphs = self.shaper.glyphs(text, ShapeSettings::default());
        glyphs.iter().map(|glyph| glyph.glyph).collect()
    }

    pub(super) fn nominal(&self, character: char) -> Option<u32> {
        let glyph = self.face.font()?.charmap().map_unicode(character)?;
        Some(glyph.to_u32())
    }

    /// Whether the plain glyph of `character` is among `glyphs`.
    fn shows(&self, glyphs: &[u32], character: char) -> bool {
        self.nominal(character)
            .is_some_and(|glyph| glyphs.contains(&glyph))
    }
}

/// The characters of `text` that join consonants: those of combining class 9.
pub(super) fn viramas(text: &str) -> Vec<char> {
    use icu_normalizer::properties::CanonicalCombiningClassMap;
    let classes = CanonicalCombiningClassMap::new();
    let ignorable = CodePointSetData::new::<icu_properties::props::DefaultIgnorableCodePoint>();
    let joins = |c: &char| classes.get_u8(*c) == 9 && !ignorable.contains(*c);
    text.chars().filter(joins).collect()
}
