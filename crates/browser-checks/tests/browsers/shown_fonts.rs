//! The fonts that Chromium shows elements in, as its developer tools tell them.

use serde_json::{Value, json};
use tidy_lattice_browser_checks::Browser;

/// A font that an element shows.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Shown {
    /// Its PostScript name.
    pub postscript: String,
    /// Whether it was loaded.
    pub web: bool,
}

/// For each element of `selector` the fonts of its text.
pub fn shown_fonts(browser: &Browser, selector: &str) -> Vec<Vec<Shown>> {
    browser.devtools("DOM.enable", json!({}));
    browser.devtools("CSS.enable", json!({}));
    let document = browser.devtools("DOM.getDocument", json!({"depth": 1}));
    let elements = browser.devtools(
        "DOM.querySelectorAll",
        json!({"nodeId": document["root"]["nodeId"], "selector": selector}),
    );
    let nodes = elements["nodeIds"].as_array().cloned().unwrap_or_default();
    nodes
        .into_iter()
        .map(|node| {
            let answer = browser.devtools("CSS.getPlatformFontsForNode", json!({"nodeId": node}));
            let fonts = answer["fonts"].as_array().cloned().unwrap_or_default();
            fonts.iter().map(Shown::read).collect()
        })
        .collect()
}

/// A PostScript name by what may stand in one (OpenType 1.9.1, `name`, ID 6): Chromium
/// garbles blanks in it.
pub fn plain_name(name: &str) -> String {
    name.chars().filter(char::is_ascii_graphic).collect()
}

impl Shown {
    fn read(font: &Value) -> Self {
        Shown {
            postscript: plain_name(font["postScriptName"].as_str().unwrap_or_default()),
            web: font["isCustomFont"] == true,
        }
    }
}
