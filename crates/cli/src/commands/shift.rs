//! `shift`: what moves when web fonts arrive.

use std::path::Path;

use rayon::prelude::*;
use tidy_lattice_core::lattice::WebFace;
use tidy_lattice_core::layout::Engine;
use tidy_lattice_core::page::{Flow, LineHeight, PageProblem, Unread};
use tidy_lattice_core::platform::Device;
use tidy_lattice_core::shaping::Shapers;
use tidy_lattice_core::shift::{Scene, Setting, SettingFonts, Shift};
use tidy_lattice_core::style::read::USUAL_FIXED_SIZE;
use tidy_lattice_project::building::stand_for_missing;
use tidy_lattice_project::file::{Project, Role};
use tidy_lattice_project::files::is_page;
use tidy_lattice_project::in_place::InPlace;
use tidy_lattice_project::pages::{Pages, ReadPage, Window};
use tidy_lattice_project::stack::{
    NamedPlatform, NamedStack, any_unreadable, named_platforms, tell,
};
use tidy_lattice_project::variants::{Variant, vary};
use tidy_lattice_project::{Access, ProjectError};

use super::build::Stacks;
use crate::args::{ShiftArgs, SiteArgs, StackArgs};
use crate::error::{CliError, Outcome};
use crate::progress::{Progress, while_working};
use crate::results::{ShiftCell, Shifts, VariantRow};
use crate::show::picture::{Form, shift_picture};
use crate::writing;
use crate::{input, screen, show};

/// One page, or one text, in one window.
struct Sheet {
    name: String,
    window: Window,
    flow: Flow,
    /// The same where the browser gives `monospace` less than usual, if it does on a platform.
    small_fixed: Option<Flow>,
    web: Vec<WebFace>,
    /// Why nothing can be said of it: something that it names could not be read.
    unread: Option<String>,
}

impl Sheet {
    /// As `engine` has it on `device`.
    fn flow_on(&self, engine: Engine, device: &Device<'_>) -> &Flow {
        let small = engine.fixed_size(device.platform().system()) < USUAL_FIXED_SIZE;
        self.small_fixed
            .as_ref()
            .filter(|_| small)
            .unwrap_or(&self.flow)
    }
}

/// Runs the command.
pub fn run(args: &ShiftArgs, json: bool) -> Result<Outcome, CliError> {
    let access = input::access(&args.limits);
    let form = args.drawing.picture.as_deref().map(Form::of).transpose()?;
    let mut variants = Variant::of(args.variants, &args.more_variants)?;
    let project = Project::find(args.stack.project.as_deref(), access)?;
    let has_web = |role: &Role| !role.web.is_empty();
    let builds = |project: &Project| project.role.values().any(has_web);
    if args.variants && project.as_ref().is_some_and(builds) && !variants.contains(&Variant::Built)
    {
        variants.insert(0, Variant::Built);
    }
    let in_place = match &project {
        Some(project) if variants.contains(&Variant::Built) && builds(project) => {
            let site = args.stack.site.request();
            let build = || InPlace::build(project, &site, access);
            Some(while_working("Building stacks", build)?)
        }
        _ => None,
    };
    let budget = budget(args, project.as_ref())?;
    let texts = !args.text.texts.is_empty()
        || args
            .text
            .files
            .iter()
            .any(|file| !file.is_dir() && !is_page(file));
    let (sheets, platforms, problems) = if texts {
        of_texts(args, project.as_ref(), access)?
    } else {
        of_pages(args, project, access)?
    };
    let engine: Engine = args.engine.into();
    let devices: Vec<Device<'_>> = platforms
        .iter()
        .map(|platform| platform.device(access).seen_in(engine.label()))
        .collect();
    let cells = cells(&sheets, (&platforms, &devices), engine);
    let rows = while_working("Trying other ways", || {
        variant_rows((&variants, in_place.as_ref()), &sheets, &devices, engine)
    })?;
    let shifts = Shifts {
        engine,
        over_budget: over_budget(&cells, budget),
        unknown: unknown(&cells),
        cells,
        variants: rows,
        budget,
        problems,
    };
    if !json {
        tell(&shifts.problems, access);
    }
    if let (Some(path), Some(form)) = (&args.drawing.picture, form)
        && let Some(worst) = worst(&shifts.cells)
    {
        let (sheet, device) = (worst / devices.len(), worst % devices.len());
        let (sheet, device) = (&sheets[sheet], &devices[device]);
        let svg = shift_picture(
            &shifts.cells[worst],
            sheet.flow_on(engine, device),
            &sheet.web,
            device,
            engine,
        );
        writing::write_file(path, &form.encode(&svg)?, args.drawing.force)?;
    }
    screen::tell_whole_names(args.all);
    super::tell(json, "shift", &shifts, || {
        show::shift::view(&shifts, args.all)
    })?;
    // A budget is not met by what is not known, nor is a page by files that are missing.
    let open = shifts.budget.is_some() && shifts.unknown > 0 && !args.pass_unknown;
    let unreadable = any_unreadable(&shifts.problems);
    Ok(Outcome::of(shifts.over_budget > 0 || open || unreadable))
}

