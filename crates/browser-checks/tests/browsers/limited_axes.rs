//! Variable fonts with shortened and pinned axes load, and set text as wide as their sources.

use rstest::rstest;
use tidy_lattice_browser_checks::{Browser, Engine, Server, fonts};
use tidy_lattice_core::font::{FontFile, Limits};
use tidy_lattice_core::trim::subset::{AxisLimit, Features, Source, Want};

/// How far the width of a text at 100 px may be off: two thousandths of an em for a letter.
const NEAR: f64 = 0.2;

const TEXT: &str = "Tide turns every day, AVATAR 1990";

/// The part of a font.
fn cut(bytes: &[u8], limit: AxisLimit) -> Vec<u8> {
    let file = FontFile::read(bytes.to_vec(), Limits::DEFAULT).expect("a font");
    let file = file.as_web_font();
    let mut source = Source::read(&file, 0).expect("a source");
    source.limit(&[limit]).expect("limits");
    let want = Want {
        characters: source.characters(),
        literal: false,
        features: Features::of_css([]),
        hints: false,
        family: None,
    };
    source.cut(&want).expect("a part").sfnt
}

/// Widths of the text in both faces at a weight.
fn widths(browser: &Browser, server: &Server, weight: f64) -> (f64, f64) {
    let line = |family: &str| {
        format!("<p><span id={family} style=\"font: {weight} 100px {family}\">{TEXT}</span></p>")
    };
    let face = |family: &str, weights: &str| {
        format!(
            "@font-face {{ font-family: {family}; src: url(/{family}.font); font-weight: {weights} }}"
        )
    };
    let page = format!(
        "<!doctype html><meta charset=utf-8><style>{} {} p {{ white-space: nowrap }}</style>{}{}",
        face("whole", "100 900"),
        face("part", &weight.to_string()),
        line("whole"),
        line("part")
    );
    server.put("/page.html", "text/html; charset=utf-8", page);
    browser.open(&server.url("/page.html"));
    browser.run(
        "await Promise.all([...document.fonts].map(face => face.load())); \
         await document.fonts.ready; \
         return ['whole', 'part'].map(id => document.getElementById(id).getBoundingClientRect().width);",
    )
}

#[rstest]
#[case::chromium(Engine::Chromium)]
#[case::firefox(Engine::Firefox)]
#[ignore = "needs browsers and Debian's fonts; .ci/run has them"]
fn text_is_as_wide_at_the_weights_that_are_left(#[case] engine: Engine) {
    let all = fonts::installed();
    let variable = |name: &&std::path::PathBuf| name.to_string_lossy().ends_with("-roman.var.ttf");
    let variable: Vec<_> = all.iter().filter(variable).collect();
    assert!(
        !variable.is_empty(),
        "Debian's variable Inter is not installed"
    );
    let browser = Browser::start(engine);
    let letters = TEXT.chars().count() as f64;
    let mut compared = 0;
    for path in variable {
        let bytes = std::fs::read(path).expect("a font");
        for (from, to) in [(400.0, 700.0), (100.0, 300.0), (650.0, 650.0)] {
            let tag = *b"wght";
            let part = cut(&bytes, AxisLimit { tag, from, to });
            // Firefox keeps fonts by their address.
            let server = Server::new();
            server.put("/whole.font", "font/ttf", bytes.clone());
            server.put("/part.font", "font/ttf", part);
            for weight in [from, (from + to) / 2.0, to] {
                let (whole, part) = widths(&browser, &server, weight);
                let off = (whole - part).abs();
                assert!(
                    off <= NEAR * letters,
                    "{} at {weight}: {whole} px, now {part}",
                    path.display()
                );
                compared += 1;
            }
        }
    }
    println!("{compared} texts in shortened axes are as wide as in their sources");
}
