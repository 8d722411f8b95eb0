//! The features of a face: what each does, how CSS asks for it, what it
//! touches, with samples that were found from its lookups and verified by
//! shaping.

mod catalogue;
mod samples;

use std::collections::{BTreeMap, BTreeSet};

use serde::Serialize;
use skrifa::font::Kind;
use skrifa::raw::TableProvider as _;
use tidy_lattice_glyphs::font::lookups::{self, Effect};
use tidy_lattice_glyphs::font::{Face, name_text};

use super::Finding;
pub use catalogue::Default as FeatureDefault;
pub(super) use catalogue::known;
pub use samples::Sample;
use samples::Sampler;

/// The most ligatures that are listed.
const MOST_LIGATURES: usize = 2000;

/// A feature of a face.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct FeatureDescription {
    /// The tag.
    pub tag: String,
    /// The tables it stands in: `GSUB`, `GPOS` or both.
    pub tables: Vec<&'static str>,
    /// Script and language tags in GSUB, such as `latn/TRK`; `dflt` is a
    /// script's default.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub gsub_systems: Vec<String>,
    /// Script and language tags in GPOS.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub gpos_systems: Vec<String>,
    /// What it does, in a sentence.
    pub does: String,
    /// The name that the font gives a stylistic set or character variant.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub name: Option<String>,
    /// Whether it is on where a style sheet asks for nothing.
    pub default: FeatureDefault,
    /// The CSS declaration that asks for it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub css: Option<String>,
    /// How many glyphs it starts from. `None` at summary level.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub glyphs: Option<u64>,
    /// The letters of its ligatures.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub ligatures: Vec<String>,
    /// How many glyphs have several alternates, and the most that one has.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub alternates: Option<(usize, usize)>,
    /// Text that it changes, verified by shaping.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub samples: Vec<Sample>,
}

/// Reads the features of `face`; with `measure`, what they touch and samples.
pub(super) fn read(
    face: &Face,
    measure: bool,
    findings: &mut Vec<Finding>,
) -> Vec<FeatureDescription> {
    let Some(font) = face.font() else {
        return Vec::new();
    };
    let Kind::Sfnt(tables, _) = font.kind() else {
        return Vec::new();
    };
    let (gsub, gpos) = (tables.gsub().ok(), tables.gpos().ok());
    let mut budget = lookups::Budget::default();
    let substituting = gsub
        .as_ref()
        .map(|t| lookups::features(t.script_list(), t.feature_list(), &mut budget));
    let positioning = gpos
        .as_ref()
        .map(|t| lookups::features(t.script_list(), t.feature_list(), &mut budget));
    let mut take = |table, read: Option<Result<_, _>>| match read {
        Some(Ok(features)) => features,
        Some(Err(_)) => {
            findings.push(Finding::fault(
                "font-table-broken",
                format!(
                    "the {table} table's lists of scripts and features cannot be read, so its \
                     features are not told and will not work; export the font again"
                ),
            ));
            BTreeMap::new()
        }
        None => BTreeMap::new(),
    };
    let substituting: BTreeMap<String, lookups::Raw> = take("GSUB", substituting);
    let positioning: BTreeMap<String, lookups::Raw> = take("GPOS", positioning);
    let tags: BTreeSet<&String> = substituting.keys().chain(positioning.keys()).collect();
    let mut sampler = measure.then(|| Sampler::new(face));
    let mut damaged: Vec<&str> = Vec::new();
    let features = tags
        .into_iter()
        .map(|tag| {
            let (raw_sub, raw_pos) = (substituting.get(tag), positioning.get(tag));
            let known = known(tag);
            let name_id = raw_sub
                .and_then(|raw| raw.name_id)
                .filter(|_| raw_sub.is_some());
            let systems = |raw: Option<&lookups::Raw>| {
                raw.map_or_else(Vec::new, |raw| raw.systems.iter().cloned().collect())
            };
            let mut feature = FeatureDescription {
                tag: tag.clone(),
                tables: [("GSUB", raw_sub.is_some()), ("GPOS", raw_pos.is_some())]
                    .into_iter()
                    .filter_map(|(table, there)| there.then_some(table))
                    .collect(),
                gsub_systems: systems(raw_sub),
                gpos_systems: systems(raw_pos),
                does: known.does,
                name: name_id.and_then(|id| name_text(font, id, 200)),
                default: known.default,
                css: known.css,
                glyphs: None,
                ligatures: Vec::new(),
                alternates: None,
                samples: Vec::new(),
            };
            if let Some(sampler) = &mut sampler {
                let sub = raw_sub
                    .zip(gsub.as_ref())
                    .map(|(raw, gsub)| lookups::substitutions(gsub, &raw.lookups, &mut budget));
                let pos = raw_pos
                    .zip(gpos.as_ref())
                    .map(|(raw, gpos)| lookups::positionings(gpos, &raw.lookups, &mut budget));
                for (table, effect) in [("GSUB", &sub), ("GPOS", &pos)] {
                    if effect.as_ref().is_some_and(|effect| effect.damaged)
                        && !damaged.contains(&table)
                    {
                        damaged.push(table);
                    }
                }
                measured(&mut feature, sampler, sub.as_ref(), pos.as_ref());
            }
            feature
        })
        .collect();
    for table in damaged {
        findings.push(Finding::fault(
            "font-lookup-broken",
            format!(
                "some lookups of the {table} table cannot be read; the features that use them may \
                 not work everywhere; export the font again"
            ),
        ));
    }
    features
}

fn measured(
    feature: &mut FeatureDescription,
    sampler: &mut Sampler<'_>,
    sub: Option<&Effect>,
    pos: Option<&Effect>,
) {
    let mut inputs: BTreeSet<u32> = BTreeSet::new();
    for effect in [sub, pos].into_iter().flatten() {
        inputs.extend(&effect.inputs);
        // The coverage of a ligature has its first glyph only.
        inputs.extend(effect.ligatures.iter().flatten());
    }
    feature.glyphs = Some(inputs.len() as u64);
    feature.alternates = sub.and_then(|effect| effect.alternates);
    if let Some(effect) = sub {
        let letters = effect
            .ligatures
            .iter()
            .filter_map(|glyphs| sampler.letters(glyphs));
        let mut ligatures: Vec<String> = letters.collect();
        ligatures.sort();
        ligatures.dedup();
        ligatures.truncate(MOST_LIGATURES);
        feature.ligatures = ligatures;
    }
    let systems = feature.gsub_systems.iter().chain(&feature.gpos_systems);
    let systems: Vec<&str> = systems.map(String::as_str).collect();
    feature.samples = sampler.samples(&feature.tag, &systems, [sub, pos]);
}
