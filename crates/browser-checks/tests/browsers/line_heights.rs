//! The lines that the core states for faces are those that browsers give them.

use std::collections::BTreeMap;
use std::fmt::Write as _;
use std::fs;
use std::path::PathBuf;

use tidy_lattice_browser_checks::{Browser, Engine, Server, fonts};
use tidy_lattice_core::font::{Face, LineSource};
use tidy_lattice_core::lattice::Adjusted;
use tidy_lattice_core::layout::{self, chromium};

/// Whole, half and odd sizes, in px.
const SIZES: [f32; 12] = [
    8.0, 9.5, 11.0, 12.0, 13.3, 14.0, 16.0, 17.5, 20.0, 24.0, 33.0, 64.0,
];

/// How many faces are measured; they are spread over all that are installed.
const FACES: usize = 120;

#[test]
#[ignore = "needs Chromium and Debian's fonts; .ci/run installs them"]
fn stated_line_heights_are_the_measured_ones() {
    let faces = spread_faces();
    let (loaded, lines) = measured(Engine::Chromium, &faces);
    let mut compared = 0;
    let mut sources: BTreeMap<&str, usize> = BTreeMap::new();
    let mut wrong = Vec::new();
    for (index, (file, face)) in faces.iter().enumerate() {
        if !loaded[index] {
            println!("refused by the browser: {}", file.display());
            continue;
        }
        compared += 1;
        *sources.entry(face.line().source.label()).or_default() += 1;
        for (place, size) in SIZES.iter().enumerate() {
            let declared = f64::from(chromium::natural_line(*size, &face.line()).height());
            let (measured, _) = lines[index * SIZES.len() + place];
            if declared != measured {
                wrong.push(format!(
                    "{} at {size} px: predicted {declared}, measured {measured} ({:?})",
                    file.display(),
                    face.line()
                ));
            }
        }
    }
    println!(
        "{} of {} line heights of {compared} faces as stated; metrics from {sources:?}",
        compared * SIZES.len() - wrong.len(),
        compared * SIZES.len()
    );
    assert!(compared >= 40);
    assert!(
        sources.len() >= 2,
        "the faces all take their metrics from one table"
    );
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

/// Lines and baselines of web fonts for which nothing is stated, in Firefox.
#[test]
#[ignore = "needs Firefox and Debian's fonts; .ci/run installs them"]
fn firefox_gives_web_fonts_the_lines_of_its_model() {
    let faces = spread_faces();
    let (loaded, lines) = measured(Engine::Firefox, &faces);
    let (mut compared, mut wrong) = (0, Vec::new());
    for (index, (file, face)) in faces.iter().enumerate() {
        if !loaded[index] {
            continue;
        }
        for (place, size) in SIZES.iter().enumerate() {
            let model = layout::Engine::Firefox;
            let parts = model.line_parts(face, &Adjusted::default(), *size);
            let (above, _) = model.leaded(parts, parts.normal);
            let (height, baseline) = lines[index * SIZES.len() + place];
            compared += 1;
            let off = (height - parts.normal).abs().max((baseline - above).abs());
            if off > 1.5 / 60.0 {
                wrong.push(format!(
                    "{} at {size} px: {} and {above} foretold, {height} and {baseline} measured",
                    file.display(),
                    parts.normal
                ));
            }
        }
    }
    let share = wrong.len() as f64 / f64::from(compared);
    println!(
        "Firefox: {} of {compared} lines otherwise than foretold",
        wrong.len()
    );
    assert!(share < 0.01, "{}", wrong.join("\n"));
}

/// Which faces the engine loads as web fonts for which nothing is stated, and the
/// height and the baseline of a line of each at every size.
fn measured(engine: Engine, faces: &[(PathBuf, Face)]) -> (Vec<bool>, Vec<(f64, f64)>) {
    assert!(
        faces.len() >= 40,
        "only {} faces are installed",
        faces.len()
    );
    let server = Server::new();
    let (mut css, mut divs) = (String::new(), String::new());
    for (index, (file, _)) in faces.iter().enumerate() {
        // Firefox keeps fonts by address.
        let url = format!("/{engine:?}/{index}");
        server.put(&url, "font/ttf", fs::read(file).expect("a font"));
        let _ = writeln!(
            css,
            "@font-face {{ font-family: f{index}; src: url({url}) }}"
        );
        for size in SIZES {
            let _ = writeln!(divs, "<div style=\"font: {size}px f{index}\"><i></i></div>");
        }
    }
    let style = "div { position: absolute } i { display: inline-block; width: 1px; height: 0 }";
    let page = format!("<!doctype html><style>{css}{style}</style>{divs}");
    server.put("/page", "text/html; charset=utf-8", page);
    let browser = Browser::start(engine);
    browser.open(&server.url("/page"));
    browser.run(
        "const faces = [...document.fonts];
         await Promise.allSettled(faces.map(face => face.load()));
         return [faces.map(face => face.status === 'loaded'),
                 [...document.querySelectorAll('div')].map(div => {
                   const box = div.getBoundingClientRect();
                   const mark = div.firstChild.getBoundingClientRect();
                   return [box.height, mark.bottom - box.top];
                 })];",
    )
}

/// Faces spread over the installed ones, and all whose metrics come from a
/// rare table.
fn spread_faces() -> Vec<(PathBuf, Face)> {
    let all: Vec<_> = fonts::installed()
        .into_iter()
        .filter_map(|file| fonts::try_face(&file).ok().map(|face| (file, face)))
        .collect();
    let step = (all.len() / FACES).max(1);
    all.into_iter()
        .enumerate()
        .filter(|(index, (_, face))| {
            index % step == 0
                || matches!(face.line().source, LineSource::Os2Typo | LineSource::Os2Win)
        })
        .map(|(_, found)| found)
        .collect()
}
