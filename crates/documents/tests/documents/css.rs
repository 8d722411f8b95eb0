//! Strings, lists and URLs as CSS wants them.

use rstest::rstest;
use tidy_lattice_documents::style::{
    FontFaceRule, SourceRef, StyleSheet, custom_property, family_list, is_generic, quoted, url_path,
};

#[rstest]
#[case("Plain Sans", "\"Plain Sans\"")]
#[case("say \"hi\"", r#""say \"hi\"""#)]
#[case("back\\slash", r#""back\\slash""#)]
#[case("two\nlines", "\"two\\a lines\"")]
#[case("</style><script>", r#""\3c /style>\3c script>""#)]
#[case("nul\0", "\"nul\u{fffd}\"")]
#[case("島", "\"島\"")]
fn strings_are_serialised(#[case] text: &str, #[case] css: &str) {
    assert_eq!(quoted(text), css);
}

/// Control characters are escaped by their numbers, all others below U+7F stand for themselves
/// (CSSOM, §2.1), but for those that end a string or a style element.
#[test]
fn control_characters_are_escaped() {
    for point in 1..=0x7f_u32 {
        let character = char::from_u32(point).expect("ASCII");
        let expected = match character {
            '\u{1}'..='\u{1f}' | '\u{7f}' | '<' => format!("\"\\{point:x} \""),
            '"' | '\\' => format!("\"\\{character}\""),
            _ => format!("\"{character}\""),
        };
        assert_eq!(quoted(&character.to_string()), expected, "U+{point:X}");
    }
}

#[test]
fn families_are_quoted_and_the_generic_is_not() {
    assert_eq!(
        family_list(["A B", "serif"], "serif"),
        "\"A B\", \"serif\", serif"
    );
    assert!(is_generic("ui-rounded") && !is_generic("Arial"));
}

#[rstest]
#[case("fonts/My Font#1.ttf", "fonts/My%20Font%231.ttf")]
#[case("../50%?.woff2", "../50%25%3F.woff2")]
#[case("plain-1.0_x.woff", "plain-1.0_x.woff")]
fn paths_become_urls(#[case] path: &str, #[case] url: &str) {
    assert_eq!(url_path(path), url);
}

#[rstest]
#[case("Tern & Skerry Sans stack", "--tern-skerry-sans-stack")]
#[case("島", "--web-font")]
#[case("  9 Lives ", "--9-lives")]
fn properties_have_valid_names(#[case] name: &str, #[case] property: &str) {
    assert_eq!(custom_property(name), property);
}

#[test]
fn nothing_from_a_font_escapes_its_place() {
    let evil = "x*/}</style>\u{1b}[2J";
    let sheet = StyleSheet {
        heading: vec![evil.to_owned()],
        rules: vec![FontFaceRule {
            comment: evil.to_owned(),
            family: evil.to_owned(),
            sources: vec![SourceRef::Local(evil.to_owned())],
            weight: (400.0, 400.0),
            stretch: None,
            unicode_range: None,
            style: "normal",
            display: None,
            size_adjust: Some(100.0),
            overrides: None,
        }],
        properties: Vec::new(),
        classes: Vec::new(),
    };
    let css = sheet.to_css();
    assert_eq!(
        css.matches("*/").count(),
        2 + 2,
        "two comments, two strings"
    );
    assert!(!css.contains("</style") && !css.contains('\u{1b}'), "{css}");
    assert!(css.contains("size-adjust: 100%;"));
}
