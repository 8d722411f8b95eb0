//! `cover` of a project and of pages.

use rstest::rstest;
use serde_json::Value;
use tidy_lattice_demo::planted::{NEVER_SHOWN, PLANTED, Planted, SHOP_GAPS};

use crate::workshop::{Run, Workshop};

/// The demo's project in a folder, and a run of the program in it.
fn in_demo(arguments: &[&str]) -> (Workshop, Run) {
    let workshop = Workshop::with_demo();
    let run = run_in_demo(&workshop, arguments);
    (workshop, run)
}

fn run_in_demo(workshop: &Workshop, arguments: &[&str]) -> Run {
    let mut command = workshop.command();
    let output = command
        .current_dir(workshop.path("tern"))
        .args(arguments)
        .output();
    Run::of(output.expect("a run"))
}

fn gap<'j>(json: &'j Value, cluster: &str) -> Option<&'j Value> {
    let gaps = json["gaps"].as_array().expect("gaps");
    gaps.iter().find(|gap| gap["cluster"] == cluster)
}

#[test]
fn every_planted_gap_is_found_at_its_place() {
    let (_workshop, run) = in_demo(&["cover", "--json"]);
    assert_eq!(run.status, 1, "{}", run.err);
    let json = run.json();
    has_gaps(&json, PLANTED);
    assert!(
        gap(&json, NEVER_SHOWN).is_none(),
        "what never shows is no gap"
    );
    assert_eq!(gap(&json, "🇫🇴").expect("the flag")["allowed"], true);
    assert_eq!(json["allowed_clusters"], 1);
    let joined = gap(&json, "ت").expect("the letter");
    assert_eq!(joined["cause"]["flaw"]["need"], "joining");
    assert_eq!(joined["filled_by"][0], "Tidefall Arabic");
}

#[test]
fn the_gaps_of_the_shop_are_found_in_slices_and_fonts_of_pictures() {
    let workshop = Workshop::with_demo();
    let output = workshop
        .command()
        .current_dir(workshop.path("tern/shop"))
        .args(["cover", "--json"])
        .output();
    let run = Run::of(output.expect("a run"));
    assert_eq!(run.status, 1, "{}", run.err);
    let json = run.json();
    has_gaps(&json, SHOP_GAPS);
    // The other letters of the word are those of the same slice's absence.
    let clusters = json["gaps"].as_array().map(Vec::len);
    assert_eq!(clusters, Some(SHOP_GAPS.len() + "ітер".chars().count()));
    let conjunct = gap(&json, "त्र").expect("the conjunct");
    assert_eq!(conjunct["cause"]["flaw"]["need"], "conjuncts");
    assert_eq!(conjunct["filled_by"][0], "Naavghat Devanagari");
    assert_eq!(
        gap(&json, "В").expect("a letter")["platforms"][0],
        "barebuoy"
    );
}

/// Each of `planted` is a gap, first seen where it was planted.
fn has_gaps(json: &Value, all: &[Planted]) {
    for planted in all {
        let gap = gap(json, planted.cluster)
            .unwrap_or_else(|| panic!("{} ({}) is not found", planted.cluster, planted.how));
        assert_eq!(
            (
                gap["first"]["source"].as_str(),
                gap["first"]["line"].as_u64()
            ),
            (Some(planted.file), Some(u64::from(planted.line))),
            "{}: {}",
            planted.cluster,
            planted.how
        );
    }
}

#[test]
fn faces_features_and_costs_are_told() {
    let (_workshop, run) = in_demo(&["cover", "--json"]);
    let json = run.json();
    let list = |name: &str| json[name].as_array().expect("a list").clone();
    let bold = list("faces")
        .into_iter()
        .find(|face| face["weight"] == 900.0);
    let bold = bold.expect("a weight that is not there");
    assert_eq!(
        (&bold["face"], &bold["faked"]["bold"]),
        (&"Skerrymark Text".into(), &true.into())
    );
    let tabular = list("features")
        .into_iter()
        .find(|lack| lack["feature"] == "tnum" && lack["font"] == "Skerrymark Text");
    assert!(
        tabular.expect("figures")["asked_by"]
            .as_str()
            .expect("CSS")
            .contains("tabular-nums")
    );
    let page = list("texts")
        .into_iter()
        .find(|text| text["source"] == "site/index.html");
    let page = page.expect("the page");
    assert!(page["files"].as_u64() >= Some(4) && page["bytes"].as_u64() > Some(100_000));
    let lantern = page["fonts"]
        .as_array()
        .expect("fonts")
        .iter()
        .find(|font| font["name"] == "Lanternsign");
    assert!(
        lantern.expect("the sign font")["only_for"]
            .to_string()
            .contains('☂')
    );
    // What lies on the network is read from the folder that the project maps.
    assert!(!run.err.contains("fonts.invalid"), "{}", run.err);
}

