//! `build`: ordered stacks with stand-ins, for every role.

mod cut;

use std::path::{Path, PathBuf};

use tidy_lattice_core::font::Face;
use tidy_lattice_core::stack::app::app_stack;
use tidy_lattice_core::stack::of_devices::DeviceStack;
use tidy_lattice_core::stack::tokens::tokens;
use tidy_lattice_core::stack::{Built, StandIn, StandInFace};
use tidy_lattice_core::style::is_generic;
use tidy_lattice_project::building::{self, Settings};
use tidy_lattice_project::file::{self, BuildRules, Project, Purpose};
use tidy_lattice_project::files::is_page;
use tidy_lattice_project::of_pages::{OfPages, of_pages};
use tidy_lattice_project::put_in::{PutIn, put_in};
use tidy_lattice_project::request::BuildParts;
use tidy_lattice_project::{Access, Over, ProjectError};

use self::cut::cut_fonts;
use super::trim::{self, Files};
use crate::args::{BuildArgs, BuildForm, Display};
use crate::error::{CliError, Outcome};
use crate::progress::while_working;
use crate::results::{AppStacks, BuiltStacks};
use crate::show;
use crate::show::picture::{self, Form};
use crate::show::text::kilobytes;
use crate::writing;
use crate::{input, output, screen, watching};

/// The sizes that browsers can set, in px.
const SIZES: std::ops::RangeInclusive<f32> = 1.0..=1000.0;

/// Widths of columns, in px.
const WIDTHS: std::ops::RangeInclusive<f64> = 20.0..=10_000.0;

/// The files of `--apart`.
const APART: [&str; 3] = ["rules.css", "properties.css", "classes.css"];

/// Outputs beyond this size are not looked at, in bytes.
const LARGEST: u64 = 64 * 1024 * 1024;

/// What was built, and where it goes.
pub struct Stacks {
    parts: building::Stacks,
    /// Where the style sheet goes.
    sheet: Option<PathBuf>,
    /// The cut files that the style sheet names, and the folder that they go to.
    cut: Option<(PathBuf, Files)>,
    /// What was taken for what of pages that were named, and how the style sheet is put in.
    of_pages: Option<(Vec<String>, PutIn)>,
}

/// Runs the command.
pub fn run(args: &BuildArgs, json: bool) -> Result<Outcome, CliError> {
    if args.watch {
        watching::watch(|| once(args, json))
    } else {
        once(args, json)
    }
}

fn once(args: &BuildArgs, json: bool) -> Result<Outcome, CliError> {
    check(args)?;
    let form = args.picture.as_deref().map(Form::of).transpose()?;
    let stacks = stacks(args)?;
    if let (Some(path), Some(form)) = (&args.picture, form) {
        draw(path, form, args, &stacks)?;
    }
    if args.check {
        return is_as_built(args, json, &stacks);
    }
    deliver(args, json, &stacks)?;
    let notes = stacks.built().iter().flat_map(|built| &built.notes);
    let of_devices = stacks.parts.of_devices.iter();
    let mut notes = notes.chain(of_devices.flat_map(|stack| &stack.notes));
    Ok(Outcome::of(notes.any(|note| note.finding)))
}

/// Builds the stacks that `args`, or else the project, names.
pub fn stacks(args: &BuildArgs) -> Result<Stacks, CliError> {
    let access = input::access(&args.limits);
    let mut project = if args.web.is_empty() {
        Project::find(args.project.as_deref(), access)?
    } else {
        None
    };
    let mut parts = args.parts()?;
    let named = if args.web.is_empty() && args.text_use.is_none() && !parts.text.is_empty() {
        Some(pages(&mut parts, project.as_ref(), access)?)
    } else {
        None
    };
    let took = named.map(|named| {
        parts.pages = named.pages;
        project = Some(named.project);
        named.took
    });
    let rules = project
        .as_ref()
        .map(|project| project.build.clone())
        .unwrap_or_default();
    // The project's output is for its own roles, and so are its cut fonts.
    let of_project = project
        .as_ref()
        .filter(|_| parts.pages.is_empty() && args.text_use.is_none());
    let sheet = sheet_path(args, of_project, &rules);
    let settings = settings(args, &rules);
    if let Some(sheet) = &sheet
        && args.web.iter().any(|web| writing::same_file(web, sheet))
    {
        return Err(CliError::Usage(format!(
            "{} is the web font's style sheet and the output, too; name another output",
            sheet.display()
        )));
    }
    let cut = match of_project {
        Some(of_project) => cut_fonts(of_project, args, &parts)?,
        None => None,
    };
    let over;
    let access = match &cut {
        Some(cut) => {
            project = Some(cut.project.clone());
            over = Over {
                memory: cut.memory.clone(),
                disk: access.disk,
            };
            Access {
                disk: &over,
                ..access
            }
        }
        None => access,
    };
    let work = || {
        building::stacks(
            &parts,
            project.as_ref(),
            &settings,
            sheet.as_deref(),
            access,
        )
    };
    let stacks = while_working("Fitting widths and lines", work)?;
    let of_pages = match (took, &project) {
        (Some(took), Some(project)) => {
            let put_in = put_in(&stacks.built, &parts.pages, project, &parts.site, access)?;
            Some((took, put_in))
        }
        _ => None,
    };
    Ok(Stacks {
        parts: stacks,
        sheet,
        cut: cut.map(|cut| (cut.folder, cut.files)),
        of_pages,
    })
}

