//! A card's tables, checked and made quick to look up.

use std::collections::{HashMap, HashSet};
use std::sync::Arc;

use icu_properties::CodePointMapData;
use icu_properties::props::Script;

use super::data::{Card, CardError};
use super::model::{JoinedForms, WidthModel, without_mark};
use crate::font::CharacterSet;
use crate::text::script_name;

/// The most characters that runs may have in a card.
const LONGEST_RUN: usize = 16;

/// A card, ready to be asked.
#[derive(Clone)]
pub struct CardBody(Arc<Parts>);

struct Parts {
    card: Card,
    widths: WidthModel,
    variations: HashMap<u32, CharacterSet>,
    sequences: HashSet<String>,
}

impl CardBody {
    /// Checks `card`.
    pub fn new(card: Card) -> Result<Self, CardError> {
        check_numbers(&card)?;
        let mut widths = widths(&card)?;
        let mut variations = HashMap::new();
        for (selector, bases) in &card.variations {
            let selector = selector
                .strip_prefix("U+")
                .and_then(|digits| u32::from_str_radix(digits, 16).ok());
            let (Some(selector), Some(bases)) = (selector, CharacterSet::parse(bases)) else {
                return Err(CardError::wrong(
                    "variations",
                    "is not of the form {\"U+FE0F\": \"U+2764\"}",
                ));
            };
            variations.insert(selector, bases);
        }
        let sequences: HashSet<String> = card
            .sequences
            .split_ascii_whitespace()
            .map(str::to_owned)
            .collect();
        for sequence in &sequences {
            widths.add_picture(sequence);
        }
        Ok(CardBody(Arc::new(Parts {
            card,
            widths,
            variations,
            sequences,
        })))
    }

    /// The card.
    pub fn card(&self) -> &Card {
        &self.0.card
    }

    /// Widths as the card knows them.
    pub fn widths(&self) -> &WidthModel {
        &self.0.widths
    }

    /// The characters of the face.
    pub fn characters(&self) -> &CharacterSet {
        &self.0.widths.characters
    }

    /// Whether the face has a variant of `base` for this variation selector.
    pub fn has_variation(&self, base: char, selector: char) -> bool {
        let bases = self.0.variations.get(&u32::from(selector));
        bases.is_some_and(|bases| bases.contains(u32::from(base)))
    }

    /// The width of `text` in font units.
    pub fn units(&self, text: &str) -> i64 {
        self.0.widths.units(text)
    }

    /// Whether the card knows the widths of all scripts of `text`.
    pub fn knows_width(&self, text: &str) -> bool {
        let unknown = &self.0.card.unknown_widths;
        let scripts = CodePointMapData::<Script>::new();
        unknown.is_empty()
            || text
                .chars()
                .all(|c| !unknown.contains(&script_name(scripts.get(c))))
    }

    /// 1 for a sequence that the card lists; else how many characters take
    /// room.
    pub fn visible_glyphs(&self, text: &str) -> usize {
        if self.0.sequences.contains(text) {
            1
        } else {
            self.0.widths.wide_letters(text)
        }
    }
}

fn check_numbers(card: &Card) -> Result<(), CardError> {
    let underline = card.underline.unwrap_or_default();
    if !(16..=16384).contains(&card.units_per_em) {
        return Err(CardError::wrong(
            "units_per_em",
            format!("is {}, but 16 to 16384 are possible", card.units_per_em),
        ));
    }
    if !(1.0..=1000.0).contains(&card.weight) {
        return Err(CardError::wrong(
            "weight",
            format!("is {}, but 1 to 1000 are possible", card.weight),
        ));
    }
    let numbers = [
        ("line", card.line.ascent),
        ("line", card.line.descent),
        ("line", card.line.line_gap),
        ("width", f64::from(card.width) / 100.0),
        ("underline", underline.position / 16384.0),
        ("underline", underline.thickness / 16384.0),
        ("x_height", card.x_height.unwrap_or(0.0) / 16384.0),
        ("strokes", card.strokes.map_or(0.0, |s| s.stem) / 16384.0),
        ("strokes", card.strokes.map_or(0.0, |s| s.side) / 16384.0),
        ("strokes", card.strokes.map_or(0.0, |s| s.bottom) / 16384.0),
        ("cap_height", card.cap_height.unwrap_or(0.0) / 16384.0),
    ];
    match numbers
        .into_iter()
        .find(|(_, value)| !value.is_finite() || value.abs() > 100.0)
    {
        Some((field, _)) => Err(CardError::wrong(field, "has a value that cannot be")),
        None => Ok(()),
    }
}

