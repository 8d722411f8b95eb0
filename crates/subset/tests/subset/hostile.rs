//! Damaged and hostile fonts end in an error, soon.

use std::time::{Duration, Instant};

use rstest::rstest;
use tidy_lattice_glyphs::font::{FontFile, Limits};
use tidy_lattice_subset::{CutError, Features, Source, Want, encode};
use write_fonts::FontBuilder;
use write_fonts::types::Tag;

use crate::{cut, demo, opened, proven, text, want};

/// The demo's font with a table replaced.
fn with_table(tag: &[u8; 4], bytes: Vec<u8>) -> FontFile {
    let file = demo("SkerrymarkSans-Regular.ttf");
    let mut builder = FontBuilder::new();
    for table in file.tables(0) {
        let name: [u8; 4] = table.tag.as_bytes().try_into().unwrap();
        if name != *tag {
            builder.add_raw(Tag::new(&name), file.table(0, &table.tag).unwrap().to_vec());
        }
    }
    builder.add_raw(Tag::new(tag), bytes);
    opened(&builder.build())
}

fn words(values: &[u16]) -> Vec<u8> {
    values
        .iter()
        .flat_map(|value| value.to_be_bytes())
        .collect()
}

#[test]
fn lookups_that_all_lead_to_the_same_subtables_are_too_much() {
    // 8,000 lookups at one place, each with 8,000 subtables at one place.
    let count = 8_000u16;
    let mut gsub = words(&[1, 0, 10, 12, 14]);
    gsub.extend(words(&[0, 0]));
    gsub.extend(words(&[count]));
    let list = usize::from(count) * 2 + 2;
    gsub.extend(words(&vec![list as u16; usize::from(count)]));
    gsub.extend(words(&[1, 0, count]));
    gsub.extend(words(&vec![6 + count * 2; usize::from(count)]));
    // A single substitution with an empty coverage table.
    gsub.extend(words(&[1, 6, 1, 1, 0]));
    let started = Instant::now();
    let error = cut(&with_table(b"GSUB", gsub), &want(text("abc"))).unwrap_err();
    assert_eq!(error, CutError::TooMuchWork);
    assert!(
        started.elapsed() < Duration::from_secs(30),
        "{:?}",
        started.elapsed()
    );
}

#[rstest]
#[case::empty(b"GSUB", Vec::new())]
#[case::beyond(b"GPOS", words(&[1, 0, 0xFFF0, 0xFFF0, 0xFFF0]))]
#[case::no_metrics(b"hmtx", vec![0; 3])]
#[case::no_places(b"loca", vec![0; 2])]
#[case::half_a_glyph(b"glyf", vec![0; 7])]
fn a_table_that_ends_early_is_named(#[case] tag: &[u8; 4], #[case] bytes: Vec<u8>) {
    let error = cut(&with_table(tag, bytes), &want(text("abc"))).unwrap_err();
    let CutError::Damaged { table, .. } = &error else {
        panic!("{error}");
    };
    assert!(!table.is_empty());
    assert!(error.to_string().contains("is damaged"));
}

/// A font that maps these characters, lowest first, to glyphs 5, 6, 7: a table of format 12.
fn mapping(characters: [char; 3]) -> FontFile {
    let mut cmap = words(&[0, 1, 3, 10, 0, 12, 12, 0, 0, 52, 0, 0, 0, 3]);
    for (character, glyph) in characters.into_iter().zip(5u32..) {
        for value in [u32::from(character), u32::from(character), glyph] {
            cmap.extend(value.to_be_bytes());
        }
    }
    with_table(b"cmap", cmap)
}

#[test]
fn letters_that_shapers_take_apart_keep_their_parts() {
    let part = |characters: [char; 3], needed: &str| {
        let part = cut(&mapping(characters), &want(text(needed))).unwrap();
        crate::face(&part).maps(characters[2])
    };
    // NNNA of Devanagari is NA and a nukta, though it is there.
    assert!(part(['\u{928}', '\u{929}', '\u{93C}'], "\u{929}"));
    assert!(!part(['\u{928}', '\u{929}', '\u{93C}'], "\u{928}"));
    // Letters of Latin and Kana stay whole.
    assert!(!part(['e', 'é', '\u{301}'], "é"));
    assert!(!part(['か', 'が', '\u{3099}'], "が"));
}

#[test]
fn a_dotted_circle_comes_with_vowels_that_may_miss_their_letter() {
    let file = mapping(['\u{915}', '\u{93F}', '\u{25CC}']);
    let circle = |needed: &str| {
        let part = cut(&file, &want(text(needed))).unwrap();
        crate::face(&part).maps('\u{25CC}')
    };
    assert!(circle("\u{915}\u{93F}"));
    assert!(!circle("\u{915}"));
}

