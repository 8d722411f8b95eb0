//! Every kind of lookup, class and attachment, as the examples of the OpenType standard have
//! them ("OpenType Layout Common Table Formats", GSUB, GPOS, GDEF), cut from a font of
//! many glyphs: as they were when somebody last looked at them.

use font_test_data::{gdef, gpos, gsub};
use rstest::rstest;
use skrifa::raw::FontRef;
use tidy_lattice_glyphs::font::{CharacterSet, FontFile, Limits};
use tidy_lattice_subset::{Features, Source, Want};
use write_fonts::FontBuilder;
use write_fonts::types::Tag;

/// A table of 16-bit words.
fn words(of: &[u16]) -> Vec<u8> {
    of.iter().flat_map(|word| word.to_be_bytes()).collect()
}

/// A GSUB or GPOS table with one feature, which applies the first of these lookups: each has
/// its type and one subtable.
fn layout(feature: [u8; 4], lookups: &[(u16, &[u8])]) -> Vec<u8> {
    let word = |bytes: &[u8]| u16::from_be_bytes([bytes[0], bytes[1]]);
    let tag = |tag: [u8; 4]| [word(&tag), word(&tag[2..])];
    let [default, script] = tag(*b"DFLT");
    let [first, second] = tag(feature);
    let scripts = words(&[1, default, script, 8, 4, 0, 0, 0xFFFF, 1, 0]);
    let features = words(&[1, first, second, 8, 0, 1, 0]);
    let mut list = words(&[lookups.len() as u16]);
    let mut bodies = Vec::new();
    for (kind, subtable) in lookups {
        let at = 2 + lookups.len() * 2 + bodies.len();
        list.extend((at as u16).to_be_bytes());
        bodies.extend(words(&[*kind, 0, 1, 8]));
        bodies.extend_from_slice(subtable);
    }
    let places = [10, 10 + scripts.len(), 10 + scripts.len() + features.len()];
    let mut table = words(&[1, 0]);
    table.extend(words(&places.map(|place| place as u16)));
    [table, scripts, features, list, bodies].concat()
}

/// A font that has a character for most glyphs, with another table.
fn with_table(tag: &[u8; 4], table: Vec<u8>) -> FontFile {
    let font = FontRef::new(epaint_default_fonts::HACK_REGULAR).unwrap();
    let mut builder = FontBuilder::new();
    for record in font.table_directory().table_records() {
        let data = font.table_data(record.tag()).unwrap();
        builder.add_raw(record.tag(), data.as_bytes().to_vec());
    }
    builder.add_raw(Tag::new(tag), table);
    let bytes = builder.build();
    FontFile::read(bytes, Limits::DEFAULT).unwrap()
}

/// The bytes of a table, 16 a row; nothing where it is gone.
fn table_of(sfnt: &[u8], tag: &[u8; 4]) -> String {
    let font = FontRef::new(sfnt).unwrap();
    let data = font.table_data(Tag::new(tag));
    let bytes = data.map_or(Vec::new(), |data| data.as_bytes().to_vec());
    let rows = bytes.chunks(16).map(|row| {
        let row: Vec<String> = row.iter().map(|byte| format!("{byte:02x}")).collect();
        row.join(" ") + "\n"
    });
    rows.collect()
}

/// The table of what is cut for all characters, for most and for half of them.
fn cuts(file: &FontFile, tag: &[u8; 4]) -> String {
    let all = Source::read(file, 0).unwrap().characters();
    let of = |step: usize| CharacterSet::of(all.iter().step_by(step));
    // All but every `step`th.
    let part = |step: usize| {
        let kept = all.iter().enumerate().filter(|(at, _)| at % step > 0);
        CharacterSet::of(kept.map(|(_, character)| character))
    };
    let mut recorded = String::new();
    for (name, characters) in [("all", of(1)), ("most", part(5)), ("half", of(2))] {
        let want = Want {
            characters,
            literal: false,
            features: Features::All,
            hints: true,
            family: None,
        };
        recorded += &match Source::read(file, 0).unwrap().cut(&want) {
            Ok(cut) => format!(
                "{name}, {} glyphs:\n{}",
                cut.glyphs.len(),
                table_of(&cut.sfnt, tag)
            ),
            Err(error) => format!("{name}: {error}\n"),
        };
    }
    recorded
}

