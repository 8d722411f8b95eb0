//! Proof that a part shows what its source shows: the same outlines, the same glyphs at
//! the same places.

use std::collections::BTreeMap;

use icu_properties::CodePointMapData;
use icu_properties::props::Script;
use skrifa::MetadataProvider;
use tidy_lattice_glyphs::font::{Face, FacePick, FontFile, Limits, Outlines};
use tidy_lattice_glyphs::shaping::{PlacedGlyph, ShapeSettings, Shaper};

use crate::{Cut, CutError};

/// A text to be shaped with both.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Sample {
    /// The text. It is left out where the part lacks one of its characters.
    pub text: String,
    /// The BCP 47 language.
    pub language: Option<String>,
}

/// What was compared.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Proof {
    /// Outlines and advances of glyphs, at each position on the axes.
    pub outlines: usize,
    /// Texts shaped, at each position, with each setting of features.
    pub texts: usize,
}

/// Positions on the axes at which faces are compared: the default, and where each axis
/// ends, alone and, for two axes, together.
fn positions(file: &FontFile, index: u32) -> Vec<Vec<(String, f32)>> {
    let mut positions = vec![Vec::new()];
    let Ok(font) = skrifa::FontRef::from_index(file.sfnt(), index) else {
        return positions;
    };
    let axes: Vec<(String, [f32; 2])> = (font.axes().iter())
        .map(|axis| (axis.tag().to_string(), [axis.min_value(), axis.max_value()]))
        .collect();
    for (number, (tag, ends)) in axes.iter().enumerate() {
        for end in ends {
            positions.push(vec![(tag.clone(), *end)]);
            if let Some((other, [_, most])) = axes.get(number + 1) {
                positions.push(vec![(tag.clone(), *end), (other.clone(), *most)]);
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
/// sample with the features as they are and with each of `asked` turned on.
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
    let samples: Vec<&Sample> = (samples.iter())
        .filter(|sample| {
            let has = |c: char| cut.characters.contains(u32::from(c));
            !sample.text.is_empty() && sample.text.chars().all(has)
        })
        .collect();
    let mut proof = Proof::default();
    for position in positions(source, index) {
        let at = |face: &Face| face.at(&position).unwrap_or_else(|| face.clone());
        let (before, after) = (at(&before), at(&after));
        proof.outlines += same_outlines(&before, &after, &cut.glyphs)?;
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
                same_text(sample, &expected, &given, &new)?;
                proof.texts += 1;
            }
        }
    }
    Ok(proof)
}

fn same_outlines(before: &Face, after: &Face, glyphs: &[u16]) -> Result<usize, CutError> {
    let (Some(one), Some(other)) = (Outlines::of(before), Outlines::of(after)) else {
        return Ok(0);
    };
    for (new, old) in (0u32..).zip(glyphs) {
        if one.glyph(u32::from(*old)) != other.glyph(new) {
            return Err(otherwise(&format!("glyph {old}"), "its outline is another"));
        }
    }
    Ok(glyphs.len())
}

fn same_text(
    sample: &Sample,
    expected: &[PlacedGlyph],
    given: &[PlacedGlyph],
    new: &BTreeMap<u32, u32>,
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
    let first = (expected.iter().zip(given)).find(|(one, other)| one != other);
    let detail = match first {
        Some((one, other)) if one.glyph != other.glyph => "another glyph",
        Some(_) => "a glyph at another place",
        None => "more or fewer glyphs",
    };
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
