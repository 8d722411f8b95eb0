//! Font files by path, by folder, and by the family that is installed.

use std::collections::{HashMap, HashSet};
use std::path::{Path, PathBuf};

use serde::Serialize;

use super::fonts::{NamedFile, split};
use super::installed::Installed;
use super::{Access, ProjectError};

/// Endings of font files, in lower case.
const ENDINGS: [&str; 6] = ["ttf", "otf", "ttc", "otc", "woff", "woff2"];

/// A file that could not be read.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct UnreadableFile {
    /// The file.
    pub file: String,
    /// Why.
    pub reason: String,
}

/// What every file gave, in order, and the files that could not be read. Where
/// the user named a single file, or none can be read, that is an error.
pub fn sort_out<T>(
    files: &[NamedFile],
    results: Vec<Result<Vec<T>, ProjectError>>,
) -> Result<(Vec<T>, Vec<UnreadableFile>), ProjectError> {
    let mut given = Vec::new();
    let mut unreadable: Vec<UnreadableFile> = Vec::new();
    for (file, result) in files.iter().zip(results) {
        match result {
            Ok(result) => given.extend(result),
            Err(error) if file.by_name && files.len() == 1 => return Err(error),
            Err(error) => unreadable.push(UnreadableFile {
                file: file.path.display().to_string(),
                reason: error.without_path(),
            }),
        }
    }
    match unreadable.first() {
        Some(first) if given.is_empty() => Err(ProjectError::Unreadable {
            path: Path::new(&first.file)
                .parent()
                .filter(|folder| !folder.as_os_str().is_empty())
                .unwrap_or(Path::new("."))
                .to_owned(),
            reason: format!(
                "none of {} files can be read: {}",
                files.len(),
                by_reason(&unreadable, file_name).join("; ")
            ),
        }),
        _ => Ok((given, unreadable)),
    }
}

/// How many files of a reason are named.
const MOST_NAMED: usize = 3;

/// The reasons, each once with the files that it holds for as `name` calls them, the most
/// frequent first.
pub fn by_reason<'f>(
    unreadable: &'f [UnreadableFile],
    name: impl Fn(&'f UnreadableFile) -> &'f str,
) -> Vec<String> {
    let mut places: HashMap<&str, usize> = HashMap::new();
    let mut groups: Vec<(&str, Vec<&str>)> = Vec::new();
    for file in unreadable {
        let place = *places.entry(&file.reason).or_insert_with(|| {
            groups.push((&file.reason, Vec::new()));
            groups.len() - 1
        });
        groups[place].1.push(name(file));
    }
    groups.sort_by_key(|(_, names)| std::cmp::Reverse(names.len()));
    let groups_named = groups.iter().map(|(reason, names)| {
        let first = names[..names.len().min(MOST_NAMED)].join(", ");
        match names.len().saturating_sub(MOST_NAMED) {
            0 => format!("{first}: {reason}"),
            more => format!("{first} and {more} more: {reason}"),
        }
    });
    groups_named.collect()
}

/// The name of a file without its folder.
fn file_name(file: &UnreadableFile) -> &str {
    let name = Path::new(&file.file).file_name();
    name.and_then(|name| name.to_str()).unwrap_or(&file.file)
}

/// The font files that `named` means, each once, in the order of the names;
/// within a folder in order of path.
pub fn font_files(named: &[PathBuf], access: Access<'_>) -> Result<Vec<NamedFile>, ProjectError> {
    gather(named, is_font, access)
}

/// Like [`font_files`], with the cards in folders.
pub fn font_files_and_cards(
    named: &[PathBuf],
    access: Access<'_>,
) -> Result<Vec<NamedFile>, ProjectError> {
    gather(named, |path| is_font(path) || is_card(path), access)
}

fn gather(
    named: &[PathBuf],
    wanted: impl Fn(&Path) -> bool,
    access: Access<'_>,
) -> Result<Vec<NamedFile>, ProjectError> {
    let mut files: Vec<NamedFile> = Vec::new();
    let mut known = HashSet::new();
    let mut installed = None;
    for name in named {
        let (path, pick) = split(name, access);
        let found = if access.is_folder(&path) {
            in_folder(&path, &wanted, access)?
        } else if access.exists(&path) || looks_like_a_path(&path) {
            vec![NamedFile {
                pick: (path != *name).then_some(pick),
                path,
                by_name: true,
            }]
        } else {
            let fonts = installed.get_or_insert_with(Installed::scan);
            fonts.family(&name.to_string_lossy())?
        };
        for file in found {
            if known.insert((file.path.clone(), file.pick.clone())) {
                files.push(file);
            }
        }
    }
    Ok(files)
}

/// Whether a name that is no file was meant as one.
fn looks_like_a_path(path: &Path) -> bool {
    let ending = path
        .extension()
        .map(|ending| ending.to_string_lossy().to_ascii_lowercase());
    path.components().count() > 1
        || ending.is_some_and(|ending| ENDINGS.contains(&ending.as_str()) || ending == "json")
}

fn is_font(path: &Path) -> bool {
    let ending = path
        .extension()
        .map(|ending| ending.to_string_lossy().to_ascii_lowercase());
    ending.is_some_and(|ending| ENDINGS.contains(&ending.as_str()))
}

fn is_card(path: &Path) -> bool {
    path.to_string_lossy().ends_with(".card.json")
}

fn in_folder(
    folder: &Path,
    wanted: &impl Fn(&Path) -> bool,
    access: Access<'_>,
) -> Result<Vec<NamedFile>, ProjectError> {
    let files = access.disk.files(folder, false).into_iter();
    let files: Vec<NamedFile> = files
        .filter(|path| wanted(path))
        .map(|path| NamedFile {
            path,
            pick: None,
            by_name: false,
        })
        .collect();
    if files.is_empty() {
        return Err(ProjectError::Unreadable {
            path: folder.to_owned(),
            reason: format!(
                "there is no font in this folder (looked for {})",
                ENDINGS.join(", ")
            ),
        });
    }
    Ok(files)
}