const SINGLE: (u16, &[u8]) = (1, gsub::SINGLESUBSTFORMAT1_TABLE);
const MOVED: (u16, &[u8]) = (1, gpos::SINGLEPOSFORMAT1);

#[rstest]
#[case("single by distance", SINGLE)]
#[case("single by list", (1, gsub::SINGLESUBSTFORMAT2_TABLE))]
#[case("multiple", (2, gsub::MULTIPLESUBSTFORMAT1_TABLE))]
#[case("alternate", (3, gsub::ALTERNATESUBSTFORMAT1_TABLE))]
#[case("ligature", (4, gsub::LIGATURESUBSTFORMAT1_TABLE))]
#[case("context of glyphs", (5, gsub::CONTEXTUAL_SUBSTITUTION_FORMAT1))]
#[case("context of classes", (5, gsub::CONTEXTUAL_SUBSTITUTION_FORMAT2))]
#[case("context of coverages", (5, gsub::CONTEXTUAL_SUBSTITUTION_FORMAT3))]
#[case("from the end", (8, gsub::REVERSECHAINSINGLESUBSTFORMAT1))]
fn substitutions_are_cut_as_they_were(#[case] name: &str, #[case] first: (u16, &[u8])) {
    // What contexts lead to: a few of the lookups behind.
    let mut lookups = vec![first];
    lookups.extend([SINGLE; 6]);
    let file = with_table(b"GSUB", layout(*b"calt", &lookups));
    insta::assert_snapshot!(name, cuts(&file, b"GSUB"));
}

#[rstest]
#[case("one value", MOVED)]
#[case("a value each", (1, gpos::SINGLEPOSFORMAT2))]
#[case("pairs of glyphs", (2, gpos::PAIRPOSFORMAT1))]
#[case("pairs of classes", (2, gpos::PAIRPOSFORMAT2))]
#[case("cursive", (3, gpos::CURSIVEPOSFORMAT1))]
#[case("marks on bases", (4, gpos::MARKBASEPOSFORMAT1))]
#[case("marks on ligatures", (5, gpos::MARKLIGPOSFORMAT1))]
#[case("marks on marks", (6, gpos::MARKMARKPOSFORMAT1))]
#[case("positions in a context of glyphs", (7, gpos::CONTEXTUALPOSFORMAT1))]
#[case("positions in a context of classes", (7, gpos::CONTEXTUALPOSFORMAT2))]
#[case("positions in a context of coverages", (7, gpos::CONTEXTUALPOSFORMAT3))]
fn positions_are_cut_as_they_were(#[case] name: &str, #[case] first: (u16, &[u8])) {
    let mut lookups = vec![first];
    lookups.extend([MOVED; 6]);
    let file = with_table(b"GPOS", layout(*b"dist", &lookups));
    insta::assert_snapshot!(name, cuts(&file, b"GPOS"));
}

/// A GDEF table with one of its four parts.
fn definitions(part: usize, table: &[u8]) -> Vec<u8> {
    let mut places = [0; 4];
    places[part] = 12;
    [words(&[1, 0]), words(&places), table.to_vec()].concat()
}

#[rstest]
#[case("classes", 0, gdef::GLYPHCLASSDEF_TABLE)]
#[case("points", 1, gdef::ATTACHLIST_TABLE)]
#[case("carets", 2, gdef::LIGCARETLIST_TABLE)]
#[case("classes of marks", 3, gdef::MARKATTACHCLASSDEF_TABLE)]
fn definitions_are_cut_as_they_were(#[case] name: &str, #[case] part: usize, #[case] table: &[u8]) {
    let file = with_table(b"GDEF", definitions(part, table));
    insta::assert_snapshot!(name, cuts(&file, b"GDEF"));
}

