//! One page in one window in one browser.

use std::collections::{BTreeMap, BTreeSet};
use std::path::{Path, PathBuf};
use std::time::Instant;

use tidy_lattice_browser::{
    Comparison, Engine, Judged, Measured, Request, url_of_copy, url_of_request,
};
use tidy_lattice_core::forecast::{Forecast, forecast};
use tidy_lattice_core::lattice::WebFace;
use tidy_lattice_core::page::PageProblem;
use tidy_lattice_core::platform::Device;
use tidy_lattice_core::shaping::Shapers;
use tidy_lattice_core::shift::{
    Foretold, Rect, Scene, Setting, SettingFonts, Stand, score_of_boxes, worst_window,
};
use tidy_lattice_core::style::read::FaceSource;
use tidy_lattice_core::style::url_path;
use tidy_lattice_project::Access;
use tidy_lattice_project::pages::{PageFile, Pages, ReadPage, Window};

use super::visits::{Shown, Visited};
use crate::args::ProveArgs;
use crate::error::CliError;
use crate::results::{Fetched, ProvedRun, ShownIn};
use crate::show::picture::differing_pixels;
use crate::show::text::count;
use crate::{signature, writing};

/// What browsers ask for of themselves.
const ICON: &str = "/favicon.ico";

/// Everything that the runs have in common.
pub(super) struct Prover<'a> {
    pub args: &'a ProveArgs,
    pub pages: &'a Pages<'a>,
    pub roots: &'a [PathBuf],
    pub engine: Engine,
    pub device: &'a Device<'a>,
    pub shapers: &'a Shapers,
    pub access: Access<'a>,
}

