//! Faces by the names that people give them: a file with or without a pick behind
//! it, a card, a face of a platform.

use std::path::{Path, PathBuf};

use tidy_lattice_core::describe::Bytes;
use tidy_lattice_core::font::{Card, Face, FacePick, FontFile};

use super::platforms;
use super::{Access, ProjectError};

/// Opens one face as it is when installed; named as a card, as a face of a
/// platform, or as a file with or without a pick behind it.
pub fn face(named: &Path, access: Access<'_>) -> Result<Face, ProjectError> {
    let text = named.to_str().filter(|_| !access.exists(named));
    if let Some((platform, name)) = text.and_then(platforms::split) {
        return platforms::face(platform, name, access);
    }
    let (path, pick) = split(named, access);
    let bytes = access.read(&path, access.limits.unpacked)?;
    if Card::looks_like_one(&bytes) {
        return card(path, &bytes);
    }
    FontFile::read(bytes, access.limits)
        .and_then(|file| Face::open(&file, &pick))
        .map_err(|error| ProjectError::Font { path, error })
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
pub fn open_weighed(named: &Path, access: Access<'_>) -> Result<Opened, ProjectError> {
    let face = face(named, access)?;
    let of_platform = named.to_str().and_then(platforms::split).is_some();
    let bytes = if face.is_card() || (of_platform && !access.exists(named)) {
        None
    } else {
        let (path, pick) = split(named, access);
        let file = FontFile::read(font_bytes(&path, access)?, access.limits)
            .map_err(|error| ProjectError::Font { path, error })?;
        Some(Bytes::weigh(&file, pick.index, true))
    };
    Ok(Opened { face, bytes })
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
