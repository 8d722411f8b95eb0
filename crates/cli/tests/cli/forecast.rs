//! `forecast`.

use rstest::rstest;

use crate::workshop::Workshop;

/// Faces in slices: 400 and 700 upright and 400 italic, each with Latin letters and a
/// blank (a), Greek (g) and Latin letters with marks (x).
const SHEET: &str = "\
@font-face { font-family: Brand; src: url(400g.ttf); unicode-range: U+370-3FF; }
@font-face { font-family: Brand; src: url(400x.ttf); unicode-range: U+100-17F; }
@font-face { font-family: Brand; src: url(400a.ttf); unicode-range: U+0-FF; }
@font-face { font-family: Brand; src: url(700x.ttf); font-weight: 700; unicode-range: U+100-17F; }
@font-face { font-family: Brand; src: url(700a.ttf); font-weight: 700; unicode-range: U+0-FF; }
@font-face { font-family: Brand; src: url(italic-g.ttf); font-style: italic; unicode-range: U+370-3FF; }
@font-face { font-family: Brand; src: url(italic-a.ttf); font-style: italic; unicode-range: U+0-FF; }
";

fn site() -> Workshop {
    let workshop = Workshop::new();
    let text = tidy_lattice_demo::file("fonts/SkerrymarkText-Regular.ttf").expect("a demo font");
    for name in [
        "400g", "400x", "400a", "700x", "700a", "italic-g", "italic-a",
    ] {
        workshop.write(&format!("{name}.ttf"), text);
    }
    workshop.write("fonts.css", SHEET);
    workshop
}

fn page(workshop: &Workshop, style: &str, body: &str) {
    workshop.write(
        "page.html",
        format!(
            "<!doctype html><meta charset=utf-8><title>t</title><link rel=stylesheet \
             href=fonts.css><style>body {{ font-family: Brand, serif }}{style}</style><body>{body}"
        ),
    );
}

fn fetched(workshop: &Workshop, engine: &str) -> String {
    let arguments =
        format!("forecast page.html --engine {engine} --viewport desktop -p gnome --json");
    let json = workshop.run(&arguments).json();
    let files = json["pages"][0]["files"].as_array().expect("files");
    let mut names: Vec<String> = (files.iter())
        .map(|file| {
            let path = file["file"].as_str().expect("a file");
            path.rsplit('/')
                .next()
                .unwrap_or(path)
                .trim_end_matches(".ttf")
                .to_owned()
        })
        .collect();
    names.sort();
    names.join(" ")
}

