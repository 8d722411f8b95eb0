//! Which face shows each piece, and why each earlier one does not.

use std::sync::Arc;

use rstest::rstest;
use tidy_lattice_core::lattice::{
    Absent, Arrival, Flaw, Fonts, Passed, Presentation, Request, Trace, WebFace, WebFile, resolve,
    trace,
};
use tidy_lattice_core::page::{PlacedFace, TextStyle};
use tidy_lattice_core::platform::{
    Definition, Device, InstalledFace, Platform, as_face, platforms,
};
use tidy_lattice_core::style::read::{FaceSource, Sheet, families};

use crate::material::demo;

/// The rules of `css`; a URL names a font of the demo.
fn rules(css: &str) -> Vec<WebFace> {
    let sheet = Sheet::read(css);
    sheet
        .font_faces()
        .map(|(face, line)| WebFace {
            files: face
                .sources
                .iter()
                .map(|source| match source {
                    FaceSource::Url { url, .. } if url.starts_with("missing") => {
                        Some(Err("there is no such file".to_owned()))
                    }
                    FaceSource::Url { url, .. } => Some(Ok(WebFile {
                        name: url.clone(),
                        bytes: Some(1000),
                        face: Arc::new(demo(url)),
                        instances: Default::default(),
                    })),
                    FaceSource::Local { .. } => None,
                })
                .collect(),
            placed: PlacedFace {
                face: face.clone(),
                file: "a.css".to_owned(),
                line,
                depth: 1,
            },
        })
        .collect()
}

const CSS: &str = "
@font-face {font-family: Sans; src: url(fonts/SkerrymarkSans-Regular.ttf)}
@font-face {font-family: Sans; src: url(fonts/SkerrymarkSans-Bold.ttf); font-weight: 700}
@font-face {font-family: Text; src: url(fonts/SkerrymarkText-Regular.ttf); unicode-range: U+370-3FF}
@font-face {font-family: Text; src: url(fonts/SkerrymarkText-Regular.ttf); unicode-range: U+100-17F}
@font-face {font-family: Arab; src: url(installed/Driftplain-Regular.ttf)}
@font-face {font-family: Joined; src: url(fonts/TidefallArabic-Regular.ttf)}
@font-face {font-family: Stand; src: local('No Such Face'), local('QuaydeskUI-Regular'); size-adjust: 97%}
@font-face {font-family: Gone; src: url(missing.woff2)}
@font-face {font-family: Quaydesk UI; src: url(missing.woff2)}
@font-face {font-family: Late; src: url(fonts/SkerrymarkSans-Regular.ttf); font-display: optional}
";

/// A device with one family of its own.
fn tab() -> Platform {
    let face = demo("installed/QuaydeskUI-Regular.ttf");
    let definition = Definition::read("title = \"Tab\"\n[generic]\nserif = \"Quaydesk UI\"");
    let definition = definition.expect("a definition");
    definition
        .assemble(
            "tab",
            |_| None,
            &[InstalledFace::of(&face, "quaydesk.ttf".to_owned())],
        )
        .expect("a platform")
}

fn traced(text: &str, stack: &str, style: TextStyle, before_load: bool) -> Trace {
    let web = rules(CSS);
    let tab = tab();
    let device = Device::new(&tab, |_| Some(demo("installed/QuaydeskUI-Regular.ttf")));
    let mut style = style;
    style.families = families(stack).expect("a stack");
    let fonts = Fonts {
        web: &web,
        device: Some(&device),
        arrival: if before_load {
            Arrival::Awaited
        } else {
            Arrival::Here
        },
        hosted: false,
    };
    trace(
        text,
        &resolve(&Request::of(&style), fonts),
        Presentation::Normal,
    )
}

/// Pieces with their family, `-` where the browser is left.
fn told(trace: &Trace) -> Vec<(String, String)> {
    trace
        .pieces
        .iter()
        .map(|piece| {
            let family = piece.font.as_ref().map_or("-", |font| font.family.as_str());
            (piece.text.clone(), family.to_owned())
        })
        .collect()
}

#[rstest]
#[case::ranges("aΩ ł", "Sans, Text", &[("a", "Sans"), ("Ω", "Text"), (" ", "Sans"), ("ł", "Text")])]
#[case::outside_of_all_ranges("Ж", "Sans, Text", &[("Ж", "-")])]
#[case::local("Ab", "Gone, Stand", &[("Ab", "Stand")])]
#[case::installed("Ab", "Nobody, 'quaydesk ui'", &[("Ab", "quaydesk ui")])]
#[case::generic("Ab", "serif", &[("Ab", "serif")])]
#[case::hidden_by_rules_that_fail("Ab", "'Quaydesk UI'", &[("Ab", "Quaydesk UI")])]
#[case::ignorables_cling("a\u{ad}b\u{200b}", "Sans", &[("a\u{ad}b\u{200b}", "Sans")])]
#[case::kelvin_is_outside_of_the_letters("\u{212a}", "Text, Sans", &[("\u{212a}", "Sans")])]
fn pieces(#[case] text: &str, #[case] stack: &str, #[case] expected: &[(&str, &str)]) {
    let trace = traced(text, stack, TextStyle::default(), false);
    let expected: Vec<(String, String)> = expected
        .iter()
        .map(|(a, b)| ((*a).to_owned(), (*b).to_owned()))
        .collect();
    assert_eq!(told(&trace), expected);
}