/// A MATH table with all its parts, for the first glyphs of a font.
fn mathematical() -> Vec<u8> {
    // 4 numbers, 51 values with devices, a percentage.
    let constants: Vec<u16> = (1..=107)
        .map(|word| {
            if word > 4 && word < 107 && word % 2 == 0 {
                0
            } else {
                word
            }
        })
        .collect();
    let constants = words(&constants);
    let coverage = |glyphs: &[u16]| {
        let mut table = vec![1, glyphs.len() as u16];
        table.extend_from_slice(glyphs);
        words(&table)
    };
    let covered = coverage(&[3, 4, 5, 6]);
    // Values of four glyphs: where they are covered, how many, values without devices.
    let values = |first: u16| {
        let head = words(&[20, 4, first, 0, first + 1, 0, first + 2, 0, first + 3, 0]);
        [head, covered.clone()].concat()
    };
    // A step between two values; the first two glyphs have it in two corners.
    let step = words(&[1, 300, 0, 20, 0, 40, 0]);
    let kerns_at = 4 + 2 * 8;
    let first_kern = kerns_at + 8;
    let second_kern = first_kern + step.len() as u16;
    let kerns = [
        words(&[
            kerns_at,
            2,
            first_kern,
            0,
            second_kern,
            0,
            0,
            first_kern,
            0,
            second_kern,
        ]),
        coverage(&[3, 5]),
        step.clone(),
        step,
    ]
    .concat();
    let parts = [values(30), values(50), covered, kerns];
    let mut place = 8;
    let mut head = Vec::new();
    for part in &parts {
        head.push(place);
        place += part.len() as u16;
    }
    let glyphs = [words(&head), parts.concat()].concat();
    // A glyph with two larger forms, and one that is built of parts; one that grows sideways.
    let forms = words(&[0, 2, 7, 900, 8, 1200]);
    let built = words(&[
        4 + 4,
        1,
        9,
        700,
        60,
        0,
        2,
        10,
        10,
        20,
        300,
        0,
        11,
        20,
        10,
        400,
        1,
    ]);
    let aside = words(&[0, 1, 12, 800]);
    let first_coverage = 10 + 6;
    let second_coverage = first_coverage + 8;
    let first = second_coverage + 6;
    let second = first + forms.len() as u16;
    let third = second + built.len() as u16;
    let variants = [
        words(&[
            25,
            first_coverage,
            second_coverage,
            2,
            1,
            first,
            second,
            third,
        ]),
        coverage(&[3, 4]),
        coverage(&[5]),
        forms,
        built,
        aside,
    ]
    .concat();
    let glyphs_at = 10 + constants.len() as u16;
    let variants_at = glyphs_at + glyphs.len() as u16;
    let head = words(&[1, 0, 10, glyphs_at, variants_at]);
    [head, constants, glyphs, variants].concat()
}

#[test]
fn mathematics_is_cut_as_it_was() {
    let file = with_table(b"MATH", mathematical());
    insta::assert_snapshot!("mathematics", cuts(&file, b"MATH"));
}

/// Contexts with what stands before and behind (sequence context formats of "OpenType Layout
/// Common Table Formats"), and lookups in extensions.
#[rstest]
#[case("chained glyphs", words(&[
    1, 8, 1, 14, 1, 1, 0x28, 1, 4, 1, 0x29, 2, 0x5D, 1, 0x2A, 1, 0, 1,
]))]
#[case("chained classes", words(&[
    2, 16, 22, 22, 22, 2, 0, 34, 1, 1, 0x28, 1, 0x28, 3, 1, 2, 3, 1, 4, 1, 1, 2, 2, 1, 3, 1, 0, 1,
]))]
#[case("chained coverages", words(&[
    3, 1, 22, 2, 28, 34, 1, 40, 1, 1, 1, 1, 1, 0x27, 1, 1, 0x28, 1, 1, 0x29, 1, 1, 0x2A,
]))]
fn chained_contexts_are_cut_as_they_were(#[case] name: &str, #[case] first: Vec<u8>) {
    let mut substitutions = vec![(6, first.as_slice())];
    substitutions.extend([SINGLE; 3]);
    let file = with_table(b"GSUB", layout(*b"calt", &substitutions));
    let mut recorded = cuts(&file, b"GSUB");
    let mut positions = vec![(8, first.as_slice())];
    positions.extend([MOVED; 3]);
    let file = with_table(b"GPOS", layout(*b"dist", &positions));
    recorded += &cuts(&file, b"GPOS");
    insta::assert_snapshot!(name, recorded);
}

