//! `shift`.

use rstest::rstest;
use serde_json::Value;

use crate::workshop::Workshop;

const PAGE: &str = "<!doctype html><html lang=en><style>
@font-face {font-family: Brand; src: url(sans.ttf); font-display: swap}
body {font: 18px/27px Brand, 'Quaydesk UI'; margin: 0 auto; max-width: 260px} h1 {text-align: center}
</style><h1>Timetable of the island ferries</h1>
<p id=a>Six islands, eleven crossings a day, and one ferry that always waits for the bus.</p>
<p style='columns: 2'>Two columns.</p><p id=z>The last crossing leaves at seven.</p>";

fn workshop() -> Workshop {
    let workshop = Workshop::new();
    workshop.write("page.html", PAGE);
    workshop.write("q.toml", "title = \"Q\"\nfonts = [\"quaydesk.ttf\"]");
    workshop
}

fn json(arguments: &str) -> Value {
    workshop().run(&format!("shift {arguments} --json")).json()
}

#[test]
fn a_page_is_told_for_every_window_and_platform() {
    let run = workshop().run("shift page.html --platform q.toml,windows");
    assert_eq!(run.status, 0, "{}", run.err);
    for part in [
        "phone 390×844",
        "tablet 820×1180",
        "desktop 1280×800",
        "The worst",
        "not laid out: column-count: 2",
    ] {
        assert!(run.out.contains(part), "{part}: {}", run.out);
    }
}

#[rstest]
#[case::missing("lost.woff2", "there is no such file", 1)]
#[case::damaged("cut.ttf", "", 1)]
#[case::remote("https://fonts.invalid/far.woff2", "it lies on the network", 0)]
fn fonts_that_cannot_be_had_are_told(#[case] url: &str, #[case] why: &str, #[case] status: i32) {
    let shop = workshop();
    let font = std::fs::read(shop.path("quaydesk.ttf")).expect("a font");
    shop.write("cut.ttf", &font[..2_000]);
    let page = format!(
        "<style>@font-face {{font-family: Brand; src: url({url})}} p {{font-family: Brand, \
         'Quaydesk UI'}}</style><p>Tide</p>"
    );
    shop.write("page.html", page);
    let run = shop.run("shift page.html --platform q.toml --viewport phone");
    assert_eq!(run.status, status, "{}", run.err);
    // It is not as if nothing moved.
    assert!(run.out.contains("not known") && !run.out.contains("0.0000"));
    assert!(
        run.err.contains("no file of \"Brand\" can be had"),
        "{}",
        run.err
    );
    assert!(
        run.err.contains(url) && run.err.contains(why),
        "{}",
        run.err
    );
}

#[test]
fn json_holds_scores_blocks_and_broken_lines() {
    let json = json("page.html --platform q.toml --viewport 400x600");
    assert_eq!(json["schema"], "tidy-lattice/shift/1");
    let cell = &json["cells"][0];
    let number = |name: &str| cell["score"][name].as_f64().expect("a number");
    let expected = number("impact") * number("distance") / 600.0;
    assert!(number("value") > 0.0);
    assert!((number("value") - expected).abs() < 1e-9, "{cell}");
    let blocks = cell["blocks"].as_array().expect("blocks");
    assert!(blocks.iter().all(|block| block["text"] != "Two columns."));
    let broken = blocks
        .iter()
        .flat_map(|block| block["broken"].as_array().expect("lines"));
    assert_eq!(
        broken.count() as u64,
        cell["lines_broken"].as_u64().expect("a number")
    );
}

#[test]
fn a_budget_decides_over_the_status() {
    let workshop = workshop();
    let over = workshop.run("shift page.html --platform q.toml --viewport 400x600 --budget 0");
    assert_eq!(over.status, 1, "{}", over.out);
    assert!(over.out.contains("above the budget of 0"), "{}", over.out);
    workshop.write(
        "tidy-lattice.toml",
        "[shift]\nbudget = 9\nviewports = [\"400x600\"]",
    );
    let within = workshop.run("shift page.html --platform q.toml");
    assert_eq!(within.status, 0, "{}", within.out);
    assert!(within.out.contains("400×600") && !within.out.contains("phone"));
}

