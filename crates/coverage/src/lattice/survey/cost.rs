//! How many fonts each text touches: each is a file to load, and in an app that
//! draws its own text one more batch.

use std::collections::{BTreeMap, HashMap};

use rayon::prelude::*;
use serde::Serialize;

use super::super::fetch::fetched;
use super::super::stack::{Candidate, Origin};
use super::Outcome;

/// A source and the fonts that it touches.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct TextCost {
    /// The file or page.
    pub source: String,
    /// Clusters that show something, repeats included.
    pub clusters: u64,
    /// The fonts on the device where it touches most, most used first.
    pub fonts: Vec<FontCost>,
    /// How many files are loaded for it: those that show something, and those that are asked
    /// for characters that they do not have.
    pub files: usize,
    /// The size of these files together, in bytes.
    pub bytes: u64,
}

/// A font that a text touches.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct FontCost {
    /// The face.
    pub name: String,
    /// The file; nothing where it is installed.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub file: Option<String>,
    /// The file's size in bytes.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub bytes: Option<u64>,
    /// Clusters that it shows, repeats included; none of a file that is loaded in vain.
    pub clusters: u64,
    /// What it shows, where it is loaded for at most eight different clusters.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub only_for: Vec<String>,
}

/// Up to how many different clusters a font counts as touched for a few only.
const FEW: usize = 8;

pub(super) fn gather(outcomes: &[Outcome<'_>]) -> Vec<TextCost> {
    let mut sources: Vec<(&str, Vec<&Outcome<'_>>)> = Vec::new();
    let mut places: HashMap<&str, usize> = HashMap::new();
    for outcome in outcomes {
        let source = outcome.bucket.source.as_str();
        let place = *places.entry(source).or_insert_with(|| {
            sources.push((source, Vec::new()));
            sources.len() - 1
        });
        sources[place].1.push(outcome);
    }
    let mut costs: Vec<TextCost> = sources
        .into_par_iter()
        .filter_map(|(source, outcomes)| {
            let mut devices: Vec<usize> = outcomes.iter().map(|outcome| outcome.device).collect();
            devices.sort_unstable();
            devices.dedup();
            let costs = devices.iter().map(|device| {
                let here = outcomes.iter().filter(|outcome| outcome.device == *device);
                cost(source, here.copied())
            });
            // The first of those that touch most.
            costs.reduce(|best, next| {
                if next.fonts.len() > best.fonts.len() {
                    next
                } else {
                    best
                }
            })
        })
        .collect();
    costs.sort_by(|a, b| (b.fonts.len().cmp(&a.fonts.len())).then(a.source.cmp(&b.source)));
    costs
}

fn cost<'a>(source: &str, outcomes: impl Iterator<Item = &'a Outcome<'a>>) -> TextCost {
    let mut fonts: Vec<(FontCost, Vec<String>)> = Vec::new();
    let mut clusters = 0;
    let mut asked: BTreeMap<String, u64> = BTreeMap::new();
    for outcome in outcomes {
        clusters += outcome.bucket.need.total;
        let candidates = &outcome.resolved.candidates;
        let clusters_of = outcome.bucket.need.clusters.iter();
        let characters = clusters_of.flat_map(|cluster| cluster.text.chars());
        for number in fetched(candidates, characters).into_keys() {
            let candidate = &candidates[number];
            if let (Origin::Web { file, .. }, Some(bytes)) = (&candidate.origin, candidate.bytes)
                && asked.insert(file.clone(), bytes).is_none()
            {
                font_of(&mut fonts, candidate);
            }
        }
        for (cluster, judged) in outcome.bucket.need.clusters.iter().zip(&outcome.judged) {
            let Some(number) = judged.by else { continue };
            let place = font_of(&mut fonts, &candidates[number]);
            let (font, shown) = &mut fonts[place];
            font.clusters += cluster.count;
            if shown.len() <= FEW && !shown.contains(&cluster.text) {
                shown.push(cluster.text.clone());
            }
        }
    }
    let names: Vec<String> = fonts.iter().map(|(font, _)| font.name.clone()).collect();
    let sliced = |name: &str| names.iter().filter(|known| *known == name).count() > 1;
    let mut fonts: Vec<FontCost> = fonts
        .into_iter()
        .map(|(mut font, shown)| {
            // A slice is meant for a part of the text.
            if shown.len() <= FEW && !sliced(&font.name) {
                font.only_for = shown;
            }
            font
        })
        .collect();
    fonts.sort_by(|a, b| b.clusters.cmp(&a.clusters).then(a.name.cmp(&b.name)));
    if fonts.len() == 1 {
        // The only font is not loaded for a few characters beside others.
        fonts[0].only_for.clear();
    }
    TextCost {
        source: source.to_owned(),
        clusters,
        files: asked.len(),
        bytes: asked.values().sum(),
        fonts,
    }
}

/// The place of a font among `fonts`, where it may be new.
fn font_of(fonts: &mut Vec<(FontCost, Vec<String>)>, candidate: &Candidate) -> usize {
    let (file, bytes) = match &candidate.origin {
        Origin::Web { file, .. } if candidate.bytes.is_some() => {
            (Some(file.clone()), candidate.bytes)
        }
        _ => (None, None),
    };
    let known = fonts
        .iter()
        .position(|(known, _)| known.name == candidate.name && known.file == file);
    known.unwrap_or_else(|| {
        let font = FontCost {
            name: candidate.name.clone(),
            file,
            bytes,
            clusters: 0,
            only_for: Vec::new(),
        };
        fonts.push((font, Vec::new()));
        fonts.len() - 1
    })
}
