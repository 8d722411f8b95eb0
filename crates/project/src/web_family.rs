//! The faces of a web font, each of which may be many files: as the rules of a style
//! sheet have it, or by the names, weights and slopes of plain files.

use std::path::{Path, PathBuf};

use tidy_lattice_core::font::{CharacterSet, Face, Slice, Slope};
use tidy_lattice_core::page::{PlacedFace, font_faces};
use tidy_lattice_core::stack::WebSlice;
use tidy_lattice_core::style::read::{FaceSource, FaceStyle};

use super::ingredients::WebPart;
use super::stack::SCREEN;
use super::web::{FontLoader, LARGEST, Site};
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

/// The family that the rules of `sheet` declare, and its faces; the one called
/// `wanted` where there are several.
///
/// # Errors
///
/// [`ProjectError`] where there is none, it is not said which, or a file of it cannot be
/// read.
pub fn of_sheet(
    sheet: &Path,
    wanted: Option<&str>,
    access: Access<'_>,
) -> Result<(String, Vec<DeclaredFace>), ProjectError> {
    let unreadable = |reason: String| ProjectError::Unreadable {
        path: sheet.to_owned(),
        reason,
    };
    let bytes = access.read(sheet, LARGEST)?;
    let css = String::from_utf8_lossy(&bytes);
    let site = Site::beside_file(sheet, access);
    let (placed, _) = font_faces(&css, &sheet.display().to_string(), &site, SCREEN);
    let mut names: Vec<&str> = Vec::new();
    for rule in &placed {
        let name = rule.face.family.as_deref().unwrap_or_default();
        if !name.is_empty() && !names.iter().any(|known| known.eq_ignore_ascii_case(name)) {
            names.push(name);
        }
    }
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
    let mut loader = FontLoader::new(&site, access);
    let mut groups: Vec<(Key, Vec<Loaded>)> = Vec::new();
    for rule in placed.iter().filter(|rule| {
        let name = rule.face.family.as_deref().unwrap_or_default();
        name.eq_ignore_ascii_case(&family)
    }) {
        let loaded = load(rule, &site, &mut loader)
            .map_err(|reason| unreadable(format!("line {}: {reason}", rule.line)))?;
        let key = Key::of(rule, &loaded.face);
        match groups.iter_mut().find(|(known, _)| *known == key) {
            Some((_, files)) => files.push(loaded),
            None => groups.push((key, vec![loaded])),
        }
    }
    let faces = groups
        .into_iter()
        .filter_map(|(key, files)| face_of(&family, &key, files))
        .collect();
    Ok((family, faces))
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
        let stated = &rule.face;
        let own = |stated: bool, range: (f32, f32), axis: &str| match (stated, face.axis(axis)) {
            (false, Some(axis)) => axis,
            _ => range,
        };
        Key {
            weight: own(
                stated.stated[0],
                (stated.weight.from, stated.weight.to),
                "wght",
            ),
            stretch: own(
                stated.stated[2],
                (stated.stretch.from, stated.stretch.to),
                "wdth",
            ),
            slope: match stated.style {
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

/// Plain files of one family, weight and slope made one face: ranges that do not
/// overlap are written for them, and that is told.
pub fn joined(parts: Vec<WebPart>, access: Access<'_>) -> Vec<WebPart> {
    let mut groups: Vec<Vec<WebPart>> = Vec::new();
    for part in parts {
        let same = |known: &&mut Vec<WebPart>| {
            let (a, b) = (&known[0], &part);
            let is_plain = |part: &WebPart| part.slices.is_empty();
            let (one, other) = (&a.faces[0], &b.faces[0]);
            is_plain(a)
                && is_plain(b)
                && a.weights == b.weights
                && a.faces.len() == b.faces.len()
                && one.weight() == other.weight()
                && one.width() == other.width()
                && one.slope() == other.slope()
                && plain_name(one).0 == plain_name(other).0
                && one.line() == other.line()
        };
        match groups.iter_mut().find(same) {
            Some(group) => group.push(part),
            None => groups.push(vec![part]),
        }
    }
    groups
        .into_iter()
        .map(|mut group| {
            if group.len() == 1 {
                return group.remove(0);
            }
            join(group, access)
        })
        .collect()
}

fn join(group: Vec<WebPart>, access: Access<'_>) -> WebPart {
    let name = plain_name(&group[0].faces[0]).0;
    access.note(&format!(
        "{} files are one face of {name}; each is held to the characters that no earlier one has \
         (unicode-range)",
        group.len()
    ));
    let mut taken = CharacterSet::default();
    let mut slices = Vec::new();
    let mut ranges = Vec::new();
    for part in &group {
        let own = part.faces[0].characters();
        let range = CharacterSet::of(own.iter().filter(|point| !taken.contains(*point)));
        taken = CharacterSet::of(taken.iter().chain(range.iter()));
        slices.push(WebSlice {
            sources: vec![(
                part.url.clone(),
                part.faces[0].container().css_format().to_owned(),
            )],
            range: range.clone(),
        });
        ranges.push(range);
    }
    let count = group[0].faces.len();
    let faces = (0..count).filter_map(|number| {
        let slices = group.iter().zip(&ranges).map(|(part, range)| Slice {
            range: range.clone(),
            face: part.faces[number].clone(),
        });
        Face::of_slices(slices.collect())
    });
    let faces: Vec<Face> = faces.collect();
    let mut group = group;
    let first = group.remove(0);
    WebPart {
        faces: if faces.len() == count {
            faces
        } else {
            first.faces
        },
        slices,
        ..first
    }
}

/// The family that the files of a web font are of, by their names; told where words
/// were taken off.
pub fn name_of(web: &[WebPart], access: Access<'_>) -> String {
    let face = &web[0].faces[0];
    let (name, taken) = plain_name(face);
    if let Some(taken) = taken {
        access.note(&format!(
            "the file calls its family {:?}, but its weight is {}; {taken:?} was taken off (name \
             the family with --family, or in the project file)",
            face.names().family,
            face.weight()
        ));
    }
    name
}

/// Words for weights, with their values (CSS Fonts 4, §2.2.1).
const WEIGHTS: [(&str, f32); 14] = [
    ("thin", 100.0),
    ("hairline", 100.0),
    ("extralight", 200.0),
    ("ultralight", 200.0),
    ("light", 300.0),
    ("regular", 400.0),
    ("normal", 400.0),
    ("medium", 500.0),
    ("semibold", 600.0),
    ("demibold", 600.0),
    ("bold", 700.0),
    ("extrabold", 800.0),
    ("black", 900.0),
    ("heavy", 900.0),
];

/// The family name of a face without words for a weight that is not its own and for an
/// optical size, and what was taken off.
fn plain_name(face: &Face) -> (String, Option<String>) {
    let family = &face.names().family;
    let mut words: Vec<&str> = family.split(' ').collect();
    let mut taken: Vec<&str> = Vec::new();
    while words.len() > 1 {
        let last = words[words.len() - 1];
        let lower = last.to_ascii_lowercase();
        let contradicts = WEIGHTS
            .iter()
            .any(|(word, weight)| *word == lower && *weight != face.weight());
        let optical = lower
            .strip_suffix("pt")
            .is_some_and(|size| !size.is_empty() && size.bytes().all(|byte| byte.is_ascii_digit()));
        if !contradicts && !optical {
            break;
        }
        taken.insert(0, last);
        words.pop();
    }
    // An optical size alone contradicts nothing.
    (
        words.join(" "),
        (!taken.is_empty()).then(|| taken.join(" ")),
    )
}
