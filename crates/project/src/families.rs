//! The families that fonts are of: as a style sheet declares them, or as the files'
//! names, weights and slopes say.

use std::collections::BTreeSet;
use std::path::{Path, PathBuf};

use tidy_lattice_core::describe::{Description, FaceOfFamily, FamilyDescription};
use tidy_lattice_core::font::{CharacterSet, Face, Slice, Slope};
use tidy_lattice_core::text::exemplars::Language;

use super::declared::{DeclaredFace, families_of_sheet};
use super::fonts::face_of_file;
use super::web::Site;
use super::web_family::{plain, without_weight};
use super::{Access, ProjectError};

/// Of more families languages are not judged: each takes a while.
const MOST_JUDGED: usize = 24;

/// What a style sheet declares.
pub struct OfSheet {
    /// Its families.
    pub families: Vec<FamilyDescription>,
    /// Their files.
    pub files: Vec<PathBuf>,
    /// Families of which a file cannot be had, with the reason.
    pub unread: Vec<(String, String)>,
}

/// The families of the sheet `sheet`, judged for `languages`, and their files.
///
/// # Errors
///
/// As [`families_of_sheet`].
pub fn of_sheet(
    sheet: &Path,
    languages: &[&'static Language],
    access: Access<'_>,
) -> Result<OfSheet, ProjectError> {
    let mut files: Vec<PathBuf> = Vec::new();
    let site = Site::beside_file(sheet, access);
    let declared = families_of_sheet(sheet, &site, access)?;
    let described = declared.families.into_iter().map(|(family, declared)| {
        let faces: Vec<FaceOfFamily> = declared.iter().map(|one| face_of(one, access)).collect();
        let plainest = FamilyDescription::plainest(&faces).unwrap_or_default();
        let of_declared = declared.iter().flat_map(|face| &face.files);
        let paths = of_declared.filter_map(|file| Some(file.sources.first()?.0.clone()));
        for path in paths {
            if !files.contains(&path) {
                files.push(path);
            }
        }
        let face = &declared[plainest].face;
        let characters = characters_of(face);
        FamilyDescription::of(family, faces, &characters, Some((face, languages)))
    });
    let families = described.collect();
    Ok(OfSheet {
        families,
        files,
        unread: declared.unread,
    })
}

fn face_of(declared: &DeclaredFace, access: Access<'_>) -> FaceOfFamily {
    let paths = declared
        .files
        .iter()
        .filter_map(|file| file.sources.first());
    let paths: Vec<&PathBuf> = paths.map(|(path, _)| path).collect();
    let sizes = paths.iter().filter_map(|path| access.size(path));
    FaceOfFamily {
        weight: declared.weight,
        slope: declared.face.slope(),
        bytes: sizes.sum(),
        files: paths
            .iter()
            .map(|path| path.display().to_string())
            .collect(),
    }
}

/// What a face has, of several files what these show within their ranges.
fn characters_of(face: &Face) -> CharacterSet {
    if face.slices().is_empty() {
        return face.characters();
    }
    let slices = face.slices().iter().flat_map(|slice| {
        let characters = slice.face.characters();
        let within: Vec<u32> = characters
            .iter()
            .filter(|point| slice.range.contains(*point))
            .collect();
        within
    });
    let points: BTreeSet<u32> = slices.collect();
    CharacterSet::of(points)
}

/// The families that described files are of, in the order of the files: those of one
/// family, weight and slope are one face together.
pub fn of_files(
    files: &[(&str, &Description)],
    languages: &[&'static Language],
    access: Access<'_>,
) -> Vec<FamilyDescription> {
    let mut families: Vec<(String, Vec<Group<'_>>)> = Vec::new();
    let named = |description: &Description| {
        let identity = &description.identity;
        plain(&identity.names.family, identity.weight).0
    };
    let names: BTreeSet<String> = files.iter().map(|(_, one)| named(one)).collect();
    for (file, description) in files {
        let identity = &description.identity;
        let mut family = named(description);
        // "Brand Light" is a weight of "Brand" where that is there, too.
        let without = without_weight(&family);
        if names.contains(without) {
            family = without.to_owned();
        }
        let axes = description
            .variable
            .iter()
            .flat_map(|variable| &variable.axes);
        let weight = axes
            .into_iter()
            .find(|axis| axis.tag == "wght")
            .map_or((identity.weight, identity.weight), |axis| {
                (axis.min, axis.max)
            });
        let key = (weight, identity.width, identity.slope);
        let known = families.iter_mut().find(|(known, _)| *known == family);
        let groups = match known {
            Some((_, groups)) => groups,
            None => {
                families.push((family, Vec::new()));
                &mut families.last_mut().expect("just put there").1
            }
        };
        match groups.iter_mut().find(|group| group.key == key) {
            Some(group) => group.files.push((file, description)),
            None => groups.push(Group {
                key,
                files: vec![(file, description)],
            }),
        }
    }
    let judged = families.len() <= MOST_JUDGED;
    families
        .into_iter()
        .map(|(family, groups)| family_of(family, &groups, judged.then_some(languages), access))
        .collect()
}

/// Files of one weight, width and slope.
struct Group<'a> {
    key: ((f32, f32), f32, Slope),
    files: Vec<(&'a str, &'a Description)>,
}

fn family_of(
    family: String,
    groups: &[Group<'_>],
    languages: Option<&[&'static Language]>,
    access: Access<'_>,
) -> FamilyDescription {
    let faces: Vec<FaceOfFamily> = groups
        .iter()
        .map(|group| FaceOfFamily {
            weight: group.key.0,
            slope: group.key.2,
            files: group
                .files
                .iter()
                .map(|(file, _)| (*file).to_owned())
                .collect(),
            bytes: group.files.iter().map(|(_, one)| one.bytes.file).sum(),
        })
        .collect();
    let plainest = FamilyDescription::plainest(&faces).unwrap_or_default();
    let group = &groups[plainest];
    let ranges = group.files.iter();
    let sets: Vec<CharacterSet> = ranges
        .filter_map(|(_, one)| CharacterSet::parse(&one.characters.unicode_range))
        .collect();
    let points: BTreeSet<u32> = sets.iter().flat_map(CharacterSet::iter).collect();
    let face = languages.and_then(|_| open(group, access));
    let judged = face.as_ref().zip(languages);
    FamilyDescription::of(family, faces, &CharacterSet::of(points), judged)
}

/// The face of a group's files; `None` where one cannot be opened, which is told
/// elsewhere.
fn open(group: &Group<'_>, access: Access<'_>) -> Option<Face> {
    let mut faces: Vec<Face> = group
        .files
        .iter()
        .map(|(file, one)| {
            let index = one.identity.index;
            let named = match index {
                0 => (*file).to_owned(),
                index => format!("{file}#{index}"),
            };
            face_of_file(Path::new(&named), access).ok()
        })
        .collect::<Option<_>>()?;
    if faces.len() == 1 {
        return faces.pop();
    }
    let slices = faces.into_iter().map(|face| Slice {
        range: face.characters(),
        face,
    });
    Face::of_slices(slices.collect())
}
