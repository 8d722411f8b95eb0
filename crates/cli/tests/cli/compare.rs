//! `compare`.

use rstest::rstest;

use crate::workshop::Workshop;

#[test]
fn faces_stand_side_by_side() {
    let run = Workshop::new().run("compare sans.ttf quaydesk.ttf windows:Georgia --all");
    assert_eq!(run.status, 0, "{}", run.err);
    for part in [
        "Skerrymark Sans",
        "Quaydesk UI",
        "Georgia",
        "is closest to Skerrymark Sans: the text is",
        "% longer, words",
        "equal at 91.91 % size",
        "not known",
        "made from Gelasio",
        "installed, nothing to load",
        "Vietnamese",
        "tnum",
    ] {
        assert!(run.out.contains(part), "{part}: {}", run.out);
    }
}

#[test]
fn a_text_of_ones_own_decides_the_widths() {
    let workshop = Workshop::new();
    workshop.write("fares.txt", "Illicit filling illicit");
    let width = |text: &str| {
        let json = workshop
            .run(&format!("compare sans.ttf quaydesk.ttf --json {text}"))
            .json();
        json["faces"][1]["fit"]["size_adjust"]
            .as_f64()
            .expect("a number")
    };
    assert!((width("--text-file fares.txt") - width("")).abs() > 1.0);
}

#[test]
fn a_picture_shows_the_word() {
    let workshop = Workshop::new();
    let run =
        workshop.run("compare sans.ttf quaydesk.ttf windows:Arial --word Fare --picture a.svg");
    assert_eq!(run.status, 0, "{}", run.err);
    assert!(workshop.read("a.svg").matches("<path").count() > 30);
}

#[rstest]
#[case("compare sans.ttf", 2, &["two or more"])]
#[case("compare sans.ttf windows:Tahoma", 2, &["known by name only", "record"])]
#[case("compare sans.ttf windows:Vardana", 2, &["no family", "Vardana"])]
#[case("compare sans.ttf --word x quaydesk.ttf", 2, &["--picture"])]
fn wrong_usage_is_told(#[case] arguments: &str, #[case] status: i32, #[case] says: &[&str]) {
    Workshop::new().run(arguments).failed(status, says);
}

#[rstest]
#[case(&["compare", "sans.ttf", "text.ttf", "--text", " "], "the text is empty")]
#[case(&["compare", "sans.ttf", "text.ttf", "--picture", "a.svg", "--word", ""], "the word is empty")]
fn nothing_to_measure_is_told(#[case] arguments: &[&str], #[case] says: &str) {
    let workshop = Workshop::new();
    workshop
        .run_with(arguments.iter().copied(), "")
        .failed(2, &[says]);
    assert!(workshop.new_files().is_empty());
}

/// Of Verdana somebody measured widths alone.
#[test]
fn a_card_of_widths_says_no_more_than_it_knows() {
    let run = Workshop::new().run("compare sans.ttf windows:Verdana --all");
    assert_eq!(run.status, 0, "{}", run.err);
    for part in [
        "nothing but the widths of single letters is known",
        "not known",
    ] {
        assert!(run.out.contains(part), "{part}: {}", run.out);
    }
    let json = Workshop::new()
        .run("compare sans.ttf windows:Verdana --json")
        .json();
    let verdana = &json["faces"][1];
    assert_eq!(verdana["only_widths"], true, "{json}");
    assert!(verdana["x_height"].is_null(), "{verdana}");
}