#[test]
fn stand_ins_keep_lines_and_optional_keeps_all() {
    let arguments = "page.html --platform q.toml --viewport 400x600 --variants \
                     --variant fallback=Pebbleroom";
    let json = json(arguments);
    let score = |name: &str| {
        let rows = json["variants"].as_array().expect("rows");
        let row = rows.iter().find(|row| row["name"] == name).expect("a row");
        row["scores"][0].as_f64().expect("a score")
    };
    let as_it_is = json["cells"][0]["score"]["value"]
        .as_f64()
        .expect("a score");
    assert!(score("slices=6") < as_it_is, "{json}");
    assert_eq!(score("display=optional"), 0.0);
    assert!((score("plain") - as_it_is).abs() < 1e-12);
}

#[test]
fn texts_take_a_stack_and_widths() {
    let workshop = workshop();
    workshop.write(
        "s.css",
        "@font-face {font-family: Brand; src: url(sans.ttf)}",
    );
    workshop.write(
        "t.txt",
        "Six islands, eleven crossings a day.\n\nAnd one ferry.",
    );
    let arguments = "shift t.txt --css s.css --platform q.toml --size 18 --line-height 1.5 --width 160,320 --json --stack";
    let mut words: Vec<&str> = arguments.split(' ').collect();
    words.push("Brand, Quaydesk UI");
    let json = workshop.run_with(words, "").json();
    let windows: Vec<&Value> = json["cells"]
        .as_array()
        .expect("cells")
        .iter()
        .map(|cell| &cell["window"]["width"])
        .collect();
    assert_eq!(windows, [160.0, 320.0]);
    assert_eq!(json["cells"][1]["blocks_in_all"], 2);
}

#[test]
fn a_picture_is_drawn() {
    let workshop = workshop();
    let run = workshop.run("shift page.html --platform q.toml --viewport 400x600 --picture s.svg");
    assert_eq!(run.status, 0, "{}", run.err);
    assert!(workshop.read("s.svg").contains("Made by tidy-lattice"));
}

#[rstest]
#[case::no_page("shift nothing.html", 3, "no such file")]
#[case::viewport("shift page.html --viewport wide", 2, "phone, tablet or desktop")]
#[case::variant("shift page.html --variant slices=99", 2, "1 to 24")]
#[case::fonts("shift page.html -f sans.ttf", 2, "stacks of their own")]
#[case::size("shift page.html --size 12", 2, "sizes of their own")]
#[case::budget("shift page.html --budget=-1", 2, "0 or more")]
#[case::picture("shift page.html --picture x.gif", 2, ".svg or .png")]
#[case::line_height("shift --text a --stack Brand --line-height tall", 2, "1.5")]
#[case::prove_page("prove nothing.html", 3, "no such file")]
#[case::prove_platform("prove page.html --platform windows", 2, "no font file here")]
#[case::prove_timeout("prove page.html --platform q.toml --timeout 0", 2, "from 1 to 3600")]
#[case::prove_several(
    "prove page.html --platform q.toml --browser firefox,webkit --driver x",
    2,
    "one browser"
)]
#[case::prove_driver(
    "prove page.html --platform q.toml --driver ./no-such-driver",
    5,
    "does not start"
)]
#[case::prove_endpoint("prove page.html --endpoint http://127.0.0.1:9", 5, "gives no session")]
fn what_is_wrong_is_said(#[case] arguments: &str, #[case] status: i32, #[case] said: &str) {
    let run = workshop().run(arguments);
    assert_eq!(run.status, status, "{}", run.err);
    assert!(run.err.contains(said), "{}", run.err);
    assert!(run.out.is_empty());
}

#[test]
fn check_tells_a_page_that_moves_too_far_once() {
    let shop = Workshop::new();
    shop.write(
        "page.html",
        format!(
            "<!doctype html><html lang=en><style>@font-face {{font-family: Brand; src: url(sans.ttf); \
             font-display: swap}} p {{width: 300px; font: 20px/1.5 Brand, serif}}</style>{}",
            "<p>The harbour wakes before the town does, and the first boat is out at five.".repeat(20)
        ),
    );
    let project = |budget: f64| {
        format!(
            "platforms = [\"windows\", \"macos\"]\n[[content]]\nfiles = [\"page.html\"]\n\
             [shift]\nbudget = {budget}\n"
        )
    };
    shop.write("tidy-lattice.toml", project(0.001));
    let run = shop.run("check");
    assert_eq!(
        run.out.matches("shift-over-budget").count(),
        1,
        "{}",
        run.out
    );
    assert!(run.out.contains("It moves by 0."), "{}", run.out);
    assert!(run.out.contains("(and too far in "), "{}", run.out);
    shop.write("tidy-lattice.toml", project(1.0));
    assert!(!shop.run("check").out.contains("shift-over-budget"));
}

