//! The table against what Chromium makes of each property (`scripts/record-properties`).

use std::collections::{BTreeMap, BTreeSet};

use super::{Given, Id, Parent, Style, Surroundings, all, for_child, known, split};
use crate::style::computed::{
    BoxStyle, CounterChanges, Display, Length, LineHeight, Outer, SizeOrigin, TabSize, TextStyle,
};
use crate::style::read::Viewport;

const RECORDED: &str = include_str!("../../../tests/data/properties.tsv");

/// What Chromium says of a property.
#[derive(Default)]
struct Recorded<'a> {
    inherited: bool,
    initial: &'a str,
    /// Values that it takes, and what they compute to.
    taken: BTreeMap<&'a str, &'a str>,
}

/// The properties, and the values that were tried with each.
fn recorded() -> (
    BTreeMap<&'static str, Recorded<'static>>,
    impl Fn(&str) -> Vec<String>,
) {
    let mut found: BTreeMap<&str, Recorded<'_>> = BTreeMap::new();
    let mut tried: BTreeMap<&str, Vec<String>> = BTreeMap::new();
    let mut current = "";
    for line in RECORDED.lines() {
        let columns: Vec<&str> = line.split('\t').collect();
        match columns.as_slice() {
            [tried_with, values] if tried_with.starts_with("tried") => {
                let name = tried_with.trim_start_matches("tried").trim();
                tried.insert(name, serde_json::from_str(values).expect("a list"));
            }
            ["viewport", ..] => {}
            ["", value] => drop(
                found
                    .get_mut(current)
                    .expect("a property")
                    .taken
                    .insert(value, value),
            ),
            ["", value, computed] => {
                found
                    .get_mut(current)
                    .expect("a value")
                    .taken
                    .insert(value, computed);
            }
            [name, inherited, initial] => {
                current = name;
                found.insert(
                    name,
                    Recorded {
                        inherited: *inherited == "inherited",
                        initial,
                        taken: BTreeMap::new(),
                    },
                );
            }
            other => panic!("{other:?}"),
        }
    }
    let values = move |name: &str| tried.get(name).unwrap_or(&tried[""]).clone();
    (found, values)
}

fn viewport() -> Viewport {
    let first: Vec<&str> = RECORDED
        .lines()
        .next()
        .expect("a value")
        .split('\t')
        .collect();
    let px = |column: usize| first[column].parse().expect("px");
    Viewport::screen(px(1), px(2))
}

fn bold() -> TextStyle {
    TextStyle {
        size: 20.0,
        weight: 700.0,
        ..TextStyle::default()
    }
}

fn with_parent<T>(text: &TextStyle, inside: impl FnOnce(Parent<'_>, Surroundings<'_>) -> T) -> T {
    let parent = Parent {
        text,
        boxes: &BoxStyle::default(),
        display: (Display::Block, Outer::Block),
        content: &None,
        counters: &CounterChanges::default(),
    };
    let around = Surroundings {
        parent: text,
        root: 16.0,
        viewport: viewport(),
    };
    inside(parent, around)
}

/// What an element of 16 px computes to where this is declared, as [`comparable`]; nothing where
/// it is invalid.
fn with(name: &str, value: &str) -> Option<Style> {
    with_parent(&bold(), |parent, around| {
        let mut style = for_child(&parent, true);
        style.text.size = 16.0;
        style.text.weight = 400.0;
        put(&mut style, name, value, around)?;
        if name == "font-size" {
            style
                .text
                .settle_size(parent.text, false, around.viewport.fixed_size);
        }
        comparable(&mut style);
        Some(style)
    })
}