fn widths(card: &Card) -> Result<WidthModel, CardError> {
    let characters = CharacterSet::parse(&card.characters)
        .ok_or_else(|| CardError::wrong("characters", "is no list like U+20-7E, U+A0"))?;
    let advances = advances(&card.advances, &characters)
        .ok_or_else(|| CardError::wrong("advances", "is no list like 569 1000*20 =*3"))?;
    if advances.len() as u64 != characters.len() {
        return Err(CardError::wrong(
            "advances",
            format!(
                "has {} values for {} characters",
                advances.len(),
                characters.len()
            ),
        ));
    }
    let mut model = WidthModel::of(characters, advances);
    for (forms, letters) in &card.joined {
        let forms = joined_forms(forms).ok_or_else(|| {
            CardError::wrong("joined", "is not of the form {\"240 250 780\": \"ب\"}")
        })?;
        model
            .joined
            .extend(letters.chars().map(|letter| (letter, forms)));
    }
    model.alike_first = leaders(&card.pairs.alike_first);
    model.alike_second = leaders(&card.pairs.alike_second);
    for (first, by_value) in &card.pairs.differ {
        let mut letters = first.chars();
        let (Some(first), None) = (letters.next(), letters.next()) else {
            return Err(CardError::wrong(
                "pairs",
                format!("has {first:?} where one character is expected"),
            ));
        };
        for (value, seconds) in by_value {
            let seconds = seconds.chars();
            model
                .pairs
                .extend(seconds.map(|second| ((first, second), *value)));
        }
    }
    for (start, by_value) in &card.runs {
        let start: Vec<char> = start.chars().collect();
        if !(2..LONGEST_RUN).contains(&start.len()) {
            return Err(CardError::wrong(
                "runs",
                format!(
                    "has starts that are not of 2 to {} characters",
                    LONGEST_RUN - 1
                ),
            ));
        }
        for (value, ends) in by_value {
            for end in ends.chars() {
                let mut run = start.clone();
                run.push(end);
                model.add_run(run, *value);
            }
        }
    }
    Ok(model)
}

/// Which character stands for each of the others.
fn leaders(groups: &[String]) -> foldhash::HashMap<char, char> {
    let mut leaders = foldhash::HashMap::default();
    for group in groups {
        let mut letters = group.chars();
        if let Some(leader) = letters.next() {
            leaders.extend(letters.map(|letter| (letter, leader)));
        }
    }
    leaders
}

/// Reads `240 250 780`: initial, medial, final.
fn joined_forms(text: &str) -> Option<JoinedForms> {
    let mut values = text.split_ascii_whitespace().map(str::parse);
    let mut next = || values.next()?.ok();
    let forms = JoinedForms {
        initial: next()?,
        medial: next()?,
        last: next()?,
    };
    values.next().is_none().then_some(forms)
}

/// Reads `569 1000*20 =*3`; at most as many values as there are `characters`.
fn advances(text: &str, characters: &CharacterSet) -> Option<Vec<i32>> {
    let most = characters.len() as usize;
    let mut advances: Vec<Option<i32>> = Vec::new();
    for part in text.split_ascii_whitespace() {
        let (value, times) = part.split_once('*').unwrap_or((part, "1"));
        let times: usize = times.parse().ok()?;
        let value = match value {
            "=" => None,
            number => Some(number.parse().ok()?),
        };
        if times > most || advances.len() + times > most {
            return None;
        }
        advances.extend(std::iter::repeat_n(value, times));
    }
    let points: Vec<u32> = characters.iter().take(advances.len()).collect();
    let resolved = points.iter().zip(&advances).map(|(point, value)| {
        // A letter may stand for another in turn; Unicode nests three deep.
        let (mut value, mut letter) = (*value, char::from_u32(*point)?);
        for _ in 0..4 {
            if value.is_some() {
                break;
            }
            letter = without_mark(letter)?;
            value = *advances.get(characters.rank(u32::from(letter))?)?;
        }
        value
    });
    resolved.collect()
}