/// What the pages among the arguments make.
fn pages(
    parts: &mut BuildParts,
    project: Option<&Project>,
    access: Access<'_>,
) -> Result<OfPages, CliError> {
    let text = std::mem::take(&mut parts.text);
    if let Some(missing) = text.files.iter().find(|path| !access.exists(path)) {
        return Err(ProjectError::Unreadable {
            path: missing.clone(),
            reason: "there is no such page or folder".to_owned(),
        }
        .into());
    }
    let is_page = |path: &Path| is_page(path) || access.is_folder(path);
    if let Some(other) = text.files.iter().find(|path| !is_page(path)) {
        return Err(CliError::Usage(format!(
            "{}: without --web the stacks of pages are built, and this is neither a page nor a \
             folder of some; name the font that this text is set in with --web",
            other.display()
        )));
    }
    if text.files.is_empty() {
        return Err(CliError::Usage(
            "a text by itself does not say which font it is set in; name it with --web".to_owned(),
        ));
    }
    let read = || of_pages(&text.files, project, &parts.site, access);
    Ok(while_working("Reading pages", read)?)
}

/// What the arguments say, else the project.
fn settings(args: &BuildArgs, rules: &BuildRules) -> Settings {
    let of_project = Settings::of(rules);
    let aim = args.aim.map(file::Aim::from);
    let purpose = args.purpose.map(Purpose::from);
    let of_purpose = purpose.map(Purpose::slices);
    let display = aim.map(file::Aim::display);
    Settings {
        display: display
            .or(args.display.map(Display::css))
            .unwrap_or(of_project.display),
        slices: args.slices.or(of_purpose).unwrap_or(of_project.slices),
        minimise: args.minimise.map_or(of_project.minimise, Into::into),
        most_spread: args.most_spread.or(match purpose {
            Some(purpose) => purpose.most_spread(),
            None => of_project.most_spread,
        }),
        taller: args.taller.unwrap_or(of_project.taller),
        pin: of_project.pin && !args.no_pin,
        comments: of_project.comments && !args.no_comments,
    }
}

/// Refuses sizes and widths of columns that no browser sets.
pub fn check_columns(sizes: &[f32], widths: &[f64]) -> Result<(), CliError> {
    if let Some(size) = sizes.iter().find(|size| !SIZES.contains(size)) {
        return Err(CliError::Usage(format!(
            "--size {size}: sizes are in px, from {} to {}",
            SIZES.start(),
            SIZES.end()
        )));
    }
    if let Some(width) = widths.iter().find(|width| !WIDTHS.contains(width)) {
        return Err(CliError::Usage(format!(
            "--width {width}: widths of columns are in px, from {} to {}",
            WIDTHS.start(),
            WIDTHS.end()
        )));
    }
    Ok(())
}

fn check(args: &BuildArgs) -> Result<(), CliError> {
    if args.text_use.is_none() && args.languages.len() > 1 {
        return Err(CliError::Usage(
            "--language: widths are fitted on one language; name a text in all of them, or with \
             --use what the stack of installed families is for"
                .to_owned(),
        ));
    }
    if args.text_use.is_none() && (args.class.is_some() || args.like.is_some()) {
        return Err(CliError::Usage(
            "--class and --like are for stacks of installed families; say with --use what the \
             text is for"
                .to_owned(),
        ));
    }
    if args.text_use.is_some() && args.form == BuildForm::App {
        return Err(CliError::Usage(
            "--as app is for fonts that an app brings along; with --use there are none".to_owned(),
        ));
    }
    check_columns(&args.sizes, &args.widths)?;
    if let Some(weight) = args.weights.iter().find(|w| !(1.0..=1000.0).contains(*w)) {
        return Err(CliError::Usage(format!(
            "--weight {weight}: weights go from 1 to 1000"
        )));
    }
    if let Some(line) = args.line_height.filter(|line| !(0.5..=10.0).contains(line)) {
        return Err(CliError::Usage(format!(
            "--line-height {line}: it is a multiple of the size, from 0.5 to 10"
        )));
    }
    let percents = [
        ("--taller", args.taller),
        ("--most-spread", args.most_spread),
    ];
    for (name, value) in percents {
        if let Some(value) = value.filter(|value| !(0.0..=100.0).contains(value)) {
            return Err(CliError::Usage(format!(
                "{name} {value}: it is in %, from 0 to 100"
            )));
        }
    }
    if let Some(generic) = args
        .generic
        .as_deref()
        .filter(|generic| !is_generic(generic))
    {
        return Err(CliError::Usage(format!(
            "--generic {generic}: this is no generic family of CSS; use serif, sans-serif, \
             monospace, cursive, system-ui, ui-serif, ui-sans-serif or the like"
        )));
    }
    if args
        .family
        .as_ref()
        .is_some_and(|family| family.trim().is_empty())
    {
        return Err(CliError::Usage("--family: the name is empty".to_owned()));
    }
    Ok(())
}

