//! Who shows what on each platform, as the stack resolves there.

use std::collections::BTreeSet;

use serde::Serialize;
use tidy_lattice_coverage::lattice::{Judge, Presentation};
use tidy_lattice_coverage::platform::Device;
use tidy_lattice_documents::page::TextStyle;
use tidy_lattice_documents::style::read::families;
use tidy_lattice_glyphs::font::Slope;
use tidy_lattice_glyphs::text::Group;

use super::super::Note;
use super::shows::{in_style, resolved};
use super::{DeviceStackRequest, LanguageNeed};

/// A stack on one platform.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct OnPlatform {
    /// Its short name.
    pub platform: String,
    /// Its name for people.
    pub title: String,
    /// The families that show something, in the order of the languages, then of how much.
    pub served: Vec<Served>,
    /// What no family of the stack shows.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub unserved: Vec<Unserved>,
    /// Weights and slopes of the family that shows most of the first language.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub styles: Option<Styles>,
}

/// What a family shows.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Served {
    /// The language of the text.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub language: Option<String>,
    /// The installed family; the keyword where it is not known which.
    pub family: String,
    /// The entry of the stack, counted from 0.
    pub entry: usize,
    /// Scripts and groups of what it shows.
    pub groups: Vec<String>,
    /// How many clusters, repeats included.
    pub clusters: u64,
    /// Whether that is known; false of families known by name only, by what they are made
    /// for.
    pub certain: bool,
}

/// What is left to the fonts of the system.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Unserved {
    /// The language of the text.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub language: Option<String>,
    /// The script or group.
    pub group: String,
    /// How many clusters, repeats included.
    pub clusters: u64,
    /// Some of them.
    pub examples: Vec<String>,
    /// The family that the system shows them with, where that is known.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub by_system: Option<String>,
}

/// Which weights and slopes a family has.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Styles {
    /// The family.
    pub family: String,
    /// Weights of its upright faces; empty where its faces are not known.
    pub weights: Vec<f32>,
    /// Whether it has an italic; `None` where its faces are not known.
    pub italic: Option<bool>,
}

/// The most examples.
const MOST_EXAMPLES: usize = 4;

/// The stack on every device.
pub fn on_platforms(request: &DeviceStackRequest<'_>, font_family: &str) -> Vec<OnPlatform> {
    let style = in_style(families(font_family).unwrap_or_default());
    let devices = request.devices.iter();
    devices
        .map(|device| on_platform(request.needs, &style, device))
        .collect()
}

fn on_platform(needs: &[LanguageNeed], style: &TextStyle, device: &Device<'_>) -> OnPlatform {
    let platform = device.platform();
    let mut on = OnPlatform {
        platform: platform.name.clone(),
        title: platform.title.clone(),
        served: Vec::new(),
        unserved: Vec::new(),
        styles: None,
    };
    for need in needs {
        let language = need.language.as_deref();
        let resolved = resolved(style, device, language);
        let mut judge = Judge::new(&resolved.candidates).in_engines(resolved.engines);
        let mut served: Vec<Served> = Vec::new();
        for cluster in &need.need.clusters {
            let shown = judge.serve_briefly(&cluster.text, Presentation::Normal);
            let label = cluster.group.label();
            let Some(candidate) = shown.by.map(|number| &resolved.candidates[number]) else {
                on.leave(
                    language,
                    &cluster.group,
                    &cluster.text,
                    cluster.count,
                    device,
                );
                continue;
            };
            let entry = &resolved.entries[candidate.entry];
            let family = entry.stands_for.as_ref().unwrap_or(&candidate.family);
            let known = served
                .iter_mut()
                .find(|one| one.entry == candidate.entry && one.family == *family);
            match known {
                Some(one) => {
                    one.clusters += cluster.count;
                    one.certain &= shown.certain;
                    if !one.groups.iter().any(|known| known == label) {
                        one.groups.push(label.to_owned());
                    }
                }
                None => served.push(Served {
                    language: need.language.clone(),
                    family: family.clone(),
                    entry: candidate.entry,
                    groups: vec![label.to_owned()],
                    clusters: cluster.count,
                    certain: shown.certain,
                }),
            }
        }
        served.sort_by_key(|one| (std::cmp::Reverse(one.clusters), one.entry));
        on.served.append(&mut served);
    }
    on.styles = on
        .served
        .first()
        .and_then(|main| styles(&main.family, device));
    on
}

