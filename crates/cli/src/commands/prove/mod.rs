//! `prove`: a real browser beside the prediction.

mod run;
mod visits;

use std::path::{Path, PathBuf};
use std::time::Duration;

use tidy_lattice_browser::{Engine, Fonts, Launch};
use tidy_lattice_core::layout::Engine as Model;
use tidy_lattice_core::shaping::Shapers;
use tidy_lattice_project::Access;
use tidy_lattice_project::file::Project;
use tidy_lattice_project::pages::{PageFile, Pages, Window};
use tidy_lattice_project::stack::{NamedPlatform, named_platforms, tell};

use crate::args::ProveArgs;
use crate::error::{CliError, Outcome};
use crate::progress::Progress;
use crate::results::{Proved, ProvedBrowser, Tolerances};
use crate::writing;
use crate::{input, screen, show};

/// Runs the command.
pub fn run(args: &ProveArgs, json: bool) -> Result<Outcome, CliError> {
    tidy_lattice_browser::on_interrupt();
    let access = input::access(&args.limits);
    check(args)?;
    // A driver that is missing is told before anything is worked for.
    for browser in &args.browsers {
        launch(args, (*browser).into(), None).check()?;
    }
    let project = Project::find(args.project.as_deref(), access)?;
    let windows = Window::named(&args.view.viewports, project.as_ref())?;
    let platform = platform(args, project.as_ref(), access)?;
    let fonts = match args.platform.as_deref() {
        Some(name) if !is_here(name) => Some(fonts_of(&platform, access)?),
        // Browsers have the fonts of this device as it is.
        _ => None,
    };
    let pages = Pages::find(&args.pages, project, &args.site.request(), access)?;
    if let Some(folder) = &args.screenshots {
        writing::make_folder(folder)?;
    }
    // What pages name tells what `/` means, before they are served.
    if let Some(window) = windows.first() {
        let mut loader = pages.loader(access);
        for file in &pages.files {
            pages.read(file, window, &mut loader);
        }
    }
    let roots = roots(&pages);
    let shapers = Shapers::default();
    let mut proved = Proved {
        platform: platform.platform.title.clone(),
        browsers: Vec::new(),
        runs: Vec::new(),
        tolerances: Tolerances {
            lines: args.lines_off,
            height: args.height_off,
            score: args.score_off,
            strict: args.strict,
        },
        unsupported: false,
        problems: Vec::new(),
    };
    let steps = args.browsers.len() * pages.files.len() * windows.len();
    let progress = Progress::start("Proving", steps);
    for browser in &args.browsers {
        let launch = launch(args, (*browser).into(), fonts.as_ref());
        let device = platform.device(access);
        let device = device.seen_in(launch.engine.model().label());
        let prover = run::Prover {
            args,
            pages: &pages,
            roots: &roots,
            engine: launch.engine,
            device: &device,
            shapers: &shapers,
            access,
        };
        let pairs = pages.files.iter();
        let pairs: Vec<(&PageFile, &Window)> = pairs
            .flat_map(|file| windows.iter().map(move |window| (file, window)))
            .collect();
        let wanted = pairs.iter().map(|(file, window)| {
            Ok(visits::Visit {
                path: prover.path(&file.path)?,
                size: (window.width as u32, window.height as u32),
            })
        });
        let wanted = wanted.collect::<Result<Vec<_>, CliError>>()?;
        let served = visits::Served {
            roots: &roots,
            maps: &pages.site.maps,
            no_scripts: args.no_scripts,
        };
        let version = visits::make(&launch, &served, &wanted, |number, seen| {
            let (file, window) = pairs[number];
            let run = prover.judge(file, window, seen, &mut proved.problems)?;
            proved.unsupported |= !run.holds;
            proved.runs.push(run);
            progress.step();
            Ok::<_, CliError>(())
        })?;
        proved.browsers.push(ProvedBrowser {
            engine: launch.engine.model(),
            version,
            silent_on: silent_on(launch.engine),
        });
    }
    drop(progress);
    if !json {
        tell(&proved.problems, access);
    }
    screen::tell_whole_names(args.all);
    super::tell(json, "prove", &proved, || {
        show::prove::view(&proved, args.all)
    })?;
    Ok(Outcome::of(proved.unsupported))
}

