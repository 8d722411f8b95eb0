//! `init`.

use crate::workshop::Workshop;

/// A folder as people have it: a site, its sheet in a folder, messages in two languages.
fn site() -> Workshop {
    let workshop = Workshop::new();
    for folder in [
        "public",
        "public/css",
        "public/fonts",
        "locales",
        "node_modules",
        "tests",
    ] {
        std::fs::create_dir(workshop.path(folder)).expect("a folder");
    }
    for (name, path) in [
        ("sans.ttf", "fonts/SkerrymarkSans-Regular.ttf"),
        ("bold.ttf", "fonts/SkerrymarkSans-Bold.ttf"),
        ("mono.ttf", "fonts/FerrygateMono-Regular.ttf"),
    ] {
        let bytes = tidy_lattice_demo::file(path).expect("a demo font");
        workshop.write(&format!("public/fonts/{name}"), bytes);
    }
    workshop.write(
        "public/css/site.css",
        "@font-face { font-family: Brand; src: url(/fonts/sans.ttf); font-display: swap }
         @font-face { font-family: Brand; src: url(/fonts/bold.ttf); font-weight: 700; font-display: swap }
         body { font: 18px/1.5 Brand, Arial, sans-serif } h1 { font-size: 40px }",
    );
    workshop.write(
        "public/css/unused.css",
        "@font-face { font-family: Mono; src: url(../fonts/mono.ttf); font-display: swap }",
    );
    workshop.write(
        "public/index.html",
        "<html lang=en><link rel=stylesheet href=/css/site.css><h1>Ferries</h1>
         <p>They leave at ten, and <b>come back</b> at noon.</p>",
    );
    workshop.write("tests/other.html", "<p>A page of a test");
    workshop.write("node_modules/a.html", "<p>A page of a package");
    workshop.write("locales/en.json", "{\"leave\": \"Leave\"}");
    workshop.write("locales/sv.json", "{\"leave\": \"\u{c5}k\"}");
    workshop
}

#[test]
fn a_project_file_is_written_that_works_as_it_is() {
    let workshop = site();
    let run = workshop.run("init");
    assert_eq!(run.status, 0, "{}", run.err);
    for part in [
        "public/ for the root of the site",
        "\"public/**/*.html\" for pages: 1",
        "for messages in en, sv",
        "public/css/site.css for where \"Brand\" is declared",
        "role.body: Brand, Arial, sans-serif; built from 2 faces",
        "tidy-lattice build",
    ] {
        assert!(run.out.contains(part), "{part}: {}", run.out);
    }
    let toml = workshop.read("tidy-lattice.toml");
    for part in [
        "root = \"public\"",
        "stack = \"Brand, Arial, sans-serif\"",
        "web = [\"public/fonts/sans.ttf\", \"public/fonts/bold.ttf\"]",
        "size = 18",
        "sizes = [40]",
        "output = \"public/css/tidy-lattice.css\"",
    ] {
        assert!(toml.contains(part), "{part}: {toml}");
    }
    assert!(!toml.contains("Mono"), "no page links it: {toml}");
    for command in [
        "check",
        "cover --allow U+0-10FFFF",
        "build",
        "check",
        "shift",
    ] {
        let run = workshop.run(command);
        assert!(run.status < 2, "{command}: {}", run.err);
    }
    assert!(
        workshop
            .read("public/css/tidy-lattice.css")
            .contains("../fonts/sans.ttf")
    );
    // Nothing has changed since, so what was built is as it would be built.
    let check = workshop.run("check --json");
    assert!(!check.out.contains("stacks-outdated"), "{}", check.out);
}

#[test]
fn what_is_there_is_not_overwritten() {
    let workshop = site();
    workshop.write("tidy-lattice.toml", "title = \"mine\"\n");
    workshop
        .run("init")
        .failed(4, &["tidy-lattice.toml", "--print", "--force"]);
    let shown = workshop.run("init --print");
    assert!(
        shown.status == 0 && shown.out.contains("[role.body]"),
        "{}",
        shown.out
    );
    assert_eq!(workshop.read("tidy-lattice.toml"), "title = \"mine\"\n");
    assert_eq!(workshop.run("init --force").status, 0);
    let json = workshop.run("init --force --json").json();
    assert_eq!(
        (json["pages"].as_u64(), json["roles"][0].as_str()),
        (Some(1), Some("body"))
    );
}

