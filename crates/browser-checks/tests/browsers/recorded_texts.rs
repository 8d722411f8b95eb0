//! Where browsers have the lines of small texts: what is recorded beside the core's tests is
//! still so. `TIDY_LATTICE_WRITE=1` records anew.

use std::collections::BTreeMap;
use std::fmt::Write as _;
use std::path::PathBuf;

use tidy_lattice_browser_checks::{Browser, Engine, Server};

use rstest::rstest;

/// How a page is set, as in the core's `laid.rs`.
const STYLE: &str = "@font-face { font-family: F; src: url(/font) } html { font: 20px/30px F } \
                     body { margin: 0 } p { margin: 0 }";

/// How far edges may be from what is recorded, in px: browsers round anew now and then.
const NEAR: f64 = 0.02;

type Lines = Vec<(String, f64, f64)>;

fn data(name: &str) -> PathBuf {
    PathBuf::from(env!("CARGO_MANIFEST_DIR"))
        .join("../core/tests/data")
        .join(name)
}

/// The lines of each text: what stands in them without blanks, their left edges and widths.
fn seen(browser: &Browser, server: &Server, texts: &str) -> BTreeMap<String, Lines> {
    let mut frames = String::new();
    for line in texts.lines() {
        let mut columns = line.splitn(3, '\t');
        let (name, css, body) = (columns.next(), columns.next(), columns.next());
        let page = format!(
            "<!doctype html><style>{STYLE} {}</style><div id=t>{}</div>",
            css.expect("a style"),
            body.expect("a text")
        );
        let page = page.replace('&', "&amp;").replace('"', "&quot;");
        let name = name.expect("a name");
        let _ = write!(
            frames,
            "<iframe name=\"{name}\" style=\"width: 400px; height: 300px; border: 0\" \
             srcdoc=\"{page}\"></iframe>"
        );
    }
    let page = format!("<!doctype html><meta charset=utf-8><body>{frames}");
    server.put("/frames", "text/html; charset=utf-8", page);
    browser.open(&server.url("/frames"));
    let all: Vec<(String, Lines)> = browser.run(
        r"const all = [];
         for (const frame of document.querySelectorAll('iframe')) {
           while (!frame.contentDocument?.querySelector('#t'))
             await new Promise(done => setTimeout(done, 20));
           const page = frame.contentDocument;
           await page.fonts.load('20px F');
           await page.fonts.ready;
           const rows = [];
           const range = page.createRange();
           const walker = page.createTreeWalker(page.getElementById('t'), 4);
           while (walker.nextNode()) {
             const node = walker.currentNode;
             for (let at = 0; at < node.data.length; at++) {
               range.setStart(node, at);
               range.setEnd(node, at + 1);
               if (/[ \t\r\n\f]/.test(node.data[at])) continue;
               // A hyphen at the end of a line has a rectangle: the soft hyphen's, or the
               // first one of the letter behind it.
               let row = null;
               for (const rect of range.getClientRects()) {
                 if (rect.width == 0) continue;
                 const middle = rect.top + rect.height / 2;
                 row = rows.find(row => Math.abs(row.middle - middle) < 12);
                 if (!row) rows.push(row = {middle, text: '', left: rect.left, right: rect.right});
                 row.left = Math.min(row.left, rect.left);
                 row.right = Math.max(row.right, rect.right);
               }
               if (row && !/[\u00a0\u00ad\u200b\u2060]/.test(node.data[at])) row.text += node.data[at];
             }
           }
           all.push([frame.name, rows.map(row => [row.text, row.left, row.right - row.left])]);
         }
         return all;",
    );
    all.into_iter().collect()
}

#[rstest]
#[case::chromium(Engine::Chromium, "texts.chromium.json")]
#[case::firefox(Engine::Firefox, "texts.firefox.json")]
#[case::webkit(Engine::Webkit, "texts.webkit.json")]
#[ignore = "needs browsers; .ci/run has them"]
fn lines_of_texts_are_as_recorded(#[case] engine: Engine, #[case] file: &str) {
    let font = tidy_lattice_demo::file("fonts/SkerrymarkSans-Regular.ttf").expect("a demo font");
    let server = Server::new();
    server.put("/font", "font/ttf", font.to_vec());
    let browser = Browser::start(engine);
    let texts = std::fs::read_to_string(data("texts.tsv")).expect("the texts");
    let seen = seen(&browser, &server, &texts);
    if std::env::var_os("TIDY_LATTICE_WRITE").is_some() {
        let mut json = String::from("{\n");
        for (at, (name, lines)) in seen.iter().enumerate() {
            let comma = if at == 0 { "" } else { ",\n" };
            let lines = serde_json::to_string(lines).expect("JSON");
            let _ = write!(json, "{comma}{name:?}: {lines}");
        }
        json.push_str("\n}\n");
        std::fs::write(data(file), json).expect("a file");
    }
    let recorded = std::fs::read_to_string(data(file)).expect("what is recorded");
    let recorded: BTreeMap<String, Lines> = serde_json::from_str(&recorded).expect("lines");
    assert_eq!(seen.len(), texts.lines().count());
    for (name, lines) in &seen {
        let before = recorded
            .get(name)
            .unwrap_or_else(|| panic!("{name} is not recorded"));
        let same = lines.len() == before.len()
            && lines.iter().zip(before).all(|(now, then)| {
                now.0 == then.0 && (now.1 - then.1).abs() <= NEAR && (now.2 - then.2).abs() <= NEAR
            });
        assert!(same, "{name}: {lines:?}, recorded {before:?}");
    }
}
