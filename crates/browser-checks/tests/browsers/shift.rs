//! What moves in Chromium when the web font arrives: with stand-ins of one and of
//! six slices, against the bare installed font.

use std::fmt::Write as _;
use std::time::Duration;

use serde::Deserialize;
use tidy_lattice_browser_checks::{Browser, Engine, Server, every, fonts};

use crate::pairs::{FAMILY, PAIRS, PARAGRAPHS, Pair, Wish, stack, stand_in, style_of};

/// Column widths in px.
const WIDTHS: [f64; 5] = [320.0, 420.0, 520.0, 640.0, 760.0];
/// Font sizes in px.
const SIZES: [f32; 4] = [14.0, 16.0, 18.0, 24.0];
/// Line heights.
const LINE_HEIGHTS: [&str; 2] = ["normal", "1.5"];
/// The most mean shift of a page: with one factor, with six slices; and the least
/// without a stand-in.
const BARS: (f64, f64, f64) = (0.006, 0.0015, 0.03);

/// One page, before and after the web font has arrived.
#[derive(Debug, Deserialize)]
struct Page {
    /// The sum of all layout shifts (Layout Instability, §2).
    shift: f64,
    /// Heights of the paragraphs before and after, in px.
    before: Vec<f64>,
    after: Vec<f64>,
}

#[test]
#[ignore = "needs Chromium and Debian's fonts; .ci/run installs them"]
fn stand_ins_keep_pages_where_they_are() {
    let browser = Browser::start(Engine::Chromium);
    browser.resize(1280, 800);
    let server = Server::new();
    let mut faults = Vec::new();
    let mut means = [0.0; 3];
    println!(
        "mean layout shift of a page ({} sizes, {} widths, line-height normal and 1.5) when the web \
         font arrives",
        SIZES.len(),
        WIDTHS.len()
    );
    let pairs: Vec<Pair<'_>> = PAIRS.into_iter().step_by(every(4)).collect();
    for pair in pairs.iter().copied() {
        let mut row = String::new();
        for (index, slices) in [None, Some(1), Some(6)].into_iter().enumerate() {
            let pages = pages(&browser, &server, pair, slices);
            let mean = pages.iter().map(|page| page.shift).sum::<f64>() / pages.len() as f64;
            means[index] += mean / pairs.len() as f64;
            let moved: usize = pages.iter().map(changed).sum();
            let of: usize = pages.iter().map(|page| page.after.len()).sum();
            let name = match slices {
                None => "as it is".to_owned(),
                Some(slices) => slices.to_string(),
            };
            let _ = write!(row, "  {name}: {mean:.4} ({moved} of {of} paragraphs)");
            if slices.is_some() {
                check_single_lines(pair, &pages, &mut faults);
            }
        }
        println!("{:<27} {:<28}{row}", pair.0, pair.1);
    }
    let [plain, one, six] = means;
    println!(
        "mean over the pairs: {plain:.4} as it is, {one:.4} with one factor, {six:.4} with six slices"
    );
    if one > BARS.0 || six > BARS.1 || plain < BARS.2 {
        faults.push(format!(
            "{plain:.4}, {one:.4} and {six:.4} against {BARS:?}"
        ));
    }
    assert!(faults.is_empty(), "{}", faults.join("\n"));
}

/// Every paragraph of one line keeps its height to the pixel.
fn check_single_lines(pair: Pair<'_>, pages: &[Page], faults: &mut Vec<String>) {
    let mut checked = 0;
    for page in pages {
        let line = page.after.iter().copied().fold(f64::INFINITY, f64::min);
        let both = page.before.iter().zip(&page.after);
        let singles: Vec<_> = both.filter(|(_, after)| **after < 1.5 * line).collect();
        checked += singles.len();
        for (before, after) in singles {
            if before != after && *before < 1.5 * line {
                faults.push(format!(
                    "{pair:?}: one line of {before} px became {after} px"
                ));
            }
        }
    }
    assert!(
        checked >= 2 * pages.len(),
        "there are paragraphs of one line"
    );
}

