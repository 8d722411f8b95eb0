//! The page of `record --page` in Chromium, as a person uses it.

use std::process::Command;

use serde_json::Value;
use tidy_lattice_browser_checks::{Browser, Engine, Server};
use tidy_lattice_core::record::device::{Measured, card};
use tidy_lattice_demo::file;

use crate::looks::{assert_for_everybody, looks, opened, program};

/// Presses *Measure* for the families typed, and waits for the result.
const MEASURE: &str = "
    document.querySelector('[value=none]').click();
    document.getElementById('names').value = 'Quaydesk UI\\nNowhere Sans';
    document.getElementById('start').click();
    for (let waits = 0; document.getElementById('result').hidden && waits < 600; waits++) {
        await new Promise(done => setTimeout(done, 100));
    }";

#[test]
#[ignore = "needs chromium, chromedriver, and a checker of accessibility from npm"]
fn the_measuring_page_is_for_everybody_and_measures() {
    let folder = tempfile::tempdir().expect("a folder");
    let run = Command::new(program())
        .args(["record", "--page", "measure.html", "--language", "en,el"])
        .current_dir(folder.path())
        .output();
    let run = run.expect("the built program");
    assert!(
        run.status.success(),
        "{}",
        String::from_utf8_lossy(&run.stderr)
    );
    let page = std::fs::read(folder.path().join("measure.html")).expect("the page");
    let server = Server::new();
    server.put("/measure.html", "text/html; charset=utf-8", page);
    let quaydesk = file("installed/QuaydeskUI-Regular.ttf").expect("a font");
    let browser =
        Browser::start_with_fonts(Engine::Chromium, &[("QuaydeskUI-Regular.ttf", quaydesk)]);
    for (window, scheme) in looks() {
        opened(&browser, &server.url("/measure.html"), window, scheme);
        assert_for_everybody(&browser, &format!("before, {window:?}, {scheme}"));
        let _: Value = browser.run(&format!("{MEASURE} return null;"));
        assert_for_everybody(&browser, &format!("after, {window:?}, {scheme}"));
    }
    // What is saved is what the program reads; nothing was asked of any server.
    let (told, absent, saved): (String, String, String) = browser.run(
        "const text = id => document.getElementById(id).textContent;
         const make = URL.createObjectURL;
         const saved = new Promise(done => { URL.createObjectURL = blob => {
             if (blob.type === 'application/json') done(blob.text()); return make(blob); }; });
         document.getElementById('save').click();
         return [text('sum'), text('absent'), await saved];",
    );
    assert!(told.starts_with("1 face of 1 family in Chromium"), "{told}");
    assert_eq!(absent, "Nowhere Sans");
    let measured = Measured::read(saved.as_bytes()).expect("a result");
    let card = card(&measured, &measured.faces[0]).expect("a card");
    assert_eq!(card.names.family, "Quaydesk UI");
    // Cyrillic letters were measured one by one only.
    assert_eq!(card.unknown_widths, ["Cyrillic"]);
}
