//! What a font holds.

use proptest::prelude::*;
use rstest::rstest;
use tidy_lattice_core::describe::{
    Depth, Description, FeatureDefault, KerningSource, Question, Sureness, Verdict, describe,
};
use tidy_lattice_core::font::{Class, FacePick, FontFile, Limits, Slope, Works};
use tidy_lattice_core::text::exemplars;

use crate::material::{cases, damaged};

const SANS: &str = "fonts/SkerrymarkSans-Regular.ttf";
const ARABIC: &str = "fonts/TidefallArabic-Regular.ttf";
const ARABIC_LETTERS: &str = "installed/Driftplain-Regular.ttf";

fn demo_bytes(path: &str) -> Vec<u8> {
    tidy_lattice_demo::file(path).expect("a demo font").to_vec()
}

fn described(bytes: Vec<u8>, pick: &str, depth: Depth, tags: &[&str]) -> Description {
    let file = FontFile::read_damaged(bytes, Limits::DEFAULT).expect("a font");
    let languages: Vec<_> = tags
        .iter()
        .map(|tag| exemplars::find(tag).expect("a language"))
        .collect();
    let question = Question {
        depth,
        languages: Some(languages).filter(|languages| !languages.is_empty()),
        text_language: "en".to_owned(),
    };
    let (_, pick) = FacePick::split(pick);
    describe(&file, &pick, &question).expect("a description")
}

fn full(path: &str) -> Description {
    described(demo_bytes(path), "x", Depth::Full, &[])
}

fn real(bytes: &[u8], pick: &str) -> Description {
    described(bytes.to_vec(), pick, Depth::Full, &[])
}

#[rstest]
#[case(SANS, Class::Sans, 400.0, Slope::Normal)]
#[case("fonts/SkerrymarkSans-Bold.ttf", Class::Sans, 700.0, Slope::Normal)]
#[case("fonts/SkerrymarkSans-Italic.ttf", Class::Sans, 400.0, Slope::Italic)]
#[case(
    "fonts/FerrygateMono-Regular.ttf",
    Class::Monospace,
    400.0,
    Slope::Normal
)]
#[case("fonts/Lanternsign.ttf", Class::Symbol, 400.0, Slope::Normal)]
fn identity_and_class_are_told(
    #[case] path: &str,
    #[case] class: Class,
    #[case] weight: f32,
    #[case] slope: Slope,
) {
    let d = full(path);
    assert_eq!((d.class.class, d.class.sureness), (class, Sureness::Sure));
    assert_eq!((d.identity.weight, d.identity.slope), (weight, slope));
    assert_eq!(d.identity.vendor.as_deref(), Some("TERN"));
}

#[test]
fn outlines_tell_serifs_where_tables_are_silent() {
    // This font states neither PANOSE nor a family class.
    let bytes = epaint_default_fonts::UBUNTU_LIGHT.to_vec();
    let d = described(bytes, "x", Depth::Full, &[]);
    assert_eq!(d.class.class, Class::Sans);
    assert!(
        d.class.witnesses.iter().any(|w| w.contains("of 9 stems")),
        "{:?}",
        d.class.witnesses
    );
}

#[test]
fn heights_come_from_outlines_and_contradictions_are_findings() {
    let d = full(SANS);
    assert_eq!(
        (d.line.x_height.measured, d.line.cap_height.measured),
        (Some(500.0), Some(700.0))
    );
    assert!(d.findings.is_empty(), "{:?}", d.findings);

    // OS/2 of a copy states an x-height of 900.
    let mut bytes = demo_bytes(SANS);
    let os2 = table_start(&bytes, *b"OS/2");
    bytes[os2 + 86..os2 + 88].copy_from_slice(&900i16.to_be_bytes());
    let d = described(bytes, "x", Depth::Full, &[]);
    assert_eq!(d.line.x_height.best(), Some(500.0));
    assert_eq!(d.findings[0].code, "font-height-wrong");
}

fn table_start(bytes: &[u8], tag: [u8; 4]) -> usize {
    let record = record(bytes, tag);
    u32::from_be_bytes(bytes[record + 8..record + 12].try_into().expect("4 bytes")) as usize
}

fn record(bytes: &[u8], tag: [u8; 4]) -> usize {
    let tables = usize::from(u16::from_be_bytes([bytes[4], bytes[5]]));
    (0..tables)
        .map(|table| 12 + table * 16)
        .find(|at| bytes[*at..*at + 4] == tag)
        .expect("the table")
}

