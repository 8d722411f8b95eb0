//! Font files: a path with or without a pick of a face behind it; cards.

use std::path::{Path, PathBuf};

use tidy_lattice_core::font::{Card, Face, FacePick, FontFile};

use super::{Access, ProjectError};

/// A font file and which of its faces are meant.
#[derive(Debug, Clone, PartialEq)]
pub struct NamedFile {
    /// The path.
    pub path: PathBuf,
    /// One face; all where there is none.
    pub pick: Option<FacePick>,
    /// Whether the user named this very file, not its folder or family.
    pub by_name: bool,
}

/// Opens one face of a file as it is when installed; a card is a face too.
///
/// # Errors
///
/// [`ProjectError`] where there is no such file, or it holds no such face.
pub fn face_of_file(named: &Path, access: Access<'_>) -> Result<Face, ProjectError> {
    let (path, pick) = split(named, access);
    let bytes = access.read(&path, access.limits.unpacked)?;
    if Card::looks_like_one(&bytes) {
        return card(path, &bytes);
    }
    FontFile::read(bytes, access.limits)
        .and_then(|file| Face::open(&file, &pick))
        .map_err(|error| ProjectError::Font { path, error })
}

/// A font file with all of its faces; a card is no such thing.
///
/// # Errors
///
/// [`ProjectError`] where there is no such file, or it is no font.
pub fn font_file(path: &Path, access: Access<'_>) -> Result<FontFile, ProjectError> {
    let bytes = font_bytes(path, access)?;
    FontFile::read(bytes, access.limits).map_err(|error| ProjectError::Font {
        path: path.to_owned(),
        error,
    })
}

fn card(path: PathBuf, bytes: &[u8]) -> Result<Face, ProjectError> {
    if bytes.len() as u64 > Card::LARGEST {
        return Err(ProjectError::Unreadable {
            path,
            reason: format!("the card is larger than {} MiB", Card::LARGEST >> 20),
        });
    }
    Card::read(bytes)
        .and_then(Face::from_card)
        .map_err(|error| ProjectError::Card { path, error })
}

/// Opens one face as browsers see it when they load it as a web font.
pub fn web_face(named: &Path, access: Access<'_>) -> Result<Face, ProjectError> {
    let (path, pick) = split(named, access);
    let bytes = font_bytes(&path, access)?;
    FontFile::read(bytes, access.limits)
        .and_then(|file| Face::open(&file.as_web_font(), &pick))
        .map_err(|error| ProjectError::Font { path, error })
}

/// The bytes of a font file; a card is no such thing.
pub fn font_bytes(path: &Path, access: Access<'_>) -> Result<Vec<u8>, ProjectError> {
    let bytes = access.read(path, access.limits.unpacked)?;
    if Card::looks_like_one(&bytes) {
        return Err(ProjectError::Unreadable {
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
pub fn split(named: &Path, access: Access<'_>) -> (PathBuf, FacePick) {
    match named.to_str() {
        Some(text) if !access.exists(named) => {
            let (path, pick) = FacePick::split(text);
            (PathBuf::from(path), pick)
        }
        _ => (named.to_owned(), FacePick::default()),
    }
}
