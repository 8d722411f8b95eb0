//! Faces that are measured in a browser, as `record --page` has it, against their files.

use std::collections::{BTreeMap, BTreeSet};
use std::fmt::Write as _;
use std::fs;
use std::path::{Path, PathBuf};
use std::time::Instant;

use rstest::rstest;
use tidy_lattice_browser_checks::{Browser, Engine, Server, every, fonts};
use tidy_lattice_core::font::{Card, CharacterSet, Face};
use tidy_lattice_core::lattice::{Fit, fit};
use tidy_lattice_core::layout::firefox::natural_height;
use tidy_lattice_core::record::device::{
    MEASURE, Measured, Plan, PlanFace, PlanFamily, Reached, card,
};
use tidy_lattice_core::shaping::Shaper;
use tidy_lattice_core::text::words::WordCounts;

use crate::shown_fonts::{plain_name, shown_fonts};

/// Parts of the names of the files that are measured: eight scripts and more, in all classes.
const FILES: [&str; 32] = [
    "DejaVuSans",
    "DejaVuSerif",
    "LiberationSans-",
    "LiberationSerif-",
    "LiberationMono-",
    "OpenSans-",
    "Lato-Regular",
    "Lato-Bold",
    "Roboto-Regular",
    "Roboto-Bold",
    "Carlito",
    "Caladea",
    "Cantarell",
    "EBGaramond12-",
    "FreeSans",
    "FreeSerif",
    "FreeMono",
    "Hack-",
    "FiraCode-",
    "Inter-Regular",
    "Inter-Bold",
    "NotoNaskhArabic-",
    "NotoSansArabic-",
    "NotoSansHebrew-",
    "NotoSerifHebrew-",
    "NotoSansDevanagari-",
    "NotoSerifDevanagari-",
    "NotoSansBengali-",
    "NotoSansThai-",
    "NotoSerifThai-",
    "NotoSansGeorgian-",
    "ipag",
];

/// Further widths and weights of families are left out.
const LEFT_OUT: [&str; 9] = [
    "Condensed",
    "Thin",
    "Light",
    "Medium",
    "Semi",
    "Extra",
    "Black",
    "Retina",
    "Oblique",
];

/// Languages of the words that nothing was learned from or checked with before.
const LANGUAGES: [&str; 15] = [
    "en", "de", "fr", "pl", "cs", "tr", "vi", "el", "ru", "uk", "ar", "he", "hi", "th", "ka",
];

/// What each engine may be off: ascent, descent and gap in em; widths of texts as a share.
const LINE: f64 = 0.001;
const WIDTH: f64 = 0.001;

/// The faces that are measured, by their full names.
fn faces() -> BTreeMap<String, (PathBuf, Face)> {
    let mut faces = BTreeMap::new();
    for path in fonts::installed() {
        let name = path
            .file_name()
            .expect("a name")
            .to_string_lossy()
            .into_owned();
        let stem = name.split('.').next().unwrap_or_default();
        let usual = !LEFT_OUT.iter().any(|part| stem.contains(part));
        let variable = name.contains(".var.") || name.contains('[');
        if variable || !usual || !FILES.iter().any(|part| name.starts_with(part)) {
            continue;
        }
        let Ok(face) = fonts::try_face(&path) else {
            continue;
        };
        if let Some(full) = face.names().full.clone() {
            faces.insert(full, (path, face));
        }
    }
    faces
}

/// The faces that `engine` measures: those of every third family, of others in each.
fn faces_for(engine: Engine) -> BTreeMap<String, (PathBuf, Face)> {
    let mut faces = faces();
    let step = every(3);
    let families = faces.values().map(|(_, face)| face.names().family.clone());
    let families: Vec<String> = families.collect::<BTreeSet<_>>().into_iter().collect();
    let first = match engine {
        Engine::Chromium => 0,
        Engine::Firefox => 1,
        Engine::Webkit => 2,
    };
    let taken: BTreeSet<&String> = families.iter().skip(first % step).step_by(step).collect();
    faces.retain(|_, (_, face)| taken.contains(&face.names().family));
    faces
}

