//! Kerning, ligatures and tabular figures.

use std::collections::BTreeMap;

use write_fonts::tables::gpos::{
    Gpos, PairPos, PairSet, PairValueRecord, PositionLookup, ValueRecord,
};
use write_fonts::tables::gsub::{
    Gsub, Ligature, LigatureSet, LigatureSubst, LigatureSubstFormat1, SingleSubst,
    SubstitutionLookup,
};
use write_fonts::tables::layout::{
    CoverageTable, Feature, FeatureList, FeatureRecord, LangSys, Lookup, LookupFlag, LookupList,
    Script, ScriptList, ScriptRecord,
};
use write_fonts::types::{GlyphId16, Tag};

/// Pairs of letters that are set closer, in font units.
const KERNING: &[(&str, &str, i16)] = &[
    ("A", "VWY", -70),
    ("A", "TU", -50),
    ("A", "vwy", -35),
    ("VWY", "A", -70),
    ("VWY", "aeocdgqsu", -50),
    ("VWY", ".,", -90),
    ("T", "aeocdgqsu", -75),
    ("T", "rnmpvwyxz", -60),
    ("T", "A.,", -80),
    ("L", "TVWY", -80),
    ("L", "vwy", -40),
    ("P", "A.,", -85),
    ("P", "aeo", -25),
    ("F", "A.,", -80),
    ("F", "aeo", -25),
    ("K", "oecvwy", -30),
    ("R", "TVWY", -25),
    ("r", ".,", -60),
    ("r", "aeocdgq", -15),
    ("vwy", ".,", -60),
    ("vwy", "aeo", -12),
    ("aeo", "vwy", -10),
    ("f", "aeo", -15),
    ("k", "aeo", -15),
    ("ΑΛ", "ΥΤ", -60),
    ("ΓΤΥ", "αοεωσ", -60),
    ("ГТУ", "аеосд", -50),
    ("А", "УТЧ", -50),
];

/// A GPOS table with the kerning pairs whose letters `glyph` knows.
pub fn kerning(glyph: impl Fn(char) -> Option<u16>) -> Gpos {
    let mut pairs: BTreeMap<u16, BTreeMap<u16, i16>> = BTreeMap::new();
    for (firsts, seconds, value) in KERNING {
        for first in firsts.chars().filter_map(&glyph) {
            for second in seconds.chars().filter_map(&glyph) {
                pairs.entry(first).or_default().insert(second, *value);
            }
        }
    }
    let coverage: CoverageTable = pairs.keys().map(|glyph| GlyphId16::new(*glyph)).collect();
    let sets = pairs.values().map(|seconds| {
        let records = seconds.iter().map(|(second, value)| {
            let advance = ValueRecord::new().with_x_advance(*value);
            PairValueRecord::new(GlyphId16::new(*second), advance, ValueRecord::new())
        });
        PairSet::new(records.collect())
    });
    let pair_pos = PairPos::format_1(coverage, sets.collect());
    let lookup = PositionLookup::Pair(Lookup::new(LookupFlag::empty(), vec![pair_pos]));
    let (scripts, features) = features(&["kern"]);
    Gpos::new(scripts, features, LookupList::new(vec![lookup]))
}

/// A GSUB table: `liga` from component glyphs to a ligature, `tnum` from
/// figures to tabular ones.
pub fn substitutions(ligatures: &[(Vec<u16>, u16)], tabular: &[(u16, u16)]) -> Gsub {
    let mut by_first: BTreeMap<u16, Vec<Ligature>> = BTreeMap::new();
    for (components, ligature) in ligatures {
        let rest = components[1..]
            .iter()
            .map(|glyph| GlyphId16::new(*glyph))
            .collect();
        let ligature = Ligature::new(GlyphId16::new(*ligature), rest);
        by_first.entry(components[0]).or_default().push(ligature);
    }
    let firsts: CoverageTable = by_first
        .keys()
        .map(|glyph| GlyphId16::new(*glyph))
        .collect();
    // Longer ligatures first, as the first that matches is taken.
    let sets = by_first.into_values().map(|mut set| {
        set.sort_by_key(|ligature| std::cmp::Reverse(ligature.component_glyph_ids.len()));
        LigatureSet::new(set)
    });
    let liga = LigatureSubstFormat1::new(firsts, sets.collect());
    let figures: CoverageTable = tabular
        .iter()
        .map(|(from, _)| GlyphId16::new(*from))
        .collect();
    let tnum = SingleSubst::format_2(
        figures,
        tabular.iter().map(|(_, to)| GlyphId16::new(*to)).collect(),
    );
    let (scripts, features) = features(&["liga", "tnum"]);
    Gsub::new(
        scripts,
        features,
        LookupList::new(vec![
            SubstitutionLookup::Ligature(Lookup::new(
                LookupFlag::empty(),
                vec![LigatureSubst::Format1(liga)],
            )),
            SubstitutionLookup::Single(Lookup::new(LookupFlag::empty(), vec![tnum])),
        ]),
    )
}

/// One feature a lookup, in order, for every script.
fn features(tags: &[&str]) -> (ScriptList, FeatureList) {
    let indices: Vec<u16> = (0..tags.len() as u16).collect();
    let scripts = ["DFLT", "cyrl", "grek", "latn"].iter().map(|script| {
        let lang_sys = LangSys::new(indices.clone());
        ScriptRecord::new(tag(script), Script::new(Some(lang_sys), Vec::new()))
    });
    let records = tags
        .iter()
        .zip(&indices)
        .map(|(name, index)| FeatureRecord::new(tag(name), Feature::new(None, vec![*index])));
    (
        ScriptList::new(scripts.collect()),
        FeatureList::new(records.collect()),
    )
}

fn tag(text: &str) -> Tag {
    Tag::new_checked(text.as_bytes()).unwrap_or_default()
}