/// Every sheet on every platform.
fn cells(
    sheets: &[Sheet],
    (platforms, devices): (&[NamedPlatform], &[Device<'_>]),
    engine: Engine,
) -> Vec<ShiftCell> {
    let progress = Progress::start("Laying out", sheets.len() * devices.len());
    let places: Vec<(usize, usize)> = (0..sheets.len())
        .flat_map(|sheet| (0..devices.len()).map(move |device| (sheet, device)))
        .collect();
    places
        .par_iter()
        .map_init(Shapers::default, |shapers, (sheet, device)| {
            let (sheet, platform) = (&sheets[*sheet], &platforms[*device]);
            let page = (sheet.flow_on(engine, &devices[*device]), &sheet.web[..]);
            let mut shift = shift_of(page, &sheet.window, &devices[*device], engine, shapers);
            if let Some(unread) = &sheet.unread {
                shift.forget(unread.clone());
            }
            progress.step();
            ShiftCell {
                page: sheet.name.clone(),
                window: sheet.window.clone(),
                platform: platform.platform.name.clone(),
                title: platform.platform.title.clone(),
                shift,
            }
        })
        .collect()
}

/// How many scores are not known.
fn unknown(cells: &[ShiftCell]) -> usize {
    cells.iter().filter(|cell| !cell.shift.is_known()).count()
}

/// What of a page's files could not be read, so that nothing can be said of it.
fn unread(problems: &[PageProblem]) -> Option<String> {
    let mut problems = problems.iter().filter(|problem| problem.unread.is_some());
    let first = problems.next()?;
    let hosted = first.unread == Some(Unread::Remote);
    Some(format!(
        "{}{}{}",
        first.what,
        match problems.count() {
            0 => String::new(),
            more => format!(" (and {more} more)"),
        },
        if hosted {
            "; name a local copy with --map"
        } else {
            ""
        }
    ))
}

/// How many scores are above the budget, of those that are known.
fn over_budget(cells: &[ShiftCell], budget: Option<f64>) -> usize {
    let over = |cell: &&ShiftCell| {
        let value = cell.shift.value();
        value
            .zip(budget)
            .is_some_and(|(value, budget)| value > budget)
    };
    cells.iter().filter(over).count()
}

/// The place of the cell that moves most, of those that are known.
fn worst(cells: &[ShiftCell]) -> Option<usize> {
    let key = |cell: &ShiftCell| {
        let value = cell.shift.value().unwrap_or_default();
        (value, cell.shift.lines_broken as f64)
    };
    let known = (0..cells.len()).filter(|place| cells[*place].shift.is_known());
    known.max_by(|a, b| {
        let (a_key, b_key) = (key(&cells[*a]), key(&cells[*b]));
        a_key
            .0
            .total_cmp(&b_key.0)
            .then(a_key.1.total_cmp(&b_key.1))
            // Of equals the first.
            .then(b.cmp(a))
    })
}

/// The pages of a project in its windows on its platforms, as the example run shows
/// them.
pub fn shift_project(path: &Path, site: &SiteArgs) -> Result<Shifts, CliError> {
    Ok(shift_drawn(path, site, &[], None)?.0)
}

/// The same, served in other ways, too, and a picture of the page that moves most; none where
/// nothing moves.
pub fn shift_drawn(
    path: &Path,
    site: &SiteArgs,
    variants: &[Variant],
    built: Option<&Stacks>,
) -> Result<(Shifts, Option<String>), CliError> {
    let access = input::plain_access();
    let project = Project::find(Some(path), access)?;
    let in_place = match (&project, built) {
        (Some(project), Some(stacks)) => {
            let request = site.request();
            Some(InPlace::of(
                project,
                stacks.built(),
                stacks.css(),
                &request,
                access,
            )?)
        }
        _ => None,
    };
    let windows = Window::named(&[], project.as_ref())?;
    let platforms = named_platforms(&[], project.as_ref(), access)?;
    let budget = project.as_ref().and_then(|project| project.shift.budget);
    let mut site = site.request();
    stand_for_missing(&mut site, project.as_ref(), access)?;
    let pages = Pages::find(&[], project, &site, access)?;
    let (sheets, problems) = read(&pages, &windows, None, access);
    let devices: Vec<Device<'_>> = platforms.iter().map(|one| one.device(access)).collect();
    let engine = Engine::Chromium;
    let cells = cells(&sheets, (&platforms, &devices), engine);
    let worst = worst(&cells).filter(|_| !variants.is_empty());
    let moving = worst.filter(|worst| cells[*worst].shift.value().is_some_and(|score| score > 0.0));
    let picture = moving.map(|worst| {
        let (sheet, device) = (
            &sheets[worst / devices.len()],
            &devices[worst % devices.len()],
        );
        shift_picture(
            &cells[worst],
            sheet.flow_on(engine, device),
            &sheet.web,
            device,
            engine,
        )
    });
    let shifts = Shifts {
        engine,
        over_budget: over_budget(&cells, budget),
        unknown: unknown(&cells),
        cells,
        variants: variant_rows((variants, in_place.as_ref()), &sheets, &devices, engine)?,
        budget,
        problems,
    };
    Ok((shifts, picture))
}

fn budget(args: &ShiftArgs, project: Option<&Project>) -> Result<Option<f64>, CliError> {
    if args
        .budget
        .is_some_and(|budget| !(0.0..=100.0).contains(&budget))
    {
        return Err(CliError::Usage("--budget: scores are 0 or more".to_owned()));
    }
    let declared = project.and_then(|project| project.shift.budget);
    Ok(args.budget.or(declared))
}

/// What moves on one page, or in one text.
fn shift_of(
    (flow, web): (&Flow, &[WebFace]),
    window: &Window,
    device: &Device<'_>,
    engine: Engine,
    shapers: &Shapers,
) -> Shift {
    let setting = Setting {
        flow,
        web,
        device: Some(device),
        engine,
        viewport: window.viewport(),
    };
    let fonts = SettingFonts::of(&setting);
    Scene::new(setting, &fonts, shapers).shift()
}

type Gathered = (Vec<Sheet>, Vec<NamedPlatform>, Vec<PageProblem>);

fn of_pages(
    args: &ShiftArgs,
    project: Option<Project>,
    access: Access<'_>,
) -> Result<Gathered, CliError> {
    let StackArgs {
        fonts, stack, role, ..
    } = &args.stack;
    if !fonts.is_empty() || stack.is_some() || role.is_some() {
        return Err(CliError::Usage(
            "pages have stacks of their own: --font, --stack and --role are for texts (--text, or \
             a text file)"
                .to_owned(),
        ));
    }
    if args.size.is_some() || args.line_height.is_some() || !args.widths.is_empty() {
        return Err(CliError::Usage(
            "pages have sizes of their own: --size, --line-height and --width are for texts; \
             --viewport is for pages"
                .to_owned(),
        ));
    }
    let windows = Window::named(&args.view.viewports, project.as_ref())?;
    let platforms = named_platforms(&args.stack.platforms, project.as_ref(), access)?;
    let mut site = args.stack.site.request();
    stand_for_missing(&mut site, project.as_ref(), access)?;
    let pages = Pages::find(&args.text.files, project, &site, access)?;
    let engine = Engine::from(args.engine);
    let mut sizes = (platforms.iter()).map(|one| engine.fixed_size(one.platform.system()));
    let small = sizes.find(|size| *size < USUAL_FIXED_SIZE);
    let (sheets, problems) = read(&pages, &windows, small, access);
    Ok((sheets, platforms, problems))
}

/// `small`: a size of `monospace` that a platform has instead of the usual one.
fn read(
    pages: &Pages<'_>,
    windows: &[Window],
    small: Option<f32>,
    access: Access<'_>,
) -> (Vec<Sheet>, Vec<PageProblem>) {
    let mut loader = pages.loader(access);
    let mut sheets = Vec::new();
    let mut problems: Vec<PageProblem> = Vec::new();
    for file in &pages.files {
        for window in windows {
            let ReadPage { page, web } = pages.read(file, window, &mut loader);
            let unread = unread(&page.problems);
            for problem in page.problems {
                if !problems.contains(&problem) {
                    problems.push(problem);
                }
            }
            let small_fixed = small.map(|size| {
                let viewport = window.viewport().with_fixed_size(size);
                pages.read_in(file, viewport, &mut loader).page.flow
            });
            sheets.push(Sheet {
                name: page.name,
                window: window.clone(),
                flow: page.flow,
                small_fixed,
                web,
                unread,
            });
        }
    }
    (sheets, problems)
}

/// How high a window is that is given by the width of a column only, in px.
const TALL: f64 = 800.0;

fn of_texts(
    args: &ShiftArgs,
    project: Option<&Project>,
    access: Access<'_>,
) -> Result<Gathered, CliError> {
    if !args.stack.fonts.is_empty() {
        return Err(CliError::Usage(
            "fonts by themselves have no fallback to move from: give --css with --stack, or a \
             --role of the project"
                .to_owned(),
        ));
    }
    let sources = tidy_lattice_project::texts::some_text(&args.text.request(false)?, access)?;
    let mut request = args.stack.request();
    if request.stack.is_none() {
        stand_for_missing(&mut request.site, project, access)?;
    }
    let stack = NamedStack::read(&request, project, access)?;
    let mut style = stack.style.clone();
    if let Some(size) = args.size {
        if !(1.0..=1000.0).contains(&size) {
            return Err(CliError::Usage(format!(
                "--size {size}: sizes are in px, from 1 to 1000"
            )));
        }
        style.size = size;
    }
    if let Some(height) = &args.line_height {
        style.line_height = line_height(height)?;
    }
    let windows = if args.widths.is_empty() {
        Window::named(&args.view.viewports, None)?
    } else {
        if args
            .widths
            .iter()
            .any(|width| !(20.0..=10_000.0).contains(width))
        {
            return Err(CliError::Usage(
                "--width: widths of columns are in px, from 20 to 10000".to_owned(),
            ));
        }
        let window = |width: &f64| Window {
            name: format!("{width} px"),
            width: *width,
            height: TALL,
        };
        args.widths.iter().map(window).collect()
    };
    let mut sheets = Vec::new();
    for source in &sources {
        let paragraphs = paragraphs(&source.text);
        let rtl = paragraphs.first().is_some_and(|first| starts_right(first));
        let flow = Flow::of_paragraphs(&paragraphs, &style, args.language.as_deref(), rtl);
        for window in &windows {
            sheets.push(Sheet {
                name: source.name.clone(),
                window: window.clone(),
                flow: flow.clone(),
                small_fixed: None,
                web: stack.web.clone(),
                unread: None,
            });
        }
    }
    Ok((sheets, stack.platforms, Vec::new()))
}

/// Paragraphs, apart by empty lines.
fn paragraphs(text: &str) -> Vec<String> {
    let mut found = vec![String::new()];
    for line in text.lines() {
        let last = found.len() - 1;
        if line.trim().is_empty() {
            if !found[last].is_empty() {
                found.push(String::new());
            }
        } else {
            if !found[last].is_empty() {
                found[last].push(' ');
            }
            found[last].push_str(line.trim());
        }
    }
    found.retain(|paragraph| !paragraph.is_empty());
    found
}

/// Whether a text runs from right to left, by its first letter that tells.
fn starts_right(text: &str) -> bool {
    let rtl = |c: char| matches!(c, '\u{590}'..='\u{8ff}' | '\u{fb1d}'..='\u{fdff}' | '\u{fe70}'..='\u{feff}');
    text.chars().find(|c| c.is_alphabetic()).is_some_and(rtl)
}

fn line_height(text: &str) -> Result<LineHeight, CliError> {
    if text == "normal" {
        return Ok(LineHeight::Normal);
    }
    let number = |text: &str| {
        text.parse::<f32>()
            .ok()
            .filter(|value| (0.0..=10_000.0).contains(value))
    };
    if let Some(px) = text.strip_suffix("px").and_then(number) {
        return Ok(LineHeight::Px(px));
    }
    number(text).map(LineHeight::Number).ok_or_else(|| {
        CliError::Usage(format!(
            "--line-height {text:?}: it is a number like 1.5, a length like 24px, or normal"
        ))
    })
}

fn variant_rows(
    (variants, in_place): (&[Variant], Option<&InPlace>),
    sheets: &[Sheet],
    devices: &[Device<'_>],
    engine: Engine,
) -> Result<Vec<VariantRow>, CliError> {
    let mut rows = Vec::new();
    let places: Vec<(&Sheet, &Device<'_>)> = sheets
        .iter()
        .flat_map(|sheet| devices.iter().map(move |device| (sheet, device)))
        .collect();
    for variant in variants {
        let of_place = |shapers: &mut Shapers, (sheet, device): &(&Sheet, &Device<'_>)| {
            let engine = variant.engine().unwrap_or(engine);
            let page = (&sheet.web[..], sheet.flow_on(engine, device));
            let varied = vary(variant, page, device, &sheet.window, in_place)?;
            let page = (&varied.1, &varied.0[..]);
            let shift = shift_of(page, &sheet.window, device, engine, shapers);
            let value = shift.value().filter(|_| sheet.unread.is_none());
            Ok((value, value.map(|_| shift.lines_broken)))
        };
        let cells: Vec<(Option<f64>, Option<usize>)> = places
            .par_iter()
            .map_init(Shapers::default, of_place)
            .collect::<Result<_, ProjectError>>()?;
        let (scores, lines_broken) = cells.into_iter().unzip();
        rows.push(VariantRow {
            name: variant.name(),
            what: variant.what(),
            scores,
            lines_broken,
        });
    }
    Ok(rows)
}
