//! Who serves what, cluster by cluster.

use proptest::prelude::*;
use rstest::rstest;
use tidy_lattice_core::font::Face;
use tidy_lattice_core::lattice::{Coverage, GapCause, cover};
use tidy_lattice_core::need::Need;
use tidy_lattice_core::text::{Group, Source};

use crate::material::{cases, demo, face, need};

fn sans() -> Face {
    demo("fonts/SkerrymarkSans-Regular.ttf")
}

fn brand_text() -> Face {
    demo("fonts/SkerrymarkText-Regular.ttf")
}

fn ubuntu() -> Face {
    face(epaint_default_fonts::UBUNTU_LIGHT)
}

fn hack() -> Face {
    face(epaint_default_fonts::HACK_REGULAR)
}

/// The number of the font that serves the only cluster of `text`.
fn server(text: &str, stack: &[Face]) -> Option<usize> {
    let coverage = cover(&need(text), stack);
    assert_eq!(coverage.clusters, 1, "{text} is one cluster");
    coverage.fonts.iter().position(|font| font.serves == 1)
}

#[rstest]
#[case::first_wins("A", Some(0))]
#[case::second_helps("Ω", Some(1))]
#[case::nobody("क", None)]
#[case::composed("é", Some(0))]
#[case::decomposed("e\u{301}", Some(0))]
#[case::vietnamese("ệ", Some(1))]
#[case::vietnamese_apart("e\u{323}\u{302}", Some(1))]
#[case::vietnamese_other_order("e\u{302}\u{323}", Some(1))]
#[case::vietnamese_half("ê\u{323}", Some(1))]
#[case::marks_without_composite("x\u{301}", Some(1))]
#[case::two_marks("q\u{303}\u{323}", Some(1))]
#[case::ignorable_inside("A\u{200d}", Some(0))]
#[case::no_break_hyphen("\u{2011}", None)]
#[case::kelvin("\u{212a}", Some(0))]
#[case::ohm("\u{2126}", Some(1))]
fn the_first_font_that_has_all_of_a_cluster_serves_it(
    #[case] cluster: &str,
    #[case] font: Option<usize>,
) {
    assert_eq!(server(cluster, &[sans(), brand_text()]), font);
}

#[test]
fn a_base_and_its_mark_are_never_split_between_fonts() {
    // The brand font has the letter, Hack has it too, neither has the mark.
    let coverage = cover(&need("\u{f1}\u{32a}"), &[sans(), hack()]);
    let gap = &coverage.gaps[0];
    match &gap.cause {
        GapCause::Missing { code_points } => assert_eq!(code_points, &["U+032A"]),
        other => panic!("{other:?}"),
    }
}

#[test]
fn parts_in_different_fonts_are_a_split() {
    // The emoji font has the rocket and no accent, the text font the accent
    // and no rocket.
    let emoji = face(epaint_default_fonts::NOTO_EMOJI_REGULAR);
    let coverage = cover(&need("🚀\u{301}"), &[emoji, brand_text()]);
    match &coverage.gaps[0].cause {
        GapCause::Split { lacks } => {
            let lacks: Vec<_> = lacks
                .iter()
                .map(|part| (part.font, part.code_points.join(" ")))
                .collect();
            assert_eq!(lacks, [(0, "U+0301".to_owned()), (1, "U+1F680".to_owned())]);
        }
        other => panic!("{other:?}"),
    }
}

#[rstest]
#[case::comma('、', &["Han", "Hiragana"], &["Latin", "Arabic"])]
#[case::long_sound('ー', &["Hiragana", "Katakana"], &["Han"])]
#[case::full_width('，', &["Han", "Hangul"], &["Latin"])]
#[case::danda('।', &["Devanagari", "Bengali"], &["Han"])]
#[case::of_all('.', &[], &["Latin", "Han"])]
#[case::letter('ж', &["Cyrillic"], &["Latin"])]
fn signs_go_with_the_scripts_that_use_them(
    #[case] sign: char,
    #[case] with: &[&str],
    #[case] without: &[&str],
) {
    let scripts = tidy_lattice_core::text::used_with(sign);
    let has = |script: &&str| scripts.iter().any(|known| known == script);
    assert!(with.iter().all(has), "{scripts:?}");
    assert!(!without.iter().any(has), "{scripts:?}");
}