/// Percentages, formulas and multiples as px, to a tenth; notes of what layout does not do
/// without the words that were written.
fn comparable(style: &mut Style) {
    let tenth = |px: &mut f32| *px = (*px * 10.0).round() / 10.0;
    let Style { text, boxes, .. } = style;
    text.origin = SizeOrigin::Absolute;
    for px in [
        &mut text.size,
        &mut text.letter_spacing,
        &mut text.word_spacing,
        &mut boxes.intrinsic.0,
        &mut boxes.intrinsic.1,
        &mut boxes.spacing.0,
        &mut boxes.spacing.1,
    ] {
        tenth(px);
    }
    if let LineHeight::Number(factor) = text.line_height {
        text.line_height = LineHeight::Px(factor * text.size);
    }
    if let LineHeight::Px(px) = &mut text.line_height {
        tenth(px);
    }
    if let TabSize::Px(px) = &mut boxes.tab_size {
        tenth(px);
    }
    for note in &mut boxes.unsupported {
        note.value.clear();
    }
    boxes.each_length(&mut |length| {
        if let Some(px) = length.px(Some(173.0)) {
            *length = Length::Px(px as f32);
        }
        if let Length::Px(px) = length {
            tenth(px);
        }
    });
}

fn put(style: &mut Style, name: &str, value: &str, around: Surroundings<'_>) -> Option<()> {
    let lower = value.to_ascii_lowercase();
    let given = Given {
        text: value,
        lower: &lower,
        em: style.text.size,
        rtl: false,
        around,
    };
    (Id::of(name).expect("a longhand").longhand().set)(style, &given)
}

/// Values that are taken here and not in Chromium, or the other way round, with why.
fn is_left(name: &str, value: &str) -> bool {
    let is_any = |list: &[&str]| list.iter().any(|part| value.contains(part));
    match name {
        // In Firefox and Safari they are valid.
        "text-transform" => is_any(&["full-width", "full-size-kana"]),
        _ => false,
    }
}

/// Values that cannot be compared by what they compute to.
fn is_not_compared(name: &str, value: &str) -> bool {
    // Of fonts, which are not known here.
    let of_fonts = value.ends_with("ex") || value.ends_with("ch");
    of_fonts
        || match name {
            // The text is kept as it is written; Chromium quotes anew.
            "content" | "list-style-type" => true,
            // An element without a box has none in Chromium.
            "transform" => true,
            "min-width" | "min-height" => value == "auto",
            // Chromium alone cuts it to whole px.
            "border-spacing" => ["1pt", "1q", "2cm"].contains(&value),
            _ => false,
        }
}

#[test]
fn what_is_valid_in_chromium_is_valid_here_and_nothing_else() {
    let (properties, tried) = recorded();
    let mut wrong = Vec::new();
    for (name, property) in &properties {
        for value in tried(name) {
            let here = with(name, &value).is_some();
            let there = property.taken.contains_key(value.as_str());
            if here != there && !is_left(name, &value) {
                wrong.push(format!(
                    "{name}: {value} is {} in Chromium",
                    if there { "valid" } else { "invalid" }
                ));
            }
        }
    }
    assert!(
        wrong.is_empty(),
        "{} differ:\n{}",
        wrong.len(),
        wrong.join("\n")
    );
}

#[test]
fn values_compute_to_what_they_compute_to_in_chromium() {
    let (properties, _) = recorded();
    let mut wrong = Vec::new();
    let mut compared = 0;
    for (name, property) in &properties {
        for (value, computed) in &property.taken {
            if is_not_compared(name, value) {
                continue;
            }
            let (Some(ours), Some(theirs)) = (with(name, value), with(name, computed)) else {
                continue;
            };
            compared += usize::from(value != computed);
            if ours != theirs {
                wrong.push(format!("{name}: {value} is {computed} in Chromium"));
            }
        }
    }
    assert!(
        wrong.is_empty(),
        "{} differ:\n{}",
        wrong.len(),
        wrong.join("\n")
    );
    assert!(compared > 400, "{compared}");
}

