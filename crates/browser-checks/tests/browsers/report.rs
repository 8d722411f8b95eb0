//! The report of the demo in Chromium: a checker of accessibility finds nothing, what is
//! embedded shows, what should move moves.

use std::process::Command;

use serde_json::Value;
use tidy_lattice_browser_checks::{Browser, Engine, Server};
use tidy_lattice_demo::file;

use crate::looks::{assert_for_everybody, looks, opened, program};

/// The page that `report` writes.
fn report() -> Vec<u8> {
    let folder = tempfile::tempdir().expect("a folder");
    for (path, bytes) in tidy_lattice_demo::files() {
        let path = folder.path().join(path);
        std::fs::create_dir_all(path.parent().expect("a folder")).expect("a folder");
        std::fs::write(path, bytes).expect("a file of the demo");
    }
    let run = Command::new(program())
        .arg("report")
        .current_dir(folder.path())
        .output()
        .expect("the built program");
    let told = String::from_utf8_lossy(&run.stderr);
    assert!(run.status.code() < Some(2), "{told}");
    std::fs::read(folder.path().join("report.html")).expect("the report")
}

fn unfolded(server: &Server, browser: &Browser, window: (u32, u32), scheme: &str) {
    opened(browser, &server.url("/report.html"), window, scheme);
    let _: Value = browser.run(
        "for (const part of document.querySelectorAll('details')) part.open = true; \
         await new Promise(done => setTimeout(done, 500)); return null;",
    );
}

#[test]
#[ignore = "needs chromium, chromedriver, and a checker of accessibility from npm"]
fn the_report_is_for_everybody_and_works() {
    let server = Server::new();
    server.put("/report.html", "text/html; charset=utf-8", report());
    let quaydesk = file("installed/QuaydeskUI-Regular.ttf").expect("a font");
    let browser =
        Browser::start_with_fonts(Engine::Chromium, &[("QuaydeskUI-Regular.ttf", quaydesk)]);
    for (window, scheme) in looks() {
        unfolded(&server, &browser, window, scheme);
        assert_for_everybody(&browser, &format!("{window:?}, {scheme}"));
    }
    unfolded(&server, &browser, (1280, 800), "light");
    // Web fonts that are embedded show.
    let (loaded, failed): (usize, Vec<String>) = browser.run(
        "const faces = [...document.fonts]; const web = faces.filter(face => !face.family.includes(' via '));
         await Promise.all(web.map(face => face.load().catch(() => null)));
         return [web.filter(face => face.status === 'loaded').length,
                 web.filter(face => face.status === 'error').map(face => face.family)];",
    );
    assert!(
        loaded >= 5 && failed.is_empty(),
        "{loaded} loaded, {failed:?} failed"
    );
    // A stand-in that is installed is shown, as wide as the web font; others are told.
    let (widths, told): (Vec<f64>, Vec<String>) = browser.run(
        "const role = document.querySelector('.role'); const width = line => {
           const range = document.createRange(); range.selectNodeContents(line);
           return Math.max(...[...range.getClientRects()].map(box => box.right))
             - line.getBoundingClientRect().left; };
         const seen = [...role.querySelectorAll('.sample:not([hidden]) .line')];
         return [seen.map(width), [...document.querySelectorAll('.not-here')].map(p => p.textContent)];",
    );
    assert!(widths.len() >= 2, "{widths:?}");
    assert!(
        widths
            .iter()
            .all(|width| (width / widths[0] - 1.0).abs() < 0.03),
        "{widths:?}"
    );
    assert!(
        told.iter().any(|told| told.contains("via Pebbleroom")),
        "{told:?}"
    );
    // The filter leaves rows that hold the word, the headings sort.
    let rows: Vec<String> = browser.run(
        "const filter = document.getElementById('filter'); filter.value = 'Greek';
         filter.dispatchEvent(new Event('input'));
         return [...document.querySelectorAll('.set:not([hidden]) tbody tr:not([hidden])')]
           .map(row => row.textContent);",
    );
    assert!(
        !rows.is_empty() && rows.iter().all(|row| row.contains("Greek")),
        "{rows:?}"
    );
    let sorted: (Vec<f64>, String) = browser.run(
        "const heading = document.querySelector('#characters th.number');
         heading.querySelector('button').click();
         const rows = [...heading.closest('table').tBodies[0].rows];
         return [rows.map(row => parseFloat(row.cells[2].textContent.replace(',', ''))),
                 heading.getAttribute('aria-sort')];",
    );
    assert!(sorted.0.len() > 3 && sorted.0.is_sorted(), "{sorted:?}");
    assert_eq!(sorted.1, "ascending");
    // Words that end a line in one of two fonts only are marked, as many as are told.
    let (told, marked, ends): (String, usize, usize) = browser.run(
        "const seen = [...document.querySelectorAll('details[data-local]:not([hidden])')];
         const place = seen.find(one => one.querySelector('.told').textContent);
         const web = place.querySelector('[data-ends]');
         const words = [...web.querySelectorAll('span')];
         const last = words.filter((word, at) => !words[at + 1]
           || words[at + 1].getBoundingClientRect().top > word.getBoundingClientRect().top + 4);
         return [place.querySelector('.told').textContent,
                 web.querySelectorAll('.end').length, last.length];",
    );
    assert!(ends > 1, "{told}");
    let said = match marked {
        0 => format!("All {ends} lines end at the same words."),
        marked => format!(
            "{marked} of {ends} lines end elsewhere in the stand-in; the words are underlined."
        ),
    };
    assert_eq!(told, said);
    // A text of the reader's own is set everywhere.
    let set: bool = browser.run(
        "const own = document.getElementById('own-text'); own.value = 'Tide'; \
         own.dispatchEvent(new Event('input'));
         return [...document.querySelectorAll('[data-sample]')].every(one => one.textContent === 'Tide');",
    );
    assert!(set);
    println!("the report of the demo: nothing found in two windows, light and dark");
}
