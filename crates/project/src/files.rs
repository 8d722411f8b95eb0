//! Which files hold texts: those of folders, and those that a project's patterns
//! name.

use std::path::{Path, PathBuf};

use globset::{Glob, GlobSet, GlobSetBuilder};
use tidy_lattice_core::content::Format;

use super::file::{Content, Project};
use super::{Access, ProjectError};

fn has_text_ending(path: &Path) -> bool {
    let ending = path
        .extension()
        .map(|ending| ending.to_string_lossy().to_ascii_lowercase());
    ending.is_some_and(|ending| Format::endings().any(|known| known == ending))
        && !path.to_string_lossy().ends_with(".card.json")
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
    let patterns = set(&content.files)?;
    let except = set(&content.except)?;
    let folder = if project.folder.as_os_str().is_empty() {
        Path::new(".")
    } else {
        &project.folder
    };
    let files: Vec<PathBuf> = access
        .disk
        .files(folder, true)
        .into_iter()
        .filter_map(|path| {
            let inside = path.strip_prefix(folder).ok()?;
            (patterns.is_match(inside) && !except.is_match(inside)).then(|| project.path(inside))
        })
        .collect();
    if files.is_empty() {
        return Err(ProjectError::Usage(format!(
            "{}: no file matches {}",
            project.path(super::file::NAME).display(),
            content.files.join(", ")
        )));
    }
    Ok(files)
}

fn set(patterns: &[String]) -> Result<GlobSet, ProjectError> {
    let wrong = |error: globset::Error| ProjectError::Usage(format!("{error}"));
    let mut set = GlobSetBuilder::new();
    for pattern in patterns {
        set.add(Glob::new(pattern).map_err(wrong)?);
    }
    set.build().map_err(wrong)
}