#[test]
fn a_flag_is_one_picture_or_a_gap() {
    let flags = || face(font_test_data::NOTO_COLOR_EMOJI_FLAGS);
    let letters = || face(font_test_data::LAST_RESORT_HE);
    let flag = "\u{1f1ea}\u{1f1f8}";
    assert_eq!(server(flag, &[sans(), flags()]), Some(1));
    let cause = |stack: &[Face]| cover(&need(flag), stack).gaps.remove(0).cause;
    assert_eq!(
        cause(&[letters(), flags()]),
        GapCause::Unjoined {
            font: 0,
            joined_by: Some(1)
        },
        "a browser does not look beyond the first font that has both letters"
    );
    assert_eq!(
        cause(&[letters()]),
        GapCause::Unjoined {
            font: 0,
            joined_by: None
        }
    );
    assert_eq!(
        server("\u{1f1ea}", &[letters()]),
        Some(0),
        "a lone letter is no flag"
    );
    let keycaps = || face(epaint_default_fonts::NOTO_EMOJI_REGULAR);
    assert_eq!(server("1\u{20e3}", &[keycaps()]), Some(0));
    let in_colour = cover(&need("1\u{fe0f}\u{20e3}"), &[keycaps()]);
    assert_eq!(
        in_colour.gaps[0].cause,
        GapCause::Variation { font: 0 },
        "a font without colour is not asked for emoji presentation"
    );
}

#[rstest]
#[case::joined("👩\u{200d}🚀", true)]
#[case::skin("👍\u{1f3fd}", true)]
#[case::single("🚀", false)]
fn emoji_sequences_are_drawn_as_one_or_not_served(
    #[case] sequence: &str,
    #[case] is_sequence: bool,
) {
    // The last-resort font has a glyph for everything and joins nothing.
    let coverage = cover(&need(sequence), &[face(font_test_data::LAST_RESORT_HE)]);
    assert_eq!(coverage.gaps.len(), usize::from(is_sequence));
}

#[test]
fn a_variation_sequence_prefers_the_font_that_has_it() {
    let with = || face(font_test_data::CMAP14_FONT1);
    let (base, selector) = with()
        .font()
        .expect("a font")
        .charmap()
        .unicode_variants()
        .find_map(|(base, selector, _)| Some((char::from_u32(base)?, char::from_u32(selector)?)))
        .expect("a variation sequence");
    let without = || face(font_test_data::LAST_RESORT_HE);
    let sequence = format!("{base}{selector}");
    assert_eq!(server(&sequence, &[without(), with()]), Some(1));
    let coverage = cover(&need(&sequence), &[sans(), without()]);
    assert_eq!(coverage.gaps[0].cause, GapCause::Variation { font: 1 });
}

#[test]
fn presentation_is_the_fonts_where_it_does_not_list_it() {
    let plain = || face(epaint_default_fonts::HACK_REGULAR);
    assert!(plain().maps('↔'));
    assert_eq!(server("↔\u{fe0e}", &[plain()]), Some(0));
    let coverage = cover(&need("↔\u{fe0f}"), &[plain()]);
    assert_eq!(coverage.gaps[0].cause, GapCause::Variation { font: 0 });
    assert!(face(font_test_data::NOTO_COLOR_EMOJI_FLAGS).has_colour());
}

#[test]
fn counts_places_and_order() {
    let sources = [
        Source {
            name: "a.txt".to_owned(),
            text: "abc\nकab\r\n ख".to_owned(),
        },
        Source {
            name: "b.txt".to_owned(),
            text: "ख\u{a0}ख क!".to_owned(),
        },
    ];
    let coverage = cover(&Need::gather(&sources), &[sans()]);
    assert_eq!(
        (coverage.clusters, coverage.distinct, coverage.gap_clusters),
        (11, 6, 5)
    );
    let gaps: Vec<_> = coverage
        .gaps
        .iter()
        .map(|gap| {
            (
                gap.cluster.as_str(),
                gap.count,
                gap.first.source.as_str(),
                gap.first.line,
                gap.first.column,
            )
        })
        .collect();
    assert_eq!(gaps, [("ख", 3, "a.txt", 3, 2), ("क", 2, "a.txt", 2, 1)]);
    assert_eq!(coverage.gaps[0].characters[0].name, "DEVANAGARI LETTER KHA");
    assert_eq!(coverage.gaps[0].characters[0].code_point, "U+0916");
    assert_eq!(coverage.gaps[0].characters[0].script, "Devanagari");
    assert_eq!(coverage.rows[0].group, "Devanagari");
    assert_eq!((coverage.rows[0].clusters, coverage.rows[0].gaps), (5, 5));
}

