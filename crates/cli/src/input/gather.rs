//! Font files by path, by folder, and by the family that is installed.

use std::collections::BTreeMap;
use std::fs;
use std::path::{Path, PathBuf};

use serde::Serialize;
use tidy_lattice_core::font::FacePick;
use walkdir::WalkDir;

use super::split;
use crate::error::CliError;

/// Endings of font files, in lower case.
const ENDINGS: [&str; 6] = ["ttf", "otf", "ttc", "otc", "woff", "woff2"];

/// How deep folders are searched.
const DEEPEST: usize = 16;

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
    results: Vec<Result<Vec<T>, CliError>>,
) -> Result<(Vec<T>, Vec<UnreadableFile>), CliError> {
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
        Some(first) if given.is_empty() => Err(CliError::Unreadable {
            path: PathBuf::from(&first.file),
            reason: format!(
                "{} (none of {} files can be read)",
                first.reason,
                files.len()
            ),
        }),
        _ => Ok((given, unreadable)),
    }
}

/// The font files that `named` means, each once, in the order of the names;
/// within a folder in order of path.
pub fn font_files(named: &[PathBuf]) -> Result<Vec<NamedFile>, CliError> {
    gather(named, is_font)
}

/// Like [`font_files`], with the cards in folders.
pub fn font_files_and_cards(named: &[PathBuf]) -> Result<Vec<NamedFile>, CliError> {
    gather(named, |path| is_font(path) || is_card(path))
}

fn gather(named: &[PathBuf], wanted: impl Fn(&Path) -> bool) -> Result<Vec<NamedFile>, CliError> {
    let mut files: Vec<NamedFile> = Vec::new();
    let mut installed = None;
    for name in named {
        let (path, pick) = split(name);
        let found = if path.is_dir() {
            in_folder(&path, &wanted)?
        } else if path.exists() || looks_like_a_path(&path) {
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
            if !files
                .iter()
                .any(|known| known.path == file.path && known.pick == file.pick)
            {
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

fn in_folder(folder: &Path, wanted: &impl Fn(&Path) -> bool) -> Result<Vec<NamedFile>, CliError> {
    let walk = WalkDir::new(folder)
        .max_depth(DEEPEST)
        .follow_links(true)
        .sort_by_file_name();
    let files: Vec<NamedFile> = walk
        .into_iter()
        .filter_map(Result::ok)
        .filter(|entry| entry.file_type().is_file() && wanted(entry.path()))
        .map(|entry| NamedFile {
            path: entry.into_path(),
            pick: None,
            by_name: false,
        })
        .collect();
    if files.is_empty() {
        return Err(CliError::Unreadable {
            path: folder.to_owned(),
            reason: format!(
                "there is no font in this folder (looked for {})",
                ENDINGS.join(", ")
            ),
        });
    }
    Ok(files)
}

/// The fonts that are installed here.
pub struct Installed(fontdb::Database);

impl Installed {
    /// Asks the system where its fonts are, and reads their names.
    pub fn scan() -> Self {
        let mut fonts = fontdb::Database::new();
        fonts.load_system_fonts();
        Installed(fonts)
    }

    /// The families that generic families stand for here, as far as the system's
    /// configuration says.
    pub fn generics(&self) -> BTreeMap<String, String> {
        [
            ("serif", fontdb::Family::Serif),
            ("sans-serif", fontdb::Family::SansSerif),
            ("monospace", fontdb::Family::Monospace),
            ("cursive", fontdb::Family::Cursive),
            ("fantasy", fontdb::Family::Fantasy),
        ]
        .into_iter()
        .map(|(keyword, family)| (keyword.to_owned(), self.0.family_name(&family).to_owned()))
        .collect()
    }

    /// The files of every face, in order of path and number.
    pub fn all(&self) -> Vec<NamedFile> {
        self.matching(|_| true)
    }

    /// The files of the family called `name`, whatever its case.
    pub fn family(&self, name: &str) -> Result<Vec<NamedFile>, CliError> {
        let files = self.matching(|face| {
            face.families
                .iter()
                .any(|(family, _)| family.eq_ignore_ascii_case(name))
        });
        if files.is_empty() {
            return Err(CliError::Usage(format!(
                "{name:?} is no file, no folder and no installed family{}",
                self.near(name)
            )));
        }
        Ok(files)
    }

    fn matching(&self, wanted: impl Fn(&fontdb::FaceInfo) -> bool) -> Vec<NamedFile> {
        let mut files: Vec<(PathBuf, u32)> = self
            .0
            .faces()
            .filter(|face| wanted(face))
            .filter_map(|face| match &face.source {
                fontdb::Source::File(path) => Some((fs::canonicalize(path).ok()?, face.index)),
                _ => None,
            })
            .collect();
        files.sort();
        files.dedup();
        files
            .into_iter()
            .map(|(path, index)| NamedFile {
                path,
                pick: Some(FacePick {
                    index,
                    position: None,
                }),
                by_name: false,
            })
            .collect()
    }

    /// Installed families whose names hold a word of `name`, as a hint.
    fn near(&self, name: &str) -> String {
        let words: Vec<String> = name.split_whitespace().map(str::to_lowercase).collect();
        let mut families: Vec<&str> = self
            .0
            .faces()
            .flat_map(|face| face.families.iter().map(|(family, _)| family.as_str()))
            .filter(|family| {
                let family = family.to_lowercase();
                words
                    .iter()
                    .any(|word| word.len() > 2 && family.contains(word))
            })
            .collect();
        families.sort_unstable();
        families.dedup();
        match families.as_slice() {
            [] => "; check the spelling".to_owned(),
            families => format!(
                "; installed are {}",
                families[..families.len().min(6)].join(", ")
            ),
        }
    }
}
