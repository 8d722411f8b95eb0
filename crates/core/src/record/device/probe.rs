//! The font that gives away what other fonts lack.

use kurbo::BezPath;
use write_fonts::FontBuilder;
use write_fonts::tables::cmap::{
    Cmap, Cmap13, CmapSubtable, ConstantMapGroup, EncodingRecord, PlatformId,
};
use write_fonts::tables::gdef::Gdef;
use write_fonts::tables::glyf::{Glyf, GlyfLocaBuilder, Glyph, SimpleGlyph};
use write_fonts::tables::gpos::{Gpos, PositionLookup, SinglePos, ValueRecord};
use write_fonts::tables::head::Head;
use write_fonts::tables::hhea::Hhea;
use write_fonts::tables::hmtx::{Hmtx, LongMetric};
use write_fonts::tables::layout::{
    ClassDef, CoverageTable, Feature, FeatureList, FeatureRecord, LangSys, Lookup, LookupFlag,
    LookupList, Script, ScriptList, ScriptRecord,
};
use write_fonts::tables::loca::LocaFormat;
use write_fonts::tables::maxp::Maxp;
use write_fonts::tables::name::{Name, NameRecord};
use write_fonts::tables::os2::Os2;
use write_fonts::tables::post::Post;
use write_fonts::types::{FWord, GlyphId16, NameId, Tag, UfWord};

/// How wide every character is, in thousandths of an em; `measure/setting.js` knows it, too.
const WIDTH: u16 = 7319;

/// A font in which every character, marks as well, is the same blank, 7.319 em wide.
///
/// A map from many to one (`cmap` format 13) has all of Unicode in one group. Marks keep
/// their width where `GDEF` calls them bases and there is a `GPOS` table; without, shapers
/// place marks themselves and take their width away.
pub fn probe() -> Vec<u8> {
    // The tables below are written by known-good code from constants: a test reads them.
    build().unwrap_or_default()
}

fn build() -> Result<Vec<u8>, write_fonts::BuilderError> {
    let groups = vec![
        ConstantMapGroup::new(0x20, 0xd7ff, 1),
        ConstantMapGroup::new(0xe000, 0x10_ffff, 1),
    ];
    let count = groups.len() as u32;
    let length = 16 + 12 * count;
    let map = Cmap13::new(length, 0, count, groups);
    let (glyf, loca, format) = outlines();
    let mut font = FontBuilder::new();
    font.add_table(&Cmap::new(vec![EncodingRecord::new(
        PlatformId::Windows,
        10,
        CmapSubtable::Format13(map),
    )]))?;
    font.add_table(&glyf)?;
    font.add_table(&loca)?;
    font.add_table(&Head {
        units_per_em: 1000,
        index_to_loc_format: match format {
            LocaFormat::Short => 0,
            LocaFormat::Long => 1,
        },
        ..Head::default()
    })?;
    font.add_table(&Hhea {
        ascender: FWord::new(800),
        descender: FWord::new(-200),
        advance_width_max: UfWord::new(WIDTH),
        number_of_h_metrics: 1,
        ..Hhea::default()
    })?;
    font.add_table(&Hmtx::new(vec![LongMetric::new(WIDTH, 0)], vec![0]))?;
    font.add_table(&Maxp {
        num_glyphs: 2,
        max_points: Some(3),
        max_contours: Some(1),
        max_composite_points: Some(0),
        max_composite_contours: Some(0),
        max_zones: Some(1),
        max_twilight_points: Some(0),
        max_storage: Some(0),
        max_function_defs: Some(0),
        max_instruction_defs: Some(0),
        max_stack_elements: Some(0),
        max_size_of_instructions: Some(0),
        max_component_elements: Some(0),
        max_component_depth: Some(0),
    })?;
    font.add_table(&Name::new(vec![
        named(NameId::FAMILY_NAME, "Tidy Lattice Probe"),
        named(NameId::SUBFAMILY_NAME, "Regular"),
    ]))?;
    font.add_table(&Os2 {
        s_typo_ascender: 800,
        s_typo_descender: -200,
        us_win_ascent: 800,
        us_win_descent: 200,
        ..Os2::default()
    })?;
    font.add_table(&Post {
        version: write_fonts::types::Version16Dot16::VERSION_3_0,
        ..Post::default()
    })?;
    font.add_table(&Gdef {
        glyph_class_def: Some(ClassDef::format_1(GlyphId16::new(1), vec![1])).into(),
        ..Gdef::default()
    })?;
    font.add_table(&positions())?;
    Ok(font.build())
}

fn outlines() -> (Glyf, write_fonts::tables::loca::Loca, LocaFormat) {
    let mut builder = GlyfLocaBuilder::new();
    // Browsers refuse fonts without any outline: `.notdef` has a dot.
    let mut dot = BezPath::new();
    dot.move_to((0.0, 0.0));
    dot.line_to((0.0, 10.0));
    dot.line_to((10.0, 0.0));
    dot.close_path();
    let dot = SimpleGlyph::from_bezpath(&dot).map_or(Glyph::Empty, Glyph::Simple);
    for glyph in [dot, Glyph::Empty] {
        // Neither is too large.
        let _ = builder.add_glyph(&glyph);
    }
    builder.build()
}

fn named(id: NameId, text: &str) -> NameRecord {
    NameRecord::new(3, 1, 0x409, id, text.to_owned().into())
}

/// One lookup that moves `.notdef` by nothing.
fn positions() -> Gpos {
    let single = SinglePos::format_1(
        CoverageTable::format_1(vec![GlyphId16::new(0)]),
        ValueRecord::new().with_x_advance(0),
    );
    let lookup = PositionLookup::Single(Lookup::new(LookupFlag::empty(), vec![single]));
    let feature = FeatureRecord::new(Tag::new(b"kern"), Feature::new(None, vec![0]));
    let usual = Script::new(Some(LangSys::new(vec![0])), Vec::new());
    Gpos::new(
        ScriptList::new(vec![ScriptRecord::new(Tag::new(b"DFLT"), usual)]),
        FeatureList::new(vec![feature]),
        LookupList::new(vec![lookup]),
    )
}
