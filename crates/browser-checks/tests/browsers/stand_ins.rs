//! Lines of a stand-in are as high as those of its pinned web font, and sit at
//! the same place, at every size from 8 to 96 px.

use std::fmt::Write as _;

use rstest::rstest;
use tidy_lattice_browser_checks::{Browser, Engine, Server};
use tidy_lattice_core::layout::{chromium, firefox};
use tidy_lattice_core::standin::half_pixel_sizes;

use crate::pairs::{FAMILY, PAIRS, stack};

/// The sizes that the stacks are built for, in px.
const SIZES: [f32; 4] = [14.0, 16.0, 19.5, 32.0];

/// A height and a baseline, in px from the line's top.
type Line = (f64, f64);

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
        let built = stack(&server, pair, "/web.ttf", &SIZES);
        let stand_in = &built.stand_ins[0];
        let mut divs = String::new();
        for family in [FAMILY, &stand_in.family] {
            for size in &sizes {
                let _ = write!(
                    divs,
                    "<div style='font: {size}px \"{family}\"'>Hamburg<i></i></div>\n"
                );
            }
        }
        let page = format!(
            "<!doctype html><style>{} i {{ display: inline-block }} div {{ white-space: nowrap }}</style>\
             {divs}<span style='font: 100px \"{}\"'>Hamburg</span><span style='font: 100px monospace'>Hamburg</span>",
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
        assert!(widths[0] != widths[1], "local() found nothing for {pair:?} in {engine:?}");

        let (web, local) = lines.split_at(sizes.len());
        // Layout units are 1/64 px in Chromium and 1/60 px in Firefox.
        let differs = |a: Line, b: Line| (a.0 - b.0).abs() > 1e-3 || (a.1 - b.1).abs() > 1e-3;
        let off: Vec<f32> = (0..sizes.len())
            .filter(|i| differs(web[*i], local[*i]))
            .map(|i| sizes[i])
            .collect();
        println!(
            "{engine:?}: {} and its stand-in over {}: {} of {} half-pixel sizes off {off:?}",
            pair.0,
            pair.1,
            off.len(),
            sizes.len()
        );
        wanted_off.extend(off.iter().filter(|size| SIZES.contains(size)).map(|size| (pair, *size)));

        let pinned = built.web.pinned.expect("a pinned rule");
        let predictions = [(100.0, pinned), (stand_in.width.size_adjust, stand_in.lines.overrides)];
        for (measured, (size_adjust, overrides)) in [web, local].iter().zip(predictions) {
            for (size, line) in sizes.iter().zip(measured.iter()) {
                let predicted = match engine {
                    Engine::Chromium => {
                        f64::from(chromium::stated_line(*size, size_adjust, &overrides).height())
                    }
                    Engine::Firefox => firefox::stated_line(*size, size_adjust, &overrides).height(),
                };
                // Firefox counts in 1/60 px and reports in single precision.
                if (predicted - line.0).abs() > 0.017 {
                    surprises.push(format!(
                        "{pair:?} {size_adjust} % at {size} px: predicted {predicted}, measured {}",
                        line.0
                    ));
                }
            }
        }
    }
    println!("{engine:?}: {} lines other than predicted", surprises.len());
    assert!(wanted_off.is_empty(), "off at sizes in use: {wanted_off:?}");
    assert!(surprises.is_empty(), "{}", surprises.join("\n"));
}
