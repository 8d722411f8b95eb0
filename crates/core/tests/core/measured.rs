//! Cards of what a measuring page gives. The browser is played by the shaper here.

use std::collections::BTreeMap;

use rstest::rstest;
use serde_json::{Value, json};
use tidy_lattice_core::font::{Card, CardError, Class, Face, LineSource};
use tidy_lattice_core::platform::{Definition, platforms};
use tidy_lattice_core::record::device::{Measured, MeasuredError, Plan, card, definition, probe};
use tidy_lattice_core::record::record;
use tidy_lattice_core::shaping::Shaper;
use tidy_lattice_core::text::is_shown;
use tidy_lattice_core::text::words::WordCounts;

use crate::material::{demo, face};

/// Polish and English words with spaces, as a page draws them.
fn words(tag: &str) -> Vec<String> {
    let text = WordCounts::of(tag).expect("words").text(90, 5);
    text.split_whitespace().map(str::to_owned).collect()
}

/// What a page would give of `face`, of which `told` is said to be the width of all words
/// against what it is.
fn result(face: &Face, told: f64) -> Value {
    let by_file = record(face, Default::default()).expect("a card");
    let mut shaper = Shaper::new(face);
    let texts: BTreeMap<&str, Vec<String>> = ["en", "pl"].map(|tag| (tag, words(tag))).into();
    let mut width = |tag: &str| -> Vec<i64> {
        let thirds = texts[tag].chunks(texts[tag].len().div_ceil(3));
        let units = thirds.map(|words| words.iter().map(|word| shaper.units(word)).sum::<i64>());
        units
            .map(|units| (units as f64 * told).round() as i64)
            .collect()
    };
    let widths = json!({"en": width("en"), "pl": width("pl")});
    let line = face.line();
    json!({
        "schema": "tidy-lattice/measured/1",
        "made_by": "0.1.0",
        "browser": {"engine": "Chromium", "version": "156.0", "system": "Windows", "agent": "A"},
        "texts": texts,
        "scripts": {"en": "Latin", "pl": "Latin"},
        "families": [{"name": "Harbour Sans", "class": "sans", "by_name": true, "faces": 1}],
        "absent": ["Harbour Serif"],
        "untold": "U+1F600",
        "generics": [{"keyword": "sans-serif", "families": ["Harbour Sans"]},
                     {"keyword": "serif", "families": []}],
        "faces": [{
            "family": "Harbour Sans",
            "full": "Harbour Sans Regular",
            "postscript": "HarbourSans-Regular",
            "weight": 400.0,
            "style": "normal",
            "by": "local",
            "units_per_em": by_file.units_per_em,
            "line": {"ascent": line.ascent, "descent": line.descent, "line_gap": line.line_gap},
            "x_height": 0.5,
            "cap_height": 0.7,
            "strokes": {"stem": 0.08, "side": 0.09, "bottom": 0.07},
            "stems": {"feet": false, "lean": 0.0},
            "fixed": false,
            "colour": false,
            "marks_told": true,
            "shaping": by_file.shaping,
            "characters": by_file.characters,
            "advances": spelled_out(&by_file),
            "joined": by_file.joined,
            "followers": {},
            "pairs": pairs(&by_file),
            "runs": by_file.runs,
            "widths": widths,
        }],
    })
}

/// Advances without references to other letters.
fn spelled_out(card: &Card) -> String {
    let face = Face::from_card(card.clone()).expect("a face");
    let mut shaper = Shaper::new(&face);
    let advance = |point: u32| match char::from_u32(point) {
        Some(letter) => shaper.units(letter.encode_utf8(&mut [0; 4])).to_string(),
        None => "0".to_owned(),
    };
    let advances: Vec<String> = face.characters().iter().map(advance).collect();
    advances.join(" ")
}

/// Pairs of those that stand for others and of these.
fn pairs(card: &Card) -> Value {
    let group = |groups: &[String], letter: char| -> String {
        let own = groups.iter().find(|group| group.starts_with(letter));
        own.cloned().unwrap_or_else(|| letter.to_string())
    };
    let mut table: BTreeMap<String, BTreeMap<i32, String>> = BTreeMap::new();
    for (first, row) in &card.pairs.differ {
        let leader = first.chars().next().expect("a letter");
        for first in group(&card.pairs.alike_first, leader).chars() {
            for (value, seconds) in row {
                let all = seconds.chars().map(|c| group(&card.pairs.alike_second, c));
                let known = table.entry(first.to_string()).or_default();
                known.entry(*value).or_default().extend(all);
            }
        }
    }
    json!(table)
}

