//! `trim`.

use rstest::rstest;
use serde_json::Value;
use tidy_lattice_core::font::{Face, FacePick, FontFile, Limits};
use tidy_lattice_core::shaping::Shaper;

use crate::workshop::{Run, Workshop};

/// A workshop with the demo in it.
fn demo() -> Workshop {
    let workshop = Workshop::new();
    for (path, bytes) in tidy_lattice_demo::files() {
        let file = workshop.path(&path);
        std::fs::create_dir_all(file.parent().expect("a folder")).expect("a folder");
        std::fs::write(file, bytes).expect("a file");
    }
    workshop
}

fn face(workshop: &Workshop, path: &str) -> Face {
    let bytes = std::fs::read(workshop.path(path)).expect("the font");
    let file = FontFile::read(bytes, Limits::DEFAULT).expect("a font");
    Face::open(&file, &FacePick::default()).expect("a face")
}

/// The names of the files of the first face.
fn names(json: &Value) -> Vec<String> {
    let pieces = json["faces"][0]["files"].as_array().expect("pieces");
    let files = pieces
        .iter()
        .flat_map(|files| files.as_array().expect("files"));
    files
        .map(|file| file["name"].as_str().expect("a name").to_owned())
        .collect()
}

#[test]
fn a_project_is_trimmed_to_its_texts() {
    let workshop = demo();
    let run = workshop.run("trim -o small");
    assert_eq!(run.status, 0, "{}", run.err);
    for said in [
        "6 faces in 6 files",
        "Compared with the sources",
        "Written to small",
    ] {
        assert!(run.out.contains(said), "{said}: {}", run.out);
    }
    let css = workshop.read("small/fonts.css");
    assert_eq!(css.matches("@font-face").count(), 6);
    // What the sheet names is there.
    for url in css.split("url(\"").skip(1) {
        let name = url.split('"').next().expect("a name");
        assert!(face(&workshop, &format!("small/{name}")).maps('a') || name.contains("Tidefall"));
    }
    // Again, it is the same.
    let before = workshop.read("small/fonts.css");
    assert_eq!(workshop.run("trim -o small").status, 0);
    assert_eq!(workshop.read("small/fonts.css"), before);
}

#[test]
fn without_a_folder_nothing_is_written() {
    let workshop = Workshop::new();
    let run = workshop.run("trim sans.ttf --text Harbour");
    assert!(run.out.contains("Nothing is written yet"), "{}", run.out);
    assert!(workshop.new_files().is_empty());
}

#[rstest]
#[case::text("text", 'z', false)]
#[case::languages("languages", 'z', true)]
#[case::signs("signs", '→', true)]
fn a_margin_is_as_wide_as_asked(#[case] margin: &str, #[case] more: char, #[case] stays: bool) {
    let workshop = Workshop::new();
    let arguments = format!("trim quaydesk.ttf --text Harbour --margin {margin} -o out --json");
    let json = workshop.run(&arguments).json();
    let cut = face(&workshop, &format!("out/{}", names(&json)[0]));
    assert!("Harbour".chars().all(|c| cut.maps(c)));
    // What the face does not have cannot stay.
    let had = face(&workshop, "quaydesk.ttf").maps(more);
    assert_eq!(cut.maps(more), stays && had);
    assert!(cut.maps('~') == (margin != "text"));
}

#[test]
fn what_a_face_lacks_is_told_and_is_a_finding() {
    let workshop = Workshop::new();
    let run = workshop.run("trim sans.ttf --text Ωk");
    assert_eq!(run.status, 1);
    assert!(run.out.contains("U+03A9"), "{}", run.out);
    assert!(
        run.out.contains("Another font of the stack must show them"),
        "{}",
        run.out
    );
    // A range is what is kept, not what is needed.
    assert_eq!(
        workshop
            .run("trim sans.ttf --range U+20-7E,U+400-4FF")
            .status,
        0
    );
}

#[test]
fn slices_have_their_ranges_and_what_is_used_most_stands_last() {
    let workshop = Workshop::new();
    let json = workshop
        .run("trim quaydesk.ttf --text Harbour --slices text -o out --json")
        .json();
    assert_eq!(names(&json).len(), 2);
    let css = workshop.read("out/fonts.css");
    let ranges: Vec<&str> = css.matches("unicode-range").collect();
    assert_eq!(ranges.len(), 2);
    let first = names(&json)[0].clone();
    let (rest, text) = css.split_at(css.rfind("@font-face").expect("a rule"));
    assert!(text.contains(&first) && !rest.contains(&first));
    let cut = face(&workshop, &format!("out/{first}"));
    assert!(cut.maps('H') && !cut.maps('z'));
}

