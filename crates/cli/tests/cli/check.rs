//! `check` and `explain`.

use std::collections::BTreeSet;

use rstest::rstest;
use serde_json::Value;
use tidy_lattice_demo::planted::{FAULTS, SHOP_FAULTS};

use crate::workshop::{Run, Workshop};

/// A site with sixteen old mistakes, each at its line of this sheet or of the page.
const OLD_SHEET: &str = r#"body { font-family: "Open+Sans", Verdana, sans-serif; }
h1 { font-family: Source Sans 3, Verdana, sans-serif; }
nav { font-family: Verdana, Arial; }
@font-face { font-family: Brand; src: url(light.ttf); font-weight: 500; font-display: swap; }
@font-face { font-family: Brand; src: url(italic.ttf); font-weight: 400; font-style: normal; font-display: swap; }
@font-face { font-family: Brand; src: url(upright.ttf); font-weight: 400; font-style: italic; font-display: swap; }
@font-face { font-family: Quay; src: url(assets/quay.ttf); font-display: swap; }
@import "more.css";
@font-face { font-family: Text; src: url(text.ttf); }
@font-face { font-family: Text; src: url(bold.ttf); font-weight: 700; font-display: swap; }
@font-face { font-family: Text; src: url(semibold.ttf); font-weight: 600; font-display: swap; }
@font-face { font-family: Text; src: url(black.ttf); font-weight: 900; font-display: swap; }
small { font-size: 9px; font-variant-ligatures: common-ligatures; }
blockquote { line-height: 0.9; }
@font-face { font-family: Old; src: url(old.eot); src: url(old.eot?#iefix) format("embedded-opentype"), url(upright.ttf) format("truetype"); font-display: swap; }
article { font-family: Brand, Text, sans-serif; }
@font-face { font-family: Arial; src: url(signs.ttf); font-display: swap; }
aside { font-family: Georgia, sans-serif; }
"#;

const OLD_PAGE: &str = r#"<!doctype html>
<html lang="en"><meta charset="utf-8"><title>Old</title><link rel="stylesheet" href="old.css">
<body><h1>Harbour</h1><nav>Quay</nav><small>fine</small><blockquote>Low lines</blockquote>
<article>Ferries <i>leave</i></article><aside>Aside</aside>
<p style="font-family: Quay, sans-serif">Quay</p><p style="font-family: Old, sans-serif">Old</p>
<p style="font-family: Text, sans-serif">Text <b>bold</b></p><p style="font-family: Arial, sans-serif">Signs</p>
"#;

/// A font of the demo with another weight in its OS/2 table.
fn of_weight(path: &str, weight: u16) -> Vec<u8> {
    let mut bytes = tidy_lattice_demo::file(path).expect("a demo font").to_vec();
    let record = bytes
        .windows(4)
        .position(|tag| tag == b"OS/2")
        .expect("OS/2");
    let offset = bytes[record + 8..record + 12]
        .try_into()
        .expect("four bytes");
    let at = u32::from_be_bytes(offset) as usize + 4;
    bytes[at..at + 2].copy_from_slice(&weight.to_be_bytes());
    bytes
}

fn old_site() -> Workshop {
    let workshop = Workshop::new();
    let sans = "fonts/SkerrymarkSans-Regular.ttf";
    let demo = |path: &str| tidy_lattice_demo::file(path).expect("a demo font").to_vec();
    for (name, bytes) in [
        ("light.ttf", of_weight(sans, 300)),
        ("italic.ttf", demo("fonts/SkerrymarkSans-Italic.ttf")),
        ("upright.ttf", demo(sans)),
        ("text.ttf", demo("fonts/SkerrymarkText-Regular.ttf")),
        (
            "bold.ttf",
            of_weight("fonts/SkerrymarkText-Regular.ttf", 700),
        ),
        (
            "semibold.ttf",
            of_weight("fonts/SkerrymarkText-Regular.ttf", 600),
        ),
        (
            "black.ttf",
            of_weight("fonts/SkerrymarkText-Regular.ttf", 900),
        ),
        ("signs.ttf", demo("fonts/Lanternsign.ttf")),
        ("old.eot", vec![0; 64]),
        ("more.css", Vec::new()),
    ] {
        workshop.write(name, bytes);
    }
    workshop.write("old.css", OLD_SHEET);
    workshop.write("old.html", OLD_PAGE);
    std::fs::create_dir(workshop.path("fonts")).expect("a folder");
    workshop.write("fonts/quay.ttf", demo("fonts/FerrygateMono-Regular.ttf"));
    workshop
}

/// Code and line of each finding.
fn found(json: &Value) -> BTreeSet<(String, u64)> {
    let findings = json["findings"].as_array().expect("findings");
    findings
        .iter()
        .map(|one| {
            let code = one["code"].as_str().unwrap_or_default().to_owned();
            (code, one["place"]["line"].as_u64().unwrap_or_default())
        })
        .collect()
}

#[test]
fn sixteen_old_mistakes_are_named_and_nothing_else_is() {
    let workshop = old_site();
    let run = workshop.run("check old.html --json");
    assert_eq!(run.status, 1, "{}", run.err);
    let expected = [
        ("name-encoded", 1),
        ("name-needs-quotes", 2),
        ("generic-missing", 3),
        ("weight-not-of-file", 4),
        ("style-not-of-file", 5),
        ("style-not-of-file", 6),
        ("file-not-found", 7),
        ("import-late", 8),
        ("display-missing", 9),
        ("face-unused", 11),
        ("ligatures-on-small-text", 13),
        ("line-height-below-one", 14),
        ("source-for-no-browser", 15),
        ("fallback-is-loaded", 16),
        ("partial-font-hides-installed", 17),
        ("generic-of-other-class", 18),
    ];
    let expected: BTreeSet<(String, u64)> = expected
        .iter()
        .map(|(code, line)| ((*code).to_owned(), *line))
        .collect();
    let found = found(&run.json());
    // The light file under 500 is never used in text either.
    let rest: Vec<_> = found.symmetric_difference(&expected).collect();
    let about_light = |(code, line): &&(String, u64)| code == "face-unused" && *line == 4;
    let rest: Vec<_> = rest.iter().filter(|one| !about_light(one)).collect();
    assert!(rest.is_empty(), "{rest:?}\n{}", run.out);
}

#[test]
fn what_can_be_mended_is_and_only_that_changes() {
    let workshop = old_site();
    let shown = workshop.run("check old.html --diff");
    assert_eq!(shown.status, 1);
    assert!(
        shown.out.contains("-nav { font-family: Verdana, Arial; }")
            && shown
                .out
                .contains("+nav { font-family: Verdana, Arial, sans-serif; }"),
        "{}",
        shown.out
    );
    assert_eq!(
        workshop.read("old.css"),
        OLD_SHEET,
        "--diff changes nothing"
    );
    let mended = workshop.run("check old.html --fix --json");
    assert!(mended.err.contains("mended in 1 file"), "{}", mended.err);
    let css = workshop.read("old.css");
    for part in [
        "@import \"more.css\";\nbody { font-family: \"Open Sans\", Verdana",
        "h1 { font-family: \"Source Sans 3\"",
        "nav { font-family: Verdana, Arial, sans-serif; }",
        "url(light.ttf); font-weight: 300;",
        "url(italic.ttf); font-weight: 400; font-style: italic;",
        "url(fonts/quay.ttf)",
        "src: url(text.ttf); font-display: swap; }",
        "aside { font-family: Georgia, serif; }",
        "{ font-family: Old; src: url(upright.ttf) format(\"truetype\");",
        // What is not mended stays as it was, to the byte.
        "blockquote { line-height: 0.9; }\n",
    ] {
        assert!(css.contains(part), "{part}: {css}");
    }
    let left = found(&mended.json());
    let codes: BTreeSet<&str> = left.iter().map(|(code, _)| code.as_str()).collect();
    for code in [
        "name-encoded",
        "name-needs-quotes",
        "import-late",
        "file-not-found",
    ] {
        assert!(!codes.contains(code), "{code}: {left:?}");
    }
    // A second run finds nothing more to mend.
    let before = workshop.read("old.css");
    workshop.run("check old.html --fix");
    assert_eq!(workshop.read("old.css"), before);
}

#[test]
fn the_view_names_place_line_reason_and_way_out() {
    let workshop = old_site();
    let run = workshop.run("check old.html");
    for part in [
        " errors and ",
        "--fix does it",
        "old.css\n",
        "  1:21 error   name-encoded",
        "│ body { font-family: \"Open+Sans\", Verdana, sans-serif; }",
        "│                     ^^^^^^^^^^^",
        "The family is called \"Open Sans\", not \"Open+Sans\".",
        "No family has such a name. Write the name with blanks",
    ] {
        assert!(run.out.contains(part), "{part}: {}", run.out);
    }
    assert!(!run.out.contains('\u{1b}'), "no colours in a pipe");
}

#[rstest]
#[case("advice", 1)]
#[case("warning", 1)]
#[case("error", 0)]
fn the_exit_status_follows_the_level(#[case] level: &str, #[case] status: i32) {
    let workshop = Workshop::new();
    workshop.write("a.css", "p { font-family: Arial }");
    assert_eq!(
        workshop
            .run(&format!("check a.css --fail-on {level}"))
            .status,
        status
    );
    workshop.write(
        "tidy-lattice.toml",
        format!("[check]\nfail_on = \"{level}\"\n"),
    );
    assert_eq!(workshop.run("check a.css").status, status);
}

#[test]
fn old_projects_start_from_a_baseline() {
    let workshop = old_site();
    let run = workshop.run("check old.html --write-baseline known.json");
    assert_eq!(run.status, 0, "{}", run.err);
    let run = workshop.run("check old.html --baseline known.json --json");
    assert_eq!(
        (run.status, run.json()["findings"].as_array().map(Vec::len)),
        (0, Some(0))
    );
    assert!(run.json()["known"].as_u64() > Some(15));
    // What is new is told, wherever the lines have moved to.
    workshop.write(
        "old.css",
        format!("\n\nu {{ font-family: Georgia }}\n{OLD_SHEET}"),
    );
    let run = workshop.run("check old.html --baseline known.json --json");
    assert_eq!(
        found(&run.json()),
        BTreeSet::from([("generic-missing".to_owned(), 3)])
    );
    workshop.write("known.json", "[]");
    workshop
        .run("check old.html --baseline known.json")
        .failed(3, &["known.json", "--write-baseline"]);
}

#[test]
fn a_project_allows_rules_with_a_reason() {
    let workshop = Workshop::new();
    workshop.write("a.css", "p { font-family: Arial }");
    workshop.write("b.css", "p { font-family: Arial }");
    let allow = "[[check.allow]]\ncode = \"generic-missing\"\nfiles = [\"a.*\"]\nbecause = \"the kiosk has it\"\n";
    workshop.write("tidy-lattice.toml", allow);
    let json = workshop.run("check a.css b.css --json").json();
    assert_eq!(json["findings"].as_array().map(Vec::len), Some(1));
    assert_eq!(
        (
            json["allowed"].as_u64(),
            json["findings"][0]["place"]["file"].as_str()
        ),
        (Some(1), Some("b.css"))
    );
    workshop.write(
        "tidy-lattice.toml",
        allow.replace("generic-missing", "no-such"),
    );
    workshop
        .run("check a.css")
        .failed(2, &["no-such", "explain"]);
    workshop.write("tidy-lattice.toml", allow.replace("because", "# "));
    workshop.run("check a.css").failed(3, &["because"]);
}

#[test]
fn findings_come_in_the_forms_of_other_tools() {
    let workshop = old_site();
    let sarif: Value =
        serde_json::from_str(&workshop.run("check old.html --as sarif").out).expect("JSON");
    // All that it says is what the standard's schema has, in the types that it has.
    let typed: serde_sarif::sarif::Sarif =
        serde_json::from_value(sarif.clone()).expect("SARIF 2.1.0");
    assert_eq!(serde_json::to_value(typed).expect("JSON"), sarif);
    let run = &sarif["runs"][0];
    let results = run["results"].as_array().expect("results");
    assert!(results.len() >= 16);
    let rules: BTreeSet<&str> = run["tool"]["driver"]["rules"]
        .as_array()
        .expect("rules")
        .iter()
        .filter_map(|rule| rule["id"].as_str())
        .collect();
    for result in results {
        assert!(rules.contains(result["ruleId"].as_str().expect("a rule")));
        let place = &result["locations"][0]["physicalLocation"];
        assert_eq!(place["artifactLocation"]["uri"], "old.css");
        assert!(place["region"]["startLine"].as_u64() >= Some(1));
        assert!(place["region"]["endColumn"].as_u64() >= Some(1));
    }
    let mend = results
        .iter()
        .find(|one| one["ruleId"] == "name-encoded")
        .expect("a result");
    let change = &mend["fixes"][0]["artifactChanges"][0]["replacements"][0];
    assert_eq!(change["insertedContent"]["text"], "\"Open Sans\"");
    assert_eq!(change["deletedRegion"]["byteOffset"], 20);

    let junit = workshop.run("check old.html --as junit").out;
    assert!(
        junit.contains("<testsuite name=\"old.css\"") && junit.contains("&quot;Open+Sans&quot;")
    );
    let markdown = workshop.run("check old.html --as markdown").out;
    assert!(markdown.contains("### old.css") && markdown.contains("(`name-encoded`)"));
    let annotations = workshop.run("check old.html --as annotations").out;
    assert!(
        annotations.starts_with("::error file=old.css,line="),
        "{annotations}"
    );
    assert_eq!(
        workshop.run("check old.html --as junit -o out.xml").status,
        1
    );
    assert_eq!(workshop.read("out.xml"), junit);
}

#[test]
fn a_comment_of_thousands_of_findings_stays_short_enough() {
    let workshop = Workshop::new();
    let rules: Vec<String> = (0..4000)
        .map(|n| format!("p{n} {{ font-family: Arial }}\n"))
        .collect();
    workshop.write("a.css", rules.concat());
    let run = workshop.run("check a.css --as markdown");
    assert!(run.out.chars().count() < 60_000);
    assert!(run.out.contains(" more; `tidy-lattice check` lists them"));
}

#[rstest]
#[case("check none.css", 3, "none.css")]
#[case("check --baseline none.json old.css", 3, "none.json")]
#[case("check --fix --diff old.css", 2, "--diff")]
#[case("check sans.ttf", 2, "describe")]
#[case("check fonts old.css -o fonts", 4, "folder")]
#[case("init none", 3, "no such folder")]
#[case("init old.css", 3, "no such folder")]
#[case("explain no-such-rule", 2, "no-such-rule")]
fn wrong_use_is_told(#[case] arguments: &str, #[case] status: i32, #[case] says: &str) {
    old_site().run(arguments).failed(status, &[says]);
}

#[test]
fn every_rule_is_explained() {
    let workshop = Workshop::new();
    let all = workshop.run("explain").out;
    let rules = all.split("\n\n").next().expect("the rules");
    let codes: Vec<&str> = rules
        .lines()
        .skip(1)
        .filter_map(|line| line.split_whitespace().next())
        .collect();
    assert!(codes.len() >= 40, "{}", codes.len());
    for code in codes {
        let run = workshop.run(&format!("explain {code}"));
        assert!(
            run.status == 0 && run.out.starts_with(code),
            "{code}: {}",
            run.out
        );
    }
    let one = workshop.run("explain generic-missing").out;
    for part in [
        "Wrong",
        "p { font-family: Arial, Helvetica }",
        "Right",
        "--fix",
    ] {
        assert!(one.contains(part), "{part}: {one}");
    }
}

#[rstest]
#[case("stand-in", &["until the web font has arrived", "build --help"])]
#[case("line gap", &["below its baseline", "CSS Fonts 5"])]
#[case("Slices", &["unicode-range"])]
fn words_are_explained(#[case] word: &str, #[case] says: &[&str]) {
    let workshop = Workshop::new();
    let run = workshop.run(&format!("explain {word}"));
    assert_eq!(run.status, 0, "{}", run.err);
    for part in says {
        assert!(run.out.contains(part), "{}", run.out);
    }
    let json = workshop.run(&format!("explain {word} --json")).json();
    assert_eq!(json["rules"].as_array().map(Vec::len), Some(0));
    assert_eq!(json["words"].as_array().map(Vec::len), Some(1));
    // A list names each.
    let all = workshop.run("explain").out;
    let told = json["words"][0]["word"].as_str().expect("a word");
    assert!(all.contains(told), "{all}");
}

/// Code, file and line of each finding, sorted.
fn told(run: &Run) -> Vec<(String, String, u64)> {
    let json = run.json();
    let findings = json["findings"].as_array().expect("findings").clone();
    let text = |value: &Value| value.as_str().unwrap_or_default().to_owned();
    let mut told: Vec<_> = findings
        .iter()
        .map(|one| {
            let place = &one["place"];
            (
                text(&one["code"]),
                text(&place["file"]),
                place["line"].as_u64().unwrap_or(0),
            )
        })
        .collect();
    told.sort();
    told
}

/// What is planted, as [`told`] has it.
fn planted(faults: &[(&str, &str, u32)]) -> Vec<(String, String, u64)> {
    let faults = faults.iter();
    let mut planted: Vec<_> = faults
        .map(|(code, file, line)| ((*code).to_owned(), (*file).to_owned(), u64::from(*line)))
        .collect();
    planted.sort();
    planted
}

#[test]
fn exactly_the_planted_faults_of_the_shop_are_found() {
    let workshop = Workshop::with_demo();
    let in_shop = |arguments: &[&str]| {
        let output = workshop
            .command()
            .current_dir(workshop.path("tern/shop"))
            .args(arguments)
            .output();
        Run::of(output.expect("a run"))
    };
    let run = in_shop(&["check", "--level", "advice", "--json"]);
    assert_eq!(told(&run), planted(SHOP_FAULTS));
    // The variable font is declared as what it is, and then nothing is faked any more.
    let fixed = in_shop(&["check", "--level", "advice", "--fix", "--json"]);
    assert!(fixed.err.contains(" mended in 1 file"), "{}", fixed.err);
    let gone = ["variable-held-to-one-weight", "face-lacking"];
    let left: Vec<_> = SHOP_FAULTS
        .iter()
        .filter(|(code, ..)| !gone.contains(code))
        .copied()
        .collect();
    assert_eq!(
        told(&in_shop(&["check", "--level", "advice", "--json"])),
        planted(&left)
    );
}

#[test]
fn exactly_the_planted_faults_of_the_demo_are_found_and_mended() {
    let workshop = Workshop::with_demo();
    let in_demo = |arguments: &[&str]| {
        let output = workshop
            .command()
            .current_dir(workshop.path("tern"))
            .args(arguments)
            .output();
        Run::of(output.expect("a run"))
    };
    let run = in_demo(&["check", "archive", "--level", "advice", "--json"]);
    assert!(FAULTS.len() >= 25);
    assert_eq!(told(&run), planted(FAULTS));
    let mendable = run.json()["mendable"].as_u64().unwrap_or_default();
    assert!(mendable >= 12, "{mendable}");

    let fixed = in_demo(&["check", "archive", "--level", "advice", "--fix", "--json"]);
    assert!(fixed.err.contains(" mended in 2 files"), "{}", fixed.err);
    // What can be mended is gone, and mending has brought no other kind of fault but
    // those that it lays open.
    let left = fixed.json();
    let codes: BTreeSet<&str> = left["findings"]
        .as_array()
        .expect("findings")
        .iter()
        .filter(|one| one["mend"].is_array())
        .filter_map(|one| one["code"].as_str())
        .collect();
    assert!(codes.is_empty(), "{codes:?}");
}

#[test]
fn the_same_in_many_pages_is_told_once_and_mended_everywhere() {
    let workshop = Workshop::new();
    for page in 0..6 {
        let html = "<html lang=en><style>p { font-family: Arial }</style><p>Ferries";
        workshop.write(&format!("{page}.html"), html);
    }
    let json = workshop.run("check . --json").json();
    let findings = json["findings"].as_array().expect("findings");
    assert_eq!(findings.len(), 1);
    let what = findings[0]["what"].as_str().unwrap_or_default();
    assert!(what.ends_with("(and at 5 more places)"), "{what}");
    assert_eq!(workshop.run("check . --fix").status, 0);
    assert!(workshop.read("5.html").contains("Arial, sans-serif"));
}

/// A font of the demo whose PANOSE says that it is written by hand.
fn by_hand(path: &str) -> Vec<u8> {
    let mut bytes = tidy_lattice_demo::file(path).expect("a demo font").to_vec();
    let record = bytes
        .windows(4)
        .position(|tag| tag == b"OS/2")
        .expect("OS/2");
    let offset = bytes[record + 8..record + 12].try_into();
    let at = u32::from_be_bytes(offset.expect("four bytes")) as usize + 32;
    bytes[at..at + 10].copy_from_slice(&[3, 2, 5, 2, 4, 4, 6, 7, 7, 3]);
    bytes
}

fn page(css: &str, text: &str) -> String {
    format!(
        "<!doctype html><html lang=en><style>{css}</style>\
         <p style=\"font-family: Brand, sans-serif\">{text}"
    )
}

const LONG: &str = "The last boat leaves the old quay at nine, and whoever misses it stays on the \
     island until the morning, when the first one comes back with bread, letters and the \
     teacher of the school.";

#[test]
fn running_text_in_a_face_of_handwriting_is_advice_and_a_heading_is_not() {
    let shop = Workshop::new();
    shop.write("hand.ttf", by_hand("fonts/SkerrymarkSans-Regular.ttf"));
    let css = "@font-face { font-family: Brand; src: url(hand.ttf); font-display: swap }";
    let found = |text: &str| {
        shop.write("page.html", page(css, text));
        let run = shop.run("check page.html --level advice --json");
        found(&run.json())
            .iter()
            .any(|(code, _)| code == "display-face-to-read")
    };
    assert!(found(LONG));
    assert!(!found("Timetable of the ferries"));
    assert!(!found(&format!("<span style=\"font-size: 40px\">{LONG}")));
}

#[test]
fn capitals_alone_are_not_for_small_letters() {
    let shop = Workshop::new();
    let trim = "trim sans.ttf --range U+20-5A --margin text --format sfnt -o cut";
    assert_eq!(shop.run(trim).status, 0);
    let file = std::fs::read_dir(shop.path("cut"))
        .expect("the folder")
        .find_map(|entry| {
            let path = entry.ok()?.path();
            path.extension()
                .is_some_and(|ending| ending == "ttf")
                .then_some(path)
        });
    shop.write(
        "capitals.ttf",
        std::fs::read(file.expect("a font")).expect("a font"),
    );
    let css = "@font-face { font-family: Brand; src: url(capitals.ttf); font-display: swap }";
    let found = |text: &str| {
        shop.write("page.html", page(css, text));
        let run = shop.run("check page.html --json");
        found(&run.json())
            .iter()
            .any(|(code, _)| code == "capitals-only-face")
    };
    assert!(found(LONG));
    assert!(!found("TIMETABLE OF THE FERRIES"));
    assert!(!found(&format!(
        "<span style=\"text-transform: uppercase\">{LONG}"
    )));
}

#[rstest]
#[case::text_first("text-first", "block", Some("swap"))]
#[case::brand_first("brand-first", "swap", Some("block"))]
#[case::no_late_change("no-late-change", "fallback", Some("optional"))]
#[case::serves_it("text-first", "optional", None)]
fn font_display_is_held_to_the_aim(
    #[case] aim: &str,
    #[case] display: &str,
    #[case] mended: Option<&str>,
) {
    let shop = Workshop::new();
    shop.write(
        "tidy-lattice.toml",
        format!(
            "platforms = [\"windows\"]\nsheets = [\"a.css\"]\n[build]\naim = \"{aim}\"\n\
             [role.body]\nstack = \"Brand, Arial, sans-serif\"\nweb = [\"sans.ttf\"]\n"
        ),
    );
    let css = format!(
        "@font-face {{ font-family: Brand; src: url(sans.ttf); font-display: {display} }}\n\
         p {{ font-family: Brand, Arial, sans-serif }}\n"
    );
    shop.write("a.css", &css);
    let run = shop.run("check --level advice --json");
    let codes = found(&run.json());
    let against = codes.iter().any(|(code, _)| code == "display-against-aim");
    assert_eq!(against, mended.is_some(), "{codes:?}");
    // Nothing stands in for the font that the project builds a stack of; once there is
    // something, that is well.
    assert!(
        codes.contains(&("stand-in-missing".to_owned(), 2)),
        "{codes:?}"
    );
    if let Some(mended) = mended {
        shop.run("check --fix");
        assert!(
            shop.read("a.css")
                .contains(&format!("font-display: {mended} "))
        );
    }
    let more = "@font-face { font-family: B2; src: local(\"Arial\"); size-adjust: 98% }\n";
    shop.write(
        "a.css",
        format!("{more}{}", css.replace("Brand, Arial", "Brand, B2, Arial")),
    );
    let run = shop.run("check --level advice --json");
    assert!(
        !found(&run.json())
            .iter()
            .any(|(code, _)| code == "stand-in-missing")
    );
}

const APP: &str = r#"platforms = ["windows"]
[[content]]
files = ["app.txt"]
role = "ticket"
[role.ticket]
stack = "Brand, Arial, sans-serif"
[app]
packed = ["assets/*"]

[[app.faces]]
family = "Brand"
file = "assets/regular.ttf"

[[app.faces]]
family = "Brand"
file = "assets/bold.ttf"
weight = 300

[[app.faces]]
family = "Brand"
file = "assets/Italic.ttf"
style = "italic"

[[app.faces]]
family = "Quay"
file = "assets/quay.ttf"

[[app.faces]]
family = "Gone"
file = "assets/gone.ttf"
"#;

#[test]
fn faces_of_an_app_are_held_to_their_files_and_to_the_roles() {
    let shop = Workshop::new();
    let demo = |path: &str| tidy_lattice_demo::file(path).expect("a demo font");
    shop.write("app.txt", "Quay");
    shop.write("tidy-lattice.toml", APP);
    for (name, path) in [
        ("regular", "fonts/SkerrymarkSans-Regular.ttf"),
        ("bold", "fonts/SkerrymarkSans-Bold.ttf"),
        ("italic", "fonts/SkerrymarkSans-Italic.ttf"),
        ("quay", "fonts/FerrygateMono-Regular.ttf"),
        ("spare", "fonts/SkerrymarkText-Regular.ttf"),
    ] {
        shop.place(&format!("assets/{name}.ttf"), demo(path));
    }
    shop.place("assets/readme.txt", "no font");
    let run = shop.run("check --json");
    let expected = [
        ("app-face-unused", 24),
        ("app-face-unused", 28),
        ("app-file-undeclared", 1),
        ("file-case-differs", 19),
        ("file-not-found", 28),
        ("weight-not-of-file", 14),
    ];
    let expected: BTreeSet<(String, u64)> = expected
        .iter()
        .map(|(code, line)| ((*code).to_owned(), *line))
        .collect();
    let json = run.json();
    let codes: BTreeSet<(String, u64)> = found(&json)
        .into_iter()
        .filter(|(code, _)| code != "app-file-undeclared")
        .chain([("app-file-undeclared".to_owned(), 1)])
        .collect();
    assert_eq!(codes, expected);
    let undeclared: Vec<&str> = (json["findings"].as_array().expect("findings").iter())
        .filter(|one| one["code"] == "app-file-undeclared")
        .filter_map(|one| one["place"]["file"].as_str())
        .collect();
    assert_eq!(undeclared, ["assets/italic.ttf", "assets/spare.ttf"]);
    // The excerpt is the entry as it stands, and nothing is written into the project file.
    assert!(shop.run("check").out.contains("[[app.faces]]"));
    shop.run("check --fix");
    assert_eq!(shop.read("tidy-lattice.toml"), APP);
}

/// Texts of roles are held to what `build` would write before it is written.
#[test]
fn a_project_is_checked_before_its_first_build() {
    let workshop = Workshop::new();
    workshop.write(
        "tidy-lattice.toml",
        "platforms = [\"windows\"]\n[[content]]\nfiles = [\"t.txt\"]\nrole = \"brand\"\n\
         [role.brand]\nweb = [\"sans.ttf\"]\n",
    );
    workshop.write("t.txt", "Quay \u{e123}");
    let run = workshop.run_with(["check"], "");
    assert_eq!(run.status, 1, "{}{}", run.out, run.err);
    assert!(run.out.contains("text-falls-through"), "{}", run.out);
}
