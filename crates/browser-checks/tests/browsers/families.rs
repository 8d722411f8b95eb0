//! Stacks built from families in slices fetch the files that the families' own sheets
//! fetch. `scripts/fetch-families` brings both.

use std::collections::BTreeSet;
use std::fmt::Write as _;
use std::path::Path;

use tidy_lattice_browser::Server;
use tidy_lattice_browser_checks::{Browser, Engine, every};
use tidy_lattice_core::page::{Files, OpenedFile, Unread, font_faces};
use tidy_lattice_core::style::read::Viewport;

use crate::shown_fonts::shown_fonts;
use crate::traces::{TEXTS as TEXTS_OF_TRACES, difference, said, said_of};

/// Sentences in five languages.
const TEXTS: [(&str, &str); 5] = [
    (
        "en",
        "The harbour wakes before the town does, \u{201c}early\u{201d} \u{2013} at 5 \u{20ac}.",
    ),
    (
        "pl",
        "Za\u{17c}\u{f3}\u{142}\u{107} g\u{119}\u{15b}l\u{105} ja\u{17a}\u{144}, \u{141}eba \u{2192} \u{141}\u{f3}d\u{17a}.",
    ),
    (
        "vi",
        "B\u{1ebf}n c\u{1ea3}ng th\u{1ee9}c d\u{1ead}y tr\u{1b0}\u{1edb}c th\u{1ecb} tr\u{1ea5}n.",
    ),
    (
        "ja",
        "\u{6e2f}\u{306f}\u{753a}\u{3088}\u{308a}\u{65e9}\u{304f}\u{76ee}\u{3092}\u{899a}\u{307e}\u{3059}\u{3002} Tide 6",
    ),
    (
        "ar",
        "\u{64a}\u{633}\u{62a}\u{64a}\u{642}\u{638} \u{627}\u{644}\u{645}\u{64a}\u{646}\u{627}\u{621} \u{642}\u{628}\u{644} \u{627}\u{644}\u{645}\u{62f}\u{64a}\u{646}\u{629} 5",
    ),
];

/// What stands behind a family: installed families, their aliases, generic families.
const BEHIND: [&str; 6] = [
    "Arial, serif",
    "'Times New Roman', sans-serif",
    "Calibri, monospace",
    "'Lato Light', system-ui",
    "Georgia, 'DejaVu Sans Condensed', serif",
    "Cambria, 'Noto Sans', monospace",
];

struct NoFiles;

impl Files for NoFiles {
    fn read(&self, _: &str, _: &str, _: &str) -> Result<OpenedFile, Unread> {
        Err(Unread::Remote)
    }
}

/// The fonts that Chromium fetches for a text in `family` with this sheet.
fn fetched(
    browser: &Browser,
    folder: &Path,
    sheet: &str,
    family: &str,
    (language, text): (&str, &str),
) -> BTreeSet<String> {
    // A port of its own each time: browsers keep fonts by their address.
    let server = Server::start(&[folder.to_owned()]).expect("a port");
    let page = format!(
        "<!doctype html><html lang={language}><meta charset=utf-8>\
         <link rel=stylesheet href=\"/{sheet}\"><p style=\"font-family: '{family}', serif\">{text}</p>"
    );
    server.put("/page.html", "text/html; charset=utf-8", page);
    browser.open(&server.url("/page.html"));
    let () = browser.run("await document.fonts.ready; return null;");
    let requests = server.take_requests().into_iter();
    requests
        .filter(|request| request.font)
        .map(|request| request.path)
        .collect()
}

#[test]
#[ignore = "needs Chromium and the families of scripts/fetch-families; .ci/run has both"]
fn built_sheets_fetch_what_the_families_own_fetch() {
    let folder = std::env::var_os("TIDY_LATTICE_FAMILIES")
        .expect("TIDY_LATTICE_FAMILIES names the folder of scripts/fetch-families");
    let folder = Path::new(&folder);
    let list = std::fs::read_to_string(folder.join("families.txt")).expect("a list");
    let browser = Browser::start(Engine::Chromium);
    let (mut pages, mut files, mut faults) = (0, 0, Vec::new());
    for line in list.lines() {
        let (package, sheet) = line.split_once(' ').expect("a folder and a sheet");
        let package = folder.join(package);
        let css = std::fs::read_to_string(package.join(sheet)).expect("a sheet");
        let screen = Viewport::screen(1280.0, 800.0);
        let (rules, _) = font_faces(&css, sheet, &NoFiles, screen);
        let family = rules[0].face.family.clone().expect("a family");
        for text in TEXTS {
            let own = fetched(&browser, &package, sheet, &family, text);
            let built = fetched(&browser, &package, &format!("built-{sheet}"), &family, text);
            (pages, files) = (pages + 1, files + own.len());
            if own != built {
                faults.push(format!("{family}, {}: {own:?}, built {built:?}", text.0));
            }
        }
    }
    println!(
        "{pages} pages in families in slices fetch {files} files, {} of them others than with the \
         sheets that are built",
        faults.len()
    );
    assert!(files > pages, "some pages fetch several slices");
    assert!(faults.is_empty(), "{}", faults.join("\n"));
}

