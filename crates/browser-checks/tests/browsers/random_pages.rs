//! Random pages of nested boxes, laid out by the core and by browsers. They are wilder
//! than what people write: the check holds the share of boxes that are where the browser
//! has them, and prints the smallest pages that are not.
//!
//! `TIDY_LATTICE_WRITE=1` records the first small ones of each kind that are laid out alike
//! for the core's own tests, which need no browser.

mod writer;

use std::collections::BTreeMap;
use std::fmt::Write as _;
use std::path::PathBuf;
use std::sync::Arc;

use rstest::rstest;
use tidy_lattice_browser_checks::{Browser, Engine, Server};
use tidy_lattice_core::font::{Face, FacePick, FontFile, Limits};
use tidy_lattice_core::lattice::{WebFace, WebFile};
use tidy_lattice_core::page::{Files, OpenedFile, Unread, read_flow};
use tidy_lattice_core::shaping::Shapers;
use tidy_lattice_core::shift::{Foretold, Scene, Setting, SettingFonts, Stand};
use tidy_lattice_core::style::read::Viewport;

use self::writer::{Kind, Writer};

/// Pages of each kind.
const PAGES: usize = 100;

/// Pages of each kind that are recorded, and how long they are at most.
const RECORDED: usize = 40;
const LONGEST: usize = 900;

/// Kinds of pages, and the share of boxes in % that may be elsewhere in Chromium and in
/// Firefox, whose form controls are left out.
const KINDS: [(Kind, f64, f64); 9] = [
    (Kind::Blocks, 0.0, 0.0),
    (Kind::Floats, 3.0, 3.0),
    (Kind::Flexes, 4.0, 4.0),
    (Kind::Grids, 3.0, 3.0),
    (Kind::Positioned, 1.0, 1.0),
    (Kind::All, 5.0, 6.0),
    (Kind::Lines, 10.0, 9.0),
    (Kind::Tables, 15.0, 26.0),
    (Kind::Controls, 3.0, 57.0),
];

/// How far edges may be apart, in px: a few units of layout.
const NEAR: f64 = 0.05;

/// How many pages that are laid out otherwise are shown of each kind.
const SHOWN: usize = 3;

/// The size of the window, in px.
const WINDOW: (u32, u32) = (400, 300);

const STYLE: &str = "@font-face { font-family: F; src: url(/font) } html { font: 20px/30px F } \
                     body { margin: 0 }";

fn data(name: &str) -> PathBuf {
    PathBuf::from(env!("CARGO_MANIFEST_DIR"))
        .join("../core/tests/data")
        .join(name)
}

#[rstest]
#[case::chromium(Engine::Chromium, "boxes.chromium.json")]
#[case::firefox(Engine::Firefox, "boxes.firefox.json")]
#[ignore = "needs browsers; .ci/run has them"]
fn boxes_of_random_pages_are_where_browsers_have_them(#[case] engine: Engine, #[case] file: &str) {
    let browser = Browser::start(engine);
    let font = tidy_lattice_demo::file("fonts/SkerrymarkSans-Regular.ttf").expect("a font");
    let server = Server::new();
    server.put("/font", "font/ttf", font.to_vec());
    let face = Arc::new(web_face(font));
    let mut wrong = Vec::new();
    // What is laid out alike, by the names of the pages.
    let (mut bodies, mut alike) = (Vec::new(), BTreeMap::new());
    for (kind, chromium, firefox) in KINDS {
        // For looking at one kind alone: `KIND=Tables`.
        if std::env::var("KIND").is_ok_and(|one| one != format!("{kind:?}")) {
            continue;
        }
        let most = if engine == Engine::Firefox {
            firefox
        } else {
            chromium
        };
        let mut writer = Writer::new(kind);
        let pages: Vec<String> = (0..PAGES).map(|_| writer.page()).collect();
        let seen = seen(&browser, &server, &pages);
        let mut faults: Vec<(usize, String)> = Vec::new();
        let (mut boxes, mut off, mut pages_off, mut recorded) = (0, 0, 0, 0);
        for (number, (page, seen)) in pages.iter().zip(&seen).enumerate() {
            let told = told(page, &face, engine);
            let mut first = None;
            for (id, rect) in seen {
                boxes += 1;
                let found = told.iter().find(|(known, _)| known == id);
                let found = found.map(|(_, rect)| *rect);
                if !found.is_some_and(|found| are_near(&found, rect)) {
                    off += 1;
                    first.get_or_insert_with(|| format!("{id}: {found:?} here, {rect:?} there"));
                }
            }
            let name = format!("{kind:?} {number}").to_lowercase();
            if page.len() <= LONGEST && recorded < RECORDED {
                recorded += 1;
                if first.is_none() {
                    alike.insert(name.clone(), seen.clone());
                }
                bodies.push((name, page.clone()));
            }
            if let Some(first) = first {
                pages_off += 1;
                faults.push((page.len(), format!("{first}\n  {page}")));
            }
        }
        let share = f64::from(off) / f64::from(boxes) * 100.0;
        if share > most {
            wrong.push(format!("{kind:?}: {share:.1} % of boxes, {most} % may be"));
        }
        println!(
            "{kind:?}: {off} of {boxes} boxes elsewhere ({share:.1} %), on {pages_off} of {PAGES} \
             pages"
        );
        faults.sort();
        for (_, fault) in faults.iter().take(SHOWN) {
            println!("  {fault}");
        }
    }
    if std::env::var_os("TIDY_LATTICE_WRITE").is_some() {
        record(file, &bodies, &alike);
    }
    assert!(wrong.is_empty(), "elsewhere: {wrong:?}");
    let recorded = std::fs::read_to_string(data(file)).expect("what is recorded");
    let recorded: BTreeMap<String, Rects> = serde_json::from_str(&recorded).expect("boxes");
    for (name, before) in &recorded {
        let now = alike
            .get(name)
            .unwrap_or_else(|| panic!("{name} is laid out otherwise"));
        let same = now.len() == before.len()
            && (now.iter().zip(before)).all(|(now, then)| are_near(&now.1, &then.1));
        assert!(same, "{name}: {now:?}, recorded {before:?}");
    }
}