fn read(value: &Value) -> Result<Measured, MeasuredError> {
    Measured::read(value.to_string().as_bytes())
}

fn only_card(value: &Value) -> Card {
    let measured = read(value).expect("a result");
    card(&measured, &measured.faces[0]).expect("a card")
}

fn sans() -> Face {
    demo("fonts/SkerrymarkSans-Regular.ttf")
}

#[test]
fn a_card_of_a_browser_measures_as_the_font() {
    let face = sans();
    let card = only_card(&result(&face, 1.0));
    assert_eq!(
        card.unknown_widths,
        record(&face, Default::default())
            .expect("a card")
            .unknown_widths
    );
    assert_eq!(card.line.source, LineSource::Browser);
    assert_eq!(card.underline, None);
    assert_eq!(card.class, Class::Sans);
    assert_eq!(
        card.measured_in.as_ref().expect("a browser").label(),
        "Chromium 156 on Windows"
    );
    // What it was measured with, the whole address of a person's browser, stays behind.
    assert!(!card.json().contains("\"agent\""));
    assert_eq!(Card::read(card.json().as_bytes()).expect("a card"), card);
    let by_card = Face::from_card(card).expect("a face");
    assert!(!by_card.knows_features());
    let text = WordCounts::of("en").expect("words").text(300, 9);
    let (mut one, mut other) = (Shaper::new(&face), Shaper::new(&by_card));
    let words = || text.split_whitespace();
    let own: f64 = words().map(|word| one.width(word)).sum();
    let its: f64 = words().map(|word| other.width(word)).sum();
    assert!(
        (own / its - 1.0).abs() < 0.001,
        "{own} em by the font, {its} em by the card"
    );
}

#[test]
fn widths_that_do_not_come_out_are_not_known() {
    // Words that are 2 % wider than letters and pairs say: something moves what was not seen.
    let card = only_card(&result(&sans(), 1.02));
    assert!(card.unknown_widths.contains(&"Latin".to_owned()));
}

#[test]
fn scripts_that_were_not_measured_are_not_known() {
    let face = demo("installed/QuaydeskUI-Regular.ttf");
    assert!(('α'..='ω').all(|letter| face.maps(letter)));
    let card = only_card(&result(&face, 1.0));
    assert!(card.unknown_widths.contains(&"Greek".to_owned()));
    assert!(!card.unknown_widths.contains(&"Latin".to_owned()));
}

#[test]
fn letters_with_marks_follow_the_letters_without() {
    let face = sans();
    let mut value = result(&face, 1.0);
    value["faces"][0]["pairs"] = json!({"A": {"-90": "V"}});
    value["faces"][0]["followers"] = json!({"A": "ÀÁ"});
    value["faces"][0]["widths"] = json!({});
    let by_card = Face::from_card(only_card(&value)).expect("a face");
    let mut shaper = Shaper::new(&by_card);
    let kerned = |shaper: &mut Shaper<'_>, pair: &str| {
        let letters: i64 = pair
            .chars()
            .map(|c| shaper.units(c.encode_utf8(&mut [0; 4])))
            .sum();
        shaper.units(pair) - letters
    };
    assert_eq!(kerned(&mut shaper, "AV"), -90);
    assert_eq!(kerned(&mut shaper, "ÁV"), -90);
    assert_eq!(kerned(&mut shaper, "VA"), 0);
}