/// How much text a layout leaves out is told; where it is over a third, no score is.
#[test]
fn text_that_is_left_out_is_told_with_its_share() {
    let page = |kept: usize| {
        format!(
            "<style>@font-face {{ font-family: B; src: url(sans.ttf) }} body {{ font: 16px B, Quaydesk UI }} \
             #z {{ zoom: 2 }}</style><p>{}</p><div id=z>Ferries leave at noon</div>",
            "Ferries leave at noon. ".repeat(kept)
        )
    };
    let workshop = Workshop::new();
    workshop.write("much.html", page(1));
    workshop.write("little.html", page(9));
    workshop.write(
        "kiosk.toml",
        "title = \"Kiosk\"\nfonts = [\"quaydesk.ttf\"]\n",
    );
    let little = workshop.run("shift little.html --platform kiosk.toml --json");
    let shift = &little.json()["cells"][0];
    assert_eq!(shift["left_out"]["characters"], 18, "{}", little.out);
    assert_eq!(shift["left_out"]["most_in"], "div#z");
    assert!(shift["score"].is_object());
    let told = workshop.run("shift little.html --platform kiosk.toml").out;
    assert!(
        told.contains("9.5 % of the text is left out of these figures"),
        "{told}"
    );
    let much = workshop.run("shift much.html --platform kiosk.toml --json");
    let shift = &much.json()["cells"][0];
    assert!(shift["score"].is_null(), "{}", much.out);
    let why = shift["unknown"].as_str().expect("a reason");
    assert!(why.contains("over a third of the text"), "{why}");
}

/// Pages without a doctype fill the window (Quirks Mode Standard, §3.5).
#[rstest]
#[case::quirks("", 844.0)]
#[case::standard("<!doctype html>", 30.0)]
fn a_page_in_quirks_mode_fills_the_window(#[case] doctype: &str, #[case] height: f64) {
    let workshop = Workshop::new();
    workshop.write(
        "kiosk.toml",
        "title = \"Kiosk\"\nfonts = [\"quaydesk.ttf\"]\n",
    );
    workshop.write(
        "page.html",
        format!(
            "{doctype}<style>@font-face {{ font-family: B; src: url(sans.ttf) }} body {{ margin: 0; \
             font: 16px/30px B, Quaydesk UI }}</style>Ferries"
        ),
    );
    let run = workshop.run("shift page.html --platform kiosk.toml --json");
    assert_eq!(
        run.json()["cells"][0]["page_height"][0],
        height,
        "{}",
        run.out
    );
}

/// Georgia is known in width only: where its lines decide, nothing is told; where the style
/// states them, all is.
#[rstest]
#[case::its_own_lines("normal", false)]
#[case::declared("1.5", true)]
fn lines_that_nobody_measured_are_not_known(#[case] line_height: &str, #[case] known: bool) {
    let workshop = Workshop::new();
    let page = format!(
        "<!doctype html><style>@font-face {{font-family: Brand; src: url(sans.ttf)}}\
         p {{font: 18px Brand, Georgia, serif; line-height: {line_height}}}</style>\
         <p>The ferry to the outer islands leaves at seven and waits for nobody at all."
    );
    workshop.write("p.html", page);
    let run = workshop.run("shift p.html -p windows --viewport phone --json");
    let cell = run.json()["cells"][0].clone();
    assert_eq!(cell["score"].is_object(), known, "{cell}");
    assert_eq!(cell["guessed"] == 0, known, "{cell}");
}

/// The page with a project whose role builds its stack.
fn with_a_role() -> Workshop {
    let workshop = workshop();
    workshop.write(
        "tidy-lattice.toml",
        "platforms = [\"q.toml\"]\n[[content]]\nfiles = [\"page.html\"]\n\
         [role.body]\nfamily = \"Brand\"\nweb = [\"sans.ttf\"]\n\
         [shift]\nviewports = [\"400x600\"]\n",
    );
    workshop
}

