//! Platforms: built in, from a folder of the user's own, or from a file; and
//! their faces by name.

use std::path::{Path, PathBuf};

use rayon::prelude::*;
use tidy_lattice_core::font::{Card, Engines, Face, FacePick, name_text};
use tidy_lattice_core::platform::{
    self, Definition, DefinitionError, Found, InstalledFace, Looked, OwnFamilies, Platform,
    as_face, find,
};

use super::folders::font_files_and_cards;
use super::fonts::{face_of_file, font_file};
use super::installed::Installed;
use super::{Access, ProjectError};

/// The longest name of a family that is read, in characters.
const LONGEST_NAME: usize = 256;

/// Definitions beyond this size are refused, in bytes.
const LARGEST: u64 = 4 * 1024 * 1024;

/// The platforms of the catalogue in `folder`, or the built-in ones.
pub fn catalogue(folder: Option<&Path>, access: Access<'_>) -> Result<Vec<Platform>, ProjectError> {
    let Some(folder) = folder else {
        return Ok(platform::platforms().to_vec());
    };
    let unreadable = |reason: String| ProjectError::Unreadable {
        path: folder.to_owned(),
        reason,
    };
    let mut files = access.disk.folder(folder)?;
    files.retain(|path| is_definition(path));
    if files.is_empty() {
        return Err(unreadable(
            "there is no platform (.toml) in this folder; `tidy-lattice platforms --export FOLDER` \
             writes the built-in ones"
                .to_owned(),
        ));
    }
    files.iter().map(|file| from_file(file, access)).collect()
}

fn is_definition(path: &Path) -> bool {
    path.extension().is_some_and(|ending| ending == "toml")
}

/// The platform called `name`, or defined in the file `name`.
pub fn platform(
    name: &str,
    known: &[Platform],
    access: Access<'_>,
) -> Result<Platform, ProjectError> {
    let built_in = known.iter().find(|p| p.name.eq_ignore_ascii_case(name));
    if let Some(platform) = built_in {
        return Ok(platform.clone());
    }
    let path = Path::new(name);
    if is_definition(path) || access.exists(path) {
        return from_file(path, access);
    }
    let names: Vec<&str> = known
        .iter()
        .map(|platform| platform.name.as_str())
        .collect();
    Err(ProjectError::Usage(format!(
        "there is no platform {name:?}; there are {}; one of your own is a .toml file",
        names.join(", ")
    )))
}

/// This device: every installed face, generic families and aliases as Chromium
/// resolves them.
///
/// # Errors
///
/// [`ProjectError::Platform`], which says what cannot be.
pub fn here(access: Access<'_>) -> Result<Platform, ProjectError> {
    let fonts = Installed::scan();
    let files: Vec<(&Path, Vec<u32>)> = fonts.files().into_iter().collect();
    let of_files: Vec<Vec<InstalledFace>> = files
        .par_iter()
        .map(|(path, indices)| {
            // Fonts that cannot be read serve nobody.
            let Ok(file) = font_file(path, access) else {
                return Vec::new();
            };
            // Each file is read once, for all of its faces, and only this is kept: all files
            // together are larger than what is asked of them.
            let faces = indices.iter().filter_map(|index| {
                let pick = FacePick {
                    index: *index,
                    position: None,
                };
                let face = Face::open(&file, &pick).ok()?;
                let named = format!("{}#{index}", path.display());
                let mut installed = InstalledFace::of(&face, named);
                // The old name of the family, which holds weight and width, is one too.
                let old = face
                    .font()
                    .and_then(|font| name_text(font, 1, LONGEST_NAME));
                for name in fonts.families_of(path, *index).iter().cloned().chain(old) {
                    if !installed.families.contains(&name) {
                        installed.families.push(name);
                    }
                }
                Some(installed)
            });
            faces.collect()
        })
        .collect();
    let faces: Vec<InstalledFace> = of_files.into_iter().flatten().collect();
    let known = |family: &String| faces.iter().any(|face| face.families.contains(family));
    let definition = Definition {
        extends: None,
        title: "This device".to_owned(),
        about: "What is installed here.".to_owned(),
        versions: Vec::new(),
        engines: Engines::USUAL,
        generic: fonts
            .generics()
            .into_iter()
            .filter(|(_, family)| known(family))
            .collect(),
        generic_for: fonts.generics_by_script(),
        own: OwnFamilies::default(),
        alias: fonts
            .aliases()
            .into_iter()
            .filter(|(_, family)| known(family))
            .collect(),
        fonts: Vec::new(),
        families: Vec::new(),
    };
    let assembled = definition.assemble("here", |_| None, &faces);
    let mut here = assembled.map_err(|error| ProjectError::Platform {
        path: PathBuf::from("here"),
        error,
    })?;
    let in_firefox = fonts.generics_in_firefox();
    if !in_firefox.generic.is_empty() {
        here.generic_in.insert("Firefox".to_owned(), in_firefox);
    }
    Ok(here)
}