#[test]
fn ranges_are_a_file_each() {
    let workshop = Workshop::new();
    let json = workshop
        .run("trim quaydesk.ttf --range U+41-5A --range U+61-7A -o out --json")
        .json();
    let sets: Vec<&str> = (json["faces"][0]["pieces"]
        .as_array()
        .expect("pieces")
        .iter())
    .map(|piece| piece["range"].as_str().expect("a range"))
    .collect();
    assert_eq!(sets, ["U+41-5A", "U+61-7A"]);
    assert_eq!(names(&json).len(), 2);
}

#[test]
fn one_sign_gets_a_family_of_its_own() {
    let workshop = Workshop::new();
    let json = workshop
        .run_with(
            [
                "trim",
                "sans.ttf",
                "--sign",
                "&",
                "--family",
                "Ampersand",
                "-o",
                "out",
                "--json",
            ],
            "",
        )
        .json();
    let cut = face(&workshop, &format!("out/{}", names(&json)[0]));
    assert_eq!(cut.characters().len(), 1);
    assert_eq!(cut.names().family, "Ampersand");
    assert!(json["bytes"].as_u64().expect("bytes") < 1500);
    assert!(
        workshop
            .read("out/fonts.css")
            .contains("font-family: \"Ampersand\"")
    );
    // It serves as the sign font of a stack.
    let name = format!("out/{}=&", names(&json)[0]);
    let built = workshop.run_with(
        [
            "build",
            "--web",
            "sans.ttf",
            "--local",
            "quaydesk.ttf",
            "--sign",
            &name,
        ],
        "",
    );
    assert!(
        built.out.contains("unicode-range: U+26"),
        "{}\n{}",
        built.out,
        built.err
    );
}

#[test]
fn forms_come_in_the_order_in_which_browsers_should_take_them() {
    let workshop = Workshop::new();
    let run = workshop.run("trim sans.ttf --text abc --format sfnt,woff,woff2 -o out");
    assert_eq!(run.status, 0, "{}", run.err);
    let css = workshop.read("out/fonts.css");
    let at = |format: &str| css.find(&format!("format(\"{format}\")")).expect(format);
    assert!(at("woff2") < at("woff") && at("woff") < at("truetype"));
}

#[test]
fn features_are_those_that_are_asked_for() {
    let workshop = Workshop::new();
    let features = |run: Run| run.json()["faces"][0]["features"].to_string();
    let plain = features(workshop.run("trim sans.ttf --text abc --json"));
    assert!(!plain.contains("smcp"), "{plain}");
    let asked = features(workshop.run("trim sans.ttf --text abc --feature smcp --json"));
    assert!(asked.contains("smcp"), "{asked}");
    let all = features(workshop.run("trim sans.ttf --text abc012 --feature all --json"));
    assert!(all.contains("smcp") && all.contains("tnum"), "{all}");
    // The project's styles ask for some.
    let of_project = features(demo().run("trim --json"));
    assert!(of_project.contains("smcp"), "{of_project}");
}

#[test]
fn a_style_sheet_is_trimmed_face_by_face() {
    let workshop = demo();
    let run = workshop.run("trim site/fonts.css texts/en.txt --json");
    let json = run.json();
    let families: Vec<&str> = (json["faces"].as_array().expect("faces").iter())
        .map(|face| face["family"].as_str().expect("a family"))
        .collect();
    assert!(families.contains(&"Skerrymark Sans"), "{families:?}");
    assert!(json["bytes"].as_u64() < json["bytes_before"].as_u64());
}

#[rstest]
#[case::nothing_named("trim", 2, "name the fonts to trim")]
#[case::no_such_file("trim nowhere.ttf --text a", 3, "nowhere.ttf")]
#[case::no_font("trim text.txt --text a", 2, "name the fonts to trim")]
#[case::nothing_of_it("trim sans.ttf --text 日本", 3, "none of the")]
#[case::wrong_slices("trim sans.ttf --text a --slices many", 2, "--slices many")]
#[case::tiny_slices("trim sans.ttf --text a --slices 0k", 2, "--slices 0k")]
#[case::wrong_range("trim sans.ttf --range 20-7E", 2, "--range 20-7E")]
#[case::wrong_feature("trim sans.ttf --text a --feature small", 2, "--feature small")]
#[case::sign_and_text("trim sans.ttf --sign & --text a", 2, "cannot be used with")]
#[case::position("trim sans.ttf@wght=400 --text a", 2, "position")]
fn wrong_use_is_told(#[case] arguments: &str, #[case] status: i32, #[case] says: &str) {
    let workshop = Workshop::new();
    workshop.write("text.txt", "Harbour");
    workshop.run(arguments).failed(status, &[says]);
    assert_eq!(workshop.new_files(), ["text.txt"]);
}

