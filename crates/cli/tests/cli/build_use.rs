//! `build --use`: stacks of the families that devices have.

use rstest::rstest;

use crate::workshop::Workshop;

fn built(arguments: &[&str]) -> serde_json::Value {
    let all = ["build"].iter().chain(arguments).chain(&["--json"]);
    let run = Workshop::new().run_with(all.copied(), "");
    assert!(run.status < 2, "{}", run.err);
    run.json()["of_devices"][0].clone()
}

#[test]
fn the_stack_stands_in_a_custom_property_with_its_reasons() {
    let run = Workshop::new().run_with(["build", "--use", "interface", "--language", "en,ja"], "");
    assert_eq!(run.status, 0, "{}", run.err);
    for part in [
        "--interface-stack: \"Segoe UI\", system-ui, ",
        "- system-ui: its interface font (macOS",
    ] {
        assert!(run.out.contains(part), "{part}: {}", run.out);
    }
    for part in [
        "San Francisco*",
        "known by name",
        "weights, en",
        "font-family: ",
    ] {
        assert!(run.err.contains(part), "{part}: {}", run.err);
    }
    let bare = Workshop::new().run_with(["build", "--use", "code", "--no-comments"], "");
    assert!(!bare.out.contains("its font for code"), "{}", bare.out);
    let plain = Workshop::new().run_with(["build", "--use", "code", "--as", "plain"], "");
    assert!(
        plain
            .out
            .contains("font-family: \"Consolas\", \"Menlo\", monospace;"),
        "{}",
        plain.out
    );
    let tokens = Workshop::new().run_with(["build", "--use", "code", "--as", "tokens"], "");
    assert_eq!(
        tokens.json()["font"]["code"]["family"]["$value"][0],
        "Consolas"
    );
}

/// `trace` must come to the same.
#[rstest]
#[case("interface", "ar", "مرحبا")]
#[case("reading", "ja", "港の時刻")]
#[case("code", "el", "Λιμάνι")]
#[case("reading", "hi", "घाट")]
fn who_shows_what_is_what_trace_says(
    #[case] text_use: &str,
    #[case] language: &str,
    #[case] text: &str,
) {
    let stack = built(&["--use", text_use, "--language", language, "--text", text]);
    let families = stack["font_family"].as_str().expect("a stack");
    let run = Workshop::new().run_with(
        [
            "trace",
            text,
            "--stack",
            families,
            "--language",
            language,
            "--json",
        ],
        "",
    );
    let traced = run.json();
    let mut compared = 0;
    for on in stack["platforms"].as_array().expect("platforms") {
        let platforms = traced["platforms"].as_array().expect("platforms");
        let same = platforms
            .iter()
            .find(|one| one["platform"] == on["platform"]);
        let pieces = same.expect("the platform")["pieces"]
            .as_array()
            .expect("pieces");
        for piece in pieces.iter().filter(|piece| piece["blank"] == false) {
            let entry = &piece["font"]["entry"];
            let served = on["served"].as_array().map_or(&[][..], Vec::as_slice);
            let shown = served.iter().any(|one| one["entry"] == *entry);
            let left = on["unserved"].as_array().is_some_and(|all| !all.is_empty());
            assert!(
                if entry.is_null() { left } else { shown },
                "{}: {piece}",
                on["title"]
            );
            compared += 1;
        }
    }
    assert!(compared >= 6, "{compared}");
}

#[test]
fn a_look_is_come_close_to() {
    let stack = built(&[
        "--use",
        "reading",
        "--like",
        "windows:Arial",
        "--language",
        "en",
    ]);
    assert_eq!(
        (&stack["class"], &stack["like"]),
        (&"sans".into(), &"Arial".into())
    );
    assert_eq!(stack["stack"][0]["family"], "Arial", "{stack}");
    // The class that is asked for counts more.
    let serif = built(&[
        "--use",
        "reading",
        "--like",
        "windows:Arial",
        "--class",
        "serif",
    ]);
    assert_eq!(serif["class"], "serif");
}