impl Prover<'_> {
    /// Holds what a browser made of a page against what was predicted.
    pub fn judge(
        &self,
        file: &PageFile,
        window: &Window,
        seen: Visited,
        problems: &mut Vec<PageProblem>,
    ) -> Result<ProvedRun, CliError> {
        let Visited {
            viewport,
            before,
            after,
            shifts,
            pictures,
            shown,
            requests,
            console,
            origin,
            took: browser_took,
        } = seen;
        let started = Instant::now();
        let real = Window {
            name: window.name.clone(),
            width: f64::from(viewport.0),
            height: f64::from(viewport.1),
        };
        let engine = self.engine.model();
        let fixed_size = engine.fixed_size(self.device.platform().system());
        let viewport_of_page = real.viewport().with_fixed_size(fixed_size);
        let loader = &mut self.pages.loader(self.access);
        let ReadPage { mut page, web } = self.pages.read_in(file, viewport_of_page, loader);
        page.flow.loads_fonts &= !self.args.no_scripts;
        for problem in page.problems {
            if !problems.contains(&problem) {
                problems.push(problem);
            }
        }
        let setting = Setting {
            flow: &page.flow,
            web: &web,
            device: Some(self.device),
            engine,
            viewport: viewport_of_page,
        };
        let fonts = SettingFonts::of(&setting);
        let scene = Scene::new(setting, &fonts, self.shapers);
        let laid = (scene.lay_out(Stand::Before), scene.lay_out(Stand::After));
        let foretold = scene.score(&laid.0, &laid.1);
        let predicted = (
            Foretold::of(&laid.0, &page.flow),
            Foretold::of(&laid.1, &page.flow),
        );
        let prediction_took = started.elapsed();

        let judged = Judged::of(self.engine, self.args.height_off);
        let mut compared = (
            Comparison::of(&predicted.0, &before, judged),
            Comparison::of(&predicted.1, &after, judged),
        );
        let measured = shifts.map(|shifts| {
            let shifts = shifts.iter().map(|shift| (shift.time, shift.value));
            worst_window(&shifts.collect::<Vec<_>>())
        });
        let of_boxes = scores_of_boxes(&predicted, (&before, &after), (real.width, real.height));
        if let Some(shown) = &shown {
            compared.1.compare_fonts(&predicted.1, shown);
        }
        let pixels = self.keep(&file.path, window, &pictures)?;
        let mut run = ProvedRun {
            page: page.name,
            window: window.clone(),
            viewport,
            engine,
            before: compared.0,
            after: compared.1,
            foretold,
            measured,
            of_boxes,
            fetched: self.fetched(requests),
            unforeseen: Vec::new(),
            not_fetched: Vec::new(),
            changed: (after.added, after.gone.len()),
            failed: failed(&after, &web),
            unloaded: fonts.unloaded().to_vec(),
            console: of_fonts(&console, &origin),
            fonts: named_fonts(&shown.unwrap_or_default(), &predicted.1),
            pixels,
            took: (ms(browser_took), ms(prediction_took)),
            holds: true,
            because: Vec::new(),
        };
        let foretold = forecast(&page.flow, &web, Some(self.device), engine);
        self.compare_files(&mut run, &foretold)?;
        run.because = self.because(&run);
        run.holds = run.because.is_empty();
        Ok(run)
    }

    /// What the page asked for, by its paths.
    fn fetched(&self, requests: Vec<Request>) -> Vec<Fetched> {
        let requests = requests.into_iter().filter(|request| request.path != ICON);
        let mut fetched: Vec<Fetched> = requests
            .map(|request| Fetched {
                path: url_of_request(&self.pages.site.maps, &request.path).unwrap_or(request.path),
                status: request.status,
                bytes: request.bytes,
                font: request.font,
            })
            .collect();
        fetched.sort_by(|a, b| a.path.cmp(&b.path));
        fetched
    }

    /// Fonts that were fetched beside those that were foretold. What is asked for and
    /// not there counts on neither side.
    fn compare_files(&self, run: &mut ProvedRun, foretold: &Forecast) -> Result<(), CliError> {
        let bare = |path: &str| path.trim_start_matches('/').to_owned();
        let fetched: BTreeSet<String> = (run.fetched.iter())
            .filter(|file| file.font && file.status == 200)
            .map(|file| bare(&file.path))
            .collect();
        let mut known = BTreeSet::new();
        let mut not_fetched = BTreeSet::new();
        for file in &foretold.files {
            let path = Path::new(&file.file);
            // A file beside a mapped sheet may be asked for by its own path, too.
            let copy = url_of_copy(&self.pages.site.maps, path);
            let ours = match (self.path(path), &copy) {
                (Ok(ours), _) => Some(ours),
                (Err(_), Some(_)) => None,
                (Err(error), None) => return Err(error),
            };
            let names: Vec<String> = copy.iter().chain(&ours).map(|name| bare(name)).collect();
            if !names.iter().any(|name| fetched.contains(name)) {
                not_fetched.extend(names.first().cloned());
            }
            known.extend(names);
        }
        run.unforeseen = fetched.difference(&known).cloned().collect();
        run.not_fetched = not_fetched.into_iter().collect();
        Ok(())
    }

    /// Why a run is not within the tolerances: lines, fonts and score; where that is asked
    /// for heights, too.
    fn because(&self, run: &ProvedRun) -> Vec<String> {
        let mut because = Vec::new();
        let (off, blocks) = run.lines_off();
        let unsupported = |compared: &Comparison| {
            let share = compared.counts_off as f64 / compared.blocks.max(1) as f64 * 100.0;
            share > self.args.lines_off
        };
        if unsupported(&run.before) || unsupported(&run.after) {
            because.push(format!(
                "{off} of {blocks} blocks have another number of lines, and {} % may",
                self.args.lines_off
            ));
        }
        let both = |of: fn(&Comparison) -> usize| of(&run.before) + of(&run.after);
        let fonts = both(|one| one.fonts_off);
        if fonts > 0 {
            because.push(format!(
                "{} in other fonts than predicted",
                count(fonts as u64, "block shows", "blocks show")
            ));
        }
        let (seen, predicted) = run.scores();
        let apart = (seen - predicted).abs();
        if apart > self.args.score_off && apart > seen * 0.1 {
            because.push(format!(
                "it moved by {seen:.4}, and {predicted:.4} was predicted"
            ));
        }
        let heights = both(|one| one.heights_off + one.line_heights_off);
        if self.args.strict && heights > 0 {
            let all = both(|one| one.heights + one.line_heights);
            because.push(format!(
                "{heights} of {all} heights are others than predicted"
            ));
        }
        let boxes = both(|one| one.boxes_off);
        if self.args.strict && boxes > 0 {
            let all = both(|one| one.boxes);
            because.push(format!(
                "{boxes} of {all} boxes stand elsewhere, or are wider or narrower, than predicted"
            ));
        }
        because
    }

    /// The path of a page on the server.
    pub fn path(&self, page: &Path) -> Result<String, CliError> {
        let whole = |path: &Path| std::fs::canonicalize(path).unwrap_or_else(|_| path.to_owned());
        let page = whole(page);
        for root in self.roots {
            if let Ok(below) = page.strip_prefix(whole(root)) {
                let parts: Vec<String> = below
                    .components()
                    .map(|part| url_path(&part.as_os_str().to_string_lossy()))
                    .collect();
                return Ok(format!("/{}", parts.join("/")));
            }
        }
        Err(CliError::Usage(format!(
            "{} is not in the folder that is served ({}); name one that holds it with --root",
            page.display(),
            self.roots
                .first()
                .map(|root| root.display().to_string())
                .unwrap_or_default()
        )))
    }

    /// The page's name in names of pictures: its path from the root, so that those of one
    /// name in several folders are told apart.
    fn stem(&self, page: &Path) -> Result<String, CliError> {
        let path = self.path(page)?;
        let below = Path::new(path.trim_start_matches('/')).with_extension("");
        let parts = below
            .components()
            .map(|part| part.as_os_str().to_string_lossy());
        Ok(parts.collect::<Vec<_>>().join("-"))
    }

    /// Saves the pictures, where asked, and tells how much of them differs, in %.
    fn keep(
        &self,
        page: &Path,
        window: &Window,
        pictures: &(Vec<u8>, Vec<u8>),
    ) -> Result<Option<f64>, CliError> {
        if let Some(folder) = &self.args.screenshots {
            let stem = self.stem(page)?;
            let engine = self.engine.label().to_lowercase();
            let save = |when: &str, picture: &[u8]| {
                let name = format!("{stem}-{}-{engine}-{when}.png", window.name);
                let picture = signature::signed_png(picture);
                writing::write_file(&folder.join(name), &picture, self.args.force)
            };
            save("before", &pictures.0)?;
            save("after", &pictures.1)?;
        }
        Ok(differing_pixels(&pictures.0, &pictures.1))
    }
}

