//! Lines of a stand-in are as high as those of its pinned web font, and sit at
//! the same place, at every size from 8 to 96 px, in one slice and in six; where
//! they do not, the core says so.

use std::fmt::Write as _;

use rstest::rstest;
use tidy_lattice_browser_checks::{Browser, Engine, Server, every, fonts};
use tidy_lattice_core::font::Face;
use tidy_lattice_core::layout::chromium;
use tidy_lattice_core::layout::firefox::{AdjustedLines, Design};
use tidy_lattice_core::shaping::Shaper;
use tidy_lattice_core::stack::Built;
use tidy_lattice_core::standin::half_pixel_sizes;
use tidy_lattice_core::style::Overrides;

use crate::pairs::{
    FAMILY, PAIRS, PARAGRAPHS, Pair, Wish, random_pairs, stack, stand_in, style_of,
};

/// The sizes that the stacks are built for, in px.
const SIZES: [f32; 5] = [14.0, 16.0, 18.0, 24.0, 32.0];

/// Widths of columns, in px; lines alone matter here.
const WIDTHS: [f64; 3] = [320.0, 520.0, 760.0];

/// The most sizes that may be off, of all pairs and sizes together: 1 %.
const MOST_OFF: f64 = 0.01;

/// A word with pairs that fonts kern; browsers may shape words apart.
const SAMPLE: &str = "AVATARToVaoffice0123";

/// How many pairs are picked from all installed fonts.
const RANDOM_PAIRS: usize = 16;

/// A height and a baseline from the line's top, in the units that the engine
/// lays out in: 1/64 px in Chromium, 1/60 px in Firefox.
type Line = (i64, i64);

/// What a browser made of a web font and its stand-in.
struct Measured {
    /// Lines of the web font and of the stand-in, by half-pixel size.
    lines: [Vec<Line>; 2],
    /// Widths of [`SAMPLE`] at 100 px, in px.
    widths: [f64; 2],
}

fn wish(slices: usize, pin: bool) -> Wish<'static> {
    Wish {
        text: PARAGRAPHS,
        sizes: &SIZES,
        widths: &WIDTHS,
        slices,
        pin,
    }
}

#[rstest]
#[case::chromium(Engine::Chromium)]
#[case::firefox(Engine::Firefox)]
#[ignore = "needs browsers and Debian's fonts; .ci/run installs them"]
fn lines_of_stand_ins_are_equal(#[case] engine: Engine) {
    let server = Server::new();
    let browser = Browser::start(engine);
    let mut faults = Vec::new();
    let pairs: Vec<Pair<'_>> = PAIRS.into_iter().step_by(every(2)).collect();
    let all = half_pixel_sizes().count() * pairs.len();
    let mut sums = [0; 3];
    println!("{engine:?}: half-pixel sizes from 8 to 96 px at which lines or baselines differ");
    for pair in pairs {
        let mut row = String::new();
        let ways = [
            ("one", 1, true),
            ("six slices", 6, true),
            ("one, not pinned", 1, false),
        ];
        for (index, (name, slices, pin)) in ways.into_iter().enumerate() {
            let built = stack(&server, pair, "/fonts", &wish(slices, pin));
            let measured = measure(&browser, engine, &server, pair, &built);
            let off = off(&measured);
            sums[index] += off.len();
            let _ = write!(row, "  {name}: {}", off.len());
            if !pin {
                continue;
            }
            if off.iter().any(|size| SIZES.contains(size)) {
                faults.push(format!("{pair:?} {name}: a size in use is off"));
            }
            let listed = listed(engine, &built);
            let unlisted: Vec<_> = off.iter().filter(|size| !listed.contains(size)).collect();
            if !unlisted.is_empty() {
                faults.push(format!(
                    "{pair:?} {name}: off, but not listed: {unlisted:?}"
                ));
            }
            // The URW fonts are installed as OpenType and as Type 1; Firefox takes
            // the latter for local(), which has no kerning.
            let type1 = engine == Engine::Firefox && pair.1.starts_with("Nimbus");
            if slices == 1 && !type1 {
                check_widths(pair, &built, &measured, &mut faults);
            }
            if slices == 1 {
                check_lines(engine, pair, &built, &measured, &mut faults);
            }
        }
        println!("{:<27} {:<28}{row}", pair.0, pair.1);
    }
    let [one, six, unpinned] = sums.map(|off| off as f64 / all as f64);
    println!(
        "{engine:?}: of {all} pairs times sizes {:.2} % differ with one factor, {:.2} % with six \
         slices, {:.2} % where the web font is not pinned",
        one * 100.0,
        six * 100.0,
        unpinned * 100.0
    );
    if one > MOST_OFF || six > MOST_OFF {
        faults.push("more than 1 % of the sizes are off".to_owned());
    }
    assert!(faults.is_empty(), "{engine:?}: {}", faults.join("\n"));
}