/// What Chromium 156 and Firefox 153 fetched of such pages.
#[rstest]
#[case::text("<p>abc</p>", "400a", "400a")]
#[case::empty_box_in_a_line("<p>abc<i></i></p>", "400a italic-a", "400a italic-a")]
#[case::blank_in_a_box("<p>abc <i> </i>d</p>", "400a italic-a", "400a italic-a")]
#[case::box_alone("<p>abc</p><p><i></i></p>", "400a italic-a", "400a italic-a")]
#[case::inline_block(
    "<p>abc <b style='display:inline-block;width:5px;height:5px'></b></p>",
    "400a",
    "400a 700a"
)]
#[case::field(
    "<p>abc <input style='font:italic 16px Brand'></p>",
    "400a italic-a",
    "400a italic-a"
)]
#[case::words_of_a_slice("<p>αβ γδ</p>", "400a 400g", "400a 400g")]
#[case::word_of_a_slice("<p>αβγδ</p>", "400g", "400a 400g")]
#[case::picture("<p>abc</p><b><img src=x width=5></b>", "400a 700a", "400a 700a")]
#[case::float("<p>abc <i style='float:left'></i></p>", "400a", "400a italic-a")]
#[case::outside_of_all_ranges("<p>ą <b>→</b></p>", "400a 400x 700a", "400a 400x 700a")]
#[case::only_bold_in_a_line("<p><b>abc</b></p>", "400a 700a", "400a 700a")]
#[case::hidden("<b style='visibility:hidden'>x</b>", "400a 700a", "400a 700a")]
#[case::not_there("x<b style='display:none'>x</b>", "400a", "400a")]
#[case::block_of_blocks(
    "<b style='display:block'><p style='font-weight:400'>x</p></b>",
    "400a",
    "400a 700a"
)]
#[case::empty_block("x<b style='display:block'></b>", "400a", "400a 700a")]
#[case::flexible(
    "x<b style='display:flex'><span style='font-weight:400'>x</span></b>",
    "400a",
    "400a"
)]
#[case::grid(
    "<b style='display:grid'><p style='font-weight:400'>x</p></b>x",
    "400a",
    "400a"
)]
#[case::nested(
    "<p style='font-weight:400'>x<b><span style='font-weight:400'>y</span></b>",
    "400a 700a",
    "400a 700a"
)]
#[case::cell(
    "x<table><tr><td style='font-weight:700'></td></tr></table>",
    "400a",
    "400a 700a"
)]
#[case::choice(
    "x<select style='font:700 16px Brand'></select>",
    "400a 700a",
    "400a 700a"
)]
#[case::tick("x<input type=checkbox style='font:700 16px Brand'>", "400a", "400a")]
#[case::value(
    "abc<input value='ąć' style='font:700 16px Brand'>",
    "400a 700a 700x",
    "400a 700a 700x"
)]
#[case::placeholder(
    "abc<input placeholder='ąć' style='font:700 16px Brand'>",
    "400a 700a 700x",
    "400a 700a 700x"
)]
#[case::placeholder_in_its_style(
    "<style>::placeholder { font: italic 16px Brand }</style>abc<input placeholder='αβ'>",
    "400a italic-g",
    "400a italic-a italic-g"
)]
#[case::value_before_placeholder(
    "abc<input value='a' placeholder='ąć' style='font:16px Brand'>",
    "400a",
    "400a"
)]
#[case::several_lines(
    "abc<textarea style='font:700 16px Brand'>ąć</textarea>",
    "400a 700x",
    "400a 700a 700x"
)]
#[case::no_password_is_drawn(
    "abc<input type=password value='ąć' style='font:700 16px Brand'>",
    "400a 700a",
    "400a 700a"
)]
#[case::a_date_is_the_browsers(
    "abc<input type=date placeholder='ąć' style='font:700 16px Brand'>",
    "400a 700a",
    "400a 700a"
)]
#[case::other_family("x<b style='font-family:serif'>b</b>", "400a", "400a")]
#[case::unknown_family("<p style='font-family: Nowhere, Brand'>abc</p>", "400a", "400a")]
#[case::out_of_flow("x<b style='position:absolute'></b>", "400a", "400a 700a")]
fn it_is_what_browsers_fetched(#[case] body: &str, #[case] chromium: &str, #[case] firefox: &str) {
    let workshop = site();
    page(&workshop, "", body);
    assert_eq!(fetched(&workshop, "chromium"), chromium);
    assert_eq!(fetched(&workshop, "firefox"), firefox);
}

#[test]
fn an_installed_face_that_local_names_is_not_fetched() {
    let workshop = site();
    workshop.write(
        "fonts.css",
        "@font-face { font-family: Brand; src: local('Arial'), url(400a.ttf); }",
    );
    page(&workshop, "", "<p>abc</p>");
    let files = |platform: &str| {
        let arguments = format!("forecast page.html --viewport desktop -p {platform} --json");
        let json = workshop.run(&arguments).json();
        json["pages"][0]["files"].as_array().expect("files").len()
    };
    assert_eq!((files("windows"), files("android")), (0, 1));
    // Platforms that differ are told apart.
    let run = workshop.run("forecast page.html --viewport desktop -p windows,android");
    assert!(
        run.out.contains("Windows") && run.out.contains("Android"),
        "{}",
        run.out
    );
}

#[test]
fn media_conditions_count() {
    let workshop = site();
    page(
        &workshop,
        "@media (max-width: 600px) { b { display: none } }",
        "<p>abc</p><b>x</b>",
    );
    let run = workshop.run("forecast page.html --viewport phone,desktop -p gnome --json");
    let pages = run.json()["pages"].as_array().expect("pages").clone();
    assert_eq!(pages.len(), 2, "{pages:?}");
}

