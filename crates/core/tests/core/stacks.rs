//! A stack from a web font and local faces.

use rstest::rstest;
use tidy_lattice_core::font::Face;
use tidy_lattice_core::need::language;
use tidy_lattice_core::stack::{BuildError, BuildRequest, Built, SampleKind, build};
use tidy_lattice_core::standin::TextSample;

use crate::material::{demo, face, source};

fn sans() -> Face {
    demo("fonts/SkerrymarkSans-Regular.ttf")
}

fn stack(web: &Face, locals: &[Face], text: &str, pin: bool) -> Result<Built, BuildError> {
    build(&BuildRequest {
        web,
        family: None,
        url: "fonts/web.woff2".to_owned(),
        display: "swap".to_owned(),
        locals,
        sample: &TextSample::gather(&[source(text)]),
        sample_kind: SampleKind::Language {
            language: "en".to_owned(),
        },
        sizes: vec![16.0],
        generic: None,
        pin,
    })
}

fn english() -> String {
    language::sample("en").expect("English").text
}

#[test]
fn the_stack_names_web_font_stand_ins_and_generic() {
    let locals = [
        demo("installed/QuaydeskUI-Regular.ttf"),
        face(epaint_default_fonts::UBUNTU_LIGHT),
    ];
    let built = stack(&sans(), &locals, &english(), true).expect("a stack");
    assert_eq!(
        built.stack,
        [
            "Skerrymark Sans",
            "Skerrymark Sans via Quaydesk UI",
            "Skerrymark Sans via Ubuntu",
            "sans-serif"
        ]
    );
    assert_eq!(
        built.stand_ins[0].local,
        ["Quaydesk UI", "QuaydeskUI-Regular"]
    );
    assert_eq!(built.stand_ins[1].local, ["Ubuntu Light", "Ubuntu-Light"]);
    assert!(
        built
            .css
            .contains("src: local(\"Quaydesk UI\"),\n       local(\"QuaydeskUI-Regular\");")
    );
    assert!(
        built
            .css
            .contains(&format!("--skerrymark-sans-stack: {};", built.font_family))
    );
    assert_eq!(built.css.matches("@font-face").count(), 3);
    assert_eq!(
        built.css.matches("ascent-override").count(),
        3,
        "the web font is pinned"
    );
    assert!(
        built.notes.iter().any(|note| note.code == "weight-differs"),
        "Ubuntu is light"
    );
}

#[test]
fn an_unpinned_web_font_states_nothing() {
    let built = stack(
        &sans(),
        &[demo("installed/Pebbleroom-Regular.ttf")],
        &english(),
        false,
    )
    .expect("a stack");
    assert_eq!(built.css.matches("ascent-override").count(), 1);
    assert!(
        built
            .notes
            .iter()
            .any(|note| note.code == "firefox-not-met")
    );
}

#[test]
fn faces_of_one_family_get_names_of_their_own() {
    let locals = [
        "fonts/SkerrymarkSans-Regular.ttf",
        "fonts/SkerrymarkSans-Bold.ttf",
        "fonts/SkerrymarkSans-Regular.ttf",
    ];
    let built = stack(
        &demo("installed/Pebbleroom-Regular.ttf"),
        &locals.map(demo),
        &english(),
        true,
    )
    .expect("a stack");
    let families: Vec<&str> = built
        .stand_ins
        .iter()
        .map(|stand_in| stand_in.family.as_str())
        .collect();
    assert_eq!(
        families,
        [
            "Pebbleroom via Skerrymark Sans",
            "Pebbleroom via Skerrymark Sans Bold",
            "Pebbleroom via Skerrymark Sans 2"
        ]
    );
}

#[rstest]
#[case("гавань", "has no whole word of")]
fn nothing_to_fit_on_is_said(#[case] text: &str, #[case] says: &str) {
    let error = stack(
        &sans(),
        &[demo("installed/Pebbleroom-Regular.ttf")],
        text,
        true,
    )
    .expect_err("an error");
    assert!(error.to_string().contains(says), "{error}");
}

#[test]
fn fonts_without_a_word_in_common_are_named() {
    let signs = demo("fonts/Lanternsign.ttf");
    let error = stack(&sans(), &[signs], &english(), true).expect_err("an error");
    assert!(
        matches!(&error, BuildError::NothingInCommon { local, .. } if local == "Lanternsign"),
        "{error}"
    );
}

#[test]
fn a_size_in_use_that_cannot_agree_is_a_finding() {
    // Ahem's ascent and descent make 1 em, without a gap.
    let web = face(font_test_data::AHEM);
    let line = web.line();
    assert_eq!((line.ascent + line.descent, line.line_gap), (1.0, 0.0));
    let built = stack(
        &web,
        &[demo("installed/Pebbleroom-Regular.ttf")],
        "XXXX pppp",
        true,
    )
    .expect("a stack");
    assert!(built.stand_ins[0].width.size_adjust > 100.0);
    let finding = built
        .notes
        .iter()
        .find(|note| note.finding)
        .expect("a finding");
    assert_eq!(finding.code, "lines-off-firefox");
    assert!(
        finding.text.contains("16 px") && finding.text.contains("line-height"),
        "{}",
        finding.text
    );
}

#[test]
fn the_same_input_gives_the_same_bytes() {
    let once = stack(
        &sans(),
        &[demo("installed/QuaydeskUI-Regular.ttf")],
        &english(),
        true,
    );
    let again = stack(
        &sans(),
        &[demo("installed/QuaydeskUI-Regular.ttf")],
        &english(),
        true,
    );
    assert_eq!(once, again);
}

#[test]
fn a_damaged_width_makes_no_stand_in() {
    // A tiny em makes every letter as wide as a page.
    let mut font = tidy_lattice_demo::file("installed/Pebbleroom-Regular.ttf")
        .expect("a font")
        .to_vec();
    let record = font
        .windows(4)
        .position(|tag| tag == b"head")
        .expect("a head");
    let head = u32::from_be_bytes(font[record + 8..record + 12].try_into().expect("4 bytes"));
    let em = head as usize + 18;
    font[em..em + 2].copy_from_slice(&16_u16.to_be_bytes());
    let error = stack(&sans(), &[face(&font)], &english(), true).expect_err("an error");
    assert!(matches!(error, BuildError::TooDifferent { size_adjust, .. } if size_adjust < 10.0));
}
