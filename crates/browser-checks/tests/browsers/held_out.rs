//! Web fonts that nothing was tuned on, over the closest installed font, on texts that
//! nothing was counted in: what moves in the browser when the web font arrives.
//! `scripts/fetch-held-out` brings them.

use std::collections::BTreeMap;
use std::path::Path;

use rstest::rstest;
use serde::Deserialize;
use tidy_lattice_browser::Server;
use tidy_lattice_browser_checks::{Browser, Engine};

/// Ways to stand in: a name, the style sheet, and how the family is called that shows
/// before.
const WAYS: [(&str, &str, Before); 5] = [
    ("as it is", "one.css", Before::Local),
    ("textbook formula", "one.css", Before::Textbook),
    ("one factor", "one.css", Before::StandIn),
    ("by default", "auto.css", Before::StandIn),
    ("where the page is known", "page.css", Before::StandIn),
];

/// What shows before the web font is there.
#[derive(Clone, Copy, PartialEq)]
enum Before {
    /// The installed font.
    Local,
    /// The installed font at the ratio of mean widths of letters, with the web font's line.
    Textbook,
    /// What `build` made.
    StandIn,
}

/// Windows, in px.
const WINDOWS: [(u32, u32); 2] = [(390, 844), (1280, 800)];

/// The most mean shift by default and where the page is known; the most lines that end
/// elsewhere, in %, of the last three ways. They hold for twenty families and more, half as
/// much again for fewer.
const MOST_SHIFT: [f64; 2] = [0.0015, 0.0005];
const MOST_LINES: [f64; 3] = [17.0, 9.0, 5.0];
/// Firefox cuts sizes otherwise than the fit minds, and ends some more lines elsewhere.
const MORE_IN_FIREFOX: f64 = 1.5;
const ENOUGH: usize = 20;

/// What a page makes of one way.
#[derive(Debug, Clone, Copy, Default, Deserialize)]
struct Moved {
    /// The sum of layout shifts; 0 where the browser tells none.
    shift: f64,
    blocks: f64,
    /// Blocks with another number of lines.
    counts: f64,
    lines: f64,
    /// Lines that end elsewhere.
    ends: f64,
    /// Blocks of another height where `line-height` is `normal`.
    heights: f64,
}

#[rstest]
#[case::chromium(Engine::Chromium)]
#[case::firefox(Engine::Firefox)]
#[ignore = "needs browsers and the folder of scripts/fetch-held-out; .ci/run has both"]
fn stand_ins_hold_on_texts_that_nobody_fitted_them_on(#[case] engine: Engine) {
    let folder = std::env::var_os("TIDY_LATTICE_HELD_OUT")
        .expect("TIDY_LATTICE_HELD_OUT names the folder of scripts/fetch-held-out");
    let folder = Path::new(&folder);
    let list = std::fs::read_to_string(folder.join("held-out.tsv")).expect("a list");
    let browser = Browser::start(engine);
    let server = Server::start(&[folder.to_owned()]).expect("a port");
    let mut pairs: BTreeMap<&str, Vec<[Moved; WAYS.len()]>> = BTreeMap::new();
    for (number, line) in list.lines().enumerate() {
        let cells: Vec<&str> = line.split('\t').collect();
        let [place, local @ ..] = cells.as_slice() else {
            continue;
        };
        let family = place.split('/').nth(1).expect("a family");
        // Each family and language in one window or the other, by turns.
        let window = WINDOWS[number % WINDOWS.len()];
        browser.resize(window.0, window.1);
        let ways = WAYS.map(|way| measure(&browser, &server, place, local, way));
        pairs.entry(family).or_default().push(ways);
    }
    let mut means = [Moved::default(); WAYS.len()];
    let mut faults = Vec::new();
    println!(
        "{engine:?}: shift x 1000 / % of blocks with more or fewer lines / % of lines that end elsewhere"
    );
    for (family, pages) in &pairs {
        let mut row = format!("{family:<20}");
        let mut own = [Moved::default(); WAYS.len()];
        for (way, own) in own.iter_mut().enumerate() {
            *own = mean(pages.iter().map(|page| page[way]));
            row.push_str(&format!("  {}", told(own)));
        }
        println!("{row}");
        for (way, moved) in own.iter().enumerate().skip(3) {
            if moved.ends > own[1].ends {
                faults.push(format!(
                    "{family}: {} is worse than the textbook",
                    WAYS[way].0
                ));
            }
        }
        for (all, own) in means.iter_mut().zip(own) {
            all.add(&own, pairs.len() as f64);
        }
    }
    for (way, moved) in WAYS.iter().zip(&means) {
        println!(
            "mean of {} families, {}: {}, {:.1} % of blocks of another height with line-height normal",
            pairs.len(),
            way.0,
            told(moved),
            moved.heights
        );
    }
    let slack = if pairs.len() < ENOUGH { 1.5 } else { 1.0 };
    for (most, way) in MOST_LINES.iter().zip(2..) {
        let more = match engine {
            Engine::Firefox => MORE_IN_FIREFOX,
            _ => 0.0,
        };
        if means[way].ends > (most + more) * slack {
            faults.push(format!(
                "{}: {:.2} % of lines",
                WAYS[way].0, means[way].ends
            ));
        }
    }
    for (most, way) in MOST_SHIFT.iter().zip(3..) {
        if means[way].shift > most * slack {
            faults.push(format!(
                "{}: a shift of {:.5}",
                WAYS[way].0, means[way].shift
            ));
        }
    }
    assert!(!pairs.is_empty(), "there are families");
    assert!(faults.is_empty(), "{}", faults.join("\n"));
}

