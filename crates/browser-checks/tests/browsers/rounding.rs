//! The roundings that the line models rest on, each measured alone.

use std::fmt::Write as _;
use std::fs;

use tidy_lattice_browser_checks::{Browser, Engine, Server, fonts};
use tidy_lattice_core::layout::chromium;
use tidy_lattice_core::layout::firefox::{AdjustedLines, Design};
use tidy_lattice_core::shaping::Shaper;
use tidy_lattice_core::standin::half_pixel_sizes;
use tidy_lattice_core::style::Overrides;

/// `size-adjust` in %: whole ones put many products on a border.
const SIZE_ADJUSTS: [f64; 8] = [99.0, 116.0, 110.0, 150.0, 104.56, 92.01, 87.31, 61.7];

const FONT: &str = "DejaVuSans.ttf";

#[test]
#[ignore = "needs Chromium and Debian's fonts; .ci/run installs them"]
fn chromium_cuts_used_sizes_to_hundredths() {
    let server = Server::new();
    server.put(
        "/font",
        "font/ttf",
        fs::read(fonts::named(FONT)).expect("a font"),
    );
    let (mut css, mut divs) = (String::new(), String::new());
    for (index, size_adjust) in SIZE_ADJUSTS.iter().enumerate() {
        // A line of 100 em shows hundredths of the used size as whole px.
        let _ = writeln!(
            css,
            "@font-face {{ font-family: f{index}; src: url(/font); size-adjust: {size_adjust}%; \
             ascent-override: 10000%; descent-override: 0%; line-gap-override: 0% }}"
        );
        for size in half_pixel_sizes() {
            let _ = writeln!(divs, "<div style='font: {size}px f{index}'>H</div>");
        }
    }
    let page = format!("<!doctype html><style>{css}</style>{divs}");
    server.put("/page", "text/html; charset=utf-8", page);
    let browser = Browser::start(Engine::Chromium);
    browser.open(&server.url("/page"));
    let heights: Vec<f64> = browser.run(
        "await Promise.all([...document.fonts].map(face => face.load()));
         return [...document.querySelectorAll('div')].map(d => d.getBoundingClientRect().height);",
    );
    let mut heights = heights.iter();
    for size_adjust in SIZE_ADJUSTS {
        for size in half_pixel_sizes() {
            let predicted = f64::from(chromium::used_size(size, size_adjust)) * 100.0;
            let measured = heights.next().expect("a height");
            assert_eq!(predicted.round(), *measured, "{size} px at {size_adjust} %");
        }
    }
}

/// Low, thick and thin underlines; ems of 1000, 1950, 2048 and 2816 units.
const DESIGNS: [&str; 6] = [
    "Inter-SemiBold.otf",
    "InterDisplay-Black.otf",
    "FiraCode-Regular.ttf",
    "Lato-Regular.ttf",
    "NimbusSans-Regular.otf",
    FONT,
];