#[rstest]
#[case::schema("/schema", json!("tidy-lattice/measured/9"), "\"schema\"")]
#[case::no_generic("/generics/0/keyword", json!("sans"), "no generic family")]
#[case::stranger("/generics/0/families", json!(["Nobody"]), "\"families\" does not have")]
#[case::control("/families/0/name", json!("Harbour\u{7}"), "no name")]
#[case::turned("/faces/0/full", json!("Harbour\u{202e}Sans"), "no name")]
#[case::nameless("/absent/0", json!(" "), "no name")]
#[case::endless("/faces/0/full", json!("x".repeat(5000)), "no name")]
#[case::orphan("/faces/0/family", json!("Nobody"), "\"families\" does not have")]
#[case::high("/faces/0/line/ascent", json!(1e6), "a height that cannot be")]
#[case::leaning("/faces/0/stems/lean", json!(400), "lean as none can")]
#[case::list("/faces/0/characters", json!("all of them"), "no list")]
#[case::many("/faces/0/characters", json!("U+0-10FFFF"), "is the most")]
#[case::pairs("/faces/0/pairs", json!({"A": {"99999999": "B"}}), "more than can be")]
#[case::script("/scripts/pl", json!("Latin; drop"), "no script")]
#[case::word("/texts/pl", json!(["x".repeat(900)]), "too long a word")]
#[case::text("/texts/pl", json!(vec!["x".repeat(390); 400]), "is the most")]
#[case::width("/faces/0/widths/en", json!([-4]), "cannot be")]
#[case::shaping("/faces/0/shaping", json!({"\u{1b}[2J": "works"}), "no script")]
fn results_of_strangers_are_refused(#[case] at: &str, #[case] with: Value, #[case] says: &str) {
    let mut value = result(&sans(), 1.0);
    *value.pointer_mut(at).expect("a field") = with;
    let error = read(&value).expect_err("a refusal").to_string();
    assert!(error.contains(says), "{error}");
    assert!(
        !error.contains(['\u{7}', '\u{1b}', '\u{202e}']),
        "{error:?}"
    );
    assert!(error.len() < 400, "{error}");
}

#[rstest]
#[case::units("/faces/0/units_per_em", json!(0))]
#[case::weight("/faces/0/weight", json!(0))]
#[case::short("/faces/0/advances", json!("500 500"))]
#[case::long("/faces/0/advances", json!("500*99999999"))]
#[case::wide("/faces/0/advances", json!("99999999*300"))]
#[case::forms("/faces/0/joined", json!({"1 2": "ب"}))]
#[case::first("/faces/0/pairs", json!({"AB": {"10": "C"}}))]
#[case::start("/faces/0/runs", json!({"A": {"10": "C"}}))]
fn faces_that_contradict_themselves_are_named(#[case] at: &str, #[case] with: Value) {
    let mut value = result(&sans(), 1.0);
    *value.pointer_mut(at).expect("a field") = with;
    let error = read(&value)
        .and_then(|measured| card(&measured, &measured.faces[0]))
        .expect_err("a refusal");
    assert!(
        error.to_string().contains("Harbour Sans Regular"),
        "{error}"
    );
}

#[rstest]
#[case::nothing("")]
#[case::list("[]")]
#[case::cut("{\"schema\": \"tidy-lattice/measured/1\"")]
#[case::field("{\"schema\": \"tidy-lattice/measured/1\", \"more\": 1}")]
#[case::no_number("{\"schema\": NaN}")]
fn what_is_no_result_is_said_to_be_none(#[case] text: &str) {
    let error = Measured::read(text.as_bytes())
        .expect_err("a refusal")
        .to_string();
    assert!(error.contains("record --page"), "{error}");
}

#[test]
fn a_result_in_the_place_of_a_card_says_how_to_make_cards() {
    let error = Card::read(result(&sans(), 1.0).to_string().as_bytes()).expect_err("a refusal");
    assert!(
        error.to_string().contains("`tidy-lattice record`"),
        "{error}"
    );
    assert_eq!(error, CardError::Unmade);
}

#[test]
fn a_device_is_written_as_a_platform() {
    let value = result(&sans(), 1.0);
    let measured = read(&value).expect("a result");
    let cards = [("HarbourSans-Regular".to_owned(), only_card(&value))];
    let toml = definition(&measured, &cards).toml();
    assert!(toml.starts_with("# Made by tidy-lattice: "), "{toml}");
    let platform = Definition::read(&toml).expect("a definition");
    let platform = platform.assemble("office", |_| Some(cards[0].1.clone()), &[]);
    let platform = platform.expect("a platform");
    assert_eq!(platform.generic["sans-serif"], "Harbour Sans");
    // What is none of the families stays open.
    assert!(!platform.generic.contains_key("serif"));
    let family = &platform.families[0];
    assert_eq!(family.faces[0].card.as_deref(), Some("HarbourSans-Regular"));
    assert!(family.scripts.contains(&"Latin".to_owned()));
}

