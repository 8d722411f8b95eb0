//! The faces of a web font as the rules of a style sheet, or of a page, have them; each may
//! be many files.

use std::path::{Path, PathBuf};

use tidy_lattice_core::font::{CharacterSet, Face, Slice, Slope};
use tidy_lattice_core::page::{self, PlacedFace, font_faces};
use tidy_lattice_core::style::read::{FaceSource, FaceStyle};

use super::files::is_page;
use super::texts::decoded;
use super::web::{FontLoader, LARGEST, SCREEN, Site};
use super::{Access, ProjectError};

/// A face as a style sheet declares it.
pub struct DeclaredFace {
    /// The face; of several files where there are several.
    pub face: Face,
    /// `font-weight`: the least and the most.
    pub weight: (f32, f32),
    /// `font-stretch` in %, where it is a range.
    pub widths: Option<(f32, f32)>,
    /// Its files, in the order of their rules.
    pub files: Vec<DeclaredFile>,
}

/// A file of a face.
pub struct DeclaredFile {
    /// Paths with their `format()` keywords, in the order of `src`.
    pub sources: Vec<(PathBuf, String)>,
    /// The characters that it is held to; all that it has where its rule states none.
    pub range: CharacterSet,
    /// Whether its rule states them.
    pub ranged: bool,
}

/// The `@font-face` rules of a style sheet, or of a page with all of its sheets.
fn placed_in(
    path: &Path,
    site: &Site<'_>,
    access: Access<'_>,
) -> Result<Vec<PlacedFace>, ProjectError> {
    let bytes = access.read(path, LARGEST)?;
    let name = path.display().to_string();
    if is_page(path) {
        let html = decoded(path, &bytes)?;
        return Ok(page::read(html, &name, site, SCREEN).0.faces);
    }
    let css = String::from_utf8_lossy(&bytes);
    Ok(font_faces(&css, &name, site, SCREEN).0)
}

/// The family that the rules of `sheet` (or page) of `site` declare, and its faces; the one
/// called `wanted` where there are several.
///
/// # Errors
///
/// [`ProjectError`] where there is none, it is not said which, or a file of it cannot be
/// read.
pub fn of_sheet(
    sheet: &Path,
    wanted: Option<&str>,
    site: &Site<'_>,
    access: Access<'_>,
) -> Result<(String, Vec<DeclaredFace>), ProjectError> {
    let unreadable = |reason: String| ProjectError::Unreadable {
        path: sheet.to_owned(),
        reason,
    };
    let placed = placed_in(sheet, site, access)?;
    let names = names_of(&placed);
    let found = |wanted: &str| {
        let mut names = names.iter();
        names.find(|name| name.eq_ignore_ascii_case(wanted))
    };
    let family = match (names.as_slice(), wanted.and_then(found)) {
        (_, Some(name)) | ([name], None) => (*name).to_owned(),
        ([], None) => {
            return Err(unreadable(
                "no @font-face rule of this style sheet names a family; name the font files \
                 themselves"
                    .to_owned(),
            ));
        }
        (names, None) => {
            return Err(unreadable(format!(
                "its rules are of {} families ({}); name one with --family",
                names.len(),
                names.join(", ")
            )));
        }
    };
    let faces = faces_of(&placed, &family, site, access).map_err(unreadable)?;
    Ok((family, faces))
}

/// The families that a style sheet, or a page, declares.
#[derive(Default)]
pub struct SheetFamilies {
    /// The families with their faces, in the order of the rules.
    pub families: Vec<(String, Vec<DeclaredFace>)>,
    /// Families of which a file cannot be had, each with the line and the reason.
    pub unread: Vec<(String, String)>,
}

/// Every family that the rules of `sheet` (or page) of `site` declare. One that lacks a file
/// does not hide the others.
///
/// # Errors
///
/// [`ProjectError`] where no rule names a family, or the files of none can be had.
pub fn families_of_sheet(
    sheet: &Path,
    site: &Site<'_>,
    access: Access<'_>,
) -> Result<SheetFamilies, ProjectError> {
    let unreadable = |reason: String| ProjectError::Unreadable {
        path: sheet.to_owned(),
        reason,
    };
    let placed = placed_in(sheet, site, access)?;
    let mut found = SheetFamilies::default();
    for name in names_of(&placed) {
        match faces_of(&placed, name, site, access) {
            Ok(faces) => found.families.push((name.to_owned(), faces)),
            Err(reason) => found.unread.push((name.to_owned(), reason)),
        }
    }
    match found.unread.first() {
        Some((_, reason)) if found.families.is_empty() => Err(unreadable(reason.clone())),
        None if found.families.is_empty() => Err(unreadable(
            "no @font-face rule of this style sheet names a family".to_owned(),
        )),
        _ => Ok(found),
    }
}

/// The families that rules name, each once.
fn names_of(placed: &[PlacedFace]) -> Vec<&str> {
    let mut names: Vec<&str> = Vec::new();
    for rule in placed {
        let name = rule.face.family.as_deref().unwrap_or_default();
        if !name.is_empty() && !names.iter().any(|known| known.eq_ignore_ascii_case(name)) {
            names.push(name);
        }
    }
    names
}

