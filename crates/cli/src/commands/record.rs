//! `record`: cards of faces.

use std::collections::HashSet;
use std::path::{Path, PathBuf};

use rayon::prelude::*;
use sha2::{Digest as _, Sha256};
use tidy_lattice_core::font::{Card, CardSource, CharacterSet, Face, FacePick, FontFile};
use tidy_lattice_core::record::device::{Measured, definition};
use tidy_lattice_core::record::{packed, record};
use tidy_lattice_project::folders::{UnreadableFile, font_files, sort_out};
use tidy_lattice_project::fonts::NamedFile;
use tidy_lattice_project::fonts::font_bytes;
use tidy_lattice_project::installed::Installed;
use tidy_lattice_project::{Access, ProjectError};

use super::measuring;
use crate::args::RecordArgs;
use crate::error::{CliError, Outcome};
use crate::progress::Progress;
use crate::results::{Recorded, RecordedCard};
use crate::writing;
use crate::{input, output, show};

/// A card before it is written.
struct Made {
    font: PathBuf,
    card: Card,
    characters: u64,
}

/// What a measuring page gave, with the file or address that it came from.
type NamedResult = (String, Measured);

/// Runs the command.
pub fn run(args: &RecordArgs, json: bool) -> Result<Outcome, CliError> {
    if let Some(page) = &args.page {
        return measuring::write_page(args, page, json);
    }
    let access = input::access(&args.limits);
    let (results, fonts) = results(args, access)?;
    if args.platform.is_some() && (results.len() != 1 || !fonts.is_empty()) {
        return Err(CliError::Usage(
            "--platform writes what one measuring page found: name one file that it saved"
                .to_owned(),
        ));
    }
    let mut missing = Vec::new();
    let files = if args.installed {
        Installed::scan().all()
    } else if fonts.is_empty() {
        Vec::new()
    } else {
        let (files, absent) = named_files(&fonts, access)?;
        missing = absent;
        files
    };
    let (mut made, mut unreadable) = make_all(args, &files, access)?;
    unreadable.extend(missing);
    for (file, measured) in &results {
        let cards = measuring::cards(file, measured)?;
        made.extend(cards.into_iter().map(|card| Made::measured(file, card)));
    }
    if made.is_empty() && !results.is_empty() {
        return Err(CliError::Usage(
            "no face was measured: none of the families that were looked for is there".to_owned(),
        ));
    }
    let beside = args.platform.as_ref().map(|platform| {
        let folder = platform.parent().unwrap_or(Path::new(""));
        folder.join("cards/")
    });
    let Some(path) = args.output.as_ref().or(beside.as_ref()) else {
        return print(&made);
    };
    if let Some(platform) = &args.platform {
        // Told before any card is written.
        writing::may_write(platform, &[], args.force)?;
    }
    let cards = write(args, path, &made)?;
    if let (Some(platform), [(_, measured)]) = (&args.platform, results.as_slice()) {
        write_platform(args, platform, measured, &made, &cards)?;
    }
    let recorded = Recorded {
        cards,
        unreadable,
        measured: results
            .iter()
            .map(|(file, measured)| measuring::device(file, measured))
            .collect(),
        platform: args
            .platform
            .as_ref()
            .map(|path| path.display().to_string()),
        ..Recorded::default()
    };
    super::tell(json, "record", &recorded, || show::record::view(&recorded))?;
    Ok(Outcome::of(!recorded.unreadable.is_empty()))
}

/// What measuring pages gave: files among the arguments, or what is sent now; and the
/// other arguments.
fn results(
    args: &RecordArgs,
    access: Access<'_>,
) -> Result<(Vec<NamedResult>, Vec<PathBuf>), CliError> {
    if args.serve.is_some() {
        if args.output.is_none() && args.platform.is_none() {
            return Err(CliError::Usage(
                "--serve gives many cards: name a folder for them with -o, or a platform file with \
                 --platform"
                    .to_owned(),
            ));
        }
        return Ok((vec![measuring::serve(args)?], Vec::new()));
    }
    let (mut results, mut fonts) = (Vec::new(), Vec::new());
    for name in &args.fonts {
        match measuring::read(name, access)? {
            Some(measured) => results.push((name.display().to_string(), measured)),
            None => fonts.push(name.clone()),
        }
    }
    Ok((results, fonts))
}

/// Writes what was measured as a platform; the cards lie beside it.
fn write_platform(
    args: &RecordArgs,
    path: &Path,
    measured: &Measured,
    made: &[Made],
    cards: &[RecordedCard],
) -> Result<(), CliError> {
    let named = made.iter().zip(cards).map(|(made, card)| {
        let name = file_name(Path::new(&card.file));
        let name = name.strip_suffix(".card.json").unwrap_or(&name).to_owned();
        (name, made.card.clone())
    });
    let named: Vec<(String, Card)> = named.collect();
    let toml = definition(measured, &named).toml();
    writing::write_file(path, toml.as_bytes(), args.force)
}

impl Made {
    fn measured(file: &str, card: Card) -> Self {
        let characters = CharacterSet::parse(&card.characters);
        Made {
            font: PathBuf::from(file),
            characters: characters.map_or(0, |characters| characters.len()),
            card,
        }
    }
}