#[test]
fn what_others_wrote_stays() {
    let workshop = Workshop::new();
    std::fs::create_dir(workshop.path("out")).expect("a folder");
    workshop.write("out/fonts.css", "body { color: red }");
    workshop
        .run("trim sans.ttf --text abc -o out")
        .failed(4, &["fonts.css", "--force"]);
    assert_eq!(workshop.read("out/fonts.css"), "body { color: red }");
    assert_eq!(
        workshop
            .run("trim sans.ttf --text abc -o out --force")
            .status,
        0
    );
    assert!(workshop.read("out/fonts.css").contains("@font-face"));
}

#[test]
fn rights_are_kept_unless_a_licence_allows_more() {
    let workshop = Workshop::new();
    let mut bytes = std::fs::read(workshop.path("sans.ttf")).expect("the font");
    let record = (bytes.windows(4))
        .position(|tag| tag == b"OS/2")
        .expect("OS/2");
    let offset: [u8; 4] = bytes[record + 8..record + 12]
        .try_into()
        .expect("four bytes");
    let at = u32::from_be_bytes(offset) as usize + 8;
    for (rights, says) in [
        (0x0002u16, "may not be embedded"),
        (0x0100, "may not be cut"),
    ] {
        bytes[at..at + 2].copy_from_slice(&rights.to_be_bytes());
        workshop.write("kept.ttf", &bytes);
        workshop
            .run("trim kept.ttf --text abc")
            .failed(2, &[says, "--licence-allows"]);
        assert_eq!(
            workshop
                .run("trim kept.ttf --text abc --licence-allows")
                .status,
            0
        );
    }
}

const VARIABLE: &str = "shop/public/assets/fonts/HarbourlineVF.ttf";

#[rstest]
#[case::shortened("wght=400..600", "font-weight: 400 600;", Some((400.0, 600.0)))]
#[case::without_its_default("wght=500..700", "font-weight: 500 700;", Some((500.0, 700.0)))]
#[case::pinned("wght=650", "font-weight: 650;", None)]
fn an_axis_is_left_as_asked(
    #[case] asked: &str,
    #[case] rule: &str,
    #[case] axis: Option<(f32, f32)>,
) {
    let workshop = demo();
    let plain = workshop.run(&format!("trim {VARIABLE} --text Harbour --json"));
    let run = workshop.run(&format!(
        "trim {VARIABLE} --text Harbour --axis {asked} -o out --json"
    ));
    assert_eq!(run.status, 0, "{}", run.err);
    let json = run.json();
    assert_eq!(json["faces"][0]["axes"][0], asked);
    assert!(json["faces"][0]["bytes"].as_u64() < plain.json()["faces"][0]["bytes"].as_u64());
    let css = workshop.read("out/fonts.css");
    assert!(css.contains(rule), "{css}");
    let cut = face(&workshop, &format!("out/{}", names(&json)[0]));
    assert_eq!(cut.axis("wght"), axis);
    assert!("Harbour".chars().all(|c| cut.maps(c)));
    // Wider at 600 than at 400, or as wide as the source is at the one weight that is left.
    let whole = face(&workshop, VARIABLE);
    for weight in [400.0, 600.0, 650.0] {
        let at = |face: &Face| {
            face.at(&[("wght".to_owned(), weight)])
                .unwrap_or(face.clone())
        };
        let width = |face: Face| Shaper::new(&face).width("Harbour");
        let held = match axis {
            Some((from, to)) => from <= weight && weight <= to,
            None => weight == 650.0,
        };
        if held {
            let (was, is) = (width(at(&whole)), width(at(&cut)));
            assert!((was - is).abs() <= 3.5, "{weight}: {was} {is}");
        }
    }
    let told = workshop.run(&format!("trim {VARIABLE} --text Harbour --axis {asked}"));
    let said = format!("What is left of its axes: {asked}.");
    assert!(told.out.contains(&said), "{}", told.out);
}