#[test]
fn a_page_is_laid_out_with_the_stacks_that_would_be_built() {
    let workshop = with_a_role();
    let json = workshop.run("shift --variants --json").json();
    let as_it_is = json["cells"][0]["score"]["value"]
        .as_f64()
        .expect("a score");
    let built = &json["variants"][0];
    assert_eq!(built["name"], "built");
    let score = built["scores"][0].as_f64().expect("a score");
    assert!(as_it_is > 0.0 && score < as_it_is, "{score} {as_it_is}");
    let said = workshop.run("shift --variants").out;
    let first: Vec<&str> = said.lines().take(4).collect();
    assert!(
        first
            .join(" ")
            .contains(&format!("stacks with which it would be {score:.4} at most")),
        "{said}"
    );
    // What is predicted of stacks is what they do once they are put in.
    assert_eq!(workshop.run("build").status, 0);
    let page = workshop.read("page.html");
    let linked = page.replace(
        "<style>",
        "<link rel=stylesheet href=tidy-lattice.css><style>",
    );
    assert_ne!(page, linked);
    let stack = "Brand, 'Quaydesk UI'";
    assert!(linked.contains(stack));
    workshop.write("page.html", linked.replace(stack, "var(--body-stack)"));
    let after = workshop.run("shift --json").json();
    let after = after["cells"][0]["score"]["value"]
        .as_f64()
        .expect("a score");
    assert!((after - score).abs() < 1e-9, "{after} {score}");
}

#[test]
fn stacks_that_nobody_builds_cannot_be_tried() {
    workshop()
        .run("shift page.html --platform q.toml --variant built")
        .failed(2, &["built", "role", "web = "]);
}

#[test]
fn why_nothing_is_known_is_said_first() {
    let workshop = workshop();
    workshop.write(
        "hosted.html",
        "<link rel=stylesheet href=https://fonts.invalid/a.css><p style='font-family: A, Quaydesk UI'>Six islands",
    );
    let run = workshop.run("shift hosted.html --platform q.toml --viewport 400x600");
    let first: Vec<&str> = run.out.lines().take(4).collect();
    for part in [
        "No score is known",
        "https://fonts.invalid/a.css",
        "Next: --map",
    ] {
        assert!(first.join(" ").contains(part), "{part}: {}", run.out);
    }
    // What is not known is not 0.
    let rows =
        workshop.run("shift hosted.html --platform q.toml --viewport 400x600 --variant plain");
    let plain = rows
        .out
        .lines()
        .find(|line| line.trim_start().starts_with("plain"));
    assert!(
        plain.is_some_and(|line| line.ends_with("not known")),
        "{}",
        rows.out
    );
}

/// Stand-ins behind a web font in Firefox (measured in Firefox 153): which of them it shows
/// before the web font is there. Rules stand on one line, as in packed sheets.
#[rstest]
#[case::none_by_itself("", "<p>Tide and sea", &["Stand"])]
#[case::what_is_not_in_the_range("; unicode-range: U+0-7F", "<p>Tide and sea<p>€", &[])]
#[case::of_letters_that_are_not("; unicode-range: U+0-64, U+66-7F", "<p>Tide and sea", &[])]
#[case::what_stands_alone("", "<p>Tide and sea<p style='font-family: Stand'>a", &[])]
#[case::what_does_not_show("", "<p>Tide and sea<p hidden style='font-family: Stand'>a", &["Stand"])]
#[case::what_a_script_loads(
    "",
    "<script>document.fonts.forEach(f => f.load())</script><p>Tide and sea",
    &[]
)]
fn firefox_loads_no_local_face_behind_a_font_on_its_way(
    #[case] range: &str,
    #[case] body: &str,
    #[case] unloaded: &[&str],
) {
    let shop = workshop();
    let page = format!(
        "<!doctype html><style>@font-face {{font-family: Brand; src: url(sans.ttf); font-display: \
         swap{range}}} @font-face {{font-family: Stand; src: local(Quaydesk UI Regular), \
         local(QuaydeskUI-Regular); size-adjust: 150%}} @font-face {{font-family: Stand; src: \
         local(Quaydesk UI Regular), local(QuaydeskUI-Regular); size-adjust: 150%; unicode-range: \
         U+65}} p {{font: 20px Brand, Stand, 'Quaydesk UI'; width: fit-content}}</style>{body}"
    );
    shop.write("page.html", page);
    let cell = |engine: &str| {
        let options = "shift page.html --platform q.toml --viewport 600x400 --json --engine";
        shop.run(&format!("{options} {engine}")).json()["cells"][0].clone()
    };
    let (firefox, chromium) = (cell("firefox"), cell("chromium"));
    let told: Vec<&str> = firefox["unloaded"]
        .as_array()
        .map(|names| names.iter().filter_map(Value::as_str).collect())
        .unwrap_or_default();
    assert_eq!(told, unloaded);
    assert!(chromium["unloaded"].is_null());
    let before = |cell: &Value| cell["page_height"][0].as_f64().expect("px");
    // Lines of letters at one and a half of their size are 10 px higher.
    let as_high = (before(&firefox) - before(&chromium)).abs() < 4.0;
    assert_eq!(as_high, unloaded.is_empty(), "{firefox} {chromium}");
}
