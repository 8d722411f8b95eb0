//! What holds of whatever is written and read: of names, sheets, pages and messages made up at
//! random.

use proptest::prelude::*;
use tidy_lattice_documents::content::{Format, Part, Reading, read};
use tidy_lattice_documents::page::{Files, OpenedFile, Unread, read_flow};
use tidy_lattice_documents::style::read::{FaceSource, FamilyName, Sheet, Viewport, families};
use tidy_lattice_documents::style::{
    FontFaceRule, Overrides, SourceRef, StyleSheet, class_name, custom_property, family_list,
    is_generic,
};
use tidy_lattice_glyphs::font::CharacterSet;

/// Pieces of CSS and HTML that mean something, and some that do not.
const PIECES: [&str; 48] = [
    "{",
    "}",
    "(",
    ")",
    "[",
    "]",
    ";",
    ":",
    ",",
    "\"",
    "'",
    "\\",
    "/*",
    "*/",
    "<!--",
    "-->",
    "@media",
    "@font-face",
    "@import",
    "@layer",
    "@supports",
    "a",
    "b",
    ".c",
    "#d",
    "*",
    ">",
    "+",
    "~",
    "&",
    ":is(",
    ":not(",
    ":nth-child(2n+1)",
    "::before",
    "font-family",
    "font",
    "width",
    "calc(",
    "1px",
    "50%",
    "var(--x)",
    "--x",
    "url(",
    "!important",
    " ",
    "\n",
    "<p style=\"",
    "\u{0}",
];

/// CSS, or nearly.
fn pieces() -> impl Strategy<Value = String> {
    let piece = prop_oneof![
        8 => proptest::sample::select(PIECES.to_vec()).prop_map(str::to_owned),
        1 => any::<char>().prop_map(String::from),
    ];
    proptest::collection::vec(piece, 0..60).prop_map(|pieces| pieces.concat())
}

/// Names as fonts have them, or nearly: no name has a NUL or is empty.
fn names() -> impl Strategy<Value = String> {
    prop_oneof!["[A-Za-z][A-Za-z0-9 ]{0,20}[A-Za-z0-9]", "[^\u{0}]{1,12}",]
}

fn numbers() -> impl Strategy<Value = f64> {
    (1_u32..3_000_000).prop_map(|number| f64::from(number) / 10_000.0)
}

/// Sets of ranges of characters.
fn ranges() -> impl Strategy<Value = CharacterSet> {
    proptest::collection::vec((0_u32..0x11_0000, 0_u32..300), 1..12).prop_map(|ranges| {
        let css: Vec<String> = ranges
            .into_iter()
            .map(|(first, more)| format!("U+{first:X}-{:X}", (first + more).min(0x10_ffff)))
            .collect();
        let css = format!(
            "@font-face {{ font-family: A; src: url(a); unicode-range: {} }}",
            css.join(", ")
        );
        let sheet = Sheet::read(&css);
        let (face, _) = sheet.font_faces().next().expect("a rule");
        face.range.clone().expect("a range")
    })
}

fn rules() -> impl Strategy<Value = FontFaceRule> {
    (
        names(),
        names(),
        (1_u32..=1000, 0_u32..300),
        proptest::option::of(ranges()),
        proptest::option::of(numbers()),
        proptest::option::of((numbers(), numbers(), numbers())),
        proptest::sample::select(vec!["normal", "italic"]),
    )
        .prop_map(
            |(family, local, (weight, wider), range, size, overrides, style)| FontFaceRule {
                comment: format!("For {family}"),
                family,
                sources: vec![
                    SourceRef::Local(local),
                    SourceRef::Url {
                        url: "fonts/a.woff2".to_owned(),
                        format: "woff2".to_owned(),
                    },
                ],
                weight: (weight as f32, (weight + wider).min(1000) as f32),
                stretch: None,
                style,
                display: Some("swap".to_owned()),
                unicode_range: range,
                size_adjust: size,
                overrides: overrides.map(|(ascent, descent, line_gap)| Overrides {
                    ascent,
                    descent,
                    line_gap,
                }),
            },
        )
}

struct NoFiles;

impl Files for NoFiles {
    fn read(&self, _: &str, _: &str, _: &str) -> Result<OpenedFile, Unread> {
        Err(Unread::Remote)
    }
}

/// What shows of a file of this name.
fn shown(name: &str, content: &str) -> String {
    let mut all = String::new();
    let reading = Reading {
        language: Some("en"),
    };
    let _ = read(
        content.as_bytes(),
        Format::of(name),
        reading,
        &mut |piece| {
            if piece.part != Part::Brought {
                all.push_str(piece.text);
            }
        },
    );
    all
}