#[test]
#[ignore = "needs Firefox and Debian's fonts; .ci/run installs them"]
fn firefox_takes_em_and_underline_from_the_face() {
    let metrics = [
        (100.0, 5.0, 0.0),
        (100.0, 15.0, 0.0),
        (100.0, 24.0, 0.0),
        (10.0, 10.0, 10.0),
    ];
    let overrides = metrics.map(|(ascent, descent, line_gap)| Overrides {
        ascent,
        descent,
        line_gap,
    });
    let server = Server::new();
    let browser = Browser::start(Engine::Firefox);
    let (mut lines, mut wrong) = (0, Vec::new());
    for (file, size_adjust) in DESIGNS
        .iter()
        .flat_map(|file| [(file, 100.0), (file, 104.56)])
    {
        let path = fonts::named(file);
        let address = format!("/{file}");
        server.put(&address, "font/ttf", fs::read(&path).expect("a font"));
        let (mut css, mut divs) = (String::new(), String::new());
        for (index, declared) in overrides.iter().enumerate() {
            let _ = writeln!(
                css,
                "@font-face {{ font-family: f{index}; src: url({address}); size-adjust: {size_adjust}%; \
                 ascent-override: {}%; descent-override: {}%; line-gap-override: {}% }}",
                declared.ascent, declared.descent, declared.line_gap
            );
            for size in half_pixel_sizes() {
                let _ = writeln!(divs, "<div style='font: {size}px f{index}'>H</div>");
            }
        }
        let page = format!("<!doctype html><style>{css}</style>{divs}");
        server.put("/page", "text/html; charset=utf-8", page);
        browser.open(&server.url("/page"));
        let heights: Vec<f64> = browser.run(
            "await Promise.all([...document.fonts].map(face => face.load()));
             return [...document.querySelectorAll('div')].map(d => d.getBoundingClientRect().height);",
        );
        let design = Design::of(&fonts::face(&path));
        let mut heights = heights.iter();
        for overrides in overrides {
            for size in half_pixel_sizes() {
                let declared = AdjustedLines {
                    design,
                    size_adjust,
                    overrides,
                };
                let line = declared.line(size);
                let measured = (heights.next().expect("a height") * 60.0).round() as i64;
                lines += 1;
                if line.above + line.below != measured && declared.agrees(&declared, size) {
                    wrong.push(format!("{file} {size} px: {line:?}, measured {measured}"));
                }
            }
        }
    }
    println!(
        "Firefox: {} of {lines} lines as predicted",
        lines - wrong.len()
    );
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

/// Widths tell the size that glyphs are set at: hundredths of a px, then 64ths,
/// each cut.
#[test]
#[ignore = "needs Chromium and Debian's fonts; .ci/run installs them"]
fn chromium_sets_glyphs_at_sizes_that_are_cut() {
    const TEXT: &str = "HHHHHHHHHHHHHHHHHHHHHHHHHHHHHHHHHHHHHHHH";
    let server = Server::new();
    let path = fonts::named(FONT);
    server.put("/font", "font/ttf", fs::read(&path).expect("a font"));
    let (mut css, mut spans) = (String::new(), String::new());
    for (index, size_adjust) in SIZE_ADJUSTS.iter().enumerate() {
        let _ = writeln!(
            css,
            "@font-face {{ font-family: f{index}; src: url(/font); size-adjust: {size_adjust}% }}"
        );
        for size in half_pixel_sizes() {
            let _ = writeln!(
                spans,
                "<div><span style='font: {size}px f{index}'>{TEXT}</span></div>"
            );
        }
    }
    let page = format!("<!doctype html><style>{css} div {{ white-space: nowrap }}</style>{spans}");
    server.put("/page", "text/html; charset=utf-8", page);
    let browser = Browser::start(Engine::Chromium);
    browser.open(&server.url("/page"));
    let widths: Vec<f64> = browser.run(
        "await Promise.all([...document.fonts].map(face => face.load()));
         return [...document.querySelectorAll('span')].map(s => s.getBoundingClientRect().width);",
    );
    let em = Shaper::new(&fonts::web_face(&path)).width(TEXT);
    let settings = SIZE_ADJUSTS
        .iter()
        .flat_map(|adjust| half_pixel_sizes().map(move |size| (size, *adjust)));
    let mut missed = Vec::new();
    let mut worst: f64 = 0.0;
    for ((size, adjust), width) in settings.zip(&widths) {
        let predicted = chromium::glyph_size(size, adjust) * em;
        let off = (width - predicted).abs();
        worst = worst.max(off);
        // Boxes are rounded up to 1/64 px.
        if off > 2.0 / 64.0 {
            missed.push((size, adjust, predicted, *width));
        }
    }
    println!(
        "widths of {} letters at {} sizes: {} missed, worst {worst:.4} px",
        TEXT.len(),
        widths.len(),
        missed.len()
    );
    assert!(missed.is_empty(), "{missed:?}");
}

/// Sizes with more decimals than two, as `em`, `rem` and `clamp()` give them: faces
/// without descriptors are cut as well, web fonts and installed ones.
#[test]
#[ignore = "needs Chromium and Debian's fonts; .ci/run installs them"]
fn chromium_cuts_sizes_of_faces_without_descriptors() {
    const TEXT: &str = "HHHHHHHHHHHHHHHHHHHHHHHHHHHHHHHHHHHHHHHH";
    let sizes: Vec<f32> = (0..320).map(|step| 12.0 + step as f32 * 0.0375).collect();
    let server = Server::new();
    let path = fonts::named(FONT);
    let face = fonts::web_face(&path);
    server.put("/font", "font/ttf", fs::read(&path).expect("a font"));
    let mut spans = String::new();
    for family in ["web", "DejaVu Sans"] {
        for size in &sizes {
            let _ = writeln!(
                spans,
                "<div style='font: {size}px \"{family}\"'><span>{TEXT}</span></div>"
            );
        }
    }
    let page = format!(
        "<!doctype html><style>@font-face {{ font-family: web; src: url(/font) }}
         div {{ white-space: nowrap }}</style>{spans}"
    );
    server.put("/page", "text/html; charset=utf-8", page);
    let browser = Browser::start(Engine::Chromium);
    browser.open(&server.url("/page"));
    let boxes: Vec<(f64, f64)> = browser.run(
        "await Promise.all([...document.fonts].map(face => face.load()));
         return [...document.querySelectorAll('div')].map(d =>
           [d.firstChild.getBoundingClientRect().width, d.getBoundingClientRect().height]);",
    );
    let em = Shaper::new(&face).width(TEXT);
    assert_eq!(boxes.len(), 2 * sizes.len());
    for (size, (width, height)) in sizes.iter().chain(&sizes).zip(boxes) {
        let predicted = chromium::glyph_size(*size, 100.0) * em;
        assert!(
            (width - predicted).abs() <= 2.0 / 64.0,
            "{size} px: {width} px wide, foretold {predicted}"
        );
        let line = chromium::natural_line(*size, &face.line()).height();
        assert_eq!(f64::from(line), height, "{size} px");
    }
}
