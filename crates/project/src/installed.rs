//! The fonts that are installed on this device.

use std::collections::{BTreeMap, HashMap};
use std::ffi::CString;
use std::fs;
use std::path::{Path, PathBuf};

use fontconfig::{FC_FAMILY, FC_LANG, Fontconfig, Pattern};
use tidy_lattice_core::font::FacePick;
use tidy_lattice_core::platform::{GenericFamilies, SAME_METRICS};

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

/// The language for which Firefox asks in texts of each script, whatever their own is
/// (`MozLangGroups`).
const LANGUAGE_OF: [(&str, &str); 24] = [
    ("Arab", "ar"),
    ("Armn", "hy"),
    ("Beng", "bn"),
    ("Cyrl", "ru"),
    ("Deva", "hi"),
    ("Ethi", "am"),
    ("Geor", "ka"),
    ("Grek", "el"),
    ("Gujr", "gu"),
    ("Guru", "pa"),
    ("Hans", "zh-cn"),
    ("Hant", "zh-tw"),
    ("Hebr", "he"),
    ("Jpan", "ja"),
    ("Khmr", "km"),
    ("Knda", "kn"),
    ("Kore", "ko"),
    ("Mlym", "ml"),
    ("Orya", "or"),
    ("Sinh", "si"),
    ("Taml", "ta"),
    ("Telu", "te"),
    ("Thai", "th"),
    ("Tibt", "bo"),
];

/// The fonts that are installed here.
pub struct Installed {
    /// As the system lists them.
    faces: Vec<InstalledFile>,
    /// Their places in the list, by path and number in the file.
    places: HashMap<(PathBuf, u32), usize>,
}

/// A face in a file.
struct InstalledFile {
    /// With every link followed.
    path: PathBuf,
    index: u32,
    /// Its names in all languages.
    families: Vec<String>,
}

impl Installed {
    /// Asks the system where its fonts are, and reads their names.
    pub fn scan() -> Self {
        let mut fonts = fontdb::Database::new();
        fonts.load_system_fonts();
        // Each file is looked up once, whatever it holds.
        let mut real: HashMap<PathBuf, Option<PathBuf>> = HashMap::new();
        let mut faces = Vec::new();
        let mut places = HashMap::new();
        for face in fonts.faces() {
            let fontdb::Source::File(path) = &face.source else {
                continue;
            };
            let found = real.entry(path.clone());
            let Some(path) = found.or_insert_with(|| fs::canonicalize(path).ok()) else {
                continue;
            };
            places
                .entry((path.clone(), face.index))
                .or_insert(faces.len());
            faces.push(InstalledFile {
                path: path.clone(),
                index: face.index,
                families: face.families.iter().map(|(name, _)| name.clone()).collect(),
            });
        }
        Installed { faces, places }
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
                let of_script = generics.entry(script.to_owned()).or_default();
                of_script.insert(keyword.to_owned(), family);
            }
        }
        generics
    }

    /// What generic families stand for in Firefox, which asks fontconfig for each in a language
    /// of the text (`gfxFcPlatformFontList`).
    pub fn generics_in_firefox(&self) -> GenericFamilies {
        let Some(config) = Fontconfig::new() else {
            return GenericFamilies::default();
        };
        let of = |language: &str| -> BTreeMap<String, String> {
            let found = GENERICS.iter().filter_map(|(keyword, _)| {
                // Where the desktop names no font of its own.
                let asked = match *keyword {
                    "system-ui" => "sans",
                    other => other,
                };
                let family = self.first_for(&config, asked, language)?;
                Some(((*keyword).to_owned(), family))
            });
            found.collect()
        };
        let generic = of("en");
        let generic_for = LANGUAGE_OF.iter().filter_map(|(script, language)| {
            let of_language = of(language);
            (of_language != generic).then(|| ((*script).to_owned(), of_language))
        });
        GenericFamilies {
            generic_for: generic_for.collect(),
            generic,
        }
    }

    /// What fontconfig finds for a family in a language.
    fn first_for(&self, config: &Fontconfig, family: &str, language: &str) -> Option<String> {
        let mut pattern = Pattern::new(config).ok()?;
        let [family, language] = [family, language].map(|text| CString::new(text).ok());
        pattern.add_string(FC_FAMILY, &family?).ok()?;
        pattern.add_string(FC_LANG, &language?).ok()?;
        // What the user's rules and the defaults add comes in here.
        let found = pattern.font_match().ok()?;
        let path = fs::canonicalize(found.filename().ok()?).ok()?;
        let index = u32::try_from(found.face_index().ok()? & 0xffff).ok()?;
        self.families_of(&path, index).first().cloned()
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
        let family = self.families_of(&path, index).first()?.clone();
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
        let mut families = self.faces.iter().flat_map(|face| &face.families);
        families
            .find(|family| family.eq_ignore_ascii_case(name))
            .cloned()
    }

    /// The families that a face is found by: those of every language.
    pub fn families_of(&self, path: &Path, index: u32) -> &[String] {
        let place = self.places.get(&(path.to_owned(), index));
        place.map_or(&[], |place| &self.faces[*place].families)
    }

    /// The numbers of the faces in each file, in order of path and number.
    pub fn files(&self) -> BTreeMap<&Path, Vec<u32>> {
        let mut files: BTreeMap<&Path, Vec<u32>> = BTreeMap::new();
        let mut faces: Vec<_> = self.places.keys().collect();
        faces.sort();
        for (path, index) in faces {
            files.entry(path).or_default().push(*index);
        }
        files
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
                .any(|family| family.eq_ignore_ascii_case(name))
        });
        if files.is_empty() {
            return Err(ProjectError::Usage(format!(
                "{name:?} is no file, no folder and no installed family{}",
                self.near(name)
            )));
        }
        Ok(files)
    }

    fn matching(&self, wanted: impl Fn(&InstalledFile) -> bool) -> Vec<NamedFile> {
        let faces = self.faces.iter().filter(|face| wanted(face));
        let mut files: Vec<(&PathBuf, u32)> = faces.map(|face| (&face.path, face.index)).collect();
        files.sort();
        files.dedup();
        files
            .into_iter()
            .map(|(path, index)| NamedFile {
                path: path.clone(),
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
            .faces
            .iter()
            .flat_map(|face| face.families.iter().map(String::as_str))
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

#[cfg(test)]
mod tests {
    use tidy_lattice_core::platform::script_for_generics;

    use super::LANGUAGE_OF;

    #[test]
    fn the_language_of_a_script_is_written_in_it() {
        for (script, language) in LANGUAGE_OF {
            assert_eq!(script_for_generics(language), Some(script), "{language}");
        }
    }
}
