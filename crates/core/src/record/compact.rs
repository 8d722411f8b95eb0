//! Making the tables of a card small: characters that are alike are told once,
//! and where that is not enough, corrections that hardly differ become one.

use std::collections::{BTreeMap, BTreeSet};

use foldhash::HashMap;

use tidy_lattice_glyphs::font::WidthModel;

use super::alphabets::Frequencies;

/// Characters and the one that stands for them.
type Leaders = HashMap<char, char>;

/// Corrections beside one character, by the other one.
type Row = BTreeMap<char, i32>;

/// How much to give up for a small card.
#[derive(Debug, Clone, Copy)]
pub struct Level {
    /// Corrections are rounded to multiples of this, in thousandths of an em;
    /// 0 leaves them as they are.
    pub quantum: f64,
    /// How many different rows, and how many different columns, the table of
    /// pairs may have; others become the nearest of these.
    pub rows: usize,
    /// Whether pairs of a small letter and a capital are kept; running text and
    /// headings have hardly any.
    pub small_capital: bool,
}

impl Level {
    const fn new(quantum: f64, rows: usize) -> Self {
        Level {
            quantum,
            rows,
            small_capital: false,
        }
    }

    /// From everything to the least.
    pub const ALL: [Level; 11] = [
        Level {
            quantum: 0.0,
            rows: usize::MAX,
            small_capital: true,
        },
        Level::new(0.0, usize::MAX),
        Level::new(1.0, 240),
        Level::new(2.0, 200),
        Level::new(3.0, 170),
        Level::new(4.0, 150),
        Level::new(5.0, 130),
        Level::new(6.0, 115),
        Level::new(6.0, 100),
        Level::new(8.0, 90),
        Level::new(8.0, 75),
    ];
}

/// Pairs and what they differ by.
type Pairs = HashMap<(char, char), i32>;

/// Makes `model` as small as `level` says. The most frequent characters keep
/// pairs of their own.
pub fn compact(model: &mut WidthModel, level: Level, units_per_em: u16, letters: &Frequencies) {
    let letters = letters.by_letter();
    let quantum = (level.quantum / 1000.0 * f64::from(units_per_em)).round() as i32;
    let round = |value: i32| match quantum {
        0 | 1 => value,
        _ => (f64::from(value) / f64::from(quantum)).round() as i32 * quantum,
    };
    if !level.small_capital {
        model
            .pairs
            .retain(|(first, second), _| !(first.is_lowercase() && second.is_uppercase()));
    }
    let merger = Merger {
        round: &round,
        most: level.rows,
        letters: &letters,
    };
    let (pairs, first) = merger.merge(&model.pairs, |pair| pair);
    let (mut pairs, second) = merger.merge(&pairs, |(first, second)| (second, first));
    pairs.values_mut().for_each(|value| *value = round(*value));
    pairs.retain(|_, value| *value != 0);
    model.pairs = pairs;
    model.alike_first = first;
    model.alike_second = second;
    model
        .runs
        .values_mut()
        .for_each(|value| *value = round(*value));
    model.runs.retain(|_, value| *value != 0);
}

/// Merges characters whose pairs are alike.
struct Merger<'a> {
    round: &'a dyn Fn(i32) -> i32,
    most: usize,
    letters: &'a HashMap<char, (usize, u64)>,
}