fn changed(page: &Page) -> usize {
    page.before
        .iter()
        .zip(&page.after)
        .filter(|(before, after)| before != after)
        .count()
}

/// Opens a page for every size, width and line height, each in a frame of 800 by
/// 800 px, lets the web font arrive late in all, and measures.
fn pages(browser: &Browser, server: &Server, pair: Pair<'_>, slices: Option<usize>) -> Vec<Page> {
    let built = stack(
        server,
        pair,
        "/held",
        &Wish {
            text: PARAGRAPHS,
            sizes: &SIZES,
            widths: &WIDTHS,
            slices: slices.unwrap_or(1),
            pin: true,
        },
    );
    let (family, face) = stand_in(&built).expect("a stand-in");
    let family = if slices.is_some() {
        family
    } else {
        &face.face.names.family
    };
    let style = style_of(&fonts::web_face(&fonts::named(pair.0)));
    let mut paragraphs = String::new();
    // Twice, so that the window is full at every size.
    for paragraph in PARAGRAPHS.trim().split("\n\n").cycle().take(24) {
        let _ = writeln!(paragraphs, "<p>{paragraph}</p>");
    }
    let mut frames = String::new();
    for (line_height, size, width) in settings() {
        let page = format!(
            "<!doctype html><style>{}
             body {{ margin: 0; font: {size}px/{line_height} \"{FAMILY}\", \"{family}\", sans-serif;
                     {style} }}
             main {{ width: {width}px }} p {{ margin: 0 0 12px }}</style>
             <main>{paragraphs}</main>
             <script>
             window.shift = 0;
             new PerformanceObserver(list => list.getEntries().forEach(e => window.shift += e.value))
                 .observe({{type: 'layout-shift', buffered: true}});
             window.heights = () => [...document.querySelectorAll('p')]
                 .map(p => p.getBoundingClientRect().height);
             </script>",
            built.css
        );
        // Fonts that are held back would hold the connections for other frames, too.
        let page = page.replace('&', "&amp;").replace('\'', "&#39;");
        let _ = writeln!(frames, "<iframe srcdoc='{page}'></iframe>");
    }
    let page = format!(
        "<!doctype html><style>body {{ margin: 0 }} iframe {{ position: absolute; top: 0; left: 0;
         width: 800px; height: 800px; border: 0 }}</style>{frames}"
    );
    server.put("/frames", "text/html; charset=utf-8", page);
    let held = server.hold();
    browser.open(&server.url("/frames"));
    // The fallback shows once the block period (at most 100 ms for swap, after
    // a first paint) is over.
    std::thread::sleep(Duration::from_millis(1_200));
    let (loading, before): (bool, Vec<Vec<f64>>) = browser.run(
        "const all = Array.from({length: frames.length}, (_, i) => frames[i]);
         return [all.every(f => [...f.document.fonts][0].status == 'loading'),
                 all.map(f => f.heights())];",
    );
    assert!(loading, "the web font is held back");
    held.let_go();
    let (loaded, shifts, after): (bool, Vec<f64>, Vec<Vec<f64>>) = browser.run(
        "const all = Array.from({length: frames.length}, (_, i) => frames[i]);
         await Promise.all(all.map(f => f.document.fonts.ready));
         for (let frame = 0; frame < 5; frame++) await new Promise(requestAnimationFrame);
         await new Promise(done => setTimeout(done, 300));
         return [all.every(f => [...f.document.fonts][0].status == 'loaded'),
                 all.map(f => f.shift), all.map(f => f.heights())];",
    );
    assert!(loaded, "the web font has arrived");
    let both = shifts.into_iter().zip(before).zip(after);
    both.map(|((shift, before), after)| Page {
        shift,
        before,
        after,
    })
    .collect()
}

/// Line heights, sizes and widths of the pages.
fn settings() -> impl Iterator<Item = (&'static str, f32, f64)> {
    LINE_HEIGHTS.into_iter().flat_map(|line_height| {
        SIZES.into_iter().flat_map(move |size| {
            WIDTHS
                .into_iter()
                .map(move |width| (line_height, size, width))
        })
    })
}