/// The fonts of the blocks with the names of their elements.
fn named_fonts(shown: &Shown, predicted: &Foretold) -> Vec<ShownIn> {
    let name = |number: &usize| {
        let named = predicted
            .elements
            .iter()
            .find(|element| element.number == *number);
        named.map_or_else(String::new, |element| element.element.clone())
    };
    let shown = shown.iter().map(|(number, fonts)| {
        let mut fonts: Vec<(String, u64)> = fonts
            .iter()
            .map(|font| {
                let kind = if font.web { " (web)" } else { "" };
                let name = if font.postscript.is_empty() {
                    &font.family
                } else {
                    &font.postscript
                };
                (format!("{name}{kind}"), font.glyphs)
            })
            .collect();
        fonts.sort_by(|a, b| b.1.cmp(&a.1).then_with(|| a.0.cmp(&b.0)));
        ShownIn {
            element: name(number),
            fonts,
        }
    });
    shown.collect()
}

type Boxes = BTreeMap<usize, Rect>;

fn boxes_of(before: &Foretold, after: &Foretold) -> (Boxes, Boxes) {
    let boxes = |predicted: &Foretold| {
        predicted
            .elements
            .iter()
            .map(|element| (element.number, element.rect))
            .collect()
    };
    (boxes(before), boxes(after))
}

/// The score of the boxes before and after: as measured, as predicted.
fn scores_of_boxes(
    predicted: &(Foretold, Foretold),
    measured: (&Measured, &Measured),
    size: (f64, f64),
) -> (f64, f64) {
    let here = boxes_of(&predicted.0, &predicted.1);
    let there = (
        measured_boxes(measured.0, &here.0),
        measured_boxes(measured.1, &here.1),
    );
    (
        score_of_boxes(&there.0, &there.1, size).value,
        score_of_boxes(&here.0, &here.1, size).value,
    )
}

/// The boxes that a browser measured of the elements that were foretold.
fn measured_boxes(measured: &Measured, known: &Boxes) -> Boxes {
    measured
        .elements
        .iter()
        .filter(|element| known.contains_key(&element.number))
        .map(|element| {
            let rect = Rect {
                x: element.x,
                y: element.y,
                width: element.width,
                height: element.height,
            };
            (element.number, rect)
        })
        .collect()
}

/// Faces that failed to load, but for those that are another name for what this device
/// does not have.
fn failed(measured: &Measured, web: &[WebFace]) -> Vec<String> {
    let local = |family: &str| {
        let family = family.trim_matches(['"', '\'']);
        let rules = web.iter().map(|rule| &rule.placed.face);
        let mut of_family = rules.filter(|face| face.family.as_deref() == Some(family));
        of_family.all(|face| {
            let mut sources = face.sources.iter();
            sources.all(|source| matches!(source, FaceSource::Local { .. }))
        })
    };
    measured
        .faces
        .iter()
        .filter(|face| face.status == "error" && !local(&face.family))
        .map(|face| format!("{} {} {}", face.family, face.weight, face.style))
        .collect()
}

/// What a console said of fonts and of files that were not there, without the address
/// of our own server.
fn of_fonts(lines: &[String], server: &str) -> Vec<String> {
    let wanted = ["font", "decode", "OTS", "Failed to load"];
    lines
        .iter()
        .map(|line| line.replace(server, ""))
        .filter(|line| wanted.iter().any(|word| line.contains(word)) && !line.contains(ICON))
        .collect()
}

fn ms(duration: std::time::Duration) -> f64 {
    (duration.as_secs_f64() * 100_000.0).round() / 100.0
}
