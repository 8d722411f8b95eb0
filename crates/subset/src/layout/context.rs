//! Contextual lookups, plain and chained, which GSUB and GPOS share (OpenType 1.9.1,
//! "Common Structures for Contextual Lookup Subtables").

use std::collections::{BTreeMap, BTreeSet};

use super::common::{class_object, classes, coverage, coverage_object, kept_set};
use super::table::LookupMap;
use crate::CutError;
use crate::bytes::{Object, View};
use crate::glyphs::GlyphMap;

/// A lookup to apply at a position of the input sequence.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct Record {
    pub(crate) position: u16,
    pub(crate) lookup: u16,
}

/// A rule of glyphs or of classes. The first of the input is its set's.
#[derive(Debug, Clone)]
pub(crate) struct Rule {
    pub(crate) backtrack: Vec<u16>,
    pub(crate) input: Vec<u16>,
    pub(crate) lookahead: Vec<u16>,
    pub(crate) records: Vec<Record>,
}

/// The classes of glyphs that are not in class 0.
pub(crate) type Classes = BTreeMap<u16, u16>;

/// A contextual subtable.
#[derive(Debug, Clone)]
pub(crate) struct Context {
    /// Whether it has backtrack and lookahead.
    chained: bool,
    pub(crate) rules: Rules,
}

/// What a contextual subtable looks for.
#[derive(Debug, Clone)]
pub(crate) enum Rules {
    /// Sequences of glyphs, by their first glyph.
    Glyphs(Vec<(u16, Vec<Rule>)>),
    /// Sequences of classes, by the class of the first glyph, which is in `first`.
    Classes {
        first: Vec<u16>,
        backtrack: Classes,
        input: Classes,
        lookahead: Classes,
        sets: Vec<Vec<Rule>>,
    },
    /// One sequence of sets of glyphs.
    Sets {
        backtrack: Vec<Vec<u16>>,
        input: Vec<Vec<u16>>,
        lookahead: Vec<Vec<u16>>,
        records: Vec<Record>,
    },
}

/// Reads one thing after the other.
struct Cursor<'a> {
    view: View<'a>,
    at: usize,
}

impl Cursor<'_> {
    fn u16(&mut self) -> Result<u16, CutError> {
        self.at += 2;
        self.view.u16(self.at - 2)
    }

    /// A count, less `less`, and as many values.
    fn values(&mut self, less: usize) -> Result<Vec<u16>, CutError> {
        let count = usize::from(self.u16()?).saturating_sub(less);
        self.at += count * 2;
        self.view.u16s(self.at - count * 2, count)
    }

    fn records(&mut self, count: usize) -> Result<Vec<Record>, CutError> {
        (0..count)
            .map(|_| {
                Ok(Record {
                    position: self.u16()?,
                    lookup: self.u16()?,
                })
            })
            .collect()
    }

    fn sets(&mut self, count: usize) -> Result<Vec<Vec<u16>>, CutError> {
        (0..count)
            .map(|_| {
                self.at += 2;
                coverage(self.view.follow16(self.at - 2)?)
            })
            .collect()
    }
}

fn read_rule(view: View<'_>, chained: bool) -> Result<Rule, CutError> {
    // What a rule costs in memory, however short it is.
    view.spend(8)?;
    let mut cursor = Cursor { view, at: 0 };
    if chained {
        let backtrack = cursor.values(0)?;
        let input = cursor.values(1)?;
        let lookahead = cursor.values(0)?;
        let count = usize::from(cursor.u16()?);
        return Ok(Rule {
            backtrack,
            input,
            lookahead,
            records: cursor.records(count)?,
        });
    }
    let glyphs = usize::from(cursor.u16()?).saturating_sub(1);
    let count = usize::from(cursor.u16()?);
    let input = view.u16s(4, glyphs)?;
    cursor.at += glyphs * 2;
    Ok(Rule {
        backtrack: Vec::new(),
        input,
        lookahead: Vec::new(),
        records: cursor.records(count)?,
    })
}

/// The sets of rules whose count is at `at`, their offsets behind it.
fn read_sets(view: View<'_>, at: usize, chained: bool) -> Result<Vec<Vec<Rule>>, CutError> {
    let count = usize::from(view.u16(at)?);
    let mut sets = Vec::new();
    for index in 0..count {
        view.spend(4)?;
        let Some(set) = view.link16(at + 2 + index * 2)? else {
            sets.push(Vec::new());
            continue;
        };
        let rules = usize::from(set.u16(0)?);
        let read = |rule| read_rule(set.follow16(2 + rule * 2)?, chained);
        sets.push((0..rules).map(read).collect::<Result<_, _>>()?);
    }
    Ok(sets)
}

