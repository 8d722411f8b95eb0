//! Variable fonts with fewer or shorter axes show at each position what they showed there.

use rstest::rstest;
use skrifa::MetadataProvider as _;
use tidy_lattice_glyphs::font::{CharacterSet, FontFile};
use tidy_lattice_subset::proof::{Proof, neighbours, prove};
use tidy_lattice_subset::{AxisLimit, Cut, CutError, Features, Source, Want};
use write_fonts::FontBuilder;
use write_fonts::types::Tag;

use crate::opened;

/// `wght=400..700` or `wght=400`.
fn limit(text: &str) -> AxisLimit {
    let (tag, values) = text.split_once('=').unwrap();
    let (from, to) = values.split_once("..").unwrap_or((values, values));
    AxisLimit {
        tag: tag.as_bytes().try_into().unwrap(),
        from: from.parse().unwrap(),
        to: to.parse().unwrap(),
    }
}

fn limits(text: &str) -> Vec<AxisLimit> {
    text.split(' ').map(limit).collect()
}

fn all_of(file: &FontFile) -> Want {
    Want {
        characters: Source::read(file, 0).unwrap().characters(),
        literal: false,
        features: Features::All,
        hints: true,
        family: None,
    }
}

fn cut_to(file: &FontFile, limits: &[AxisLimit]) -> Result<Cut, CutError> {
    let mut source = Source::read(file, 0)?;
    source.limit(limits)?;
    source.cut(&all_of(file))
}

fn proven(file: &FontFile, cut: &Cut, limits: &[AxisLimit]) -> Result<Proof, CutError> {
    let characters = cut.characters.iter().filter_map(char::from_u32);
    prove(file, 0, cut, &neighbours(characters), &[], limits)
}

/// The axes of a font: tag, least, default, most.
pub(super) fn axes(sfnt: &[u8]) -> Vec<(String, [f32; 3])> {
    let font = skrifa::FontRef::new(sfnt).unwrap();
    let axes = font.axes();
    let ends = |axis: skrifa::Axis| [axis.min_value(), axis.default_value(), axis.max_value()];
    axes.iter()
        .map(|axis| (axis.tag().to_string(), ends(axis)))
        .collect()
}

#[rstest]
#[case::arabic(font_test_data::VAZIRMATN_VAR, "wght=100")]
#[case::arabic_most(font_test_data::VAZIRMATN_VAR, "wght=900")]
#[case::arabic_between(font_test_data::VAZIRMATN_VAR, "wght=625")]
#[case::arabic_lower(font_test_data::VAZIRMATN_VAR, "wght=100..400")]
#[case::arabic_upper(font_test_data::VAZIRMATN_VAR, "wght=500..900")]
#[case::arabic_inner(font_test_data::VAZIRMATN_VAR, "wght=300..700")]
#[case::substitutions(font_test_data::MATERIAL_SYMBOLS_SUBSET, "FILL=1")]
#[case::substitutions_off(font_test_data::MATERIAL_SYMBOLS_SUBSET, "FILL=0 wght=300..500")]
#[case::four_axes(
    font_test_data::MATERIAL_SYMBOLS_SUBSET,
    "opsz=40 wght=250..650 GRAD=-25..100"
)]
#[case::static_now(
    font_test_data::MATERIAL_SYMBOLS_SUBSET,
    "FILL=1 GRAD=150 opsz=30 wght=650"
)]
#[case::mapped_advances(font_test_data::HVAR_WITH_TRUNCATED_ADVANCE_INDEX_MAP, "wght=500..600")]
fn every_position_that_is_left_looks_as_before(#[case] bytes: &[u8], #[case] asked: &str) {
    let file = opened(bytes);
    let limits = limits(asked);
    let part = cut_to(&file, &limits).unwrap();
    let before = axes(file.sfnt());
    let limit = |tag: &str| limits.iter().find(|limit| limit.name() == tag).copied();
    let expected: Vec<(String, [f32; 3])> = (before.into_iter())
        .filter_map(|(tag, [least, default, most])| match limit(&tag) {
            Some(limit) if limit.from == limit.to => None,
            Some(limit) => {
                let (from, to) = (limit.from as f32, limit.to as f32);
                Some((tag, [from, default.clamp(from, to), to]))
            }
            None => Some((tag, [least, default, most])),
        })
        .collect();
    assert_eq!(axes(&part.sfnt), expected);
    let proof = proven(&file, &part, &limits).unwrap();
    assert!(proof.outlines >= part.glyphs.len() && proof.texts > 0);
    assert!(proof.off <= 2.0, "{} units off", proof.off);
    let whole = cut_to(&file, &[]).unwrap();
    assert!(
        part.sfnt.len() < whole.sfnt.len(),
        "{} bytes",
        part.sfnt.len()
    );
    let tables: Vec<&str> = part.tables.iter().map(|(tag, _)| tag.as_str()).collect();
    let varies = ["fvar", "gvar", "HVAR", "avar", "STAT", "MVAR"];
    let left = tables.iter().any(|tag| varies.contains(tag));
    assert_eq!(left, !expected.is_empty(), "{tables:?}");
}