#[test]
fn slices_are_named_by_their_sheet() {
    let workshop = site();
    workshop.write(
        "public/css/site.css",
        "@font-face { font-family: Brand; src: url(/fonts/sans.ttf); unicode-range: U+0-7F }
         @font-face { font-family: Brand; src: url(/fonts/sans.ttf); unicode-range: U+80-FF }
         body { font-family: Brand, sans-serif }",
    );
    let toml = workshop.run("init --print").out;
    assert!(toml.contains("web = [\"public/css/site.css\"]"), "{toml}");
}

#[test]
fn an_empty_folder_gets_no_project_file() {
    let workshop = Workshop::new();
    workshop.run("init").failed(2, &["no pages"]);
    assert!(!workshop.path("tidy-lattice.toml").exists());
}

/// Messages without a page get a role whose stack `build` makes, and everything works on it.
#[test]
fn message_catalogues_alone_make_a_project() {
    let shop = Workshop::new();
    for font in ["sans.ttf", "text.ttf", "quaydesk.ttf", "pebbleroom.ttf"] {
        std::fs::remove_file(shop.path(font)).expect("a font");
    }
    shop.place("locale/pl/app.po", "msgid \"a\"\nmsgstr \"Bilety\"\n");
    shop.place("locale/el/app.po", "msgid \"a\"\nmsgstr \"Εισιτήρια\"\n");
    let run = shop.run("init");
    assert_eq!(run.status, 0, "{}", run.err);
    let toml = shop.read("tidy-lattice.toml");
    assert!(
        toml.contains("[role.messages]\nuse = \"interface\""),
        "{toml}"
    );
    let built = shop.run("build --json");
    let stack = built.json()["of_devices"][0].clone();
    assert_eq!(stack["languages"], serde_json::json!(["el", "pl"]));
    let covered = shop.run("cover");
    assert_eq!(covered.status, 0, "{}{}", covered.out, covered.err);
    let report = shop.run("report");
    assert_eq!(report.status, 0, "{}{}", report.out, report.err);
}

#[test]
fn packages_are_not_written_into() {
    let workshop = Workshop::new();
    let font = tidy_lattice_demo::file("fonts/SkerrymarkSans-Regular.ttf").expect("a demo font");
    workshop.place("node_modules/a-font/sans.ttf", font);
    workshop.place(
        "node_modules/a-font/index.css",
        "@font-face { font-family: Brand; src: url(sans.ttf) }",
    );
    workshop.place("css/site.css", "body { font-family: Brand, sans-serif }");
    workshop.write(
        "index.html",
        "<html lang=en><link rel=stylesheet href=node_modules/a-font/index.css>
         <link rel=stylesheet href=css/site.css><p>They leave at ten.",
    );
    let toml = workshop.run("init --print").out;
    assert!(toml.contains("output = \"css/tidy-lattice.css\""), "{toml}");
    assert!(toml.contains("web = [\"node_modules/a-font/"), "{toml}");
}

#[test]
fn fonts_that_no_sheet_declares_set_the_messages() {
    let workshop = Workshop::new();
    let font = |path: &str| tidy_lattice_demo::file(path).expect("a demo font");
    workshop.place("fonts/a.ttf", font("fonts/SkerrymarkSans-Regular.ttf"));
    workshop.place("fonts/b.ttf", font("fonts/SkerrymarkSans-Bold.ttf"));
    workshop.place("fonts/signs.ttf", font("fonts/Lanternsign.ttf"));
    for file in ["sans.ttf", "text.ttf", "quaydesk.ttf", "pebbleroom.ttf"] {
        std::fs::remove_file(workshop.path(file)).expect("a font of the workshop");
    }
    workshop.place("locales/en.json", "{\"leave\": \"Leave\"}");
    workshop.place("locales/sv.json", "{\"leave\": \"\u{c5}k\"}");
    // What a browser draws a button with says nothing of the project.
    workshop.place("form.html", "<button>Go</button>");
    let run = workshop.run("init");
    assert_eq!(run.status, 0, "{}", run.err);
    assert!(
        run.out
            .contains("\"Skerrymark Sans\", of which 2 files lie here"),
        "{}",
        run.out
    );
    let toml = workshop.read("tidy-lattice.toml");
    assert!(
        toml.contains("web = [\"fonts/a.ttf\", \"fonts/b.ttf\"]"),
        "{toml}"
    );
    assert!(
        !toml.contains("Arial") && !toml.contains("[build]"),
        "{toml}"
    );
    let cover = workshop.run("cover");
    assert_eq!(cover.status, 0, "{}{}", cover.out, cover.err);
}