/// Where the style sheet goes, as URLs lead from there.
fn sheet_path(args: &BuildArgs, project: Option<&Project>, rules: &BuildRules) -> Option<PathBuf> {
    if let Some(folder) = &args.apart {
        return Some(folder.join("rules.css"));
    }
    let of_project = || Some(project?.path(rules.output.as_ref()?));
    args.output
        .clone()
        .or_else(|| of_project().filter(|_| args.form == BuildForm::Css))
}

impl Stacks {
    /// The stacks.
    pub fn built(&self) -> &[Built] {
        &self.parts.built
    }

    /// The rules of their stand-ins.
    pub fn stand_in_rules(&self) -> String {
        self.parts.sheets.stand_ins()
    }

    /// Whether their style sheet lies where the project has it.
    pub fn is_written(&self) -> bool {
        self.sheet.as_ref().is_some_and(|sheet| sheet.exists())
    }

    /// The stacks of installed families.
    pub fn of_devices(&self) -> &[DeviceStack] {
        &self.parts.of_devices
    }

    /// The style sheet of all stacks.
    pub fn css(&self) -> String {
        self.parts.sheets.whole()
    }
}

/// Says whether the files that would be written are there as they would be.
fn is_as_built(args: &BuildArgs, json: bool, stacks: &Stacks) -> Result<Outcome, CliError> {
    let wanted: Vec<(PathBuf, String)> = match (&args.apart, stacks.sheet.as_deref()) {
        (Some(folder), _) => {
            let sheets = APART.iter().zip(stacks.parts.sheets.apart());
            sheets.map(|(name, css)| (folder.join(name), css)).collect()
        }
        (None, Some(path)) => vec![(path.to_owned(), result(args, json, stacks))],
        (None, None) => {
            return Err(CliError::Usage(
                "--check: there is no output to look at; name it with -o, or in the project file \
                 ([build] output)"
                    .to_owned(),
            ));
        }
    };
    let access = input::access(&args.limits);
    let mut outdated = false;
    for (folder, (name, _)) in stacks
        .cut
        .iter()
        .flat_map(|(folder, files)| files.iter().map(move |file| (folder, file)))
    {
        // The name tells what is in it.
        let path = folder.join(name);
        if !access.exists(&path) {
            outdated = true;
            output::view(&format!(
                "{} is not there yet: run `build`.\n",
                path.display()
            ))?;
        }
    }
    for (path, text) in wanted {
        let (there, path_shown) = (access.exists(&path), path.display());
        let same = there && access.read(&path, LARGEST)? == text.as_bytes();
        outdated |= !same;
        output::view(&match (there, same) {
            (_, true) => format!("{path_shown} is as `build` would write it.\n"),
            (true, false) => format!("{path_shown} is out of date: run `build`.\n"),
            (false, false) => format!("{path_shown} is not there yet: run `build`.\n"),
        })?;
    }
    Ok(Outcome::of(outdated))
}

/// What goes to the output.
fn result(args: &BuildArgs, json: bool, stacks: &Stacks) -> String {
    if json {
        return show::json::document(
            "build",
            &BuiltStacks {
                stacks: stacks.built().to_vec(),
                of_devices: stacks.parts.of_devices.clone(),
                css: stacks.css(),
                put_in: stacks.of_pages.as_ref().map(|(_, put_in)| put_in.clone()),
            },
        );
    }
    match args.form {
        BuildForm::Css => stacks.css(),
        BuildForm::Tokens => show::json::tokens(&tokens(stacks.built(), &stacks.parts.of_devices)),
        BuildForm::App => show::json::document(
            "app",
            &AppStacks {
                made_by: "tidy-lattice",
                stacks: stacks.built().iter().map(app_stack).collect(),
            },
        ),
        BuildForm::Plain => {
            let of_devices = show::device_stack::plain(&stacks.parts.of_devices);
            show::build::plain(stacks.built()) + &of_devices
        }
    }
}