#[test]
fn extended_lookups_are_cut_as_they_were() {
    let extended =
        |(kind, subtable): (u16, &[u8])| [words(&[1, kind, 0, 8]), subtable.to_vec()].concat();
    let file = with_table(b"GSUB", layout(*b"calt", &[(7, &extended(SINGLE))]));
    let mut recorded = cuts(&file, b"GSUB");
    let file = with_table(b"GPOS", layout(*b"dist", &[(9, &extended(MOVED))]));
    recorded += &cuts(&file, b"GPOS");
    insta::assert_snapshot!("extended", recorded);
}

/// Two subtables of the old kerning table (OpenType 1.9.1, `kern`, format 0); one pair leads
/// to a glyph that no character has.
#[test]
fn old_kerning_is_cut_as_it_was() {
    let pairs = |coverage: u16, pairs: &[[u16; 3]]| {
        let count = pairs.len() as u16;
        let head = [0, 14 + count * 6, coverage, count, 0, 0, 0];
        words(&[head.to_vec(), pairs.concat()].concat())
    };
    let first = pairs(
        1,
        &[
            [40, 41, 0xFFEC],
            [40, 43, 7],
            [41, 40, 30],
            [42, 42, 9],
            [60, 1548, 2],
        ],
    );
    let second = pairs(3, &[[45, 46, 0xFFFE]]);
    let across = pairs(0x101, &[[40, 41, 1]]);
    for (name, tables) in [
        ("old kerning", vec![first.clone(), second]),
        ("old kerning of another format", vec![first, across]),
    ] {
        let count = words(&[0, tables.len() as u16]);
        let file = with_table(b"kern", [count, tables.concat()].concat());
        insta::assert_snapshot!(name, cuts(&file, b"kern"));
    }
}

/// Documents for one glyph, for several, and a packed one (OpenType 1.9.1, `SVG `).
#[test]
fn drawings_are_cut_as_they_were() {
    use std::io::Write as _;

    let one = b"<svg id=\"glyph40\"><use href='#glyph41'/><a b='url(#glyph40)'/></svg>".to_vec();
    let several = b"<svg><g id='glyph42'/><g id=\"glyph43\"/><g id='glyph44x' c='aglyph42'/>\
        <g id='glyphs'/><g id='glyph999999'/><use href='#glyph70000'/><b>glyph42</b></svg>glyph4"
        .to_vec();
    let mut packed = flate2::write::GzEncoder::new(Vec::new(), flate2::Compression::best());
    packed.write_all(b"<svg id=\"glyph50\"/>").unwrap();
    let documents = [
        (40, 40, one),
        (42, 45, several),
        (50, 50, packed.finish().unwrap()),
    ];
    let mut list = words(&[documents.len() as u16]);
    let mut place = 2 + documents.len() * 12;
    for (first, last, document) in &documents {
        list.extend(words(&[*first, *last]));
        list.extend((place as u32).to_be_bytes());
        list.extend((document.len() as u32).to_be_bytes());
        place += document.len();
    }
    list.extend(documents.into_iter().flat_map(|(.., document)| document));
    let file = with_table(b"SVG ", [words(&[0, 0, 10, 0, 0]), list].concat());
    insta::assert_snapshot!("drawings", cuts(&file, b"SVG "));
}
