//! Random pages, laid out for each engine as they were when somebody last looked. Whether that
//! is as browsers have them is for the browser checks, which ask them about the same pages;
//! here no change passes unseen.

#[path = "../../../browser-checks/tests/browsers/random_pages/writer.rs"]
mod writer;

use std::fmt::Write as _;
use std::path::PathBuf;

use tidy_lattice_core::layout::Engine;
use tidy_lattice_core::layout::flow::Laid;
use tidy_lattice_core::shift::Foretold;

use self::writer::{Kind, Writer};
use crate::laid::laid_by;

const KINDS: [Kind; 9] = [
    Kind::Blocks,
    Kind::Floats,
    Kind::Flexes,
    Kind::Grids,
    Kind::Positioned,
    Kind::All,
    Kind::Lines,
    Kind::Tables,
    Kind::Controls,
];

/// Pages of each kind.
const PAGES: usize = 40;

const ENGINES: [Engine; 3] = [Engine::Chromium, Engine::Firefox, Engine::Webkit];

fn recorded() -> PathBuf {
    PathBuf::from(env!("CARGO_MANIFEST_DIR")).join("tests/data/random-pages.tsv")
}

/// A number in hundredths, without a sign before nothing.
fn hundredths(number: f64) -> f64 {
    (number * 100.0).round() / 100.0 + 0.0
}

/// A box with all that is in it, one line each.
fn tell(laid: &Laid, depth: usize, told: &mut String) {
    let indent = " ".repeat(depth);
    let baseline = |at: Option<f64>| at.map(hundredths);
    let [x, y, width, height] = [laid.x, laid.y, laid.width, laid.height].map(hundredths);
    let _ = writeln!(
        told,
        "{indent}{:?} {x} {y} {width} {height} {:?} {:?} {}",
        laid.node,
        baseline(laid.first_baseline),
        baseline(laid.last_baseline),
        laid.clips
    );
    for line in laid.text.iter().flat_map(|text| &text.lines) {
        let [top, height, baseline, width] =
            [line.top, line.height, line.baseline, line.width].map(hundredths);
        let _ = writeln!(
            told,
            "{indent} {:?} {top} {height} {baseline} {width}",
            line.range
        );
        for piece in &line.pieces {
            let [x, width, top, height] =
                [piece.x, piece.width, piece.top, piece.height].map(hundredths);
            let _ = writeln!(
                told,
                "{indent}  {} {:?} {x} {width} {top} {height}",
                piece.node, piece.range
            );
        }
    }
    for child in &laid.children {
        tell(child, depth + 1, told);
    }
}

/// All that is known of a page when it is laid out.
fn told(engine: Engine, body: &str) -> String {
    let (page, laid) = laid_by(engine, "p { margin: 1em 0 }", body);
    let mut told = String::new();
    tell(&laid.root, 0, &mut told);
    let _ = writeln!(told, "{:?} {}", laid.unsupported, laid.guessed);
    let foretold = Foretold::of(&laid, &page.flow);
    for rect in &foretold.left_out {
        let rect = [rect.x, rect.y, rect.width, rect.height].map(hundredths);
        let _ = writeln!(told, "left out: {rect:?}");
    }
    for block in &foretold.blocks {
        let _ = writeln!(told, "{} {}", block.number, block.guessed);
        for line in &block.lines {
            let [x, width, y, height] = [line.x, line.width, line.y, line.height].map(hundredths);
            let _ = writeln!(
                told,
                " {} {x} {width} {y} {height} {}",
                line.text, line.exact
            );
        }
    }
    told
}

#[test]
fn random_pages_are_laid_out_as_they_were() {
    let before = std::fs::read_to_string(recorded()).unwrap_or_default();
    let mut now = String::new();
    let mut changed = Vec::new();
    for kind in KINDS {
        let mut writer = Writer::new(kind);
        for number in 0..PAGES {
            let body = writer.page();
            let all = ENGINES.map(|engine| told(engine, &body));
            let [chromium, firefox, webkit] =
                all.each_ref().map(|told| crc32fast::hash(told.as_bytes()));
            let name = format!("{kind:?} {number}").to_lowercase();
            let row = format!("{name}\t{chromium:08x}\t{firefox:08x}\t{webkit:08x}");
            if !before.lines().any(|known| known == row) {
                changed.push(format!("{name}: {body}\n{}", all[0]));
            }
            let _ = writeln!(now, "{row}");
        }
    }
    if std::env::var_os("TIDY_LATTICE_WRITE").is_some() {
        std::fs::write(recorded(), now).expect("a file");
        return;
    }
    assert!(
        changed.is_empty(),
        "{} pages are laid out otherwise than before; the first, in Chromium:\n{}\n\
         TIDY_LATTICE_WRITE=1 records them anew, where the browser checks still pass",
        changed.len(),
        changed[0]
    );
}