#[rstest]
#[case(0x0002, Some("font-rights"), "may not be embedded")]
#[case(0x0100, Some("font-rights"), "may not be subset")]
#[case(0x0008, None, "may be embedded in documents that can be edited")]
#[case(0x0000, None, "may be embedded and installed")]
fn embedding_bits_are_told_in_plain_words(
    #[case] bits: u16,
    #[case] code: Option<&str>,
    #[case] words: &str,
) {
    let mut bytes = demo_bytes(SANS);
    let os2 = table_start(&bytes, *b"OS/2");
    bytes[os2 + 8..os2 + 10].copy_from_slice(&bits.to_be_bytes());
    let d = described(bytes, "x", Depth::Summary, &[]);
    assert!(d.rights.statement.contains(words), "{}", d.rights.statement);
    assert_eq!(d.findings.first().map(|finding| finding.code), code);
}

#[test]
fn languages_tell_what_lacks() {
    let d = described(demo_bytes(SANS), "x", Depth::Summary, &["en", "pl", "el"]);
    let languages = d.languages.expect("verdicts");
    let verdicts: Vec<Verdict> = languages.iter().map(|l| l.verdict).collect();
    assert_eq!(verdicts, [Verdict::Complete, Verdict::Lacks, Verdict::No]);
    let lacking: Vec<&str> = languages[1]
        .main
        .lacking
        .iter()
        .map(|c| c.code_point.as_str())
        .collect();
    assert_eq!(&lacking[..2], ["U+0104", "U+0105"]);
    // ó is Western too, so it does not lack.
    assert!(!lacking.contains(&"U+00F3"));
    assert!(!languages[1].writes && languages[0].writes);
}

#[rstest]
#[case(ARABIC, Works::Works, Verdict::Complete)]
#[case(ARABIC_LETTERS, Works::Missing, Verdict::LettersOnly)]
fn letters_alone_do_not_write_arabic(
    #[case] path: &str,
    #[case] works: Works,
    #[case] verdict: Verdict,
) {
    let d = described(demo_bytes(path), "x", Depth::Summary, &["ar"]);
    let shaping = d.shaping.expect("shaping");
    assert_eq!(
        (shaping[0].script.as_str(), shaping[0].works),
        ("Arabic", works)
    );
    assert_eq!(d.languages.expect("verdicts")[0].verdict, verdict);
}

#[test]
fn features_have_samples_that_were_found_and_verified() {
    let d = full(SANS);
    let tags: Vec<&str> = d.features.iter().map(|f| f.tag.as_str()).collect();
    assert_eq!(tags, ["kern", "liga", "smcp", "tnum"]);
    let feature = |tag: &str| {
        d.features
            .iter()
            .find(|f| f.tag == tag)
            .expect("the feature")
    };
    assert_eq!(feature("liga").ligatures, ["ff", "ffi", "ffl", "fi", "fl"]);
    assert_eq!(feature("liga").default, FeatureDefault::On);
    assert_eq!(feature("liga").glyphs, Some(3));
    assert_eq!(feature("tnum").samples[0].text, "0123456789");
    assert_eq!(
        feature("smcp").css.as_deref(),
        Some("font-variant-caps: small-caps")
    );
    let systems = [
        "DFLT/dflt",
        "arab/dflt",
        "cyrl/dflt",
        "grek/dflt",
        "latn/dflt",
    ];
    assert_eq!(feature("liga").gsub_systems, systems);
    for feature in d.features.iter().filter(|f| f.tag != "kern") {
        let sample = &feature.samples[0];
        assert_ne!(sample.before, sample.after, "{}", feature.tag);
    }
}

#[test]
fn kerning_is_told_with_the_pairs_of_the_language() {
    let d = full(SANS);
    assert_eq!(d.kerning.source, KerningSource::Gpos);
    let pair = &d.kerning.frequent[0];
    assert!(pair.units < 0 && pair.count > 1, "{pair:?}");
    // The kern feature of the sign font has no pairs, the other has none at all.
    for path in ["fonts/Lanternsign.ttf", "fonts/FerrygateMono-Regular.ttf"] {
        assert_eq!(full(path).kerning.source, KerningSource::None, "{path}");
    }
}

#[test]
fn variable_fonts_tell_their_axes_and_descriptors() {
    let d = real(font_test_data::VAZIRMATN_VAR, "x");
    let variable = d.variable.expect("axes");
    let axis = &variable.axes[0];
    assert_eq!(
        (axis.tag.as_str(), axis.min, axis.max),
        ("wght", 100.0, 900.0)
    );
    assert_eq!(variable.descriptors, ["font-weight: 100 900"]);
    assert!(variable.positions.len() > 5);
    let bold = real(font_test_data::VAZIRMATN_VAR, "x@Bold");
    assert_eq!(bold.identity.weight, 700.0);
}