#[rstest]
#[case("ж", "Cyrillic")]
#[case("ア", "Katakana")]
#[case("7", "Digits")]
#[case("₴", "Currency signs")]
#[case("→", "Symbols")]
#[case("…", "Punctuation")]
#[case("🚢", "Emoji")]
#[case("♿", "Emoji")]
#[case("⚠", "Symbols")]
#[case("⚠\u{fe0f}", "Emoji")]
#[case("♿\u{fe0e}", "Symbols")]
#[case("🇬🇷", "Emoji")]
#[case("\u{e000}", "Other")]
fn clusters_have_a_row(#[case] cluster: &str, #[case] row: &str) {
    assert_eq!(Group::of(cluster).label(), row);
}

/// What texts are made of: letters, marks, signs of several scripts, parts of emoji.
const ALPHABET: &str =
    "aZ09 é\u{301}\u{323}жΩ\n🚢\u{1f1f5}\u{1f1f1}\u{200d}\u{fe0f}कष\u{94d}漢\u{ad}€→";

proptest! {
    #![proptest_config(cases(100))]

    #[test]
    fn every_cluster_is_served_once_or_a_gap(
        text in prop::collection::vec(prop::sample::select(ALPHABET.chars().collect::<Vec<_>>()), 0..160)
    ) {
        let text: String = text.into_iter().collect();
        let stack = [sans(), brand_text(), ubuntu(), face(epaint_default_fonts::NOTO_EMOJI_REGULAR)];
        let Coverage { clusters, fonts, rows, gaps, gap_clusters, .. } = cover(&need(&text), &stack);
        prop_assert_eq!(
            fonts.iter().map(|font| font.serves).sum::<u64>() + gap_clusters,
            clusters
        );
        prop_assert_eq!(rows.iter().map(|row| row.clusters).sum::<u64>(), clusters);
        prop_assert_eq!(gaps.iter().map(|gap| gap.count).sum::<u64>(), gap_clusters);
        for row in &rows {
            let served: u64 = row.cells.iter().map(|cell| cell.serves).sum();
            prop_assert_eq!(served + row.gaps, row.clusters, "{}", row.group);
        }
    }
}

#[test]
fn the_demo_falls_through_where_it_is_planted() {
    let texts: Vec<Source> = tidy_lattice_demo::files()
        .into_iter()
        .filter(|(path, _)| path.starts_with("texts/"))
        .map(|(name, bytes)| Source {
            name,
            text: String::from_utf8_lossy(bytes).into_owned(),
        })
        .collect();
    assert_eq!(texts.len(), 8);
    let stack = [sans(), brand_text(), demo("fonts/Lanternsign.ttf")];
    let coverage = cover(&Need::gather(&texts), &stack);
    let row = |name: &str| {
        coverage
            .rows
            .iter()
            .find(|row| row.group == name)
            .expect("the row")
    };
    for script in ["Latin", "Greek", "Cyrillic", "Digits", "Symbols"] {
        assert_eq!(row(script).gaps, 0, "{script}");
    }
    for script in ["Arabic", "Devanagari", "Hiragana", "Han"] {
        assert_eq!(row(script).gaps, row(script).clusters, "{script}");
    }
    assert_eq!(row("Emoji").gaps, 1, "the ship in the English text");
    assert!(
        row("Greek").cells[0].covers == 0,
        "the brand font is Western Latin only"
    );
}

#[test]
fn a_font_without_characters_serves_nothing() {
    // The table is there under a name that nobody reads.
    let mut font = tidy_lattice_demo::file("fonts/SkerrymarkSans-Regular.ttf")
        .expect("the brand font")
        .to_vec();
    let at = font
        .windows(4)
        .position(|tag| tag == b"cmap")
        .expect("a cmap");
    font[at..at + 4].copy_from_slice(b"cmaq");
    let empty = face(&font);
    assert!(!empty.has_characters() && sans().has_characters());
    let coverage = cover(&need("abc"), &[empty]);
    assert_eq!((coverage.fonts[0].covers, coverage.gap_clusters), (0, 3));
}

/// Marks that move the pen by design, and letters that join on one side, are no
/// flaws of a font that does everything else.
#[test]
fn a_font_that_joins_has_no_flaws() {
    let joined = demo("fonts/TidefallArabic-Regular.ttf");
    let coverage = cover(&need("مرحبا بكم على متن العبارة"), &[joined]);
    assert!(coverage.gaps.is_empty(), "{:?}", coverage.gaps);
}
