//! `build`: ordered stacks with stand-ins, for every role.

use std::path::{Path, PathBuf};

use tidy_lattice_core::font::Face;
use tidy_lattice_core::stack::app::app_stack;
use tidy_lattice_core::stack::tokens::tokens;
use tidy_lattice_core::stack::{Built, StandIn, StandInFace};
use tidy_lattice_core::style::is_generic;
use tidy_lattice_project::building::{self, Settings};
use tidy_lattice_project::file::{self, BuildRules, Project, Purpose};

use crate::args::{BuildArgs, BuildForm, Display};
use crate::error::{CliError, Outcome};
use crate::progress::while_working;
use crate::results::{AppStacks, BuiltStacks};
use crate::show;
use crate::show::picture::{self, Form};
use crate::writing;
use crate::{input, output};

/// The sizes that browsers can set, in px.
const SIZES: std::ops::RangeInclusive<f32> = 1.0..=1000.0;

/// Widths of columns, in px.
const WIDTHS: std::ops::RangeInclusive<f64> = 20.0..=10_000.0;

/// What was built, and where it goes.
pub struct Stacks {
    parts: building::Stacks,
    /// Where the style sheet goes.
    sheet: Option<PathBuf>,
}

/// Runs the command.
pub fn run(args: &BuildArgs, json: bool) -> Result<Outcome, CliError> {
    check(args)?;
    let form = args.picture.as_deref().map(Form::of).transpose()?;
    let stacks = stacks(args)?;
    if let (Some(path), Some(form)) = (&args.picture, form) {
        draw(path, form, args, &stacks)?;
    }
    deliver(args, json, &stacks)?;
    let notes = stacks.built().iter().flat_map(|built| &built.notes);
    Ok(Outcome::of(notes.into_iter().any(|note| note.finding)))
}

/// Builds the stacks that `args`, or else the project, names.
pub fn stacks(args: &BuildArgs) -> Result<Stacks, CliError> {
    let access = input::access(&args.limits);
    let project = if args.web.is_empty() {
        Project::find(args.project.as_deref(), access)?
    } else {
        None
    };
    let rules = project
        .as_ref()
        .map(|project| project.build.clone())
        .unwrap_or_default();
    let sheet = sheet_path(args, project.as_ref(), &rules);
    let settings = settings(args, &rules);
    if let Some(sheet) = &sheet
        && args.web.iter().any(|web| writing::same_file(web, sheet))
    {
        return Err(CliError::Usage(format!(
            "{} is the web font's style sheet and the output, too; name another output",
            sheet.display()
        )));
    }
    let parts = args.parts()?;
    let work = || {
        building::stacks(
            &parts,
            project.as_ref(),
            &settings,
            sheet.as_deref(),
            access,
        )
    };
    Ok(Stacks {
        parts: while_working("Fitting widths and lines", work)?,
        sheet,
    })
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

    /// The style sheet of all stacks.
    pub fn css(&self) -> String {
        self.parts.sheets.whole()
    }
}

/// Prints or writes the result; the report goes beside it.
fn deliver(args: &BuildArgs, json: bool, stacks: &Stacks) -> Result<(), CliError> {
    let report = show::build::view(stacks.built(), args.all);
    if let Some(folder) = &args.apart {
        let names = ["rules.css", "properties.css", "classes.css"];
        let sheets = stacks.parts.sheets.apart();
        for (name, css) in names.iter().zip(&sheets) {
            writing::may_write(&folder.join(name), css.as_bytes(), args.force)?;
        }
        for (name, css) in names.iter().zip(&sheets) {
            writing::write_file(&folder.join(name), css.as_bytes(), args.force)?;
        }
        return output::print(&format!("{report}\nWritten to {}.\n", folder.display()));
    }
    let result = if json {
        show::json::document(
            "build",
            &BuiltStacks {
                stacks: stacks.built().to_vec(),
                css: stacks.css(),
            },
        )
    } else {
        match args.form {
            BuildForm::Css => stacks.css(),
            BuildForm::Tokens => show::json::tokens(&tokens(stacks.built())),
            BuildForm::App => show::json::document(
                "app",
                &AppStacks {
                    made_by: "tidy-lattice",
                    stacks: stacks.built().iter().map(app_stack).collect(),
                },
            ),
            BuildForm::Plain => show::build::plain(stacks.built()),
        }
    };
    let sheet = stacks.sheet.as_deref();
    match sheet.filter(|_| !json || args.output.is_some()) {
        Some(path) => {
            writing::write_file(path, result.as_bytes(), args.force)?;
            output::print(&format!("{report}\nWritten to {}.\n", path.display()))
        }
        None if json => output::print(&result),
        // Plain stacks are a report by themselves.
        None if args.form == BuildForm::Plain => output::print(&result),
        None => {
            output::print_aside(&format!("{report}\n"))?;
            output::print(&result)
        }
    }
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

/// Draws a paragraph of the first role with its first stand-in.
fn draw(path: &Path, form: Form, args: &BuildArgs, stacks: &Stacks) -> Result<(), CliError> {
    let parts = &stacks.parts;
    let (ingredients, built, locals) = (&parts.ingredients, &parts.built, &parts.locals);
    let drawable = ingredients
        .roles
        .iter()
        .zip(built.iter().zip(&parts.samples))
        .find_map(|(role, (built, sample))| {
            let (stand_in, made) = telling(built)?;
            let all = role
                .locals
                .iter()
                .chain(locals)
                .flat_map(|part| &part.faces);
            let local: &Face = all
                .into_iter()
                .find(|face| *face.names() == made.face.names)?;
            Some((role, sample, built, stand_in, made, local))
        });
    let Some((role, sample, built, stand_in, made, local)) = drawable else {
        output::note("there is no stand-in, so no picture was drawn");
        return Ok(());
    };
    let web = &role.web[made.web].faces[0];
    let svg = picture::stand_in(&picture::StandInPicture {
        built,
        stand_in,
        made,
        web,
        local,
        sample,
    });
    writing::write_file(path, &form.encode(&svg)?, args.force)?;
    output::note(&format!("the picture is in {}", path.display()));
    Ok(())
}
