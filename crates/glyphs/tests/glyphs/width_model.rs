//! Widths as a card knows them.

use rstest::rstest;
use tidy_lattice_glyphs::font::{CharacterSet, JoinedForms, WidthModel};

/// A model in which a letter is as wide as told.
fn model(advances: &[(char, i32)]) -> WidthModel {
    let mut advances = advances.to_vec();
    advances.sort_unstable();
    WidthModel::of(
        CharacterSet::of(advances.iter().map(|(c, _)| u32::from(*c))),
        advances.iter().map(|(_, units)| *units).collect(),
    )
}

fn latin() -> WidthModel {
    model(&[
        (' ', 250),
        ('A', 700),
        ('V', 650),
        ('e', 500),
        ('f', 300),
        ('i', 200),
        ('é', 510),
        ('\u{301}', 0),
        ('Á', 710),
    ])
}

#[rstest]
#[case("", 0)]
#[case("AV", 1350)]
#[case("A V", 1600)]
#[case("A\u{a0}V", 1600)]
#[case("A\u{200d}V\u{fe0f}", 1350)]
#[case("e\u{301}", 510)]
#[case("É", 0)]
#[case("x", 0)]
fn advances_add_up(#[case] text: &str, #[case] units: i64) {
    assert_eq!(latin().units(text), units);
}

#[test]
fn pairs_hold_for_letters_that_are_alike() {
    let mut model = latin();
    model.pairs.insert(('A', 'V'), -80);
    model.alike_first.insert('Á', 'A');
    assert_eq!(model.units("AV"), 1270);
    assert_eq!(model.units("ÁV"), 1280);
    assert_eq!(model.units("VA"), 1350);
}

#[test]
fn the_longest_run_counts_and_the_next_may_start_with_its_end() {
    let mut model = latin();
    model.add_run("ffi".chars().collect(), -50);
    model.add_run("ffif".chars().collect(), -70);
    model.add_run("fAV".chars().collect(), 9);
    assert_eq!(model.units("ffi"), 750);
    assert_eq!(model.units("ffif"), 1030);
    // The last f of the first run starts the second one.
    assert_eq!(model.units("ffifAV"), 1030 + 1350 + 9);
}

#[test]
fn a_sequence_that_is_one_picture_is_as_wide_as_its_first() {
    let mut model = model(&[('👩', 1200), ('🚀', 1200), ('🇵', 900), ('🇱', 900)]);
    model.add_picture("👩\u{200d}🚀");
    model.add_picture("🇵🇱");
    assert_eq!(model.units("👩\u{200d}🚀"), 1200);
    assert_eq!(model.units("🇵🇱"), 900);
    assert_eq!(model.units("🚀👩"), 2400);
    // What stands alone is no sequence.
    model.add_picture("🚀");
    assert_eq!(model.units("🚀🚀"), 2400);
}

#[rstest]
#[case("ب", 800)]
#[case("بب", 300 + 500)]
#[case("ببب", 300 + 250 + 500)]
#[case("با", 300 + 220)]
#[case("اب", 200 + 800)]
#[case("بَب", 300 + 500)]
fn joined_letters_take_the_forms_of_their_places(#[case] text: &str, #[case] units: i64) {
    let mut model = model(&[('ب', 800), ('ا', 200), ('\u{64e}', 0)]);
    let beh = JoinedForms {
        initial: 300,
        medial: 250,
        last: 500,
    };
    let alef = JoinedForms {
        initial: 200,
        medial: 220,
        last: 220,
    };
    model.joined.extend([('ب', beh), ('ا', alef)]);
    assert_eq!(model.units(text), units);
}

#[test]
fn letters_without_room_are_not_counted() {
    assert_eq!(latin().wide_letters("Ae\u{301}"), 2);
    assert_eq!(latin().wide_letters("A\u{301}\u{301}"), 1);
}
