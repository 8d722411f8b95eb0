//! Cut faces load, and look as the whole ones do, to the pixel.
//!
//! Turned a little, so that nothing is hinted: FreeType's own hinter aligns letters with others of the font (with
//! its x, its o), so that a letter of a cut face may be a shade of grey off where these
//! are gone.

use std::fmt::Write as _;
use std::path::{Path, PathBuf};

use tidy_lattice_browser_checks::{Browser, Engine, Server, every, fonts};
use tidy_lattice_core::font::{CharacterSet, FontFile, Limits};
use tidy_lattice_core::trim::subset::{Features, Source, Want, encode};

/// Whether a font is of the eighth that is looked at, whatever else is installed.
fn is_taken(path: &Path) -> bool {
    let name = path.file_name().unwrap_or_default().to_string_lossy();
    let sum: usize = name.bytes().map(usize::from).sum();
    sum.is_multiple_of(every(8))
}

/// Lines on a page: as many as a window holds.
const LINES: usize = 12;

/// A face, whole and cut, with a text that the cut one must show.
struct Line {
    name: String,
    text: String,
    whole: Vec<u8>,
    part: Vec<u8>,
}

/// A text of characters of the face, neighbours beside each other, from `start` on.
fn text_of(all: &[char], start: usize) -> String {
    (all.iter().skip(start).take(48)).collect()
}

/// What is kept of a face: letters from a place on, in sixths of all, with all features or
/// those of CSS.
#[derive(Clone, Copy)]
struct Kept {
    sixth: usize,
    everything: bool,
}

/// Two needs of each installed face.
const TWO: [Kept; 2] = [Kept::of(0), Kept::of(3)];

/// Six needs of each web font.
const SIX: [Kept; 6] = [
    Kept::of(0),
    Kept::whole(1),
    Kept::of(2),
    Kept::whole(3),
    Kept::of(4),
    Kept::whole(5),
];

impl Kept {
    const fn of(sixth: usize) -> Self {
        Kept {
            sixth,
            everything: false,
        }
    }

    const fn whole(sixth: usize) -> Self {
        Kept {
            sixth,
            everything: true,
        }
    }
}

/// The faces of `paths`, cut to each of `needs`, and how many cannot be cut.
fn lines(paths: &[PathBuf], needs: &[Kept]) -> (Vec<Line>, usize) {
    let mut lines = Vec::new();
    let mut refused = 0;
    for path in paths {
        let whole = std::fs::read(path).expect("a font");
        let Ok(file) = FontFile::read(whole.clone(), Limits::DEFAULT) else {
            continue;
        };
        let file = file.as_web_font();
        let source = match Source::read(&file, 0) {
            Ok(source) => source,
            Err(error) => {
                println!("{}: {error}", path.display());
                refused += 1;
                continue;
            }
        };
        let mut all: Vec<char> = (source.characters().iter())
            .filter_map(char::from_u32)
            .filter(|c| c.is_alphanumeric())
            .collect();
        if all.is_empty() {
            // Emoji and signs.
            all = (source.characters().iter())
                .filter_map(char::from_u32)
                .filter(|c| !c.is_control() && !c.is_whitespace())
                .collect();
        }
        let mut before = String::new();
        for kept in needs {
            let start = all.len() * kept.sixth / 6;
            let text = text_of(&all, start);
            if text.is_empty() || text == before {
                continue;
            }
            before.clone_from(&text);
            let want = Want {
                characters: CharacterSet::of(text.chars().chain([' ']).map(u32::from)),
                literal: false,
                features: match kept.everything {
                    true => Features::All,
                    false => Features::of_css([]),
                },
                hints: !kept.everything,
                family: None,
            };
            let cut = source
                .cut(&want)
                .unwrap_or_else(|e| panic!("{}: {e}", path.display()));
            lines.push(Line {
                name: format!("{} from {start}", path.display()),
                text,
                whole: whole.clone(),
                part: encode::woff2(&cut.sfnt).expect("a packed font"),
            });
        }
    }
    (lines, refused)
}

