//! `build` from pages: their stacks, and how the style sheet is put in.

use rstest::rstest;
use serde_json::Value;

use crate::workshop::{Run, Workshop};

const PAGE: &str = "<!doctype html><html lang=en><link rel=stylesheet href=\"css/site.css\">\
     <style>.note { font: 700 14px/1.4 \"Skerrymark Sans\", Arial, sans-serif !important }</style>\
     <h1>Timetable of the ferries</h1><p>The last boat leaves the old quay at nine, and \
     whoever misses it stays on the island until the morning.</p>\
     <p class=note style=\"font-family: 'Skerrymark Sans'\">Winter fares</p>";

const SHEET: &str = "@font-face { font-family: \"Skerrymark Sans\"; src: url(../sans.ttf); }
@font-face { font-family: \"Skerrymark Text\"; src: url(../text.ttf);
  unicode-range: U+370-4FF; }
:root { --face: Skerrymark Sans, 'Skerrymark Text', sans-serif }
body { font-family: var(--face) }
h1 { font-family: \"Quaydesk UI\", sans-serif }
";

const KIOSK: &str = "title = \"Kiosk\"\nfonts = [\"quaydesk.ttf\", \"pebbleroom.ttf\"]\n\
     [generic]\nsans-serif = \"Quaydesk UI\"\n";

fn shop(page: &str, sheet: &str) -> Workshop {
    let shop = Workshop::new();
    shop.write("kiosk.toml", KIOSK);
    shop.place("site/index.html", page);
    shop.place("site/css/site.css", sheet);
    shop.place(
        "site/sans.ttf",
        std::fs::read(shop.path("sans.ttf")).expect("a font"),
    );
    shop.place(
        "site/text.ttf",
        std::fs::read(shop.path("text.ttf")).expect("a font"),
    );
    shop
}

fn strings<'a>(list: &'a Value, key: &str) -> Vec<&'a str> {
    let list = list.as_array().expect("a list").iter();
    list.map(|one| one[key].as_str().expect("a text")).collect()
}

#[test]
fn every_stack_of_the_pages_is_built_and_how_to_put_it_in_is_said() {
    let shop = shop(PAGE, SHEET);
    let json = shop
        .run("build site --platform kiosk.toml --for looks --json")
        .json();
    let stacks = json["stacks"].as_array().expect("stacks");
    assert_eq!(stacks.len(), 1, "the heading's stack has no web font");
    let built = &stacks[0];
    assert_eq!(built["role"], "body");
    // The further web font stays where it was, before what is installed.
    assert_eq!(
        strings(&built["stack"], "kind"),
        ["web", "kept", "stand-in", "local", "generic"]
    );
    assert_eq!(built["stack"][1]["family"], "Skerrymark Text");
    let changes = &json["put_in"]["changes"];
    assert_eq!(
        strings(changes, "then"),
        [
            "--face: var(--body-stack)",
            "font: 700 14px/1.4 var(--body-stack) !important",
            "font-family: var(--body-stack)",
        ]
    );
    assert_eq!(strings(changes, "file")[0], "site/css/site.css");
    assert_eq!(
        (&changes[0]["line"], &changes[0]["column"]),
        (&4.into(), &9.into())
    );
    let replaced = &json["put_in"]["replaced"];
    assert_eq!(strings(replaced, "family"), ["Skerrymark Sans"]);
    assert_eq!(replaced[0]["lines"], serde_json::json!([1]));
    assert_eq!(replaced[0]["whole"], false);
}

#[test]
fn pages_that_were_changed_as_told_have_nothing_left_to_change() {
    let shop = shop(PAGE, SHEET);
    let build = "build site --platform kiosk.toml --for looks -o site/stacks.css";
    let told = shop.run(build);
    assert_eq!(told.status, 0, "{}{}", told.out, told.err);
    for line in [
        "1. Link site/stacks.css",
        "2. Change 3 declarations",
        "3. Take out",
    ] {
        assert!(told.out.contains(line), "{line}: {}", told.out);
    }
    let json = shop
        .run("build site --platform kiosk.toml --for looks --json")
        .json();
    let texts = |file: &str| shop.read(file);
    let (mut page, mut sheet) = (texts("site/index.html"), texts("site/css/site.css"));
    for change in json["put_in"]["changes"].as_array().expect("changes") {
        let (now, then) = (change["now"].as_str(), change["then"].as_str());
        let (now, then) = (now.expect("a text"), then.expect("a text"));
        let text = match change["file"].as_str() {
            Some("site/index.html") => &mut page,
            _ => &mut sheet,
        };
        assert!(text.contains(now), "{now}");
        *text = text.replace(now, then);
    }
    let sheet = sheet.replacen(
        "@font-face { font-family: \"Skerrymark Sans\"; src: url(../sans.ttf); }",
        "",
        1,
    );
    let page = page.replace("<style>", "<link rel=stylesheet href=stacks.css><style>");
    shop.write("site/index.html", page);
    shop.write("site/css/site.css", sheet);
    // The pages are set in what was built: each stand-in is there.
    let cover = shop
        .run("cover site --platform kiosk.toml --styles --json")
        .json();
    let families = cover["styled"].to_string();
    assert!(
        families.contains("Skerrymark Sans via Quaydesk UI"),
        "{families}"
    );
    let shift = shop.run("shift site --platform kiosk.toml --json").json();
    let score = shift["pages"][0]["windows"][0]["score"].as_f64();
    assert!(score.is_none_or(|score| score < 0.01), "{score:?}");
}

