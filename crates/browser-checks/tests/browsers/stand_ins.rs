//! Lines of a stand-in are as high as those of its pinned web font, and sit at
//! the same place, at every size from 8 to 96 px.

use std::fmt::Write as _;

use rstest::rstest;
use tidy_lattice_browser_checks::{Browser, Engine, Server, fonts};
use tidy_lattice_core::font::Face;
use tidy_lattice_core::layout::firefox::{Design, Stated};
use tidy_lattice_core::layout::{Overrides, Shaper, chromium};
use tidy_lattice_core::standin::half_pixel_sizes;

use crate::pairs::{FAMILY, PAIRS, stack};

/// The sizes that the stacks are built for, in px.
const SIZES: [f32; 4] = [14.0, 16.0, 19.5, 32.0];

/// A word with pairs that fonts kern; browsers may shape words apart.
const SAMPLE: &str = "AVATARToVaoffice0123";

/// A height and a baseline, in px from the line's top.
type Line = (f64, f64);

/// A line in the units that the engine lays out in. Positions are reported in
/// single precision, so their differences are a little off whole units.
fn in_units(engine: Engine, line: Line) -> (i64, i64) {
    let units = match engine {
        Engine::Chromium => 64.0,
        Engine::Firefox => 60.0,
    };
    (
        (line.0 * units).round() as i64,
        (line.1 * units).round() as i64,
    )
}

#[rstest]
#[case::chromium(Engine::Chromium)]
#[case::firefox(Engine::Firefox)]
#[ignore = "needs browsers and Debian's fonts; .ci/run installs them"]
fn lines_of_stand_ins_are_equal(#[case] engine: Engine) {
    let server = Server::new();
    let browser = Browser::start(engine);
    let sizes: Vec<f32> = half_pixel_sizes().collect();
    let mut wanted_off = Vec::new();
    let mut surprises = Vec::new();
    for pair in PAIRS {
        let built = stack(&server, pair, "/fonts", &SIZES);
        let stand_in = &built.stand_ins[0];
        let mut divs = String::new();
        for family in [FAMILY, &stand_in.family] {
            for size in &sizes {
                let _ = writeln!(
                    divs,
                    "<div style='font: {size}px \"{family}\"'>Hamburg<i></i></div>"
                );
            }
        }
        let page = format!(
            "<!doctype html><style>{} i {{ display: inline-block }} div, span {{ white-space: nowrap }}</style>\
             {divs}<span style='font: 100px \"{FAMILY}\"'>{SAMPLE}</span><br>\
             <span style='font: 100px \"{}\"'>{SAMPLE}</span>",
            built.css, stand_in.family
        );
        server.put("/page", "text/html; charset=utf-8", page);
        browser.open(&server.url("/page"));
        let (loaded, lines, widths): (Vec<String>, Vec<Line>, Vec<f64>) = browser.run(
            "const faces = [...document.fonts];
             await Promise.allSettled(faces.map(face => face.load()));
             await document.fonts.ready;
             const divs = [...document.querySelectorAll('div')];
             return [faces.map(face => face.status), divs.map(div => {
                 const box = div.getBoundingClientRect();
                 const mark = div.querySelector('i').getBoundingClientRect();
                 return [box.height, mark.bottom - box.top];
             }), [...document.querySelectorAll('span')].map(span => span.getBoundingClientRect().width)];",
        );
        assert_eq!(loaded, ["loaded", "loaded"], "{pair:?} in {engine:?}");
        let (web_face, local_face) = (
            fonts::web_face(&fonts::named(pair.0)),
            fonts::face(&fonts::named(pair.1)),
        );
        let predicted_widths = [
            Shaper::new(&web_face).width(SAMPLE) * 100.0,
            Shaper::new(&local_face).width(SAMPLE) * stand_in.width.size_adjust,
        ];
        for (predicted, measured) in predicted_widths.iter().zip(&widths) {
            assert!(
                (predicted - measured).abs() < 0.002 * measured,
                "{pair:?} in {engine:?}: predicted {predicted} px wide, measured {measured}"
            );
        }

        let (web, local) = lines.split_at(sizes.len());
        let off: Vec<f32> = (0..sizes.len())
            .filter(|i| in_units(engine, web[*i]) != in_units(engine, local[*i]))
            .map(|i| sizes[i])
            .collect();
        println!(
            "{engine:?}: {} and its stand-in over {}: {} of {} half-pixel sizes off {off:?}",
            pair.0,
            pair.1,
            off.len(),
            sizes.len()
        );
        wanted_off.extend(
            off.iter()
                .filter(|size| SIZES.contains(size))
                .map(|size| (pair, *size)),
        );

        let pinned = built.web.pinned.expect("a pinned rule");
        let predictions = [
            (&web_face, 100.0, pinned),
            (
                &local_face,
                stand_in.width.size_adjust,
                stand_in.lines.overrides,
            ),
        ];
        for (measured, (face, size_adjust, overrides)) in [web, local].iter().zip(predictions) {
            for (size, line) in sizes.iter().zip(measured.iter()) {
                let predicted = predict(engine, face, *size, size_adjust, overrides);
                if predicted != in_units(engine, *line) {
                    surprises.push(format!(
                        "{pair:?} {size_adjust} % at {size} px: predicted {predicted:?}, measured {line:?}"
                    ));
                }
            }
        }
    }
    println!("{engine:?}: {} lines other than predicted", surprises.len());
    assert!(wanted_off.is_empty(), "off at sizes in use: {wanted_off:?}");
    assert!(surprises.is_empty(), "{}", surprises.join("\n"));
}

/// The line that the core predicts, in the units of the engine.
fn predict(
    engine: Engine,
    face: &Face,
    size: f32,
    size_adjust: f64,
    overrides: Overrides,
) -> (i64, i64) {
    match engine {
        Engine::Chromium => {
            let line = chromium::stated_line(size, size_adjust, &overrides);
            // Half of the gap goes above, in whole px.
            let above = line.ascent + line.gap / 2;
            in_units(engine, (f64::from(line.height()), f64::from(above)))
        }
        Engine::Firefox => {
            let design = Design::of(face);
            let line = Stated {
                design,
                size_adjust,
                overrides,
            }
            .line(size);
            (line.above + line.below, line.above)
        }
    }
}
