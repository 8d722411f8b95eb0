//! What the commands do with a file of each kind.

use std::collections::BTreeSet;
use std::path::{Path, PathBuf};

use tidy_lattice_core::describe::{Depth, Question, describe};
use tidy_lattice_core::font::{Card, CardSource, Face, FacePick, FontFile, Limits};
use tidy_lattice_core::lattice::cover;
use tidy_lattice_core::lattice::survey::survey as surveyed_on;
use tidy_lattice_core::layout::Engine;
use tidy_lattice_core::need::Need;
use tidy_lattice_core::platform::Definition;
use tidy_lattice_core::platform::Device;
use tidy_lattice_core::record::device::{self, Measured};
use tidy_lattice_core::record::record;
use tidy_lattice_core::shaping::Shapers;
use tidy_lattice_core::shift::{Scene, Setting, SettingFonts};
use tidy_lattice_core::text::Source;
use tidy_lattice_core::trim::subset::AxisLimit;
use tidy_lattice_core::trim::{Margin, Packing, Slicing, TrimRequest, sample, trim, with_margin};
use tidy_lattice_project::building::{self, Settings};
use tidy_lattice_project::checking::{self, CheckRequest};
use tidy_lattice_project::file::{BuildRules, Project};
use tidy_lattice_project::pages::{Pages, Window};
use tidy_lattice_project::request::{
    BuildParts, SiteRequest, StackRequest, SurveyRequest, TextRequest,
};
use tidy_lattice_project::{Access, Memory, Quiet, platforms, stack, survey};

use crate::Laps;

/// What is set in hostile fonts: letters with and without marks, kerned and joined ones.
const TEXT: &str = "AVATAR office ñ e\u{301} Άλφα ≠ 👩\u{200d}🚀 क्षि العربية 漢字";

/// The most faces of a font file that are looked at.
const MOST_FACES: u32 = 3;

/// The page that uses a font and a sheet.
const PAGE: &[u8] = "<!doctype html><link rel=stylesheet href=a.css><style>@font-face {font-family: F; src: \
    url(f.ttf); font-weight: 100 900} p {font: 700 20px/1.4 F, A, serif}</style><p>AVATAR office ñ 漢字 \
    <b>Ferry</b> 3 \u{2192} 4<table><tr><td>Tide<td>2.10</table>"
    .as_bytes();

/// The demo, with the file at `path` put in or replaced.
fn demo_with(path: &str, bytes: &[u8]) -> Memory {
    let mut disk = Memory::default();
    for (path, bytes) in tidy_lattice_demo::files() {
        disk.put(path, bytes);
    }
    disk.put(path, bytes);
    disk
}

fn access(disk: &Memory) -> Access<'_> {
    Access {
        disk,
        limits: Limits::DEFAULT,
        watch: &Quiet,
        may_read: &[],
    }
}

/// Describes, covers, records, cuts and lays out with a font.
pub fn font(bytes: &[u8], thorough: bool, laps: &mut Laps) -> bool {
    let Ok(file) = FontFile::read(bytes.to_vec(), Limits::DEFAULT).map(FontFile::as_web_font)
    else {
        return false;
    };
    let mut any = false;
    for index in 0..file.face_count().min(MOST_FACES) {
        let pick = FacePick {
            index,
            position: None,
        };
        let question = Question {
            depth: Depth::Full,
            languages: None,
            text_language: "en".to_owned(),
        };
        // A face that cannot be described cannot be opened.
        let described = laps.time("describe", || describe(&file, &pick, &question));
        let Ok(face) = Face::open(&file, &pick) else {
            continue;
        };
        any = true;
        assert!(described.is_ok(), "what can be opened can be described");
        let source = Source {
            name: "text".to_owned(),
            text: TEXT.to_owned(),
        };
        let need = Need::gather(&[source]);
        let coverage = laps.time("cover", || cover(&need, std::slice::from_ref(&face)));
        assert_eq!(
            coverage.fonts[0].serves + coverage.gap_clusters,
            coverage.clusters,
            "every cluster is counted once"
        );
        // A variable font to the lower half of its weights.
        let axes = face.axis("wght").map(|(least, most)| AxisLimit {
            tag: *b"wght",
            from: f64::from(least),
            to: f64::from(least.midpoint(most)),
        });
        let cut = TrimRequest {
            axes: axes.into_iter().collect(),
            need: with_margin(
                &need,
                &BTreeSet::new(),
                Margin::Text,
                vec![sample(TEXT, None)],
            ),
            features: None,
            hints: thorough,
            family: None,
            packings: vec![if thorough {
                Packing::Woff2
            } else {
                Packing::Sfnt
            }],
            slicing: Slicing::Whole,
        };
        // What cannot be cut is an error.
        let _ = laps.time("trim", || trim(&file, index, &cut));
        if thorough {
            laps.time("record", || record(&face, CardSource::default()));
        }
    }
    let disk = Memory::of(&[("f.ttf", bytes), ("page.html", PAGE)]);
    laps.time("shift", || lay_out(&disk));
    if any && thorough {
        let disk = Memory::of(&[("f.ttf", bytes)]);
        laps.time("build", || build(&disk, "f.ttf"));
    }
    any
}

