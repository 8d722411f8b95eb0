//! The faces of a web font that is given as plain files, some of which may be one face
//! together; and what the family is called.

use std::path::PathBuf;

use tidy_lattice_core::font::{CharacterSet, Face, Slice};
use tidy_lattice_core::stack::WebSlice;

use super::Access;

/// A file of the web font.
pub struct WebPart {
    /// The file as named.
    pub named: PathBuf,
    /// Its face, of a variable font at each weight in use.
    pub faces: Vec<Face>,
    /// Its URL.
    pub url: String,
    /// Its weights, of a variable font.
    pub weights: Option<(f32, f32)>,
    /// Its widths, of a variable font.
    pub widths: Option<(f32, f32)>,
    /// The files of a face that is several.
    pub slices: Vec<WebSlice>,
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
    let mut kept: Vec<(WebPart, CharacterSet)> = Vec::new();
    for part in group {
        let characters = part.faces[0].characters();
        let range = CharacterSet::of(characters.iter().filter(|point| !taken.contains(*point)));
        if range.is_empty() && !kept.is_empty() {
            access.note(&format!(
                "{} adds no character to {name}, so it is left out",
                part.named.display()
            ));
            continue;
        }
        taken = CharacterSet::of(taken.iter().chain(range.iter()));
        kept.push((part, range));
    }
    let whole = |number: usize| {
        let slices = kept.iter().map(|(part, range)| Slice {
            range: range.clone(),
            face: part.faces[number].clone(),
        });
        Face::of_slices(slices.collect())
    };
    let count = kept[0].0.faces.len();
    let faces: Option<Vec<Face>> = (0..count).map(whole).collect();
    let slices = kept
        .iter()
        .map(|(part, range)| WebSlice {
            sources: vec![(
                part.url.clone(),
                part.faces[0].container().css_format().to_owned(),
            )],
            range: range.clone(),
        })
        .collect();
    let alone = kept.len() == 1;
    let (first, _) = kept.swap_remove(0);
    match faces {
        Some(faces) if !alone => WebPart {
            faces,
            slices,
            ..first
        },
        _ => first,
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

/// The plain name of a face's family.
fn plain_name(face: &Face) -> (String, Option<String>) {
    plain(&face.names().family, face.weight())
}

/// A family name without the words for a weight at its end, whatever the weight is.
pub fn without_weight(family: &str) -> &str {
    let mut rest = family;
    while let Some((before, last)) = rest.rsplit_once(' ') {
        let is_weight = |(word, _): &(&str, f32)| last.eq_ignore_ascii_case(word);
        if !WEIGHTS.iter().any(is_weight) {
            break;
        }
        rest = before;
    }
    rest
}

/// A family name without words for a weight that is not the face's `own` and for an
/// optical size, and what was taken off.
pub fn plain(family: &str, default_weight: f32) -> (String, Option<String>) {
    let mut words: Vec<&str> = family.split(' ').collect();
    let mut taken: Vec<&str> = Vec::new();
    while words.len() > 1 {
        let last = words[words.len() - 1];
        let lower = last.to_ascii_lowercase();
        let contradicts = WEIGHTS
            .iter()
            .any(|(word, weight)| *word == lower && *weight != default_weight);
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
