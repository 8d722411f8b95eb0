//! `forecast`: which font files each page fetches.

mod after_trim;
mod app;
mod sums;

use std::collections::BTreeSet;
use std::path::Path;

use tidy_lattice_core::forecast::{DeclaredFont, Forecast, ForecastFile, declared, forecast};
use tidy_lattice_core::lattice::WebFace;
use tidy_lattice_core::layout::Engine;
use tidy_lattice_core::page::{FlowPage, PageProblem};
use tidy_lattice_core::platform::Device;
use tidy_lattice_core::style::url_path;
use tidy_lattice_project::building::stand_for_missing;
use tidy_lattice_project::file::{NAME, Project};
use tidy_lattice_project::pages::{Pages, ReadPage, Window};
use tidy_lattice_project::stack::{NamedPlatform, any_unreadable, named_platforms, tell};

use self::after_trim::CutRules;
use super::trim::cut_project;
use crate::args::{ForecastArgs, SiteArgs};
use crate::error::{CliError, Outcome};
use crate::progress::Progress;
use crate::results::{AfterTrim, Forecasts, NeverFetched, PageForecast, Preload};
use crate::{input, screen, show};

/// Files that are worth asking for at once: more slow the page down.
const MOST_PRELOADS: usize = 2;

/// The share of a page's characters that a file must show to be worth it.
const WORTH_PRELOADING: f64 = 0.2;

/// Runs the command.
pub fn run(args: &ForecastArgs, json: bool) -> Result<Outcome, CliError> {
    let result = forecasts(args)?;
    if !json {
        tell(
            &font_problems(&result.problems),
            input::access(&args.limits),
        );
    }
    screen::tell_whole_names(args.all);
    super::tell(json, "forecast", &result, || {
        show::forecast::view(&result, args.all)
    })?;
    let unreadable = any_unreadable(&result.problems);
    let open = result.budget.is_some() && result.not_known > 0;
    Ok(Outcome::of(result.over_budget > 0 || open || unreadable))
}

/// What the pages of a project fetch.
pub fn forecast_project(project: &Path, site: &SiteArgs) -> Result<Forecasts, CliError> {
    forecasts(&ForecastArgs {
        site: site.clone(),
        ..ForecastArgs::of_project(project)
    })
}

fn forecasts(args: &ForecastArgs) -> Result<Forecasts, CliError> {
    let access = input::access(&args.limits);
    let project = Project::find(args.project.as_deref(), access)?;
    let of_project = project
        .as_ref()
        .and_then(|project| project.forecast.budget.clone());
    let budget = args.budget.clone().or(of_project);
    let budget = budget.as_deref().map(bytes).transpose()?;
    if args.app {
        return Ok(Forecasts {
            app: Some(app::app(args, project.as_ref(), access)?),
            ..empty(args.engine.into())
        });
    }
    let cut = cut_rules(args, project.as_ref())?;
    let windows = Window::named(&args.view.viewports, project.as_ref())?;
    let platforms = named_platforms(&args.platforms, project.as_ref(), access)?;
    let devices: Vec<Device<'_>> = platforms.iter().map(|one| one.device(access)).collect();
    let mut site = args.site.request();
    stand_for_missing(&mut site, project.as_ref(), access)?;
    let pages = Pages::find(&args.pages, project, &site, access)?;
    let mut loader = pages.loader(access);
    let engine: Engine = args.engine.into();
    let mut result = Forecasts {
        budget,
        ..empty(engine)
    };
    let mut known: BTreeSet<DeclaredFont> = BTreeSet::new();
    let progress = Progress::start("Reading pages", pages.files.len() * windows.len());
    let tried = Tried {
        platforms: &platforms,
        devices: &devices,
        cut: cut.as_ref(),
        engine,
    };
    for file in &pages.files {
        let mut cells: Vec<Fetched> = Vec::new();
        let mut language = None;
        for window in &windows {
            let ReadPage { page, web } = pages.read(file, window, &mut loader);
            known.extend(declared(&web));
            let root = page.flow.nodes.first();
            language = root
                .and_then(|root| root.language.as_deref())
                .map(str::to_owned);
            tried.add(&page, &web, window, &mut cells);
            for problem in page.problems {
                if !result.problems.contains(&problem) {
                    result.problems.push(problem);
                }
            }
            progress.step();
        }
        let all = windows.len() * platforms.len();
        let name = file.path.display().to_string();
        result.pages.extend(
            cells
                .into_iter()
                .map(|cell| page_forecast(&name, language.as_ref(), cell, all, windows.len())),
        );
    }
    drop(progress);
    result.languages = sums::by_language(&result.pages);
    result.platforms = sums::by_platform(&result.pages, &platforms, windows.len());
    result.unpacked = sums::unpacked(&result.pages, access);
    result.over_budget = budget.map_or(0, |budget| {
        let over = result
            .pages
            .iter()
            .filter(|page| page.forecast.bytes > budget);
        over.count()
    });
    let open = result.pages.iter().filter(|page| page.forecast.is_open());
    result.not_known = open.count();
    result.never_fetched = never_fetched(&known, &result.pages);
    Ok(result)
}

