//! The stack that `build` makes for the demo, in Chromium: on each made-up device
//! the stand-in meant for it shows until the web font arrives, and the sign font
//! shows its signs and nothing else.

use std::process::Command;
use std::sync::LazyLock;

use rstest::rstest;
use tidy_lattice_browser_checks::{Browser, Engine, Server};
use tidy_lattice_demo::file;

use crate::looks::program;
use crate::shown_fonts::shown_fonts;

/// The role whose stack is looked at.
const ROLE: &str = "notices";

/// The style sheet and the value of `font-family` that `build` makes.
static BUILT: LazyLock<(String, String)> = LazyLock::new(built);

fn built() -> (String, String) {
    let folder = tempfile::tempdir().expect("a folder");
    let program = program();
    let run = |arguments: &[&str]| {
        let output = Command::new(&program)
            .args(arguments)
            .current_dir(folder.path())
            .output()
            .expect("the built program");
        output.stdout
    };
    run(&["demo", "."]);
    let json: serde_json::Value =
        serde_json::from_slice(&run(&["build", "--role", ROLE, "--json"])).expect("JSON");
    let family = json["stacks"][0]["font_family"].as_str().expect("a stack");
    (
        json["css"].as_str().expect("a sheet").to_owned(),
        family.to_owned(),
    )
}

/// Serves a page in the stack, with the demo's fonts if `fonts`.
fn page(server: &Server, fonts: bool) -> String {
    let (css, family) = &*BUILT;
    for font in ["Regular", "Bold", "Italic"] {
        let path = format!("fonts/SkerrymarkSans-{font}.ttf");
        if fonts {
            server.put(
                &format!("/{path}"),
                "font/ttf",
                file(&path).expect("a font"),
            );
        }
    }
    for path in ["fonts/Lanternsign.ttf", "fonts/SkerrymarkText-Regular.ttf"] {
        if fonts {
            server.put(&format!("/{path}"), "font/ttf", file(path).expect("a font"));
        }
    }
    server.put(
        "/site/page",
        "text/html; charset=utf-8",
        format!(
            "<!doctype html><style>{css} p {{ font-family: {family} }}</style>
         <p class=sign>→</p><p class=text>Ferry &amp; pier</p><p class=bold><b>Ferry</b></p>
         <p class=both>Ferry → pier ⚓</p>"
        ),
    );
    server.url("/site/page")
}

/// Waits until no font is on its way.
fn settle(browser: &Browser) {
    let _: Vec<String> = browser.run(
        "document.body.getBoundingClientRect(); await document.fonts.ready;
         await new Promise(done => setTimeout(done, 300));
         return [...document.fonts].map(face => face.status);",
    );
}

#[rstest]
#[case::harbourdesk(
    &["QuaydeskUI-Regular", "QuaydeskUI-Bold", "QuaydeskUI-Italic", "Pebbleroom-Regular"],
    "QuaydeskUI-Regular",
    "QuaydeskUI-Bold"
)]
#[case::skiffphone(&["Pebbleroom-Regular"], "Pebbleroom-Regular", "Pebbleroom-Regular")]
#[case::quaykiosk(&["QuaydeskUI-Regular"], "QuaydeskUI-Regular", "QuaydeskUI-Regular")]
#[case::tidetab(
    &["QuaydeskUI-Regular", "QuaydeskUI-Bold", "QuaydeskUI-Italic", "Driftplain-Regular"],
    "Driftplain-Regular",
    "Driftplain-Regular"
)]
#[ignore = "needs Chromium and the built program; .ci/run makes them"]
fn each_device_shows_the_stand_in_meant_for_it(
    #[case] installed: &[&str],
    #[case] text: &str,
    #[case] bold: &str,
) {
    let names: Vec<String> = installed.iter().map(|name| format!("{name}.ttf")).collect();
    let fonts: Vec<(&str, &[u8])> = names
        .iter()
        .map(|name| {
            (
                name.as_str(),
                file(&format!("installed/{name}")).expect("a font"),
            )
        })
        .collect();
    let server = Server::new();
    let browser = Browser::start_with_fonts(Engine::Chromium, &fonts);
    // Web fonts that never come are like web fonts on their way.
    browser.open(&page(&server, false));
    settle(&browser);
    for (selector, meant) in [(".text", text), ("b", bold)] {
        let shown = shown_fonts(&browser, selector);
        let names: Vec<&str> = shown[0]
            .iter()
            .map(|font| font.postscript.as_str())
            .collect();
        println!("{installed:?} {selector}: {names:?}");
        assert_eq!(names, [meant], "{selector}");
    }
    // It is the stand-in, not the family as it is: the sizes differ.
    let sizes: (f64, f64) = browser.run(
        "const text = document.querySelector('.text');
         const span = document.createElement('span');
         span.textContent = text.textContent; text.replaceChildren(span);
         const before = span.getBoundingClientRect().width;
         const plain = [...getComputedStyle(text).fontFamily.matchAll(/\"([^\"]*)\"/g)].map(m => m[1])
             .filter(name => !name.startsWith('Skerrymark'));
         span.style.fontFamily = plain.map(name => JSON.stringify(name)).join();
         return [before, span.getBoundingClientRect().width];",
    );
    println!(
        "{installed:?}: {} px in the stand-in, {} px as it is",
        sizes.0, sizes.1
    );
    if text != "Driftplain-Regular" {
        assert!((sizes.0 / sizes.1 - 1.0).abs() > 0.02, "{sizes:?}");
    }
}

#[test]
#[ignore = "needs Chromium and the built program; .ci/run makes them"]
fn the_sign_font_shows_its_signs_and_nothing_else() {
    let server = Server::new();
    let browser = Browser::start(Engine::Chromium);
    browser.open(&page(&server, true));
    settle(&browser);
    let names = |selector: &str| -> Vec<String> {
        let mut names: Vec<String> = shown_fonts(&browser, selector)[0]
            .iter()
            .map(|font| {
                assert!(font.web, "{font:?}");
                font.postscript.clone()
            })
            .collect();
        names.sort();
        names
    };
    assert_eq!(names(".sign"), ["Lanternsign-Regular"]);
    assert_eq!(names(".text"), ["SkerrymarkSans-Regular"]);
    assert_eq!(names("b"), ["SkerrymarkSans-Bold"]);
    assert_eq!(
        names(".both"),
        ["Lanternsign-Regular", "SkerrymarkSans-Regular"]
    );
}