#[test]
#[ignore = "needs Chromium, Debian's fonts, the built program and the families of scripts/fetch-families; .ci/run has them"]
fn texts_in_families_show_in_the_fonts_that_trace_names() {
    let folder = std::env::var_os("TIDY_LATTICE_FAMILIES")
        .expect("TIDY_LATTICE_FAMILIES names the folder of scripts/fetch-families");
    let folder = Path::new(&folder);
    let list = std::fs::read_to_string(folder.join("families.txt")).expect("a list");
    let browser = Browser::start(Engine::Chromium);
    let (mut pairs, mut faults) = (0, Vec::new());
    for (number, line) in list.lines().enumerate() {
        let (package, sheet) = line.split_once(' ').expect("a folder and a sheet");
        let package = folder.join(package);
        let css = std::fs::read_to_string(package.join(sheet)).expect("a sheet");
        let screen = Viewport::screen(1280.0, 800.0);
        let (rules, _) = font_faces(&css, sheet, &NoFiles, screen);
        let family = rules[0].face.family.clone().expect("a family");
        let server = Server::start(std::slice::from_ref(&package)).expect("a port");
        let taken = BEHIND.iter().skip(number % every(2)).step_by(every(2));
        let behind: Vec<&str> = taken.copied().collect();
        let mut paragraphs = String::new();
        for behind in &behind {
            for (language, text) in TEXTS_OF_TRACES {
                let _ = writeln!(
                    paragraphs,
                    "<p lang={language} style=\"font: 20px '{family}', {behind}\">{text}</p>"
                );
            }
        }
        let page = format!(
            "<!doctype html><meta charset=utf-8><link rel=stylesheet href=\"/{sheet}\">{paragraphs}"
        );
        server.put("/page.html", "text/html; charset=utf-8", page);
        browser.open(&server.url("/page.html"));
        let () = browser.run("await document.fonts.ready; return null;");
        let shown = shown_fonts(&browser, "p");
        assert_eq!(shown.len(), behind.len() * TEXTS_OF_TRACES.len());
        for (number, behind) in behind.iter().enumerate() {
            let stack = format!("'{family}', {behind}");
            let options = ["--css", sheet, "--stack", &stack, "--platform", "here"];
            for (place, said) in said(&options, &package).iter().enumerate() {
                pairs += 1;
                let shown = &shown[number * TEXTS_OF_TRACES.len() + place];
                if let Some(fault) = difference(said, shown) {
                    let text = TEXTS_OF_TRACES[place];
                    faults.push(format!("{stack}, {text:?}: {fault}"));
                }
            }
        }
    }
    println!(
        "{pairs} pairs of families in slices and texts, {} otherwise than said",
        faults.len()
    );
    for fault in &faults {
        println!("{fault}");
    }
    // What is known to differ stands in docs/serving.md.
    assert!(
        pairs > 500 / every(2) && faults.len() * 100 <= pairs,
        "{} of {pairs}",
        faults.len()
    );
}

#[test]
#[ignore = "needs Chromium, Debian's fonts, the built program and the families of scripts/fetch-families; .ci/run has them"]
fn texts_of_many_languages_show_in_the_fonts_that_trace_names() {
    let folder = std::env::var_os("TIDY_LATTICE_FAMILIES")
        .expect("TIDY_LATTICE_FAMILIES names the folder of scripts/fetch-families");
    let folder = Path::new(&folder);
    let list = std::fs::read_to_string(folder.join("families.txt")).expect("a list");
    let texts = std::fs::read_to_string(folder.join("texts.tsv")).expect("texts");
    let texts: Vec<(&str, &str)> = texts
        .lines()
        .map(|line| line.split_once('\t').expect("a language and a text"))
        .collect();
    let browser = Browser::start(Engine::Chromium);
    let (mut families, mut pairs, mut faults) = (0, 0, Vec::new());
    for line in list.lines() {
        let (package, sheet) = line.split_once(' ').expect("a folder and a sheet");
        let package = folder.join(package);
        let css = std::fs::read_to_string(package.join(sheet)).expect("a sheet");
        let screen = Viewport::screen(1280.0, 800.0);
        let (rules, _) = font_faces(&css, sheet, &NoFiles, screen);
        let family = rules[0].face.family.clone().expect("a family");
        let stack = format!("'{family}', {}", BEHIND[families % BEHIND.len()]);
        let taken = texts.iter().skip(families % every(2)).step_by(every(2));
        let texts: Vec<(&str, &str)> = taken.copied().collect();
        families += 1;
        let server = Server::start(std::slice::from_ref(&package)).expect("a port");
        let mut paragraphs = String::new();
        for (language, text) in &texts {
            let _ = writeln!(
                paragraphs,
                "<p lang={language} style=\"font: 20px {stack}\">{text}</p>"
            );
        }
        let page = format!(
            "<!doctype html><meta charset=utf-8><link rel=stylesheet href=\"/{sheet}\">{paragraphs}"
        );
        server.put("/page.html", "text/html; charset=utf-8", page);
        browser.open(&server.url("/page.html"));
        let () = browser.run("await document.fonts.ready; return null;");
        let shown = shown_fonts(&browser, "p");
        assert_eq!(shown.len(), texts.len());
        let lines: Vec<&str> = texts.iter().map(|(_, text)| *text).collect();
        let options = ["--css", sheet, "--stack", &stack, "--platform", "here"];
        for (place, said) in said_of(&lines, &options, &package).iter().enumerate() {
            pairs += 1;
            if let Some(fault) = difference(said, &shown[place]) {
                faults.push(format!("{stack}, {:?}: {fault}", texts[place]));
            }
        }
    }
    println!(
        "{pairs} pairs of {families} families and texts in {} languages, {} otherwise than said",
        texts.len(),
        faults.len()
    );
    for fault in &faults {
        println!("{fault}");
    }
    assert!(
        texts.len() >= 60 && pairs >= 400 / every(2) && faults.len() * 100 <= pairs,
        "{} of {pairs}",
        faults.len()
    );
}
