//! Where lines break in Chromium: web font against plain fallback and stand-ins of
//! one, three and six slices, and whether the core's own figures are these.

use std::fmt::Write as _;

use serde::Deserialize;
use tidy_lattice_browser_checks::{Browser, Engine, Server, every, fonts};
use tidy_lattice_core::standin::BreakCount;

use crate::pairs::{FAMILY, PAIRS, Pair, Wish, long_text, stack, stand_in, style_of, widths};

/// The size of the text, in px.
const SIZE: f32 = 16.0;

/// Slices, and the share of layouts in % that an earlier way to slice left with
/// breaks elsewhere, on the mean of four pairs and a text of the same kind.
const BARS: [(usize, f64); 3] = [(1, 34.95), (3, 16.78), (6, 7.13)];

/// How far the core's figures may be from the browser's, in points.
const TOLERANCE: f64 = 0.5;

/// What Chromium made of one family against the web font.
#[derive(Debug, Deserialize)]
pub struct Counted {
    /// Paragraphs at every width.
    pub layouts: u64,
    /// Those of them with a line broken elsewhere.
    pub any: u64,
}

impl Counted {
    fn share(&self) -> f64 {
        self.any as f64 / self.layouts as f64 * 100.0
    }
}

#[test]
#[ignore = "needs Chromium and Debian's fonts; .ci/run installs them"]
fn lines_break_where_the_core_says() {
    let server = Server::new();
    let browser = Browser::start(Engine::Chromium);
    browser.resize(1280, 800);
    let text = long_text();
    let widths: Vec<f64> = widths().into_iter().step_by(every(3)).collect();
    println!(
        "share of paragraph layouts ({} widths) with any line broken elsewhere, in %: in Chromium \
         (as the core counts it)",
        widths.len()
    );
    let mut faults = Vec::new();
    let mut sums = [0.0; BARS.len()];
    let pairs: Vec<Pair<'_>> = PAIRS.into_iter().step_by(every(2)).collect();
    for pair in pairs.iter().copied() {
        // All ways on one page, so that the web font is laid out once.
        let mut css = String::new();
        let mut families = Vec::new();
        let mut counts = Vec::new();
        for (slices, _) in BARS {
            let wish = Wish {
                text: &text,
                sizes: &[SIZE],
                widths: &widths,
                slices,
                pin: true,
            };
            let built = stack(&server, pair, "/fonts", &wish);
            let (family, face) = stand_in(&built).expect("a stand-in");
            // A name of its own for each way.
            let named = |name: &str| name.replace(FAMILY, &format!("{FAMILY} {slices}"));
            if families.is_empty() {
                families.extend([named(FAMILY), face.face.names.family.clone()]);
                counts.push(face.width.breaks_before.expect("running text"));
            }
            families.push(named(family));
            counts.push(face.width.breaks_after.expect("running text"));
            css.push_str(&named(&built.css));
        }
        let families: Vec<&str> = families.iter().map(String::as_str).collect();
        let style = style_of(&fonts::web_face(&fonts::named(pair.0)));
        let counted = count(&browser, &server, &css, &style, &families, &text, &widths);
        let mut row = String::new();
        let ways = ["as it is".to_owned()].into_iter();
        let ways = ways.chain(BARS.map(|(slices, _)| slices.to_string()));
        for (((way, family), counted), core) in ways.zip(&families[1..]).zip(&counted).zip(counts) {
            compare(family, counted, core, &mut faults);
            let _ = write!(row, "  {way}: {}", told(counted, core));
        }
        for (sum, counted) in sums.iter_mut().zip(&counted[1..]) {
            *sum += counted.share() / pairs.len() as f64;
        }
        println!("{:<27} {:<28}{row}", pair.0, pair.1);
    }
    for ((slices, bar), mean) in BARS.into_iter().zip(sums) {
        println!("mean over the pairs with {slices} slices: {mean:.2} % (bar {bar} %)");
        if mean >= bar {
            faults.push(format!("{slices} slices: {mean:.2} % is not below {bar} %"));
        }
    }
    assert!(faults.is_empty(), "{}", faults.join("\n"));
}

