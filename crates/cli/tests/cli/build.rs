//! `build`.

use crate::workshop::Workshop;

fn demo(path: &str) -> &'static [u8] {
    tidy_lattice_demo::file(path).expect("a demo font")
}

const BUILD: &str = "build --web sans.ttf --local quaydesk.ttf --local pebbleroom.ttf";

#[test]
fn css_goes_to_standard_output_and_the_report_beside_it() {
    let run = Workshop::new().run(&format!("{BUILD} --for looks --all"));
    assert_eq!(run.status, 0, "{}", run.err);
    assert!(run.out.starts_with("/* Made by tidy-lattice"));
    assert_eq!(run.out.matches("@font-face").count(), 3);
    assert!(
        run.out
            .contains("src: url(\"sans.ttf\") format(\"truetype\");")
    );
    assert!(run.out.contains("local(\"QuaydeskUI-Regular\")"));
    assert!(run.out.contains(
        "\"Skerrymark Sans\", \"Skerrymark Sans via Quaydesk UI\", \"Skerrymark Sans via Pebbleroom\", \"Quaydesk UI\", \"Pebbleroom\", sans-serif;"
    ));
    assert!(run.err.contains("177 of 177"), "{}", run.err);
}

#[test]
fn json_says_the_same_as_the_css() {
    let workshop = Workshop::new();
    let json = workshop
        .run(&format!("{BUILD} --json --size 16,20.5 --language pl"))
        .json();
    assert_eq!(json["schema"], "tidy-lattice/build/2");
    let stack = &json["stacks"][0];
    assert_eq!(stack["sizes"], serde_json::json!([16.0, 20.5]));
    assert_eq!(stack["sample"]["language"], "pl");
    let face = &stack["stand_ins"][0]["faces"][0];
    let css = json["css"].as_str().expect("css");
    for (descriptor, value) in [
        ("size-adjust", &face["width"]["slices"][0]["size_adjust"]),
        ("ascent-override", &face["lines"][0]["overrides"]["ascent"]),
    ] {
        assert!(
            css.contains(&format!("{descriptor}: {value}%;")),
            "{descriptor} {value}"
        );
    }
    assert_eq!(stack["stack"].as_array().map(Vec::len), Some(6));
    assert_eq!(stack["stack"][1]["kind"], "stand-in");
}

fn size_adjust(json: &serde_json::Value) -> f64 {
    let slice = &json["stacks"][0]["stand_ins"][0]["faces"][0]["width"]["slices"][0];
    slice["size_adjust"].as_f64().expect("a number")
}

#[test]
fn the_users_text_is_fitted_and_pins_can_be_left_out() {
    let workshop = Workshop::new();
    workshop.write("en.txt", "mammoth womb gnome");
    let own = workshop.run(&format!("{BUILD} --json en.txt")).json();
    let sample = workshop.run(&format!("{BUILD} --json")).json();
    assert_ne!(size_adjust(&own), size_adjust(&sample));
    assert_eq!(own["stacks"][0]["sample"]["sources"][0], "en.txt");
    let unpinned = workshop.run(&format!("{BUILD} --json --no-pin")).json();
    let stack = &unpinned["stacks"][0];
    assert!(stack["web"]["faces"][0]["pinned"].is_null());
    assert!(stack["stand_ins"][0]["faces"][0]["lines"][0]["off_in_firefox"].is_null());
}

#[test]
fn options_reach_the_sheet() {
    let workshop = Workshop::new();
    let arguments = [
        "build",
        "-w",
        "sans.ttf",
        "-l",
        "quaydesk.ttf",
        "--family",
        "Tern \"Brand\"",
        "--generic",
        "system-ui",
        "--url",
        "https://fonts.example/a.woff2",
        "--display",
        "optional",
        "--no-comments",
    ];
    let run = workshop.run_with(arguments, "");
    for part in [
        r#"font-family: "Tern \"Brand\"";"#,
        r#""Tern \"Brand\" via Quaydesk UI", "Quaydesk UI", system-ui;"#,
        "url(\"https://fonts.example/a.woff2\")",
        "font-display: optional;",
    ] {
        assert!(run.out.contains(part), "{part}: {}", run.out);
    }
    assert_eq!(
        run.out.matches("/*").count(),
        1,
        "the heading alone: {}",
        run.out
    );
    let aim = workshop.run(&format!("{BUILD} --aim brand-first"));
    assert!(aim.out.contains("font-display: block;"));
}

