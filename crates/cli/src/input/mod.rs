//! Fonts and texts, read from where the user says.

pub mod content;
mod counting;
mod gather;
pub mod ingredients;
mod languages;
pub mod pages;
pub mod platforms;
pub mod stack;
pub mod variants;
pub mod web;

pub use gather::{
    Installed, NamedFile, UnreadableFile, font_files, font_files_and_cards, sort_out,
};

pub use ingredients::{Ingredients, RoleParts};
pub use languages::{languages, sample_of};

use std::fs::{self, File};
use std::io::{self, IsTerminal as _, Read};
use std::path::{Path, PathBuf};

use tidy_lattice_core::content::{Format, Part, Reading, language_of_path, read};
use tidy_lattice_core::describe::Bytes;
use tidy_lattice_core::font::{Card, Face, FacePick, FontFile, Limits};
use tidy_lattice_core::standin::TextSample;
use tidy_lattice_core::text::{Source, decode};

use crate::args::{LimitArgs, TextArgs};
use crate::error::{CliError, reason};
use crate::progress::Progress;

/// Text beyond this size is refused: 1 GiB.
const LARGEST_TEXT: u64 = 1 << 30;

impl From<&LimitArgs> for Limits {
    fn from(args: &LimitArgs) -> Self {
        Limits {
            unpacked: u64::from(args.font_limit) * 1024 * 1024,
        }
    }
}

/// Opens one face as it is when installed; named as a card, as a face of a
/// platform, or as a file with or without a pick behind it.
pub fn face(named: &Path, limits: Limits) -> Result<Face, CliError> {
    let text = named.to_str().filter(|_| !named.exists());
    if let Some((platform, name)) = text.and_then(platforms::split) {
        return platforms::face(platform, name, limits);
    }
    let (path, pick) = split(named);
    let bytes = read_bounded(&path, limits.unpacked)?;
    if Card::looks_like_one(&bytes) {
        return card(path, &bytes);
    }
    FontFile::read(bytes, limits)
        .and_then(|file| Face::open(&file, &pick))
        .map_err(|error| CliError::Font { path, error })
}

/// A face and what its file weighs.
pub struct Opened {
    /// The face.
    pub face: Face,
    /// Bytes; `None` where it is installed on a platform, or only a card is
    /// known.
    pub bytes: Option<Bytes>,
}

/// Like [`face`], with the weight of its file.
pub fn open_weighed(named: &Path, limits: Limits) -> Result<Opened, CliError> {
    let face = face(named, limits)?;
    let of_platform = named.to_str().and_then(platforms::split).is_some();
    let bytes = if face.is_card() || (of_platform && !named.exists()) {
        None
    } else {
        let (path, pick) = split(named);
        let file = FontFile::read(font_bytes(&path, limits)?, limits)
            .map_err(|error| CliError::Font { path, error })?;
        Some(Bytes::weigh(&file, pick.index, true))
    };
    Ok(Opened { face, bytes })
}

fn card(path: PathBuf, bytes: &[u8]) -> Result<Face, CliError> {
    if bytes.len() as u64 > Card::LARGEST {
        return Err(CliError::Unreadable {
            path,
            reason: format!("the card is larger than {} MiB", Card::LARGEST >> 20),
        });
    }
    Card::read(bytes)
        .and_then(Face::from_card)
        .map_err(|error| CliError::Card { path, error })
}

/// Opens one face as browsers see it when they load it as a web font.
pub fn web_face(named: &Path, limits: Limits) -> Result<Face, CliError> {
    let (path, pick) = split(named);
    let bytes = font_bytes(&path, limits)?;
    FontFile::read(bytes, limits)
        .and_then(|file| Face::open(&file.as_web_font(), &pick))
        .map_err(|error| CliError::Font { path, error })
}

/// The bytes of a font file; a card is no such thing.
pub fn font_bytes(path: &Path, limits: Limits) -> Result<Vec<u8>, CliError> {
    let bytes = read_bounded(path, limits.unpacked)?;
    if Card::looks_like_one(&bytes) {
        return Err(CliError::Unreadable {
            path: path.to_owned(),
            reason: "this is a card or other JSON, but a font file is needed here; cards serve in \
                     compare, in cover, and as --local in build"
                .to_owned(),
        });
    }
    Ok(bytes)
}

/// The path of the file that `named` means, and the pick behind it. A file
/// whose very name holds `#` or `@` wins over a pick.
pub fn split(named: &Path) -> (PathBuf, FacePick) {
    match named.to_str() {
        Some(text) if !named.exists() => {
            let (path, pick) = FacePick::split(text);
            (PathBuf::from(path), pick)
        }
        _ => (named.to_owned(), FacePick::default()),
    }
}

/// Reads the texts that `args` names.
pub fn texts(args: &TextArgs) -> Result<Vec<Source>, CliError> {
    named_texts(&args.texts, &args.files)
}

