//! Proof that a part shows what its source shows: the same outlines, the same glyphs at
//! the same places.

use std::collections::BTreeMap;

use icu_normalizer::ComposingNormalizerBorrowed;
use icu_properties::CodePointMapData;
use icu_properties::props::{CanonicalCombiningClass, Script};
use kurbo::PathEl;
use skrifa::MetadataProvider;
use tidy_lattice_glyphs::font::{Face, FacePick, FontFile, Limits, Outlines};
use tidy_lattice_glyphs::shaping::{PlacedGlyph, ShapeSettings, Shaper};

use crate::{AxisLimit, Cut, CutError};

/// A text to be shaped with both.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Sample {
    /// The text. It is left out where the part lacks one of its characters.
    pub text: String,
    /// The BCP 47 language.
    pub language: Option<String>,
}

/// What was compared.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Proof {
    /// The most that a point, an advance or a place is off, in font units: 0 but for limited
    /// axes, whose values are rounded anew.
    pub off: f64,
    /// Outlines and advances of glyphs, at each position on the axes.
    pub outlines: usize,
    /// Texts shaped, at each position, with each setting of features.
    pub texts: usize,
}

/// Values by axis.
type Position = Vec<(String, f32)>;

/// How far rounding may lead where axes are limited, in em: the default and each variation
/// that counts somewhere is rounded to a whole unit.
const NEAR: f64 = 0.004;

/// Positions on the axes at which faces are compared: the default, and where each axis
/// ends, alone and, for two axes, together; of limited axes the middle of what is left, too.
fn positions(file: &FontFile, index: u32, limits: &[AxisLimit]) -> Vec<Position> {
    let Ok(font) = skrifa::FontRef::from_index(file.sfnt(), index) else {
        return vec![Vec::new()];
    };
    let limit = |tag: &str| limits.iter().find(|limit| limit.name() == tag);
    let mut default = Position::new();
    let mut axes: Vec<(String, Vec<f32>)> = Vec::new();
    for axis in font.axes().iter() {
        let tag = axis.tag().to_string();
        let Some(limit) = limit(&tag) else {
            axes.push((tag, vec![axis.min_value(), axis.max_value()]));
            continue;
        };
        let (from, to) = (limit.from as f32, limit.to as f32);
        default.push((tag.clone(), axis.default_value().clamp(from, to)));
        if from < to {
            axes.push((tag, vec![from, to, f32::midpoint(from, to)]));
        }
    }
    // What is said last of an axis counts.
    let at = |values: &[(&String, f32)]| {
        let mut position: Position = default.clone();
        for (tag, value) in values {
            position.retain(|(known, _)| known != *tag);
            position.push(((*tag).clone(), *value));
        }
        position
    };
    let mut positions = vec![default.clone()];
    for (number, (tag, ends)) in axes.iter().enumerate() {
        for end in ends {
            positions.push(at(&[(tag, *end)]));
            if let Some((other, ends)) = axes.get(number + 1) {
                positions.push(at(&[(tag, *end), (other, ends[1])]));
            }
        }
    }
    // Fonts of dozens of axes would never be done.
    positions.truncate(12);
    positions
}

fn opened(file: &FontFile, index: u32) -> Result<Face, CutError> {
    let pick = FacePick {
        index,
        ..FacePick::default()
    };
    Face::open(file, &pick).map_err(|error| otherwise("", &error.to_string()))
}

fn otherwise(text: &str, detail: &str) -> CutError {
    CutError::ShowsOtherwise {
        text: text.to_owned(),
        detail: detail.to_owned(),
    }
}

