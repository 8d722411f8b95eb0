//! What is cut from fonts of many kinds, table by table: sizes and checksums as they were
//! when somebody last looked at them.

use std::fmt::Write as _;

use rstest::rstest;
use tidy_lattice_glyphs::font::{CharacterSet, FontFile};
use tidy_lattice_subset::{AxisLimit, Cut, CutError, Features, Source, Want};

use super::axes::axes;
use super::{demo, opened};

/// The table directory of an sfnt: of each table its tag, length and checksum (OpenType,
/// “Table Directory”).
fn directory(sfnt: &[u8]) -> Vec<(String, u32, u32)> {
    let number = |at: usize| u32::from_be_bytes(sfnt[at..at + 4].try_into().unwrap());
    let count = usize::from(u16::from_be_bytes([sfnt[4], sfnt[5]]));
    (0..count)
        .map(|table| 12 + table * 16)
        .map(|at| {
            let tag = String::from_utf8_lossy(&sfnt[at..at + 4]).into_owned();
            (tag, number(at + 12), number(at + 4))
        })
        .collect()
}

/// Every second of the characters with what style sheets turn on; all of them without
/// instructions, with another name, and every feature.
fn wants(all: &CharacterSet) -> [(&'static str, Want); 2] {
    let half = Want {
        characters: CharacterSet::of(all.iter().step_by(2)),
        literal: false,
        features: Features::of_css([]),
        hints: true,
        family: None,
    };
    let whole = Want {
        characters: all.clone(),
        literal: true,
        features: Features::All,
        hints: false,
        family: Some("Tern".to_owned()),
    };
    [("half", half), ("whole", whole)]
}

/// One row a table, or why nothing is cut.
fn rows(cut: &Result<Cut, CutError>) -> String {
    let cut = match cut {
        Ok(cut) => cut,
        Err(error) => return format!("  {error}\n"),
    };
    let mut rows = format!(
        "  {} characters, {} glyphs; without: {}\n",
        cut.characters.len(),
        cut.glyphs.len(),
        cut.dropped.join(" ")
    );
    for (tag, length, checksum) in directory(&cut.sfnt) {
        let _ = writeln!(rows, "  {tag} {length} {checksum:08x}");
    }
    rows
}

#[rstest]
#[case::sans("sans", demo("SkerrymarkSans-Regular.ttf"))]
#[case::arabic("arabic", demo("TidefallArabic-Regular.ttf"))]
#[case::variable_arabic("variable arabic", opened(font_test_data::VAZIRMATN_VAR))]
#[case::variable_serif("variable serif", opened(font_test_data::NOTO_SERIF_DISPLAY_TRIMMED))]
#[case::cff("cff", opened(font_test_data::NOTO_SANS_JP_CFF))]
#[case::cff2("cff2", opened(font_test_data::CANTARELL_VF_TRIMMED))]
#[case::vertical("vertical", opened(font_test_data::MPLUS1CODE_VERTICAL_SUBSET))]
#[case::bitmaps("bitmaps", opened(font_test_data::CBDT))]
#[case::layers("layers", opened(font_test_data::COLRV0V1))]
#[case::variable_layers("variable layers", opened(font_test_data::COLRV0V1_VARIABLE))]
#[case::flags("flags", opened(font_test_data::NOTO_COLOR_EMOJI_FLAGS))]
#[case::handwriting("handwriting", opened(font_test_data::NOTO_HANDWRITING_SBIX))]
#[case::symbols("symbols", opened(font_test_data::MATERIAL_SYMBOLS_SUBSET))]
#[case::icons("icons", opened(font_test_data::MATERIAL_ICONS_SUBSET))]
#[case::components("components", opened(font_test_data::GLYF_COMPONENTS))]
#[case::instructions("instructions", opened(font_test_data::COUSINE_HINT_SUBSET))]
#[case::hinted("hinted", opened(font_test_data::TINOS_SUBSET))]
#[case::variable_hints("variable hints", opened(font_test_data::CVAR))]
#[case::hebrew("hebrew", opened(font_test_data::NOTOSERIFHEBREW_AUTOHINT_METRICS))]
#[case::shaping("shaping", opened(font_test_data::NOTOSERIF_AUTOHINT_SHAPING))]
#[case::variation_sequences("variation sequences", opened(font_test_data::CMAP14_FONT1))]
fn what_is_cut_is_as_it_was(#[case] name: &str, #[case] file: FontFile) {
    let mut recorded = String::new();
    let all = Source::read(&file, 0).unwrap().characters();
    for (named, want) in wants(&all) {
        let cut = Source::read(&file, 0).unwrap().cut(&want);
        let _ = write!(recorded, "{named}:\n{}", rows(&cut));
    }
    // Half of the first axis, where there is one, and the others where they are.
    let [(_, half), _] = wants(&all);
    let whole = Source::read(&file, 0).unwrap().cut(&half);
    let axes = whole.map_or(Vec::new(), |cut| axes(&cut.sfnt));
    if let Some((tag, [_, default, most])) = axes.first() {
        let limit = AxisLimit {
            tag: tag.as_bytes().try_into().unwrap(),
            from: f64::from(*default),
            to: f64::from(f32::midpoint(*default, *most)),
        };
        let mut source = Source::read(&file, 0).unwrap();
        let cut = source.limit(&[limit]).and_then(|()| source.cut(&half));
        let _ = write!(recorded, "half of an axis:\n{}", rows(&cut));
    }
    insta::assert_snapshot!(name, recorded);
}
