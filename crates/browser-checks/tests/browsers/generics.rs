//! Generic families of this device, by the language that a page states, as browsers have them.

use std::fmt::Write as _;
use std::process::Command;

use rstest::rstest;
use tidy_lattice_browser_checks::{Browser, Engine, Server, every};

use crate::looks::program;
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
    for language in LANGUAGES.into_iter().step_by(every(2)) {
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
    for language in LANGUAGES.into_iter().step_by(every(2)) {
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

/// Languages that have generic families of their own, and a text in each.
const IN_LANGUAGES: [(&str, &str); 11] = [
    ("en", "The evening ferry stops at both islands"),
    ("uk", "Вечірній пором зупиняється біля обох островів"),
    ("ja", "夕方の船は両方の島に寄ります Tide"),
    ("ko", "저녁 배는 두 섬에 모두 들릅니다 Tide"),
    ("zh-CN", "傍晚的渡轮停靠两个岛屿 Tide"),
    ("zh-TW", "傍晚的渡輪停靠兩個島嶼 Tide"),
    ("ar", "تتوقف العبارة المسائية عند الجزيرتين"),
    ("he", "המעבורת של הערב עוצרת בשני האיים"),
    ("el", "Το βραδινό πλοίο σταματά και στα δύο νησιά"),
    ("th", "เรือเฟอร์รี่รอบเย็นจอดที่เกาะทั้งสอง"),
    ("hi", "शाम की नाव दोनों द्वीपों पर रुकती है"),
];

#[rstest]
#[case::chromium("chromium")]
#[case::firefox("firefox")]
#[ignore = "needs browsers, Debian's fonts and the built program; .ci/run has them"]
fn texts_in_generic_families_are_as_wide_as_foretold(#[case] engine: &str) {
    let mut page = "<!doctype html><meta charset=utf-8>".to_owned();
    for (language, text) in IN_LANGUAGES {
        // Chromium finds letters that its family lacks in fonts that nobody foretells.
        if engine == "chromium" && ["ar", "th"].contains(&language) {
            continue;
        }
        for generic in GENERICS {
            let _ = write!(
                page,
                "<p lang={language} style=\"font: 20px {generic}\">{text}</p>"
            );
        }
    }
    let folder = tempfile::tempdir().expect("a folder");
    std::fs::write(folder.path().join("page.html"), page).expect("a page");
    let run = Command::new(program())
        .args(["prove", "page.html", "-p", "here", "--strict"])
        .args(["--viewport", "desktop", "--browser", engine])
        .current_dir(folder.path())
        .output()
        .expect("the built program");
    let said = String::from_utf8_lossy(&run.stdout);
    assert!(run.status.success(), "{said}");
    assert!(said.contains("holds"), "{said}");
}