#[test]
fn what_is_fetched_for_little_or_never_is_told() {
    let workshop = site();
    page(
        &workshop,
        "",
        "<p>A longer text of the harbour office</p><p><b>ok</b></p>",
    );
    let run = workshop.run("forecast page.html --viewport desktop -p gnome");
    assert_eq!(run.status, 0, "{}", run.err);
    for said in [
        "700a.ttf is fetched for 2 characters only: k o",
        "Declared, and fetched by no page: 5 files",
        "rel=\"preload\" as=\"font\" type=\"font/ttf\" href=\"400a.ttf\" crossorigin",
    ] {
        assert!(run.out.contains(said), "{said}\n{}", run.out);
    }
}

#[test]
fn a_face_that_has_nothing_of_the_text_is_fetched_in_vain() {
    let workshop = site();
    workshop.write(
        "fonts.css",
        "@font-face { font-family: Brand; src: url(400a.ttf); }",
    );
    page(&workshop, "", "<p>漢字</p>");
    let run = workshop.run("forecast page.html --viewport desktop -p gnome");
    assert!(run.out.contains("shows nothing here"), "{}", run.out);
}

#[rstest]
#[case::flag("--budget 10k", None, 1)]
#[case::wide("--budget 1m", None, 0)]
#[case::project("", Some("[forecast]\nbudget = \"10k\"\n"), 1)]
#[case::flag_wins("--budget 1m", Some("[forecast]\nbudget = \"10k\"\n"), 0)]
fn a_budget_is_kept_or_not(#[case] flag: &str, #[case] project: Option<&str>, #[case] status: i32) {
    let workshop = site();
    page(&workshop, "", "<p>abc</p>");
    if let Some(project) = project {
        workshop.write("tidy-lattice.toml", project);
    }
    let run = workshop.run(&format!(
        "forecast page.html --viewport desktop -p gnome {flag}"
    ));
    assert_eq!(run.status, status, "{}{}", run.out, run.err);
    assert_eq!(
        run.out.contains("above the budget"),
        status == 1,
        "{}",
        run.out
    );
}

#[test]
fn what_cannot_be_read_is_said_to_be_not_known() {
    let workshop = site();
    workshop.write(
        "fonts.css",
        "@font-face { font-family: Brand; src: url(https://fonts.example/b.woff2); }",
    );
    page(&workshop, "", "<p>abc</p>");
    let run = workshop.run("forecast page.html --viewport desktop -p gnome");
    assert!(run.out.contains("+ not known"), "{}", run.out);
    let run = workshop.run("forecast page.html --viewport desktop -p gnome --budget 1m");
    assert_eq!(run.status, 1, "{}", run.out);
    assert!(run.out.contains("is not known for 1 page"), "{}", run.out);
    assert!(
        run.out.contains("https://fonts.example/b.woff2"),
        "{}",
        run.out
    );
}

#[test]
fn a_sheet_on_the_network_leaves_it_open() {
    let workshop = site();
    workshop.write(
        "page.html",
        "<!doctype html><link rel=stylesheet href=https://fonts.example/css><p>abc</p>",
    );
    let run = workshop.run("forecast page.html --viewport desktop -p gnome");
    assert!(run.out.contains("besides what is not known"), "{}", run.out);
    assert!(run.out.contains("https://fonts.example/css"), "{}", run.out);
    assert!(
        run.out.contains("what it declares is not known"),
        "{}",
        run.out
    );
}

#[test]
fn preloads_have_their_urls_from_the_page() {
    let workshop = site();
    std::fs::create_dir_all(workshop.path("a/b")).expect("folders");
    workshop.write(
        "a/fonts.css",
        "@font-face { font-family: Brand; src: url(../400a.ttf?v=2#iefix); }",
    );
    workshop.write(
        "a/b/page.html",
        "<!doctype html><link rel=stylesheet href=../fonts.css><p style='font-family: Brand'>abc",
    );
    let run = workshop.run("forecast a/b/page.html --viewport desktop -p gnome");
    assert!(
        run.out.contains("href=\"../../400a.ttf?v=2\""),
        "{}",
        run.out
    );
}