#[test]
fn values_that_compute_to_different_ones_are_told_apart() {
    let (properties, _) = recorded();
    // What is one here: layout does the same with both, or with neither.
    let same = |name: &str| {
        [
            "appearance",
            "column-count",
            "column-width",
            "content",
            "transform",
            "writing-mode",
            "text-align-last",
            "zoom",
            "quotes",
            "font-family",
        ]
        .contains(&name)
    };
    let mut counted = BTreeMap::new();
    for (name, property) in properties.iter().filter(|(name, _)| !same(name)) {
        let styles: Vec<(&str, Style)> = property
            .taken
            .iter()
            .filter_map(|(value, computed)| Some((*computed, with(name, value)?)))
            .collect();
        let kinds: BTreeSet<&str> = styles.iter().map(|(computed, _)| *computed).collect();
        let mut different: Vec<&Style> = Vec::new();
        for (_, style) in &styles {
            if !different.contains(&style) {
                different.push(style);
            }
        }
        counted.insert(*name, (different.len(), kinds.len()));
    }
    for (name, (here, there)) in &counted {
        assert!(*here > 1, "{name}: all {there} values are one");
    }
    let here: usize = counted.values().map(|(here, _)| here).sum();
    let there: usize = counted.values().map(|(_, there)| there).sum();
    assert!(here * 10 >= there * 6, "{here} of {there} are told apart");
}

#[test]
fn initial_values_are_those_of_chromium() {
    let (properties, _) = recorded();
    for (name, property) in &properties {
        // The browser's own font is not known here; a size that is a keyword is settled later;
        // without a box, `auto` is told as 0.
        if ["font-family", "font-size", "min-width", "min-height"].contains(name) {
            continue;
        }
        let initial = Id::of(name).expect("a longhand").longhand().initial;
        assert_eq!(with(name, initial), with(name, property.initial), "{name}");
    }
}

#[test]
fn what_is_inherited_is_inherited_in_chromium() {
    let (properties, _) = recorded();
    for (name, property) in &properties {
        let longhand = Id::of(name).expect("a longhand").longhand();
        assert_eq!(longhand.inherited, property.inherited, "{name}");
    }
}

#[test]
fn every_longhand_is_recorded() {
    let (properties, _) = recorded();
    let missing: Vec<&str> = all()
        .map(|id| id.longhand().name)
        .filter(|name| !properties.contains_key(name))
        .collect();
    assert!(missing.is_empty(), "{missing:?}");
}

#[test]
fn what_is_initial_changes_nothing() {
    with_parent(&TextStyle::default(), |parent, around| {
        let fresh = for_child(&parent, true);
        for id in all() {
            let mut style = for_child(&parent, true);
            put(
                &mut style,
                id.longhand().name,
                id.longhand().initial,
                around,
            )
            .expect("a value");
            assert_eq!(style, fresh, "{}", id.longhand().name);
        }
    });
}

#[test]
fn what_is_copied_is_what_was_set() {
    let (properties, _) = recorded();
    for (name, property) in &properties {
        let longhand = Id::of(name).expect("a longhand").longhand();
        for value in property.taken.keys() {
            let Some(theirs) = with(name, value) else {
                continue;
            };
            with_parent(&bold(), |_, _| {
                let parent = Parent {
                    text: &theirs.text,
                    boxes: &theirs.boxes,
                    display: theirs.display,
                    content: &theirs.content,
                    counters: &theirs.counters,
                };
                let mut style = with(name, longhand.initial).expect("a valid value");
                (longhand.copy)(&mut style, &parent);
                // One value of `word-break` is another's; notes stay where they were made.
                style
                    .boxes
                    .unsupported
                    .clone_from(&theirs.boxes.unsupported);
                style.boxes.overflow_wrap = theirs.boxes.overflow_wrap;
                assert_eq!(style, theirs, "{name}: {value}");
            });
        }
    }
}

#[test]
fn what_is_invalid_changes_nothing() {
    let (properties, tried) = recorded();
    with_parent(&bold(), |parent, around| {
        for name in properties.keys() {
            let before = for_child(&parent, true);
            for value in tried(name) {
                let mut style = for_child(&parent, true);
                if put(&mut style, name, &value, around).is_none() {
                    assert_eq!(style, before, "{name}: {value}");
                }
            }
        }
    });
}

#[test]
fn names_are_known_in_any_case_and_others_are_not() {
    for id in all() {
        let name = id.longhand().name;
        assert_eq!(known(&name.to_ascii_uppercase()), Some(name));
        assert!(split(name, "inherit", false).is_some());
    }
    assert_eq!(known("background-color"), None);
}
