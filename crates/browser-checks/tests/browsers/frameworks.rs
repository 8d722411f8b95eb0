//! Every text of a page that uses a CSS framework has the style that Chromium computes
//! for it. `scripts/fetch-frameworks` brings the style sheets.

use std::collections::BTreeSet;
use std::fmt::Write as _;
use std::path::Path;

use tidy_lattice_browser_checks::{Browser, Engine, Server, every};
use tidy_lattice_core::page::{Files, OpenedFile, TextOrigin, Unread, read};
use tidy_lattice_core::style::read::Viewport;

use crate::computed::{COLLECT, Computed, differences};

const KITCHEN: &str = include_str!("pages/kitchen.html");

/// The most classes of a sheet that are tried.
const MOST_CLASSES: usize = 4_000;

/// The sheet, whatever URL asks for it.
struct Framework<'a>(&'a str);

impl Files for Framework<'_> {
    fn read(&self, url: &str, _: &str, _: &str) -> Result<OpenedFile, Unread> {
        if url != "/framework.css" {
            return Err(Unread::Remote);
        }
        Ok(OpenedFile {
            name: "framework.css".to_owned(),
            bytes: self.0.as_bytes().to_vec(),
        })
    }
}

/// The kitchen's page, with a text in each class that the sheet names.
fn page(css: &str) -> String {
    let mut classes = BTreeSet::new();
    for (at, _) in css.match_indices('.') {
        let rest = &css[at + 1..];
        let end = rest.find(|c: char| !(c.is_ascii_alphanumeric() || c == '-' || c == '_'));
        let name = &rest[..end.unwrap_or(rest.len())];
        if name.starts_with(|c: char| c.is_ascii_alphabetic()) {
            classes.insert(name);
        }
    }
    let mut texts = String::new();
    let taken = classes.into_iter().take(MOST_CLASSES);
    for name in taken.step_by(every(2)) {
        let _ = write!(
            texts,
            "<div class=\"{name}\">a<p>b</p><a href=x>c</a></div><span class=\"{name}\">d</span>"
        );
    }
    KITCHEN.replace("</main>", &format!("{texts}</main>"))
}

#[test]
#[ignore = "needs Chromium and the sheets of scripts/fetch-frameworks; .ci/run has both"]
fn texts_in_frameworks_have_the_styles_that_the_browser_computes() {
    let folder = std::env::var_os("TIDY_LATTICE_FRAMEWORKS")
        .expect("TIDY_LATTICE_FRAMEWORKS names the folder of scripts/fetch-frameworks");
    let mut sheets: Vec<_> = std::fs::read_dir(Path::new(&folder))
        .expect("a folder")
        .map(|entry| entry.expect("an entry").path())
        .collect();
    sheets.sort();
    assert!(sheets.len() >= 20, "{} sheets", sheets.len());
    let browser = Browser::start(Engine::Chromium);
    let (mut texts, mut faults) = (0, Vec::new());
    for (number, sheet) in sheets.iter().enumerate() {
        let name = sheet.file_stem().unwrap_or_default().to_string_lossy();
        let css = std::fs::read_to_string(sheet).expect("a sheet");
        let html = page(&css);
        let server = Server::new();
        server.put("/page.html", "text/html; charset=utf-8", html.as_str());
        server.put("/framework.css", "text/css; charset=utf-8", css.as_str());
        let mut own = Vec::new();
        // One of both windows for each, or both.
        let windows = [(1280, 800), (390, 844)]
            .into_iter()
            .skip(number % every(2));
        for (width, height) in windows.step_by(every(2)) {
            browser.resize(width, height);
            browser.open(&server.url("/page.html"));
            let computed: Vec<Computed> = browser.run(COLLECT);
            let viewport = Viewport::screen(width as f32, height as f32);
            let (ours, dom) = read(&html, "/page.html", &Framework(&css), viewport);
            let content: Vec<_> = ours
                .texts
                .iter()
                .filter(|text| text.origin == TextOrigin::Content && dom.text(text.node).is_some())
                .collect();
            assert_eq!(content.len(), computed.len(), "{name}: as many texts");
            for (text, computed) in content.iter().zip(&computed) {
                texts += 1;
                own.extend(differences(&ours, text.style, computed).map(|fault| {
                    format!(
                        "{name} at {width} px, {:?} in {}: {fault}",
                        computed.text, text.element
                    )
                }));
            }
            let notes = ours.problems.iter().map(|problem| {
                format!(
                    "{name} at {width} px, line {}: {}",
                    problem.line, problem.what
                )
            });
            // Rules that Chromium drops, too, are told; a file-selector-button takes no
            // attribute.
            own.extend(notes.filter(|note| {
                !note.contains("@container") && !note.contains(".button[disabled], button[disa")
            }));
        }
        println!("{name}: {} faults", own.len());
        faults.extend(own);
    }
    println!(
        "{texts} texts in {} frameworks, {} styled otherwise than said",
        sheets.len(),
        faults.len()
    );
    assert!(faults.is_empty(), "{}", faults.join("\n"));
}