fn told(counted: &Counted, core: BreakCount) -> String {
    format!("{:5.2} ({:5.2})", counted.share(), core.share())
}

fn compare(family: &str, counted: &Counted, core: BreakCount, faults: &mut Vec<String>) {
    if counted.layouts != core.layouts {
        faults.push(format!("{family}: {counted:?} against {core:?}"));
    }
    if (counted.share() - core.share()).abs() > TOLERANCE {
        faults.push(format!(
            "{family}: {:.2} % in Chromium, {:.2} % by the core ({counted:?}, {core:?})",
            counted.share(),
            core.share()
        ));
    }
}

/// Lays the text out in every one of `families`, and counts against the first.
pub fn count(
    browser: &Browser,
    server: &Server,
    css: &str,
    style: &str,
    families: &[&str],
    text: &str,
    widths: &[f64],
) -> Vec<Counted> {
    let mut paragraphs = String::new();
    for paragraph in text.split("\n\n") {
        let escaped = paragraph.replace('&', "&amp;").replace('<', "&lt;");
        let _ = writeln!(paragraphs, "<p>{escaped}</p>");
    }
    let page = format!(
        "<!doctype html><html lang=en><meta charset=utf-8><style>{css} \
         main {{ font-size: {SIZE}px; line-height: 24px; {style} }} p {{ margin: 0 }}</style>\
         <main>{paragraphs}</main>"
    );
    server.put("/breaks", "text/html; charset=utf-8", page);
    browser.open(&server.url("/breaks"));
    browser.run(&format!(
        "await Promise.allSettled([...document.fonts].map(face => face.load()));
         const main = document.querySelector('main');
         const paragraphs = [...document.querySelectorAll('p')].map(p => p.firstChild);
         const range = document.createRange();
         const top = (node, at) => {{
             range.setStart(node, at); range.setEnd(node, at + 1);
             return range.getBoundingClientRect().top;
         }};
         const words = paragraphs.map(node => [...node.data.matchAll(/[^\\s-]+/g)].map(m => m.index));
         // Lines are told apart by how high they stand, and found by halving: for each, the
         // number of its first word.
         const starts = (node, places) => {{
             const found = [];
             let last = top(node, places[0]);
             let low = 0;
             while (low < places.length) {{
                 let high = places.length;
                 let from = low;
                 if (Math.abs(top(node, places[places.length - 1]) - last) < 1) break;
                 while (high - from > 1) {{
                     const middle = (from + high) >> 1;
                     if (Math.abs(top(node, places[middle]) - last) < 1) from = middle;
                     else high = middle;
                 }}
                 found.push(high);
                 low = high;
                 last = top(node, places[high]);
             }}
             return found;
         }};
         // Whether the lines begin with these words: each does, and the word before does not
         // stand lower than the line before.
         const same = (node, places, starts) => {{
             let last = top(node, places[0]);
             for (const start of starts) {{
                 if (Math.abs(top(node, places[start - 1]) - last) >= 1) return false;
                 const next = top(node, places[start]);
                 if (Math.abs(next - last) < 1) return false;
                 last = next;
             }}
             return Math.abs(top(node, places[places.length - 1]) - last) < 1;
         }};
         const [web, ...others] = {families:?};
         const results = others.map(() => ({{layouts: 0, any: 0}}));
         for (const width of {widths:?}) {{
             main.style.width = width + 'px';
             main.style.fontFamily = JSON.stringify(web);
             const lines = paragraphs.map((node, index) => starts(node, words[index]));
             others.forEach((family, index) => {{
                 main.style.fontFamily = JSON.stringify(family);
                 paragraphs.forEach((node, number) => {{
                     results[index].layouts += 1;
                     results[index].any += !same(node, words[number], lines[number]);
                 }});
             }});
         }}
         return results;"
    ))
}
