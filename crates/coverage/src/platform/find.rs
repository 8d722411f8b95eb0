//! Finding a face of a platform by name.

use tidy_lattice_glyphs::font::{Card, CardError, Face, LineSource, Slope};

use super::{Family, Known, Likeness, Platform, PlatformFace};

/// A face of a platform.
#[derive(Debug, Clone, Copy)]
pub struct Found<'a> {
    /// Its family.
    pub family: &'a Family,
    /// The face.
    pub face: &'a PlatformFace,
}

/// What came of looking for a face.
#[derive(Debug, Clone)]
pub enum Looked<'a> {
    /// There it is.
    Found(Found<'a>),
    /// The family is there, but the names of its faces are not known.
    FacesUnknown(&'a Family),
    /// There is no such family or face; these have a word of the name.
    Unknown(Vec<&'a str>),
}

/// The face that `name` means on `platform`, whatever its case: a full or
/// PostScript name, or a family's upright face nearest to weight 400.
pub fn find<'a>(platform: &'a Platform, name: &str) -> Looked<'a> {
    let same = |other: &str| other.eq_ignore_ascii_case(name.trim());
    if let Some(family) = platform.families.iter().find(|family| same(&family.name)) {
        let plain = family.faces.iter().min_by(|a, b| {
            let key =
                |face: &PlatformFace| (face.style != Slope::Normal, (face.weight - 400.0).abs());
            key(a)
                .0
                .cmp(&key(b).0)
                .then_with(|| key(a).1.total_cmp(&key(b).1))
        });
        return match plain {
            Some(face) => Looked::Found(Found { family, face }),
            None => Looked::FacesUnknown(family),
        };
    }
    for family in &platform.families {
        let named = family
            .faces
            .iter()
            .find(|face| same(&face.full) || face.postscript.as_deref().is_some_and(same));
        if let Some(face) = named {
            return Looked::Found(Found { family, face });
        }
    }
    let words: Vec<String> = name.split_whitespace().map(str::to_lowercase).collect();
    let near = platform.families.iter().map(|family| family.name.as_str());
    let near = near.filter(|family| {
        let family = family.to_lowercase();
        words
            .iter()
            .any(|word| word.len() > 2 && family.contains(word))
    });
    Looked::Unknown(near.collect())
}

/// The face that `found` names, measured as `card` says. What the card cannot
/// know of it is taken out: line metrics where only widths are the same.
///
/// # Errors
///
/// [`CardError::Wrong`] where the card contradicts itself.
pub fn as_face(found: Found<'_>, mut card: Card) -> Result<Face, CardError> {
    let Found { family, face } = found;
    if let Known::Measured { likeness, .. } = family.known
        && let likeness = face.card_is.unwrap_or(likeness)
        && !matches!(likeness, Likeness::Itself | Likeness::WidthsAlone)
    {
        card.measured_on = Some(card.names.family.clone());
        if likeness == Likeness::SameWidths {
            card.line.source = LineSource::NotKnown;
            card.x_height = None;
            card.cap_height = None;
            card.strokes = None;
        }
    }
    card.names.family.clone_from(&family.name);
    card.names.full = Some(face.full.clone());
    card.names.postscript.clone_from(&face.postscript);
    card.class = family.class;
    card.weight = face.weight;
    card.slope = face.style;
    Face::from_card(card)
}