impl Merger<'_> {
    /// The pairs of `pairs` with fewer characters on one side, which `turn` turns
    /// to the front, and the characters that others now stand for.
    fn merge(
        &self,
        pairs: &Pairs,
        turn: impl Fn((char, char)) -> (char, char),
    ) -> (Pairs, Leaders) {
        let mut rows: BTreeMap<char, Row> = BTreeMap::new();
        for (pair, value) in pairs {
            let (letter, other) = turn(*pair);
            rows.entry(letter).or_default().insert(other, *value);
        }
        let mut rows: Vec<(char, Row)> = rows.into_iter().collect();
        rows.sort_by_key(|(letter, _)| {
            let place = self.letters.get(letter).map(|(place, _)| *place);
            (place.unwrap_or(usize::MAX), *letter)
        });
        let mut groups: Vec<Group> = Vec::new();
        let mut leaders = Leaders::default();
        for (letter, row) in rows {
            let rounded: Row = row
                .iter()
                .map(|(other, value)| (*other, (self.round)(*value)))
                .filter(|(_, value)| *value != 0)
                .collect();
            match self.place(&groups, &rounded) {
                Some(index) => {
                    leaders.insert(letter, groups[index].leader);
                    groups[index].members.push((letter, row));
                }
                None => groups.push(Group {
                    leader: letter,
                    rounded,
                    members: vec![(letter, row)],
                }),
            }
        }
        let mut merged = Pairs::default();
        for group in &groups {
            for (other, value) in self.mean(group) {
                merged.insert(turn((group.leader, other)), value);
            }
        }
        (merged, leaders)
    }

    /// The group for a row: one that is the same, or the nearest where there are
    /// enough groups.
    fn place(&self, groups: &[Group], rounded: &Row) -> Option<usize> {
        let same = groups.iter().position(|group| group.rounded == *rounded);
        let nearest = || {
            let mut nearest = None;
            let mut least = u64::MAX;
            for (index, group) in groups.iter().enumerate() {
                // Of those that are equally far the first.
                if let Some(far) = distance(&group.rounded, rounded, self.letters, least) {
                    (nearest, least) = (Some(index), far);
                }
            }
            nearest
        };
        same.or_else(|| (groups.len() >= self.most).then(nearest).flatten())
    }

    /// The mean of the members of a group, each as often as it occurs, so that
    /// texts as a whole keep their width.
    fn mean(&self, group: &Group) -> Row {
        if let [(_, only)] = group.members.as_slice() {
            return only.clone();
        }
        let weight =
            |letter: &char| self.letters.get(letter).map_or(1, |(_, weight)| *weight) as f64;
        let all: f64 = group.members.iter().map(|(letter, _)| weight(letter)).sum();
        let mut sums: BTreeMap<char, f64> = BTreeMap::new();
        for (letter, row) in &group.members {
            for (other, value) in row {
                *sums.entry(*other).or_default() += f64::from(*value) * weight(letter);
            }
        }
        let means = sums.into_iter();
        means
            .map(|(other, sum)| (other, (sum / all).round() as i32))
            .collect()
    }
}

/// Characters that share one row.
struct Group {
    leader: char,
    rounded: Row,
    members: Vec<(char, Row)>,
}

/// How far two rows are apart, each difference as often as its letter occurs; `None` where
/// that is not below `limit`.
fn distance(a: &Row, b: &Row, letters: &HashMap<char, (usize, u64)>, limit: u64) -> Option<u64> {
    let mut sum = 0;
    let (mut a, mut b) = (a.iter().peekable(), b.iter().peekable());
    loop {
        // Both are in order of their letters.
        let (letter, off) = match (a.peek(), b.peek()) {
            (None, None) => return (sum < limit).then_some(sum),
            (Some((letter, value)), Some((other, known))) if letter == other => {
                let step = (**letter, value.abs_diff(**known));
                a.next();
                b.next();
                step
            }
            (Some((letter, value)), other) if other.is_none_or(|(other, _)| letter < other) => {
                let step = (**letter, value.unsigned_abs());
                a.next();
                step
            }
            (_, other) => {
                let step = other.map_or((' ', 0), |(other, known)| (**other, known.unsigned_abs()));
                b.next();
                step
            }
        };
        if off > 0 {
            let weight = letters.get(&letter).map_or(1, |(_, weight)| *weight);
            sum += u64::from(off) * weight;
            if sum >= limit {
                return None;
            }
        }
    }
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
