//! Pages laid out by the core, before and after their web font arrives, against
//! Chromium: lines, widths, heights, and the score of the shift.
//!
//! Running text in seven languages, pairs of a web font and an installed font, ten
//! widths of the window.

use std::fmt::Write as _;
use std::fs;
use std::path::PathBuf;
use std::sync::Arc;

use tidy_lattice_browser::{Comparison, Differs, Judged, Measured, MeasuredShift};
use tidy_lattice_browser_checks::{Browser, Engine, Server, every, fonts};
use tidy_lattice_core::font::Face;
use tidy_lattice_core::lattice::{WebFace, WebFile};
use tidy_lattice_core::page::{Files, OpenedFile, PlacedFace, Unread, read_flow};
use tidy_lattice_core::platform::{Definition, Device, InstalledFace, Platform};
use tidy_lattice_core::shaping::Shapers;
use tidy_lattice_core::shift::{Foretold, Scene, Setting, SettingFonts, Stand, worst_window};
use tidy_lattice_core::style::read::Viewport;

/// File names of a web font and an installed font.
const PAIRS: [(&str, &str); 12] = [
    ("OpenSans-Regular.ttf", "LiberationSans-Regular.ttf"),
    ("NotoSans-Regular.ttf", "DejaVuSans.ttf"),
    ("NotoSerif-Regular.ttf", "LiberationSerif-Regular.ttf"),
    ("Carlito-Regular.ttf", "NotoSans-Regular.ttf"),
    ("Inter-Regular.otf", "LiberationSans-Regular.ttf"),
    ("FreeSerif.ttf", "DejaVuSerif.ttf"),
    ("Roboto-Regular.ttf", "OpenSans-Regular.ttf"),
    ("EBGaramond12-Regular.otf", "NotoSerif-Regular.ttf"),
    ("NotoSansArabic-Regular.ttf", "DejaVuSans.ttf"),
    ("NotoNaskhArabic-Regular.ttf", "NotoSansArabic-Regular.ttf"),
    ("ipag.ttf", "VL-Gothic-Regular.ttf"),
    ("NotoSerifThai-Regular.ttf", "NotoSansThai-Regular.ttf"),
];

/// Languages and their texts.
const TEXTS: [(&str, &str, &str); 7] = [
    ("en", "Latin", include_str!("layouts/en.txt")),
    ("uk", "Cyrillic", include_str!("layouts/uk.txt")),
    ("el", "Greek", include_str!("layouts/el.txt")),
    ("vi", "Vietnamese", include_str!("layouts/vi.txt")),
    ("ar", "Arabic", include_str!("layouts/ar.txt")),
    ("ja", "Japanese", include_str!("layouts/ja.txt")),
    ("th", "Thai", include_str!("layouts/th.txt")),
];

/// Widths of the window, in px.
const WIDTHS: [u32; 10] = [240, 300, 360, 414, 480, 560, 640, 720, 840, 1000];

/// Its height, in px.
const HEIGHT: u32 = 800;

/// The shares of paragraph layouts whose number of lines may differ, in %: of
/// all languages but Thai, whose words engines find by dictionaries of their own.
const MOST_OFF: f64 = 0.2;

/// Pages name no files.
struct NoFiles;

impl Files for NoFiles {
    fn read(&self, _: &str, _: &str, _: &str) -> Result<OpenedFile, Unread> {
        Err(Unread::Remote)
    }
}

/// What came of one pair in one language.
#[derive(Default)]
struct Row {
    all: Comparison,
    scores: usize,
    scores_off: usize,
    worst: f64,
}