#[test]
fn reasons_name_what_is_lacking() {
    let trace = traced("Łń", "Sans, Arab, Text", TextStyle::default(), false);
    let piece = &trace.pieces[0];
    let lacks = Passed::Lacks {
        code_points: vec!["U+0141".to_owned(), "U+0144".to_owned()],
    };
    assert_eq!(piece.passed[0].why, lacks);
    assert_eq!(
        piece.passed.len(),
        2,
        "Sans and Arab; the Greek slice of Text comes later"
    );
    // That other slices of the family are not for it is no reason.
    let greek = traced("Ω", "Text", TextStyle::default(), false);
    assert_eq!(greek.pieces[0].passed, []);
    // Of a family in slices one reason is told.
    let neither = traced("日", "Text", TextStyle::default(), false);
    assert_eq!(neither.pieces[0].passed.len(), 1);
    assert!(neither.pieces[0].passed[0].slices > 1);
}

#[test]
fn weights_pick_faces_and_fakes_are_told() {
    let mut bold = TextStyle::default();
    bold.weight = 800.0;
    let trace = traced("aΩ", "Sans, Text", bold, false);
    let fonts: Vec<_> = trace
        .pieces
        .iter()
        .map(|piece| piece.font.clone().expect("a font"))
        .collect();
    assert_eq!(fonts[0].name, "Sans Bold");
    assert_eq!((fonts[0].faked.bold, fonts[1].faked.bold), (false, true));
}

#[test]
fn letters_that_do_not_join_are_told_with_the_font_that_joins_them() {
    let trace = traced("مرحبا", "Arab, Joined", TextStyle::default(), false);
    assert_eq!(trace.pieces.len(), 1, "{:?}", trace.pieces);
    assert!(matches!(trace.pieces[0].flaw, Some(Flaw::Unshaped { .. })));
    assert_eq!(trace.pieces[0].better.as_deref(), Some("Joined"));
    assert!(trace.pieces[0].right_to_left);
    let joined = traced("مرحبا", "Joined", TextStyle::default(), false);
    assert_eq!(joined.pieces[0].flaw, None);
}

#[test]
fn while_web_fonts_load_the_device_shows_the_text() {
    let trace = traced("Ab", "Late, Stand", TextStyle::default(), true);
    assert_eq!(told(&trace), [("Ab".to_owned(), "Stand".to_owned())]);
    assert_eq!(
        trace.stack[0].absent,
        Some(Absent::Loading {
            display: "optional".to_owned()
        })
    );
    let after = traced("Ab", "Late, Stand", TextStyle::default(), false);
    assert_eq!(told(&after), [("Ab".to_owned(), "Late".to_owned())]);
}

#[test]
fn missing_families_say_why() {
    let trace = traced(
        "a",
        "Gone, Nobody, fantasy, Sans",
        TextStyle::default(),
        false,
    );
    let absent: Vec<_> = trace
        .stack
        .iter()
        .map(|entry| entry.absent.clone())
        .collect();
    assert!(
        matches!(&absent[0], Some(Absent::NoSource { tried }) if tried[0].contains("missing.woff2"))
    );
    assert_eq!(
        absent[1..],
        [Some(Absent::NotInstalled), Some(Absent::NoGeneric), None]
    );
}

/// On built-in platforms, families known by name only are likely at best.
#[test]
fn what_is_known_by_name_only_is_not_certain() {
    let macos = platforms()
        .iter()
        .find(|platform| platform.name == "macos")
        .expect("macOS");
    let device = Device::new(macos, |found| {
        let card = tidy_lattice_core::platform::builtin_card(found.face.card.as_deref()?)?;
        as_face(found, card).ok()
    });
    let style = TextStyle::of_families(families("'American Typewriter', Arial").expect("a stack"));
    let fonts = Fonts {
        web: &[],
        device: Some(&device),
        arrival: Arrival::Here,
        hosted: false,
    };
    let trace = trace(
        "aЖ",
        &resolve(&Request::of(&style), fonts),
        Presentation::Normal,
    );
    let certain: Vec<bool> = trace
        .pieces
        .iter()
        .map(|piece| piece.font.as_ref().expect("a font").certain)
        .collect();
    assert_eq!(certain, [false, true]);
}

/// As Chromium has it: the pick comes before the load.
#[test]
fn a_picked_face_that_fails_leaves_the_text_to_the_next_family() {
    let css = "
        @font-face {font-family: A; src: url(fonts/SkerrymarkSans-Regular.ttf)}
        @font-face {font-family: A; src: url(missing.woff2); font-weight: 700}
        @font-face {font-family: B; src: url(fonts/SkerrymarkText-Regular.ttf)}";
    let web = rules(css);
    let told_at = |weight: f32| {
        let mut style = TextStyle::of_families(families("A, B").expect("a stack"));
        style.weight = weight;
        let fonts = Fonts {
            web: &web,
            device: None,
            arrival: Arrival::Here,
            hosted: false,
        };
        told(&trace(
            "a",
            &resolve(&Request::of(&style), fonts),
            Presentation::Normal,
        ))
    };
    assert_eq!(told_at(400.0)[0].1, "A");
    assert_eq!(told_at(700.0)[0].1, "B");
}