/// Texts as they are, and text files.
pub fn named_texts(texts: &[String], files: &[PathBuf]) -> Result<Vec<Source>, CliError> {
    let mut sources: Vec<Source> = texts
        .iter()
        .enumerate()
        .map(|(index, text)| Source {
            name: if texts.len() == 1 {
                "--text".to_owned()
            } else {
                format!("--text {}", index + 1)
            },
            text: text.clone(),
        })
        .collect();
    let progress = Progress::start("Reading texts", files.len());
    for file in files {
        sources.push(if file.as_os_str() == "-" {
            standard_input()?
        } else {
            text_file(file)?
        });
        progress.step();
    }
    Ok(sources)
}

/// A sample of the user's own text, else of the language `tag`, and what it is.
pub fn sample_or_built_in(
    texts: &[String],
    files: &[PathBuf],
    tag: &str,
) -> Result<(TextSample, String), CliError> {
    let sources = named_texts(texts, files)?;
    if sources.is_empty() {
        let source = sample_of(tag)?;
        let text = format!("the built-in {}", source.name);
        return Ok((TextSample::gather(&[source]), text));
    }
    if sources.iter().all(|source| source.text.trim().is_empty()) {
        return Err(CliError::Usage(
            "the text is empty, so no widths can be measured; leave it out for the built-in sample"
                .to_owned(),
        ));
    }
    let names: Vec<&str> = sources.iter().map(|source| source.name.as_str()).collect();
    Ok((TextSample::gather(&sources), names.join(", ")))
}

/// Like [`texts`], but there must be something in them.
pub fn some_text(args: &TextArgs) -> Result<Vec<Source>, CliError> {
    let mut sources = texts(args)?;
    if sources.is_empty() && !io::stdin().is_terminal() {
        sources.push(standard_input()?);
    }
    if sources.is_empty() {
        return Err(CliError::Usage(
            "there is no text: name text files, pipe text in, or give it with --text".to_owned(),
        ));
    }
    if sources.iter().all(|source| source.text.trim().is_empty()) {
        let names: Vec<&str> = sources.iter().map(|source| source.name.as_str()).collect();
        return Err(CliError::Usage(format!(
            "the text is empty ({}); nothing was checked",
            names.join(", ")
        )));
    }
    Ok(sources)
}

/// What shows of a text file, a line a piece.
pub fn text_file(path: &Path) -> Result<Source, CliError> {
    let name = path.display().to_string();
    let format = Format::of(&name);
    let bytes = read_bounded(path, LARGEST_TEXT)?;
    if format == Format::Text {
        return source(path, bytes);
    }
    let language = language_of_path(&name);
    let reading = Reading {
        language: language.as_deref(),
    };
    let mut text = String::new();
    read(&bytes, format, reading, &mut |shown| {
        if shown.part != Part::Brought {
            text.push_str(shown.text);
            // Each is a paragraph of its own.
            text.push_str("\n\n");
        }
    })
    .map_err(|error| content::content_error(path, error))?;
    Ok(Source { name, text })
}

/// The text of standard input.
pub fn standard_input() -> Result<Source, CliError> {
    let name = Path::new("standard input");
    source(name, read_at_most(io::stdin().lock(), name, LARGEST_TEXT)?)
}

/// Bytes that are to be text.
fn source(path: &Path, bytes: Vec<u8>) -> Result<Source, CliError> {
    let text = decode(bytes).map_err(|error| CliError::Text {
        path: path.to_owned(),
        error,
    })?;
    Ok(Source {
        name: path.display().to_string(),
        text,
    })
}

/// Reads a whole file of at most `limit` bytes.
pub fn read_bounded(path: &Path, limit: u64) -> Result<Vec<u8>, CliError> {
    let unreadable = |reason: String| CliError::Unreadable {
        path: path.to_owned(),
        reason,
    };
    let metadata = fs::metadata(path).map_err(|error| unreadable(reason(&error)))?;
    if metadata.is_dir() {
        return Err(unreadable(
            "this is a folder; name the files in it".to_owned(),
        ));
    }
    let file = File::open(path).map_err(|error| unreadable(reason(&error)))?;
    read_at_most(file, path, limit)
}

/// Reads all of `from`, which is called `path`, unless it has more than `limit`
/// bytes.
fn read_at_most(from: impl Read, path: &Path, limit: u64) -> Result<Vec<u8>, CliError> {
    let unreadable = |reason: String| CliError::Unreadable {
        path: path.to_owned(),
        reason,
    };
    let mut bytes = Vec::new();
    // One byte more than allowed tells that there is too much, even where the
    // size is not known beforehand, as of a pipe.
    from.take(limit + 1)
        .read_to_end(&mut bytes)
        .map_err(|error| unreadable(reason(&error)))?;
    if bytes.len() as u64 > limit {
        return Err(unreadable(format!(
            "the file is larger than the limit of {} MiB",
            limit / (1024 * 1024)
        )));
    }
    Ok(bytes)
}