impl Moved {
    fn add(&mut self, other: &Moved, parts: f64) {
        self.shift += other.shift / parts;
        self.counts += other.counts / parts;
        self.ends += other.ends / parts;
        self.heights += other.heights / parts;
    }
}

/// The mean shift, and the shares of all blocks and lines in %.
fn mean(pages: impl Iterator<Item = Moved>) -> Moved {
    let mut sum = Moved::default();
    let mut pages_in_all = 0.0;
    for page in pages {
        pages_in_all += 1.0;
        sum.shift += page.shift;
        sum.blocks += page.blocks;
        sum.counts += page.counts;
        sum.lines += page.lines;
        sum.ends += page.ends;
        sum.heights += page.heights;
    }
    Moved {
        shift: sum.shift / pages_in_all,
        counts: sum.counts / sum.blocks * 100.0,
        ends: sum.ends / sum.lines * 100.0,
        heights: sum.heights / sum.blocks * 100.0,
        ..sum
    }
}

fn told(moved: &Moved) -> String {
    format!(
        "{:5.2}/{:4.1}/{:4.1}",
        moved.shift * 1000.0,
        moved.counts,
        moved.ends
    )
}

/// Opens the page with the style sheet of a way, shows it as before, lets the web font
/// come, and measures.
fn measure(
    browser: &Browser,
    server: &Server,
    place: &str,
    local: &[&str],
    (_, sheet, before): (&str, &str, Before),
) -> Moved {
    browser.open(&server.url(&format!("/{place}/page.html")));
    let way = match before {
        Before::Local => "local",
        Before::Textbook => "textbook",
        Before::StandIn => "stand-in",
    };
    browser.run(&format!(
        "const [[local, ...names], sheet, way] = [{local:?}, {sheet:?}, {way:?}];
{SCRIPT}"
    ))
}

/// What runs in the page.
const SCRIPT: &str = r#"
const link = document.querySelector('link');
if (!link.href.endsWith('/' + sheet)) {
    await new Promise(done => { link.onload = done; link.href = sheet; });
}
const main = document.querySelector('main');
const quiet = async () => {
    for (let i = 0; i < 3; i++) await new Promise(done => requestAnimationFrame(done));
};
const families = [...document.fonts].map(face => face.family.replaceAll('"', ''));
const web = families[0];
const standIn = families.find(family => family.startsWith(web + ' via '));
// The faces that the text asks for are loaded first, so that only the swap is seen.
main.style.fontFamily = `"${web}"`;
await quiet();
const used = [...document.fonts].filter(face => face.status !== 'unloaded');
await Promise.allSettled(used.map(face => face.loaded));
main.style.fontFamily = `"${standIn}"`;
await quiet();
await Promise.allSettled([...document.fonts].filter(face => face.status === 'loading')
    .map(face => face.loaded));
const canvas = document.createElement('canvas').getContext('2d');
const measured = family => {
    canvas.font = `400 1000px "${family}"`;
    const size = canvas.measureText('x');
    // Letters as English has them.
    const letters = 'eeeeeeeeeeeettttttttaaaaaaaaooooooooiiiiiiinnnnnnnsssssshhhhhhrrrrrrddddllllcccuuummmwwffggyyppbbvk  ';
    return {width: canvas.measureText(letters).width, ascent: size.fontBoundingBoxAscent,
        descent: size.fontBoundingBoxDescent};
};
let family = standIn;
if (way === 'local') family = local;
if (way === 'textbook') {
    const [own, other] = [measured(web), measured(local)];
    const factor = own.width / other.width;
    const face = new FontFace('textbook', names.map(name => `local("${name}")`).join(), {
        sizeAdjust: factor * 100 + '%', ascentOverride: own.ascent / 10 / factor + '%',
        descentOverride: own.descent / 10 / factor + '%', lineGapOverride: '0%'});
    await face.load();
    document.fonts.add(face);
    family = 'textbook';
}
const blocks = [...main.children];
const range = document.createRange();
const lines = block => {
    // Where lines begin: the places at which words stand lower.
    const node = block.firstChild;
    const found = [];
    let last = -Infinity;
    for (const match of node.data.matchAll(/\S+/g)) {
        range.setStart(node, match.index);
        range.setEnd(node, match.index + 1);
        const top = range.getBoundingClientRect().top;
        if (top > last + 4) { found.push(match.index); last = top; }
    }
    return found;
};
main.style.fontFamily = `"${family}"`;
await quiet();
const before = blocks.map(lines);
let shift = 0;
const observer = new PerformanceObserver(list => {
    for (const entry of list.getEntries()) shift += entry.value;
});
try { observer.observe({type: 'layout-shift'}); } catch {}
await quiet();
shift = 0;
main.style.fontFamily = `"${web}"`;
await quiet();
await new Promise(done => setTimeout(done, 30));
observer.disconnect();
const after = blocks.map(lines);
main.style.lineHeight = 'normal';
const natural = blocks.map(block => block.getBoundingClientRect().height);
main.style.fontFamily = `"${family}"`;
const other = blocks.map(block => block.getBoundingClientRect().height);
let [counts, total, ends] = [0, 0, 0];
after.forEach((own, index) => {
    const from = new Set(before[index].map((start, i) => start + '-' + before[index][i + 1]));
    counts += own.length !== before[index].length;
    total += own.length;
    ends += own.filter((start, i) => !from.has(start + '-' + own[i + 1])).length;
});
return {shift, blocks: blocks.length, counts, lines: total, ends,
    heights: natural.filter((height, index) => Math.abs(height - other[index]) > 0.5).length};
"#;
