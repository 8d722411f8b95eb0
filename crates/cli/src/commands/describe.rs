//! `describe`: what a font file holds.

use std::path::Path;

use rayon::prelude::*;
use serde::Serialize;
use tidy_lattice_core::describe::{Depth, Description, Question, describe};
use tidy_lattice_core::font::{FacePick, FontFile, Limits};
use tidy_lattice_core::need::{exemplars, language};

use crate::args::{DescribeArgs, Detail};
use crate::error::{CliError, Outcome};
use crate::input::{self, NamedFile, UnreadableFile};
use crate::progress::Progress;
use crate::{output, show};

/// The result of `describe`.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct Described {
    /// The faces, in the order of the files.
    pub faces: Vec<DescribedFace>,
    /// Files that could not be read.
    pub unreadable: Vec<UnreadableFile>,
}

/// One face and its file.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct DescribedFace {
    /// The file.
    pub file: String,
    /// What the face holds.
    #[serde(flatten)]
    pub description: Description,
}

/// Runs the command.
pub fn run(args: &DescribeArgs, json: bool) -> Result<Outcome, CliError> {
    let limits: Limits = (&args.limits).into();
    let files = input::font_files(&args.fonts)?;
    let question = question(args, &files, limits)?;
    let described = describe_all(&files, limits, &question)?;
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
    let languages = args
        .languages
        .iter()
        .map(|tag| {
            exemplars::find(tag.trim()).ok_or_else(|| {
                CliError::Usage(format!(
                    "--language {tag}: no exemplar characters are known for this language; tags \
                     look like uk, vi or sr-Latn"
                ))
            })
        })
        .collect::<Result<Vec<_>, _>>()?;
    if language::sample(&args.text_language).is_none() {
        let known: Vec<&str> = language::tags().collect();
        return Err(CliError::Usage(format!(
            "--text-language {}: there is a sample for {}",
            args.text_language,
            known.join(", ")
        )));
    }
    let depth = match args.detail {
        Some(Detail::Summary) => Depth::Summary,
        Some(Detail::Full) => Depth::Full,
        None if args.all || is_one_face(files, limits) => Depth::Full,
        None => Depth::Summary,
    };
    Ok(Question {
        depth,
        languages: Some(languages).filter(|languages| !languages.is_empty()),
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
