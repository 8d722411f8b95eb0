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
    let workshop = Workshop::with_demo();
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

#[rstest]
#[case::japanese("ja", "Mincho")]
#[case::by_its_script("und-Jpan", "Mincho")]
#[case::in_latin_letters("ja-Latn", "Plain")]
#[case::korean("ko", "Plain")]
#[case::none("", "Plain")]
fn generic_families_follow_the_language(#[case] language: &str, #[case] shown_by: &str) {
    let shop = workshop();
    shop.write(
        "j.toml",
        "title = \"J\"\n[generic]\nserif = \"Plain\"\n[generic_for.Jpan]\nserif = \"Mincho\"\n\
         [[family]]\nname = \"Plain\"\nclass = \"serif\"\nscripts = [\"Latin\"]\n\
         [[family]]\nname = \"Mincho\"\nclass = \"serif\"\nscripts = [\"Latin\", \"Han\"]\n",
    );
    let mut arguments = vec![
        "trace", "Quay", "--stack", "serif", "-p", "j.toml", "--json",
    ];
    if !language.is_empty() {
        arguments.extend(["--language", language]);
    }
    let json = shop.run_with(arguments.clone(), "").json();
    let piece = &json["platforms"][0]["pieces"][0];
    assert_eq!(piece["font"]["name"], shown_by, "{piece}");
    // Pages state it themselves.
    shop.write(
        "page.html",
        format!("<html lang=\"{language}\"><p style=\"font-family: serif\">船"),
    );
    let cover = shop.run("cover page.html -p j.toml --json").json();
    let left = cover["left"].as_array().map_or(0, Vec::len);
    assert_eq!(left == 0, shown_by == "Mincho", "{cover}");
    assert_eq!(
        cover["gap_clusters"], 0,
        "the system has a font for it: {cover}"
    );
}

#[rstest]
#[case::unknown_script("[generic_for.Latn]\nserif = \"A\"", &["generic_for.Latn", "Jpan"])]
#[case::no_generic("[generic_for.Jpan]\nmincho = \"A\"", &["generic_for.Jpan.mincho", "serif"])]
#[case::no_family("[generic_for.Jpan]\nserif = \"A\"", &["generic_for.Jpan.serif", "\"A\""])]
#[case::no_engine("engines = [\"Trident\"]", &["Trident", "WebKit"])]
fn definitions_that_cannot_be_say_why(#[case] toml: &str, #[case] says: &[&str]) {
    let shop = Workshop::new();
    shop.write("x.toml", format!("title = \"X\"\n{toml}\n"));
    let run = shop.run("platforms x.toml");
    run.failed(3, says);
}

/// A font with the letters of the demo's, blank, and a table of colours that some engines do
/// not draw.
fn in_colours(version: u16) -> Vec<u8> {
    let plain = tidy_lattice_demo::file("fonts/Lanternsign.ttf").expect("a demo font");
    let be = |at: usize| u32::from_be_bytes(plain[at..at + 4].try_into().expect("four bytes"));
    let count = usize::from(u16::from_be_bytes([plain[4], plain[5]]));
    let mut tables: Vec<([u8; 4], Vec<u8>)> = (0..count)
        .map(|number| {
            let record = 12 + number * 16;
            let (start, length) = (be(record + 8) as usize, be(record + 12) as usize);
            let tag = plain[record..record + 4].try_into().expect("four bytes");
            (tag, plain[start..start + length].to_vec())
        })
        .collect();
    for (tag, bytes) in &mut tables {
        // Every glyph starts and ends at the same place: none has an outline.
        if tag == b"loca" {
            bytes.fill(0);
        }
    }
    let mut colr = version.to_be_bytes().to_vec();
    colr.resize(if version == 0 { 14 } else { 34 }, 0);
    tables.push((*b"COLR", colr));
    tables.sort();
    let mut font = [&plain[..4], &(tables.len() as u16).to_be_bytes(), &[0; 6]].concat();
    let mut at = 12 + tables.len() * 16;
    for (tag, bytes) in &tables {
        font.extend(tag);
        font.extend([0; 4]);
        font.extend((at as u32).to_be_bytes());
        font.extend((bytes.len() as u32).to_be_bytes());
        at += bytes.len().next_multiple_of(4);
    }
    for (_, bytes) in &tables {
        font.extend(bytes);
        font.resize(font.len().next_multiple_of(4), 0);
    }
    font
}

#[rstest]
#[case::drawn_by_all(0, "", 0)]
#[case::not_by_all(1, "", 1)]
#[case::not_by_webkit(1, "engines = [\"WebKit\"]", 1)]
#[case::by_the_others(1, "engines = [\"Chromium\", \"Firefox\"]", 0)]
fn pictures_that_an_engine_does_not_draw_are_gaps_where_it_runs(
    #[case] version: u16,
    #[case] engines: &str,
    #[case] status: i32,
) {
    let shop = Workshop::new();
    shop.write("signs.ttf", in_colours(version));
    shop.write(
        "s.css",
        "@font-face { font-family: Signs; src: url(signs.ttf) }",
    );
    shop.write("d.toml", format!("title = \"D\"\n{engines}\n"));
    let arguments = ["--css", "s.css", "--stack", "Signs", "-p", "d.toml"];
    let cover = shop.run_with(["cover", "--text", "⚓"].into_iter().chain(arguments), "");
    assert_eq!(cover.status, status, "{}{}", cover.out, cover.err);
    let trace = shop.run_with(["trace", "⚓"].into_iter().chain(arguments), "");
    assert_eq!(trace.status, status, "{}", trace.out);
    let told = trace
        .out
        .contains("blank in WebKit, which cannot draw its colours");
    assert_eq!(told, status == 1, "{}", trace.out);
}

#[test]
fn what_is_no_language_is_told() {
    let run = workshop().run("trace Quay --stack serif --language !!");
    run.failed(2, &["--language", "BCP 47"]);
}