#[rstest]
#[case::rules_in_the_page(
    "<style>@font-face { font-family: Own; src: url(sans.ttf) } p { font-family: Own, serif }</style><p>Tide tables",
    "Own"
)]
#[case::signs_before(
    "<style>@font-face { font-family: Tide; src: url(/sans.ttf) } \
     @font-face { font-family: Arrows; src: url(arrows.ttf) } \
     p { font-family: Arrows, Tide, serif }</style><p>Tide tables",
    "Tide"
)]
fn families_are_found_where_they_are_declared(#[case] page: &str, #[case] family: &str) {
    let shop = shop(page, SHEET);
    let arrows = tidy_lattice_demo::file("fonts/Lanternsign.ttf").expect("a demo font");
    shop.place("site/arrows.ttf", arrows);
    let json = shop
        .run("build site/index.html --platform kiosk.toml --for looks --json")
        .json();
    assert_eq!(json["stacks"][0]["web"]["family"], family);
    assert_eq!(
        json["stacks"][0]["stack"]
            .as_array()
            .map(|all| all.last().map(|one| one["family"].clone())),
        Some(Some("serif".into()))
    );
    let then = strings(&json["put_in"]["changes"], "then");
    assert!(then[0].ends_with("var(--body-stack)"), "{then:?}");
    assert_eq!(then[0].contains("Arrows"), page.contains("Arrows"));
}

#[test]
fn what_was_read_for_a_hosted_sheet_is_told_as_links_to_take_out() {
    let page = PAGE.replace(
        "<link",
        "<link rel=stylesheet href=\"https://fonts.example/css?family=Skerrymark\"><link",
    );
    let sheet = SHEET.replace(
        "@font-face { font-family: \"Skerrymark Sans\"; src: url(../sans.ttf); }",
        "",
    );
    let shop = shop(&page, &sheet);
    shop.place("kept/all.css", "@import \"400.css\";");
    shop.place(
        "kept/400.css",
        "@font-face { font-family: \"Skerrymark Sans\"; src: url(../sans.ttf) }",
    );
    let told = shop.run(
        "build site --platform kiosk.toml --for looks --map https://fonts.example/=kept/all.css -o o.css",
    );
    assert_eq!(told.status, 0, "{}{}", told.out, told.err);
    assert!(
        told.out.contains("the links to https://fonts.example/"),
        "{}",
        told.out
    );
    assert!(!told.out.contains("kept/400.css"), "{}", told.out);
}

#[rstest]
#[case::from_the_root("/", "url(\"/sans.ttf\")")]
#[case::elsewhere(
    "https://static.example/a b/",
    "url(\"https://static.example/a b/sans.ttf\")"
)]
fn urls_begin_as_the_user_says(#[case] base: &str, #[case] url: &str) {
    let shop = shop(PAGE, SHEET);
    let args = [
        "build",
        "site",
        "--platform",
        "kiosk.toml",
        "--for",
        "looks",
        "--url-base",
        base,
    ];
    let run = shop.run_with(args, "");
    assert_eq!(run.status, 0, "{}", run.err);
    assert!(run.out.contains(url), "{}", run.out);
}

#[rstest]
#[case::no_web_font("<p style=\"font-family: Arial\">x", "build site", "are set in Arial")]
#[case::on_the_network(
    "<link rel=stylesheet href=\"https://fonts.example/a.css\"><p style=\"font-family: Tide\">x",
    "build site",
    "--map"
)]
#[case::not_there("x", "build nowhere", "nowhere: there is no such page")]
#[case::no_page("x", "build notes.txt", "notes.txt: without --web")]
#[case::a_text("x", "build --text Tide", "name it with --web")]
#[case::no_pages_in_it("x", "build kept", "kept")]
fn what_makes_no_stack_is_one_error_with_a_way_out(
    #[case] page: &str,
    #[case] command: &str,
    #[case] told: &str,
) {
    let shop = shop(page, SHEET);
    shop.write("notes.txt", "Tide");
    shop.place("kept/readme.bin", "x");
    let run = shop.run(command);
    assert!(run.status == 2 || run.status == 3, "{}", run.status);
    assert_eq!(run.out, "");
    assert!(run.err.contains(told), "{}", run.err);
    assert_eq!(run.err.matches("error:").count(), 1, "{}", run.err);
}

