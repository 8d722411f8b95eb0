//! Containers are told by their bytes, and unpacked within limits.

use rstest::rstest;
use tidy_lattice_core::font::{Container, Face, FacePick, FontError, FontFile, Limits, Slope};

use crate::material::{demo, face, pick};

const SANS: &str = "fonts/SkerrymarkSans-Regular.ttf";

fn sans() -> &'static [u8] {
    tidy_lattice_demo::file(SANS).expect("the brand font")
}

fn read(bytes: Vec<u8>) -> Result<FontFile, FontError> {
    FontFile::read(bytes, Limits::DEFAULT)
}

/// The tables of an sfnt: tag, checksum, data.
fn tables(sfnt: &[u8]) -> Vec<([u8; 4], u32, Vec<u8>)> {
    let be32 = |at: usize| u32::from_be_bytes(sfnt[at..at + 4].try_into().expect("4 bytes"));
    let count = u16::from_be_bytes([sfnt[4], sfnt[5]]) as usize;
    (0..count)
        .map(|table| {
            let at = 12 + table * 16;
            let (start, length) = (be32(at + 8) as usize, be32(at + 12) as usize);
            let tag = sfnt[at..at + 4].try_into().expect("4 bytes");
            (tag, be32(at + 4), sfnt[start..start + length].to_vec())
        })
        .collect()
}

/// `sfnt` as WOFF 1.0 with its tables as they are; `claim` replaces the
/// unpacked length of the first table.
fn woff(sfnt: &[u8], claim: Option<u32>) -> Vec<u8> {
    let tables = tables(sfnt);
    let mut directory = Vec::new();
    let mut data = Vec::new();
    let start = 44 + tables.len() * 20;
    for (index, (tag, checksum, table)) in tables.iter().enumerate() {
        let length = table.len() as u32;
        directory.extend(tag);
        directory.extend(((start + data.len()) as u32).to_be_bytes());
        directory.extend(length.to_be_bytes());
        directory.extend(claim.filter(|_| index == 0).unwrap_or(length).to_be_bytes());
        directory.extend(checksum.to_be_bytes());
        data.extend(table);
        data.resize(data.len().next_multiple_of(4), 0);
    }
    let mut woff = b"wOFF".to_vec();
    woff.extend(&sfnt[..4]);
    woff.extend(((start + data.len()) as u32).to_be_bytes());
    woff.extend((tables.len() as u16).to_be_bytes());
    woff.extend([0, 0]);
    woff.extend((sfnt.len() as u32).to_be_bytes());
    woff.extend([0; 24]);
    woff.extend(directory);
    woff.extend(data);
    woff
}

/// `sfnt` as WOFF 2.0 with no table transformed.
fn woff2(sfnt: &[u8]) -> Vec<u8> {
    let mut directory = Vec::new();
    let mut stream = Vec::new();
    let tables = tables(sfnt);
    for (tag, _, table) in &tables {
        // Flags 63: the tag follows. glyf and loca are plain at transform
        // version 3, all others at 0.
        directory.push(if matches!(tag, b"glyf" | b"loca") {
            0xff
        } else {
            0x3f
        });
        directory.extend(tag);
        directory.extend(base128(table.len() as u32));
        stream.extend(table);
    }
    let mut packed = Vec::new();
    brotli::BrotliCompress(&mut stream.as_slice(), &mut packed, &Default::default())
        .expect("packed");
    let total = (48 + directory.len() + packed.len()).next_multiple_of(4);
    let mut woff2 = b"wOF2".to_vec();
    woff2.extend(&sfnt[..4]);
    woff2.extend((total as u32).to_be_bytes());
    woff2.extend((tables.len() as u16).to_be_bytes());
    woff2.extend([0, 0]);
    woff2.extend((sfnt.len() as u32).to_be_bytes());
    woff2.extend((packed.len() as u32).to_be_bytes());
    woff2.extend([0; 24]);
    woff2.extend(directory);
    woff2.extend(packed);
    woff2.resize(total, 0);
    woff2
}

/// WOFF 2.0, §4.1 "UIntBase128".
fn base128(number: u32) -> Vec<u8> {
    let digits = (0..5)
        .rev()
        .map(|digit| (number >> (digit * 7) & 0x7f) as u8);
    let digits: Vec<u8> = digits.skip_while(|digit| *digit == 0).collect();
    let last = digits.len().saturating_sub(1);
    digits
        .iter()
        .enumerate()
        .map(|(i, d)| if i < last { d | 0x80 } else { *d })
        .collect()
}

#[rstest]
#[case::truetype(sans().to_vec(), Container::TrueType, 1)]
#[case::cff(font_test_data::NOTO_SANS_JP_CFF.to_vec(), Container::OpenTypeCff, 1)]
#[case::cff2(font_test_data::CANTARELL_VF_TRIMMED.to_vec(), Container::OpenTypeCff, 1)]
#[case::collection(font_test_data::ttc::TTC.to_vec(), Container::Collection, 2)]
#[case::woff(woff(sans(), None), Container::Woff, 1)]
#[case::woff2(woff2(sans()), Container::Woff2, 1)]
fn containers_are_told_by_their_bytes(
    #[case] bytes: Vec<u8>,
    #[case] container: Container,
    #[case] faces: u32,
) {
    let file = read(bytes).expect("a font file");
    assert_eq!((file.container(), file.face_count()), (container, faces));
}

#[rstest]
#[case(woff(sans(), None))]
#[case(woff2(sans()))]
fn a_packed_font_is_the_same_font(#[case] packed: Vec<u8>) {
    let (plain, packed) = (demo(SANS), face(&packed));
    assert_eq!(plain.names(), packed.names());
    assert_eq!(plain.line(), packed.line());
    for character in ('\0'..'\u{3000}').filter(|c| !c.is_control()) {
        assert_eq!(plain.maps(character), packed.maps(character), "{character}");
    }
    let widths = [&plain, &packed]
        .map(|f| tidy_lattice_core::shaping::Shaper::new(f).width("Tavern AVATAR"));
    assert_eq!(widths[0], widths[1]);
}