/// The rules of the fonts that are cut, where they are asked for.
///
/// # Errors
///
/// [`CliError::Usage`] without a project; as [`cut_project`].
fn cut_rules(args: &ForecastArgs, project: Option<&Project>) -> Result<Option<CutRules>, CliError> {
    if !args.after_trim {
        return Ok(None);
    }
    let Some(project) = project else {
        return Err(CliError::Usage(
            "--after-trim: the fonts that are cut are those of a project; write a \
             tidy-lattice.toml (`init` begins one), or name it with --project"
                .to_owned(),
        ));
    };
    let path = args.project.clone();
    let path = path.unwrap_or_else(|| project.path(NAME));
    Ok(Some(CutRules::of(&cut_project(&path, &args.site)?)))
}

/// Where each page is tried.
struct Tried<'a> {
    platforms: &'a [NamedPlatform],
    devices: &'a [Device<'a>],
    cut: Option<&'a CutRules>,
    engine: Engine,
}

impl Tried<'_> {
    /// Adds what a page fetches in a window on each platform; what is the same in several
    /// places is there once.
    fn add(&self, page: &FlowPage, web: &[WebFace], window: &Window, cells: &mut Vec<Fetched>) {
        let cut_web = self.cut.map(|cut| cut.in_place(web));
        for (platform, device) in self.platforms.iter().zip(self.devices) {
            let here = Forecast {
                unread_sheets: unread_sheets(&page.problems, web),
                ..forecast(&page.flow, web, Some(device), self.engine)
            };
            let after = cut_web.as_ref().map(|web| {
                let after = forecast(&page.flow, web, Some(device), self.engine);
                AfterTrim {
                    files: after.files.len(),
                    bytes: after.bytes,
                }
            });
            let place = (platform.platform.title.clone(), window.label());
            let mut known = cells.iter_mut();
            match known.find(|cell| cell.forecast == here && cell.after_trim == after) {
                Some(cell) => cell.places.push(place),
                None => cells.push(Fetched {
                    forecast: here,
                    after_trim: after,
                    places: vec![place],
                }),
            }
        }
    }
}

/// Style sheets that could not be read: what stands at no rule that was read.
fn unread_sheets(problems: &[PageProblem], web: &[WebFace]) -> Vec<String> {
    let of_rule = |problem: &PageProblem| {
        (web.iter())
            .any(|rule| rule.placed.file == problem.file && rule.placed.line == problem.line)
    };
    (problems.iter())
        .filter(|problem| problem.unread.is_some() && !of_rule(problem))
        .map(|problem| problem.what.clone())
        .collect()
}

/// What matters for fonts: layout that this program does not do does not change them.
fn font_problems(problems: &[PageProblem]) -> Vec<PageProblem> {
    let of_files = problems.iter().filter(|problem| problem.unread.is_some());
    of_files.cloned().collect()
}

/// A number of bytes, or of thousands or millions of them.
fn bytes(text: &str) -> Result<u64, CliError> {
    let lower = text.trim().to_ascii_lowercase();
    let (digits, unit) = match lower.strip_suffix('k') {
        Some(digits) => (digits, 1000),
        None => match lower.strip_suffix('m') {
            Some(digits) => (digits, 1_000_000),
            None => (lower.as_str(), 1),
        },
    };
    let number: Option<u64> = digits.trim().parse().ok();
    number
        .and_then(|number| number.checked_mul(unit))
        .ok_or_else(|| {
            CliError::Usage(format!(
                "the budget {text}: write a number of bytes, or as 100k or 1m"
            ))
        })
}