#[test]
fn slices_signs_and_scripts_come_from_flags() {
    let workshop = Workshop::new();
    workshop.write("lantern.ttf", demo("fonts/Lanternsign.ttf"));
    workshop.write("en.txt", "The ferry → leaves the pier at noon; паром Ψαρά.");
    let command = format!("{BUILD} --slices 3 --all --sign lantern.ttf --script text.ttf en.txt");
    let run = workshop.run(&command);
    assert!(
        run.out
            .contains("\"Skerrymark Sans signs of Lanternsign\", \"Skerrymark Sans\"")
    );
    assert!(run.out.contains("unicode-range: U+2192;"));
    assert!(run.out.contains("\"Skerrymark Sans with Skerrymark Text\""));
    assert_eq!(
        run.out.matches("local(\"QuaydeskUI-Regular\")").count(),
        3,
        "{}",
        run.out
    );
    assert!(run.err.contains("3 slices"), "{}", run.err);
    let ampersand = workshop.run_with(
        [
            "build",
            "-w",
            "sans.ttf",
            "-l",
            "quaydesk.ttf",
            "--sign",
            "text.ttf=&",
        ],
        "",
    );
    assert!(
        ampersand.out.contains("unicode-range: U+26;"),
        "{}",
        ampersand.out
    );
}

#[test]
fn platforms_give_their_closest_families() {
    let workshop = Workshop::new();
    let json = workshop
        .run("build --web sans.ttf --platform windows,android --json")
        .json();
    let stack = &json["stacks"][0];
    let platforms: Vec<&str> = stack["stand_ins"]
        .as_array()
        .expect("stand-ins")
        .iter()
        .flat_map(|stand_in| stand_in["platforms"].as_array().expect("platforms"))
        .filter_map(|platform| platform.as_str())
        .collect();
    assert!(
        platforms.contains(&"Windows") && platforms.contains(&"Android"),
        "{platforms:?}"
    );
    let css = json["css"].as_str().expect("css");
    assert!(css.contains("local(\"Roboto\")"), "{css}");
}

#[test]
fn results_come_in_other_forms() {
    let workshop = Workshop::new();
    let tokens = workshop
        .run(&format!("{BUILD} --as tokens --role Brand"))
        .json();
    assert_eq!(tokens["font"]["Brand"]["family"]["$type"], "fontFamily");
    let app = workshop.run(&format!("{BUILD} --as app")).json();
    assert_eq!(app["schema"], "tidy-lattice/app/1");
    assert_eq!(app["stacks"][0]["fonts"][1]["kind"], "stand-in");
    let plain = workshop.run(&format!("{BUILD} --as plain"));
    assert!(
        plain
            .out
            .contains("font-family: \"Quaydesk UI\", \"Pebbleroom\", sans-serif;"),
        "{}",
        plain.out
    );
    std::fs::create_dir(workshop.path("css")).expect("a folder");
    assert_eq!(workshop.run(&format!("{BUILD} --apart css")).status, 0);
    assert!(
        workshop
            .read("css/rules.css")
            .contains("url(\"../sans.ttf\")")
    );
    assert!(workshop.read("css/properties.css").contains(":root"));
    assert!(
        workshop
            .read("css/classes.css")
            .contains(".font-skerrymark-sans")
    );
    std::fs::create_dir(workshop.path("other")).expect("a folder");
    workshop.write("other/classes.css", "mine");
    workshop
        .run(&format!("{BUILD} --apart other"))
        .failed(4, &["classes.css", "--force"]);
    assert!(!workshop.path("other/rules.css").exists(), "all or none");
    let picture = workshop.run(&format!("{BUILD} --picture stand-in.svg"));
    assert_eq!(picture.status, 0, "{}", picture.err);
    assert!(workshop.read("stand-in.svg").starts_with("<svg"));
}