#[test]
fn a_composite_of_itself_ends() {
    let file = opened(font_test_data::GLYF_COMPONENTS);
    let mut sfnt = file.sfnt().to_vec();
    let start = |tag: &[u8; 4]| {
        let record = sfnt.windows(4).position(|window| window == tag).unwrap();
        u32::from_be_bytes(sfnt[record + 8..record + 12].try_into().unwrap()) as usize
    };
    let (glyf, loca, head) = (start(b"glyf"), start(b"loca"), start(b"head"));
    let long = sfnt[head + 51] != 0;
    let place = |glyph: usize| {
        if long {
            let at = loca + glyph * 4;
            u32::from_be_bytes(sfnt[at..at + 4].try_into().unwrap()) as usize
        } else {
            let at = loca + glyph * 2;
            usize::from(u16::from_be_bytes([sfnt[at], sfnt[at + 1]])) * 2
        }
    };
    let count = Source::read(&file, 0).unwrap().glyph_count();
    let composites: Vec<(u16, usize)> = (0..count)
        .map(|glyph| (glyph, glyf + place(usize::from(glyph))))
        .filter(|(glyph, at)| *at < glyf + place(usize::from(*glyph) + 1) && sfnt[*at] & 0x80 != 0)
        .collect();
    assert!(!composites.is_empty(), "the test's font has no composites");
    for (glyph, at) in composites {
        // Flags, then the glyph of the first component.
        sfnt[at + 12..at + 14].copy_from_slice(&glyph.to_be_bytes());
    }
    let file = opened(&sfnt);
    let source = Source::read(&file, 0).unwrap();
    let started = Instant::now();
    let part = source.cut(&want(source.characters())).unwrap();
    assert!(part.glyphs.len() > 1);
    assert!(started.elapsed() < Duration::from_secs(30));
}

#[test]
fn shaped_by_tables_that_are_not_cut_is_refused() {
    let file = opened(font_test_data::morx::ONE);
    let error = cut(&file, &want(text("ABC"))).unwrap_err();
    assert!(error.to_string().contains("morx"), "{error}");
    let file = opened(font_test_data::varc::CJK_6868);
    assert!(
        cut(&file, &want(text("憨")))
            .unwrap_err()
            .to_string()
            .contains("VARC")
    );
}

/// Numbers that look random and are the same each time.
struct Random(u64);

impl Random {
    fn next(&mut self, below: usize) -> usize {
        self.0 ^= self.0 << 13;
        self.0 ^= self.0 >> 7;
        self.0 ^= self.0 << 17;
        (self.0 % below.max(1) as u64) as usize
    }
}

/// A copy with some bytes of some tables changed.
fn mutated(sfnt: &[u8], random: &mut Random) -> Vec<u8> {
    let mut bytes = sfnt.to_vec();
    let tables = usize::from(u16::from_be_bytes([bytes[4], bytes[5]]));
    for _ in 0..1 + random.next(10) {
        let record = 12 + 16 * random.next(tables);
        let number = |at: usize| {
            u32::from_be_bytes(bytes[record + at..record + at + 4].try_into().unwrap()) as usize
        };
        let (start, length) = (number(8), number(12));
        // Headers decide most.
        let span = if random.next(2) == 0 {
            length.min(64)
        } else {
            length
        };
        let at = start + random.next(span);
        let value = [0, 0xFF, 0x80, random.next(256) as u8][random.next(4)];
        if let Some(byte) = bytes.get_mut(at) {
            *byte = value;
        }
    }
    bytes
}

#[rstest]
#[case::plain(demo("SkerrymarkSans-Regular.ttf"), 11)]
#[case::joined(demo("TidefallArabic-Regular.ttf"), 12)]
#[case::variable(opened(font_test_data::VAZIRMATN_VAR), 13)]
#[case::cff(opened(font_test_data::NOTO_SANS_JP_CFF), 14)]
#[case::cff2(opened(font_test_data::CANTARELL_VF_TRIMMED), 15)]
#[case::layers(opened(font_test_data::COLRV0V1_VARIABLE), 16)]
#[case::pictures(opened(font_test_data::NOTO_HANDWRITING_SBIX), 17)]
#[case::bitmaps(opened(font_test_data::CBDT), 18)]
#[case::vertical(opened(font_test_data::MPLUS1CODE_VERTICAL_SUBSET), 19)]
fn damaged_fonts_neither_panic_nor_hang(#[case] file: FontFile, #[case] seed: u64) {
    let mut random = Random(seed.wrapping_mul(0x9E37_79B9_7F4A_7C15));
    let (mut made, mut refused) = (0, 0);
    for round in 0..60 {
        let bytes = mutated(file.sfnt(), &mut random);
        let started = Instant::now();
        let outcome = FontFile::read(bytes, Limits::DEFAULT).ok().map(|file| {
            let source = Source::read(&file, 0)?;
            let part = source.cut(&Want {
                features: if round % 2 == 0 {
                    Features::All
                } else {
                    Features::of_css([])
                },
                hints: round % 3 != 0,
                ..want(source.characters())
            })?;
            encode::woff2(&part.sfnt)?;
            // What shows otherwise is found, not written.
            let _ = proven(&file, &part, &[]);
            Ok::<(), CutError>(())
        });
        match outcome {
            Some(Ok(())) => made += 1,
            _ => refused += 1,
        }
        assert!(
            started.elapsed() < Duration::from_secs(60),
            "{:?}",
            started.elapsed()
        );
    }
    assert!(made > 0 && refused > 0, "{made} made, {refused} refused");
}
