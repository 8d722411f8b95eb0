//! `describe`: what a font file holds.

use std::path::{Path, PathBuf};

use rayon::prelude::*;
use tidy_lattice_core::describe::{Depth, FamilyDescription, Question, describe};
use tidy_lattice_core::font::{Face, FacePick, FontFile};
use tidy_lattice_core::text::exemplars::{self, Language};
use tidy_lattice_project::declared::is_sheet;
use tidy_lattice_project::families;
use tidy_lattice_project::folders::{UnreadableFile, font_files, sort_out};
use tidy_lattice_project::fonts::NamedFile;
use tidy_lattice_project::fonts::font_bytes;
use tidy_lattice_project::languages::languages;
use tidy_lattice_project::sampling::words_of;
use tidy_lattice_project::{Access, ProjectError};

use crate::args::{DescribeArgs, Detail};
use crate::error::{CliError, Outcome};
use crate::progress::Progress;
use crate::results::{Described, DescribedFace};
use crate::show;
use crate::show::describe::OFTEN_ASKED;
use crate::show::picture::{self, Form};
use crate::writing;
use crate::{input, output, screen};

/// Runs the command.
pub fn run(args: &DescribeArgs, json: bool) -> Result<Outcome, CliError> {
    let access = input::access(&args.limits);
    let asked = languages(&args.languages)?;
    let often = || {
        OFTEN_ASKED
            .iter()
            .filter_map(|tag| exemplars::find(tag))
            .collect()
    };
    let judged: Vec<&'static Language> = asked.clone().unwrap_or_else(often);
    let (sheets, fonts): (Vec<PathBuf>, Vec<PathBuf>) = args
        .fonts
        .iter()
        .cloned()
        .partition(|named| is_sheet(named));
    let mut families = Vec::new();
    let mut named = Vec::new();
    let mut unread = Vec::new();
    for sheet in &sheets {
        let found = families::of_sheet(sheet, &judged, access)?;
        families.extend(found.families);
        named.extend(found.files);
        unread.extend(
            found
                .unread
                .into_iter()
                .map(|(family, reason)| UnreadableFile {
                    file: sheet.display().to_string(),
                    reason: format!("{family}: {reason}"),
                }),
        );
    }
    let of_sheets = named.len();
    named.extend(fonts);
    let files = font_files(&named, access)?;
    let question = question(args, &files, asked, access)?;
    let form = picture_form(args, &files)?;
    let mut described = describe_all(&files, access, &question)?;
    described.unreadable.extend(unread);
    let of_files = described.faces.iter().filter(|face| {
        let declared = named[..of_sheets]
            .iter()
            .any(|path| path.display().to_string() == face.file);
        !declared
    });
    let of_files: Vec<_> = of_files
        .map(|face| (face.file.as_str(), &face.description))
        .collect();
    // A single file has a page of its own that says it all.
    if of_files.len() > 1 {
        families.extend(families::of_files(&of_files, &judged, access));
    }
    described.families = families;
    if let (Some(path), Some(form)) = (&args.drawing.picture, form) {
        draw(args, path, form, &described, &files[0], access)?;
    }
    screen::tell_whole_names(args.all);
    if json {
        output::print_document(&show::json::document("describe", &described))?;
    } else {
        output::view(&show::describe::view(&described, args.all))?;
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
    languages: Option<Vec<&'static Language>>,
    access: Access<'_>,
) -> Result<Question, CliError> {
    words_of(&args.text_language, "--text-language", 1)?;
    let depth = match args.detail {
        Some(Detail::Summary) => Depth::Summary,
        Some(Detail::Full) => Depth::Full,
        None if args.all || is_one_face(files, access) => Depth::Full,
        None => Depth::Summary,
    };
    Ok(Question {
        depth,
        languages,
        text_language: args.text_language.clone(),
    })
}

fn is_one_face(files: &[NamedFile], access: Access<'_>) -> bool {
    match files {
        [file] if file.pick.is_some() => true,
        [file] => read(&file.path, access).map_or(true, |file| file.face_count() == 1),
        _ => false,
    }
}

fn read(path: &Path, access: Access<'_>) -> Result<FontFile, ProjectError> {
    let bytes = font_bytes(path, access)?;
    FontFile::read_damaged(bytes, access.limits).map_err(|error| ProjectError::Font {
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
    access: Access<'_>,
) -> Result<(), CliError> {
    let [one] = described.faces.as_slice() else {
        return Err(CliError::Usage(format!(
            "--picture draws the sheet of one face, but the file holds {}; pick one, such as {}#0",
            described.faces.len(),
            named.path.display()
        )));
    };
    let file = read(&named.path, access)?;
    let face = Face::open(&file, &named.pick.clone().unwrap_or_default());
    let face = face.map_err(|error| ProjectError::Font {
        path: named.path.clone(),
        error,
    })?;
    let svg = picture::specimen(&one.description, &face, &args.text_language);
    writing::write_file(path, &form.encode(&svg)?, args.drawing.force)?;
    output::note(&format!("the picture is in {}", path.display()));
    Ok(())
}

/// Describes every file.
fn describe_all(
    files: &[NamedFile],
    access: Access<'_>,
    question: &Question,
) -> Result<Described, CliError> {
    let progress = Progress::start("Reading fonts", files.len());
    let results: Vec<Result<Vec<DescribedFace>, ProjectError>> = files
        .par_iter()
        .map(|file| {
            let faces = describe_file(file, access, question);
            progress.step();
            faces
        })
        .collect();
    let (faces, unreadable) = sort_out(files, results)?;
    Ok(Described {
        families: Vec::new(),
        faces,
        unreadable,
    })
}

/// The picked face of a file, or all its faces.
fn describe_file(
    named: &NamedFile,
    access: Access<'_>,
    question: &Question,
) -> Result<Vec<DescribedFace>, ProjectError> {
    let file = read(&named.path, access)?;
    let picks = match &named.pick {
        Some(pick) => vec![pick.clone()],
        None => FacePick::every(&file),
    };
    picks
        .iter()
        .map(|pick| {
            let description =
                describe(&file, pick, question).map_err(|error| ProjectError::Font {
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
    let lacking = |family: &FamilyDescription| {
        let languages = family.languages.iter().flatten();
        languages.into_iter().any(|language| !language.writes)
    };
    // Where a family is in slices none of them has to write it all.
    if languages_asked && described.families.iter().any(lacking) {
        return true;
    }
    let languages_asked = languages_asked && described.families.is_empty();
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