/// What the page is given: each family with its faces.
fn plan(faces: &BTreeMap<String, (PathBuf, Face)>) -> Plan {
    let tags: Vec<&'static str> = Plan::languages().collect();
    let mut families: BTreeMap<String, PlanFamily> = BTreeMap::new();
    for (full, (_, face)) in faces {
        let names = face.names();
        let family = families.entry(names.family.clone());
        let family = family.or_insert_with(|| PlanFamily {
            name: names.family.clone(),
            class: None,
            on: Vec::new(),
            faces: Vec::new(),
        });
        family.faces.push(PlanFace {
            full: full.clone(),
            postscript: names.postscript.clone(),
            weight: face.weight(),
            style: face.slope(),
        });
    }
    let mut plan = Plan::new(&tags, &[], &[]);
    plan.families = families.into_values().collect();
    plan
}

/// Measures in `engine`: the result, and how long it took in seconds.
fn measured(engine: Engine, plan: &Plan) -> (Measured, f64) {
    let server = Server::new();
    let json = serde_json::to_string(plan)
        .expect("a plan")
        .replace('<', "\\u003c");
    let page = format!(
        "<!doctype html><meta charset=utf-8><body><script id=plan \
         type=application/json>{json}</script><script>{MEASURE}</script>"
    );
    server.put("/measure", "text/html; charset=utf-8", page);
    let browser = Browser::start_patiently(engine, &[], 600);
    browser.open(&server.url("/measure"));
    let started = Instant::now();
    let text: String = browser.run(
        "const plan = JSON.parse(document.getElementById('plan').textContent);
         return JSON.stringify(await measureDevice(plan, plan.families, () => {}));",
    );
    let took = started.elapsed().as_secs_f64();
    if let Ok(folder) = std::env::var("TIDY_LATTICE_KEPT") {
        let path = Path::new(&folder).join(format!("{}.cards.json", engine.label()));
        fs::write(path, &text).expect("a file");
    }
    (Measured::read(text.as_bytes()).expect("a result"), took)
}

/// What differs between cards of a browser and files.
#[derive(Default)]
struct Tally {
    faces: usize,
    characters: usize,
    other_characters: usize,
    texts: usize,
    sum: f64,
    worst: f64,
    unknown: usize,
    /// Texts that are off by more than they should be.
    wide: usize,
    line: f64,
    untold: CharacterSet,
    failed: Vec<String>,
}

impl Tally {
    fn add(&mut self, engine: Engine, name: &str, file: &Face, card: &Card) {
        self.faces += 1;
        let by_card = Face::from_card(card.clone()).expect("a face");
        self.characters(engine, name, file, &by_card);
        self.line(engine, name, file, card);
        for tag in LANGUAGES {
            self.widths(name, tag, file, &by_card);
        }
    }

    /// All characters that a browser lets be told.
    fn characters(&mut self, engine: Engine, name: &str, file: &Face, card: &Face) {
        let mut shaper = Shaper::new(file);
        let mut off = Vec::new();
        let points = (0x20..0x3_23b0_u32).filter_map(char::from_u32);
        for character in
            points.filter(|c| can_be_told(*c, engine) && !self.untold.contains(*c as u32))
        {
            let mut buffer = [0; 4];
            let text = character.encode_utf8(&mut buffer);
            // Of letters that a font has in parts only, some browsers ask the next font.
            let parts = engine == Engine::Chromium;
            let here = file.maps(character) || parts && fit(file, &mut shaper, text) == Fit::Whole;
            let there = card.maps(character);
            self.characters += usize::from(here);
            if here != there {
                off.push(format!(
                    "{}U+{:X}",
                    if there { "+" } else { "-" },
                    character as u32
                ));
            }
        }
        self.other_characters += off.len();
        if !off.is_empty() {
            let many = off.len();
            off.truncate(12);
            self.failed
                .push(format!("{name}: {many} characters: {}", off.join(" ")));
        }
    }

