//! Style sheets read: `@font-face` and conditions.

use rstest::rstest;
use tidy_lattice_documents::style::read::{
    FaceSource, FaceStyle, FontFace, MediaList, Range, Sheet, Supports, Viewport,
};

fn face(descriptors: &str) -> FontFace {
    let sheet = Sheet::read(&format!(
        "@font-face {{font-family: A; src: url(a.woff2); {descriptors}}}"
    ));
    sheet.font_faces().next().expect("a rule").0.clone()
}

#[rstest]
#[case("", 400.0, 400.0)]
#[case("font-weight: bold", 700.0, 700.0)]
#[case("font-weight: 300 650", 300.0, 650.0)]
#[case("font-weight: 900 100", 100.0, 900.0)]
#[case("font-weight: 350.5", 350.5, 350.5)]
#[case::dropped("font-weight: bolder", 400.0, 400.0)]
#[case::too_much("font-weight: 1001", 400.0, 400.0)]
#[case::the_last_valid("font-weight: 500; font-weight: x", 500.0, 500.0)]
fn weights(#[case] descriptors: &str, #[case] from: f32, #[case] to: f32) {
    assert_eq!(face(descriptors).weight, Range { from, to });
}

#[rstest]
#[case("font-stretch: condensed", 75.0, 75.0)]
#[case("font-width: 50% 125%", 50.0, 125.0)]
#[case("font-stretch: -1%", 100.0, 100.0)]
fn widths(#[case] descriptors: &str, #[case] from: f32, #[case] to: f32) {
    assert_eq!(face(descriptors).stretch, Range { from, to });
}

#[test]
fn slopes_with_their_angles() {
    assert_eq!(face("font-style: italic").style, FaceStyle::Italic);
    let angles = |from, to| FaceStyle::Oblique {
        angles: Range { from, to },
    };
    assert_eq!(face("font-style: oblique").style, angles(14.0, 14.0));
    assert_eq!(
        face("font-style: oblique 0deg 20deg").style,
        angles(0.0, 20.0)
    );
    assert_eq!(
        face("font-style: oblique .25turn").style,
        angles(90.0, 90.0)
    );
}

#[rstest]
#[case("U+26", &['&'], &['a'])]
#[case("U+41-5A, U+61-7a", &['A', 'z'], &['1'])]
#[case("u+4??", &['Ж', '\u{400}', '\u{4ff}'], &['\u{500}', 'a'])]
#[case("U+0-10FFFF", &['a', '🚢'], &[])]
#[case::wrong_ones_count_for_nothing("U+5A-41", &['a', 'Ж'], &[])]
fn ranges(#[case] range: &str, #[case] admits: &[char], #[case] not: &[char]) {
    let face = face(&format!("unicode-range: {range}"));
    assert!(admits.iter().all(|c| face.admits(*c)));
    assert!(!not.iter().any(|c| face.admits(*c)));
}

#[test]
fn sources_in_order_with_hints() {
    let sheet = Sheet::read(
        "@font-face {font-family: \"A B\"; src: local(Foo Bar), local('X'), url('a.woff2') format(\"woff2\") \
         tech(variations), bad(1), url(b.ttf) format(truetype)}",
    );
    let (face, line) = sheet.font_faces().next().expect("a rule");
    assert_eq!((face.family.as_deref(), line), (Some("A B"), 1));
    let local = |name: &str| FaceSource::Local {
        name: name.to_owned(),
    };
    let url = |url: &str, format: &str| FaceSource::Url {
        url: url.to_owned(),
        format: Some(format.to_owned()),
    };
    assert_eq!(
        face.sources,
        [
            local("Foo Bar"),
            local("X"),
            url("a.woff2", "woff2"),
            url("b.ttf", "truetype")
        ]
    );
}

#[test]
fn metrics_and_what_is_wrong_with_them() {
    let face = face(
        "size-adjust: 97.5%; ascent-override: 90%; descent-override: normal; line-gap-override: -1%; font-display: swop",
    );
    assert_eq!(
        (face.size_adjust, face.ascent, face.descent),
        (0.975, Some(0.9), None)
    );
    assert_eq!((face.line_gap, face.display.as_deref()), (None, None));
    let sheet = Sheet::read("@font-face {\nfont-family: A;\nfont-display: swop;\nsrc: x;\n}");
    let lines: Vec<u32> = sheet.problems.iter().map(|problem| problem.line).collect();
    assert_eq!(lines, [3, 4]);
}

#[rstest]
#[case("", true)]
#[case("screen", true)]
#[case("print", false)]
#[case("not print", true)]
#[case("only screen and (min-width: 50em)", true)]
#[case("(min-width: 801px)", false)]
#[case("(600px <= width <= 800px)", true)]
#[case("(width > 800px) or (height = 600px)", true)]
#[case("(not (width: 800px))", false)]
#[case("print, (orientation: landscape)", true)]
#[case("(aspect-ratio: 4/3)", true)]
#[case("(hover: hover) and (pointer: fine)", true)]
#[case("(width)", true)]
#[case("(height) and (color)", true)]
#[case("(hover) and (any-hover) and (pointer) and (any-pointer)", true)]
#[case("(frobnicate)", false)]
#[case("(min-width)", false)]
#[case("(max-aspect-ratio: 1/1)", false)]
#[case("(min-aspect-ratio: 1/1)", true)]
#[case("(min-device-width: 800px) and (max-device-height: 600px)", true)]
#[case("(device-width < 800px)", false)]
#[case("(prefers-color-scheme: dark)", false)]
#[case("(prefers-reduced-motion: no-preference)", true)]
#[case("(min-width: calc(40em + 10px))", true)]
#[case::unknown_feature("(frobnicate: 3)", false)]
#[case::not_unknown("not all and (frobnicate)", true)]
#[case::unreadable("((", false)]
#[case::one_of_two_unreadable("!!, screen", true)]
fn media_queries(#[case] query: &str, #[case] holds: bool) {
    assert_eq!(
        MediaList::read(query).holds(Viewport::screen(800.0, 600.0)),
        holds
    );
}

#[rstest]
#[case("(display: grid)", true)]
#[case("not (display: grid)", false)]
#[case("(-webkit-x: 1) or (color: red)", true)]
#[case("(color: red) and (-moz-x: 1)", false)]
#[case("selector(:has(a))", true)]
#[case("font-tech(color-colrv1)", true)]
#[case("", false)]
fn feature_queries(#[case] query: &str, #[case] holds: bool) {
    assert_eq!(Supports::read(query).holds(), holds);
}
