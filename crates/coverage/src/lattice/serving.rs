//! Which face of a stack serves a cluster, and why each earlier one does not:
//! CSS Fonts 4, §5.3 "Cluster matching", as browsers do it.

use std::collections::HashMap;

use icu_properties::CodePointSetData;
use icu_properties::props::Emoji;
use serde::Serialize;
use tidy_lattice_glyphs::font::Engines;
use tidy_lattice_glyphs::shaping::Shaper;
use tidy_lattice_glyphs::text::{Group, is_shown, used_with};

use super::fit::{Fit, Repertoire, fit_within};
use super::forms::{Flaw, flaw};
use super::shaping::Prober;
use super::stack::Candidate;

/// What `font-variant-emoji` says (CSS Fonts 4, §6.13).
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Hash)]
pub enum Presentation {
    /// The characters decide.
    #[default]
    Normal,
    /// As if U+FE0E stood behind.
    Text,
    /// As if U+FE0F stood behind.
    Emoji,
}

/// How a face stands to a cluster.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case", tag = "why")]
pub enum Passed {
    /// Characters of it are outside of the face's `unicode-range`.
    OutsideRange {
        /// The code points.
        code_points: Vec<String>,
    },
    /// The face lacks characters of it.
    Lacks {
        /// The code points.
        code_points: Vec<String>,
    },
    /// The face has the base, but not in the presentation or variant that a
    /// variation selector asks for.
    WrongVariant,
    /// The face is known by name only, and is not made for the script.
    NotMadeForIt,
}

/// Who serves a cluster.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Served {
    /// The face, by its number among the candidates; `None` where the cluster is
    /// left to the fonts of the system.
    pub by: Option<usize>,
    /// Whether that is known; false where a face that is known by name only
    /// takes it, or might have before.
    pub certain: bool,
    /// What the face does wrong with it.
    pub flaw: Option<Flaw>,
    /// A later face that does it right.
    pub better: Option<usize>,
    /// Where the system's fonts have no such variant, the face that shows its
    /// base after all.
    pub base_by: Option<usize>,
    /// The earlier faces and why they do not serve it.
    pub passed: Vec<(usize, Passed)>,
}

/// Judges the faces of a stack.
pub struct Judge<'a> {
    candidates: &'a [Candidate],
    shapers: Vec<Option<Shaper<'a>>>,
    probers: Vec<Option<Prober<'a>>>,
    known: HashMap<(usize, String), Fit>,
    engines: Engines,
}

impl<'a> Judge<'a> {
    /// A judge for these faces, in the order of the stack.
    pub fn new(candidates: &'a [Candidate]) -> Self {
        Judge {
            candidates,
            shapers: candidates
                .iter()
                .map(|one| one.face.as_deref().map(Shaper::new))
                .collect(),
            probers: candidates.iter().map(|_| None).collect(),
            known: HashMap::new(),
            engines: Engines::USUAL,
        }
    }

    /// The same where only these engines run.
    pub fn in_engines(self, engines: Engines) -> Self {
        Judge { engines, ..self }
    }

