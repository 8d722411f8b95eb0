//! Lengths, media queries, lists of families and changes of case, as sheets write them.

use cssparser::Parser;
use rstest::rstest;
use tidy_lattice_documents::page::{CaseChange, Transform, transformed};
use tidy_lattice_documents::style::read::{
    FamilyName, FontUnits, LengthContext, Quantity, Rule, Sheet, USUAL_FIXED_SIZE, Viewport,
    families, length,
};

const VIEWPORT: Viewport = Viewport::screen(800.0, 600.0);

/// What a length comes to with letters of 20 px in a root of 10 px, where 100 % are 200 px.
fn read(text: &str, font: Option<FontUnits>) -> Option<Quantity> {
    let context = LengthContext {
        em: 20.0,
        rem: 10.0,
        percent: 200.0,
        viewport: VIEWPORT,
        font,
    };
    let mut input = Parser::new(text);
    let value = length(&mut input, &context).ok()?;
    input.is_exhausted().then_some(value)
}

#[rstest]
#[case("3px", 3.0)]
#[case("-3px", -3.0)]
#[case("1.5em", 30.0)]
#[case("2rem", 20.0)]
#[case("50%", 100.0)]
#[case("10vw", 80.0)]
#[case("10dvh", 60.0)]
#[case("10vmin", 60.0)]
#[case("10vmax", 80.0)]
#[case("1in", 96.0)]
#[case("2.54cm", 96.0)]
#[case("25.4mm", 96.0)]
#[case("101.6Q", 96.0)]
#[case("72pt", 96.0)]
#[case("6pc", 96.0)]
#[case("1e1px", 10.0)]
#[case("calc(1em + 2px)", 22.0)]
#[case("calc(50% - 1em)", 80.0)]
#[case("calc(2 * 3px)", 6.0)]
#[case("calc(3px * 2)", 6.0)]
#[case("calc(6px / 4)", 1.5)]
#[case("calc((1px + 2px) * 3)", 9.0)]
#[case("calc(1px + 2px * 3)", 7.0)]
#[case("calc(10px - 2px - 3px)", 5.0)]
#[case("calc(calc(1px) + calc(2px))", 3.0)]
#[case("min(1em, 30px, 50%)", 20.0)]
#[case("max(1em, 30px, 10%)", 30.0)]
#[case("clamp(1px, 50%, 40px)", 40.0)]
#[case("clamp(50px, 1px, 40px)", 50.0)]
#[case("MAX(1PX, 2PX)", 2.0)]
fn lengths(#[case] text: &str, #[case] px: f32) {
    let Some(Quantity::Px(read)) = read(text, None) else {
        panic!("{text} is no length")
    };
    assert!((read - px).abs() < 1e-3, "{text}: {read}");
}

#[rstest]
#[case("0", 0.0)]
#[case("1.5", 1.5)]
#[case("calc(1 + 2)", 3.0)]
#[case("calc(10px / 4px)", 2.5)]
#[case("min(3, 2)", 2.0)]
fn numbers(#[case] text: &str, #[case] number: f32) {
    assert_eq!(read(text, None), Some(Quantity::Number(number)));
}

#[rstest]
#[case("")]
#[case("px")]
#[case("3 px")]
#[case("3foo")]
#[case("3px 4px")]
#[case("calc()")]
#[case("calc(1px + 2)")]
#[case("calc(1px+2px)")]
#[case("calc(1px -2px)")]
#[case("calc(1px * 2px)")]
#[case("calc(1px / 0)")]
#[case("calc(2 / 1px)")]
#[case("calc(1px + )")]
#[case("min(1px, 2)")]
#[case("clamp(1px, 2px)")]
#[case("attr(x)")]
#[case("auto")]
#[case("#fff")]
fn no_lengths(#[case] text: &str) {
    assert_eq!(read(text, None), None);
}

#[test]
fn units_of_a_font_are_half_an_em_until_it_is_known() {
    assert_eq!(read("2ch", None), Some(Quantity::Px(20.0)));
    let font = Some(FontUnits { ch: 11.0, ex: 9.0 });
    assert_eq!(read("2ch", font), Some(Quantity::Px(22.0)));
    assert_eq!(read("calc(1ex + 1ch)", font), Some(Quantity::Px(20.0)));
    assert!(FontUnits::are_in("calc(1ex + 2px)") && FontUnits::are_in("3ch"));
    assert!(
        !FontUnits::are_in("3rem") && !FontUnits::are_in("1px exact") && !FontUnits::are_in("2rch")
    );
}

/// Whether a rule in `@media` with this list counts.
fn holds(media: &str, viewport: Viewport) -> bool {
    let sheet = Sheet::read(&format!("@media {media} {{ p {{ width: 1px }} }}"));
    let item = sheet.items.first().expect("a rule");
    assert!(matches!(item.rule, Rule::Style { .. }));
    item.conditions
        .iter()
        .all(|condition| condition.holds(viewport))
}

