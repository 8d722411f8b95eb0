//! What moves in Chromium when the web font arrives: with the stand-in against
//! with the bare installed font.

use std::fmt::Write as _;
use std::time::Duration;

use tidy_lattice_browser_checks::{Browser, Engine, Server};

use crate::pairs::{FAMILY, PAIRS, PARAGRAPHS, Pair, stack};

/// Column widths in px.
const WIDTHS: [u32; 5] = [320, 420, 520, 640, 760];
/// The font size in px.
const SIZE: f32 = 16.0;

/// What was measured of one page.
struct Measured {
    /// The sum of all layout shifts (Layout Instability, §2).
    shift: f64,
    /// Heights of the paragraphs before and after, in px.
    heights: Vec<(f64, f64)>,
}

#[test]
#[ignore = "needs Chromium and Debian's fonts; .ci/run installs them"]
fn stand_ins_shift_at_most_a_fifth() {
    let browser = Browser::start(Engine::Chromium);
    browser.resize(1280, 800);
    let server = Server::new();
    let mut failures = Vec::new();
    for pair in PAIRS {
        let built = stack(&server, pair, "/held", &[SIZE]).expect("a stack");
        let local = &built.stand_ins[0].face.names.family;
        let bare = format!("\"{FAMILY}\", \"{local}\", sans-serif");
        let (mut with, mut without, mut line_changes) = (0.0, 0.0, (0, 0));
        for width in WIDTHS {
            let fitted = measure(&browser, &server, &built.css, &built.font_family, width);
            let plain = measure(&browser, &server, &built.css, &bare, width);
            with += fitted.shift;
            without += plain.shift;
            line_changes.0 += changed(&fitted);
            line_changes.1 += changed(&plain);
            check_single_lines(pair, width, &fitted, &mut failures);
        }
        println!(
            "{} over {}: layout shift {with:.4} with the stand-in, {without:.4} without; \
             {} and {} of {} paragraphs changed their height",
            pair.0,
            pair.1,
            line_changes.0,
            line_changes.1,
            WIDTHS.len() * PARAGRAPHS.split("\n\n").count(),
        );
        if without == 0.0 || with > without / 5.0 {
            failures.push(format!(
                "{pair:?}: {with:.4} is more than a fifth of {without:.4}"
            ));
        }
    }
    assert!(failures.is_empty(), "{}", failures.join("\n"));
}

/// Every paragraph of one line keeps its height to the pixel.
fn check_single_lines(pair: Pair<'_>, width: u32, page: &Measured, failures: &mut Vec<String>) {
    let line = page
        .heights
        .iter()
        .map(|(_, after)| *after)
        .fold(f64::INFINITY, f64::min);
    let singles: Vec<_> = page
        .heights
        .iter()
        .filter(|(_, after)| *after < 1.5 * line)
        .collect();
    assert!(singles.len() >= 3, "there are paragraphs of one line");
    for (before, after) in singles {
        if before != after {
            failures.push(format!(
                "{pair:?} at {width} px: one line of {before} px became {after} px"
            ));
        }
    }
}

fn changed(page: &Measured) -> usize {
    page.heights
        .iter()
        .filter(|(before, after)| before != after)
        .count()
}

/// Opens the paragraphs in a column of `width` px, lets the web font arrive
/// late, and measures.
fn measure(browser: &Browser, server: &Server, css: &str, families: &str, width: u32) -> Measured {
    let mut paragraphs = String::new();
    for paragraph in PARAGRAPHS.trim().split("\n\n") {
        let _ = writeln!(paragraphs, "<p>{paragraph}</p>");
    }
    let page = format!(
        "<!doctype html><style>{css}
         body {{ margin: 0; font: {SIZE}px {families} }}
         main {{ width: {width}px }} p {{ margin: 0 0 12px }}</style>
         <main>{paragraphs}</main>
         <script>
         window.shift = 0;
         new PerformanceObserver(list => list.getEntries().forEach(e => window.shift += e.value))
             .observe({{type: 'layout-shift', buffered: true}});
         </script>"
    );
    server.put("/page", "text/html; charset=utf-8", page);
    let held = server.hold();
    browser.open(&server.url("/page"));
    const HEIGHTS: &str =
        "[...document.querySelectorAll('p')].map(p => p.getBoundingClientRect().height)";
    // The fallback shows once the block period (at most 100 ms for swap, after
    // a first paint) is over.
    std::thread::sleep(Duration::from_millis(600));
    let (status, before): (Vec<String>, Vec<f64>) = browser.run(&format!(
        "return [[...document.fonts].map(f => f.status), {HEIGHTS}];"
    ));
    assert_eq!(status[0], "loading", "the web font is held back");
    held.let_go();
    let (status, shift, after): (String, f64, Vec<f64>) = browser.run(&format!(
        "await document.fonts.ready;
         for (let frame = 0; frame < 5; frame++) await new Promise(requestAnimationFrame);
         await new Promise(done => setTimeout(done, 200));
         return [[...document.fonts][0].status, window.shift, {HEIGHTS}];"
    ));
    assert_eq!(status, "loaded", "the web font has arrived");
    Measured {
        shift,
        heights: before.into_iter().zip(after).collect(),
    }
}
