//! Generic families of this device, by the language that a page states, as Chromium has them.

use std::fmt::Write as _;

use tidy_lattice_browser_checks::{Browser, Engine, Server};

use crate::shown_fonts::shown_fonts;
use crate::traces::{difference, said_of};

const GENERICS: [&str; 4] = ["serif", "sans-serif", "monospace", "system-ui"];

const LANGUAGES: [&str; 18] = [
    "en", "ja", "ko", "zh", "zh-CN", "zh-TW", "zh-HK", "zh-Hant", "yue", "und-Jpan", "ja-Latn",
    "hi", "mr", "ne", "sa", "ar", "ru", "bn",
];

const TEXTS: [&str; 6] = ["Hamburg", "漢字", "かな", "한국", "नमस्ते", "Привет"];

#[test]
#[ignore = "needs Chromium, Debian's fonts and the built program; .ci/run has them"]
fn generic_families_are_those_of_the_language() {
    let mut paragraphs = String::new();
    for language in LANGUAGES {
        for generic in GENERICS {
            for text in TEXTS {
                let _ = writeln!(
                    paragraphs,
                    "<p lang={language} style=\"font-family: {generic}\">{text}</p>"
                );
            }
        }
    }
    let server = Server::new();
    let page = format!("<!doctype html><meta charset=utf-8>{paragraphs}");
    server.put("/page", "text/html; charset=utf-8", page);
    let browser = Browser::start(Engine::Chromium);
    browser.open(&server.url("/page"));
    let shown = shown_fonts(&browser, "p");
    let mut shown = shown.iter();
    let folder = tempfile::tempdir().expect("a folder");
    let (mut pairs, mut faults) = (0, Vec::new());
    for language in LANGUAGES {
        for generic in GENERICS {
            let options = ["--stack", generic, "-p", "here", "--language", language];
            for (said, text) in said_of(&TEXTS, &options, folder.path()).iter().zip(TEXTS) {
                pairs += 1;
                let shown = shown.next().expect("an element");
                if let Some(fault) = difference(said, shown) {
                    faults.push(format!("{language} {generic} {text}: {fault}"));
                }
            }
        }
    }
    println!(
        "{pairs} pairs of language and generic family, {} otherwise",
        faults.len()
    );
    assert!(faults.is_empty(), "{}", faults.join("\n"));
}