#[rstest]
#[case::nothing(b"", "the file is empty")]
#[case::page(b"  <!DOCTYPE html><title>404</title>", "a web page")]
#[case::pointer(b"version https://git-lfs.github.com/spec/v1", "git lfs pull")]
#[case::zip(b"PK\x03\x04xxxxxxxx", "a ZIP archive")]
#[case::gzip(b"\x1f\x8b\x08\0\0\0\0", "a gzip file")]
#[case::type1(b"%!PS-AdobeFont-1.0: Some", "a Type 1 font")]
#[case::svg(b"<?xml version='1.0'?><svg/>", "SVG")]
#[case::noise(b"\xde\xad\xbe\xef and more", "starts with DE AD BE EF")]
#[case::short(b"\0\x01", "starts with 00 01")]
#[case::header_only(b"\0\x01\0\0\0\x09\0\0\0\0\0\0", "table directory is damaged")]
#[case::no_tables(b"\0\x01\0\0\0\0\0\0\0\0\0\0", "no 'head' table")]
#[case::many_fonts(b"ttcf\0\x01\0\0\xff\xff\xff\xff", "claims 4294967295 fonts")]
fn what_is_no_font_is_named(#[case] bytes: &[u8], #[case] says: &str) {
    let error = read(bytes.to_vec()).err().expect("an error").to_string();
    assert!(error.contains(says), "{error}");
}

#[test]
fn a_font_may_not_unpack_beyond_the_limit() {
    let bomb = woff(sans(), Some(3_000_000_000));
    assert!(matches!(read(bomb), Err(FontError::TooLarge { bytes, .. }) if bytes > 3_000_000_000));
    let small = Limits { unpacked: 20_000 };
    for bytes in [sans().to_vec(), woff(sans(), None), woff2(sans())] {
        let refused = FontFile::read(bytes.clone(), small);
        assert!(matches!(
            refused,
            Err(FontError::TooLarge { limit: 20_000, .. })
        ));
        assert!(
            FontFile::read(bytes, Limits { unpacked: 40_000 }).is_ok(),
            "the user can raise it"
        );
    }
}

#[rstest]
#[case("font.ttf", "font.ttf", 0, None)]
#[case("a/fonts.ttc#3", "a/fonts.ttc", 3, None)]
#[case("Var.ttf@Bold", "Var.ttf", 0, Some("Bold"))]
#[case("Var.ttc#1@wght=650,wdth=80", "Var.ttc", 1, Some("wght=650,wdth=80"))]
#[case("me@home/font.ttf", "me@home/font.ttf", 0, None)]
#[case("C#.ttf", "C#.ttf", 0, None)]
fn picks_stand_behind_the_path(
    #[case] text: &str,
    #[case] path: &str,
    #[case] index: u32,
    #[case] position: Option<&str>,
) {
    let position = position.map(str::to_owned);
    assert_eq!(FacePick::split(text), (path, FacePick { index, position }));
}

fn at(position: &str) -> FacePick {
    FacePick {
        index: 0,
        position: Some(position.to_owned()),
    }
}

#[test]
fn variable_fonts_open_at_named_positions_and_at_values() {
    let font = font_test_data::VAZIRMATN_VAR;
    let default = face(font);
    let bold = pick(font, &at("Bold")).expect("the named position");
    let same = pick(font, &at("wght=700")).expect("the same by value");
    assert_eq!(
        (default.weight(), bold.weight(), same.weight()),
        (400.0, 700.0, 700.0)
    );
    let advance = |face: &Face| {
        face.font()
            .expect("a font")
            .glyph_metrics()
            .h_advance(skrifa::GlyphId::new(1))
    };
    assert_eq!(advance(&bold), advance(&same));
    assert_ne!(advance(&default), advance(&bold));
    let lower = pick(font, &at("bold")).expect("the named position");
    assert_eq!(
        lower.names(),
        bold.names(),
        "names are the font's, not the user's"
    );
    assert!(
        bold.names()
            .full
            .as_ref()
            .is_some_and(|name| name.ends_with("Bold"))
    );
    assert_eq!(
        same.names().full,
        None,
        "local() cannot find a position without a name"
    );
}

#[rstest]
#[case(at("Bolder"), "named positions are")]
#[case(at("wght=5000"), "wght 100 to 900")]
#[case(at("wdth=80"), "wght 100 to 900")]
#[case(FacePick { index: 4, position: None }, "it holds 1, counted from 0")]
fn a_wrong_pick_says_what_there_is(#[case] wrong: FacePick, #[case] says: &str) {
    let error = pick(font_test_data::VAZIRMATN_VAR, &wrong)
        .err()
        .expect("an error")
        .to_string();
    assert!(error.contains(says), "{error}");
}

#[test]
fn faces_tell_their_weight_slope_and_class() {
    let bold = demo("fonts/SkerrymarkSans-Bold.ttf");
    assert_eq!((bold.weight(), bold.slope()), (700.0, Slope::Normal));
    assert_eq!(bold.declared_generic(), Some("sans-serif"));
    assert_eq!(
        demo("fonts/FerrygateMono-Regular.ttf").declared_generic(),
        Some("monospace")
    );
    assert_eq!(
        face(epaint_default_fonts::HACK_REGULAR).declared_generic(),
        Some("monospace")
    );
    assert_eq!(face(epaint_default_fonts::UBUNTU_LIGHT).weight(), 300.0);
}
