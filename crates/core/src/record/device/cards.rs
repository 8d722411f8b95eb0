//! Cards of faces that a page measured.

use std::collections::BTreeMap;

use foldhash::HashMap;

use tidy_lattice_coverage::lattice::needs_shaping;
use tidy_lattice_glyphs::font::{
    Card, CardBody, CardError, CardSource, Class, LineMetrics, LineSource, MeasuredIn, Names,
    PairTable, Slope, Strokes, WidthModel,
};

use super::result::{Measured, MeasuredError, MeasuredFace, wrong};
use crate::record::check::{Check, Text, forget};
use crate::record::{alphabets, fill};

/// The most pairs of letters with marks that are told one by one.
const MOST_PAIRS: usize = 400_000;

/// The card of a face of `measured`.
///
/// # Errors
///
/// [`MeasuredError::Wrong`] where the face contradicts itself.
pub fn card(measured: &Measured, face: &MeasuredFace) -> Result<Card, MeasuredError> {
    let units = f64::from(face.units_per_em);
    let place = || format!("the face {:?}", face.full);
    let mut card = Card {
        schema: Card::SCHEMA.to_owned(),
        names: Names {
            family: face.family.clone(),
            style: style_name(face),
            full: Some(face.full.clone()),
            postscript: face.postscript.clone(),
        },
        source: CardSource::default(),
        measured_on: None,
        only_widths: false,
        measured_in: Some(MeasuredIn {
            // What stands on cards is looked at in repositories.
            agent: String::new(),
            ..measured.browser.clone()
        }),
        class: class(measured, face),
        weight: face.weight,
        width: 100.0,
        slope: face.style,
        units_per_em: face.units_per_em,
        line: LineMetrics {
            ascent: rounded(face.line.ascent),
            descent: rounded(face.line.descent),
            line_gap: rounded(face.line.line_gap),
            source: LineSource::Browser,
        },
        x_height: face.x_height.map(|height| rounded(height * units)),
        cap_height: face.cap_height.map(|height| rounded(height * units)),
        strokes: face.strokes.map(|strokes| Strokes {
            stem: rounded(strokes.stem * units),
            side: rounded(strokes.side * units),
            bottom: rounded(strokes.bottom * units),
        }),
        underline: None,
        colour: face.colour,
        shaping: face.shaping.clone(),
        unknown_widths: Vec::new(),
        features: Vec::new(),
        characters: face.characters.clone(),
        variations: BTreeMap::new(),
        sequences: String::new(),
        advances: face.advances.clone(),
        joined: face.joined.clone(),
        pairs: PairTable {
            differ: face.pairs.clone(),
            ..PairTable::default()
        },
        runs: face.runs.clone(),
    };
    let body = CardBody::new(card.clone()).map_err(|error| match error {
        CardError::Wrong { field, reason } => {
            wrong(place(), format!("has {field:?} that {reason}"))
        }
        other => wrong(place(), other.to_string()),
    })?;
    let mut model = body.widths().clone();
    let far = 64 * i32::from(face.units_per_em);
    if model
        .advances
        .iter()
        .any(|advance| !(-far..=far).contains(advance))
    {
        return Err(wrong(place(), "has an advance that cannot be"));
    }
    if !follow(face, &mut model) {
        return Err(wrong(place(), format!("has more than {MOST_PAIRS} pairs")));
    }
    let alphabets = alphabets::of(|c| model.characters.contains(u32::from(c)));
    let check = Check::measured(texts(measured, face, &model));
    let mut unknown = check.unknown_scripts(&model);
    for alphabet in &alphabets {
        let script = &alphabet.script;
        let measured = measured.scripts.values().any(|known| known == script);
        let tried = check.tries(script);
        if (!measured || (!tried && needs_shaping(script))) && !unknown.contains(script) {
            unknown.push(script.clone());
        }
    }
    unknown.sort();
    forget(&alphabets, &unknown, &mut model);
    card.unknown_widths = unknown;
    fill(&mut card, &model, &check, &alphabets);
    Ok(card)
}

/// To what can be seen in drawn pixels.
fn rounded(value: f64) -> f64 {
    (value * 100_000.0).round() / 100_000.0
}

fn style_name(face: &MeasuredFace) -> String {
    let rest = face.full.strip_prefix(&face.family).map(str::trim);
    match (rest, face.style) {
        (Some(rest), _) if !rest.is_empty() => rest.to_owned(),
        (_, Slope::Normal) if face.weight >= 600.0 => "Bold".to_owned(),
        (_, Slope::Normal) => "Regular".to_owned(),
        (_, _) if face.weight >= 600.0 => "Bold Italic".to_owned(),
        _ => "Italic".to_owned(),
    }
}

/// What the family is known for, else what its stems and widths show.
fn class(measured: &Measured, face: &MeasuredFace) -> Class {
    let family = measured.families.iter().find(|f| f.name == face.family);
    let known = family.and_then(|family| family.class);
    known.unwrap_or(match (face.fixed, face.stems.feet) {
        (true, _) => Class::Monospace,
        (false, Some(true)) => Class::Serif,
        (false, Some(false)) => Class::Sans,
        (false, None) => Class::Unknown,
    })
}

/// The measured words of each script, where the face has all their characters.
fn texts(measured: &Measured, face: &MeasuredFace, model: &WidthModel) -> Vec<(String, Vec<Text>)> {
    let mut scripts: BTreeMap<&String, Vec<Text>> = BTreeMap::new();
    for (tag, units) in &face.widths {
        let (Some(words), Some(script)) = (measured.texts.get(tag), measured.scripts.get(tag))
        else {
            continue;
        };
        let has = |word: &String| {
            let letters = model.letters(word);
            letters
                .iter()
                .all(|c| model.characters.contains(u32::from(*c)))
        };
        if !words.is_empty() && words.iter().all(has) {
            let thirds = words.chunks(words.len().div_ceil(3));
            let texts = thirds.zip(units).map(|(words, units)| Text {
                words: words.to_vec(),
                units: *units,
            });
            scripts.entry(script).or_default().extend(texts);
        }
    }
    let scripts = scripts.into_iter();
    scripts
        .map(|(script, texts)| (script.clone(), texts))
        .collect()
}

/// Gives letters that behave as others their pairs; false where these would be too many.
fn follow(face: &MeasuredFace, model: &mut WidthModel) -> bool {
    let mut followers: HashMap<char, Vec<char>> = HashMap::default();
    for (base, letters) in &face.followers {
        if let Some(base) = base.chars().next() {
            followers.entry(base).or_default().extend(letters.chars());
        }
    }
    let texts: Vec<((char, char), i32)> = model.pairs.iter().map(|(p, v)| (*p, *v)).collect();
    for ((first, second), value) in texts {
        let all = |letter: char| {
            let more = followers.get(&letter).map_or(&[][..], Vec::as_slice);
            std::iter::once(letter).chain(more.iter().copied())
        };
        for first in all(first) {
            for second in all(second) {
                model.pairs.entry((first, second)).or_insert(value);
            }
            if model.pairs.len() > MOST_PAIRS {
                return false;
            }
        }
    }
    true
}