#[test]
fn roles_of_a_project_are_built_into_one_sheet_and_covered() {
    let workshop = Workshop::new();
    workshop.write(
        "tidy-lattice.toml",
        "platforms = [\"windows\", \"kde\"]\n[[content]]\nfiles = [\"t.txt\"]\nrole = \"app\"\n\
         [build]\noutput = \"fonts.css\"\n\
         [role.app]\nuse = \"interface\"\nlanguages = [\"pl\"]\n\
         [role.brand]\nweb = [\"sans.ttf\"]\n",
    );
    workshop.write("t.txt", "Prom płynie ☂");
    let run = workshop.run_with(["build"], "");
    assert!(run.status < 2, "{}", run.err);
    let css = workshop.read("fonts.css");
    for part in [
        "--app-stack: \"Segoe UI\"",
        "--brand-stack: \"Skerrymark Sans\"",
        "@font-face",
    ] {
        assert!(css.contains(part), "{part}: {css}");
    }
    let again = workshop.run_with(["build", "--check"], "");
    assert_eq!(again.status, 0, "{}", again.out);
    let cover = workshop.run_with(["cover", "--json"], "");
    assert!(
        cover.status < 2 && cover.out.contains("Segoe UI"),
        "{}{}",
        cover.err,
        cover.out
    );
    assert!(!css.contains("Emoji"), "{css}");
    let only = workshop.run_with(["build", "--role", "app", "--json"], "");
    assert_eq!(only.json()["stacks"], serde_json::json!([]));
}

#[rstest]
#[case::web(&["--use", "code", "--web", "sans.ttf"], "--web")]
#[case::no_use(&["--class", "serif", "--web", "sans.ttf"], "--use")]
#[case::language(&["--use", "code", "--language", "xx-none"], "xx-none")]
#[case::one_language(&["--web", "sans.ttf", "--language", "en,pl"], "--use")]
#[case::by_name(&["--use", "reading", "--like", "windows:Tahoma"], "by name only")]
#[case::resized_to_nothing(&["--use", "reading", "--resize"], "--like")]
#[case::app(&["--use", "code", "--as", "app"], "--as app")]
fn what_does_not_go_together_is_one_error(#[case] arguments: &[&str], #[case] told: &str) {
    let all = ["build"].iter().chain(arguments);
    let run = Workshop::new().run_with(all.copied(), "");
    assert!(run.status >= 2 && run.err.contains(told), "{}", run.err);
}

#[rstest]
#[case::both("use = \"code\"\nweb = [\"sans.ttf\"]", "leave one of them out")]
#[case::class_alone("web = [\"sans.ttf\"]\nclass = \"serif\"", "goes with use")]
#[case::symbols(
    "use = \"code\"\nclass = \"symbol\"",
    "sans, serif, monospace or script"
)]
#[case::word("use = \"poetry\"", "poetry")]
#[case::nothing("languages = [\"en\"]", "interface, reading or code")]
fn roles_that_cannot_be_are_told(#[case] role: &str, #[case] told: &str) {
    let workshop = Workshop::new();
    workshop.write("tidy-lattice.toml", format!("[role.app]\n{role}\n"));
    let run = workshop.run_with(["build"], "");
    assert!(run.status >= 2 && run.err.contains(told), "{}", run.err);
    assert!(run.err.contains("tidy-lattice.toml"), "{}", run.err);
}

/// Languages of message files come from their paths; those of China and Japan are told apart.
#[test]
fn texts_are_in_the_languages_of_their_paths() {
    let workshop = Workshop::new();
    workshop.place("locale/ja/t.txt", "港の時刻");
    workshop.place("locale/el/t.txt", "Λιμάνι");
    let run = workshop.run("build --use reading --json locale/ja/t.txt locale/el/t.txt");
    assert_eq!(run.status, 0, "{}", run.err);
    let stack = run.json()["of_devices"][0].clone();
    assert_eq!(stack["languages"], serde_json::json!(["ja", "el"]));
    let families = stack["font_family"].as_str().expect("a stack");
    assert!(families.contains("Hiragino Mincho ProN"), "{families}");
    workshop.place("locale/zh_Hant/t.txt", "港口時刻");
    let run = workshop
        .run("build --use reading --json locale/ja/t.txt locale/el/t.txt locale/zh_Hant/t.txt");
    let stack = run.json()["of_devices"][0].clone();
    assert_eq!(stack["font_family"], "\"Georgia\", serif");
    assert_eq!(stack["notes"][0]["code"], "by-language");
}