impl Context {
    pub(crate) fn read(view: View<'_>, chained: bool) -> Result<Self, CutError> {
        let rules = match view.u16(0)? {
            1 => {
                let first = coverage(view.follow16(2)?)?;
                let sets = read_sets(view, 4, chained)?;
                Rules::Glyphs(first.into_iter().zip(sets).collect())
            }
            2 => {
                let first = coverage(view.follow16(2)?)?;
                let at = |at| match view.link16(at)? {
                    Some(definition) => classes(definition),
                    None => Ok(Classes::new()),
                };
                let (backtrack, input, lookahead, sets) = if chained {
                    (at(4)?, at(6)?, at(8)?, read_sets(view, 10, chained)?)
                } else {
                    let sets = read_sets(view, 6, chained)?;
                    (Classes::new(), at(4)?, Classes::new(), sets)
                };
                Rules::Classes {
                    first,
                    backtrack,
                    input,
                    lookahead,
                    sets,
                }
            }
            3 => {
                let mut cursor = Cursor { view, at: 2 };
                if chained {
                    let mut sets = || {
                        let count = usize::from(cursor.u16()?);
                        cursor.sets(count)
                    };
                    let (backtrack, input, lookahead) = (sets()?, sets()?, sets()?);
                    let count = usize::from(cursor.u16()?);
                    Rules::Sets {
                        backtrack,
                        input,
                        lookahead,
                        records: cursor.records(count)?,
                    }
                } else {
                    let (glyphs, count) = (cursor.u16()?, cursor.u16()?);
                    Rules::Sets {
                        backtrack: Vec::new(),
                        input: cursor.sets(usize::from(glyphs))?,
                        lookahead: Vec::new(),
                        records: cursor.records(usize::from(count))?,
                    }
                }
            }
            _ => return Err(view.damaged("a contextual lookup has an unknown format")),
        };
        Ok(Context { chained, rules })
    }

    /// Its lookup type, of those of plain and of chained contexts.
    pub(crate) fn kind(&self, [plain, chained]: [u16; 2]) -> u16 {
        if self.chained { chained } else { plain }
    }

    /// All lookups that it applies.
    pub(crate) fn lookups(&self) -> Box<dyn Iterator<Item = u16> + '_> {
        let of = |rules: &'_ [Rule]| -> Vec<u16> {
            let records = rules.iter().flat_map(|rule| &rule.records);
            records.map(|record| record.lookup).collect()
        };
        match &self.rules {
            Rules::Glyphs(sets) => Box::new(sets.iter().flat_map(move |(_, rules)| of(rules))),
            Rules::Classes { sets, .. } => Box::new(sets.iter().flat_map(move |rules| of(rules))),
            Rules::Sets { records, .. } => Box::new(records.iter().map(|record| record.lookup)),
        }
    }

    /// What is left of it with the glyphs that stay; `None` where it matches nothing.
    /// Rules that apply nothing stay: they keep later ones from matching.
    pub(crate) fn cut(&self, map: &GlyphMap) -> Option<Self> {
        let rules = match &self.rules {
            Rules::Glyphs(sets) => {
                let glyphs = |old: &[u16]| -> Option<Vec<u16>> {
                    old.iter().map(|glyph| map.get(*glyph)).collect()
                };
                let cut = |rule: &Rule| {
                    Some(Rule {
                        backtrack: glyphs(&rule.backtrack)?,
                        input: glyphs(&rule.input)?,
                        lookahead: glyphs(&rule.lookahead)?,
                        records: rule.records.clone(),
                    })
                };
                let mut kept: Vec<(u16, Vec<Rule>)> = (sets.iter())
                    .filter_map(|(first, rules)| {
                        let rules: Vec<Rule> = rules.iter().filter_map(cut).collect();
                        Some((map.get(*first)?, rules)).filter(|(_, rules)| !rules.is_empty())
                    })
                    .collect();
                kept.sort_by_key(|(glyph, _)| *glyph);
                kept.dedup_by_key(|(glyph, _)| *glyph);
                Rules::Glyphs(kept).some()?
            }
            Rules::Classes {
                first,
                backtrack,
                input,
                lookahead,
                sets,
            } => cut_classes(map, first, [backtrack, input, lookahead], sets)?,
            Rules::Sets {
                backtrack,
                input,
                lookahead,
                records,
            } => {
                let cut = |sets: &[Vec<u16>]| -> Option<Vec<Vec<u16>>> {
                    sets.iter().map(|set| kept_set(set, map)).collect()
                };
                Rules::Sets {
                    backtrack: cut(backtrack)?,
                    input: cut(input)?,
                    lookahead: cut(lookahead)?,
                    records: records.clone(),
                }
            }
        };
        Some(Context {
            chained: self.chained,
            rules,
        })
    }

    pub(crate) fn object(&self, lookups: &LookupMap) -> Object {
        let mut object = Object::new();
        match &self.rules {
            Rules::Glyphs(sets) => {
                let first: Vec<u16> = sets.iter().map(|(glyph, _)| *glyph).collect();
                object.u16(1).link16(coverage_object(&first));
                self.write_sets(&mut object, sets.iter().map(|(_, rules)| rules), lookups);
            }
            Rules::Classes {
                first,
                backtrack,
                input,
                lookahead,
                sets,
            } => {
                object.u16(2).link16(coverage_object(first));
                if self.chained {
                    object.link16(class_object(backtrack));
                }
                object.link16(class_object(input));
                if self.chained {
                    object.link16(class_object(lookahead));
                }
                self.write_sets(&mut object, sets.iter(), lookups);
            }
            Rules::Sets {
                backtrack,
                input,
                lookahead,
                records,
            } => {
                let records = kept_records(records, lookups);
                object.u16(3);
                if self.chained {
                    for sets in [backtrack, input, lookahead] {
                        object.count(sets.len());
                        for set in sets {
                            object.link16(coverage_object(set));
                        }
                    }
                    object.count(records.len());
                } else {
                    object.count(input.len()).count(records.len());
                    for set in input {
                        object.link16(coverage_object(set));
                    }
                }
                write_records(&mut object, &records);
            }
        }
        object
    }

    fn write_sets<'r>(
        &self,
        object: &mut Object,
        sets: impl ExactSizeIterator<Item = &'r Vec<Rule>>,
        lookups: &LookupMap,
    ) {
        object.count(sets.len());
        for rules in sets {
            if rules.is_empty() {
                object.u16(0);
                continue;
            }
            let mut set = Object::new();
            set.count(rules.len());
            for rule in rules {
                set.link16(self.rule_object(rule, lookups));
            }
            object.link16(set);
        }
    }

    fn rule_object(&self, rule: &Rule, lookups: &LookupMap) -> Object {
        let mut object = Object::new();
        let records = kept_records(&rule.records, lookups);
        if self.chained {
            object.count(rule.backtrack.len());
            object.u16s(rule.backtrack.iter().copied());
            object.count(rule.input.len() + 1);
            object.u16s(rule.input.iter().copied());
            object.count(rule.lookahead.len());
            object.u16s(rule.lookahead.iter().copied());
            object.count(records.len());
        } else {
            object.count(rule.input.len() + 1).count(records.len());
            object.u16s(rule.input.iter().copied());
        }
        write_records(&mut object, &records);
        object
    }
}

