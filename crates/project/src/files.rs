//! Which files hold texts: those of folders, and those that a project's patterns
//! name.

use std::path::{Path, PathBuf};

use tidy_lattice_core::content::Format;

use super::file::{Content, Project};
use super::patterns::{below, set};
use super::{Access, ProjectError};

/// Whether a file is a page, by its ending.
pub fn is_page(path: &Path) -> bool {
    Format::of(&path.to_string_lossy()).is_page()
}

fn has_text_ending(path: &Path) -> bool {
    let ending = path
        .extension()
        .map(|ending| ending.to_string_lossy().to_ascii_lowercase());
    ending.is_some_and(|ending| Format::endings().any(|known| known == ending))
        && !path.to_string_lossy().ends_with(".card.json")
        && !path.to_string_lossy().ends_with(".cards.json")
}

/// The files in `folder` whose endings are those of texts.
///
/// # Errors
///
/// [`ProjectError::Unreadable`] where there is none.
pub fn in_folder(folder: &Path, access: Access<'_>) -> Result<Vec<PathBuf>, ProjectError> {
    let mut files = access.disk.files(folder, true);
    files.retain(|path| has_text_ending(path));
    if files.is_empty() {
        return Err(ProjectError::Unreadable {
            path: folder.to_owned(),
            reason: format!(
                "there is no text in this folder (looked for {})",
                Format::endings().collect::<Vec<_>>().join(", ")
            ),
        });
    }
    Ok(files)
}

/// The files that a project's content names.
///
/// # Errors
///
/// [`ProjectError::Usage`] where no file matches, or a pattern is none.
pub fn matching(
    project: &Project,
    content: &Content,
    access: Access<'_>,
) -> Result<Vec<PathBuf>, ProjectError> {
    let (wanted, except) = (set(&content.files)?, set(&content.except)?);
    let found = below(&project.folder, &wanted, &except, access).into_iter();
    let files: Vec<PathBuf> = found.map(|path| project.path(path)).collect();
    if files.is_empty() {
        return Err(ProjectError::Usage(format!(
            "{}: no file matches {}",
            project.path(super::file::NAME).display(),
            content.files.join(", ")
        )));
    }
    Ok(files)
}