fn check(args: &ProveArgs) -> Result<(), CliError> {
    let amounts = [
        ("--lines-off", args.lines_off),
        ("--height-off", args.height_off.unwrap_or(0.0)),
        ("--score-off", args.score_off),
    ];
    for (name, amount) in amounts {
        if !(0.0..=1_000.0).contains(&amount) {
            return Err(CliError::Usage(format!("{name}: it is 0 or more")));
        }
    }
    if !(1..=3_600).contains(&args.timeout) {
        return Err(CliError::Usage(
            "--timeout: it is in s, from 1 to 3600".to_owned(),
        ));
    }
    let several = args.browsers.len() > 1;
    if several && (args.driver.is_some() || args.binary.is_some() || args.endpoint.is_some()) {
        return Err(CliError::Usage(
            "--driver, --binary and --endpoint are of one browser; name one with --browser"
                .to_owned(),
        ));
    }
    if args.endpoint.is_some() && args.platform.is_some() {
        return Err(CliError::Usage(
            "fonts cannot be installed for a driver that runs already; leave --platform or \
             --endpoint out"
                .to_owned(),
        ));
    }
    Ok(())
}

/// How a browser is started, with these fonts installed for it.
fn launch<'a>(args: &ProveArgs, engine: Engine, fonts: Option<&'a Fonts>) -> Launch<'a> {
    Launch {
        engine,
        driver: args.driver.clone(),
        binary: args.binary.clone(),
        endpoint: args.endpoint.clone(),
        timeout: Duration::from_secs(args.timeout),
        fonts,
    }
}

/// What a browser does not tell.
fn silent_on(engine: Engine) -> Vec<&'static str> {
    match engine {
        Engine::Chromium => Vec::new(),
        Engine::Firefox => vec![
            "its layout-shift score",
            "which font shows a text",
            "its console",
        ],
        Engine::Webkit => vec![
            "its layout-shift score",
            "which font shows a text",
            "its console",
            "widths as other systems have them (it sets letters at whole px here)",
        ],
    }
}

/// Whether a platform is this device itself.
fn is_here(name: &str) -> bool {
    name == "here" && !Path::new(name).is_file()
}

fn platform(
    args: &ProveArgs,
    project: Option<&Project>,
    access: Access<'_>,
) -> Result<NamedPlatform, CliError> {
    let name = match &args.platform {
        Some(name) if Path::new(name).is_file() => name.clone(),
        Some(name) => project.map_or_else(|| name.clone(), |project| project.platform(name)),
        None => "here".to_owned(),
    };
    let mut platforms = named_platforms(&[name], project, access)?;
    Ok(platforms.remove(0))
}

/// The fonts of a platform as files.
fn fonts_of(platform: &NamedPlatform, access: Access<'_>) -> Result<Fonts, CliError> {
    let mut fonts = Fonts {
        alone: true,
        ..Fonts::default()
    };
    let definition = &platform.platform;
    let fixed_size = Model::Firefox.fixed_size(definition.system());
    fonts.fixed_size = Some(fixed_size as u32);
    for family in &definition.families {
        for face in &family.faces {
            let path = face
                .card
                .as_ref()
                .map(|named| tidy_lattice_project::fonts::split(Path::new(named), access).0);
            let Some(path) = path.filter(|path| path.is_file()) else {
                return Err(CliError::Usage(format!(
                    "{} of {} is no font file here, so no browser can have it; name a platform \
                     (TOML) whose fonts are files, or leave --platform out for the fonts of this \
                     device",
                    face.full, definition.title
                )));
            };
            let number = fonts.files.len();
            let name = path.file_name().unwrap_or_default().to_string_lossy();
            let name = format!("{number}-{name}");
            fonts.files.push((
                name,
                tidy_lattice_project::fonts::font_bytes(&path, access)?,
            ));
        }
    }
    let generics = definition.generic.iter();
    fonts.generics = generics
        .map(|(keyword, family)| (keyword.clone(), family.clone()))
        .collect();
    let others = definition.other_names().into_iter();
    (fonts.generics).extend(others.map(|(name, family)| (name.to_owned(), family.to_owned())));
    Ok(fonts)
}

/// The folders that are served: that of the site, then that of the project.
fn roots(pages: &Pages<'_>) -> Vec<PathBuf> {
    let mut roots = Vec::new();
    if !pages.site.has_root() {
        // Pages without URLs from the root are served from the top of their project, or
        // their `../` would lead nowhere.
        for page in &pages.files {
            let top = pages.site.top_around(&page.path);
            if !roots.contains(&top) {
                roots.push(top);
            }
        }
    }
    roots.extend(pages.site.roots());
    if let Some(project) = &pages.project {
        roots.push(project.folder.clone());
    }
    for root in &mut roots {
        if root.as_os_str().is_empty() {
            *root = PathBuf::from(".");
        }
    }
    roots
}
