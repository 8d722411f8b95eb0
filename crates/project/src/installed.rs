//! The fonts that are installed on this device.

use std::collections::BTreeMap;
use std::fs;
use std::path::PathBuf;

use fontconfig::Fontconfig;
use tidy_lattice_core::font::FacePick;
use tidy_lattice_core::platform::SAME_METRICS;

use super::ProjectError;
use super::fonts::NamedFile;

/// Generic families and the names that Chromium 156 asks fontconfig for in their place on
/// Linux.
const GENERICS: [(&str, &str); 7] = [
    ("serif", "Times New Roman"),
    ("sans-serif", "Arial"),
    ("monospace", "Monospace"),
    ("cursive", "Comic Sans MS"),
    ("fantasy", "Impact"),
    ("math", "Latin Modern Math"),
    ("system-ui", "sans"),
];

/// Generic families of texts in some scripts, which Chromium 156 takes on Linux where they
/// are installed, by the script (ISO 15924).
const BY_SCRIPT: [(&str, &str, &str); 11] = [
    ("Deva", "serif", "Noto Serif Devanagari"),
    ("Deva", "sans-serif", "Noto Sans Devanagari"),
    ("Hans", "serif", "Noto Serif CJK SC"),
    ("Hans", "sans-serif", "Noto Sans CJK SC"),
    ("Hant", "serif", "Noto Serif CJK TC"),
    ("Hant", "sans-serif", "Noto Sans CJK TC"),
    ("Jpan", "serif", "Noto Serif CJK JP"),
    ("Jpan", "sans-serif", "Noto Sans CJK JP"),
    ("Jpan", "monospace", "Noto Sans Mono CJK JP"),
    ("Kore", "serif", "Noto Serif CJK KR"),
    ("Kore", "sans-serif", "Noto Sans CJK KR"),
];

/// The fonts that are installed here.
pub struct Installed(fontdb::Database);

impl Installed {
    /// Asks the system where its fonts are, and reads their names.
    pub fn scan() -> Self {
        let mut fonts = fontdb::Database::new();
        fonts.load_system_fonts();
        Installed(fonts)
    }

    /// The families that generic families stand for here, as Chromium has it.
    pub fn generics(&self) -> BTreeMap<String, String> {
        let config = Fontconfig::new();
        let mut generics = BTreeMap::new();
        for (keyword, asked) in GENERICS {
            let family = match &config {
                Some(config) => self.matched(config, asked),
                None => self.known(asked),
            };
            if let Some(family) = family {
                generics.insert(keyword.to_owned(), family);
            }
        }
        // A text whose font is not there is set in the standard font.
        if let Some(standard) = generics.get("serif").cloned() {
            for keyword in ["sans-serif", "monospace"] {
                generics
                    .entry(keyword.to_owned())
                    .or_insert_with(|| standard.clone());
            }
        }
        generics
    }

    /// The families that generic families stand for in texts of some scripts, by script.
    pub fn generics_by_script(&self) -> BTreeMap<String, BTreeMap<String, String>> {
        let mut generics: BTreeMap<String, BTreeMap<String, String>> = BTreeMap::new();
        for (script, keyword, asked) in BY_SCRIPT {
            if let Some(family) = self.known(asked) {
                let own = generics.entry(script.to_owned()).or_default();
                own.insert(keyword.to_owned(), family);
            }
        }
        generics
    }

    /// The families that are shown in place of others of the same metrics, which are
    /// not here.
    pub fn aliases(&self) -> BTreeMap<String, String> {
        let Some(config) = Fontconfig::new() else {
            return BTreeMap::new();
        };
        let names = SAME_METRICS.iter().flat_map(|alike| alike.iter());
        names
            .filter(|name| self.known(name).is_none())
            .filter_map(|name| Some(((*name).to_owned(), self.matched(&config, name)?)))
            .collect()
    }

    /// The family that Chromium shows where `asked` is asked for: what fontconfig
    /// finds, where that is the family, one of the same metrics, or the answer to a
    /// name that means no family.
    fn matched(&self, config: &Fontconfig, asked: &str) -> Option<String> {
        let found = config.find(asked, None).ok()?;
        let index = u32::try_from(found.index.unwrap_or(0) & 0xffff).ok()?;
        let path = fs::canonicalize(&found.path).ok()?;
        let face = self.0.faces().find(|face| {
            face.index == index
                && matches!(&face.source, fontdb::Source::File(known)
                    if fs::canonicalize(known).is_ok_and(|known| known == path))
        })?;
        let family = face.families.first()?.0.clone();
        let same = |name: &str| family.eq_ignore_ascii_case(name);
        let alike = SAME_METRICS.iter().any(|alike| {
            alike.iter().any(|name| name.eq_ignore_ascii_case(asked))
                && alike.iter().any(|n| same(n))
        });
        let anything =
            ["sans", "serif", "monospace"].contains(&asked.to_ascii_lowercase().as_str());
        (anything || alike || same(asked)).then_some(family)
    }

    /// The installed family called `name`, as it calls itself.
    fn known(&self, name: &str) -> Option<String> {
        let mut families = self.0.faces().flat_map(|face| &face.families);
        let found = families.find(|(family, _)| family.eq_ignore_ascii_case(name));
        found.map(|(family, _)| family.clone())
    }

    /// The families that a face is found by: those of every language.
    pub fn families_of(&self, file: &NamedFile) -> Vec<String> {
        let index = file.pick.as_ref().map_or(0, |pick| pick.index);
        let face = self.0.faces().find(|face| {
            face.index == index
                && matches!(&face.source, fontdb::Source::File(known)
                    if fs::canonicalize(known).is_ok_and(|known| known == file.path))
        });
        let families = face.map(|face| face.families.iter().map(|(name, _)| name.clone()));
        families.into_iter().flatten().collect()
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