    /// The faces.
    pub fn candidates(&self) -> &'a [Candidate] {
        self.candidates
    }

    /// Whether the face `number` could show `cluster` as a whole if it stood
    /// first; of a face known by name only, whether it is made for it.
    pub fn could_serve(&mut self, number: usize, cluster: &str) -> bool {
        if self.is_outside(number, cluster) {
            return false;
        }
        match &self.candidates[number].face {
            Some(_) => {
                let candidate = &self.candidates[number];
                let twin = candidate.is_twin() && made_for(candidate, cluster);
                twin || self.fit(number, cluster) == Fit::Whole
            }
            None => made_for(&self.candidates[number], cluster),
        }
    }

    /// Whether none of the cluster is in the candidate's `unicode-range`: so it is with
    /// nearly every slice of a family of many.
    fn is_outside(&self, number: usize, cluster: &str) -> bool {
        let candidate = &self.candidates[number];
        candidate
            .face
            .as_deref()
            .is_some_and(|face| Repertoire::new(face, candidate.range.as_ref()).is_outside(cluster))
    }

    fn fit(&mut self, number: usize, cluster: &str) -> Fit {
        let candidate = &self.candidates[number];
        let (Some(face), Some(shaper)) = (&candidate.face, &mut self.shapers[number]) else {
            return Fit::Lacks(cluster.chars().collect());
        };
        let mut characters = cluster.chars();
        if let (Some(only), None) = (characters.next(), characters.next())
            && Repertoire::new(face, candidate.range.as_ref()).maps(only)
        {
            return Fit::Whole;
        }
        let key = (number, cluster.to_owned());
        if let Some(known) = self.known.get(&key) {
            return known.clone();
        }
        let repertoire = Repertoire::new(face, candidate.range.as_ref());
        let fit = fit_within(repertoire, shaper, cluster);
        self.known.insert(key, fit.clone());
        fit
    }

    /// Who serves `cluster`, which must show something.
    pub fn serve(&mut self, cluster: &str, presentation: Presentation) -> Served {
        self.served(cluster, presentation, true)
    }

    /// [`Judge::serve`] without a word on faces whose `unicode-range` holds nothing of the
    /// cluster.
    pub fn serve_briefly(&mut self, cluster: &str, presentation: Presentation) -> Served {
        self.served(cluster, presentation, false)
    }

    fn served(&mut self, cluster: &str, presentation: Presentation, why: bool) -> Served {
        let asked = presented(cluster, presentation);
        let cluster = asked.as_deref().unwrap_or(cluster);
        let mut served = Served {
            by: None,
            certain: true,
            flaw: None,
            better: None,
            base_by: None,
            passed: Vec::new(),
        };
        for number in 0..self.candidates.len() {
            let candidate = &self.candidates[number];
            if candidate.face.is_none() {
                if made_for(candidate, cluster) {
                    served.by = Some(number);
                    served.certain = false;
                    return served;
                }
                served.passed.push((number, Passed::NotMadeForIt));
                continue;
            }
            if !why && !candidate.is_twin() && self.is_outside(number, cluster) {
                continue;
            }
            match self.fit(number, cluster) {
                Fit::Whole => {
                    served.by = Some(number);
                    served.flaw = self.flaw(number, cluster);
                    if served.flaw.is_some() {
                        served.better = self.better(number + 1, cluster);
                    }
                    return served;
                }
                // Browsers do not look further for a face that joins it.
                Fit::Unjoined => {
                    served.by = Some(number);
                    served.flaw = Some(Flaw::Unjoined);
                    served.better = self.better(number + 1, cluster);
                    return served;
                }
                Fit::WithoutVariation => {
                    served.base_by.get_or_insert(number);
                    served.passed.push((number, Passed::WrongVariant));
                }
                Fit::Lacks(lacking) => {
                    if self.candidates[number].is_twin() {
                        // What the face that was measured in its place lacks, it may
                        // have all the same.
                        served.certain = false;
                        if made_for(&self.candidates[number], cluster) {
                            served.by = Some(number);
                            return served;
                        }
                    }
                    let passed = self.lacks(number, cluster, &lacking);
                    served.passed.push((number, passed));
                }
            }
        }
        served
    }

    /// The first face from `from` on that shows `cluster` without a flaw.
    fn better(&mut self, from: usize, cluster: &str) -> Option<usize> {
        (from..self.candidates.len()).find(|number| {
            self.candidates[*number].face.is_some()
                && self.fit(*number, cluster) == Fit::Whole
                && self.flaw(*number, cluster).is_none()
        })
    }

    fn flaw(&mut self, number: usize, cluster: &str) -> Option<Flaw> {
        let face = self.candidates[number].face.as_deref()?;
        let prober = self.probers[number].get_or_insert_with(|| Prober::new(face));
        flaw(face, prober, cluster, self.engines)
    }

    fn lacks(&self, number: usize, cluster: &str, lacking: &[char]) -> Passed {
        let range = self.candidates[number].range.as_ref();
        let outside: Vec<char> = cluster
            .chars()
            .filter(|c| range.is_some_and(|range| !range.contains(u32::from(*c))))
            .collect();
        let ignorable = |c: &char| !is_shown(*c);
        if outside.is_empty() || outside.iter().all(ignorable) {
            Passed::Lacks {
                code_points: code_points(lacking),
            }
        } else {
            Passed::OutsideRange {
                code_points: code_points(&outside),
            }
        }
    }

    /// The face that gives a blank its width: the first that has it, or a space
    /// to make it of. Blanks never cause fallback, as every face has a space.
    pub fn serve_blank(&self, cluster: &str) -> Option<usize> {
        let blank = cluster.chars().find(|c| c.is_whitespace());
        // Tabs and line breaks are set as spaces.
        let blank = blank.filter(|c| !c.is_control()).unwrap_or(' ');
        self.candidates
            .iter()
            .position(|candidate| match &candidate.face {
                Some(face) => {
                    let repertoire = Repertoire::new(face, candidate.range.as_ref());
                    // Shapers make blanks of the space, whatever the range says of them.
                    repertoire.maps(blank) || repertoire.maps(' ')
                }
                None => true,
            })
    }
}

