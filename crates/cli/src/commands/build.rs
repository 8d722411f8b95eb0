//! `build`: a stack with stand-ins, as CSS.

use std::path::{Path, PathBuf};

use tidy_lattice_core::need::language;
use tidy_lattice_core::stack::{BuildRequest, Built, SampleKind, build};
use tidy_lattice_core::standin::TextSample;
use tidy_lattice_core::style::{is_generic, url_path};

use crate::args::BuildArgs;
use crate::error::{CliError, Outcome};
use crate::progress::while_working;
use crate::{input, output, show};

/// The sizes that browsers can set, in px.
const SIZES: std::ops::RangeInclusive<f32> = 1.0..=1000.0;

/// Runs the command.
pub fn run(args: &BuildArgs, json: bool) -> Result<Outcome, CliError> {
    check(args)?;
    let limits = (&args.limits).into();
    let (sample, sample_kind) = sample(args)?;
    let web = input::web_face(&args.web, limits)?;
    let locals = input::faces(&args.locals, limits)?;
    let request = BuildRequest {
        web: &web,
        family: args.family.clone(),
        url: url(args),
        display: args.display.css().to_owned(),
        locals: &locals,
        sample: &sample,
        sample_kind,
        sizes: args.sizes.clone(),
        generic: args.generic.clone(),
        pin: !args.no_pin,
    };
    let built = while_working("Fitting widths and lines", || build(&request))?;
    deliver(args, json, &built)?;
    Ok(Outcome::of(built.notes.iter().any(|note| note.finding)))
}

fn check(args: &BuildArgs) -> Result<(), CliError> {
    if let Some(size) = args.sizes.iter().find(|size| !SIZES.contains(size)) {
        return Err(CliError::Usage(format!(
            "--size {size}: sizes are in px, from {} to {}",
            SIZES.start(),
            SIZES.end()
        )));
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

/// The user's own text, else the sample of the language.
fn sample(args: &BuildArgs) -> Result<(TextSample, SampleKind), CliError> {
    if args.text.files.is_empty() && args.text.texts.is_empty() {
        let source = language::sample(&args.language).ok_or_else(|| {
            let known: Vec<&str> = language::tags().collect();
            CliError::Usage(format!(
                "--language {}: there is a sample for {}; for other languages name a text",
                args.language,
                known.join(", ")
            ))
        })?;
        let kind = SampleKind::Language {
            language: args.language.clone(),
        };
        return Ok((TextSample::gather(&[source]), kind));
    }
    let sources = input::some_text(&args.text)?;
    let kind = SampleKind::OwnText {
        sources: sources.iter().map(|source| source.name.clone()).collect(),
    };
    Ok((TextSample::gather(&sources), kind))
}

/// The URL that the sheet loads the web font from: as given, else the path from
/// the sheet to the file.
fn url(args: &BuildArgs) -> String {
    if let Some(url) = &args.url {
        return url.clone();
    }
    let (path, _) = input::split(&args.web);
    let sheet_folder = args
        .output
        .as_deref()
        .and_then(Path::parent)
        .unwrap_or(Path::new(""));
    let from_sheet = relative(&path, sheet_folder).unwrap_or(path);
    url_path(&from_sheet.to_string_lossy().replace('\\', "/"))
}

fn relative(path: &Path, folder: &Path) -> Option<PathBuf> {
    let absolute = |path: &Path| std::path::absolute(path).ok();
    pathdiff::diff_paths(
        absolute(path)?,
        absolute(folder).or_else(|| std::env::current_dir().ok())?,
    )
}

fn deliver(args: &BuildArgs, json: bool, built: &Built) -> Result<(), CliError> {
    let result = if json {
        show::json::document("build", built)
    } else {
        built.css.clone()
    };
    let report = show::build::view(built);
    match &args.output {
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