proptest! {
    #![proptest_config(ProptestConfig {
        cases: 200,
        // The same cases each time; no file is written beside the tests.
        rng_seed: proptest::test_runner::RngSeed::Fixed(0x7ED1),
        failure_persistence: None,
        ..ProptestConfig::default()
    })]

    #[test]
    fn lists_of_families_are_read_as_they_were_written(names in proptest::collection::vec(names(), 1..6)) {
        let list = family_list(names.iter().map(String::as_str), "sans-serif");
        let read = families(&list).expect("a list");
        let own: Vec<&str> = read.iter().map(FamilyName::as_str).collect();
        prop_assert_eq!(own.len(), names.len() + 1);
        for (read, name) in read.iter().zip(&names) {
            // Quoted, even the name of a generic family is a name.
            prop_assert_eq!(read, &FamilyName::Named(name.clone()));
        }
        prop_assert_eq!(read.last(), Some(&FamilyName::Generic("sans-serif".to_owned())));
    }

    #[test]
    fn rules_are_read_as_they_were_written(rules in proptest::collection::vec(rules(), 1..5)) {
        let sheet = StyleSheet {
            heading: vec!["Made up".to_owned()],
            rules: rules.clone(),
            properties: Vec::new(),
            classes: Vec::new(),
        };
        let read = Sheet::read(&sheet.to_css());
        prop_assert!(read.problems.is_empty(), "{:?}", read.problems);
        let faces: Vec<_> = read.font_faces().collect();
        prop_assert_eq!(faces.len(), rules.len());
        for ((face, _), rule) in faces.into_iter().zip(&rules) {
            prop_assert_eq!(face.family.as_ref(), Some(&rule.family));
            let SourceRef::Local(local) = &rule.sources[0] else { unreachable!() };
            let written = FaceSource::Local { name: local.clone() };
            prop_assert_eq!(&face.sources[0], &written);
            prop_assert_eq!(face.sources.len(), 2);
            prop_assert_eq!((face.weight.from, face.weight.to), rule.weight);
            prop_assert_eq!(face.range.as_ref(), rule.unicode_range.as_ref());
            let near = |read: f32, written: f64| (f64::from(read) * 100.0 - written).abs() < 1e-3;
            if let Some(size) = rule.size_adjust {
                prop_assert!(near(face.size_adjust, size));
            }
            if let Some(overrides) = rule.overrides {
                prop_assert!(near(face.ascent.expect("an override"), overrides.ascent));
                prop_assert!(near(face.descent.expect("an override"), overrides.descent));
                prop_assert!(near(face.line_gap.expect("an override"), overrides.line_gap));
            }
        }
    }

    #[test]
    fn names_of_properties_and_classes_are_identifiers(name in any::<String>()) {
        let property = custom_property(&name);
        let class = class_name(&name);
        let plain = |text: &str| text.chars().all(|c| c.is_ascii_lowercase() || c.is_ascii_digit() || c == '-');
        prop_assert!(property.starts_with("--") && property.len() > 2 && plain(&property));
        prop_assert!(class.starts_with("font-") && plain(&class));
        prop_assert!(!is_generic(&class));
    }

    #[test]
    fn sheets_of_anything_are_read_to_their_end(css in pieces()) {
        let sheet = Sheet::read(&css);
        let lines = css.lines().count() as u32 + 1;
        prop_assert!(sheet.items.iter().all(|item| item.line <= lines));
        prop_assert!(sheet.problems.iter().all(|problem| problem.line <= lines));
        // What stands behind what is closed counts as ever.
        let closed = format!("{css}*/\"'}})]}})]}})]\n;}} }} }}");
        let after = Sheet::read(&format!("/* */ q{{width: 1px}} {closed}"));
        prop_assert!(!after.items.is_empty());
    }

    #[test]
    fn pages_of_anything_have_one_tree(css in pieces(), html in pieces()) {
        let page = format!("<!doctype html><style>{css}</style><p class=c id=d style=\"{}\">Tide {html}",
            css.replace('"', "'"));
        let read = read_flow(&page, "page.html", &NoFiles, Viewport::screen(400.0, 300.0));
        let nodes = &read.flow.nodes;
        prop_assert!(!nodes.is_empty());
        // Each node but the first is the child of one other.
        let mut parents = vec![0; nodes.len()];
        for node in nodes {
            for child in &node.children {
                parents[*child] += 1;
            }
        }
        prop_assert_eq!(parents[0], 0);
        prop_assert!(parents[1..].iter().all(|parents| *parents == 1), "{:?}", parents);
        prop_assert!(nodes.iter().all(|node| node.text.size.is_finite() && node.text.size >= 0.0));
    }

    #[test]
    fn plain_messages_show_as_they_are(message in "[A-Za-zéüß ,.!?-]{1,40}") {
        let json = serde_json::json!({"key": message}).to_string();
        prop_assert_eq!(shown("en.json", &json), message.clone());
        let po = format!("msgid \"\"\nmsgstr \"\"\n\nmsgid \"k\"\nmsgstr \"{message}\"\n");
        prop_assert_eq!(shown("en.po", &po), message.clone());
        let xml = format!("<resources><string name=\"k\">{message}</string></resources>");
        let of_xml = shown("res/values/strings.xml", &xml);
        // Blanks of these files fold.
        let words = |text: &str| text.split_whitespace().collect::<Vec<_>>().join(" ");
        prop_assert_eq!(words(&of_xml), words(&message));
    }

    #[test]
    fn messages_of_anything_show_nothing_that_is_not_in_them(message in "[a-z{}%<>&$#|',:; 0-9]{0,60}") {
        let json = serde_json::json!({"key": message}).to_string();
        let shown = shown("en.json", &json);
        // Entities come to other characters; without them all letters are of the message.
        if !message.contains('&') {
            for letter in shown.chars().filter(char::is_ascii_alphabetic) {
                prop_assert!(message.contains(letter), "{} of {}", letter, message);
            }
        }
    }

    #[test]
    fn ranges_are_read_as_they_were_written(range in ranges(), other in any::<char>()) {
        let css = format!("@font-face {{ font-family: A; src: url(a); unicode-range: {} }}", range.css());
        let sheet = Sheet::read(&css);
        let (face, _) = sheet.font_faces().next().expect("a rule");
        prop_assert_eq!(face.range.as_ref(), Some(&range));
        prop_assert_eq!(face.admits(other), range.contains(u32::from(other)));
    }
}