/// The files of each name, and names that lead nowhere; an error where none leads
/// anywhere.
fn named_files(
    names: &[PathBuf],
    access: Access<'_>,
) -> Result<(Vec<NamedFile>, Vec<UnreadableFile>), ProjectError> {
    let mut files: Vec<NamedFile> = Vec::new();
    let mut missing = Vec::new();
    for name in names {
        match font_files(std::slice::from_ref(name), access) {
            Ok(found) => {
                for file in found {
                    let same =
                        |known: &NamedFile| known.path == file.path && known.pick == file.pick;
                    if !files.iter().any(same) {
                        files.push(file);
                    }
                }
            }
            Err(error) if names.len() == 1 => return Err(error),
            Err(error) => missing.push(UnreadableFile {
                file: name.display().to_string(),
                reason: error.without_path(),
            }),
        }
    }
    if files.is_empty() {
        return font_files(names, access).map(|files| (files, missing));
    }
    Ok((files, missing))
}

/// A single card goes to standard output.
fn print(made: &[Made]) -> Result<Outcome, CliError> {
    let [one] = made else {
        return Err(CliError::Usage(format!(
            "there are {} faces; name a folder for their cards with -o, or pick one face",
            made.len()
        )));
    };
    output::print_document(&one.card.json())?;
    Ok(Outcome::Clean)
}

fn make_all(
    args: &RecordArgs,
    files: &[NamedFile],
    access: Access<'_>,
) -> Result<(Vec<Made>, Vec<UnreadableFile>), CliError> {
    let progress = Progress::start("Measuring faces", files.len());
    let results: Vec<Result<Vec<Made>, ProjectError>> = files
        .par_iter()
        .map(|file| {
            let made = make(args, file, access);
            progress.step();
            made
        })
        .collect();
    Ok(sort_out(files, results)?)
}

/// The cards of the picked face of a file, or of all its faces.
fn make(
    args: &RecordArgs,
    named: &NamedFile,
    access: Access<'_>,
) -> Result<Vec<Made>, ProjectError> {
    let font_error = |error| ProjectError::Font {
        path: named.path.clone(),
        error,
    };
    let bytes = font_bytes(&named.path, access)?;
    let sha256 = hex(&Sha256::digest(&bytes));
    let file = FontFile::read(bytes, access.limits).map_err(font_error)?;
    let mut made = Vec::new();
    for pick in picks(args, named, &file)? {
        let face = Face::open(&file, &pick).map_err(font_error)?;
        let source = CardSource {
            file: file_name(&named.path),
            index: pick.index,
            position: pick.position,
            sha256: sha256.clone(),
            package: args.package.clone(),
            package_version: args.package_version.clone(),
        };
        made.extend(record(&face, source).map(|card| Made {
            font: named.path.clone(),
            characters: face.characters().len(),
            card,
        }));
    }
    Ok(made)
}

/// The faces that are meant, each at its default position, with `--positions`
/// at the named ones too.
fn picks(
    args: &RecordArgs,
    named: &NamedFile,
    file: &FontFile,
) -> Result<Vec<FacePick>, ProjectError> {
    let mut picks = match &named.pick {
        Some(pick) => vec![pick.clone()],
        None => FacePick::every(file),
    };
    if args.positions {
        for index in 0..file.face_count() {
            let default = FacePick {
                index,
                position: None,
            };
            if picks.contains(&default) {
                let face = Face::open(file, &default).map_err(|error| ProjectError::Font {
                    path: named.path.clone(),
                    error,
                })?;
                picks.extend(face.positions().into_iter().map(|position| FacePick {
                    index,
                    position: Some(position),
                }));
            }
        }
    }
    Ok(picks)
}

/// Writes the cards: into the folder `path`, or a single one to this file.
fn write(args: &RecordArgs, path: &Path, made: &[Made]) -> Result<Vec<RecordedCard>, CliError> {
    let folder_meant = path.is_dir() || path.to_string_lossy().ends_with(['/', '\\']);
    let into_folder = folder_meant || made.len() > 1;
    if into_folder {
        writing::make_folder(path)?;
    }
    let mut taken = HashSet::new();
    made.iter()
        .map(|made| {
            let target = if into_folder {
                path.join(card_name(&made.card, &mut taken))
            } else {
                path.to_owned()
            };
            let json = made.card.json();
            writing::write_file(&target, json.as_bytes(), args.force)?;
            Ok(RecordedCard {
                font: made.font.display().to_string(),
                face: made.card.names.label(),
                file: target.display().to_string(),
                characters: made.characters,
                unknown_widths: made.card.unknown_widths.clone(),
                bytes: json.len() as u64,
                packed_bytes: packed(json.as_bytes()) as u64,
            })
        })
        .collect()
}

/// A file name that says which face it is; no two are the same.
fn card_name(card: &Card, taken: &mut HashSet<String>) -> String {
    let names = &card.names;
    let name = names.postscript.as_ref().or(names.full.as_ref());
    let name: String = name
        .unwrap_or(&names.label())
        .chars()
        .map(|c| {
            if c.is_alphanumeric() || c == '-' {
                c
            } else {
                '-'
            }
        })
        .collect();
    let mut number = 1;
    loop {
        let file = match number {
            1 => format!("{name}.card.json"),
            _ => format!("{name}-{number}.card.json"),
        };
        if taken.insert(file.to_lowercase()) {
            return file;
        }
        number += 1;
    }
}

fn file_name(path: &Path) -> String {
    path.file_name()
        .map(|name| name.to_string_lossy().into_owned())
        .unwrap_or_default()
}

fn hex(bytes: &[u8]) -> String {
    bytes.iter().map(|byte| format!("{byte:02x}")).collect()
}