#[test]
fn wrong_budgets_and_missing_pages_are_told() {
    let workshop = site();
    page(&workshop, "", "<p>abc</p>");
    (workshop.run("forecast page.html --budget much")).failed(2, &["the budget much"]);
    (workshop.run("forecast nowhere.html")).failed(3, &["nowhere.html"]);
    (workshop.run("forecast")).failed(2, &["there is no page"]);
}

#[rstest]
#[case::within("budget = \"200k\"\nfiles = 3\nfamilies = 2", &[])]
#[case::bytes("budget = \"50k\"", &["bytes-over-budget", "than the 50k that it may"])]
#[case::files("files = 1", &["files-over-budget", "It fetches 3 font files", "and 1 is allowed"])]
#[case::families("families = 0", &["files-over-budget", "It fetches 1 family of fonts", "and 0 are allowed"])]
fn check_holds_pages_to_what_they_may_fetch(#[case] rules: &str, #[case] says: &[&str]) {
    let workshop = site();
    page(&workshop, "", "<p>abc <b>ąę abc</b>");
    workshop.write(
        "tidy-lattice.toml",
        format!(
            "platforms = [\"gnome\", \"windows\"]\n[[content]]\nfiles = [\"page.html\"]\n[forecast]\n{rules}\n"
        ),
    );
    let run = workshop.run("check");
    assert_eq!(
        run.out.contains("-over-budget"),
        !says.is_empty(),
        "{}",
        run.out
    );
    for part in says {
        assert!(run.out.contains(part), "{part}: {}", run.out);
    }
    // Once a page, however many windows and platforms there are.
    assert!(run.out.matches("-over-budget").count() <= 1, "{}", run.out);
}

#[test]
fn what_is_not_known_keeps_to_no_budget() {
    let workshop = site();
    workshop.write(
        "page.html",
        "<!doctype html><link rel=stylesheet href=https://fonts.example/css><p>abc</p>",
    );
    workshop.write(
        "tidy-lattice.toml",
        "platforms = [\"gnome\"]\n[[content]]\nfiles = [\"page.html\"]\n[forecast]\nbudget = \"1m\"\n",
    );
    let run = workshop.run("check");
    assert!(run.out.contains("bytes-over-budget"), "{}", run.out);
    assert!(
        run.out.contains("is not known, so it keeps to no budget"),
        "{}",
        run.out
    );
    let allowed = "[[check.allow]]\ncode = \"bytes-over-budget\"\nbecause = \"hosted\"\n";
    let project = workshop.read("tidy-lattice.toml");
    workshop.write("tidy-lattice.toml", format!("{project}{allowed}"));
    assert!(!workshop.run("check").out.contains("bytes-over-budget"));
}

#[test]
fn a_page_over_its_budget_in_one_window_is_told_once() {
    let workshop = site();
    page(
        &workshop,
        "@media (max-width: 600px) { b { display: none } }",
        "<p>abc <b>ąę abc</b>",
    );
    workshop.write(
        "tidy-lattice.toml",
        "platforms = [\"gnome\", \"windows\"]\n[[content]]\nfiles = [\"page.html\"]\n[forecast]\nfiles = 1\n",
    );
    let run = workshop.run("check");
    assert_eq!(
        run.out.matches("files-over-budget").count(),
        1,
        "{}",
        run.out
    );
    assert!(
        run.out.contains("It fetches 3 font files on GNOME (tablet"),
        "{}",
        run.out
    );
    assert!(
        run.out.contains(" and 3 more, and 1 is allowed"),
        "{}",
        run.out
    );
}

#[test]
fn how_far_a_font_is_to_find_is_told() {
    let workshop = site();
    workshop.write("late.css", "@import url(later.css);");
    workshop.write(
        "later.css",
        "@font-face { font-family: Late; src: url(700a.ttf); }",
    );
    workshop.write(
        "page.html",
        "<!doctype html><link rel=stylesheet href=fonts.css><link rel=stylesheet href=late.css>\
         <style>@font-face { font-family: Own; src: url(italic-a.ttf); }</style>\
         <p style='font-family: Brand'>a<p style='font-family: Late'>b<p style='font-family: Own'>c",
    );
    let json = workshop
        .run("forecast page.html --viewport desktop -p gnome --json")
        .json();
    let files = json["pages"][0]["files"].as_array().expect("files");
    let mut found: Vec<(&str, u64)> = (files.iter())
        .map(|file| {
            let family = file["family"].as_str().expect("a family");
            (family, file["found_after"].as_u64().expect("a number"))
        })
        .collect();
    found.sort_unstable();
    assert_eq!(found, [("Brand", 2), ("Late", 3), ("Own", 1)]);
    let run = workshop.run("forecast page.html --viewport desktop -p gnome");
    assert!(run.out.contains("page, sheet, import"), "{}", run.out);
}