/// The faces of `family`; why not, where a file cannot be had.
fn faces_of(
    placed: &[PlacedFace],
    family: &str,
    site: &Site<'_>,
    access: Access<'_>,
) -> Result<Vec<DeclaredFace>, String> {
    let mut loader = FontLoader::new(site, access);
    let mut groups: Vec<(Key, Vec<Loaded>)> = Vec::new();
    for rule in placed.iter().filter(|rule| {
        let name = rule.face.family.as_deref().unwrap_or_default();
        name.eq_ignore_ascii_case(family)
    }) {
        let loaded = load(rule, site, &mut loader)
            .map_err(|reason| format!("line {}: {reason}", rule.line))?;
        let key = Key::of(rule, &loaded.face);
        match groups.iter_mut().find(|(known, _)| *known == key) {
            Some((_, files)) => files.push(loaded),
            None => groups.push((key, vec![loaded])),
        }
    }
    let faces = groups.into_iter();
    Ok(faces
        .filter_map(|(key, files)| face_of(family, &key, files))
        .collect())
}

/// What tells the faces of a family apart.
#[derive(Debug, PartialEq)]
struct Key {
    weight: (f32, f32),
    stretch: (f32, f32),
    slope: Slope,
}

impl Key {
    fn of(rule: &PlacedFace, face: &Face) -> Self {
        let declared = &rule.face;
        let range_of =
            |declared: bool, range: (f32, f32), axis: &str| match (declared, face.axis(axis)) {
                (false, Some(axis)) => axis,
                _ => range,
            };
        Key {
            weight: range_of(
                declared.declared[0],
                (declared.weight.from, declared.weight.to),
                "wght",
            ),
            stretch: range_of(
                declared.declared[2],
                (declared.stretch.from, declared.stretch.to),
                "wdth",
            ),
            slope: match declared.style {
                FaceStyle::Normal => Slope::Normal,
                FaceStyle::Italic => Slope::Italic,
                FaceStyle::Oblique { .. } => Slope::Oblique,
            },
        }
    }
}

/// A rule with its file.
struct Loaded {
    face: Face,
    file: DeclaredFile,
}

fn load(rule: &PlacedFace, site: &Site<'_>, loader: &mut FontLoader<'_>) -> Result<Loaded, String> {
    let web = loader.load(rule);
    let mut sources = Vec::new();
    let mut face = None;
    let mut reasons = Vec::new();
    for (source, file) in rule.face.sources.iter().zip(&web.files) {
        let FaceSource::Url { url, .. } = source else {
            continue;
        };
        match file {
            Some(Ok(file)) => {
                let path = site
                    .locate(url, &rule.file)
                    .unwrap_or_else(|_| PathBuf::from(&file.name));
                sources.push((path, file.face.container().css_format().to_owned()));
                face.get_or_insert_with(|| (*file.face).clone());
            }
            Some(Err(reason)) => reasons.push(format!("{url}: {reason}")),
            None => {}
        }
    }
    let Some(face) = face else {
        return Err(if reasons.is_empty() {
            "its rule names no file".to_owned()
        } else {
            reasons.join("; ")
        });
    };
    let range = rule.face.range.clone();
    Ok(Loaded {
        file: DeclaredFile {
            sources,
            ranged: range.is_some(),
            range: range.unwrap_or_else(|| CharacterSet::of_ranges([(0, 0x10_ffff)])),
        },
        face,
    })
}

fn face_of(family: &str, key: &Key, loaded: Vec<Loaded>) -> Option<DeclaredFace> {
    let varies = key.weight.0 < key.weight.1;
    let whole = loaded.len() == 1 && !loaded[0].file.ranged;
    let mut files = Vec::new();
    let mut slices = Vec::new();
    for Loaded { face, file } in loaded {
        slices.push(Slice {
            range: file.range.clone(),
            face,
        });
        files.push(file);
    }
    let face = if whole {
        slices.pop()?.face
    } else {
        Face::of_slices(slices)?
    };
    let weight = (!varies).then_some(key.weight.0);
    Some(DeclaredFace {
        face: face.declared(family, weight, key.slope),
        weight: key.weight,
        widths: (key.stretch.0 < key.stretch.1).then_some(key.stretch),
        files,
    })
}

/// Whether what is named as a font is a style sheet with rules of one.
pub fn is_sheet(path: &Path) -> bool {
    path.extension()
        .is_some_and(|ending| ending.eq_ignore_ascii_case("css"))
}

/// The upright face of the family `wanted`, or the only one, of a sheet that is nearest to
/// weight 400, as most text is set in.
///
/// # Errors
///
/// As [`of_sheet`].
pub fn main_face(
    sheet: &Path,
    wanted: Option<&str>,
    site: &Site<'_>,
    access: Access<'_>,
) -> Result<Face, ProjectError> {
    let (_, faces) = of_sheet(sheet, wanted, site, access)?;
    let nearest = faces.into_iter().min_by(|a, b| {
        let off = |face: &Face| {
            let weight = (face.weight() - 400.0).abs();
            (face.slope() != Slope::Normal, weight)
        };
        let (a, b) = (off(&a.face), off(&b.face));
        a.0.cmp(&b.0).then(a.1.total_cmp(&b.1))
    });
    let nearest = nearest.map(|declared| {
        // Of a variable font the usual weight is meant.
        let (least, most) = declared.weight;
        let usual = [("wght".to_owned(), 400.0_f32.clamp(least, most))];
        declared.face.at(&usual).unwrap_or(declared.face)
    });
    nearest.ok_or_else(|| ProjectError::Unreadable {
        path: sheet.to_owned(),
        reason: "its rules make no face".to_owned(),
    })
}