#[test]
#[ignore = "needs Chromium and Debian's fonts; .ci/run installs them"]
fn pages_are_laid_out_as_chromium_does() {
    let browser = Browser::start(Engine::Chromium);
    let mut faults = Vec::new();
    let mut sum = Row::default();
    println!(
        "{:<28} {:<27} {:<11} layouts  counts off  breaks off  widths off  heights off  scores off",
        "web font", "installed font", "language"
    );
    let mut rows = 0;
    for (web, local) in PAIRS {
        let (web_path, local_path) = (fonts::named(web), fonts::named(local));
        let (web_face, local_face) = (fonts::web_face(&web_path), fonts::face(&local_path));
        for (language, name, text) in TEXTS {
            if !covers(&web_face, text) || !covers(&local_face, text) {
                continue;
            }
            // For looking at one row alone: `LAYOUTS=Inter:en`.
            if std::env::var("LAYOUTS").is_ok_and(|one| {
                !one.split_once(':')
                    .is_some_and(|(font, tag)| web.starts_with(font) && tag == language)
            }) {
                continue;
            }
            rows += 1;
            if rows % every(2) != 0 {
                continue;
            }
            let pair = Pair {
                web: (web, Arc::new(web_face.clone()), web_path.clone()),
                local: (local_face.clone(), local_path.clone()),
            };
            let row = check(&browser, &pair, language, text, &mut faults);
            println!(
                "{web:<28} {local:<27} {name:<11} {:7}  {:10}  {:10}  {:10}  {:11}  {:6} of {}",
                row.all.blocks,
                row.all.counts_off,
                row.all.breaks_off,
                row.all.widths_off,
                row.all.heights_off,
                row.scores_off,
                row.scores
            );
            if language != "th" {
                sum.all.add(&row.all);
                sum.scores += row.scores;
                sum.scores_off += row.scores_off;
                sum.worst = sum.worst.max(row.worst);
            }
        }
    }
    let share = sum.all.counts_off as f64 / sum.all.blocks as f64 * 100.0;
    println!(
        "all but Thai: {} paragraph layouts, number of lines off in {} ({share:.3} %), {} of {} \
         lines end elsewhere, {} widths off by more than 0.1 % (worst {:.3} %), {} of {} heights \
         off, {} of {} scores off by more than 10 % and 0.002 (worst {:.4})",
        sum.all.blocks,
        sum.all.counts_off,
        sum.all.breaks_off,
        sum.all.lines,
        sum.all.widths_off,
        sum.all.widest_off,
        sum.all.heights_off,
        sum.all.heights,
        sum.scores_off,
        sum.scores,
        sum.worst
    );
    if share > MOST_OFF || sum.all.heights_off > 0 || sum.all.widths_off > 0 || sum.scores_off > 0 {
        let shown: Vec<&String> = faults.iter().take(40).collect();
        panic!("{shown:#?}");
    }
}

