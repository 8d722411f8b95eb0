//! `describe`: what a font file holds.

use std::path::Path;

use rayon::prelude::*;
use tidy_lattice_core::describe::{Depth, Question, describe};
use tidy_lattice_core::font::{Face, FacePick, FontFile, Limits};

use crate::args::{DescribeArgs, Detail};
use crate::error::{CliError, Outcome};
use crate::input::{self, NamedFile};
use crate::output;
use crate::progress::Progress;
use crate::results::{Described, DescribedFace};
use crate::show;
use crate::show::picture::{self, Form};

/// Runs the command.
pub fn run(args: &DescribeArgs, json: bool) -> Result<Outcome, CliError> {
    let limits: Limits = (&args.limits).into();
    let files = input::font_files(&args.fonts)?;
    let question = question(args, &files, limits)?;
    let form = picture_form(args, &files)?;
    let described = describe_all(&files, limits, &question)?;
    if let (Some(path), Some(form)) = (&args.drawing.picture, form) {
        draw(args, path, form, &described, &files[0], limits)?;
    }
    if json {
        output::print_document(&show::json::document("describe", &described))?;
    } else {
        output::print(&show::describe::view(&described, args.all))?;
    }
    Ok(Outcome::of(has_findings(
        &described,
        !args.languages.is_empty(),
    )))
}

/// What is asked: of a single face everything, of many what tables state.
fn question(
    args: &DescribeArgs,
    files: &[NamedFile],
    limits: Limits,
) -> Result<Question, CliError> {
    let languages = input::languages(&args.languages)?;
    input::sample_of(&args.text_language)?;
    let depth = match args.detail {
        Some(Detail::Summary) => Depth::Summary,
        Some(Detail::Full) => Depth::Full,
        None if args.all || is_one_face(files, limits) => Depth::Full,
        None => Depth::Summary,
    };
    Ok(Question {
        depth,
        languages,
        text_language: args.text_language.clone(),
    })
}

fn is_one_face(files: &[NamedFile], limits: Limits) -> bool {
    match files {
        [file] if file.pick.is_some() => true,
        [file] => read(&file.path, limits).map_or(true, |file| file.face_count() == 1),
        _ => false,
    }
}

fn read(path: &Path, limits: Limits) -> Result<FontFile, CliError> {
    let bytes = input::font_bytes(path, limits)?;
    FontFile::read_damaged(bytes, limits).map_err(|error| CliError::Font {
        path: path.to_owned(),
        error,
    })
}

/// The form of the picture that is asked for; a sheet shows one face.
fn picture_form(args: &DescribeArgs, files: &[NamedFile]) -> Result<Option<Form>, CliError> {
    if args.drawing.picture.is_some() && files.len() != 1 {
        return Err(CliError::Usage(format!(
            "--picture draws the sheet of one face, but {} files are named",
            files.len()
        )));
    }
    args.drawing.picture.as_deref().map(Form::of).transpose()
}

/// Draws the specimen sheet of the only face.
fn draw(
    args: &DescribeArgs,
    path: &Path,
    form: Form,
    described: &Described,
    named: &NamedFile,
    limits: Limits,
) -> Result<(), CliError> {
    let [one] = described.faces.as_slice() else {
        return Err(CliError::Usage(format!(
            "--picture draws the sheet of one face, but the file holds {}; pick one, such as {}#0",
            described.faces.len(),
            named.path.display()
        )));
    };
    let file = read(&named.path, limits)?;
    let face = Face::open(&file, &named.pick.clone().unwrap_or_default());
    let face = face.map_err(|error| CliError::Font {
        path: named.path.clone(),
        error,
    })?;
    let svg = picture::specimen(&one.description, &face, &args.text_language);
    output::write_file(path, &form.encode(&svg)?, args.drawing.force)?;
    output::note(&format!("the picture is in {}", path.display()));
    Ok(())
}

/// Describes every file.
fn describe_all(
    files: &[NamedFile],
    limits: Limits,
    question: &Question,
) -> Result<Described, CliError> {
    let progress = Progress::start("Reading fonts", files.len());
    let results: Vec<Result<Vec<DescribedFace>, CliError>> = files
        .par_iter()
        .map(|file| {
            let faces = describe_file(file, limits, question);
            progress.step();
            faces
        })
        .collect();
    let (faces, unreadable) = input::sort_out(files, results)?;
    Ok(Described { faces, unreadable })
}

/// The picked face of a file, or all its faces.
fn describe_file(
    named: &NamedFile,
    limits: Limits,
    question: &Question,
) -> Result<Vec<DescribedFace>, CliError> {
    let file = read(&named.path, limits)?;
    let picks = match &named.pick {
        Some(pick) => vec![pick.clone()],
        None => FacePick::every(&file),
    };
    picks
        .iter()
        .map(|pick| {
            let description = describe(&file, pick, question).map_err(|error| CliError::Font {
                path: named.path.clone(),
                error,
            })?;
            Ok(DescribedFace {
                file: named.path.display().to_string(),
                description,
            })
        })
        .collect()
}

fn has_findings(described: &Described, languages_asked: bool) -> bool {
    !described.unreadable.is_empty()
        || described.faces.iter().any(|face| {
            let lacks = || {
                face.description
                    .languages
                    .iter()
                    .flatten()
                    .any(|l| !l.writes)
            };
            face.description
                .findings
                .iter()
                .any(|finding| finding.fault)
                || (languages_asked && lacks())
        })
}