/// Compares `cut` with face `index` of `source`: every glyph that stays, and every
/// sample with the features as they are and with each of `asked` turned on. `limits` are
/// those that the axes were held to before it was cut.
///
/// # Errors
///
/// [`CutError::ShowsOtherwise`] at the first difference.
pub fn prove(
    source: &FontFile,
    index: u32,
    cut: &Cut,
    samples: &[Sample],
    asked: &[[u8; 4]],
    limits: &[AxisLimit],
) -> Result<Proof, CutError> {
    let file = FontFile::read(cut.sfnt.clone(), Limits::DEFAULT)
        .map_err(|error| otherwise("", &error.to_string()))?;
    let (before, after) = (opened(source, index)?, opened(&file, 0)?);
    let shown = after.characters();
    // What is wanted of a face for signs it shows under other numbers.
    if let Some(lost) = cut.characters.iter().find(|point| {
        char::from_u32(*point).is_some_and(|c| !after.maps(c)) && !shown.contains(*point)
    }) {
        return Err(otherwise(
            &format!("U+{lost:04X}"),
            "it is not there any more",
        ));
    }
    let new: BTreeMap<u32, u32> = (cut.glyphs.iter())
        .map(|old| u32::from(*old))
        .zip(0..)
        .collect();
    let mut settings: Vec<Vec<(String, u32)>> = vec![Vec::new()];
    settings.extend(
        asked
            .iter()
            .filter(|tag| cut.features.contains(*tag))
            .map(|tag| vec![(String::from_utf8_lossy(tag).into_owned(), 1)]),
    );
    let samples: Vec<Sample> = (samples.iter())
        .filter(|sample| {
            let has = |c: char| cut.characters.contains(u32::from(c));
            !sample.text.is_empty() && sample.text.chars().all(has)
        })
        .map(|sample| Sample {
            text: without_lost(&sample.text, &before, &after),
            language: sample.language.clone(),
        })
        .collect();
    let mut proof = Proof::default();
    let near = if limits.is_empty() {
        0.0
    } else {
        (f64::from(before.units_per_em()) * NEAR).max(2.0)
    };
    for position in positions(source, index, limits) {
        let at = |face: &Face| face.at(&position).unwrap_or_else(|| face.clone());
        let (before, after) = (at(&before), at(&after));
        let off = &mut proof.off;
        proof.outlines += same_outlines(&before, &after, &cut.glyphs, near, off)?;
        let (mut one, mut other) = (Shaper::new(&before), Shaper::new(&after));
        for sample in &samples {
            for features in &settings {
                let features: Vec<(&str, u32)> = features
                    .iter()
                    .map(|(tag, value)| (tag.as_str(), *value))
                    .collect();
                let settings = ShapeSettings {
                    features: &features,
                    language: sample.language.as_deref(),
                    script: None,
                };
                let expected = one.glyphs(&sample.text, settings);
                let given = other.glyphs(&sample.text, settings);
                same_text(sample, &expected, &given, &new, near, &mut proof.off)?;
                proof.texts += 1;
            }
        }
    }
    Ok(proof)
}

/// `text` without the marks that shapers would compose to a letter which the source has and
/// the part leaves to another file.
fn without_lost(text: &str, before: &Face, after: &Face) -> String {
    let compose = ComposingNormalizerBorrowed::new_nfc();
    let marks = CodePointMapData::<CanonicalCombiningClass>::new();
    let mut kept = String::with_capacity(text.len());
    // Where the last letter begins, to which marks belong.
    let mut letter = 0;
    for character in text.chars() {
        let at = kept.len();
        kept.push(character);
        if marks.get(character) == CanonicalCombiningClass::NotReordered {
            letter = at;
        } else {
            let composed = compose.normalize(&kept[letter..]);
            if composed.chars().any(|c| before.maps(c) && !after.maps(c)) {
                kept.truncate(at);
            }
        }
    }
    kept
}

fn same_outlines(
    before: &Face,
    after: &Face,
    glyphs: &[u16],
    near: f64,
    off: &mut f64,
) -> Result<usize, CutError> {
    let (Some(one), Some(other)) = (Outlines::of(before), Outlines::of(after)) else {
        return Ok(0);
    };
    for (new, old) in (0u32..).zip(glyphs) {
        let (one, other) = (one.glyph(u32::from(*old)), other.glyph(new));
        if one == other {
            continue;
        }
        let far = farthest(one.elements(), other.elements());
        match far.filter(|far| *far <= near) {
            Some(far) => *off = off.max(far),
            None => return Err(otherwise(&format!("glyph {old}"), "its outline is another")),
        }
    }
    Ok(glyphs.len())
}