#[test]
fn what_is_not_packed_is_told_with_what_travels() {
    let workshop = site();
    page(&workshop, "", "<p>abc</p>");
    let run = workshop.run("forecast page.html --viewport desktop -p gnome");
    assert!(run.out.contains("It is not packed"), "{}", run.out);
    let json = workshop
        .run("forecast page.html --viewport desktop -p gnome --json")
        .json();
    let file = &json["unpacked"][0];
    let (plain, gzip) = (file["bytes"].as_u64(), file["gzip"].as_u64());
    assert!(gzip > Some(1000) && gzip < plain, "{file}");
    // What is packed already travels as it lies.
    let cut = workshop.run("trim 400a.ttf --text abc --margin text -o cut");
    assert_eq!(cut.status, 0, "{}", cut.err);
    workshop.write(
        "page.html",
        "<!doctype html><link rel=stylesheet href=cut/fonts.css>\
         <p style='font-family: \"Skerrymark Text\"'>abc",
    );
    let run = workshop.run("forecast page.html --viewport desktop -p gnome");
    assert!(
        run.out.contains("woff2") && !run.out.contains("not packed"),
        "{}",
        run.out
    );
}

#[test]
fn pages_of_languages_and_platforms_that_differ_are_summed_apart() {
    let workshop = site();
    page(&workshop, "", "<p>abc</p>");
    let polish = workshop.read("page.html").replace("<body>", "<body>ą");
    workshop.write("pl.html", polish.replace("<meta", "<html lang=pl><meta"));
    workshop.write(
        "fonts.css",
        format!("{SHEET}@font-face {{ font-family: Own; src: local(Arial), url(700a.ttf); }}"),
    );
    let own = workshop.read("page.html").replace("Brand, serif", "Own");
    workshop.write("own.html", own);
    let json = workshop
        .run("forecast page.html pl.html own.html --viewport desktop -p windows,android --json")
        .json();
    let sums = |list: &str| -> Vec<(String, u64, u64)> {
        let sums = json[list].as_array().expect("sums").iter();
        let sum = |sum: &serde_json::Value| {
            let of = sum["of"].as_str().unwrap_or("-").to_owned();
            (
                of,
                sum["pages"].as_u64().expect("a number"),
                sum["files"].as_u64().expect("a number"),
            )
        };
        sums.map(sum).collect()
    };
    assert_eq!(
        sums("languages"),
        [("-".to_owned(), 2, 2), ("pl".to_owned(), 1, 2)]
    );
    assert_eq!(
        sums("platforms"),
        [("Windows".to_owned(), 3, 2), ("Android".to_owned(), 3, 3)]
    );
}

