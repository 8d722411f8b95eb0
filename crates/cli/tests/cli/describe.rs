//! `describe`.

use rstest::rstest;

use crate::workshop::Workshop;

#[test]
fn a_page_leads_with_what_people_ask_first() {
    let run = Workshop::new().run("describe sans.ttf");
    assert_eq!(run.status, 0, "{}", run.err);
    let places: Vec<usize> = ["Kind", "Writes", "Characters", "Line", "Rights", "Feature"]
        .iter()
        .map(|part| {
            run.out
                .find(part)
                .unwrap_or_else(|| panic!("{part}: {}", run.out))
        })
        .collect();
    assert!(places.is_sorted());
    assert!(run.out.lines().count() <= 50, "it fits a page");
    for part in [
        "ff ffi ffl fi fl",
        "font-variant-numeric: tabular-nums",
        "x-height 500",
    ] {
        assert!(run.out.contains(part), "{part}: {}", run.out);
    }
}

#[rstest]
#[case("en,sv", 0, "2 languages: English, Swedish")]
#[case("uk", 1, "not")]
#[case("pl", 1, "letters missing for: Polish (without Ą ą Ć ć…)")]
fn languages_that_are_asked_decide_the_status(
    #[case] tags: &str,
    #[case] status: i32,
    #[case] says: &str,
) {
    let run = Workshop::new().run(&format!("describe sans.ttf --language {tags}"));
    assert_eq!(run.status, status, "{}", run.out);
    assert!(run.out.contains(says), "{}", run.out);
}

#[test]
fn letters_without_shaping_are_visible_at_a_glance() {
    let workshop = Workshop::new();
    workshop.write(
        "plain.ttf",
        tidy_lattice_demo::file("installed/Driftplain-Regular.ttf").expect("the font"),
    );
    let run = workshop.run("describe plain.ttf --language ar");
    assert_eq!(run.status, 1);
    assert!(
        run.out.contains("has the letters, cannot write: Arabic"),
        "{}",
        run.out
    );
    assert!(run.out.contains("joining missing"), "{}", run.out);
}

#[test]
fn a_folder_tells_its_good_files_and_names_the_bad_ones() {
    let workshop = Workshop::new();
    workshop.write("broken.ttf", b"\0\x01\0\0 cut short");
    workshop.write("page.woff2", b"<!doctype html>");
    let run = workshop.run("describe . --json");
    assert_eq!(run.status, 1);
    let json = run.json();
    assert_eq!(json["faces"].as_array().expect("faces").len(), 4);
    let unreadable = json["unreadable"].as_array().expect("files");
    assert_eq!(unreadable.len(), 2);
    assert!(
        unreadable[1]["reason"]
            .as_str()
            .expect("a reason")
            .contains("a web page")
    );
    let view = workshop.run("describe .").out;
    assert!(
        view.contains("Quaydesk UI") && view.contains("page.woff2: "),
        "{view}"
    );
}

#[rstest]
#[case("sheet.svg", b"<svg")]
#[case("sheet.png", b"\x89PNG")]
fn a_picture_is_drawn_and_only_ours_is_overwritten(#[case] name: &str, #[case] starts: &[u8]) {
    let workshop = Workshop::new();
    let draw = || workshop.run(&format!("describe sans.ttf --picture {name}"));
    assert_eq!(draw().status, 0);
    let picture = std::fs::read(workshop.path(name)).expect("a picture");
    assert!(picture.starts_with(starts) && picture.len() > 20_000);
    assert_eq!(draw().status, 0, "our own picture may be overwritten");
    assert_eq!(
        std::fs::read(workshop.path(name)).expect("a picture"),
        picture,
        "same bytes"
    );
    workshop.write(name, "somebody else's");
    draw().failed(4, &["was not written by tidy-lattice", "--force"]);
}

