//! Cards stand for their faces.

use rstest::rstest;
use tidy_lattice_core::font::{Card, CardError, CardSource, Face, LineSource};
use tidy_lattice_core::lattice::cover;
use tidy_lattice_core::layout::Shaper;
use tidy_lattice_core::platform::{self, Known, Likeness, Looked, as_face, find};
use tidy_lattice_core::record::record;

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
fn a_card_says_which_widths_it_cannot_know() {
    // Malayalam needs shaping, and no sample tells whether the tables carry it.
    let font = face(font_test_data::NOTO_SERIF_DISPLAY_TRIMMED);
    let card = record(&font, CardSource::default()).expect("a card");
    assert!(card.unknown_widths.is_empty(), "{:?}", card.unknown_widths);
    let arabic = demo("installed/Driftplain-Regular.ttf");
    let card = record(&arabic, CardSource::default()).expect("a card");
    assert_eq!(
        card.shaping.get("Arabic").map(|works| works.label()),
        Some("missing")
    );
}

#[rstest]
#[case(r#""units_per_em": 1000"#, r#""units_per_em": 3"#, "units_per_em")]
#[case(r#""weight": 400.0"#, r#""weight": 4000.0"#, "weight")]
#[case(r#""characters": "U+20"#, r#""characters": "U+9999, U+20"#, "characters")]
#[case(r#""advances": ""#, r#""advances": "1 "#, "advances")]
#[case(r#""advances": ""#, r#""advances": "9*999999999999 "#, "advances")]
#[case("tidy-lattice/card/1", "tidy-lattice/card/9", "schema")]
fn a_wrong_field_is_named(#[case] right: &str, #[case] wrong: &str, #[case] field: &str) {
    let card = record(&demo("fonts/SkerrymarkSans-Regular.ttf"), CardSource::default());
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

#[test]
fn the_catalogue_is_whole() {
    let platforms = platform::platforms();
    let names: Vec<&str> = platforms.iter().map(|p| p.name.as_str()).collect();
    assert_eq!(names, ["windows", "macos", "ios", "android", "gnome", "kde", "bare"]);
    for platform in platforms {
        for face in platform.families.iter().flat_map(|family| &family.faces) {
            let Some(name) = &face.card else { continue };
            let card = platform::builtin_card(name).unwrap_or_else(|| panic!("no card {name}"));
            let source = &card.source;
            assert!(
                source.package.is_some() && source.package_version.is_some(),
                "{name} has no provenance"
            );
            assert_eq!(source.sha256.len(), 64, "{name}");
        }
    }
}

#[test]
fn a_platform_ships_what_its_versions_say() {
    let windows = &platform::platforms()[0];
    let family = |name: &str| windows.families.iter().find(|f| f.name == name).expect("it");
    assert!(windows.ships(family("Arial"), "7"));
    assert!(!windows.ships(family("Nirmala UI"), "7"));
    assert!(windows.ships(family("Nirmala UI"), "11"));
}

#[test]
fn faces_of_the_same_widths_do_not_lend_their_lines() {
    let windows = &platform::platforms()[0];
    let found = |name: &str| match find(windows, name) {
        Looked::Found(found) => found,
        other => panic!("{other:?}"),
    };
    let card = |name: &str| {
        let found = found(name);
        let card = found.face.card.as_deref().and_then(platform::builtin_card);
        as_face(found, card.expect("a card")).expect("a face")
    };
    let georgia = card("georgia-bold");
    assert_eq!(georgia.names().full.as_deref(), Some("Georgia Bold"));
    assert_eq!((georgia.weight(), georgia.line().source), (700.0, LineSource::NotKnown));
    let arial = card("Arial");
    assert_eq!(arial.line().source, LineSource::Hhea);
    assert!(matches!(
        found("Arial").family.known,
        Known::Measured { likeness: Likeness::SameMetrics, .. }
    ));
    assert_eq!(found("Verdana").family.known, Known::ByName);
    assert!(matches!(find(windows, "Arail Roman"), Looked::Unknown(near) if near.contains(&"Times New Roman")));
}
