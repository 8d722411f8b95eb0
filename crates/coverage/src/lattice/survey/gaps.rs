//! What falls through, cluster by cluster and stack by stack.

use std::collections::{HashMap, HashSet};

use serde::Serialize;
use tidy_lattice_documents::style::read::FamilyName;
use tidy_lattice_glyphs::font::{Engines, Face};
use tidy_lattice_glyphs::shaping::Shaper;
use tidy_lattice_glyphs::text::{Character, Group, used_with};

use super::super::fit::{Fit, fit};
use super::super::forms::flaw;
use super::super::serve::{GapCause, described};
use super::super::serving::Presentation;
use super::super::shaping::Prober;
use super::{Outcome, Survey, once, platforms_of, presentation};
use crate::need::{ClusterNeed, Place};
use crate::platform::{Device, Family};

/// For how many gaps remedies are looked for.
const MOST_REMEDIES: usize = 400;

/// How many remedies are named.
const MOST_NAMED: usize = 4;

/// A cluster that falls through a stack.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct SurveyGap {
    /// The cluster as written.
    pub cluster: String,
    /// Its characters; only the first 64 of a longer cluster.
    pub characters: Vec<Character>,
    /// Its script, or the title of a group.
    pub group: String,
    /// How often it occurs.
    pub count: u64,
    /// Where it was first seen.
    pub first: Place,
    /// The stack.
    pub stack: Vec<FamilyName>,
    /// What the texts are for.
    pub roles: Vec<String>,
    /// Their languages, as far as known.
    pub languages: Vec<String>,
    /// The element of a page that it was first seen in.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub element: Option<String>,
    /// The devices on which it falls through.
    pub platforms: Vec<String>,
    /// Why, on the first of these.
    pub cause: GapCause,
    /// The faces of that device's stack that the cause numbers.
    pub fonts: Vec<String>,
    /// Fonts that are known here and would show it.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub filled_by: Vec<String>,
    /// Whether it is known and accepted.
    pub allowed: bool,
}

/// Gaps that are accepted.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Allowed {
    /// Clusters all of whose characters are in the range, ends included.
    Characters(u32, u32),
    /// One cluster.
    Cluster(String),
    /// A script by its Unicode name, or the title of a group.
    Group(String),
}

impl Allowed {
    /// Reads `U+20B4`, `U+1F300-1FAFF`, the name of a script or group, or a
    /// cluster itself. `None` where it is none of these.
    pub fn read(text: &str) -> Option<Self> {
        let text = text.trim();
        if let Some(points) = text.strip_prefix("U+").or_else(|| text.strip_prefix("u+")) {
            let (from, to) = points.split_once('-').unwrap_or((points, points));
            let point =
                |digits: &str| u32::from_str_radix(digits.trim_start_matches("U+"), 16).ok();
            return Some(Allowed::Characters(point(from)?, point(to)?));
        }
        let groups = [
            "Digits",
            "Punctuation",
            "Currency signs",
            "Symbols",
            "Emoji",
            "Other",
        ];
        let is_script = text.len() > 2 && text.chars().all(|c| c.is_ascii_alphabetic() || c == ' ');
        if groups.contains(&text) || is_script {
            return Some(Allowed::Group(text.to_owned()));
        }
        (!text.is_empty() && text.chars().count() < 32).then(|| Allowed::Cluster(text.to_owned()))
    }

    fn holds(&self, cluster: &str, group: &Group) -> bool {
        match self {
            Allowed::Characters(from, to) => cluster
                .chars()
                .all(|c| (*from..=*to).contains(&u32::from(c))),
            Allowed::Cluster(known) => known == cluster,
            Allowed::Group(name) => group.label() == name,
        }
    }
}

/// A gap while it is gathered.
struct Gathered<'a> {
    gap: SurveyGap,
    group: &'a Group,
    devices: Vec<usize>,
    buckets: Vec<usize>,
}

