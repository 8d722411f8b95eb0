//! `build`: ordered stacks with stand-ins, for every role.

use std::path::{Path, PathBuf};

use tidy_lattice_core::font::Face;
use tidy_lattice_core::need::Need;
use tidy_lattice_core::platform::Device;
use tidy_lattice_core::stack::app::app_stack;
use tidy_lattice_core::stack::tokens::tokens;
use tidy_lattice_core::stack::{
    BuildRequest, Built, LocalFamily, ScriptSource, Sheets, SignSource, StandIn, StandInFace,
    WebSource, build, sheets,
};
use tidy_lattice_core::standin::{FitOptions, Minimise, Slices, TextSample};
use tidy_lattice_core::style::is_generic;
use tidy_lattice_project::file::{self, BuildRules, Project, SlicesChoice};
use tidy_lattice_project::ingredients::{Ingredients, LocalPart, RoleParts, families_of};

use crate::args::{BuildArgs, BuildForm, Display};
use crate::error::{CliError, Outcome};
use crate::progress::while_working;
use crate::results::{AppStacks, BuiltStacks};
use crate::show;
use crate::show::picture::{self, Form};
use crate::{input, output};

/// The sizes that browsers can set, in px.
const SIZES: std::ops::RangeInclusive<f32> = 1.0..=1000.0;

/// Widths of columns, in px.
const WIDTHS: std::ops::RangeInclusive<f64> = 20.0..=10_000.0;

/// Stacks, what they were made from, and the parts of their style sheet.
pub struct Stacks {
    /// The stacks.
    pub built: Vec<Built>,
    sheets: Sheets,
    ingredients: Ingredients,
    locals: Vec<LocalPart>,
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
    let notes = stacks.built.iter().flat_map(|built| &built.notes);
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
    let ingredients =
        Ingredients::gather(&args.parts()?, project.as_ref(), sheet.as_deref(), access)?;
    let devices: Vec<Device<'_>> = ingredients
        .platforms
        .iter()
        .map(|platform| platform.device(access))
        .collect();
    let locals = if ingredients.locals_named {
        Vec::new()
    } else {
        families_of(&devices)
    };
    let built = build_all(args, &rules, &ingredients, &devices, &locals)?;
    drop(devices);
    let comments = comments(args, &rules);
    Ok(Stacks {
        sheets: sheets(&built, display(args, &rules).css(), comments),
        built,
        ingredients,
        locals,
        sheet,
    })
}

