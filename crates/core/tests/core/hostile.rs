//! Hostile fonts and texts end in an answer, never in a panic.

use proptest::prelude::*;
use proptest::sample::Index;
use rstest::rstest;
use tidy_lattice_core::font::{Face, FacePick, FontFile, Limits};
use tidy_lattice_core::lattice::cover;
use tidy_lattice_core::shaping::Shaper;
use tidy_lattice_core::text::{TextError, decode};

use crate::material::{cases, damaged, need};

const TEXT: &str = "AVATAR office ñ e\u{301} Άλφα ≠ 👩‍🚀 🇵🇱 क्ष العربية";

fn fonts() -> Vec<&'static [u8]> {
    vec![
        tidy_lattice_demo::file("fonts/SkerrymarkSans-Regular.ttf").expect("the brand font"),
        tidy_lattice_demo::file("fonts/SkerrymarkText-Regular.ttf").expect("the text font"),
        epaint_default_fonts::UBUNTU_LIGHT,
        font_test_data::VAZIRMATN_VAR,
        font_test_data::CANTARELL_VF_TRIMMED,
        font_test_data::NOTO_SANS_JP_CFF,
        font_test_data::ttc::TTC,
    ]
}

/// Does with `bytes` what the commands do; true where they are a font.
fn use_font(bytes: Vec<u8>) -> bool {
    let opened = FontFile::read(bytes, Limits::DEFAULT)
        .map(FontFile::as_web_font)
        .and_then(|file| Face::open(&file, &FacePick::default()));
    let Ok(face) = opened else {
        return false;
    };
    let coverage = cover(&need(TEXT), std::slice::from_ref(&face));
    assert_eq!(
        coverage.fonts[0].serves + coverage.gap_clusters,
        coverage.clusters
    );
    assert!(Shaper::new(&face).width(TEXT).is_finite());
    assert!(face.line().ascent.is_finite());
    true
}

#[test]
fn whole_fonts_are_used() {
    for font in fonts() {
        assert!(use_font(font.to_vec()));
    }
}

proptest! {
    #![proptest_config(cases(400))]

    #[test]
    fn a_font_cut_anywhere_is_refused(font in prop::sample::select(fonts()), cut in any::<Index>()) {
        // The last bytes may be padding.
        let cut = cut.index(font.len() - 8);
        prop_assert!(!use_font(font[..cut].to_vec()), "cut at {} of {}", cut, font.len());
    }

    #[test]
    fn damaged_bytes_do_no_harm(
        font in prop::sample::select(fonts()),
        anywhere in prop::collection::vec(any::<(Index, u8)>(), 0..13),
        // Headers and directories are hit more often than glyphs.
        ahead in prop::collection::vec((0..2048_usize, any::<u8>()), 1..13),
    ) {
        let mut bytes = damaged(font, &anywhere, None);
        for (place, byte) in ahead {
            let place = place.min(bytes.len() - 1);
            bytes[place] = byte;
        }
        use_font(bytes);
    }
}

#[rstest]
#[case("zalgo", "e".to_owned() + &"\u{301}\u{327}".repeat(20_000))]
#[case("joiners", "👩\u{200d}".repeat(5_000))]
#[case("flags", "\u{1f1f5}".repeat(9_999))]
#[case("selectors", "☃".to_owned() + &"\u{fe0f}".repeat(5_000))]
#[case("jamo", "\u{1100}\u{1161}".repeat(20_000))]
fn strange_texts_are_counted(#[case] name: &str, #[case] text: String) {
    let face = crate::material::face(epaint_default_fonts::NOTO_EMOJI_REGULAR);
    let coverage = cover(&need(&text), &[face]);
    assert!(coverage.clusters > 0, "{name}");
}

#[test]
fn text_must_be_utf8_and_is_told_where_it_is_not() {
    assert_eq!(
        decode(b"\xef\xbb\xbfhello".to_vec()),
        Ok("hello".to_owned())
    );
    assert_eq!(
        decode(b"one\ntw\xf6\n".to_vec()),
        Err(TextError::NotUtf8 { line: 2, byte: 7 })
    );
    assert_eq!(decode(b"\xff\xfeh\0".to_vec()), Err(TextError::Utf16));
}