/// Writes down pages, and where the boxes of those are that are laid out alike.
fn record(file: &str, bodies: &[(String, String)], alike: &BTreeMap<String, Rects>) {
    let mut pages = String::new();
    for (name, body) in bodies {
        let body = body
            .replace('\\', "\\\\")
            .replace('\n', "\\n")
            .replace('\t', "\\t");
        let _ = writeln!(pages, "{name}\t{body}");
    }
    std::fs::write(data("boxes.tsv"), pages).expect("a file");
    let mut json = String::from("{\n");
    for (at, (name, rects)) in alike.iter().enumerate() {
        let comma = if at == 0 { "" } else { ",\n" };
        let rects = serde_json::to_string(rects).expect("JSON");
        let _ = write!(json, "{comma}{name:?}: {rects}");
    }
    json.push_str("\n}\n");
    std::fs::write(data(file), json).expect("a file");
}

fn are_near(one: &[f64; 4], other: &[f64; 4]) -> bool {
    one.iter().zip(other).all(|(a, b)| (a - b).abs() <= NEAR)
}

type Rects = Vec<(String, [f64; 4])>;

/// Where the browser has the boxes of `pages`, each in a frame of its own.
fn seen(browser: &Browser, server: &Server, pages: &[String]) -> Vec<Rects> {
    let mut frames = String::new();
    for page in pages {
        let page = format!("<!doctype html><style>{STYLE}</style>{page}");
        let page = page.replace('&', "&amp;").replace('"', "&quot;");
        let (width, height) = WINDOW;
        let _ = write!(
            frames,
            "<iframe style=\"width: {width}px; height: {height}px; border: 0\" \
             srcdoc=\"{page}\"></iframe>"
        );
    }
    let page = format!("<!doctype html><meta charset=utf-8><body>{frames}");
    server.put("/frames", "text/html; charset=utf-8", page);
    browser.open(&server.url("/frames"));
    browser.run(
        "const all = [];
         for (const frame of document.querySelectorAll('iframe')) {
           while (!frame.contentDocument?.querySelector('[id]'))
             await new Promise(done => setTimeout(done, 20));
           const page = frame.contentDocument;
           await page.fonts.load('20px F');
           await page.fonts.ready;
           all.push([...page.querySelectorAll('[id]')].map(element => {
             const box = element.getBoundingClientRect();
             return [element.id, [box.x, box.y, box.width, box.height]];
           }));
         }
         return all;",
    )
}

/// Where the core has them.
fn told(body: &str, face: &Arc<Face>, engine: Engine) -> Rects {
    let html = format!("<!doctype html><style>{STYLE}</style>{body}");
    let viewport = Viewport::screen(WINDOW.0 as f32, WINDOW.1 as f32);
    let page = read_flow(&html, "page.html", &NoFiles, viewport);
    let web = [WebFace {
        placed: page.faces[0].clone(),
        files: vec![Some(Ok(WebFile {
            name: "font".to_owned(),
            bytes: None,
            face: face.clone(),
            instances: Default::default(),
        }))],
    }];
    let setting = Setting {
        flow: &page.flow,
        web: &web,
        device: None,
        engine: engine.model(),
        viewport,
    };
    let fonts = SettingFonts::of(&setting);
    let shapers = Shapers::default();
    let laid = Scene::new(setting, &fonts, &shapers).lay_out(Stand::After);
    let told = Foretold::of(&laid, &page.flow);
    let rects = told.elements.iter().filter_map(|one| {
        let (_, id) = one.element.rsplit_once('#')?;
        let rect = one.rect;
        Some((id.to_owned(), [rect.x, rect.y, rect.width, rect.height]))
    });
    rects.collect()
}

fn web_face(bytes: &[u8]) -> Face {
    let file = FontFile::read(bytes.to_vec(), Limits::DEFAULT).expect("a font file");
    Face::open(&file.as_web_font(), &FacePick::default()).expect("a face")
}

struct NoFiles;

impl Files for NoFiles {
    fn read(&self, _: &str, _: &str, _: &str) -> Result<OpenedFile, Unread> {
        Err(Unread::Remote)
    }
}