#[test]
fn a_further_font_with_the_same_letters_comes_behind_the_stand_ins() {
    let shop = shop(PAGE, &SHEET.replace("unicode-range: U+370-4FF;", ""));
    let run = shop.run("build site --platform kiosk.toml --for looks --json");
    let json = run.json();
    let built = &json["stacks"][0];
    assert_eq!(
        strings(&built["stack"], "kind"),
        ["web", "stand-in", "kept", "local", "generic"]
    );
    let codes = strings(&built["notes"], "code");
    assert!(codes.contains(&"kept-behind-stand-ins"), "{codes:?}");
    // Held to the web font's characters, the stand-in leaves the others to the further font.
    let held = built["stand_ins"][0]["faces"][0]["held_to"].as_str();
    let held = held.expect("a range");
    assert!(held.starts_with("U+20-7E"), "{held}");
    let css = json["css"].as_str().expect("CSS");
    assert!(css.contains(&format!("unicode-range: {held};")), "{css}");
    shop.write("stacks.css", css);
    let stack = built["font_family"].as_str().expect("a stack");
    let trace = shop
        .command()
        .args(["trace", "ferry Ψαρά", "--css", "site/css/site.css"])
        .args(["--css", "stacks.css", "--stack", stack])
        .args(["--before-load", "--platform", "kiosk.toml", "--json"])
        .output();
    let trace = Run::of(trace.expect("a run")).json();
    let pieces = trace["platforms"][0]["pieces"].as_array().expect("pieces");
    let served = |text: &str| {
        let piece = pieces
            .iter()
            .find(|piece| piece["text"].as_str().is_some_and(|own| own.contains(text)));
        piece.expect("a piece")["font"]["family"].clone()
    };
    assert_eq!(served("ferry"), "Skerrymark Sans via Quaydesk UI");
    assert_ne!(served("Ψαρά"), "Skerrymark Sans via Quaydesk UI");
}

/// One file that is gone took all families of its style sheet with it.
#[test]
fn a_family_whose_file_is_gone_does_not_hide_the_others() {
    let gone = format!("{SHEET}@font-face {{ font-family: Icons; src: url(../gone.woff2); }}\n");
    let shop = shop(PAGE, &gone);
    let run = shop.run("build site --platform kiosk.toml");
    assert_eq!(run.status, 0, "{}", run.err);
    for told in [
        "body keeps Skerrymark Text behind it",
        "Icons is left as it is: site/css/site.css: line 7: ",
        "gone.woff2",
    ] {
        assert!(run.err.contains(told), "{told}: {}", run.err);
    }
    let described = shop.run("describe site/css/site.css --json");
    assert_eq!(described.status, 1, "{}", described.err);
    let json = described.json();
    assert_eq!(
        strings(&json["families"], "family"),
        ["Skerrymark Sans", "Skerrymark Text"]
    );
    let unreadable = &json["unreadable"][0];
    assert_eq!(unreadable["file"], "site/css/site.css");
    let reason = unreadable["reason"].as_str().expect("a reason");
    assert!(reason.starts_with("Icons: line 7: "), "{reason}");
    // Cut is what was asked for, or nothing.
    shop.run("trim site/css/site.css --language en -o out")
        .failed(3, &["gone.woff2"]);
}

#[test]
fn a_project_without_web_fonts_may_build_from_its_pages() {
    let shop = shop(PAGE, SHEET);
    shop.write(
        "tidy-lattice.toml",
        "[[content]]\nfiles = [\"site/**/*.html\"]\n[role.body]\nstack = \"Arial\"\n",
    );
    shop.run("build")
        .failed(2, &["no role has a web font", "tidy-lattice build site"]);
}

#[test]
fn settings_of_the_project_file_hold_for_named_pages() {
    let shop = shop(PAGE, SHEET);
    shop.write(
        "tidy-lattice.toml",
        "platforms = [\"kiosk.toml\"]\n[build]\nfor = \"looks\"\naim = \"no-late-change\"\n\
         url_base = \"/f\"\noutput = \"own.css\"\n[role.other]\nstack = \"Arial\"\n",
    );
    let run = shop.run("build site");
    assert_eq!(run.status, 0, "{}", run.err);
    assert!(
        !shop.path("own.css").exists(),
        "that is for the project's own roles"
    );
    assert!(run.out.contains("font-display: optional"), "{}", run.out);
    assert!(run.out.contains("url(\"/f/"), "{}", run.out);
    assert!(run.out.contains("via Quaydesk UI"), "{}", run.out);
}