/// Reads a sheet as that of a page, as that of a family, and checks it.
pub fn sheet(bytes: &[u8], thorough: bool, laps: &mut Laps) -> bool {
    let font = tidy_lattice_demo::file("fonts/SkerrymarkSans-Regular.ttf").unwrap_or_default();
    let disk = Memory::of(&[("a.css", bytes), ("f.ttf", font), ("page.html", PAGE)]);
    laps.time("shift", || lay_out(&disk));
    laps.time("check", || check(&disk, "a.css"));
    if thorough {
        laps.time("build", || build(&disk, "a.css"));
    }
    laps.time("cover", || cover_files(&disk, "page.html"))
}

/// Covers, lays out and checks a page.
pub fn page(bytes: &[u8], laps: &mut Laps) -> bool {
    let css: &[u8] =
        b"@import url(b.css); @font-face {font-family: F; src: url(f.ttf)} p {margin: 1em}";
    let font = tidy_lattice_demo::file("fonts/SkerrymarkSans-Regular.ttf").unwrap_or_default();
    let disk = Memory::of(&[
        ("page.html", bytes),
        ("a.css", css),
        ("b.css", b"* {line-height: 1.3}"),
        ("f.ttf", font),
    ]);
    laps.time("shift", || lay_out(&disk));
    laps.time("check", || check(&disk, "page.html"));
    laps.time("cover", || cover_files(&disk, "page.html"))
}

/// Reads the texts of a catalogue.
pub fn message(name: &str, bytes: &[u8], laps: &mut Laps) -> bool {
    let name = Path::new(name).file_name().and_then(|name| name.to_str());
    let name = name.unwrap_or("text.txt");
    laps.time("cover", || cover_files(&Memory::of(&[(name, bytes)]), name))
}

/// Makes cards and a platform of what a measuring page saved.
pub fn measured(bytes: &[u8], laps: &mut Laps) -> bool {
    let Ok(measured) = Measured::read(bytes) else {
        return false;
    };
    laps.time("record", || {
        let cards = measured.faces.iter().enumerate().map(|(number, face)| {
            let card = device::card(&measured, face).ok()?;
            Some((number.to_string(), card))
        });
        let cards: Option<Vec<(String, Card)>> = cards.collect();
        let Some(cards) = cards else {
            return false;
        };
        // What was written is read again.
        let toml = device::definition(&measured, &cards).toml();
        Definition::read(&toml).is_ok()
            && cards
                .iter()
                .all(|(_, card)| Card::read(card.json().as_bytes()).is_ok())
    })
}

/// Uses a card as a font of a stack and as a fallback.
pub fn card(bytes: &[u8], thorough: bool, laps: &mut Laps) -> bool {
    let font = tidy_lattice_demo::file("fonts/SkerrymarkSans-Regular.ttf").unwrap_or_default();
    let disk = Memory::of(&[
        ("f.card.json", bytes),
        ("web.ttf", font),
        ("t.txt", TEXT.as_bytes()),
    ]);
    let request = SurveyRequest {
        text: text("t.txt"),
        stack: StackRequest {
            fonts: vec![PathBuf::from("f.card.json")],
            ..StackRequest::default()
        },
        ..SurveyRequest::default()
    };
    let read = laps.time("cover", || covered(&request, None, &disk));
    if thorough {
        let parts = BuildParts {
            web: vec![PathBuf::from("web.ttf")],
            locals: vec![PathBuf::from("f.card.json")],
            language: "en".to_owned(),
            ..BuildParts::default()
        };
        // What is no card is no fallback.
        let _ = laps.time("build", || {
            building::stacks(&parts, None, &settings(), None, access(&disk))
        });
    }
    read
}

