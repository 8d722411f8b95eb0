//! Sites as projects have them: roots, what lies on the network, files that are missing.

use rstest::rstest;

use crate::workshop::{Run, Workshop};

fn shop(files: &[(&str, &str)]) -> Workshop {
    let shop = Workshop::new();
    for (path, text) in files {
        shop.place(path, text);
    }
    shop
}

/// The families of the only text.
fn families(run: &Run) -> String {
    run.json()["styled"][0]["style"]["families"].to_string()
}

const PAGE: &str = "<!doctype html><link rel=stylesheet href=\"/assets/app.css\"><p>Tide</p>";
const SHEET: &str = "p {font-family: Seaglass}";

#[rstest]
#[case::public("public/sub/index.html", "public/assets/app.css")]
#[case::above("site/a/b/index.html", "site/assets/app.css")]
#[case::beside("pages/index.html", "static/assets/app.css")]
fn the_root_is_found_and_told_once(#[case] page: &str, #[case] sheet: &str) {
    let shop = shop(&[(page, PAGE), (sheet, SHEET)]);
    let run = shop.run(&format!("cover {page} --styles --json"));
    assert!(
        families(&run).contains("Seaglass"),
        "{}{}",
        run.out,
        run.err
    );
    assert_eq!(run.err.matches("--root").count(), 1, "{}", run.err);
}

#[test]
fn the_root_is_what_was_said() {
    let shop = shop(&[
        ("a/page.html", PAGE),
        ("b/assets/app.css", SHEET),
        ("assets/app.css", ""),
    ]);
    let run = shop.run("cover a/page.html --root b --styles --json");
    assert!(families(&run).contains("Seaglass"), "{}", run.out);
    assert!(!run.err.contains("--root"), "{}", run.err);
}

#[rstest]
#[case::missing("cover a/page.html --root lost", "lost")]
#[case::file("cover a/page.html --root a/page.html", "a/page.html")]
#[case::shift("shift a/page.html --platform windows --root lost", "lost")]
fn a_root_is_a_folder(#[case] command: &str, #[case] named: &str) {
    let shop = shop(&[("a/page.html", "<p>Tide</p>")]);
    shop.run(command).failed(2, &[named, "no such folder"]);
}

#[test]
fn a_sheet_that_is_missing_is_a_finding() {
    let shop = shop(&[(
        "page.html",
        "<link rel=stylesheet href=lost.css><p>Tide</p>",
    )]);
    for command in ["cover", "shift --viewport phone"] {
        let run = shop.run(&format!("{command} page.html --platform windows --json"));
        assert_eq!(run.status, 1, "{command}: {}", run.err);
        let json = run.json();
        assert_eq!(
            json["problems"][0]["unread"]["why"], "unreadable",
            "{command}"
        );
    }
    let run = shop.run("shift page.html --platform windows --viewport phone --json");
    let cell = &run.json()["cells"][0];
    assert!(cell["score"].is_null(), "{cell}");
    assert!(cell["unknown"].as_str().expect("why").contains("lost.css"));
}

#[test]
fn what_is_not_known_meets_no_budget() {
    let shop = shop(&[(
        "page.html",
        "<link rel=stylesheet href='https://fonts.invalid/a.css'><p style='font-family: A, Arial'>Tide",
    )]);
    let shift = "shift page.html --platform windows --viewport phone --budget 0.1";
    let run = shop.run(shift);
    assert_eq!(run.status, 1, "{}", run.out);
    assert!(
        run.out.contains("--map") && run.out.contains("not known"),
        "{}",
        run.out
    );
    assert_eq!(shop.run(&format!("{shift} --pass-unknown")).status, 0);
}

#[test]
fn what_lies_on_the_network_is_read_from_where_it_is_mapped() {
    let shop = shop(&[
        (
            "page.html",
            "<link rel=stylesheet href='https://fonts.invalid/css2?family=Sea&amp;display=swap'>\
             <p style='font-family: Sea'>Tide</p>",
        ),
        (
            "sea/400.css",
            "@font-face {font-family: Sea; src: url(https://fonts.invalid/files/sans.ttf)}",
        ),
    ]);
    let run = shop.run("cover page.html --platform windows --json");
    assert!(run.err.contains("lies on the network"), "{}", run.err);
    // Whatever that sheet defines, nothing is missing for sure.
    assert_eq!(run.json()["gap_clusters"], 0, "{}", run.out);
    let run = shop.run_with(
        [
            "cover",
            "page.html",
            "--platform",
            "windows",
            "--json",
            "--map",
            "https://fonts.invalid/css2?family=Sea&display=swap=sea/400.css",
            "--map",
            "https://fonts.invalid/files/=.",
        ],
        "",
    );
    assert_eq!((run.status, run.err.as_str()), (0, ""), "{}", run.out);
    assert!(run.out.contains("sans.ttf"), "{}", run.out);
    shop.run("cover page.html --map nonsense")
        .failed(2, &["URL-PREFIX=FILE-OR-FOLDER"]);
}

#[test]
fn each_note_stands_once_with_its_count() {
    let page = "<link rel=stylesheet href='https://fonts.invalid/a.css'><p>Tide</p>";
    let shop = shop(&[("s/a.html", page), ("s/b.html", page), ("s/c.html", page)]);
    let run = shop.run("cover s --platform windows");
    assert_eq!(run.err.matches("a.css").count(), 1, "{}", run.err);
    assert!(run.err.contains("at 2 more places"), "{}", run.err);
}

#[test]
fn what_git_ignores_and_packages_are_passed_over() {
    let shop = shop(&[
        (".gitignore", "dist/\n"),
        ("src/a.txt", "Tide"),
        ("dist/b.txt", "₴"),
        ("node_modules/p/c.txt", "₴"),
        ("src/d.pot", "msgid \"Harbour\"\nmsgstr \"\"\n"),
        ("src/e.tab", "en\nQuay\n"),
    ]);
    let run = shop.run("cover . --font sans.ttf --json");
    assert_eq!(run.status, 0, "{}", run.out);
    for name in ["a.txt", "d.pot", "e.tab"] {
        assert!(run.out.contains(name), "{name}: {}", run.out);
    }
}
