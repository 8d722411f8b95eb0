//! Web fonts in slices: a face may be many files.

use crate::workshop::Workshop;

/// The text font as a font service ships it: two files with ranges, of which the later
/// holds what is asked for most.
const SHEET: &str = "\
@font-face {font-family: 'Sea Text'; font-weight: 400; font-display: swap;
  src: url(far.ttf) format('truetype'); unicode-range: U+0370-052F}
@font-face {font-family: 'Sea Text'; font-weight: 400; font-display: swap;
  src: url(near.ttf) format('truetype'), url(near.woff) format('woff'); unicode-range: U+0000-024F, U+2000-20CF}
";

fn shop() -> Workshop {
    let shop = Workshop::new();
    let font = std::fs::read(shop.path("text.ttf")).expect("a font");
    shop.write("near.ttf", &font);
    shop.write("far.ttf", &font);
    shop.write("sea.css", SHEET);
    shop.write(
        "text.txt",
        "The tide turns. Вода поднимается. Η θάλασσα.\n".repeat(30),
    );
    shop
}

#[test]
fn a_stack_from_a_sheet_keeps_files_ranges_and_their_order() {
    let shop = shop();
    let run = shop.run("build --web sea.css --local quaydesk.ttf --for looks -o css.css text.txt");
    assert!(run.status <= 1, "{}{}", run.out, run.err);
    let css = shop.read("css.css");
    let far = css.find("url(\"far.ttf\")").expect("the far file");
    let near = css.find("url(\"near.ttf\")").expect("the near file");
    assert!(far < near, "{css}");
    let ranges = [
        "unicode-range: U+370-52F;",
        "unicode-range: U+0-24F, U+2000-20CF;",
    ];
    assert!(ranges.iter().all(|range| css.contains(range)), "{css}");
    // One family by the name that the sheet gives it, one stand-in over all of it.
    assert!(
        css.contains("font-family: \"Sea Text\"") && !css.contains("Skerrymark Text\""),
        "{css}"
    );
    assert_eq!(
        css.matches("font-family: \"Sea Text via Quaydesk UI\"")
            .count(),
        1,
        "{css}"
    );
}

#[test]
fn slices_are_measured_as_the_whole_file_is() {
    let shop = shop();
    let options = "--local quaydesk.ttf --json text.txt";
    let width = |web: &str| {
        let run = shop.run(&format!("build --web {web} {options}"));
        let json = run.json();
        json["stacks"][0]["stand_ins"][0]["faces"][0]["width"]["after"]["word_mean"]
            .as_f64()
            .unwrap_or_else(|| panic!("{}{}", run.out, run.err))
    };
    let (whole, sliced) = (width("text.ttf"), width("sea.css"));
    assert!((whole - sliced).abs() < 0.05, "{whole} and {sliced}");
}

#[test]
fn plain_files_of_one_face_are_told_and_do_not_overlap() {
    let shop = shop();
    let run = shop.run(
        "build --web near.ttf --web far.ttf --local quaydesk.ttf --for looks -o css.css text.txt",
    );
    assert!(run.err.contains("2 files are one face"), "{}", run.err);
    // The second has nothing that the first has not.
    assert!(run.err.contains("far.ttf adds no character"), "{}", run.err);
    let css = shop.read("css.css");
    assert!(
        !css.contains("far.ttf") && !css.contains("unicode-range"),
        "{css}"
    );
    let rules = css.matches("@font-face").count();
    assert_eq!(rules, 2, "the web font and its stand-in: {css}");
}

#[test]
fn other_ways_to_serve_a_page_know_faces_in_slices() {
    let shop = shop();
    shop.write(
        "q.toml",
        "title = \"Q\"\nfonts = [\"quaydesk.ttf\"]\n[generic]\nserif = \"Quaydesk UI\"",
    );
    let text = "The tide turns. Вода поднимается. ".repeat(20);
    shop.write(
        "page.html",
        format!(
            "<link rel=stylesheet href=sea.css><p style=\"font: 20px 'Sea Text', 'Quaydesk UI'\">{text}"
        ),
    );
    let shift = "shift page.html --platform q.toml --viewport phone --variant slices=6 --json";
    let json = shop.run(shift).json();
    let number = |value: &serde_json::Value| value.as_f64().expect("a number");
    let (plain, sliced) = (
        number(&json["cells"][0]["lines_broken"]),
        number(&json["variants"][0]["lines_broken"][0]),
    );
    assert!(
        sliced < plain,
        "{sliced} lines break elsewhere, {plain} as it is"
    );
}

#[test]
fn rank_measures_against_all_files_of_a_face() {
    let shop = shop();
    let score = |web: &str| {
        let run = shop.run(&format!("rank {web} quaydesk.ttf -f text.txt --json"));
        run.json()["candidates"][0]["score"]
            .as_f64()
            .unwrap_or_else(|| panic!("{}{}", run.out, run.err))
    };
    assert!((score("sea.css") - score("text.ttf")).abs() < 0.5);
}

#[test]
fn a_sheet_of_several_families_must_be_told_apart() {
    let shop = shop();
    shop.write(
        "two.css",
        format!("{SHEET}@font-face {{font-family: Other; src: url(near.ttf)}}"),
    );
    shop.run("build --web two.css --local quaydesk.ttf text.txt")
        .failed(3, &["two.css", "Sea Text, Other", "--family"]);
    let run = shop.run("build --web two.css --family Other --local quaydesk.ttf text.txt");
    assert!(
        run.out.contains("font-family: Other") || run.out.contains("\"Other\""),
        "{}",
        run.out
    );
    shop.write("none.css", "p {color: red}");
    shop.run("build --web none.css --local quaydesk.ttf text.txt")
        .failed(3, &["none.css", "no @font-face"]);
}
