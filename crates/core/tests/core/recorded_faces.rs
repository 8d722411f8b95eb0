//! What is told of fonts of many kinds: as it was when somebody last looked at it.

use rstest::rstest;
use tidy_lattice_core::describe::{Depth, Question, describe};
use tidy_lattice_core::font::{FacePick, FontFile, Limits};

use crate::material::shortened;

#[rstest]
#[case("variable arabic", font_test_data::VAZIRMATN_VAR)]
#[case("variable serif", font_test_data::NOTO_SERIF_DISPLAY_TRIMMED)]
#[case("cff", font_test_data::NOTO_SANS_JP_CFF)]
#[case("cff2", font_test_data::CANTARELL_VF_TRIMMED)]
#[case("vertical", font_test_data::MPLUS1CODE_VERTICAL_SUBSET)]
#[case("bitmaps", font_test_data::CBDT)]
#[case("embedded", font_test_data::EMBEDDED_BITMAPS)]
#[case("layers", font_test_data::COLRV0V1)]
#[case("flags", font_test_data::NOTO_COLOR_EMOJI_FLAGS)]
#[case("handwriting", font_test_data::NOTO_HANDWRITING_SBIX)]
#[case("symbols", font_test_data::MATERIAL_SYMBOLS_SUBSET)]
#[case("private symbols", font_test_data::CMAP4_SYMBOL_PUA)]
#[case("icons", font_test_data::MATERIAL_ICONS_SUBSET)]
#[case("components", font_test_data::GLYF_COMPONENTS)]
#[case("monospace", font_test_data::COUSINE_HINT_SUBSET)]
#[case("hinted", font_test_data::TINOS_SUBSET)]
#[case("variable hints", font_test_data::CVAR)]
#[case("hebrew", font_test_data::NOTOSERIFHEBREW_AUTOHINT_METRICS)]
#[case("chinese", font_test_data::NOTOSERIFTC_AUTOHINT_METRICS)]
#[case("shaping", font_test_data::NOTOSERIF_AUTOHINT_SHAPING)]
#[case("variation sequences", font_test_data::CMAP14_FONT1)]
#[case("many to one", font_test_data::LAST_RESORT_HE)]
#[case("names alone", font_test_data::NAMES_ONLY)]
#[case("squares", font_test_data::AHEM)]
#[case("another avar", font_test_data::AMSTELVAR_AVAR2_A)]
fn what_is_told_is_as_it_was(#[case] name: &str, #[case] bytes: &[u8]) {
    let file = FontFile::read_damaged(bytes.to_vec(), Limits::DEFAULT).expect("a font");
    let question = Question {
        depth: Depth::Full,
        languages: None,
        text_language: "en".to_owned(),
    };
    let told = match describe(&file, &FacePick::default(), &question) {
        Ok(description) => {
            let whole = serde_json::to_value(&description).expect("JSON");
            serde_json::to_string_pretty(&shortened(whole)).expect("JSON")
        }
        Err(error) => error.to_string(),
    };
    insta::assert_snapshot!(name, told);
}