#[rstest]
#[case("all", true)]
#[case("screen", true)]
#[case("print", false)]
#[case("not print", true)]
#[case("only screen", true)]
#[case("speech, screen", true)]
#[case("(min-width: 800px)", true)]
#[case("(min-width: 801px)", false)]
#[case("(max-width: 800px)", true)]
#[case("(max-width: 50em)", true)]
#[case("(max-width: 49em)", false)]
#[case("screen and (min-width: 700px) and (max-width: 900px)", true)]
#[case("screen and (min-width: 700px) and (max-width: 750px)", false)]
#[case("not screen and (min-width: 700px)", false)]
#[case("(width: 800px)", true)]
#[case("(width >= 800px)", true)]
#[case("(width > 800px)", false)]
#[case("(700px < width < 900px)", true)]
#[case("(700px < width < 800px)", false)]
#[case("(orientation: landscape)", true)]
#[case("(orientation: portrait)", false)]
#[case("(min-height: 601px), (min-width: 1px)", true)]
#[case("not (min-width: 801px)", true)]
#[case("(min-width: 1px) and (not (min-height: 601px))", true)]
#[case("(min-width: 801px) or (min-height: 600px)", true)]
#[case("(min-width 1px)", false)]
#[case("bogus", false)]
fn media_queries_on_a_screen(#[case] media: &str, #[case] expected: bool) {
    assert_eq!(holds(media, VIEWPORT), expected);
}

#[test]
fn media_queries_on_paper() {
    let paper = Viewport {
        fixed_size: USUAL_FIXED_SIZE,
        print: true,
        ..VIEWPORT
    };
    assert!(holds("print", paper) && holds("all", paper) && holds("not screen", paper));
    assert!(!holds("screen", paper));
}

#[rstest]
#[case("Lato", &["Lato"])]
#[case("Open Sans", &["Open Sans"])]
#[case("  Open   Sans , serif", &["Open Sans", "serif"])]
#[case("'Open Sans', \"Lato\"", &["Open Sans", "Lato"])]
#[case("\"a\\\"b\"", &["a\"b"])]
#[case("A\\ B", &["A B"])]
#[case("system-ui, -apple-system", &["system-ui", "-apple-system"])]
fn lists_of_families(#[case] text: &str, #[case] expected: &[&str]) {
    let read = families(text).expect("a list");
    let names: Vec<&str> = read.iter().map(FamilyName::as_str).collect();
    assert_eq!(names, expected);
}

#[test]
fn quoted_generic_families_are_names() {
    let read = families("'serif', serif").expect("a list");
    assert_eq!(read[0], FamilyName::Named("serif".to_owned()));
    assert_eq!(read[1], FamilyName::Generic("serif".to_owned()));
}

#[rstest]
#[case("")]
#[case("Lato,")]
#[case(", Lato")]
#[case("Lato,, serif")]
#[case("Lato 3")]
#[case("3D")]
#[case("'Open Sans' Bold")]
#[case("inherit")]
#[case("Lato, default")]
#[case("a!b")]
fn no_lists_of_families(#[case] text: &str) {
    assert_eq!(families(text), None);
}

#[rstest]
#[case("straße", "STRASSE", "de")]
#[case("istanbul", "\u{130}STANBUL", "tr")]
#[case("istanbul", "ISTANBUL", "en")]
#[case("ίδιος", "ΙΔΙΟΣ", "el")]
#[case("ﬁne", "FINE", "en")]
#[case("Tide 3", "TIDE 3", "en")]
fn upper_case(#[case] text: &str, #[case] expected: &str, #[case] language: &str) {
    assert_eq!(change(CaseChange::Uppercase, text, language), expected);
}

#[rstest]
#[case("ISTANBUL", "\u{131}stanbul", "tr")]
#[case("ΟΔΟΣ", "οδος", "en")]
#[case("TIDE", "tide", "en")]
fn lower_case(#[case] text: &str, #[case] expected: &str, #[case] language: &str) {
    let read = change(CaseChange::Lowercase, text, language);
    // The sigma at the end of a word is another letter.
    assert_eq!(read.replace('ς', "σ"), expected.replace('ς', "σ"));
}

#[rstest]
#[case("tide turns", "Tide Turns", "en")]
// As in Chromium; Dutch would have two capitals.
#[case("ijsland", "Ijsland", "nl")]
#[case("o'neill tide-turns", "O'neill Tide-Turns", "en")]
#[case("TIDE", "TIDE", "en")]
fn capitals(#[case] text: &str, #[case] expected: &str, #[case] language: &str) {
    assert_eq!(change(CaseChange::Capitalize, text, language), expected);
}

#[test]
fn nothing_is_changed_where_nothing_is_asked_for() {
    assert_eq!(
        transformed("straße", Transform::default(), Some("de")),
        "straße"
    );
    let wide = Transform {
        full_width: true,
        ..Transform::default()
    };
    assert_eq!(transformed("A1", wide, None), "\u{ff21}\u{ff11}");
}

fn change(case: CaseChange, text: &str, language: &str) -> String {
    let transform = Transform {
        case: Some(case),
        ..Transform::default()
    };
    transformed(text, transform, Some(language)).into_owned()
}