impl Rules {
    /// Nothing where no rule is left.
    fn some(self) -> Option<Self> {
        match &self {
            Rules::Glyphs(sets) if sets.is_empty() => None,
            _ => Some(self),
        }
    }
}

/// The classes of glyphs that stay, numbered anew without holes, and the new number
/// of each old class.
fn renumbered(classes: &Classes, map: &GlyphMap) -> (Classes, BTreeMap<u16, u16>) {
    let kept: Classes = (classes.iter())
        .filter_map(|(glyph, class)| Some((map.get(*glyph)?, *class)))
        .collect();
    let used: BTreeSet<u16> = kept.values().copied().collect();
    let mut numbers = BTreeMap::from([(0, 0)]);
    numbers.extend(used.into_iter().zip(1..));
    let new = kept
        .into_iter()
        .map(|(glyph, class)| (glyph, numbers[&class]));
    (new.collect(), numbers)
}

fn cut_classes(
    map: &GlyphMap,
    first: &[u16],
    definitions: [&Classes; 3],
    sets: &[Vec<Rule>],
) -> Option<Rules> {
    let [(backtrack, back), (input, inner), (lookahead, ahead)] =
        definitions.map(|classes| renumbered(classes, map));
    let renumber = |classes: &[u16], numbers: &BTreeMap<u16, u16>| -> Option<Vec<u16>> {
        (classes.iter())
            .map(|class| numbers.get(class).copied())
            .collect()
    };
    let cut = |rule: &Rule| {
        Some(Rule {
            backtrack: renumber(&rule.backtrack, &back)?,
            input: renumber(&rule.input, &inner)?,
            lookahead: renumber(&rule.lookahead, &ahead)?,
            records: rule.records.clone(),
        })
    };
    let mut kept_sets: Vec<Vec<Rule>> = Vec::new();
    for (class, rules) in sets.iter().enumerate() {
        let Some(new) = u16::try_from(class)
            .ok()
            .and_then(|class| inner.get(&class))
        else {
            continue;
        };
        let new = usize::from(*new);
        kept_sets.resize_with(kept_sets.len().max(new + 1), Vec::new);
        kept_sets[new] = rules.iter().filter_map(cut).collect();
    }
    let first = kept_set(first, map)?;
    // Only what starts a rule needs to be looked at.
    let starts = |glyph: &u16| {
        let class = input.get(glyph).copied().unwrap_or(0);
        kept_sets
            .get(usize::from(class))
            .is_some_and(|rules| !rules.is_empty())
    };
    let first: Vec<u16> = first.into_iter().filter(starts).collect();
    (!first.is_empty()).then_some(Rules::Classes {
        first,
        backtrack,
        input,
        lookahead,
        sets: kept_sets,
    })
}

fn kept_records(records: &[Record], lookups: &LookupMap) -> Vec<Record> {
    let of = |record: &Record| {
        Some(Record {
            lookup: lookups.get(record.lookup)?,
            ..*record
        })
    };
    records.iter().filter_map(of).collect()
}

fn write_records(object: &mut Object, records: &[Record]) {
    for record in records {
        object.u16(record.position).u16(record.lookup);
    }
}
