//! Making the tables of a card small: characters that are alike are told once,
//! and where that is not enough, corrections that hardly differ become one.

use std::collections::{BTreeMap, BTreeSet, HashMap};

use super::alphabets::Frequencies;
use crate::font::WidthModel;

/// Characters and the one that stands for them.
type Leaders = HashMap<char, char>;

/// Corrections beside one character, by the other one.
type Row = BTreeMap<char, i32>;

/// How much to give up for a small card.
#[derive(Debug, Clone, Copy)]
pub struct Level {
    /// How far corrections may be off, in thousandths of an em.
    pub tolerance: f64,
    /// How many different rows, and how many different columns, the table of
    /// pairs may have; others become the nearest of these.
    pub rows: usize,
    /// Whether pairs of a small letter and a capital are kept; running text and
    /// headings have hardly any.
    pub small_capital: bool,
}

impl Level {
    const fn new(tolerance: f64, rows: usize) -> Self {
        Level {
            tolerance,
            rows,
            small_capital: false,
        }
    }

    /// From everything to the least.
    pub const ALL: [Level; 11] = [
        Level {
            tolerance: 0.0,
            rows: usize::MAX,
            small_capital: true,
        },
        Level::new(0.0, usize::MAX),
        Level::new(0.5, 220),
        Level::new(1.0, 170),
        Level::new(1.0, 130),
        Level::new(1.0, 100),
        Level::new(1.0, 80),
        Level::new(1.0, 60),
        Level::new(1.0, 45),
        Level::new(1.0, 32),
        Level::new(1.0, 24),
    ];
}

/// Makes `model` as small as `level` says. The most frequent characters keep
/// pairs of their own.
pub fn compact(model: &mut WidthModel, level: Level, units_per_em: u16, letters: &Frequencies) {
    let letters = letters.by_letter();
    let tolerance = (level.tolerance / 1000.0 * f64::from(units_per_em)).round() as i32;
    model.pairs.retain(|(first, second), value| {
        value.abs() > tolerance
            && (level.small_capital || !(first.is_lowercase() && second.is_uppercase()))
    });
    model.runs.retain(|_, value| value.abs() > tolerance);
    let first = alike(model, tolerance, level.rows, &letters, |pair| pair);
    model
        .pairs
        .retain(|(letter, _), _| !first.contains_key(letter));
    let second = alike(model, tolerance, level.rows, &letters, |(first, second)| {
        (second, first)
    });
    model
        .pairs
        .retain(|(_, letter), _| !second.contains_key(letter));
    model.alike_first = first;
    model.alike_second = second;
}

/// Characters whose pairs are those of another one, and that one. `turn` says
/// which of a pair is looked at.
fn alike(
    model: &WidthModel,
    tolerance: i32,
    most: usize,
    letters: &HashMap<char, (usize, u64)>,
    turn: impl Fn((char, char)) -> (char, char),
) -> Leaders {
    let mut rows: BTreeMap<char, Row> = BTreeMap::new();
    for (pair, value) in &model.pairs {
        let (letter, other) = turn(*pair);
        rows.entry(letter).or_default().insert(other, *value);
    }
    let mut rows: Vec<(char, Row)> = rows.into_iter().collect();
    rows.sort_by_key(|(letter, _)| {
        let place = letters.get(letter).map(|(place, _)| *place);
        (place.unwrap_or(usize::MAX), *letter)
    });
    let mut leaders: Vec<(char, Row)> = Vec::new();
    let mut alike = HashMap::new();
    for (letter, row) in rows {
        let near = leaders
            .iter()
            .find(|(_, known)| near(known, &row, tolerance));
        let full = || {
            let nearest = leaders
                .iter()
                .min_by_key(|(_, known)| distance(known, &row, letters));
            nearest.filter(|_| leaders.len() >= most)
        };
        match near.or_else(full) {
            Some((leader, _)) => {
                alike.insert(letter, *leader);
            }
            None => leaders.push((letter, row)),
        }
    }
    alike
}

/// How far two rows are apart, each difference as often as its letter occurs.
fn distance(a: &Row, b: &Row, letters: &HashMap<char, (usize, u64)>) -> u64 {
    let weight = |letter: &char| letters.get(letter).map_or(1, |(_, weight)| *weight);
    let only_in_b = b.iter().filter(|(other, _)| !a.contains_key(other));
    let in_a = a.iter().map(|(other, value)| {
        let known = b.get(other).copied().unwrap_or(0);
        u64::from(value.abs_diff(known)) * weight(other)
    });
    let in_b = only_in_b.map(|(other, value)| u64::from(value.unsigned_abs()) * weight(other));
    in_a.sum::<u64>() + in_b.sum::<u64>()
}

/// Whether two rows differ by at most `tolerance` everywhere.
fn near(a: &Row, b: &Row, tolerance: i32) -> bool {
    if tolerance == 0 {
        return a == b;
    }
    let within = |a: &Row, b: &Row| {
        a.iter().all(|(other, value)| {
            let known = b.get(other).copied().unwrap_or(0);
            (value - known).abs() <= tolerance
        })
    };
    within(a, b) && within(b, a)
}

/// The groups of characters that are alike, each led by the one that stands for
/// the others.
pub fn groups(alike: &Leaders) -> Vec<String> {
    let mut groups: BTreeMap<char, BTreeSet<char>> = BTreeMap::new();
    for (letter, leader) in alike {
        groups.entry(*leader).or_default().insert(*letter);
    }
    groups
        .into_iter()
        .map(|(leader, letters)| std::iter::once(leader).chain(letters).collect())
        .collect()
}
