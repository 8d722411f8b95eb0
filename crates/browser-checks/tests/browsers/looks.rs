//! Pages of ours as people see them: windows, colour schemes, and a checker of accessibility.

use std::path::PathBuf;

use serde_json::{Value, json};
use tidy_lattice_browser_checks::{Browser, every};

/// The folder of the checker, fetched from npm (`axe-core`).
const AXE: &str = "TIDY_LATTICE_AXE";

/// The windows and colour schemes that pages are looked at in; the first two have each once.
const LOOKS: [((u32, u32), &str); 4] = [
    ((1280, 800), "light"),
    ((390, 844), "dark"),
    ((1280, 800), "dark"),
    ((390, 844), "light"),
];

/// Those of them that are taken.
pub fn looks() -> impl Iterator<Item = ((u32, u32), &'static str)> {
    LOOKS.into_iter().take(LOOKS.len() / every(2))
}

/// The program, which was built beside the tests.
pub fn program() -> PathBuf {
    let tests = std::env::current_exe().expect("a file of these tests");
    let program = tests
        .ancestors()
        .nth(2)
        .map(|folder| folder.join("tidy-lattice"));
    program.expect("the folder above")
}

/// Opens a page in a window of this size, in px, and colour scheme.
pub fn opened(browser: &Browser, url: &str, (width, height): (u32, u32), scheme: &str) {
    browser.devtools(
        "Emulation.setEmulatedMedia",
        json!({"features": [{"name": "prefers-color-scheme", "value": scheme}]}),
    );
    browser.devtools(
        "Emulation.setDeviceMetricsOverride",
        json!({"width": width, "height": height, "deviceScaleFactor": 1, "mobile": false}),
    );
    browser.open(url);
    let _: Value = browser.run("await document.fonts.ready; return null;");
}

/// Asserts that the checker finds nothing, and that nothing is wider than the window.
pub fn assert_for_everybody(browser: &Browser, look: &str) {
    let axe = std::env::var(AXE).expect("TIDY_LATTICE_AXE: the folder of axe-core's package");
    let axe = std::fs::read_to_string(PathBuf::from(axe).join("axe.min.js")).expect("axe.min.js");
    let found: Vec<String> = browser.run(&format!(
        "{axe}\n;const found = await axe.run(); return found.violations.map(one => \
         `${{one.id}}: ${{one.nodes.length}}, ${{one.nodes[0].html}}`);"
    ));
    assert_eq!(found, Vec::<String>::new(), "{look}");
    let over: f64 = browser.run("return document.documentElement.scrollWidth - innerWidth;");
    assert!(over <= 0.0, "{look}: {over} px wider than the window");
}
