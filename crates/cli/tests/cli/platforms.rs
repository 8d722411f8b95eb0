//! `platforms`.

use rstest::rstest;

use crate::workshop::Workshop;

const KIOSK: &str = r#"
title = "Ticket kiosk"
fonts = ["quaydesk.ttf"]
[generic]
sans-serif = "Quaydesk UI"
[[family]]
name = "Somewhere Else"
class = "serif"
"#;

#[test]
fn all_are_listed_and_one_is_shown() {
    let workshop = Workshop::new();
    let all = workshop.run("platforms").out;
    for name in ["windows", "macos", "ios", "android", "gnome", "kde", "bare"] {
        assert!(all.contains(name), "{all}");
    }
    let one = workshop.run("platforms windows").out;
    assert!(
        one.contains("twin, Liberation Sans") && one.contains("name only"),
        "{one}"
    );
    let faces = workshop.run("platforms macos --faces").out;
    assert!(faces.contains("HelveticaNeue-Bold"), "{faces}");
}

#[test]
fn a_version_of_the_system_leaves_families_out() {
    let workshop = Workshop::new();
    let families = |version: &str| {
        let json = workshop
            .run(&format!(
                "platforms gnome --json --version-of-system {version}"
            ))
            .json();
        let families = json["platforms"][0]["families"]
            .as_array()
            .expect("families")
            .clone();
        let names = families
            .into_iter()
            .map(|f| f["name"].as_str().expect("a name").to_owned());
        names.collect::<Vec<_>>()
    };
    assert!(families("43").contains(&"Cantarell".to_owned()));
    assert!(!families("48").contains(&"Cantarell".to_owned()));
    workshop
        .run("platforms gnome --version-of-system 2")
        .failed(2, &["3.0, 40"]);
}

#[test]
fn a_file_of_ones_own_is_a_platform() {
    let workshop = Workshop::new();
    workshop.write("kiosk.toml", KIOSK);
    let page = workshop.run("platforms kiosk.toml").out;
    assert!(
        page.contains("Ticket kiosk") && page.contains("Quaydesk UI from quaydesk.ttf"),
        "{page}"
    );
    let run = workshop.run_with(["compare", "sans.ttf", "kiosk.toml:Quaydesk UI"], "");
    assert_eq!(run.status, 0, "{}", run.err);
    assert_eq!(workshop.run("record pebbleroom.ttf -o cards/").status, 0);
    workshop.write(
        "kiosk.toml",
        KIOSK.replace("[\"quaydesk.ttf\"]", "[\"quaydesk.ttf\", \"cards\"]"),
    );
    let page = workshop.run("platforms kiosk.toml").out;
    assert!(page.contains("Pebbleroom"), "{page}");
    let run = workshop.run_with(["cover", "-f", "kiosk.toml:Somewhere Else", "-t", "a"], "");
    run.failed(2, &["the faces of Somewhere Else are not known"]);
}

#[test]
fn the_catalogue_can_be_taken_out_and_replaced() {
    let workshop = Workshop::new();
    assert_eq!(workshop.run("platforms --export mine").status, 0);
    std::fs::remove_file(workshop.path("mine/windows.toml")).expect("the file");
    let listed = workshop.run("platforms --catalogue mine");
    assert_eq!(listed.status, 0, "{}", listed.err);
    assert!(listed.out.contains("macos") && !listed.out.contains("windows"));
    let original = workshop.run("platforms android --json").json();
    let replaced = workshop
        .run("platforms android --catalogue mine --json")
        .json();
    assert_eq!(original, replaced);
}

#[rstest]
#[case("platforms beos", &["beos", "windows, macos"])]
#[case("platforms --catalogue nowhere", &["nowhere"])]
#[case("platforms broken.toml", &["broken.toml", "line 1"])]
fn what_is_no_platform_is_told(#[case] arguments: &str, #[case] says: &[&str]) {
    let workshop = Workshop::new();
    workshop.write("broken.toml", "title = 3");
    let run = workshop.run(arguments);
    assert!(run.status == 2 || run.status == 3, "{}", run.out);
    run.failed(run.status, says);
}

#[test]
fn families_that_platforms_share_are_told_by_how_many() {
    let shop = Workshop::new();
    shop.write(
        "a.toml",
        "title = \"A\"\nfonts = [\"quaydesk.ttf\", \"pebbleroom.ttf\"]\n",
    );
    shop.write(
        "b.toml",
        "title = \"B\"\nversions = [\"1\", \"2\"]\n[alias]\n\"Quaydesk UI\" = \"Tidewell\"\n\
         [[family]]\nname = \"Tidewell\"\nclass = \"sans\"\nsince = \"2\"\n\
         [[family]]\nname = \"Driftless\"\nclass = \"serif\"\n",
    );
    let json = shop.run("platforms --common a.toml b.toml --json").json();
    let common = json["common"].as_array().expect("families");
    assert_eq!(common.len(), 1, "{common:?}");
    let one = &common[0];
    assert_eq!(one["name"], "Quaydesk UI");
    assert_eq!(one["on"][1]["shows"], "Tidewell");
    assert_eq!(one["on"][1]["since"], "2");
    assert!(
        one["x_height"]
            .as_f64()
            .is_some_and(|height| (0.5..0.6).contains(&height))
    );
    assert_eq!(one["known"]["how"], "measured");
    let told = shop.run("platforms --common a.toml b.toml");
    assert_eq!(told.status, 0);
    assert!(told.out.contains("A, B 2 (shows Tidewell)"), "{}", told.out);
    // One platform shares with nobody: all of its own are told.
    let alone = shop.run("platforms --common b.toml --json").json();
    assert_eq!(alone["common"].as_array().map(Vec::len), Some(3));
    // Of the built-in ones Arial is on most.
    let all = shop.run("platforms --common --json").json();
    assert_eq!(all["common"][0]["name"], "Arial");
}
