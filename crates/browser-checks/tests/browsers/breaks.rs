//! Where lines break in Chromium: web font against plain fallback and stand-ins of
//! one, three and six slices, and whether the core's own figures are these.

use std::fmt::Write as _;

use serde::Deserialize;
use tidy_lattice_browser_checks::{Browser, Engine, Server, fonts};
use tidy_lattice_core::standin::BreakCount;

use crate::pairs::{FAMILY, PAIRS, Wish, long_text, stack, stand_in, style_of, widths};

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
    let widths = widths();
    println!(
        "share of paragraph layouts (31 widths) with any line broken elsewhere, in %: in Chromium \
         (as the core counts it)"
    );
    let mut faults = Vec::new();
    let mut sums = [0.0; BARS.len()];
    for pair in PAIRS {
        let mut rows = String::new();
        for (index, (slices, _)) in BARS.into_iter().enumerate() {
            let wish = Wish {
                text: &text,
                sizes: &[SIZE],
                widths: &widths,
                slices,
                pin: true,
            };
            let built = stack(&server, pair, "/fonts", &wish);
            let (family, face) = stand_in(&built).expect("a stand-in");
            let local = face.face.names.family.clone();
            let web = fonts::web_face(&fonts::named(pair.0));
            let families = if index == 0 {
                vec![local.as_str(), family]
            } else {
                vec![family]
            };
            let counted = count(
                &browser,
                &server,
                &built.css,
                &style_of(&web),
                &families,
                &text,
                &widths,
            );
            if index == 0 {
                let plain = face.width.breaks_before.expect("running text");
                compare(pair.1, &counted[0], plain, &mut faults);
                let _ = write!(rows, "  as it is {}", told(&counted[0], plain));
            }
            let fitted = face.width.breaks_after.expect("running text");
            let last = counted.last().expect("the stand-in");
            compare(family, last, fitted, &mut faults);
            sums[index] += last.share() / PAIRS.len() as f64;
            let _ = write!(rows, "  {slices}: {}", told(last, fitted));
        }
        println!("{:<27} {:<28}{rows}", pair.0, pair.1);
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

/// Lays the text out in every one of `families` and in the web font.
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
         // Lines are told apart by how high they stand, and found by halving.
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
                 found.push(places[high]);
                 low = high;
                 last = top(node, places[high]);
             }}
             return found;
         }};
         const all = [{FAMILY:?}, ...{families:?}];
         const results = all.slice(1).map(() => ({{layouts: 0, any: 0}}));
         for (const width of {widths:?}) {{
             main.style.width = width + 'px';
             const layouts = all.map(family => {{
                 main.style.fontFamily = JSON.stringify(family);
                 return paragraphs.map((node, index) => starts(node, words[index]));
             }});
             results.forEach((result, index) => paragraphs.forEach((_, number) => {{
                 const [web, other] = [layouts[0][number], layouts[index + 1][number]];
                 result.layouts += 1;
                 result.any += web.join() != other.join();
             }}));
         }}
         return results;"
    ))
}
