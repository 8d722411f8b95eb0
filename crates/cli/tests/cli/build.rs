//! `build`.

use crate::workshop::Workshop;

const BUILD: &str = "build --web sans.ttf --local quaydesk.ttf --local pebbleroom.ttf";

#[test]
fn css_goes_to_standard_output_and_the_report_beside_it() {
    let run = Workshop::new().run(BUILD);
    assert_eq!(run.status, 0, "{}", run.err);
    assert!(run.out.starts_with("/* Made by tidy-lattice"));
    assert_eq!(run.out.matches("@font-face").count(), 3);
    assert!(
        run.out
            .contains("src: url(\"sans.ttf\") format(\"truetype\");")
    );
    assert!(run.out.contains("local(\"QuaydeskUI-Regular\")"));
    assert!(run.out.contains(
        "\"Skerrymark Sans\", \"Skerrymark Sans via Quaydesk UI\", \"Skerrymark Sans via Pebbleroom\", sans-serif;"
    ));
    assert!(run.err.contains("177 of 177"), "{}", run.err);
}

#[test]
fn json_says_the_same_as_the_css() {
    let workshop = Workshop::new();
    let json = workshop
        .run(&format!("{BUILD} --json --size 16,20.5 --language pl"))
        .json();
    assert_eq!(json["schema"], "tidy-lattice/build/1");
    assert_eq!(json["sizes"], serde_json::json!([16.0, 20.5]));
    assert_eq!(json["sample"]["language"], "pl");
    let stand_in = &json["stand_ins"][0];
    let css = json["css"].as_str().expect("css");
    for (descriptor, value) in [
        ("size-adjust", &stand_in["width"]["size_adjust"]),
        ("ascent-override", &stand_in["lines"]["overrides"]["ascent"]),
    ] {
        assert!(
            css.contains(&format!("{descriptor}: {value}%;")),
            "{descriptor} {value}"
        );
    }
    assert_eq!(json["stack"].as_array().map(Vec::len), Some(4));
}

#[test]
fn the_users_text_is_fitted_and_pins_can_be_left_out() {
    let workshop = Workshop::new();
    workshop.write("en.txt", "mammoth womb gnome");
    let own = workshop.run(&format!("{BUILD} --json en.txt")).json();
    let sample = workshop.run(&format!("{BUILD} --json")).json();
    let adjust = |json: &serde_json::Value| json["stand_ins"][0]["width"]["size_adjust"].clone();
    assert_ne!(adjust(&own), adjust(&sample));
    assert_eq!(own["sample"]["sources"][0], "en.txt");
    let unpinned = workshop.run(&format!("{BUILD} --json --no-pin"));
    assert!(unpinned.json()["web"]["pinned"].is_null());
    assert!(unpinned.json()["stand_ins"][0]["lines"]["off_in_firefox"].is_null());
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
    ];
    let run = workshop.run_with(arguments, "");
    for part in [
        r#"font-family: "Tern \"Brand\"";"#,
        r#""Tern \"Brand\" via Quaydesk UI", system-ui;"#,
        "url(\"https://fonts.example/a.woff2\")",
        "font-display: optional;",
    ] {
        assert!(run.out.contains(part), "{part}: {}", run.out);
    }
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
    assert!(run.err.contains("no triple agrees at 8 px"), "{}", run.err);
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
        .failed(2, &["there is a sample for ar, cs"]);
    workshop.run("build --web sans.ttf").failed(2, &["--local"]);
}
