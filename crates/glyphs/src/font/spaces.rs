//! Whether a font substitutes glyphs by the spaces beside them. Firefox then shapes
//! words together with the spaces between, otherwise each word alone.

use std::collections::BTreeSet;

use skrifa::font::Kind;
use skrifa::raw::TableProvider as _;
use skrifa::raw::tables::gsub::{ChainedSequenceContext, SequenceContext, SubstitutionSubtables};
use skrifa::raw::tables::layout::{ClassDef, CoverageTable};
use skrifa::raw::types::{BigEndian, GlyphId, GlyphId16};

use super::{Body, Face, lookups};

/// Features that are on without being asked for, in any script.
const ON: [&str; 14] = [
    "calt", "ccmp", "clig", "curs", "fina", "init", "isol", "liga", "locl", "mark", "medi", "mkmk",
    "rclt", "rlig",
];

/// Whether a substitution that is on by default (GSUB) looks at the space.
pub(super) fn decide(face: &Face) -> bool {
    let Body::Font(font) = face.body() else {
        return false;
    };
    let Kind::Sfnt(tables, _) = font.kind() else {
        return false;
    };
    let (Some(space), Ok(gsub)) = (font.charmap().map_unicode(' '), tables.gsub()) else {
        return false;
    };
    let mut budget = lookups::Budget::default();
    let features = lookups::features(gsub.script_list(), gsub.feature_list(), &mut budget);
    let on: BTreeSet<u16> = features
        .unwrap_or_default()
        .into_iter()
        .filter(|(tag, _)| ON.contains(&tag.as_str()))
        .flat_map(|(_, raw)| raw.lookups)
        .collect();
    let Ok(list) = gsub.lookup_list() else {
        return false;
    };
    let inputs = lookups::substitutions(&gsub, &on, &mut budget).inputs;
    if inputs.contains(&space.to_u32()) {
        return true;
    }
    let found = on.iter().any(|index| {
        let lookup = list.lookups().get(usize::from(*index));
        lookup
            .and_then(|lookup| lookup.subtables())
            .is_ok_and(|subtables| looks_at(&subtables, space, &mut budget))
    });
    // The walk ends there, too.
    found && !budget.is_spent()
}

/// Whether the context of a substitution has the space, or the steps are spent.
fn looks_at(
    subtables: &SubstitutionSubtables<'_>,
    space: GlyphId,
    budget: &mut lookups::Budget,
) -> bool {
    let covered = |table: Result<CoverageTable<'_>, _>| -> bool {
        table.is_ok_and(|table: CoverageTable<'_>| table.get(space).is_some())
    };
    let classed = |table: Result<ClassDef<'_>, _>| -> bool {
        table.is_ok_and(|table: ClassDef<'_>| table.get(space) != 0)
    };
    let listed = |sequence: &[BigEndian<GlyphId16>]| {
        let mut glyphs = sequence.iter();
        glyphs.any(|glyph| GlyphId::from(glyph.get()) == space)
    };
    let mut spent = |steps: usize| !budget.pay(1 + steps);
    match subtables {
        SubstitutionSubtables::Contextual(tables) => {
            tables.iter().flatten().any(|table| match table {
                SequenceContext::Format1(table) => {
                    table.seq_rule_sets().iter().flatten().flatten().any(|set| {
                        spent(0)
                            || set.seq_rules().iter().flatten().any(|rule| {
                                let input = rule.input_sequence();
                                spent(input.len()) || listed(input)
                            })
                    })
                }
                SequenceContext::Format2(table) => spent(1) || classed(table.class_def()),
                SequenceContext::Format3(table) => {
                    let coverages = table.coverages();
                    spent(coverages.len()) || coverages.iter().any(covered)
                }
                // With ids of 24 bits, which no browser reads.
                _ => spent(0),
            })
        }
        SubstitutionSubtables::ChainContextual(tables) => {
            tables.iter().flatten().any(|table| match table {
                ChainedSequenceContext::Format1(table) => {
                    let sets = table.chained_seq_rule_sets();
                    sets.iter().flatten().flatten().any(|set| {
                        spent(0)
                            || set.chained_seq_rules().iter().flatten().any(|rule| {
                                [
                                    rule.backtrack_sequence(),
                                    rule.input_sequence(),
                                    rule.lookahead_sequence(),
                                ]
                                .into_iter()
                                .any(|sequence| spent(sequence.len()) || listed(sequence))
                            })
                    })
                }
                ChainedSequenceContext::Format2(table) => {
                    spent(3)
                        || classed(table.backtrack_class_def())
                        || classed(table.input_class_def())
                        || classed(table.lookahead_class_def())
                }
                ChainedSequenceContext::Format3(table) => [
                    table.backtrack_coverages(),
                    table.input_coverages(),
                    table.lookahead_coverages(),
                ]
                .iter()
                .any(|coverages| spent(coverages.len()) || coverages.iter().any(covered)),
                _ => spent(0),
            })
        }
        _ => false,
    }
}