#[test]
fn what_a_browser_measured_of_a_demo_font_is_the_font() {
    // Measured in Chromium on one of the demo's devices.
    let bytes = tidy_lattice_demo::file("platforms/harbourdesk.cards.json").expect("a result");
    let measured = Measured::read(bytes).expect("a result");
    for face in &measured.faces {
        let path = format!(
            "installed/{}.ttf",
            face.postscript.as_deref().expect("a name")
        );
        let font = demo(&path);
        let by_card = Face::from_card(card(&measured, face).expect("a card")).expect("a face");
        let lacking: Vec<char> = font
            .characters()
            .iter()
            .filter_map(char::from_u32)
            .filter(|c| is_shown(*c) && !c.is_whitespace() && !by_card.maps(*c))
            .collect();
        assert_eq!(lacking, Vec::<char>::new(), "{path}");
        let (own, its) = (by_card.line(), font.line());
        assert!(
            (own.ascent - its.ascent).abs() < 0.001,
            "{path}: {own:?}, {its:?}"
        );
        assert!(
            (own.descent - its.descent).abs() < 0.001,
            "{path}: {own:?}, {its:?}"
        );
        for tag in ["en", "el"] {
            let text = WordCounts::of(tag).expect("words").text(300, 11);
            let (mut one, mut other) = (Shaper::new(&font), Shaper::new(&by_card));
            let (mut own, mut its) = (0.0, 0.0);
            for word in text.split_whitespace() {
                if !other.knows_width(word) {
                    continue;
                }
                own += one.width(word);
                its += other.width(word);
            }
            assert!(
                (own / its - 1.0).abs() < 0.001 && own > 300.0,
                "{path}: {tag}, {own}, {its}"
            );
        }
    }
}

#[test]
fn the_probe_has_every_character_and_one_width() {
    let bytes = probe();
    assert!(bytes.len() < 2000, "{} bytes", bytes.len());
    let face = face(&bytes);
    let mut shaper = Shaper::new(&face);
    for text in ["a", "中", "\u{e000}", "\u{10fffd}", "😀"] {
        assert_eq!(shaper.units(text), 7319, "{text}");
    }
    // A mark keeps its width, so that it is seen who has it.
    assert_eq!(shaper.units("q\u{323}"), 2 * 7319);
}

#[test]
fn a_plan_has_what_its_languages_need_and_no_more() {
    let plan = Plan::new(
        &["en", "ar", "hi"],
        platforms(),
        &["Harbour Sans".to_owned()],
    );
    let plan = serde_json::to_value(&plan).expect("a plan");
    let tags: Vec<&str> = plan["languages"]
        .as_array()
        .expect("languages")
        .iter()
        .map(|language| language["tag"].as_str().expect("a tag"))
        .collect();
    assert_eq!(tags, ["en", "ar", "hi"]);
    let scripts = plan["scripts"].as_array().expect("scripts");
    let names: Vec<&Value> = scripts.iter().map(|script| &script["name"]).collect();
    assert_eq!(names, ["Arabic", "Devanagari", "Latin"]);
    assert!(plan["dual"].as_str().expect("letters").contains('ب'));
    assert!(plan["right"].as_str().expect("letters").contains('د'));
    assert_eq!(scripts[1]["viramas"], "\u{94d}");
    for language in plan["languages"].as_array().expect("languages") {
        let list = |key: &str| language[key].as_array().expect("words").len();
        assert!(
            list("learn") >= 50 && list("check") > 60,
            "{}",
            language["tag"]
        );
    }
    let families = plan["families"].as_array().expect("families");
    let arial = families
        .iter()
        .find(|family| family["name"] == "Arial")
        .expect("Arial");
    assert!(arial["on"].as_array().expect("platforms").len() > 1);
    let names = arial["faces"].as_array().expect("faces").iter();
    assert_eq!(names.filter(|face| face["full"] == "Arial").count(), 1);
    let own = families
        .iter()
        .find(|family| family["name"] == "Harbour Sans");
    assert_eq!(own.expect("the named one")["on"], json!([]));
}