#[test]
fn devices_differ_where_their_fonts_do() {
    let (_workshop, run) = in_demo(&["cover", "--json", "site/fares.html", "--stack", "x"]);
    assert_eq!(run.status, 1, "a page brings its own stacks: {}", run.err);
    let json = run.json();
    assert_eq!(json["platforms"].as_array().expect("platforms").len(), 5);
    let (_workshop, run) = in_demo(&[
        "cover",
        "--text",
        "Ab",
        "--stack",
        "'Quaydesk UI'",
        "--json",
    ]);
    let gap = gap(&run.json(), "A").expect("a gap").clone();
    assert_eq!(
        gap["platforms"],
        serde_json::json!(["skiffphone", "barebuoy"])
    );
}

#[test]
fn only_more_gaps_than_allowed_fail() {
    let (workshop, run) = in_demo(&["cover", "--most-gaps", "100000"]);
    assert_eq!(run.status, 0, "{}", run.err);
    let run = run_in_demo(
        &workshop,
        &[
            "cover",
            "--text",
            "ab 漢⌕",
            "--font",
            "fonts/SkerrymarkSans-Regular.ttf",
            "--allow",
            "Han",
            "--allow",
            "U+2300-23FF",
        ],
    );
    assert_eq!(run.status, 0, "{}{}", run.out, run.err);
    let run = run_in_demo(
        &workshop,
        &[
            "cover",
            "--text",
            "ab 漢⌕",
            "--font",
            "fonts/SkerrymarkSans-Regular.ttf",
            "--allow",
            "Han",
        ],
    );
    assert_eq!(run.status, 1);
}

#[test]
fn a_language_alone_is_a_need() {
    let (_workshop, run) = in_demo(&[
        "cover",
        "--json",
        "--language",
        "pl",
        "--font",
        "fonts/SkerrymarkSans-Regular.ttf",
    ]);
    let json = run.json();
    for cluster in ["ł", "Ź", "ę"] {
        assert!(gap(&json, cluster).is_some(), "{cluster}");
    }
    assert!(gap(&json, "a").is_none());
    let (_workshop, run) = in_demo(&[
        "cover",
        "--language",
        "zz",
        "--font",
        "fonts/SkerrymarkSans-Regular.ttf",
    ]);
    run.failed(2, &["zz", "BCP 47"]);
}

#[test]
fn the_view_names_place_reason_and_remedy() {
    let (_workshop, run) = in_demo(&["cover", "--all"]);
    for part in [
        "Tern & Skerry Lines: ",
        "messages/ar.arb:3",
        "drawn without joining",
        "Tidefall Arabic",
        "Skerrymark Text 900 (tables) is shown by Skerrymark Text: weight 400, faked bold",
        "table.timetable td asks for tnum (font-variant-numeric: tabular-nums), but Skerrymark Text has",
        "Lanternsign only for",
    ] {
        assert!(run.out.contains(part), "{part}: {}", run.out);
    }
}

#[rstest]
#[case::unknown_key("colour = 1", &["cover"], &["tidy-lattice.toml", "line 1", "unknown field `colour`"])]
#[case::no_toml("[content", &["cover"], &["tidy-lattice.toml", "line 1"])]
#[case::no_role("[[content]]\nfiles = [\"*\"]\nrole = \"x\"", &["cover"], &["role \"x\"", "[role.x]"])]
#[case::bad_stack("[role.a]\nstack = \"A 1\"", &["cover"], &["role.a.stack", "font-family"])]
#[case::bad_weight("[role.a]\nstack = \"A\"\nweight = 2000", &["cover"], &["role.a.weight", "1 to 1000"])]
fn project_files_with_faults(
    #[case] toml: &str,
    #[case] arguments: &[&str],
    #[case] says: &[&str],
) {
    let workshop = Workshop::new();
    workshop.write("tidy-lattice.toml", toml);
    workshop
        .run_with(arguments.iter().copied(), "")
        .failed(3, says);
}