struct Pair {
    web: (&'static str, Arc<Face>, PathBuf),
    local: (Face, PathBuf),
}

fn covers(face: &Face, text: &str) -> bool {
    text.chars()
        .filter(|c| !c.is_whitespace())
        .all(|c| face.maps(c))
}

fn check(
    browser: &Browser,
    pair: &Pair,
    language: &str,
    text: &str,
    faults: &mut Vec<String>,
) -> Row {
    let family = pair.local.0.names().family.clone();
    let direction = if language == "ar" { "rtl" } else { "ltr" };
    let mut paragraphs = String::new();
    for paragraph in text.split("\n\n").map(str::trim).filter(|p| !p.is_empty()) {
        let words: Vec<&str> = paragraph.split_whitespace().collect();
        let _ = writeln!(paragraphs, "<p>{}</p>", words.join(" "));
    }
    let html = format!(
        "<!doctype html><html lang={language} dir={direction}><meta charset=utf-8><style>\
         @font-face {{ font-family: Checked; src: url(/font/{}); font-display: swap }}\
         body {{ font: 17px Checked, '{family}'; margin: 16px }}\
         p {{ margin: 0 0 12px }}</style>{paragraphs}",
        pair.web.0
    );
    let platform = platform_of(pair);
    let device = Device::new(&platform, |found| {
        let card = pair.local.0.clone();
        let _ = found;
        Some(card)
    });
    let shapers = Shapers::default();
    let mut row = Row::default();
    for width in WIDTHS.into_iter().step_by(every(3)) {
        let viewport = Viewport::screen(width as f32, HEIGHT as f32);
        let page = read_flow(&html, "page.html", &NoFiles, viewport);
        let web = web_faces(&page.faces, pair);
        let setting = Setting {
            flow: &page.flow,
            web: &web,
            device: Some(&device),
            engine: Engine::Chromium.model(),
            viewport,
        };
        let styles = SettingFonts::of(&setting);
        let scene = Scene::new(setting, &styles, &shapers);
        let (before, after) = (scene.lay_out(Stand::Before), scene.lay_out(Stand::After));
        let told = (
            Foretold::of(&before, &page.flow),
            Foretold::of(&after, &page.flow),
        );
        let score = scene.score(&before, &after).value;

        let (first, second, shifts) = seen(browser, pair, &html, width);
        let entries: Vec<(f64, f64)> = shifts.iter().map(|one| (one.time, one.value)).collect();
        let measured = worst_window(&entries);
        for (when, told, seen) in [("before", &told.0, &first), ("after", &told.1, &second)] {
            let compared = Comparison::of(told, seen, Judged::of(Engine::Chromium, None));
            for difference in &compared.differences {
                if difference.what != Differs::Break || language != "th" {
                    faults.push(format!(
                        "{} {language} {width} {when}: {difference:?}",
                        pair.web.0
                    ));
                }
            }
            row.all.add(&compared);
        }
        row.scores += 1;
        let off = (score - measured).abs();
        row.worst = row.worst.max(off);
        if off > 0.002 && off > measured * 0.1 {
            row.scores_off += 1;
            if std::env::var("LAYOUTS").is_ok() {
                println!("{shifts:#?}\n{:#?}", (&told.0.blocks, &told.1.blocks));
            }
            faults.push(format!(
                "{} {language} {width}: score {score:.4} foretold, {measured:.4} measured",
                pair.web.0
            ));
        }
    }
    row
}

/// The rules of a page, with the web font of the pair in each.
fn web_faces(faces: &[PlacedFace], pair: &Pair) -> Vec<WebFace> {
    let file = || WebFile {
        name: pair.web.0.to_owned(),
        bytes: None,
        face: pair.web.1.clone(),
        instances: Default::default(),
    };
    let of_rule = |placed: &PlacedFace| WebFace {
        placed: placed.clone(),
        files: vec![Some(Ok(file()))],
    };
    faces.iter().map(of_rule).collect()
}

/// What the browser has before and after the web font comes, and what jumps.
fn seen(
    browser: &Browser,
    pair: &Pair,
    html: &str,
    width: u32,
) -> (Measured, Measured, Vec<MeasuredShift>) {
    let server = Server::new();
    server.put("/page", "text/html; charset=utf-8", html.to_owned());
    let font = fs::read(&pair.web.2).expect("the web font");
    server.put(&format!("/font/{}", pair.web.0), "font/ttf", font);
    browser.resize(width, HEIGHT);
    let held = server.hold();
    browser.open(&server.url("/page"));
    browser.ask(|session| session.settle(250));
    let first = browser.ask(tidy_lattice_browser::Session::measure);
    browser.ask(tidy_lattice_browser::Session::hold_drawing);
    held.let_go();
    browser.ask(tidy_lattice_browser::Session::faces_ready);
    browser.ask(|session| session.settle(150));
    let second = browser.ask(tidy_lattice_browser::Session::measure);
    let shifts = browser
        .ask(tidy_lattice_browser::Session::shifts)
        .unwrap_or_default();
    assert!(
        second.faces.iter().all(|face| face.status == "loaded"),
        "{}: {:?}",
        pair.web.0,
        second.faces
    );
    (first, second, shifts)
}

/// A platform with the installed font alone.
fn platform_of(pair: &Pair) -> Platform {
    let definition = Definition {
        extends: None,
        title: "Check".to_owned(),
        about: "One font.".to_owned(),
        versions: Vec::new(),
        engines: Default::default(),
        generic_for: Default::default(),
        generic: [].into(),
        own: Default::default(),
        alias: [].into(),
        fonts: Vec::new(),
        families: Vec::new(),
    };
    let face = InstalledFace::of(&pair.local.0, pair.local.1.display().to_string());
    definition
        .assemble("check", |_| None, &[face])
        .expect("a platform")
}