#[rstest]
#[case::chromium(Engine::Chromium)]
#[case::firefox(Engine::Firefox)]
#[ignore = "needs browsers and Debian's fonts; .ci/run installs them"]
fn sizes_that_are_off_are_those_that_the_core_lists(#[case] engine: Engine) {
    let server = Server::new();
    let browser = Browser::start(engine);
    let mut faults = Vec::new();
    let (mut pairs, mut even) = (0, 0);
    let most = RANDOM_PAIRS / every(2);
    for pair in random_pairs(most) {
        let pair = (pair.0.as_str(), pair.1.as_str());
        let built = stack(&server, pair, "/fonts", &wish(1, true));
        // Fonts without a word of English in common make no stand-in.
        if stand_in(&built).is_none() {
            continue;
        }
        let measured = measure(&browser, engine, &server, pair, &built);
        let (off, listed) = (off(&measured), listed(engine, &built));
        pairs += 1;
        even += usize::from(off.is_empty());
        // The core also lists sizes where single precision decides.
        let unlisted: Vec<_> = off.iter().filter(|size| !listed.contains(size)).collect();
        if !unlisted.is_empty() {
            faults.push(format!("{pair:?}: off, but not listed: {unlisted:?}"));
        }
        check_lines(engine, pair, &built, &measured, &mut faults);
    }
    println!("{engine:?}: {pairs} random pairs, {even} of them even at all sizes");
    assert!(pairs >= most / 2);
    assert!(faults.is_empty(), "{engine:?}: {}", faults.join("\n"));
}

/// The half-pixel sizes at which the core says that lines differ.
fn listed(engine: Engine, built: &Built) -> Vec<f32> {
    let (_, face) = stand_in(built).expect("a stand-in");
    let lines = face.lines.iter();
    match engine {
        Engine::Chromium => lines
            .flat_map(|lines| lines.off_in_chromium.clone())
            .collect(),
        Engine::Firefox => lines
            .flat_map(|lines| lines.off_in_firefox.clone().expect("a pinned rule"))
            .collect(),
        Engine::Webkit => panic!("WebKit ignores what stand-ins state of lines"),
    }
}

/// The half-pixel sizes at which lines differ in the browser.
fn off(measured: &Measured) -> Vec<f32> {
    let [web, stand_in] = &measured.lines;
    let both = half_pixel_sizes().zip(web.iter().zip(stand_in));
    both.filter(|(_, (web, stand_in))| web != stand_in)
        .map(|(size, _)| size)
        .collect()
}