/// The cluster with the selector that `font-variant-emoji` puts behind emoji that have none,
/// digits and signs of keycaps among them; `None` where nothing changes, as with sequences
/// that are emoji as they are.
fn presented(cluster: &str, presentation: Presentation) -> Option<String> {
    const SELECTORS: [char; 2] = ['\u{fe0e}', '\u{fe0f}'];
    const KEYCAP: char = '\u{20e3}';
    let selector = match presentation {
        Presentation::Normal => return None,
        Presentation::Text => SELECTORS[0],
        Presentation::Emoji => SELECTORS[1],
    };
    let mut characters = cluster.chars();
    let first = characters.next()?;
    let rest = characters.as_str();
    let plain = rest.is_empty() || (rest.starts_with(KEYCAP) && selector == SELECTORS[1]);
    let emoji = CodePointSetData::new::<Emoji>().contains(first);
    (plain && emoji).then(|| format!("{first}{selector}{rest}"))
}

/// Whether a face known by name only is made for `cluster`, as far as its
/// scripts tell.
fn made_for(candidate: &Candidate, cluster: &str) -> bool {
    if (candidate.range.as_ref())
        .is_some_and(|range| !cluster.chars().all(|c| range.contains(u32::from(c))))
    {
        return false;
    }
    if candidate.unknown {
        return cluster.is_ascii();
    }
    let has = |script: &str| candidate.scripts.iter().any(|known| known == script);
    let symbols = candidate.scripts.is_empty();
    // Signs of some scripts come with the letters of these.
    let first = cluster.chars().next();
    if first.is_some_and(|first| used_with(first).iter().any(|script| has(script))) {
        return true;
    }
    match Group::of(cluster) {
        Group::Script(script) => has(&script),
        Group::Digits | Group::Punctuation => {
            !symbols && (cluster.is_ascii() || (has("Latin") && is_western(cluster)))
        }
        // A face that others were made to match is on every device for its signs of
        // money, too.
        Group::Currency => {
            !symbols && (cluster.is_ascii() || cluster == "€" || candidate.is_twin())
        }
        Group::Emoji => candidate.name.contains("Emoji"),
        Group::Symbols | Group::Other => {
            !symbols && (cluster.is_ascii() || (has("Latin") && is_western(cluster)))
        }
    }
}

/// Whether all of a cluster is in the character set that systems have had for western
/// languages since the nineties (Windows-1252), which every font for Latin text has.
fn is_western(cluster: &str) -> bool {
    cluster.chars().all(|c| {
        matches!(c,
            '\u{a0}'..='\u{ff}' | '\u{152}' | '\u{153}' | '\u{160}' | '\u{161}' | '\u{178}'
            | '\u{17d}' | '\u{17e}' | '\u{192}' | '\u{2c6}' | '\u{2dc}' | '\u{2013}'
            | '\u{2014}' | '\u{2018}'..='\u{201a}' | '\u{201c}'..='\u{201e}'
            | '\u{2020}'..='\u{2022}' | '\u{2026}' | '\u{2030}' | '\u{2039}' | '\u{203a}'
            | '\u{20ac}' | '\u{2122}')
    })
}

/// `U+0041` and so on.
pub(super) fn code_points(characters: &[char]) -> Vec<String> {
    characters
        .iter()
        .map(|c| format!("U+{:04X}", u32::from(*c)))
        .collect()
}
