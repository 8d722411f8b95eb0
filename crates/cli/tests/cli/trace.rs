//! `trace`.

use rstest::rstest;

use crate::workshop::Workshop;

const CSS: &str = "
@font-face {font-family: Brand; src: url(sans.ttf); font-display: block}
@font-face {font-family: Brand via Q; src: local('Quaydesk UI'), local(Arial)}
";

fn workshop() -> Workshop {
    let workshop = Workshop::new();
    workshop.write("s.css", CSS);
    workshop.write("q.toml", "title = \"Q\"\nfonts = [\"quaydesk.ttf\"]");
    workshop
}

#[test]
fn pieces_are_told_with_the_reasons() {
    let run = workshop().run_with(["trace", "aΩ漢", "-f", "sans.ttf", "-f", "text.ttf"], "");
    assert_eq!(run.status, 1);
    for part in [
        "Ω",
        "Skerrymark Text",
        "Skerrymark Sans lacks U+03A9",
        "left to the browser",
    ] {
        assert!(run.out.contains(part), "{part}: {}", run.out);
    }
    let clean = workshop().run_with(["trace", "aΩ", "-f", "sans.ttf", "-f", "text.ttf"], "");
    assert_eq!(clean.status, 0, "{}", clean.out);
}

#[test]
fn json_names_platforms_pieces_and_origins() {
    let run = workshop().run_with(
        [
            "trace",
            "ab",
            "--css",
            "s.css",
            "--stack",
            "Brand, serif",
            "--platform",
            "q.toml,windows",
            "--json",
        ],
        "",
    );
    let json = run.json();
    assert_eq!(json["schema"], "tidy-lattice/trace/1");
    let device = &json["platforms"][0];
    assert_eq!(
        (&device["platform"], &device["left"]),
        (&"q".into(), &0.into())
    );
    let font = &device["pieces"][0]["font"];
    assert_eq!(
        (&font["family"], &font["origin"]["file"]),
        (&"Brand".into(), &"sans.ttf".into())
    );
    assert_eq!(font["origin"]["rule"], "s.css:2");
    assert_eq!(json["platforms"][1]["platform"], "windows");
}

#[test]
fn before_load_the_stand_in_shows() {
    let stack = "Brand, 'Brand via Q', sans-serif";
    let arguments = [
        "trace",
        "ab",
        "--css",
        "s.css",
        "--stack",
        stack,
        "--before-load",
        "-p",
        "q.toml,windows,bare",
    ];
    let run = workshop().run_with(arguments, "");
    for part in [
        "Brand via Q (local Quaydesk UI)",
        "Brand via Q (local Arial)",
        "still loading (font-display: block; text may be invisible",
        "sans-serif, probably",
        "in 3 ways",
    ] {
        assert!(run.out.contains(part), "{part}: {}", run.out);
    }
}

#[test]
fn weights_and_slopes_are_matched() {
    let run = workshop().run_with(
        [
            "trace", "ab", "--css", "s.css", "--stack", "Brand", "-p", "bare", "--weight", "800",
            "--style", "italic",
        ],
        "",
    );
    assert!(
        run.out.contains("Brand, faked bold and italic"),
        "{}",
        run.out
    );
}

#[test]
fn a_role_of_the_demo_is_traced() {
    let workshop = Workshop::new();
    assert_eq!(workshop.run("demo tern").status, 0);
    let mut command = workshop.command();
    let output = command
        .current_dir(workshop.path("tern/site"))
        .args(["trace", "مرحبا", "--role", "ticket"])
        .output()
        .expect("a run");
    let out = String::from_utf8(output.stdout).expect("UTF-8");
    assert!(out.contains("drawn without joining"), "{out}");
    assert!(
        out.contains("Driftplain (local Driftplain)"),
        "Tidetab has it: {out}"
    );
}

#[rstest]
#[case::no_stack(&["trace", "a"], &["there is no stack", "--font", "--stack"])]
#[case::bad_stack(&["trace", "a", "--stack", "A 1"], &["A 1", "font-family"])]
#[case::empty(&["trace", " ", "-f", "sans.ttf"], &["the text is empty"])]
#[case::weight(&["trace", "a", "-f", "sans.ttf", "--weight", "0"], &["1 to 1000"])]
#[case::platform(&["trace", "a", "--stack", "A", "-p", "amiga"], &["amiga", "windows"])]
fn wrong_usage(#[case] arguments: &[&str], #[case] says: &[&str]) {
    workshop()
        .run_with(arguments.iter().copied(), "")
        .failed(2, says);
}

#[test]
fn hostile_text_does_not_steer_the_terminal() {
    let run = workshop().run_with(["trace", "a\u{202e}\u{1b}[31mb", "-f", "sans.ttf"], "");
    assert!(
        !run.out.contains('\u{1b}') && !run.out.contains('\u{202e}'),
        "{:?}",
        run.out
    );
}