#[rstest]
#[case::nothing_matches("[[content]]\nfiles = [\"none/*\"]", &["no file matches", "none/*"])]
#[case::no_stack("[[content]]\nfiles = [\"a.json\"]", &["a.json", "there is no stack"])]
#[case::two_roles("[[content]]\nfiles = [\"a.json\"]\n[role.a]\nstack = \"A\"\n[role.b]\nstack = \"B\"", &["a.json", "which role", "a, b"])]
#[case::bad_gap("[cover]\nallow = [\"\"]", &["no gap that can be allowed"])]
fn projects_that_do_not_say_enough(#[case] toml: &str, #[case] says: &[&str]) {
    let workshop = Workshop::new();
    workshop.write("tidy-lattice.toml", toml);
    workshop.write("a.json", "{\"a\": \"b\"}");
    workshop.run("cover").failed(2, says);
}

#[test]
fn broken_content_names_file_and_line() {
    let workshop = Workshop::new();
    workshop.write("a.json", "{\n\"a\": \"b\",\n}");
    workshop
        .run("cover -f sans.ttf a.json")
        .failed(3, &["a.json", "line 3", "JSON"]);
    workshop.write("b.po", "msgid \"a\"\nmsgstr \"b\n");
    workshop
        .run("cover -f sans.ttf b.po")
        .failed(3, &["b.po", "line 2", "PO"]);
    workshop.write("c.json", "{\"a\": \"b\"}");
    workshop
        .run("cover c.json")
        .failed(2, &["c.json", "there is no stack", "--font"]);
}

#[test]
fn a_page_alone_brings_its_stacks_and_fonts() {
    let workshop = Workshop::new();
    workshop.write(
        "s.css",
        "@font-face {font-family: B; src: url(sans.ttf)} p {font-family: B, Arial}",
    );
    workshop.write(
        "p.html",
        "<!doctype html>\n<link rel=stylesheet href=s.css>\n<p lang=pl>a\n ł",
    );
    let run = workshop.run("cover p.html --json --platform windows,bare");
    let gap = gap(&run.json(), "ł").expect("a gap").clone();
    assert_eq!(
        (&gap["first"]["line"], &gap["platforms"]),
        (&4.into(), &serde_json::json!(["bare"]))
    );
    assert_eq!(gap["languages"][0], "pl");
    assert_eq!(gap["element"], "p");
}

#[test]
fn the_demo_keeps_to_the_schema_of_project_files() {
    let schema = Workshop::new().run("schema project").json();
    let toml = tidy_lattice_demo::file("tidy-lattice.toml").expect("the project file");
    let value: toml::Value =
        toml::from_str(std::str::from_utf8(toml).expect("UTF-8")).expect("TOML");
    let value = serde_json::to_value(value).expect("JSON");
    let validator = jsonschema::validator_for(&schema).expect("a valid schema");
    assert!(validator.is_valid(&value));
    assert!(!validator.is_valid(&serde_json::json!({"colour": 1})));
}

#[test]
fn needs_and_styles_are_listed_on_demand() {
    let (workshop, run) = in_demo(&["cover", "--json", "--need", "--styles"]);
    let json = run.json();
    let needs = json["needs"].as_array().expect("needs");
    let stamp = needs
        .iter()
        .find(|need| need["element"] == "div.stamp")
        .expect("a need");
    assert_eq!(
        (&stamp["style"]["weight"], &stamp["total"]),
        (&700.0.into(), &7.into())
    );
    assert_eq!(stamp["clusters"][0]["first"]["line"], 40);
    let styled = json["styled"].as_array().expect("texts");
    let ports = styled.iter().filter(|text| text["element"] == "span.port");
    assert_eq!(ports.count(), 5);
    let heading = styled.iter().find(|text| text["text"] == "TIMETABLE");
    assert!(heading.is_none(), "only second headings are in capitals");
    let second = styled
        .iter()
        .find(|text| text["element"] == "h2" && text["page"] == "site/index.html")
        .expect("a heading");
    assert_eq!(
        (&second["text"], &second["origin"]),
        (&"FROM ".into(), &"content".into())
    );
    let run = run_in_demo(&workshop, &["cover", "--need", "--styles"]);
    assert!(
        run.out.contains("site/index.html:40") && run.out.contains("36/36 px, 700, italic, smcp"),
        "{}",
        run.out
    );
    let plain = run_in_demo(&workshop, &["cover", "--json"]);
    assert!(plain.json()["needs"].is_null() && plain.json()["styled"].is_null());
}