const PROJECT: &str = "\
platforms = [\"gnome\"]
sheets = [\"fonts.css\"]
[[content]]
files = [\"*.html\"]
[[content]]
files = [\"messages/*.txt\"]
role = \"app\"
[role.app]
stack = \"Brand, sans-serif\"
web = [\"400a.ttf\"]
family = \"Brand\"
";

#[test]
fn what_cut_fonts_would_fetch_stands_beside() {
    let workshop = site();
    page(&workshop, "", "<p>abc</p>");
    workshop.write(
        "tidy-lattice.toml",
        PROJECT.replace("web = [\"400a.ttf\"]", "web = [\"fonts.css\"]"),
    );
    std::fs::create_dir_all(workshop.path("messages")).expect("a folder");
    workshop.write("messages/en.txt", "abc");
    let run = workshop.run("forecast --after-trim --viewport desktop --json");
    assert_eq!(run.status, 0, "{}", run.err);
    let page = &run.json()["pages"][0];
    let (before, after) = (page["bytes"].as_u64(), page["after_trim"]["bytes"].as_u64());
    assert!(
        after > Some(500) && after < before.map(|bytes| bytes / 3),
        "{page}"
    );
    let shown = workshop.run("forecast --after-trim --viewport desktop");
    assert!(shown.out.contains("after trim"), "{}", shown.out);
    let bare = Workshop::new();
    bare.write("page.html", "abc");
    let run = bare.run("forecast page.html --after-trim");
    run.failed(2, &["--after-trim", "tidy-lattice.toml"]);
}

#[test]
fn an_app_grows_by_each_language_of_its_texts() {
    let workshop = site();
    workshop.write("tidy-lattice.toml", PROJECT);
    page(&workshop, "", "<p>abc</p>");
    std::fs::create_dir_all(workshop.path("messages")).expect("a folder");
    workshop.write("messages/en.txt", "The harbour office is open");
    workshop.write("messages/el.txt", "Το γραφείο είναι ανοιχτό");
    let json = workshop.run("forecast --app --json").json();
    let languages = json["app"]["languages"].as_array().expect("languages");
    let of = |tag: &str| {
        let mut all = languages.iter();
        let one = all.find(|one| one["language"] == tag).expect("a language");
        (
            one["alone"].as_u64().expect("bytes"),
            one["adds"].as_u64().expect("bytes"),
        )
    };
    let (english, greek) = (of("en"), of("el"));
    let (whole, cut) = (json["app"]["bytes"].as_u64(), json["app"]["cut"].as_u64());
    assert!(greek.0 > 1000 && english.0 > 1000, "{languages:?}");
    // Latin letters are in both, as addresses and numbers need them.
    assert!(greek.1 > english.1, "{languages:?}");
    assert!(cut < whole && cut > Some(greek.0), "{json}");
    let shown = workshop.run("forecast --app");
    assert!(shown.out.contains("adds to the others"), "{}", shown.out);
    Workshop::new()
        .run("forecast --app")
        .failed(2, &["--app", "project"]);
}

/// No URL leads above the root of its site.
#[test]
fn a_url_ends_at_the_root() {
    let workshop = site();
    std::fs::create_dir_all(workshop.path("site/css")).expect("folders");
    workshop.write(
        "site/css/fonts.css",
        "@font-face { font-family: Brand; src: url(../../../../400a.ttf); }",
    );
    let font = std::fs::read(workshop.path("400a.ttf")).expect("a font");
    workshop.write("site/400a.ttf", font);
    workshop.write(
        "site/page.html",
        "<!doctype html><link rel=stylesheet href=../../css/fonts.css><p style='font-family: Brand'>abc",
    );
    let run =
        workshop.run("forecast site/page.html --root site --viewport desktop -p gnome --json");
    let files = run.json()["pages"][0]["files"].clone();
    assert!(
        files[0]["file"]
            .as_str()
            .is_some_and(|file| file.ends_with("site/400a.ttf")),
        "{files}"
    );
    // What is nowhere is told as it is named.
    workshop.write(
        "site/gone.html",
        "<link rel=stylesheet href=../../css/none.css><p>abc",
    );
    let run = workshop.run("forecast site/gone.html --root site --viewport desktop -p gnome");
    assert!(
        run.err.contains("none.css") || run.out.contains("none.css"),
        "{}{}",
        run.out,
        run.err
    );
}

#[test]
fn of_many_pages_those_that_fetch_most_are_listed() {
    let workshop = site();
    std::fs::create_dir_all(workshop.path("many")).expect("a folder");
    for number in 0..60 {
        workshop.write(&format!("many/{number}.html"), "<p>abc");
    }
    workshop.write(
        "many/heavy.html",
        "<link rel=stylesheet href=../fonts.css><p style='font-family: Brand'>abc",
    );
    let run = workshop.run("forecast many --viewport desktop -p gnome");
    assert!(
        run.out.contains("heavy.html") && run.out.contains("21 more"),
        "{}",
        run.out
    );
    let run = workshop.run("forecast many --viewport desktop -p gnome --all");
    assert!(
        run.out.contains("many/59.html") && !run.out.contains("more, which"),
        "{}",
        run.out
    );
}