    fn line(&mut self, engine: Engine, name: &str, file: &Face, card: &Card) {
        let (own, mut its) = (card.line, file.line());
        if engine == Engine::Firefox {
            // Firefox takes another gap than the file's tables say.
            let high = f64::from(natural_height(file, 2000.0) as f32) / 2000.0;
            its.line_gap = (high - its.ascent - its.descent).max(0.0);
        }
        let parts = [
            own.ascent - its.ascent,
            own.descent - its.descent,
            own.line_gap - its.line_gap,
        ];
        let off = parts.into_iter().map(f64::abs).fold(0.0, f64::max);
        self.line = self.line.max(off);
        if off > LINE {
            self.failed
                .push(format!("{name}: line {own:?}, of the file {its:?}"));
        }
    }

    fn widths(&mut self, name: &str, tag: &str, file: &Face, card: &Face) {
        let counts = WordCounts::of(tag).expect("words");
        let (mut by_file, mut by_card) = (Shaper::new(file), Shaper::new(card));
        let (mut own, mut its, mut letters) = (0.0, 0.0, 0);
        for word in counts.text(400, 77).split_whitespace() {
            let has = word.chars().all(|c| card.maps(c));
            if !has || fit(file, &mut by_file, word) != Fit::Whole {
                continue;
            }
            if !by_card.knows_width(word) {
                self.unknown += 1;
                continue;
            }
            letters += word.chars().count();
            own += by_card.width(word);
            its += by_file.width(word);
        }
        // A few words in another script are no text.
        if letters > 400 {
            let off: f64 = (own / its - 1.0).abs();
            self.texts += 1;
            self.sum += off;
            self.worst = self.worst.max(off);
            if off > WIDTH {
                self.wide += 1;
                let percent = (own / its - 1.0) * 100.0;
                println!("{name}: {tag} {percent:+.3} %");
            }
        }
    }
}

/// Whether a browser shows what a font has of `character`.
fn can_be_told(character: char, engine: Engine) -> bool {
    use icu_properties::props::{DefaultIgnorableCodePoint, GeneralCategory as Kind};
    use icu_properties::{CodePointMapData, CodePointSetData};
    let kind = CodePointMapData::<Kind>::new().get(character);
    let untold = [
        Kind::Control,
        Kind::Unassigned,
        Kind::Surrogate,
        Kind::LineSeparator,
        Kind::ParagraphSeparator,
        // Blanks are made of the space.
        Kind::SpaceSeparator,
        // They stand around others.
        Kind::Format,
    ];
    // WebKitGTK does not draw runes.
    let rune = engine == Engine::Webkit && ('\u{16a0}'..='\u{16ff}').contains(&character);
    // The hyphens are made of what is before them where they are missing, down to the
    // hyphen-minus; browsers draw something of their own for U+FFFC.
    let made = ['\u{2010}', '\u{2011}', '\u{fffc}'].contains(&character);
    let hidden = CodePointSetData::new::<DefaultIgnorableCodePoint>().contains(character);
    !(untold.contains(&kind) || hidden || made || rune)
}

#[rstest]
#[case::chromium(Engine::Chromium)]
#[case::firefox(Engine::Firefox)]
#[case::webkit(Engine::Webkit)]
#[ignore = "needs three browsers and Debian's fonts"]
fn cards_of_a_browser_are_those_of_the_files(#[case] engine: Engine) {
    let faces = faces_for(engine);
    let plan = plan(&faces);
    let (measured, took) = measured(engine, &plan);
    let mut tally = Tally {
        untold: CharacterSet::parse(&measured.untold).unwrap_or_default(),
        ..Tally::default()
    };
    for face in &measured.faces {
        let card = card(&measured, face).expect("a card");
        let (_, file) = &faces[&face.full];
        // The family has two designs of each weight, which its name does not tell apart.
        if face.by == Reached::Family && face.family == "EB Garamond" {
            continue;
        }
        tally.add(engine, &face.full, file, &card);
    }
    println!(
        "{}: {} of {} faces measured in {took:.0} s; {} of {} characters otherwise; widths of {} \
         unseen texts {:.4} % off in the mean, {:.4} % at worst, {} words of scripts that the \
         cards do not know; lines {:.5} em off at worst",
        engine.label(),
        tally.faces,
        faces.len(),
        tally.other_characters,
        tally.characters,
        tally.texts,
        tally.sum / tally.texts.max(1) as f64 * 100.0,
        tally.worst * 100.0,
        tally.unknown,
        tally.line,
    );
    assert!(tally.failed.is_empty(), "{}", tally.failed.join("\n"));
    // Thai of two faces, whose marks are kerned over three letters: one text in 50 may be so.
    assert!(tally.worst < 3.0 * WIDTH && tally.wide * 50 <= tally.texts);
    let many = faces.len();
    assert!(many >= 20, "only {many} faces are installed");
}