#[rstest]
#[case(font_test_data::COLRV0V1, "COLR v1", &["Chromium", "Firefox"])]
#[case(font_test_data::CBDT, "CBDT bitmaps", &["Chromium", "Firefox"])]
fn colour_tables_name_the_engines(
    #[case] bytes: &[u8],
    #[case] format: &str,
    #[case] engines: &[&str],
) {
    let d = real(bytes, "x");
    let table = d
        .colour
        .iter()
        .find(|table| table.format == format)
        .expect("the table");
    assert_eq!(table.drawn_by, engines);
}

#[test]
fn emoji_are_counted_by_version() {
    let d = real(epaint_default_fonts::NOTO_EMOJI_REGULAR, "x");
    let emoji = d.emoji.expect("emoji");
    assert!(!emoji.colour);
    let (shown, all) = emoji.total();
    assert!(shown > 500 && shown < all, "{shown} of {all}");
    assert!(emoji.versions.is_sorted_by_key(|v| {
        v.version
            .split('.')
            .next()
            .and_then(|n| n.parse::<u32>().ok())
    }));
    assert!(full(SANS).emoji.is_none());
}

#[test]
fn bytes_add_up_and_the_estimate_is_near() {
    let d = full(SANS);
    let tables: u64 = d.bytes.tables.iter().map(|table| table.bytes).sum();
    assert!(tables < d.bytes.file && tables > d.bytes.file * 9 / 10);
    assert!(d.bytes.verdict.contains("outlines"));
    // The real size of a font of another maker as WOFF2 is known.
    let woff2 = d.bytes.woff2.expect("an estimate");
    assert!(woff2.estimated && woff2.bytes < d.bytes.file / 2);
}

#[rstest]
#[case(*b"GSUB", "GSUB", "liga")]
#[case(*b"GPOS", "GPOS", "kern")]
fn a_broken_table_disables_what_depends_on_it(
    #[case] tag: [u8; 4],
    #[case] name: &str,
    #[case] lost: &str,
) {
    let mut bytes = demo_bytes(SANS);
    let record = record(&bytes, tag);
    // The table now claims to lie outside the file.
    bytes[record + 8..record + 12].copy_from_slice(&u32::MAX.to_be_bytes());
    let d = described(bytes, "x", Depth::Full, &[]);
    let finding = &d.findings[0];
    assert!(finding.fault && finding.code == "font-table-broken" && finding.text.contains(name));
    assert!(!d.features.iter().any(|feature| feature.tag == lost));
    assert_eq!(d.identity.names.family, "Skerrymark Sans");
    assert!(d.characters.count > 190);
}

proptest! {
    #![proptest_config(cases(120))]

    #[test]
    fn damage_anywhere_never_panics(
        path in prop::sample::select(&[SANS, ARABIC][..]),
        damages in prop::collection::vec(any::<(prop::sample::Index, u8)>(), 1..8),
        cut in prop::option::weighted(0.25, any::<prop::sample::Index>()),
    ) {
        let bytes = damaged(&demo_bytes(path), &damages, cut);
        if let Ok(file) = FontFile::read_damaged(bytes, Limits::DEFAULT) {
            let question = Question {
                depth: Depth::Full,
                languages: Some(vec![exemplars::find("ar").expect("Arabic")]),
                text_language: "en".to_owned(),
            };
            let _ = describe(&file, &FacePick::default(), &question);
        }
    }
}

#[rstest]
#[case("fi", Verdict::AllButRare, true)]
#[case("nl", Verdict::AllButRare, true)]
#[case("pl", Verdict::Lacks, false)]
#[case("tr", Verdict::Lacks, false)]
fn a_language_can_do_without_its_rare_letters(
    #[case] tag: &str,
    #[case] verdict: Verdict,
    #[case] writes: bool,
) {
    let d = described(demo_bytes(SANS), "x", Depth::Summary, &[tag]);
    let language = &d.languages.expect("verdicts")[0];
    assert_eq!((language.verdict, language.writes), (verdict, writes));
    assert!(!language.main.lacking.is_empty());
}

#[test]
fn what_people_ask_first_of_features_is_told() {
    let d = full(SANS);
    let joined = d.joined.expect("ligatures");
    assert_eq!(joined.by_default, ["fi", "fl", "ff", "ffi", "ffl"]);
    assert!(joined.on_request.is_empty());
    let figures = d.figures.expect("figures");
    assert_eq!(
        (figures.tabular, figures.old_style),
        (Some(false), Some(false))
    );
    let others: Vec<&str> = figures
        .on_request
        .iter()
        .map(|one| one.css.as_str())
        .collect();
    assert_eq!(others, ["tabular-nums"]);
    // All figures of a typewriter are equally wide, and a font of signs has none.
    let mono = full("fonts/FerrygateMono-Regular.ttf")
        .figures
        .expect("figures");
    assert_eq!(mono.tabular, Some(true));
    let signs = full("fonts/Lanternsign.ttf").figures.expect("an answer");
    assert_eq!((signs.tabular, signs.old_style), (None, None));
}