/// How far the points of two outlines are apart at most; `None` where these are drawn
/// otherwise.
fn farthest(one: &[PathEl], other: &[PathEl]) -> Option<f64> {
    let points = |element: &PathEl| match *element {
        PathEl::MoveTo(a) => ('m', vec![a]),
        PathEl::LineTo(a) => ('l', vec![a]),
        PathEl::QuadTo(a, b) => ('q', vec![a, b]),
        PathEl::CurveTo(a, b, c) => ('c', vec![a, b, c]),
        PathEl::ClosePath => ('z', Vec::new()),
    };
    if one.len() != other.len() {
        return None;
    }
    let mut far: f64 = 0.0;
    for (one, other) in one.iter().zip(other) {
        let ((kind, one), (same, other)) = (points(one), points(other));
        if kind != same {
            return None;
        }
        for (a, b) in one.iter().zip(other) {
            far = far.max((a.x - b.x).abs()).max((a.y - b.y).abs());
        }
    }
    Some(far)
}

fn same_text(
    sample: &Sample,
    expected: &[PlacedGlyph],
    given: &[PlacedGlyph],
    new: &BTreeMap<u32, u32>,
    near: f64,
    off: &mut f64,
) -> Result<(), CutError> {
    let expected: Vec<PlacedGlyph> = (expected.iter())
        .map(|placed| PlacedGlyph {
            glyph: new.get(&placed.glyph).copied().unwrap_or(u32::MAX),
            ..*placed
        })
        .collect();
    if expected == given {
        return Ok(());
    }
    let mut detail = "more or fewer glyphs";
    let same = |one: &PlacedGlyph, other: &PlacedGlyph| {
        (one.glyph, one.cluster) == (other.glyph, other.cluster)
    };
    if expected.len() == given.len() && near > 0.0 {
        let apart = |one: i32, other: i32| f64::from(one.abs_diff(other));
        // Marks stand on marks: each brings its own rounding.
        let beside = |placed: &PlacedGlyph| {
            let same = expected
                .iter()
                .filter(|other| other.cluster == placed.cluster);
            same.count() as f64
        };
        let far = |one: &PlacedGlyph, other: &PlacedGlyph| {
            let (x, y) = (
                apart(one.offset.0, other.offset.0),
                apart(one.offset.1, other.offset.1),
            );
            apart(one.advance, other.advance).max(x.max(y) / beside(one))
        };
        let pairs = || expected.iter().zip(given);
        let farthest = pairs()
            .map(|(one, other)| far(one, other))
            .fold(0.0, f64::max);
        if farthest <= near && pairs().all(|(one, other)| same(one, other)) {
            *off = off.max(farthest);
            return Ok(());
        }
    }
    if let Some((one, other)) = (expected.iter().zip(given)).find(|(one, other)| one != other) {
        detail = if one.glyph == other.glyph {
            "a glyph at another place"
        } else {
            "another glyph"
        };
    }
    Err(otherwise(&sample.text, detail))
}

/// Samples that bring every character together with those of its kind: what is kerned,
/// joined or put on top of each other shows in them.
pub fn neighbours(characters: impl IntoIterator<Item = char>) -> Vec<Sample> {
    /// Characters of one script that are set beside each other.
    const MOST: usize = 72;
    let scripts = CodePointMapData::<Script>::new();
    let mut by_script: BTreeMap<Script, Vec<char>> = BTreeMap::new();
    for character in characters {
        by_script
            .entry(scripts.get(character))
            .or_default()
            .push(character);
    }
    let mut samples = Vec::new();
    for group in by_script.values() {
        let near: Vec<char> = group.iter().copied().take(MOST).collect();
        for (index, character) in group.iter().enumerate() {
            let text: String = if index < MOST {
                near.iter().flat_map(|other| [*character, *other]).collect()
            } else {
                // Each of the many beside the one before, so that all are seen.
                [group[index - 1], *character].iter().collect()
            };
            samples.push(Sample {
                text,
                language: None,
            });
        }
    }
    samples
}