/// A project of one page and one message, whose stack `build` makes.
const UNBUILT: &str = "platforms = [\"gnome\"]
[[content]]
files = [\"*.html\"]
[[content]]
files = [\"words.json\"]
role = \"body\"
[role.body]
web = [\"s?ns.ttf\"]
scripts = [\"te*.ttf\"]
family = \"Brand\"
[build]
output = \"stacks.css\"
";

/// The project in a folder, before the first run of `build`.
fn unbuilt() -> Workshop {
    let workshop = Workshop::new();
    workshop.write("tidy-lattice.toml", UNBUILT);
    workshop.write("words.json", "{\"a\": \"Harbour \u{142} \u{3b1}\"}");
    workshop.write(
        "index.html",
        "<link rel=stylesheet href=/stacks.css>
         <p style='font: 20px var(--body-stack)'>Ferries leave at ten, and come back.</p>",
    );
    workshop
}

#[test]
fn what_build_would_write_is_known_before_it_is_written() {
    let workshop = unbuilt();
    let first = workshop.run("cover --json");
    assert!(
        first.err.contains("stacks.css is not there yet"),
        "{}",
        first.err
    );
    let (shift, trace) = (
        workshop.run("shift --json"),
        workshop.run("trace --json \u{142}"),
    );
    let page = &shift.json()["cells"][0];
    assert!(page["shift"]["unread"].is_null(), "{page}");
    assert_eq!(
        trace.json()["platforms"][0]["pieces"][0]["font"]["family"],
        "Brand with Skerrymark Text"
    );
    assert_eq!(workshop.run("build").status, 0);
    for (arguments, before) in [
        ("cover --json", first.json()),
        ("shift --json", shift.json()),
        ("trace --json \u{142}", trace.json()),
    ] {
        assert_eq!(workshop.run(arguments).json(), before, "{arguments}");
    }
}

#[test]
fn pages_that_ask_for_the_stack_are_fitted_on_at_the_first_run() {
    let workshop = unbuilt();
    assert_eq!(workshop.run("build").status, 0);
    let first = workshop.read("stacks.css");
    assert!(first.contains("widths fitted on 2 texts"), "{first}");
    assert_eq!(workshop.run("build").status, 0);
    assert_eq!(workshop.read("stacks.css"), first);
}

#[test]
fn fonts_for_other_scripts_stand_before_local_faces() {
    let workshop = unbuilt();
    let built = workshop.run("build --json").json();
    let stack = built["stacks"][0]["stack"]
        .as_array()
        .expect("a stack")
        .clone();
    let place = |kind: &str| stack.iter().position(|entry| entry["kind"] == kind);
    assert!(place("web") < place("script") && place("script") < place("stand-in"));
    // What the web font has is never asked of them.
    let range = built["stacks"][0]["scripts"][0]["range"].to_string();
    let range = tidy_lattice_core::font::CharacterSet::parse(range.trim_matches('"'));
    let range = range.expect("a range");
    assert!(range.contains(0x142) && range.contains(0x3b1) && !range.contains(0x61));
}

#[rstest]
#[case::no_file("[role.a]\nweb = [\"*.woff2\"]", &["no file matches *.woff2"])]
#[case::no_pattern("[role.a]\nweb = [\"[.ttf\"]", &["[.ttf"])]
fn patterns_of_fonts_that_name_none(#[case] toml: &str, #[case] says: &[&str]) {
    let workshop = Workshop::new();
    workshop.write("tidy-lattice.toml", toml);
    workshop.run("build").failed(2, says);
}

#[rstest]
#[case("ja", "\u{8239}", "MS Gothic", "Malgun Gothic")]
#[case("ko", "\u{8239}", "Malgun Gothic", "Yu Gothic")]
#[case("zh-Hant", "\u{8239}", "JhengHei", "Yu Gothic")]
fn remedies_are_made_for_the_language(
    #[case] language: &str,
    #[case] text: &str,
    #[case] offered: &str,
    #[case] never: &str,
) {
    let workshop = Workshop::new();
    workshop.write("tidy-lattice.toml", format!(
        "platforms = [\"windows\"]\n[[content]]\nfiles = [\"a.json\"]\nlanguage = \"{language}\"\n\
         [role.a]\nstack = \"Skerrymark Sans\"\n"
    ));
    workshop.write("a.json", format!("{{\"a\": \"{text}\"}}"));
    let json = workshop.run("cover --json --css /dev/null").json();
    let filled = gap(&json, text).map(|gap| gap["filled_by"].to_string());
    let filled = filled.unwrap_or_else(|| json["gaps"].to_string() + &json["left"].to_string());
    assert!(
        filled.contains(offered) && !filled.contains(never),
        "{filled}"
    );
}