#[rstest]
#[case("describe nothing.ttf", 3, &["nothing.ttf", "no such file"])]
#[case("describe Nosuchfamily", 2, &["no installed family"])]
#[case("describe sans.ttf --language xx", 2, &["xx", "BCP 47", "sr-Latn"])]
#[case("describe sans.ttf --picture sheet.gif", 2, &["sheet.gif", ".svg or .png"])]
#[case("describe sans.ttf text.ttf --picture a.png", 2, &["one face", "2 files"])]
#[case("describe sans.ttf --text-language tlh", 2, &["tlh", "words are counted of af, ar"])]
#[case("describe sans.ttf@Bold", 3, &["not variable"])]
fn wrong_questions_get_one_helpful_line(
    #[case] arguments: &str,
    #[case] status: i32,
    #[case] says: &[&str],
) {
    Workshop::new().run(arguments).failed(status, says);
}

#[test]
fn a_font_that_is_cut_short_is_called_damaged_before_anything_else() {
    let workshop = Workshop::new();
    let whole = tidy_lattice_demo::file("fonts/SkerrymarkSans-Regular.ttf").expect("the font");
    workshop.write("cut.ttf", &whole[..3000]);
    let run = workshop.run("describe cut.ttf");
    assert_eq!(run.status, 1);
    let place = |part: &str| run.out.find(part).expect("the part");
    assert!(place("Damaged") < place("Kind"), "{}", run.out);
    assert!(
        run.out.contains("the glyf table lies outside the file"),
        "{}",
        run.out
    );
}

#[test]
fn a_style_sheet_is_described_by_its_families() {
    let workshop = Workshop::new();
    workshop.write(
        "fonts.css",
        "@font-face { font-family: Brand; src: url(sans.ttf); unicode-range: U+0-17F }
         @font-face { font-family: Brand; src: url(text.ttf); unicode-range: U+370-52F }",
    );
    let run = workshop.run("describe fonts.css --language en,el,uk,hi");
    assert_eq!(run.status, 1, "{}", run.err);
    for part in [
        "Brand\n",
        "weight 400, upright",
        "3 of 4 languages: English, Greek, Ukrainian; not: Hindi",
        "in 2 files",
    ] {
        assert!(run.out.contains(part), "{part}: {}", run.out);
    }
    // No slice writes Greek and English, and the family does.
    let asked = workshop.run("describe fonts.css --language en,el --json");
    assert_eq!(asked.status, 0, "{}", asked.out);
    let family = &asked.json()["families"][0];
    assert_eq!(
        family["faces"][0]["files"].as_array().map(Vec::len),
        Some(2)
    );
}

#[test]
fn a_folder_is_described_by_its_families_first() {
    let workshop = Workshop::new();
    let run = workshop.run("describe .");
    assert_eq!(run.status, 0, "{}", run.err);
    let place = |part: &str| {
        run.out
            .find(part)
            .unwrap_or_else(|| panic!("{part}: {}", run.out))
    };
    assert!(place("Writes") < place("sans.ttf"));
    let families = workshop.run("describe . --json").json()["families"].clone();
    let names: Vec<&str> = families
        .as_array()
        .expect("families")
        .iter()
        .filter_map(|family| family["family"].as_str())
        .collect();
    assert_eq!(
        names,
        [
            "Pebbleroom",
            "Quaydesk UI",
            "Skerrymark Sans",
            "Skerrymark Text"
        ]
    );
}

#[test]
fn a_face_in_many_files_is_told_by_a_few() {
    let workshop = Workshop::new();
    let font = std::fs::read(workshop.path("text.ttf")).expect("a font");
    let mut sheet = String::new();
    for slice in 0..8 {
        workshop.write(&format!("{slice}.ttf"), &font);
        sheet += &format!(
            "@font-face {{ font-family: Text; src: url({slice}.ttf); unicode-range: U+{slice}00-{slice}FF }}\n"
        );
    }
    workshop.write("text.css", sheet);
    let out = workshop.run("describe text.css").out;
    assert!(
        out.contains("and 5 more files of Skerrymark Text 400"),
        "{out}"
    );
    assert!(out.contains("2.ttf") && !out.contains("3.ttf"), "{out}");
    assert!(
        workshop
            .run("describe text.css --all")
            .out
            .contains("7.ttf")
    );
}