/// Opens a page with every size in both families and measures it.
fn measure(
    browser: &Browser,
    engine: Engine,
    server: &Server,
    pair: Pair<'_>,
    built: &Built,
) -> Measured {
    let families = [FAMILY, stand_in(built).expect("a stand-in").0];
    let style = style_of(&fonts::web_face(&fonts::named(pair.0)));
    let mut lines = String::new();
    for family in families {
        for size in half_pixel_sizes() {
            let _ = writeln!(
                lines,
                "<div style='font: {size}px \"{family}\"; {style}'>Hamburg<i></i></div>"
            );
        }
        let _ = writeln!(
            lines,
            "<span style='font: 100px \"{family}\"; {style}'>{SAMPLE}</span><br>"
        );
    }
    let page = format!(
        "<!doctype html><style>{} i {{ display: inline-block }} \
         div, span {{ white-space: nowrap }}</style>{lines}",
        built.css
    );
    server.put("/page", "text/html; charset=utf-8", page);
    browser.open(&server.url("/page"));
    let (loaded, lines, widths): (Vec<String>, Vec<(f64, f64)>, [f64; 2]) = browser.run(
        "const faces = [...document.fonts];
         await Promise.allSettled(faces.map(face => face.load()));
         await document.fonts.ready;
         const all = selector => [...document.querySelectorAll(selector)];
         return [faces.map(face => face.status), all('div').map(div => {
             const box = div.getBoundingClientRect();
             const mark = div.querySelector('i').getBoundingClientRect();
             return [box.height, mark.bottom - box.top];
         }), all('span').map(span => span.getBoundingClientRect().width)];",
    );
    assert!(
        loaded.len() >= 2 && loaded.iter().all(|status| status == "loaded"),
        "{pair:?} in {engine:?}: {loaded:?}"
    );
    let lines: Vec<Line> = lines.iter().map(|line| in_units(engine, *line)).collect();
    let (web, stand_in) = lines.split_at(half_pixel_sizes().count());
    Measured {
        lines: [web.to_vec(), stand_in.to_vec()],
        widths,
    }
}

/// Positions are reported in single precision, so their differences are a
/// little off whole units.
fn in_units(engine: Engine, px: (f64, f64)) -> Line {
    let units = match engine {
        Engine::Chromium => 64.0,
        Engine::Firefox => 60.0,
        Engine::Webkit => 64.0,
    };
    ((px.0 * units).round() as i64, (px.1 * units).round() as i64)
}

/// The faces of a pair as they are loaded, each with its rule.
fn rules(pair: Pair<'_>, built: &Built) -> [(Face, f64, Overrides); 2] {
    let (_, face) = stand_in(built).expect("a stand-in");
    [
        (
            fonts::web_face(&fonts::named(pair.0)),
            100.0,
            built.web.faces[0].pinned.expect("a pinned rule"),
        ),
        (
            fonts::face(&fonts::named(pair.1)),
            face.width.slices[0].size_adjust,
            face.lines[0].overrides,
        ),
    ]
}

/// Widths are those that the core shapes, so `local()` found the face.
fn check_widths(pair: Pair<'_>, built: &Built, measured: &Measured, faults: &mut Vec<String>) {
    for ((face, size_adjust, _), measured) in rules(pair, built).iter().zip(measured.widths) {
        let predicted = Shaper::new(face).width(SAMPLE) * size_adjust;
        if (predicted - measured).abs() > 0.002 * measured {
            faults.push(format!(
                "{pair:?}: predicted {predicted} px wide, measured {measured}"
            ));
        }
    }
}

/// Lines are those that the core predicts, wherever it is sure.
fn check_lines(
    engine: Engine,
    pair: Pair<'_>,
    built: &Built,
    measured: &Measured,
    faults: &mut Vec<String>,
) {
    for ((face, size_adjust, overrides), lines) in rules(pair, built).iter().zip(&measured.lines) {
        for (size, measured) in half_pixel_sizes().zip(lines) {
            if let Some(predicted) = predict(engine, face, size, *size_adjust, *overrides)
                && predicted != *measured
            {
                faults.push(format!(
                    "{pair:?} {size_adjust} % at {size} px: predicted {predicted:?}, measured {measured:?}"
                ));
            }
        }
    }
}

/// The line that the core predicts; nothing where single precision decides.
fn predict(
    engine: Engine,
    face: &Face,
    size: f32,
    size_adjust: f64,
    overrides: Overrides,
) -> Option<Line> {
    match engine {
        Engine::Chromium => {
            let line = chromium::overridden_line(size, size_adjust, &overrides);
            // Half of the gap goes above, in whole px.
            let above = line.ascent + line.gap / 2;
            Some(in_units(
                engine,
                (f64::from(line.height()), f64::from(above)),
            ))
        }
        Engine::Firefox => {
            let declared = AdjustedLines {
                design: Design::of(face),
                size_adjust,
                overrides,
            };
            let line = declared.line(size);
            declared
                .agrees(&declared, size)
                .then_some((line.above + line.below, line.above))
        }
        Engine::Webkit => None,
    }
}