#[test]
fn proof_sees_another_position() {
    let file = opened(font_test_data::VAZIRMATN_VAR);
    let part = cut_to(&file, &limits("wght=400")).unwrap();
    let error = proven(&file, &part, &limits("wght=500")).unwrap_err();
    assert!(matches!(error, CutError::ShowsOtherwise { .. }), "{error}");
}

#[rstest]
#[case::no_such_axis("slnt=-5", "no axis for slnt=-5: there are wght=100..900")]
#[case::too_far("wght=100..950", "no axis for wght=100..950: there are wght=100..900")]
fn a_limit_outside_is_told_with_what_there_is(#[case] asked: &str, #[case] told: &str) {
    let file = opened(font_test_data::VAZIRMATN_VAR);
    let error = cut_to(&file, &limits(asked)).unwrap_err();
    assert!(error.to_string().contains(told), "{error}");
}

#[rstest]
#[case::not_variable(
    epaint_default_fonts::HACK_REGULAR,
    "wght=400",
    "it is no variable font"
)]
#[case::avar2(font_test_data::AVAR2_CHECKER, "AVAR=100", "depend on each other")]
#[case::cff2(font_test_data::CANTARELL_VF_TRIMMED, "wght=400", "CFF2")]
#[case::colours(font_test_data::COLRV0V1_VARIABLE, "SWPS=0", "colours vary")]
fn what_cannot_be_limited_is_told(#[case] bytes: &[u8], #[case] asked: &str, #[case] told: &str) {
    let error = cut_to(&opened(bytes), &limits(asked)).unwrap_err();
    assert!(error.to_string().contains(told), "{error}");
}

#[test]
fn the_default_is_what_the_tables_say() {
    let file = opened(font_test_data::MATERIAL_SYMBOLS_SUBSET);
    let part = cut_to(&file, &limits("wght=600..700")).unwrap();
    let cut = opened(&part.sfnt);
    let os2 = cut.table(0, "OS/2").unwrap();
    assert_eq!(u16::from_be_bytes([os2[4], os2[5]]), 600);
    assert_eq!(
        part.characters,
        CharacterSet::of(all_of(&file).characters.iter())
    );
}

#[test]
fn baselines_do_not_vary_along_axes_that_are_gone() {
    // Version 1.1, with a store behind it; what the store holds is not read.
    let base = [0, 1, 0, 1, 0, 0, 0, 0, 0, 0, 0, 12, 0, 1, 0, 0];
    let whole = opened(font_test_data::VAZIRMATN_VAR);
    let mut builder = FontBuilder::new();
    for table in whole.tables(0) {
        let tag: [u8; 4] = table.tag.as_bytes().try_into().unwrap();
        builder.add_raw(Tag::new(&tag), whole.table(0, &table.tag).unwrap().to_vec());
    }
    builder.add_raw(Tag::new(b"BASE"), base.to_vec());
    let file = opened(&builder.build());
    let table = |cut: Cut| opened(&cut.sfnt).table(0, "BASE").unwrap().to_vec();
    assert_eq!(table(cut_to(&file, &[]).unwrap()), base);
    let limited = table(cut_to(&file, &limits("wght=400..700")).unwrap());
    assert_eq!(limited[8..12], [0; 4]);
    assert_eq!(limited[..8], base[..8]);
}
