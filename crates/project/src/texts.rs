//! Texts that are named one by one.

use std::path::Path;

use tidy_lattice_core::content::{ContentError, Format, Part, Reading, language_of_path, read};
use tidy_lattice_core::standin::TextSample;
use tidy_lattice_core::text::{Source, decode};

use super::files::in_folder;
use super::request::TextRequest;
use super::sampling::sampled;
use super::{Access, ProjectError};

/// Text beyond this size is refused: 1 GiB.
const LARGEST_TEXT: u64 = 1 << 30;

/// Texts as they are, text files, and all of those in folders.
pub fn named_texts(request: &TextRequest, access: Access<'_>) -> Result<Vec<Source>, ProjectError> {
    let TextRequest {
        texts,
        files,
        piped,
    } = request;
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
    let mut all = Vec::with_capacity(files.len());
    for file in files {
        if access.is_folder(file) {
            all.extend(in_folder(file, access)?);
        } else {
            all.push(file.clone());
        }
    }
    let progress = access.watch.start("Reading texts", all.len());
    for file in &all {
        sources.push(if file.as_os_str() == "-" {
            piped.clone().unwrap_or_else(|| Source {
                name: "standard input".to_owned(),
                text: String::new(),
            })
        } else {
            text_file(file, access)?
        });
        progress.step();
    }
    Ok(sources)
}

/// The user's own text, else words of the language `tag`, and what it is. A short text is
/// joined with words of its language where fits are made on it (`to_fit`).
///
/// # Errors
///
/// [`ProjectError`] where a text cannot be read or is empty, and for languages without a
/// list of words.
pub fn text_to_measure(
    request: &TextRequest,
    tag: &str,
    to_fit: bool,
    access: Access<'_>,
) -> Result<(TextSample, String), ProjectError> {
    let sources = named_texts(request, access)?;
    let given = !sources.is_empty();
    if given && sources.iter().all(|source| source.text.trim().is_empty()) {
        return Err(ProjectError::Usage(
            "the text is empty, so no widths can be measured; leave it out for the most frequent \
             words of a language"
                .to_owned(),
        ));
    }
    if given && !to_fit {
        let names: Vec<&str> = sources.iter().map(|source| source.name.as_str()).collect();
        return Ok((TextSample::gather(&sources), names.join(", ")));
    }
    let texts: Vec<&Source> = sources.iter().collect();
    let (sample, kind) = sampled(&texts, None, tag)?;
    Ok((sample, kind.label()))
}

/// Like [`named_texts`], or what was piped in; there must be something in them.
///
/// # Errors
///
/// [`ProjectError`] where there is no text, or a file cannot be read.
pub fn some_text(request: &TextRequest, access: Access<'_>) -> Result<Vec<Source>, ProjectError> {
    let mut sources = named_texts(request, access)?;
    if sources.is_empty() {
        sources.extend(request.piped.clone());
    }
    if sources.is_empty() {
        return Err(ProjectError::Usage(
            "there is no text: name text files, pipe text in, or give it with --text".to_owned(),
        ));
    }
    if sources.iter().all(|source| source.text.trim().is_empty()) {
        let names: Vec<&str> = sources.iter().map(|source| source.name.as_str()).collect();
        return Err(ProjectError::Usage(format!(
            "the text is empty ({}); nothing was checked",
            names.join(", ")
        )));
    }
    Ok(sources)
}

/// What shows of a text file, a line a piece.
pub fn text_file(path: &Path, access: Access<'_>) -> Result<Source, ProjectError> {
    let name = path.display().to_string();
    let format = Format::of(&name);
    let bytes = access.read(path, LARGEST_TEXT)?;
    if format.is_text() {
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
    .map_err(|error| content_error(path, error))?;
    Ok(Source { name, text })
}

/// Bytes that are to be text.
pub fn source(path: &Path, bytes: Vec<u8>) -> Result<Source, ProjectError> {
    let text = decode(bytes).map_err(|error| ProjectError::Text {
        path: path.to_owned(),
        error,
    })?;
    Ok(Source {
        name: path.display().to_string(),
        text,
    })
}

/// The bytes of a page or sheet as text.
///
/// # Errors
///
/// [`ProjectError::Text`] where they are none.
pub fn decoded<'b>(path: &Path, bytes: &'b [u8]) -> Result<&'b str, ProjectError> {
    std::str::from_utf8(bytes).map_err(|_| {
        let error = decode(bytes.to_vec()).err();
        match error {
            Some(error) => ProjectError::Text {
                path: path.to_owned(),
                error,
            },
            None => ProjectError::Unreadable {
                path: path.to_owned(),
                reason: "the file is not UTF-8".to_owned(),
            },
        }
    })
}

/// What is wrong with a file of texts.
pub fn content_error(path: &Path, error: ContentError) -> ProjectError {
    match error {
        ContentError::Text(error) => ProjectError::Text {
            path: path.to_owned(),
            error,
        },
        other => ProjectError::Unreadable {
            path: path.to_owned(),
            reason: other.to_string(),
        },
    }
}