impl OnPlatform {
    fn leave(
        &mut self,
        language: Option<&str>,
        group: &Group,
        cluster: &str,
        count: u64,
        device: &Device<'_>,
    ) {
        let label = group.label();
        let known = self
            .unserved
            .iter_mut()
            .find(|one| one.group == label && one.language.as_deref() == language);
        match known {
            Some(one) => {
                one.clusters += count;
                if one.examples.len() < MOST_EXAMPLES {
                    one.examples.push(cluster.to_owned());
                }
            }
            None => self.unserved.push(Unserved {
                language: language.map(str::to_owned),
                group: label.to_owned(),
                clusters: count,
                examples: vec![cluster.to_owned()],
                by_system: (*group == Group::Emoji)
                    .then(|| device.generic("emoji", None))
                    .flatten()
                    .map(|family| family.name.clone()),
            }),
        }
    }
}

fn styles(family: &str, device: &Device<'_>) -> Option<Styles> {
    let family = device.family(family)?;
    let upright = family
        .faces
        .iter()
        .filter(|face| face.style == Slope::Normal);
    let mut weights: Vec<f32> = upright.map(|face| face.weight).collect();
    weights.sort_by(f32::total_cmp);
    weights.dedup();
    let italic = family.faces.iter().any(|face| face.style != Slope::Normal);
    Some(Styles {
        family: family.name.clone(),
        italic: (!family.faces.is_empty()).then_some(italic),
        weights,
    })
}

/// What should be known of who shows what.
/// Nothing is missed of languages in `left`, for which the browser takes a family itself.
pub fn notes(platforms: &[OnPlatform], left: &[String]) -> Vec<Note> {
    let mut notes = Vec::new();
    let mut groups: BTreeSet<&str> = BTreeSet::new();
    let unserved = platforms.iter().flat_map(|on| &on.unserved);
    let missed = |one: &&Unserved| {
        let language = one.language.as_ref();
        one.by_system.is_none() && !language.is_some_and(|language| left.contains(language))
    };
    groups.extend(unserved.filter(missed).map(|one| one.group.as_str()));
    for group in groups {
        let is = |one: &&Unserved| one.group == group && missed(one);
        let on = platforms
            .iter()
            .filter(|on| on.unserved.iter().any(|one| is(&one)));
        let titles: Vec<&str> = on.clone().map(|on| on.title.as_str()).collect();
        let examples = on.flat_map(|on| on.unserved.iter().filter(is)).next();
        let examples = examples.map_or_else(String::new, |one| one.examples.join(" "));
        notes.push(Note::finding(
            "unserved",
            format!(
                "no font that is known on {} shows {} (such as {examples}); what the browser \
                 finds will show",
                titles.join(", "),
                Group::in_sentence(group)
            ),
        ));
    }
    let mut by_system: Vec<String> = Vec::new();
    for on in platforms {
        let shows = on.unserved.iter().find_map(|one| one.by_system.as_ref());
        if let Some(family) = shows {
            by_system.push(format!("{family} on {}", on.title));
        }
    }
    if !by_system.is_empty() {
        notes.push(Note::remark(
            "emoji",
            format!(
                "emoji are shown by the system's own font ({}); it is not named, as its digits \
                 would show wherever nothing before it is installed",
                by_system.join(", ")
            ),
        ));
    }
    let faked = |what: &str, lacks: &dyn Fn(&Styles) -> bool| {
        let on = platforms.iter().filter_map(|on| {
            let styles = on.styles.as_ref().filter(|styles| lacks(styles))?;
            Some(format!("{} on {}", styles.family, on.title))
        });
        let on: Vec<String> = on.collect();
        (!on.is_empty()).then(|| {
            Note::remark(
                "faked",
                format!(
                    "{what} is drawn by the browser: {} has no face for it",
                    on.join(", ")
                ),
            )
        })
    };
    notes.extend(faked("italic text", &|styles| styles.italic == Some(false)));
    notes.extend(faked("bold text", &|styles| {
        !styles.weights.is_empty() && !styles.weights.iter().any(|weight| *weight >= 600.0)
    }));
    notes
}