/// What a page fetches in some windows on some platforms.
struct Fetched {
    forecast: Forecast,
    after_trim: Option<AfterTrim>,
    /// Titles of platforms, with windows.
    places: Vec<(String, String)>,
}

fn empty(engine: Engine) -> Forecasts {
    Forecasts {
        engine,
        pages: Vec::new(),
        budget: None,
        over_budget: 0,
        not_known: 0,
        never_fetched: Vec::new(),
        languages: Vec::new(),
        platforms: Vec::new(),
        unpacked: Vec::new(),
        app: None,
        problems: Vec::new(),
    }
}

fn page_forecast(
    name: &str,
    language: Option<&String>,
    cell: Fetched,
    all: usize,
    windows: usize,
) -> PageForecast {
    let Fetched {
        forecast,
        after_trim,
        places,
    } = cell;
    // A platform in every window is named once.
    let mut on: Vec<String> = Vec::new();
    let titles: Vec<&String> = places.iter().map(|(title, _)| title).collect();
    for (title, window) in &places {
        let every = titles.iter().filter(|known| **known == title).count() == windows;
        let place = if every {
            title.clone()
        } else {
            format!("{title} ({window})")
        };
        if !on.contains(&place) {
            on.push(place);
        }
    }
    PageForecast {
        page: name.to_owned(),
        everywhere: places.len() == all,
        language: language.cloned(),
        after_trim,
        on,
        preload: preload(name, &forecast),
        forecast,
    }
}

/// The tags for a page, with URLs from where it stands.
fn preload(page: &str, forecast: &Forecast) -> Vec<Preload> {
    let total: u64 = forecast.files.iter().map(|file| file.characters).sum();
    let worth = |characters: u64| characters as f64 >= total as f64 * WORTH_PRELOADING;
    (forecast.files.iter())
        .filter(|file| file.characters > 0 && worth(file.characters))
        .take(MOST_PRELOADS)
        .map(|file| {
            let url = url_from(page, file);
            let plain = url.split('?').next().unwrap_or_default();
            let ending = plain
                .rsplit('.')
                .next()
                .unwrap_or_default()
                .to_ascii_lowercase();
            let kind = match ending.as_str() {
                "woff2" | "woff" | "ttf" | "otf" => format!(" type=\"font/{ending}\""),
                _ => String::new(),
            };
            Preload {
                file: file.file.clone(),
                tag: format!(
                    "<link rel=\"preload\" as=\"font\"{kind} href=\"{}\" crossorigin>",
                    escaped(&url)
                ),
            }
        })
        .collect()
}

/// The URL of a file as a page must write it to mean the same: rules write theirs from
/// where their sheet stands.
fn url_from(page: &str, file: &ForecastFile) -> String {
    let url = file.url.split('#').next().unwrap_or_default();
    if url.starts_with('/') || url.contains("://") {
        return url.to_owned();
    }
    let query = url.find('?').map_or("", |at| &url[at..]);
    let folder = Path::new(page).parent().unwrap_or(Path::new(""));
    match pathdiff::diff_paths(&file.file, folder) {
        Some(path) => {
            let parts = path
                .components()
                .map(|part| url_path(&part.as_os_str().to_string_lossy()));
            parts.collect::<Vec<_>>().join("/") + query
        }
        None => url.to_owned(),
    }
}

fn escaped(url: &str) -> String {
    url.replace('&', "&amp;")
        .replace('"', "&quot;")
        .replace('<', "&lt;")
}

fn never_fetched(known: &BTreeSet<DeclaredFont>, pages: &[PageForecast]) -> Vec<NeverFetched> {
    let fetched: BTreeSet<&str> = (pages.iter())
        .flat_map(|page| &page.forecast.files)
        .map(|file| file.file.as_str())
        .collect();
    (known.iter())
        .filter(|font| !fetched.contains(font.file.as_str()))
        .map(|font| NeverFetched {
            file: font.file.clone(),
            family: font.family.clone(),
            rule: font.rule.clone(),
            bytes: font.bytes,
        })
        .collect()
}