/// A sheet may promise a weight that nothing is left of.
#[test]
fn a_weight_that_is_gone_is_told() {
    let workshop = demo();
    workshop.write(
        "shop/public/assets/fonts/bold.css",
        "@font-face { font-family: Harbourline; src: url(HarbourlineVF.ttf); font-weight: 700; }",
    );
    let sheet = "shop/public/assets/fonts/bold.css";
    let run = workshop.run(&format!("trim {sheet} --text Harbour --axis wght=400..500"));
    assert_eq!(run.status, 0, "{}", run.err);
    assert!(
        run.out.contains("its rule was for font-weight 700"),
        "{}",
        run.out
    );
    let run = workshop.run(&format!("trim {sheet} --text Harbour --axis wght=400..700"));
    assert!(!run.out.contains("its rule was for"), "{}", run.out);
}

#[rstest]
#[case::no_number("wght=bold", 2, "write an axis and what is left of it")]
#[case::backwards("wght=600..500", 2, "write an axis and what is left of it")]
#[case::twice("wght=400,wght=500", 2, "wght is named twice")]
#[case::no_such_axis("slnt=0", 2, "none of these fonts has an axis slnt")]
#[case::too_far(
    "wght=300..900",
    3,
    "no axis for wght=300..900: there are wght=300..700"
)]
fn an_axis_that_cannot_be_left_so_is_told(
    #[case] asked: &str,
    #[case] status: i32,
    #[case] said: &str,
) {
    let workshop = demo();
    let run = workshop.run(&format!(
        "trim {VARIABLE} --text Harbour --axis {asked} -o out"
    ));
    run.failed(status, &[said]);
    assert!(!workshop.path("out").exists());
}

#[test]
fn what_draws_without_css_gets_a_list_in_order() {
    let workshop = demo();
    let run = workshop.run(&format!(
        "trim {VARIABLE} --range U+61-66 --range U+67-6D --axis wght=400..600 --as app -o out"
    ));
    assert_eq!(run.status, 0, "{}", run.err);
    assert!(run.out.contains("Written to out, with fonts.json."));
    assert!(!workshop.path("out/fonts.css").exists());
    let list: Value = serde_json::from_str(&workshop.read("out/fonts.json")).expect("JSON");
    let fonts = list["fonts"].as_array().expect("fonts");
    let ranges: Vec<&str> = fonts
        .iter()
        .map(|font| font["characters"].as_str().expect("a range"))
        .collect();
    assert_eq!(ranges, ["U+61-66", "U+67-6D"]);
    for (font, letter) in fonts.iter().zip(['a', 'g']) {
        assert_eq!(font["weight"], serde_json::json!([400.0, 600.0]));
        assert_eq!(
            (&font["family"], &font["style"]),
            (&"Harbourline".into(), &"normal".into())
        );
        let name = font["file"].as_str().expect("a file");
        assert!(face(&workshop, &format!("out/{name}")).maps(letter));
    }
    // It is ours, and may be written again; another's is not.
    let again = format!("trim {VARIABLE} --range U+61-66 --as app -o out");
    assert_eq!(workshop.run(&again).status, 0);
    workshop.write("out/fonts.json", "{}");
    workshop
        .run(&again)
        .failed(4, &["was not written by tidy-lattice"]);
}

#[test]
fn what_borders_between_files_cut_is_told() {
    let workshop = Workshop::new();
    workshop.write("a.txt", "AVATAR Tavern Väter AVAL Žatec");
    let run = workshop.run("trim text.ttf a.txt --range U+0-54,U+61-7A --range U+55-60 --json");
    assert_eq!(run.status, 0, "{}", run.err);
    let json = run.json();
    // Ranges say nothing of texts.
    assert!(json["faces"][0]["borders"].is_null(), "{json}");
    let run = workshop.run("trim text.ttf a.txt --language en --slices 2 --json");
    let json = run.json();
    let borders = &json["faces"][0]["borders"];
    let number = |name: &str| borders[name].as_u64().expect("a number");
    assert!(number("pairs") > 20, "{borders}");
    assert!(
        number("cut") <= number("apart") && number("apart") < number("pairs"),
        "{borders}"
    );
    let whole = workshop.run("trim text.ttf a.txt --json").json();
    assert!(whole["faces"][0]["borders"].is_null());
}

/// A project with a font in slices of its own.
fn cut_project(rules: &str) -> Workshop {
    let workshop = Workshop::new();
    workshop.write("page.html", "<html lang=en><link rel=stylesheet href=stacks.css><p style='font-family: var(--main-stack)'>Harbour office, open at nine");
    workshop.write(
        "tidy-lattice.toml",
        format!(
            "platforms = [\"windows\"]\n[[content]]\nfiles = [\"page.html\"]\n[role.main]\n\
             web = [\"sans.ttf\"]\n[build]\noutput = \"stacks.css\"\n{rules}"
        ),
    );
    workshop
}