#[test]
fn a_project_builds_the_stacks_of_its_roles() {
    let workshop = Workshop::new();
    workshop.write(
        "texts.txt",
        "The ferry leaves the pier at noon.\n\nTickets → kiosk.",
    );
    workshop.write(
        "tidy-lattice.toml",
        "platforms = [\"windows\"]\n\
         [[content]]\nfiles = [\"texts.txt\"]\nrole = \"notices\"\n\
         [role.notices]\nweb = [\"sans.ttf\"]\nsizes = [16, 24]\nwidths = [320]\n\
         [role.titles]\nweb = [\"sans.ttf\"]\nsize = 40\n\
         [build]\noutput = \"stacks.css\"\naim = \"no-late-change\"\nslices = 2\n",
    );
    let run = workshop.run("build");
    assert!(
        run.out.contains("Written to stacks.css"),
        "{} {}",
        run.out,
        run.err
    );
    let css = workshop.read("stacks.css");
    assert!(css.contains("--notices-stack:") && css.contains("--titles-stack:"));
    assert_eq!(
        css.matches("url(\"sans.ttf\")").count(),
        1,
        "roles share their rules: {css}"
    );
    assert!(css.contains("font-display: optional;"));
    assert!(run.err.contains("role titles has no text"), "{}", run.err);
    workshop
        .run("build --role menus")
        .failed(2, &["no role \"menus\"", "notices, titles"]);
    workshop.write(
        "tidy-lattice.toml",
        "[role.a]\nstack = \"serif\"\n[build]\nslices = \"many\"",
    );
    workshop
        .run("build")
        .failed(3, &["tidy-lattice.toml", "off, auto, or a number"]);
    workshop.write("tidy-lattice.toml", "[role.a]\nstack = \"serif\"");
    workshop.run("build").failed(2, &["no role has a web font"]);
}

#[test]
fn the_url_leads_from_the_sheet_to_the_font() {
    let workshop = Workshop::new();
    std::fs::create_dir_all(workshop.path("site/css")).expect("a folder");
    let run = workshop.run(&format!("{BUILD} -o site/css/brand.css"));
    assert_eq!(run.status, 0, "{}", run.err);
    assert!(
        workshop
            .read("site/css/brand.css")
            .contains("url(\"../../sans.ttf\")")
    );
    assert!(
        run.out.contains("Written to site/css/brand.css"),
        "{}",
        run.out
    );
}

#[test]
fn only_own_files_are_overwritten() {
    let workshop = Workshop::new();
    let to_brand = format!("{BUILD} -o brand.css");
    assert_eq!(workshop.run(&to_brand).status, 0);
    assert_eq!(
        workshop.run(&format!("{to_brand} --size 12")).status,
        0,
        "its own file may be replaced"
    );
    workshop.write("brand.css", "body { color: red }");
    workshop.run(&to_brand).failed(
        4,
        &["brand.css", "was not written by tidy-lattice", "--force"],
    );
    assert_eq!(workshop.read("brand.css"), "body { color: red }");
    assert_eq!(workshop.run(&format!("{to_brand} --force")).status, 0);
    assert!(workshop.read("brand.css").starts_with("/* Made by"));
    assert_eq!(
        workshop.new_files(),
        ["brand.css"],
        "no temporary file is left"
    );
}

#[test]
fn an_output_that_cannot_be_written_is_told() {
    let workshop = Workshop::new();
    workshop
        .run(&format!("{BUILD} -o nowhere/brand.css"))
        .failed(4, &["nowhere/brand.css", "there is no folder nowhere"]);
    std::fs::create_dir(workshop.path("folder")).expect("a folder");
    workshop
        .run(&format!("{BUILD} -o folder"))
        .failed(4, &["this is a folder"]);
    workshop
        .run(&format!("{BUILD} -o sans.ttf/brand.css"))
        .failed(4, &["there is no folder sans.ttf"]);
    workshop
        .run("demo sans.ttf/demo")
        .failed(4, &["a part of this path is a file"]);
}

#[test]
fn a_size_that_cannot_agree_is_a_finding() {
    let workshop = Workshop::new();
    workshop.write("ahem.ttf", font_test_data::AHEM);
    let run = workshop.run_with(
        [
            "build",
            "--all",
            "-w",
            "ahem.ttf",
            "-l",
            "pebbleroom.ttf",
            "-t",
            "pXp",
        ],
        "",
    );
    assert_eq!(run.status, 1, "{}", run.err);
    assert!(
        run.err
            .contains("finding: at 16 px lines of Pebbleroom and Ahem differ in Firefox"),
        "{}",
        run.err
    );
    assert!(run.err.contains("web font's height at 8 px"), "{}", run.err);
}