/// The faces that did not load, and a picture of the window.
fn picture(browser: &Browser, lines: &[Line], whole: bool) -> (Vec<String>, Vec<u8>) {
    let server = Server::new();
    let mut page = String::from(
        "<!doctype html><meta charset=utf-8><style>body { margin: 4px; transform: rotate(1deg) } p { margin: 0; height: \
         60px; font-size: 24px; line-height: 60px; white-space: nowrap; overflow: hidden }</style>",
    );
    for (number, line) in lines.iter().enumerate() {
        let bytes = if whole { &line.whole } else { &line.part };
        server.put(&format!("/{number}.font"), "font/woff2", bytes.clone());
        let _ = write!(
            page,
            "<style>@font-face {{ font-family: F{number}; src: url(/{number}.font) }}</style><p \
             style=\"font-family: F{number}, serif\">{}</p>",
            line.text.replace('&', "&amp;").replace('<', "&lt;")
        );
    }
    server.put("/page.html", "text/html; charset=utf-8", page);
    browser.open(&server.url("/page.html"));
    let failed: Vec<String> = browser.run(
        "await Promise.allSettled([...document.fonts].map(face => face.load())); \
         await document.fonts.ready; \
         return [...document.fonts].filter(face => face.status !== 'loaded').map(face => face.family);",
    );
    (failed, browser.ask(|session| session.screenshot()))
}

#[test]
#[ignore = "needs Chromium, Firefox and Debian's fonts; .ci/run has them"]
fn cut_faces_look_as_the_whole_ones() {
    let taken = fonts::installed().into_iter().filter(|path| is_taken(path));
    look_alike(&taken.collect::<Vec<_>>(), &TWO, 80);
}

/// Those of npm's packages that `scripts/fetch-web-fonts` puts into `TIDY_LATTICE_WEB_FONTS`.
#[test]
#[ignore = "needs Chromium, Firefox and npm's packages; .ci/run has them"]
fn cut_web_fonts_look_as_the_whole_ones() {
    let folder = std::env::var_os("TIDY_LATTICE_WEB_FONTS").expect("a folder of web fonts");
    let files = std::fs::read_dir(folder).expect("a folder");
    let mut paths: Vec<PathBuf> = files.map(|file| file.expect("a file").path()).collect();
    paths.sort();
    let paths: Vec<PathBuf> = paths.into_iter().step_by(every(4)).collect();
    // All six needs take minutes in each engine.
    let needs = std::env::var("TIDY_LATTICE_NEEDS").map_or(SIX.len(), |needs| {
        needs.parse::<usize>().expect("how many needs of each face")
    });
    look_alike(&paths, &SIX[..needs], 15);
}

/// Whether the fonts look the same, cut and whole, and at least `least` of the cut ones do.
fn look_alike(paths: &[PathBuf], needs: &[Kept], least: usize) {
    let (lines, refused) = lines(paths, needs);
    for engine in [Engine::Chromium, Engine::Firefox] {
        let browser = Browser::start(engine);
        browser.resize(1280, 800);
        let (mut same, mut not_loaded, mut faults) = (0, 0, Vec::new());
        for page in lines.chunks(LINES) {
            let (whole, part) = (
                picture(&browser, page, true),
                picture(&browser, page, false),
            );
            // What a browser rejects whole is not ours to mend.
            not_loaded += whole.0.len();
            let worse: Vec<&String> = part.0.iter().filter(|f| !whole.0.contains(f)).collect();
            if !worse.is_empty() {
                faults.push(format!("{worse:?} of {:?} did not load", names(page)));
            } else if whole.1 != part.1 && part.0.is_empty() && whole.0.is_empty() {
                // One by one, to tell which.
                for line in page.chunks(1) {
                    let (one, other) = (
                        picture(&browser, line, true),
                        picture(&browser, line, false),
                    );
                    if one.1 == other.1 {
                        same += 1;
                    } else {
                        faults.push(format!("{} looks otherwise", line[0].name));
                    }
                }
            } else {
                same += page.len();
            }
        }
        println!(
            "{engine:?}: {same} of {} cut faces look the same to the pixel; {not_loaded} faces are \
             rejected whole; {refused} cannot be cut",
            lines.len()
        );
        assert!(faults.is_empty(), "{}", faults.join("\n"));
        assert!(same >= least, "only {same} pictures");
    }
}

fn names(lines: &[Line]) -> Vec<&str> {
    lines.iter().map(|line| line.name.as_str()).collect()
}
