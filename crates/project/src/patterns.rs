//! Patterns of paths, as a project file has them (`fonts/*.woff2`).

use std::path::{Path, PathBuf};

use globset::{Glob, GlobSet, GlobSetBuilder};

use super::{Access, ProjectError};

/// A set of patterns.
///
/// # Errors
///
/// [`ProjectError::Usage`] where one is none.
pub fn set(patterns: &[String]) -> Result<GlobSet, ProjectError> {
    let wrong = |error: globset::Error| ProjectError::Usage(format!("{error}"));
    let mut set = GlobSetBuilder::new();
    for pattern in patterns {
        set.add(Glob::new(pattern).map_err(wrong)?);
    }
    set.build().map_err(wrong)
}

/// The files below `folder` that match one of `patterns` and none of `except`, as paths
/// from `folder`, in order.
pub fn below(
    folder: &Path,
    patterns: &GlobSet,
    except: &GlobSet,
    access: Access<'_>,
) -> Vec<PathBuf> {
    let here = if folder.as_os_str().is_empty() {
        Path::new(".")
    } else {
        folder
    };
    let files = access.disk.files(here, true).into_iter();
    files
        .filter_map(|path| {
            let inside = path.strip_prefix(here).ok()?;
            (patterns.is_match(inside) && !except.is_match(inside)).then(|| inside.to_owned())
        })
        .collect()
}

/// The paths of `named` from `folder`, with those that are patterns replaced by the files
/// that match them, in order of path.
///
/// # Errors
///
/// [`ProjectError::Usage`] where a pattern is none, or no file matches it.
pub fn expanded(
    named: &[PathBuf],
    folder: &Path,
    access: Access<'_>,
) -> Result<Vec<PathBuf>, ProjectError> {
    let mut paths = Vec::new();
    for path in named {
        let text = path.to_string_lossy();
        if !text.contains(['*', '?', '[', '{']) || access.exists(&folder.join(path)) {
            paths.push(path.clone());
            continue;
        }
        let pattern = set(&[text.clone().into_owned()])?;
        let found = below(folder, &pattern, &GlobSet::empty(), access);
        if found.is_empty() {
            return Err(ProjectError::Usage(format!(
                "no file matches {text}, from the folder of the project file"
            )));
        }
        paths.extend(found);
    }
    Ok(paths)
}