/// The gaps, and what no font of a stack has but the system shows by itself.
pub(super) fn gather(
    survey: &Survey,
    outcomes: &[Outcome<'_>],
    devices: &[Device<'_>],
) -> (Vec<SurveyGap>, Vec<SurveyGap>) {
    let written: HashMap<(usize, usize), HashSet<String>> = outcomes
        .iter()
        .map(|outcome| ((outcome.number, outcome.device), written(outcome)))
        .collect();
    let shown = |outcome: &Outcome<'_>, by: Option<usize>, cluster: &ClusterNeed| {
        let device = devices.get(outcome.device).filter(|_| by.is_none());
        let as_text = presentation(&survey.styles[outcome.bucket.style]) == Presentation::Text;
        let boxes = as_text && ends_as_box(&cluster.text);
        device.is_some_and(|device| {
            let other = || {
                let scripts = scripts_of(cluster);
                let written = &written[&(outcome.number, outcome.device)];
                let any = scripts.iter().any(|script| written.contains(script));
                // Where nothing of a stack is there at all, it is the stack that fails.
                let is_there = !outcome.resolved.candidates.is_empty();
                is_there && !any && has_font_for(device, cluster, &scripts)
            };
            !boxes && (system_shows(device, cluster) || other())
        })
    };
    let gaps = gather_where(survey, outcomes, devices, &|outcome, judged, cluster| {
        !shown(outcome, judged, cluster)
    });
    (gaps, gather_where(survey, outcomes, devices, &shown))
}

/// The scripts of a cluster: of signs those that they are used with.
fn scripts_of(cluster: &ClusterNeed) -> Vec<String> {
    match (&cluster.group, cluster.text.chars().next()) {
        (Group::Script(script), _) => vec![script.clone()],
        (_, Some(first)) if !first.is_ascii() => used_with(first),
        _ => Vec::new(),
    }
}

/// The scripts of which some font of the stack shows something: what is then missing of them
/// stands out among the rest.
fn written(outcome: &Outcome<'_>) -> HashSet<String> {
    // Nobody asks where nothing is missing.
    if outcome.judged.iter().all(|judged| judged.cause.is_none()) {
        return HashSet::new();
    }
    let clusters = outcome.bucket.need.clusters.iter().zip(&outcome.judged);
    let shown = clusters.filter(|(_, judged)| judged.by.is_some());
    shown.flat_map(|(cluster, _)| scripts_of(cluster)).collect()
}

/// Whether the system has a font for the script of a cluster, which its own fallback finds.
fn has_font_for(device: &Device<'_>, cluster: &ClusterNeed, scripts: &[String]) -> bool {
    let first = cluster.text.chars().next();
    let mut families = device.platform().families.iter();
    families.any(|family| {
        let made = scripts.iter().any(|script| family.scripts.contains(script));
        let mut measured = (family.faces.iter()).filter_map(|face| device.face(family, face));
        // What is known by name only is what it is there for.
        made && measured
            .next()
            .is_none_or(|face| first.is_some_and(|c| face.maps(c)))
    })
}

/// Whether Chromium shows a box for a sequence of emoji that no font of the stack has where
/// `font-variant-emoji` asks for text: those with a tone of skin, and joined ones with a
/// selector within (seen in Chromium 156; flags and other joined ones are shown).
fn ends_as_box(cluster: &str) -> bool {
    let toned = cluster.contains(|c| ('\u{1f3fb}'..='\u{1f3ff}').contains(&c));
    toned || (cluster.contains('\u{200d}') && cluster.contains('\u{fe0f}'))
}

/// Whether the system's own fallback surely shows a cluster: emoji, in its family for
/// them.
fn system_shows(device: &Device<'_>, cluster: &ClusterNeed) -> bool {
    let emoji = device
        .generic("emoji", None)
        .filter(|_| cluster.group == Group::Emoji);
    emoji.is_some_and(|family| {
        let faces: Vec<_> = family
            .faces
            .iter()
            .filter_map(|face| device.face(family, face))
            .collect();
        let first = cluster.text.chars().next();
        // What is known by name only is what it is there for.
        faces.is_empty() || faces.iter().any(|face| first.is_some_and(|c| face.maps(c)))
    })
}

fn gather_where(
    survey: &Survey,
    outcomes: &[Outcome<'_>],
    devices: &[Device<'_>],
    counts: &dyn Fn(&Outcome<'_>, Option<usize>, &ClusterNeed) -> bool,
) -> Vec<SurveyGap> {
    let names: Vec<String> = devices
        .iter()
        .map(|one| one.platform().name.clone())
        .collect();
    let mut order: Vec<Gathered<'_>> = Vec::new();
    let mut places: HashMap<(String, &[FamilyName]), usize> = HashMap::new();
    for outcome in outcomes {
        let style = &survey.styles[outcome.bucket.style];
        for (cluster, judged) in outcome.bucket.need.clusters.iter().zip(&outcome.judged) {
            let Some(cause) = &judged.cause else { continue };
            if !counts(outcome, judged.by, cluster) {
                continue;
            }
            let key = (cluster.text.clone(), style.families.as_slice());
            let place = *places.entry(key).or_insert_with(|| {
                let candidates = outcome.resolved.candidates.iter();
                order.push(Gathered {
                    gap: SurveyGap {
                        cluster: cluster.text.clone(),
                        characters: described(&cluster.text),
                        group: cluster.group.label().to_owned(),
                        count: 0,
                        first: cluster.first.clone(),
                        stack: style.families.clone(),
                        roles: Vec::new(),
                        languages: Vec::new(),
                        element: outcome.bucket.element.clone(),
                        platforms: Vec::new(),
                        cause: cause.clone(),
                        fonts: candidates.map(|candidate| candidate.name.clone()).collect(),
                        filled_by: Vec::new(),
                        allowed: survey
                            .allowed
                            .iter()
                            .any(|allowed| allowed.holds(&cluster.text, &cluster.group)),
                    },
                    group: &cluster.group,
                    devices: Vec::new(),
                    buckets: Vec::new(),
                });
                order.len() - 1
            });
            let found = &mut order[place];
            once(&mut found.devices, outcome.device);
            once(&mut found.gap.roles, outcome.bucket.role.clone());
            if let Some(language) = &outcome.bucket.language {
                once(&mut found.gap.languages, language.clone());
            }
            if !found.buckets.contains(&outcome.number) {
                found.buckets.push(outcome.number);
                found.gap.count += cluster.count;
            }
        }
    }
    // A stable sort: equally frequent gaps stay in the order of the texts.
    order.sort_by_key(|found| std::cmp::Reverse(found.gap.count));
    let mut remedies = Remedies::new(survey, devices);
    order
        .into_iter()
        .enumerate()
        .map(|(place, mut found)| {
            if place < MOST_REMEDIES {
                found.gap.filled_by = remedies.of(&found);
            }
            found.gap.platforms = platforms_of(found.devices, &names);
            found.gap
        })
        .collect()
}

/// Whether a family that has Han characters draws them as they are drawn where these
/// languages are written: fonts for Japanese have kana, for Korean Hangul, for
/// traditional Chinese Bopomofo, for simplified Chinese none of these; one that has all
/// is made for all. Where no language is told, kana or Hangul alone make a font one for
/// the other language.
fn draws_han_for(family: &Family, languages: &[String]) -> bool {
    let has = |script: &str| family.scripts.iter().any(|known| known == script);
    let (kana, hangul, bopomofo) = (has("Hiragana"), has("Hangul"), has("Bopomofo"));
    if kana && hangul {
        return true;
    }
    let right = |language: &String| {
        let tag = language.to_ascii_lowercase();
        let part = |name: &str| tag.split('-').any(|part| part == name);
        match tag.split('-').next().unwrap_or_default() {
            "ja" => kana,
            "ko" => hangul,
            "zh" if part("hant") || part("tw") || part("hk") || part("mo") => bopomofo,
            "zh" => !kana && !hangul && !bopomofo,
            _ => !kana && !hangul,
        }
    };
    if languages.is_empty() {
        !kana && !hangul
    } else {
        languages.iter().all(right)
    }
}

/// Looks for fonts that would show a gap: the project's own, those that the user
/// named, and families of the devices that are made for the script.
struct Remedies<'a> {
    faces: Vec<(String, &'a Face, Shaper<'a>, Option<Prober<'a>>)>,
    devices: &'a [Device<'a>],
}

impl<'a> Remedies<'a> {
    fn new(survey: &'a Survey, devices: &'a [Device<'a>]) -> Self {
        let mut faces: Vec<(String, &Face, Shaper<'_>, Option<Prober<'_>>)> = Vec::new();
        let mut add = |name: String, face: &'a Face| {
            if !faces.iter().any(|(known, ..)| *known == name) {
                faces.push((name, face, Shaper::new(face), None));
            }
        };
        for rule in survey.web.iter().flatten() {
            for file in rule.files.iter().flatten().flatten() {
                add(file.face.names().label(), &file.face);
            }
        }
        for (name, face) in &survey.known {
            add(name.clone(), face);
        }
        Remedies { faces, devices }
    }

    fn of(&mut self, found: &Gathered<'_>) -> Vec<String> {
        let in_stack = &found.gap.fonts;
        let cluster = found.gap.cluster.as_str();
        let mut named: Vec<String> = self
            .faces
            .iter_mut()
            .filter(|(name, ..)| !in_stack.contains(name))
            // Quick: most faces lack the base.
            .filter(|(_, face, ..)| cluster.chars().next().is_some_and(|c| face.maps(c)))
            .filter_map(|(name, face, shaper, prober)| {
                let right = fit(face, shaper, cluster) == Fit::Whole
                    && flaw(
                        face,
                        prober.get_or_insert_with(|| Prober::new(face)),
                        cluster,
                        Engines::ALL,
                    )
                    .is_none();
                right.then(|| name.clone())
            })
            .collect();
        if let Group::Script(script) = found.group {
            for device in found
                .devices
                .iter()
                .filter_map(|number| self.devices.get(*number))
            {
                let families = device.platform().families.iter();
                let made = families.filter(|family| {
                    family.scripts.iter().any(|known| known == script)
                        && !in_stack.contains(&family.name)
                        && (script != "Han" || draws_han_for(family, &found.gap.languages))
                });
                if let Some(family) = made.min_by_key(|family| family.scripts.len()) {
                    once(
                        &mut named,
                        format!("{} ({})", family.name, device.platform().title),
                    );
                }
            }
        }
        named.truncate(MOST_NAMED);
        named
    }
}

#[cfg(test)]
mod tests {
    use super::ends_as_box;

    #[test]
    fn emoji_that_end_as_boxes_where_text_is_asked_for() {
        let toned = "\u{1f44d}\u{1f3fd}";
        let (lightest, darkest) = ("\u{1f44d}\u{1f3fb}", "\u{1f44d}\u{1f3ff}");
        let joined = "\u{2764}\u{fe0f}\u{200d}\u{1f525}";
        let boxes = [toned, lightest, darkest, joined];
        assert!(boxes.into_iter().all(ends_as_box), "{boxes:?}");
        let (plain, flag) = ("\u{1f44d}", "\u{1f1f5}\u{1f1f1}");
        let family = "\u{1f468}\u{200d}\u{1f469}\u{200d}\u{1f467}";
        let selected = "\u{2764}\u{fe0f}";
        let shown = [plain, flag, family, selected];
        assert!(!shown.into_iter().any(ends_as_box), "{shown:?}");
    }
}
