//! The fonts that are installed on this device.

use std::collections::BTreeMap;
use std::fs;
use std::path::PathBuf;

use tidy_lattice_core::font::FacePick;

use super::ProjectError;
use super::fonts::NamedFile;

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
    pub fn family(&self, name: &str) -> Result<Vec<NamedFile>, ProjectError> {
        let files = self.matching(|face| {
            face.families
                .iter()
                .any(|(family, _)| family.eq_ignore_ascii_case(name))
        });
        if files.is_empty() {
            return Err(ProjectError::Usage(format!(
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