/// Reads a platform file and shows a text on it.
pub fn platform(bytes: &[u8], laps: &mut Laps) -> bool {
    let disk = demo_with("platforms/hostile.toml", bytes);
    let access = access(&disk);
    laps.time("platforms", || {
        let Ok(read) = platforms::platform("platforms/hostile.toml", &[], access) else {
            return false;
        };
        let named = stack::named_platforms(&["platforms/hostile.toml".to_owned()], None, access);
        for platform in named.iter().flatten() {
            platform.device(access);
        }
        !read.name.is_empty()
    })
}

/// Reads a project file and covers what it names: in place of that of the demo called
/// `name`, else of the demo itself.
pub fn project(name: &str, bytes: &[u8], laps: &mut Laps) -> bool {
    let known = tidy_lattice_demo::file(name).map(|_| name);
    let path = known.unwrap_or("tidy-lattice.toml");
    let disk = demo_with(path, bytes);
    let found = Project::find(Some(Path::new(path)), access(&disk));
    let Ok(Some(project)) = found else {
        return false;
    };
    laps.time("cover", || {
        covered(&SurveyRequest::default(), Some(&project), &disk)
    });
    Pages::find(&[], Some(project), &SiteRequest::default(), access(&disk)).is_ok()
}

fn text(name: &str) -> TextRequest {
    TextRequest {
        files: vec![PathBuf::from(name)],
        ..TextRequest::default()
    }
}

fn cover_files(disk: &Memory, name: &str) -> bool {
    let request = SurveyRequest {
        text: text(name),
        stack: StackRequest {
            stack: (!name.ends_with(".html")).then(|| "Georgia, serif".to_owned()),
            ..StackRequest::default()
        },
        ..SurveyRequest::default()
    };
    covered(&request, None, disk)
}

fn covered(request: &SurveyRequest, project: Option<&Project>, disk: &Memory) -> bool {
    let access = access(disk);
    let Ok(gathered) = survey::gather(request, project, access) else {
        return false;
    };
    let named = stack::named_platforms(&["windows".to_owned()], None, access);
    let named = named.unwrap_or_default();
    let devices: Vec<Device<'_>> = named.iter().map(|one| one.device(access)).collect();
    let surveyed = surveyed_on(&gathered.survey, &devices);
    surveyed.platforms.len() == devices.len()
}

fn check(disk: &Memory, name: &str) {
    let request = CheckRequest {
        paths: vec![PathBuf::from(name)],
        ..CheckRequest::default()
    };
    // What cannot be read is an error, and none of ours.
    if let Ok(inputs) = checking::gather(&request, None, &[], access(disk)) {
        tidy_lattice_checks::check(&inputs);
    }
}

fn lay_out(disk: &Memory) {
    let access = access(disk);
    let named = [PathBuf::from("page.html")];
    let Ok(pages) = Pages::find(&named, None, &SiteRequest::default(), access) else {
        return;
    };
    let windows = Window::named(&["phone".to_owned()], None).unwrap_or_default();
    let platforms = stack::named_platforms(&["windows".to_owned()], None, access);
    let platforms = platforms.unwrap_or_default();
    let mut loader = pages.loader(access);
    for (file, window) in pages.files.iter().zip(&windows) {
        let read = pages.read(file, window, &mut loader);
        for platform in &platforms {
            let device = platform.device(access);
            let setting = Setting {
                flow: &read.page.flow,
                web: &read.web,
                device: Some(&device),
                engine: Engine::Chromium,
                viewport: window.viewport(),
            };
            let fonts = SettingFonts::of(&setting);
            let shapers = Shapers::default();
            let shift = Scene::new(setting, &fonts, &shapers).shift();
            let score = shift.value().unwrap_or_default();
            assert!(score.is_finite() && score >= 0.0, "a score is a number");
        }
    }
}

fn settings() -> Settings {
    Settings::of(&BuildRules::default())
}

fn build(disk: &Memory, web: &str) {
    let parts = BuildParts {
        web: vec![PathBuf::from(web)],
        platforms: vec!["windows".to_owned()],
        language: "en".to_owned(),
        ..BuildParts::default()
    };
    if let Ok(stacks) = building::stacks(&parts, None, &settings(), None, access(disk)) {
        let css = stacks.sheets.whole();
        assert!(!css.contains("NaN") && !css.contains("inf%"), "{css}");
    }
}
