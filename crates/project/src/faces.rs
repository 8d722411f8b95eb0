//! Faces by the names that people give them: a file with or without a pick behind
//! it, a card, a face of a platform.

use std::path::Path;

use tidy_lattice_core::describe::Bytes;
use tidy_lattice_core::font::{Face, FontFile};

use super::fonts::{face_of_file, font_bytes, split, web_face};
use super::web::Site;
use super::{Access, ProjectError};
use super::{declared, platforms};

/// Opens one face as it is when installed; named as a card, as a face of a
/// platform, or as a file with or without a pick behind it.
///
/// # Errors
///
/// [`ProjectError`] where there is no such face.
pub fn face(named: &Path, access: Access<'_>) -> Result<Face, ProjectError> {
    if declared::is_sheet(named) {
        return declared::main_face(named, None, &Site::beside_file(named, access), access);
    }
    let text = named.to_str().filter(|_| !access.exists(named));
    match text.and_then(platforms::split) {
        Some((platform, name)) => platforms::face(platform, name, access),
        None => face_of_file(named, access),
    }
}

/// Opens one face as browsers see it when they load it as a web font.
///
/// # Errors
///
/// [`ProjectError`] where there is no such face.
pub fn web(named: &Path, access: Access<'_>) -> Result<Face, ProjectError> {
    if declared::is_sheet(named) {
        declared::main_face(named, None, &Site::beside_file(named, access), access)
    } else {
        web_face(named, access)
    }
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
    let bytes =
        if face.is_card() || declared::is_sheet(named) || (of_platform && !access.exists(named)) {
            None
        } else {
            let (path, pick) = split(named, access);
            let file = FontFile::read(font_bytes(&path, access)?, access.limits)
                .map_err(|error| ProjectError::Font { path, error })?;
            Some(Bytes::weigh(&file, pick.index, true))
        };
    Ok(Opened { face, bytes })
}