#[test]
fn wrong_usage_is_told_before_any_work() {
    let workshop = Workshop::new();
    workshop
        .run(&format!("{BUILD} --size 0"))
        .failed(2, &["--size 0", "from 1 to 1000"]);
    workshop
        .run(&format!("{BUILD} --size NaN"))
        .failed(2, &["--size NaN"]);
    workshop
        .run(&format!("{BUILD} --generic Arial"))
        .failed(2, &["no generic family of CSS"]);
    workshop
        .run(&format!("{BUILD} --language tlh"))
        .failed(2, &["words are counted of af, ar"]);
    workshop
        .run("build")
        .failed(2, &["there is no web font", "--web"]);
    workshop
        .run(&format!("{BUILD} --slices 13"))
        .failed(2, &["a number from 1 to 12"]);
    workshop
        .run(&format!("{BUILD} --width 1"))
        .failed(2, &["--width 1"]);
    workshop
        .run(&format!("{BUILD} --taller 200"))
        .failed(2, &["--taller 200"]);
    workshop
        .run(&format!("{BUILD} --picture a.gif"))
        .failed(2, &["SVG or PNG"]);
}

#[test]
fn what_stand_ins_are_for_decides_about_slices() {
    let workshop = Workshop::new();
    let spread = |purpose: &str| {
        let run = workshop.run(&format!("{BUILD} --json {purpose}"));
        let width = &run.json()["stacks"][0]["stand_ins"][0]["faces"][0]["width"];
        let slices = width["slices"].as_array().map_or(0, Vec::len);
        (slices, width["spread"].as_f64().expect("a number"))
    };
    let (one, even) = spread("--for looks");
    assert_eq!((one, even), (1, 0.0));
    let (several, usual) = spread("");
    assert!(several > 1 && usual <= 4.0, "{several} {usual}");
    assert_eq!(spread("--for shift"), (several, usual));
    let (_, free) = spread("--for lines");
    assert!(free > usual && free <= 10.0, "{free}");
    // Numbers outweigh it.
    assert!(spread("--for lines --most-spread 2").1 <= 2.0);
    assert_eq!(spread("--for lines --slices off").0, 1);
}

#[test]
fn a_stated_line_height_leaves_slices_their_size_and_no_finding() {
    let workshop = Workshop::new();
    workshop.write("ahem.ttf", font_test_data::AHEM);
    let run = |more: &[&str]| {
        let named = [
            "build",
            "-w",
            "ahem.ttf",
            "-l",
            "pebbleroom.ttf",
            "-t",
            "pXp",
        ];
        workshop.run_with([&named[..], more].concat(), "")
    };
    assert!(
        run(&[]).err.contains("Heights: lines differ"),
        "{}",
        run(&[]).err
    );
    let declared = run(&["--line-height", "1.5"]);
    assert_eq!(declared.status, 0, "{}", declared.err);
    assert!(
        declared.err.contains("line-height is stated"),
        "{}",
        declared.err
    );
    run(&["--line-height", "0"]).failed(2, &["--line-height 0", "0.5 to 10"]);
}

#[test]
fn a_short_text_is_joined_and_that_is_said() {
    let workshop = Workshop::new();
    workshop.write(
        "en.txt",
        "The ferry leaves the pier at noon, and is back at five.",
    );
    let run = workshop.run(&format!("{BUILD} en.txt"));
    let said = "en.txt (12 words) and the most frequent words of language en";
    assert!(run.err.contains(said), "{}", run.err);
}

#[test]
fn pages_of_a_project_are_fitted_on_in_their_own_columns() {
    let workshop = Workshop::new();
    workshop.write(
        "page.html",
        "<!doctype html><html lang=en><link rel=stylesheet href=stacks.css>\
         <style>body { margin: 0; font-family: var(--text-stack); line-height: 1.5 } \
         h1 { font-size: 40px }</style>\
         <h1>Harbour notices for the week of the spring tide</h1>\
         <p>The harbour wakes before the town does, and the first boat is out at five.",
    );
    workshop.write(
        "tidy-lattice.toml",
        "title = \"Quay\"\n[role.text]\nweb = [\"sans.ttf\"]\nlocals = [\"quaydesk.ttf\"]\n\
         [[content]]\nfiles = [\"page.html\"]\n[build]\noutput = \"stacks.css\"\n",
    );
    let first = workshop.run("build");
    // A heading and a paragraph in three windows.
    assert!(
        first.out.contains("on 6 in the columns"),
        "{}{}",
        first.out,
        first.err
    );
    let css = workshop.read("stacks.css");
    let again = workshop.run("build");
    assert_eq!(again.status, first.status);
    // What was built has no say in what is built.
    assert_eq!(workshop.read("stacks.css"), css);
    let json = workshop.run("build --json").json();
    let stack = &json["stacks"][0];
    assert_eq!(stack["sizes"], serde_json::json!([16.0, 40.0]));
    assert_eq!(stack["texts_in_columns"], 6);
    assert_eq!(
        stack["stand_ins"][0]["faces"][0]["line_height_specified"],
        true
    );
}