/// Prints or writes the result; the report goes beside it.
fn deliver(args: &BuildArgs, json: bool, stacks: &Stacks) -> Result<(), CliError> {
    screen::tell_whole_names(args.all);
    let mut report = show::build::view(stacks.built(), args.all);
    if !(report.is_empty() || stacks.parts.of_devices.is_empty()) {
        report.push('\n');
    }
    report.push_str(&show::device_stack::view(
        &stacks.parts.of_devices,
        args.all,
    ));
    if let Some((took, put_in)) = &stacks.of_pages {
        let sheet = stacks.sheet.as_deref();
        report.push_str(&show::put_in::view(took, put_in, sheet, args.all));
    }
    if let Some(folder) = &args.apart {
        let sheets = stacks.parts.sheets.apart();
        for (name, css) in APART.iter().zip(&sheets) {
            writing::may_write(&folder.join(name), css.as_bytes(), args.force)?;
        }
        if let Some((folder, files)) = &stacks.cut {
            trim::write(folder, files, None, args.force)?;
        }
        for (name, css) in APART.iter().zip(&sheets) {
            writing::write_file(&folder.join(name), css.as_bytes(), args.force)?;
        }
        let cut = cut_files(stacks);
        return output::view(&format!(
            "{report}\nWritten to {}{cut}.\n",
            folder.display()
        ));
    }
    let result = result(args, json, stacks);
    let sheet = stacks.sheet.as_deref();
    match sheet.filter(|_| !json || args.output.is_some()) {
        Some(path) => {
            // Nothing is half written.
            writing::may_write(path, result.as_bytes(), args.force)?;
            if let Some((folder, files)) = &stacks.cut {
                trim::write(folder, files, None, args.force)?;
            }
            writing::write_file(path, result.as_bytes(), args.force)?;
            let next = show::build::use_of(stacks.built(), path, stacks.of_pages.is_some());
            let cut = cut_files(stacks);
            output::view(&format!(
                "{report}\nWritten to {}{cut}.\n{next}",
                path.display()
            ))
        }
        None if json => output::print(&result),
        // Plain stacks are a report by themselves.
        None if args.form == BuildForm::Plain => output::view(&result),
        None => {
            output::print_aside(&screen::fit(&format!("{report}\n")))?;
            output::print(&result)
        }
    }
}

/// What to say of cut fonts that were written.
fn cut_files(stacks: &Stacks) -> String {
    let Some((folder, files)) = &stacks.cut else {
        return String::new();
    };
    let bytes: u64 = files.iter().map(|(_, bytes)| bytes.len() as u64).sum();
    format!(
        ", and {} of {} KB to {}",
        show::count(files.len() as u64, "cut font file", "cut font files"),
        kilobytes(bytes),
        folder.display()
    )
}

/// The stand-in whose local face breaks most paragraphs as it is.
fn telling(built: &Built) -> Option<(&StandIn, &StandInFace)> {
    let first = built
        .stand_ins
        .iter()
        .filter_map(|s| Some((s, s.faces.first()?)));
    let broken = |face: &StandInFace| face.width.breaks_before.map_or(0, |b| b.any_break_differs);
    first.max_by_key(|(stand_in, face)| (broken(face), std::cmp::Reverse(&stand_in.family)))
}

/// For each role with stand-ins a paragraph with that which changes most, as SVG.
pub fn pictures(stacks: &Stacks) -> impl Iterator<Item = (String, String)> + '_ {
    let parts = &stacks.parts;
    let built = parts.built.iter().zip(&parts.samples);
    let roles = parts.ingredients.roles.iter().zip(built);
    roles.filter_map(|(role, (built, sample))| {
        let (stand_in, made) = telling(built)?;
        let locals = role.locals.iter().chain(&parts.locals);
        let mut all = locals.flat_map(|part| &part.faces);
        let local: &Face = all.find(|face| *face.names() == made.face.names)?;
        let svg = picture::stand_in(&picture::StandInPicture {
            built,
            stand_in,
            made,
            web: &role.web[made.web].faces[0],
            local,
            sample,
        });
        Some((built.role.clone(), svg))
    })
}

/// Draws a paragraph of the first role with its first stand-in.
fn draw(path: &Path, form: Form, args: &BuildArgs, stacks: &Stacks) -> Result<(), CliError> {
    let Some((_, svg)) = pictures(stacks).next() else {
        output::note("there is no stand-in, so no picture was drawn");
        return Ok(());
    };
    writing::write_file(path, &form.encode(&svg)?, args.force)?;
    output::note(&format!("the picture is in {}", path.display()));
    Ok(())
}