/// Reads the definition at `path`; fonts and cards lie beside it.
fn from_file(path: &Path, access: Access<'_>) -> Result<Platform, ProjectError> {
    let wrong = |error: DefinitionError| ProjectError::Platform {
        path: path.to_owned(),
        error,
    };
    let bytes = access.read(path, LARGEST)?;
    let text = String::from_utf8(bytes).map_err(|_| ProjectError::Unreadable {
        path: path.to_owned(),
        reason: "the file is not UTF-8 text".to_owned(),
    })?;
    let definition = Definition::read(&text).map_err(wrong)?;
    let folder = path.parent().unwrap_or(Path::new(""));
    let fonts: Vec<PathBuf> = definition
        .fonts
        .iter()
        .map(|font| folder.join(font))
        .collect();
    let installed = faces_of(&fonts, access)?;
    let name = path
        .file_stem()
        .map(|stem| stem.to_string_lossy().into_owned())
        .unwrap_or_default();
    let card =
        |name: &str| card_beside(folder, name, access).or_else(|| platform::builtin_card(name));
    let Some(base) = definition.extends.clone() else {
        return definition.assemble(&name, card, &installed).map_err(wrong);
    };
    let known = platform::platforms();
    let Some(base) = known.iter().find(|known| known.name == base) else {
        let names: Vec<&str> = known.iter().map(|known| known.name.as_str()).collect();
        return Err(ProjectError::Unreadable {
            path: path.to_owned(),
            reason: format!(
                "extends = {base:?} names no built-in platform; there are {}",
                names.join(", ")
            ),
        });
    };
    let extended = base.extended(definition, &name, card, &installed);
    extended.map_err(wrong)
}

/// The faces of font files, cards, and folders of them.
///
/// # Errors
///
/// [`ProjectError`], where one cannot be read.
pub fn faces_of(fonts: &[PathBuf], access: Access<'_>) -> Result<Vec<InstalledFace>, ProjectError> {
    let mut installed = Vec::new();
    for file in font_files_and_cards(fonts, access)? {
        let named = match &file.pick {
            Some(pick) => format!("{}#{}", file.path.display(), pick.index),
            None => file.path.display().to_string(),
        };
        installed.push(InstalledFace::of(
            &face_of_file(Path::new(&named), access)?,
            named.clone(),
        ));
    }
    Ok(installed)
}

/// The card of this name in the folder `cards` beside a definition.
fn card_beside(folder: &Path, name: &str, access: Access<'_>) -> Option<Card> {
    if name.contains(['/', '\\']) {
        return None;
    }
    let path = folder.join("cards").join(format!("{name}.card.json"));
    let bytes = access.read(&path, Card::LARGEST).ok()?;
    Card::read(&bytes).ok()
}

/// Splits `windows:Georgia` and `kiosk.toml:Quaydesk UI` into a platform and the
/// name of a face; `None` where `text` is no such thing.
pub fn split(text: &str) -> Option<(&str, &str)> {
    let (platform, face) = text.rsplit_once(':')?;
    let known = platform::platforms().iter();
    let named = known
        .into_iter()
        .any(|p| p.name.eq_ignore_ascii_case(platform));
    (named || is_definition(Path::new(platform))).then_some((platform, face))
}

/// The face called `name` of the platform `platform`.
pub fn face(platform: &str, name: &str, access: Access<'_>) -> Result<Face, ProjectError> {
    let known = self::platform(platform, platform::platforms(), access)?;
    let folder = Path::new(platform).parent().unwrap_or(Path::new(""));
    let found = match find(&known, name) {
        Looked::Found(found) => found,
        Looked::FacesUnknown(family) => {
            let note = family.note.clone().unwrap_or_default();
            return Err(ProjectError::Usage(format!(
                "{}: the faces of {} are not known there. {note}",
                known.title, family.name
            )));
        }
        Looked::Unknown(near) => {
            let near = match near.as_slice() {
                [] => format!("`tidy-lattice platforms {platform}` lists its families"),
                near => format!("it has {}", near.join(", ")),
            };
            return Err(ProjectError::Usage(format!(
                "{} has no family and no face {name:?}; {near}",
                known.title
            )));
        }
    };
    measured(&known, found, folder, access)
}

/// The measured faces of the family that `name`, a family or a face of it, means on the
/// platform `platform`.
///
/// # Errors
///
/// [`ProjectError`] where there is no such platform.
pub fn faces_of_family(
    platform: &str,
    name: &str,
    access: Access<'_>,
) -> Result<Vec<Face>, ProjectError> {
    let known = self::platform(platform, platform::platforms(), access)?;
    let folder = Path::new(platform).parent().unwrap_or(Path::new(""));
    let Looked::Found(found) = find(&known, name) else {
        return Ok(Vec::new());
    };
    let family = found.family;
    let faces = family.faces.iter().map(|face| Found { family, face });
    Ok(faces
        .filter_map(|found| measured(&known, found, folder, access).ok())
        .collect())
}

/// The face that `found` means, from its card or file beside the definition in
/// `folder`.
pub fn measured(
    platform: &Platform,
    found: Found<'_>,
    folder: &Path,
    access: Access<'_>,
) -> Result<Face, ProjectError> {
    let Some(card) = &found.face.card else {
        return Err(ProjectError::Usage(format!(
            "{} is known by name only on {}, so nothing can be measured; run `tidy-lattice record \
             '{}'` on such a device and name the card instead",
            found.face.full, platform.title, found.family.name
        )));
    };
    let known = card_beside(folder, card, access).or_else(|| platform::builtin_card(card));
    match known {
        Some(known) => as_face(found, known).map_err(|error| ProjectError::Card {
            path: PathBuf::from(card),
            error,
        }),
        // Families of the platform's own fonts name their files.
        None => face_of_file(Path::new(card), access),
    }
}
