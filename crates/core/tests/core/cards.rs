//! Cards stand for their faces.

use rstest::rstest;
use tidy_lattice_core::font::{Card, CardError, CardSource, Face};
use tidy_lattice_core::lattice::cover;
use tidy_lattice_core::record::record;
use tidy_lattice_core::shaping::Shaper;

use crate::material::{demo, face, need};

fn through_json(face: &Face) -> Face {
    let card = record(face, CardSource::default()).expect("a card");
    let read = Card::read(card.json().as_bytes()).expect("a card");
    assert_eq!(read, card);
    Face::from_card(read).expect("a face")
}

fn texts() -> Vec<String> {
    let files = tidy_lattice_demo::files().into_iter();
    files
        .filter(|(path, _)| path.starts_with("texts/"))
        .map(|(_, bytes)| String::from_utf8_lossy(bytes).into_owned())
        .collect()
}

/// The width of the words that `face` has, in em.
fn width(face: &Face, text: &str) -> f64 {
    let mut shaper = Shaper::new(face);
    let words = text.split_whitespace();
    let shown = words.filter(|word| word.chars().all(|c| face.maps(c)));
    shown.map(|word| shaper.width(word)).sum()
}

fn same_as_card(face: &Face) {
    let card = through_json(face);
    for text in texts() {
        let need = need(&text);
        let of = |face: &Face| cover(&need, std::slice::from_ref(face));
        assert_eq!(of(face).gaps, of(&card).gaps, "{}", face.names().label());
        let (by_font, by_card) = (width(face, &text), width(&card, &text));
        assert!(
            (by_card - by_font).abs() <= by_font * 0.001,
            "{}: {by_font} em by the font, {by_card} em by its card",
            face.names().label()
        );
    }
}

#[rstest]
#[case("fonts/SkerrymarkSans-Regular.ttf")]
#[case("fonts/SkerrymarkText-Regular.ttf")]
#[case("fonts/FerrygateMono-Regular.ttf")]
#[case("fonts/TidefallArabic-Regular.ttf")]
#[case("installed/QuaydeskUI-Regular.ttf")]
#[case("installed/Pebbleroom-Regular.ttf")]
fn demo_faces_and_their_cards_agree(#[case] path: &str) {
    same_as_card(&demo(path));
}

#[rstest]
#[case(epaint_default_fonts::UBUNTU_LIGHT)]
#[case(epaint_default_fonts::HACK_REGULAR)]
#[case(epaint_default_fonts::NOTO_EMOJI_REGULAR)]
fn real_faces_and_their_cards_agree(#[case] bytes: &[u8]) {
    same_as_card(&face(bytes));
}

#[test]
fn a_card_keeps_what_lines_and_names_need() {
    let font = demo("fonts/SkerrymarkSans-Italic.ttf");
    let card = through_json(&font);
    assert_eq!(card.names(), font.names());
    assert_eq!(card.line(), font.line());
    assert_eq!(card.underline(), font.underline());
    assert_eq!((card.weight(), card.slope()), (font.weight(), font.slope()));
    assert_eq!(card.feature_tags(), font.feature_tags());
    assert_eq!(card.characters(), font.characters());
    assert!(card.is_card() && card.font().is_none());
}

#[test]
fn a_card_tells_whether_shaping_works_and_which_widths_it_cannot_know() {
    let shaping = |path: &str| {
        let card = record(&demo(path), CardSource::default()).expect("a card");
        card.shaping.get("Arabic").map(|works| works.label())
    };
    assert_eq!(shaping("installed/Driftplain-Regular.ttf"), Some("missing"));
    assert_eq!(shaping("fonts/TidefallArabic-Regular.ttf"), Some("works"));

    let card = record(
        &demo("fonts/TidefallArabic-Regular.ttf"),
        CardSource::default(),
    );
    let mut card = card.expect("a card");
    assert!(card.unknown_widths.is_empty(), "{:?}", card.unknown_widths);
    card.unknown_widths = vec!["Arabic".to_owned()];
    let face = Face::from_card(card).expect("a face");
    let shaper = Shaper::new(&face);
    assert!(shaper.knows_width("Fare 12") && !shaper.knows_width("سفر"));
}

#[rstest]
#[case(r#""units_per_em": 1000"#, r#""units_per_em": 3"#, "units_per_em")]
#[case(r#""weight": 400.0"#, r#""weight": 4000.0"#, "weight")]
#[case(
    r#""characters": "U+20"#,
    r#""characters": "U+9999, U+20"#,
    "characters"
)]
#[case(r#""advances": ""#, r#""advances": "1 "#, "advances")]
#[case(r#""advances": ""#, r#""advances": "9*999999999999 "#, "advances")]
#[case("tidy-lattice/card/1", "tidy-lattice/card/9", "schema")]
fn a_wrong_field_is_named(#[case] right: &str, #[case] wrong: &str, #[case] field: &str) {
    let card = record(
        &demo("fonts/SkerrymarkSans-Regular.ttf"),
        CardSource::default(),
    );
    let json = card.expect("a card").json();
    assert!(json.contains(right), "{right}");
    match Card::read(json.replacen(right, wrong, 1).as_bytes()) {
        Err(CardError::Wrong { field: named, .. }) => assert_eq!(named, field),
        other => panic!("{other:?}"),
    }
}

#[test]
fn what_is_no_card_is_refused() {
    for bytes in [&b"{}"[..], b"", b"[1]", b"{\"schema\": 1}", b"\xff\xfe{}"] {
        assert!(matches!(Card::read(bytes), Err(CardError::NotACard(_))));
    }
}
