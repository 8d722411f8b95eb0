//! WOFF and WOFF2, read back by another decoder.

use rstest::rstest;
use tidy_lattice_glyphs::font::{Container, FontFile, Limits};
use tidy_lattice_subset::{Source, encode};

use crate::{cut, demo, opened, text, want};

#[rstest]
#[case::outlines(demo("SkerrymarkText-Regular.ttf"))]
#[case::hinted(opened(epaint_default_fonts::HACK_REGULAR))]
#[case::composites(opened(font_test_data::GLYF_COMPONENTS))]
#[case::overlapping(opened(font_test_data::VAZIRMATN_VAR))]
#[case::off_curve(opened(font_test_data::MOSTLY_OFF_CURVE))]
#[case::cubic(opened(font_test_data::CUBIC_GLYF))]
#[case::cff(opened(font_test_data::NOTO_SANS_JP_CFF))]
#[case::bitmaps(opened(font_test_data::CBDT))]
fn what_is_packed_comes_back(#[case] file: FontFile) {
    let source = Source::read(&file, 0).unwrap();
    let part = source.cut(&want(source.characters())).unwrap();
    let woff = encode::woff(&part.sfnt).unwrap();
    let woff2 = encode::woff2(&part.sfnt).unwrap();
    for (packed, container) in [(woff, Container::Woff), (woff2, Container::Woff2)] {
        let back = FontFile::read(packed, Limits::DEFAULT).unwrap();
        assert_eq!(back.container(), container);
        let plain = opened(&part.sfnt);
        for table in plain.tables(0) {
            let (was, is) = (plain.table(0, &table.tag), back.table(0, &table.tag));
            // Glyphs are written anew, and head says so.
            if !["glyf", "loca", "head"].contains(&table.tag.as_str()) {
                assert_eq!(was, is, "{}", table.tag);
            }
        }
        let again = tidy_lattice_subset::Cut {
            sfnt: back.sfnt().to_vec(),
            ..part.clone()
        };
        crate::proven(&file, &again, &[]).unwrap();
    }
}

#[test]
fn packing_pays() {
    let file = demo("SkerrymarkText-Regular.ttf");
    let part = cut(
        &file,
        &want(text("The quick ferry jumps over the lazy harbour")),
    )
    .unwrap();
    let (woff, woff2) = (
        encode::woff(&part.sfnt).unwrap(),
        encode::woff2(&part.sfnt).unwrap(),
    );
    assert!(woff2.len() < woff.len() && woff.len() < part.sfnt.len());
    // The header tells the length of the file, in whole words.
    let length = u32::from_be_bytes(woff2[8..12].try_into().unwrap()) as usize;
    assert_eq!(length, woff2.len());
    assert_eq!(length % 4, 0);
}

#[rstest]
#[case::empty(b"")]
#[case::short(b"\0\x01\0\0\0\x09")]
#[case::text(b"this is no font at all, just a text of some length")]
fn what_is_no_font_is_not_packed(#[case] bytes: &[u8]) {
    assert!(encode::woff(bytes).is_err());
    assert!(encode::woff2(bytes).is_err());
}
