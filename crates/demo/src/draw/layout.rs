//! Kerning and mark placement; ligatures, joined forms and other glyphs.

use std::collections::BTreeMap;

use write_fonts::tables::gpos::{
    AnchorTable, BaseArray, BaseRecord, Gpos, MarkArray, MarkBasePos, MarkRecord, PairPos, PairSet,
    PairValueRecord, PositionLookup, ValueRecord,
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

/// The scripts whose features are those of the whole font, sorted.
pub const EUROPEAN: &[&str] = &["DFLT", "arab", "cyrl", "grek", "latn"];
/// The same for fonts of Devanagari.
pub const DEVANAGARI: &[&str] = &["DFLT", "dev2", "latn"];

/// Where marks are put.
#[derive(Debug, Default)]
pub struct Placed {
    /// Letters, and where marks stand on them: x, and y above and below.
    pub bases: Vec<(u16, (f64, f64, f64))>,
    /// Marks, and whether they stand above.
    pub marks: Vec<(u16, bool)>,
}

/// A GPOS table with the kerning pairs whose letters `glyph` knows, and with
/// mark placement, for these scripts.
pub fn positions(
    glyph: impl Fn(char) -> Option<u16>,
    marks: Option<&Placed>,
    scripts: &[&str],
) -> Gpos {
    let mut lookups = vec![kerning(glyph)];
    let mut tags = vec!["kern"];
    if let Some(marks) = marks {
        lookups.push(mark_placement(marks));
        tags.push("mark");
    }
    let (scripts, features) = features(&tags, scripts);
    Gpos::new(scripts, features, LookupList::new(lookups))
}

fn kerning(glyph: impl Fn(char) -> Option<u16>) -> PositionLookup {
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
    PositionLookup::Pair(Lookup::new(LookupFlag::empty(), vec![pair_pos]))
}

/// Marks above and below their letters.
fn mark_placement(placed: &Placed) -> PositionLookup {
    let mut marks = placed.marks.clone();
    marks.sort_unstable();
    let mut bases = placed.bases.clone();
    bases.sort_by_key(|(glyph, _)| *glyph);
    let coverage =
        |glyphs: Vec<u16>| -> CoverageTable { glyphs.into_iter().map(GlyphId16::new).collect() };
    let mark_records = marks.iter().map(|(_, above)| {
        let class = if *above { 0 } else { 1 };
        MarkRecord::new(class, AnchorTable::format_1(0, 0))
    });
    let base_records = bases.iter().map(|(_, (x, above, below))| {
        let anchor = |y: f64| Some(AnchorTable::format_1(x.round() as i16, y.round() as i16));
        BaseRecord::new(vec![anchor(*above), anchor(*below)])
    });
    let table = MarkBasePos::format_1(
        coverage(marks.iter().map(|(glyph, _)| *glyph).collect()),
        coverage(bases.iter().map(|(glyph, _)| *glyph).collect()),
        MarkArray::new(mark_records.collect()),
        BaseArray::new(base_records.collect()),
    );
    PositionLookup::MarkToBase(Lookup::new(LookupFlag::empty(), vec![table]))
}

/// A GSUB table with the joined forms: feature, single form, joined form.
pub fn joined_forms(forms: &[(&'static str, u16, u16)]) -> Gsub {
    let tags = ["fina", "init", "medi"];
    let lookups = tags.map(|tag| {
        let of_feature = forms.iter().filter(|(feature, ..)| *feature == tag);
        let mut pairs: Vec<(u16, u16)> = of_feature.map(|(_, from, to)| (*from, *to)).collect();
        pairs.sort_unstable();
        single(&pairs)
    });
    let (scripts, features) = features(&tags, EUROPEAN);
    Gsub::new(scripts, features, LookupList::new(lookups.to_vec()))
}

/// One glyph for another; `pairs` are sorted.
fn single(pairs: &[(u16, u16)]) -> SubstitutionLookup {
    let from: CoverageTable = pairs
        .iter()
        .map(|(from, _)| GlyphId16::new(*from))
        .collect();
    let to = pairs.iter().map(|(_, to)| GlyphId16::new(*to)).collect();
    let table = SingleSubst::format_2(from, to);
    SubstitutionLookup::Single(Lookup::new(LookupFlag::empty(), vec![table]))
}

/// One glyph for several.
fn ligature(ligatures: &[(Vec<u16>, u16)]) -> SubstitutionLookup {
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
    let subst = LigatureSubstFormat1::new(firsts, sets.collect());
    SubstitutionLookup::Ligature(Lookup::new(
        LookupFlag::empty(),
        vec![LigatureSubst::Format1(subst)],
    ))
}

/// A GSUB table for Devanagari: half forms, and Ra before a consonant.
pub fn conjuncts(halves: &[(Vec<u16>, u16)], reph: &[(Vec<u16>, u16)]) -> Gsub {
    let (scripts, features) = features(&["half", "rphf"], DEVANAGARI);
    let lookups = vec![ligature(halves), ligature(reph)];
    Gsub::new(scripts, features, LookupList::new(lookups))
}

/// A GSUB table: `liga` from component glyphs to a ligature, and features that
/// put one glyph for another.
pub fn substitutions(
    ligatures: &[(Vec<u16>, u16)],
    singles: &[(&'static str, Vec<(u16, u16)>)],
) -> Gsub {
    let mut tags = vec!["liga"];
    let mut lookups = vec![ligature(ligatures)];
    for (tag, pairs) in singles {
        tags.push(tag);
        lookups.push(single(pairs));
    }
    let (scripts, features) = features(&tags, EUROPEAN);
    Gsub::new(scripts, features, LookupList::new(lookups))
}

/// One feature a lookup, in order, for each of `scripts`.
fn features(tags: &[&str], scripts: &[&str]) -> (ScriptList, FeatureList) {
    let indices: Vec<u16> = (0..tags.len() as u16).collect();
    let scripts = scripts.iter().map(|script| {
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