fn comments(args: &BuildArgs, rules: &BuildRules) -> bool {
    !args.no_comments && rules.comments.unwrap_or(true)
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

/// Builds the stack of every role.
fn build_all(
    args: &BuildArgs,
    rules: &BuildRules,
    ingredients: &Ingredients,
    devices: &[Device<'_>],
    locals: &[LocalPart],
) -> Result<Vec<Built>, CliError> {
    let display = display(args, rules);
    let comments = comments(args, rules);
    let mut built = Vec::new();
    for role in &ingredients.roles {
        // Roles with the same fonts share their rules, so they are fitted on all
        // of their texts.
        let alike: Vec<&RoleParts> = ingredients
            .roles
            .iter()
            .filter(|other| same_fonts(other, role))
            .collect();
        let texts = alike.iter().flat_map(|role| &role.texts);
        let sample = TextSample::of_texts(texts.map(|text| (text.text.as_str(), 1)));
        let shared = Need::merged(alike.iter().map(|role| &role.need));
        let named: Vec<LocalFamily<'_>> = role.locals.iter().map(local_family).collect();
        let keep_order = !named.is_empty();
        let request = BuildRequest {
            role: role.name.clone(),
            family: role.family.clone(),
            web: role
                .web
                .iter()
                .map(|web| WebSource {
                    faces: web.faces.iter().collect(),
                    url: web.url.clone(),
                    weights: web.weights,
                    widths: web.widths,
                    slices: web.slices.clone(),
                })
                .collect(),
            display: display.css().to_owned(),
            signs: role
                .signs
                .iter()
                .map(|(face, url, wanted)| SignSource {
                    face,
                    url: url.clone(),
                    wanted: wanted.clone(),
                })
                .collect(),
            scripts: role
                .scripts
                .iter()
                .map(|(face, url)| ScriptSource {
                    face,
                    url: url.clone(),
                })
                .collect(),
            locals: if keep_order {
                named
            } else {
                locals.iter().map(local_family).collect()
            },
            keep_order,
            devices,
            sample: &sample,
            sample_kind: role.sample_kind.clone(),
            need: &role.need,
            sizes: union(alike.iter().map(|role| role.sizes.as_slice())),
            widths: union(alike.iter().map(|role| role.widths.as_slice())),
            generic: role.generic.clone(),
            pin: !args.no_pin && rules.pin.unwrap_or(true),
            taller: args.taller.or(rules.taller).unwrap_or(0.0),
            fit: fit(args, rules, role),
            comments,
        };
        let work = || build(&request, Some(&shared));
        built.push(while_working("Fitting widths and lines", work)?);
    }
    Ok(built)
}

impl Stacks {
    /// The style sheet of all stacks.
    pub fn css(&self) -> String {
        self.sheets.whole()
    }
}

fn local_family(part: &LocalPart) -> LocalFamily<'_> {
    LocalFamily {
        name: part.name.clone(),
        faces: part.faces.iter().map(|face| &**face).collect(),
        platforms: part.platforms.clone(),
    }
}

fn same_fonts(a: &RoleParts, b: &RoleParts) -> bool {
    let files = |role: &RoleParts| -> Vec<PathBuf> {
        role.web.iter().map(|web| web.named.clone()).collect()
    };
    let locals = |role: &RoleParts| -> Vec<String> {
        role.locals.iter().map(|local| local.name.clone()).collect()
    };
    a.family == b.family && files(a) == files(b) && locals(a) == locals(b)
}

fn union<'v, T: PartialOrd + Copy + 'v>(lists: impl Iterator<Item = &'v [T]>) -> Vec<T> {
    let mut all: Vec<T> = lists.flatten().copied().collect();
    all.sort_by(|a, b| a.partial_cmp(b).unwrap_or(std::cmp::Ordering::Equal));
    all.dedup();
    all
}

fn display(args: &BuildArgs, rules: &BuildRules) -> Display {
    let aim = args.aim.map(Into::into);
    let aim = aim.or(rules.aim.filter(|_| args.display.is_none()));
    aim.map(Display::of)
        .or(args.display)
        .unwrap_or(Display::Swap)
}

fn fit(args: &BuildArgs, rules: &BuildRules, role: &RoleParts) -> FitOptions {
    FitOptions {
        slices: match args.slices.or(rules.slices).unwrap_or(SlicesChoice::Off) {
            SlicesChoice::Off => Slices::Exactly(1),
            SlicesChoice::Auto => Slices::Auto,
            SlicesChoice::Exactly(number) => Slices::Exactly(usize::from(number)),
        },
        minimise: match args.minimise.map(Into::into).or(rules.minimise) {
            Some(file::Minimise::Words) => Minimise::Words,
            Some(file::Minimise::Lines) | None => Minimise::Lines,
        },
        most_spread: args.most_spread.or(rules.most_spread),
        most_factor: None,
        digits_align: role.digits_align,
    }
}

/// Prints or writes the result; the report goes beside it.
fn deliver(args: &BuildArgs, json: bool, stacks: &Stacks) -> Result<(), CliError> {
    let report = show::build::view(&stacks.built);
    if let Some(folder) = &args.apart {
        let names = ["rules.css", "properties.css", "classes.css"];
        let sheets = stacks.sheets.apart();
        for (name, css) in names.iter().zip(&sheets) {
            output::may_write(&folder.join(name), css.as_bytes(), args.force)?;
        }
        for (name, css) in names.iter().zip(&sheets) {
            output::write_file(&folder.join(name), css.as_bytes(), args.force)?;
        }
        return output::print(&format!("{report}\nWritten to {}.\n", folder.display()));
    }
    let result = if json {
        show::json::document(
            "build",
            &BuiltStacks {
                stacks: stacks.built.clone(),
                css: stacks.css(),
            },
        )
    } else {
        match args.form {
            BuildForm::Css => stacks.css(),
            BuildForm::Tokens => show::json::tokens(&tokens(&stacks.built)),
            BuildForm::App => show::json::document(
                "app",
                &AppStacks {
                    made_by: "tidy-lattice",
                    stacks: stacks.built.iter().map(app_stack).collect(),
                },
            ),
            BuildForm::Plain => show::build::plain(&stacks.built),
        }
    };
    let sheet = stacks.sheet.as_deref();
    match sheet.filter(|_| !json || args.output.is_some()) {
        Some(path) => {
            output::write_file(path, result.as_bytes(), args.force)?;
            output::print(&format!("{report}\nWritten to {}.\n", path.display()))
        }
        None if json => output::print(&result),
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
    let (ingredients, built, locals) = (&stacks.ingredients, &stacks.built, &stacks.locals);
    let drawable = ingredients
        .roles
        .iter()
        .zip(built)
        .find_map(|(role, built)| {
            let (stand_in, made) = telling(built)?;
            let all = role
                .locals
                .iter()
                .chain(locals)
                .flat_map(|part| &part.faces);
            let local: &Face = all
                .into_iter()
                .find(|face| *face.names() == made.face.names)?;
            Some((role, built, stand_in, made, local))
        });
    let Some((role, built, stand_in, made, local)) = drawable else {
        output::note("there is no stand-in, so no picture was drawn");
        return Ok(());
    };
    let web = &role.web[made.web].faces[0];
    let sample = TextSample::of_texts(role.texts.iter().map(|text| (text.text.as_str(), 1)));
    let svg = picture::stand_in(&picture::StandInPicture {
        built,
        stand_in,
        made,
        web,
        local,
        sample: &sample,
    });
    output::write_file(path, &form.encode(&svg)?, args.force)?;
    output::note(&format!("the picture is in {}", path.display()));
    Ok(())
}