/// All families as large, and their lines as high, as those of one.
#[test]
fn families_are_brought_to_one_size_and_line() {
    let stack = built(&[
        "--use",
        "reading",
        "--like",
        "gnome:DejaVu Serif",
        "--resize",
    ]);
    let resized = stack["resized"].as_array().expect("families");
    let over = |name: &str| {
        let mut all = resized.iter();
        all.find(|one| one["over"] == name)
            .unwrap_or_else(|| panic!("{name}: {resized:?}"))
    };
    let own = &over("DejaVu Serif")["faces"][0];
    assert_eq!(own["size_adjust"], 100.0);
    let noto = &over("Noto Serif")["faces"][0];
    assert!(noto["size_adjust"].as_f64() > Some(105.0), "{noto}");
    for one in [own, noto] {
        let lines = &one["lines"];
        for engine in ["off_in_chromium", "off_in_firefox"] {
            let off = lines[engine].as_array().expect("sizes");
            assert!(!off.iter().any(|size| size == 16.0), "{lines}");
        }
    }
    // Every weight that a family has stays.
    let weights = |name: &str| -> Vec<f64> {
        let faces = over(name)["faces"].as_array().expect("faces");
        faces
            .iter()
            .filter_map(|face| face["weight"].as_f64())
            .collect()
    };
    assert!(weights("Noto Serif").contains(&700.0));
    let families = stack["font_family"].as_str().expect("a stack");
    assert!(
        families.contains("\"DejaVu Serif via Noto Serif\""),
        "{families}"
    );
    assert!(families.ends_with(", serif"), "{families}");
    // Georgia's lines are not known, so nothing is made up of them.
    let georgia = built(&["--use", "reading", "--like", "windows:Georgia", "--resize"]);
    assert!(
        georgia["resized"][0]["faces"][0]["lines"].is_null(),
        "{georgia}"
    );
    let notes = georgia["notes"].to_string();
    assert!(notes.contains("lines-not-known"), "{notes}");
}

#[test]
fn resized_families_have_rules_and_no_names_of_their_own_where_there_are_no_rules() {
    let arguments = [
        "build",
        "--use",
        "interface",
        "--like",
        "windows:Arial",
        "--resize",
    ];
    let run = Workshop::new().run_with(arguments, "");
    assert!(run.status < 2, "{}", run.err);
    for part in [
        "font-family: \"Arial via Roboto\"",
        "local(\"Roboto\")",
        // `local()` knows no family by the name of another that it is shown for.
        "local(\"Liberation Sans\")",
        "ascent-override",
    ] {
        assert!(run.out.contains(part), "{part}: {}", run.out);
    }
    assert!(
        run.err
            .contains("All as large and their lines as high as Arial"),
        "{}",
        run.err
    );
    let plain = Workshop::new().run_with(arguments.into_iter().chain(["--as", "plain"]), "");
    assert!(!plain.out.contains(" via "), "{}", plain.out);
    assert!(plain.out.contains("\"Roboto\""), "{}", plain.out);
}

#[test]
fn a_role_may_ask_for_one_size() {
    let shop = Workshop::new();
    shop.write(
        "tidy-lattice.toml",
        "platforms = [\"gnome\", \"android\"]\n[role.plain]\nuse = \"reading\"\n\
         like = \"gnome:DejaVu Serif\"\nresize = true\nsizes = [18]\n",
    );
    let run = shop.run("build");
    assert!(
        run.out.contains("DejaVu Serif via Noto Serif"),
        "{}{}",
        run.out,
        run.err
    );
    shop.write(
        "tidy-lattice.toml",
        "[role.plain]\nuse = \"reading\"\nresize = true\n",
    );
    shop.run("build").failed(3, &["role.plain.resize", "like"]);
}
