//! Which substitutions look at spaces ("OpenType Layout Common Table Formats", sequence
//! contexts).

use rstest::rstest;
use skrifa::MetadataProvider as _;
use skrifa::raw::FontRef;
use tidy_lattice_glyphs::font::{Face, FacePick, FontFile, Limits};
use write_fonts::FontBuilder;
use write_fonts::types::Tag;

/// Stands for the glyph of the space in tables, and for the letter A's.
const SPACE: u16 = 0xFFF0;
const LETTER: u16 = 0xFFF1;

/// A font with a GSUB table of one lookup, of this type and subtable.
fn face(feature: &[u8; 4], kind: u16, subtable: &[u16]) -> Face {
    let font = FontRef::new(epaint_default_fonts::HACK_REGULAR).expect("a font");
    let glyph = |character: char| {
        let glyph = font.charmap().map(character).expect("a glyph");
        u16::try_from(glyph.to_u32()).expect("one of few")
    };
    let word = |bytes: &[u8]| u16::from_be_bytes([bytes[0], bytes[1]]);
    let head = [1, 0, 10, 30, 44];
    let default = [word(b"DF"), word(b"LT")];
    let scripts = [1, default[0], default[1], 8, 4, 0, 0, 0xFFFF, 1, 0];
    let features = [1, word(feature), word(&feature[2..]), 8, 0, 1, 0];
    let lookups = [1, 4, kind, 0, 1, 8];
    let table = [&head[..], &scripts, &features, &lookups, subtable].concat();
    let table = table.into_iter().map(|word| match word {
        SPACE => glyph(' '),
        LETTER => glyph('A'),
        other => other,
    });
    let mut builder = FontBuilder::new();
    for record in font.table_directory().table_records() {
        let data = font.table_data(record.tag()).expect("a table");
        builder.add_raw(record.tag(), data.as_bytes().to_vec());
    }
    let gsub: Vec<u8> = table.flat_map(u16::to_be_bytes).collect();
    builder.add_raw(Tag::new(b"GSUB"), gsub);
    let file = FontFile::read(builder.build(), Limits::DEFAULT).expect("a font");
    Face::open(&file, &FacePick::default()).expect("a face")
}

/// One coverage each, and one class each.
const fn of(glyph: u16) -> [u16; 3] {
    [1, 1, glyph]
}
const fn class(glyph: u16) -> [u16; 4] {
    [1, glyph, 1, 1]
}

#[rstest]
#[case::replaced(1, vec![1, 6, 1, 1, 1, SPACE], true)]
#[case::another_replaced(1, vec![1, 6, 1, 1, 1, LETTER], false)]
#[case::in_a_rule(5, vec![1, 8, 1, 14, 1, 1, LETTER, 1, 4, 2, 0, SPACE], true)]
#[case::another_in_a_rule(5, vec![1, 8, 1, 14, 1, 1, LETTER, 1, 4, 2, 0, LETTER], false)]
#[case::of_a_class(5, [&[2, 8, 14, 0][..], &of(LETTER), &class(SPACE)].concat(), true)]
#[case::another_of_a_class(5, [&[2, 8, 14, 0][..], &of(LETTER), &class(LETTER)].concat(), false)]
#[case::covered(5, [&[3, 2, 0, 10, 16][..], &of(LETTER), &of(SPACE)].concat(), true)]
#[case::another_covered(5, [&[3, 2, 0, 10, 16][..], &of(LETTER), &of(LETTER)].concat(), false)]
#[case::before(6, vec![1, 8, 1, 14, 1, 1, LETTER, 1, 4, 1, SPACE, 1, 1, LETTER, 0], true)]
#[case::behind(6, vec![1, 8, 1, 14, 1, 1, LETTER, 1, 4, 1, LETTER, 1, 1, SPACE, 0], true)]
#[case::within(6, vec![1, 8, 1, 14, 1, 1, LETTER, 1, 4, 0, 2, SPACE, 0, 0], true)]
#[case::nowhere(6, vec![1, 8, 1, 14, 1, 1, LETTER, 1, 4, 1, LETTER, 1, 1, LETTER, 0], false)]
fn what_looks_at_spaces(#[case] kind: u16, #[case] subtable: Vec<u16>, #[case] minds: bool) {
    assert_eq!(face(b"calt", kind, &subtable).minds_spaces(), minds);
    // What has to be asked for does not count.
    assert!(!face(b"ss01", kind, &subtable).minds_spaces());
}

#[rstest]
fn chained_contexts_that_look_at_spaces(#[values(0, 1, 2, 3)] place: usize) {
    let glyphs: [u16; 3] = std::array::from_fn(|at| if at == place { SPACE } else { LETTER });
    let classes = glyphs.map(class).concat();
    let by_class = [&[2, 12, 18, 26, 34, 0][..], &of(LETTER), &classes].concat();
    assert_eq!(face(b"liga", 6, &by_class).minds_spaces(), place < 3);
    let coverages = glyphs.map(of).concat();
    let by_coverage = [&[3, 1, 16, 1, 22, 1, 28, 0][..], &coverages].concat();
    assert_eq!(face(b"liga", 6, &by_coverage).minds_spaces(), place < 3);
}

/// A few kilobytes whose 10^9 rules are one: the walk over them ends.
#[test]
fn rules_that_overlap_are_walked_for_a_while() {
    const MANY: u16 = 30_000;
    let set_at = 6 + MANY * 2 + 6;
    let sets = std::iter::repeat_n(set_at, usize::from(MANY));
    let rule_at = 2 + MANY * 2;
    let rules = std::iter::repeat_n(rule_at, usize::from(MANY));
    let head = [1, 6 + MANY * 2, MANY];
    let words = head.into_iter().chain(sets).chain(of(LETTER)).chain([MANY]);
    let subtable: Vec<u16> = words.chain(rules).chain([2, 0, LETTER]).collect();
    let face = face(b"calt", 5, &subtable);
    let before = std::time::Instant::now();
    assert!(!face.minds_spaces());
    let yard = std::time::Instant::now();
    // As long as some millions of steps take here, a hundred times over.
    let steps = (0_u32..4_000_000).fold(0_u32, |sum, step| std::hint::black_box(sum ^ step));
    let (took, yard) = (yard - before, yard.elapsed());
    assert!(took < yard * 100, "{took:?} against {yard:?}, {steps}");
}