#[test]
#[ignore = "needs Chromium and Debian's fonts"]
fn generic_families_are_those_that_chromium_shows() {
    let mut of_face: BTreeMap<String, String> = BTreeMap::new();
    for path in fonts::installed() {
        if let Ok(face) = fonts::try_face(&path)
            && let Some(name) = &face.names().postscript
        {
            of_face.insert(plain_name(name), face.names().family.clone());
        }
    }
    let mut plan = Plan::new(&["en"], &[], &[]);
    let names: BTreeSet<&String> = of_face.values().collect();
    plan.families = names
        .into_iter()
        .map(|name| PlanFamily {
            name: name.clone(),
            class: None,
            on: Vec::new(),
            faces: Vec::new(),
        })
        .collect();
    let (measured, _) = measured(Engine::Chromium, &plan);
    let server = Server::new();
    let mut page = "<!doctype html><meta charset=utf-8>".to_owned();
    for generic in &measured.generics {
        let keyword = &generic.keyword;
        let _ = write!(
            page,
            "<p style='font-family: {keyword}'>Hamburgefonstiv</p>"
        );
    }
    server.put("/generics", "text/html; charset=utf-8", page);
    let browser = Browser::start(Engine::Chromium);
    browser.open(&server.url("/generics"));
    let mut told = 0;
    for (generic, shown) in measured.generics.iter().zip(shown_fonts(&browser, "p")) {
        let shown = shown.first().expect("a font");
        // Figures are those of the emoji font there, letters of another one.
        if generic.keyword == "emoji" {
            continue;
        }
        let Some(family) = of_face.get(&plain_name(&shown.postscript)) else {
            continue;
        };
        println!(
            "{}: {family}, measured as {:?}",
            generic.keyword, generic.families
        );
        assert!(generic.families.contains(family), "{}", generic.keyword);
        told += 1;
    }
    assert!(
        told >= 4,
        "only {told} generic families are of fonts that are known"
    );
}

/// A folder of fonts in the home folder, which goes when this is dropped.
struct OwnFonts(PathBuf);

impl Drop for OwnFonts {
    fn drop(&mut self) {
        let _ = fs::remove_dir_all(&self.0);
    }
}

#[rstest]
#[case::chromium(Engine::Chromium)]
#[case::firefox(Engine::Firefox)]
#[case::webkit(Engine::Webkit)]
#[ignore = "needs three browsers"]
fn fonts_in_the_home_folder_are_installed(#[case] engine: Engine) {
    // What `here` finds a browser must find, too, though it has a home of its own.
    let home = std::env::var_os("HOME").map(PathBuf::from).expect("a home");
    let own = format!(".fonts/tidy-lattice-check-{}", engine.label());
    let own = OwnFonts(home.join(own));
    let folder = &own.0;
    fs::create_dir_all(folder).expect("a folder");
    let bytes = tidy_lattice_demo::file("installed/Pebbleroom-Regular.ttf").expect("a font");
    fs::write(folder.join("Pebbleroom-Regular.ttf"), bytes).expect("a file");
    let server = Server::new();
    server.put("/blank", "text/html", "<!doctype html><body>");
    let browser = Browser::start(engine);
    browser.open(&server.url("/blank"));
    let (own, other): (f64, f64) = browser.run(
        "const pen = document.createElement('canvas').getContext('2d');
         const wide = font => { pen.font = font; return pen.measureText('Hamburg').width; };
         return [wide('100px Pebbleroom, monospace'), wide('100px monospace')];",
    );
    assert!((own - other).abs() > 0.5, "{own} px, {other} px without");
}
