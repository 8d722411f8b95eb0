//! `cover`.

use rstest::rstest;

use crate::workshop::Workshop;

#[test]
fn a_text_that_shows_is_clean() {
    let run = Workshop::new().run_with(["cover", "-f", "sans.ttf", "--text", "Årø, 5 €"], "");
    assert_eq!(run.status, 0, "{}", run.err);
    assert!(
        run.out
            .contains("Every character shows: the stack serves all 6 clusters."),
        "{}",
        run.out
    );
}

#[test]
fn gaps_are_findings_with_character_name_and_place() {
    let workshop = Workshop::new();
    workshop.write("a.txt", "fine\nso far क, क");
    let run = workshop.run("cover -f sans.ttf -f text.ttf a.txt");
    assert_eq!(run.status, 1);
    for part in [
        "क",
        "U+0915",
        "DEVANAGARI LETTER KA",
        "a.txt:2:8",
        "Devanagari",
        "Skerrymark Text",
    ] {
        assert!(run.out.contains(part), "{part}: {}", run.out);
    }
    assert!(!run.out.contains('\u{1b}'), "no colour in a pipe");
}

#[test]
fn json_has_everything_and_names_its_schema() {
    let run = Workshop::new().run_with(
        [
            "cover",
            "--json",
            "-f",
            "sans.ttf",
            "-f",
            "text.ttf",
            "-t",
            "aΩ Ωक",
        ],
        "",
    );
    let json = run.json();
    assert_eq!(json["schema"], "tidy-lattice/cover/1");
    assert_eq!(
        (run.status, &json["clusters"], &json["gap_clusters"]),
        (1, &4.into(), &1.into())
    );
    assert_eq!(json["fonts"][1]["serves"], 2);
    assert_eq!(json["fonts"][1]["share"], 0.5);
    assert_eq!(json["rows"][0]["group"], "Greek");
    assert_eq!(json["rows"][0]["cells"][0]["covers"], 0);
    assert_eq!(json["gaps"][0]["characters"][0]["code_point"], "U+0915");
    assert_eq!(json["gaps"][0]["cause"]["kind"], "missing");
}

#[rstest]
#[case::dash(&["cover", "-f", "sans.ttf", "-"])]
#[case::piped(&["cover", "-f", "sans.ttf"])]
fn text_comes_from_standard_input(#[case] arguments: &[&str]) {
    let run = Workshop::new().run_with(arguments.iter().copied(), "ж");
    assert_eq!(run.status, 1);
    assert!(run.out.contains("standard input:1:1"), "{}", run.out);
}

#[test]
fn many_gaps_of_a_script_are_one_line_and_all_on_demand() {
    let workshop = Workshop::new();
    let text: String = ('\u{4e00}'..'\u{4e20}').collect();
    workshop.write("han.txt", &text);
    let short = workshop.run("cover -f sans.ttf han.txt").out;
    for part in [
        "32 different",
        "Han: no font of the stack has it",
        "--all lists each cluster",
    ] {
        assert!(short.contains(part), "{part}: {short}");
    }
    assert!(!short.contains("U+4E1F"));
    assert!(
        workshop
            .run("cover -f sans.ttf --all han.txt")
            .out
            .contains("U+4E1F")
    );
}

#[test]
fn a_font_that_is_not_needed_is_told() {
    let run = Workshop::new().run_with(
        ["cover", "-f", "sans.ttf", "-f", "text.ttf", "-t", "abc"],
        "",
    );
    assert!(
        run.out.contains("Skerrymark Text serves nothing here"),
        "{}",
        run.out
    );
}

#[test]
fn a_font_without_a_character_map_is_told_and_serves_nothing() {
    let workshop = Workshop::new();
    // The table is there under a name that nobody reads.
    let font = tidy_lattice_demo::file("fonts/Lanternsign.ttf")
        .expect("a font")
        .to_vec();
    let at = font
        .windows(4)
        .position(|tag| tag == b"cmap")
        .expect("a cmap");
    let mut without = font;
    without[at..at + 4].copy_from_slice(b"cmaq");
    workshop.write("empty.ttf", without);
    let run = workshop.run_with(["cover", "-f", "empty.ttf", "-t", "→"], "");
    assert_eq!(run.status, 1);
    assert!(
        run.err.contains("Lanternsign has no Unicode character map"),
        "{}",
        run.err
    );
}

#[test]
fn a_name_that_would_steer_the_terminal_does_not() {
    let workshop = Workshop::new();
    workshop.write("x.txt", "a\u{202e}\u{1b}[31mक");
    let run = workshop.run("cover -f sans.ttf x.txt");
    assert!(!run.out.contains(['\u{1b}', '\u{202e}']));
}

#[test]
fn an_endless_cluster_is_cut_short() {
    let workshop = Workshop::new();
    workshop.write("zalgo.txt", format!("a{}", "\u{334}\u{35f}".repeat(50_000)));
    let run = workshop.run("cover -f sans.ttf zalgo.txt");
    assert_eq!(run.status, 1);
    assert!(run.out.len() < 5_000, "{} bytes", run.out.len());
    assert!(run.out.contains("U+0061 U+0334 U+035F"), "{}", run.out);
    let json = workshop.run("cover --json -f sans.ttf zalgo.txt").json();
    assert_eq!(
        json["gaps"][0]["characters"].as_array().map(Vec::len),
        Some(64)
    );
}

#[test]
fn of_markup_only_what_shows_counts() {
    let workshop = Workshop::new();
    workshop.write(
        "page.html",
        "<p title=漢>ok</p><!-- 漢 --><script>漢</script>",
    );
    workshop.write(
        "m.json",
        r#"{"漢": "{n, plural, one {ok} few {漢} other {ok}}"}"#,
    );
    workshop.write("m.md", "[ok](漢)\n\n[x]: /漢\n");
    let run = workshop.run("cover -f sans.ttf page.html m.md m.json --json");
    let json = run.json();
    assert_eq!(
        json["gap_clusters"], 2,
        "the tooltip, and a form, as no language is said"
    );
    let run = workshop.run("cover -f sans.ttf en/m.json");
    assert_eq!(run.status, 3);
    std::fs::create_dir(workshop.path("en")).expect("a folder");
    std::fs::rename(workshop.path("m.json"), workshop.path("en/m.json")).expect("moved");
    assert_eq!(workshop.run("cover -f sans.ttf en/m.json").status, 0);
}

#[test]
fn the_same_run_prints_the_same_bytes() {
    let workshop = Workshop::new();
    workshop.write("a.txt", "αβγ ابج אבג क ख 漢字 ア");
    let run = || workshop.run("cover --json -f sans.ttf a.txt").out;
    assert_eq!(run(), run());
}