#[test]
fn a_project_says_how_its_fonts_are_cut() {
    let workshop = cut_project(
        "[trim]\noutput = \"small\"\nmargin = \"text\"\nformats = [\"woff\"]\nslices = \"text\"\n\
         hints = false\nfeatures = [\"smcp\"]\n",
    );
    let run = workshop.run("trim");
    assert_eq!(run.status, 0, "{}", run.err);
    let css = workshop.read("small/fonts.css");
    assert!(
        css.contains("format(\"woff\")") && !css.contains("woff2"),
        "{css}"
    );
    assert!(!css.contains("U+20-7E"), "{css}");
    // The command line has the last word.
    let json = workshop
        .run("trim --margin languages --format woff2 -o other --json")
        .json();
    assert_eq!(json["folder"], "other");
    assert!(json["css"].as_str().expect("a sheet").contains("woff2"));
    // Fonts that are named are not the project's.
    let json = workshop.run("trim text.ttf --text abc --json").json();
    assert!(json["folder"].is_null(), "{json}");
}

#[rstest]
#[case::slices("slices = \"many\"", "trim.slices: many")]
#[case::number("slices = 0", "trim.slices: 0")]
#[case::axes("axes = [\"wght\"]", "trim.axes: wght")]
#[case::features("features = [\"small\"]", "trim.features: small")]
#[case::margin("margin = \"wide\"", "wide")]
#[case::unknown("margins = \"text\"", "margins")]
fn rules_that_cannot_be_are_told(#[case] rule: &str, #[case] says: &str) {
    let workshop = cut_project(&format!("[trim]\n{rule}\n"));
    workshop.run("trim").failed(3, &["tidy-lattice.toml", says]);
}

#[test]
fn build_cuts_as_it_goes() {
    let workshop = cut_project("[trim]\noutput = \"small\"\n");
    let before = workshop.run("build --check");
    assert_eq!(before.status, 1, "{}", before.out);
    assert!(before.out.contains("is not there yet"), "{}", before.out);
    let run = workshop.run("build");
    assert!(run.status < 2, "{}", run.err);
    assert!(run.out.contains("1 cut font file of"), "{}", run.out);
    let css = workshop.read("stacks.css");
    let url = css.split("url(\"small/").nth(1).expect("the cut file");
    let name = url.split('"').next().expect("a name");
    let cut = face(&workshop, &format!("small/{name}"));
    assert!(cut.maps('H') && name.ends_with(".woff2"));
    assert!(!css.contains("sans.ttf"), "{css}");
    // The lines are those of the whole font.
    let whole = cut_project("");
    assert!(whole.run("build").status < 2);
    let pinned = |css: &str| -> Vec<String> {
        let lines = css.lines().filter(|line| line.contains("-override"));
        lines.map(str::to_owned).collect()
    };
    assert_eq!(pinned(&css), pinned(&whole.read("stacks.css")));
    assert_eq!(workshop.run("build --check").status, 0);
    // Nothing is left of the sheets that it read.
    let files = workshop.new_files();
    assert!(
        !files.iter().any(|file| file.contains("role-")),
        "{files:?}"
    );
    // A file that somebody takes away is missed.
    std::fs::remove_file(workshop.path(&format!("small/{name}"))).expect("it is there");
    assert_eq!(workshop.run("build --check").status, 1);
    // A sheet that somebody else wrote stays, and then no font is written either.
    let other = cut_project("[trim]\noutput = \"small\"\n");
    other.write("stacks.css", "p { color: teal }");
    let run = other.run("build");
    assert!(
        run.status > 1 && run.err.contains("stacks.css"),
        "{}",
        run.err
    );
    assert!(!other.path("small").exists());
    // An axis that the project names and no font has is told by its key.
    let axes = cut_project("[trim]\noutput = \"small\"\naxes = [\"wght=400\"]\n");
    axes.run("build").failed(2, &["trim.axes wght=400", "no"]);
    // To standard output, nothing is written.
    let bare = cut_project("[trim]\noutput = \"small\"\n");
    bare.write(
        "tidy-lattice.toml",
        bare.read("tidy-lattice.toml")
            .replace("output = \"stacks.css\"", ""),
    );
    let run = bare.run("build");
    assert!(run.out.contains("url(\"small/"), "{}", run.out);
    assert!(!bare.path("small").exists());
}
