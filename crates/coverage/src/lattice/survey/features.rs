//! Features that a style asks for and the serving font lacks.

use std::collections::{BTreeSet, HashMap};

use icu_properties::CodePointSetData;
use icu_properties::props::{Lowercase, Uppercase};
use serde::Serialize;
use tidy_lattice_glyphs::font::Face;
use tidy_lattice_glyphs::shaping::Shaper;

use super::{Outcome, Survey, once, platforms_of};
use crate::need::Place;

/// A feature that does nothing where it is asked for.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct FeatureLack {
    /// The OpenType tag.
    pub feature: String,
    /// The CSS that asks for it.
    pub asked_by: String,
    /// The element of a page that asks, or the role.
    pub asked_in: String,
    /// The face that serves the text and has no such feature.
    pub font: String,
    /// Whether an earlier font of the stack has it, so that it is lost only where
    /// a fallback steps in.
    pub lost_in_fallback: bool,
    /// Clusters that it would change, repeats included.
    pub clusters: u64,
    /// Where the first of them stands.
    pub first: Place,
    /// The devices on which it is so.
    pub platforms: Vec<String>,
}

pub(super) fn gather(
    survey: &Survey,
    outcomes: &[Outcome<'_>],
    names: &[String],
) -> Vec<FeatureLack> {
    let mut lacks: Vec<(FeatureLack, Vec<usize>, usize)> = Vec::new();
    let mut tags: HashMap<String, BTreeSet<String>> = HashMap::new();
    for outcome in outcomes {
        let style = &survey.styles[outcome.bucket.style];
        for (feature, asked_by) in style.asked_features() {
            for (cluster, judged) in outcome.bucket.need.clusters.iter().zip(&outcome.judged) {
                if !changes(&feature, &cluster.text) {
                    continue;
                }
                let Some(number) = judged.by else { continue };
                let candidates = &outcome.resolved.candidates;
                let mut has = |number: usize| {
                    let candidate = &candidates[number];
                    let Some(face) = &candidate.face else {
                        // Of faces known by name only nothing is claimed.
                        return true;
                    };
                    if !face.knows_features() {
                        return true;
                    }
                    let known = tags.entry(candidate.name.clone()).or_insert_with(|| {
                        let mut tags = face.feature_tags();
                        if has_even_figures(face) {
                            tags.insert("tnum".to_owned());
                        }
                        tags
                    });
                    known.contains(&feature)
                };
                if has(number) {
                    continue;
                }
                let lost = number > 0 && candidates[number].entry > 0 && has(0);
                let asked_in = match &outcome.bucket.element {
                    Some(element) => element.clone(),
                    None => outcome.bucket.role.clone(),
                };
                let font = candidates[number].name.clone();
                let same = |known: &FeatureLack| {
                    known.feature == feature && known.asked_in == asked_in && known.font == font
                };
                let place = lacks
                    .iter()
                    .position(|(known, ..)| same(known))
                    .unwrap_or_else(|| {
                        let lack = FeatureLack {
                            feature: feature.clone(),
                            asked_by: asked_by.clone(),
                            asked_in: asked_in.clone(),
                            font: font.clone(),
                            lost_in_fallback: lost,
                            clusters: 0,
                            first: cluster.first.clone(),
                            platforms: Vec::new(),
                        };
                        lacks.push((lack, Vec::new(), outcome.device));
                        lacks.len() - 1
                    });
                let (known, devices, first) = &mut lacks[place];
                known.clusters += if outcome.device == *first {
                    cluster.count
                } else {
                    0
                };
                once(devices, outcome.device);
            }
        }
    }
    let mut lacks: Vec<FeatureLack> = lacks
        .into_iter()
        .map(|(mut lack, devices, _)| {
            lack.platforms = platforms_of(devices, names);
            lack
        })
        .collect();
    lacks.sort_by_key(|lack| std::cmp::Reverse(lack.clusters));
    lacks
}

/// Whether all figures are as wide as each other anyway.
fn has_even_figures(face: &Face) -> bool {
    let mut shaper = Shaper::new(face);
    let mut widths = ('0'..='9').map(|figure| {
        let known = face.maps(figure);
        known.then(|| shaper.units(&figure.to_string()))
    });
    let first = widths.next().flatten();
    first.is_some() && widths.all(|width| width == first)
}

/// Whether the feature is about such a cluster.
fn changes(feature: &str, cluster: &str) -> bool {
    let first = cluster.chars().next().unwrap_or(' ');
    match feature {
        "tnum" | "pnum" | "lnum" | "onum" | "zero" | "frac" | "afrc" | "ordn" | "sups" | "subs" => {
            first.is_numeric()
        }
        "smcp" | "pcap" => CodePointSetData::new::<Lowercase>().contains(first),
        "c2sc" | "c2pc" | "titl" | "case" => CodePointSetData::new::<Uppercase>().contains(first),
        _ => first.is_alphanumeric(),
    }
}
