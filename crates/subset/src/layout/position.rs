//! Lookups of GPOS (OpenType 1.9.1, GPOS, lookup types 1 to 8).

use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

use super::common::{class_object, classes, coverage, coverage_object};
use super::context::{Classes, Context};
use super::substitution::kept;
use super::table::{LookupMap, Subtable};
use super::value::{Anchor, Shift, Value};
use crate::CutError;
use crate::bytes::{Object, View};
use crate::glyphs::GlyphMap;
use crate::variations::Remap;

type MaybeAnchor = Option<Arc<Anchor>>;

/// Corrections of the two glyphs of a pair.
type PairValue = (Value, Value);

/// A mark with its class and its anchor.
type Mark = (u16, (u16, MaybeAnchor));

/// A subtable of GPOS.
#[derive(Debug, Clone)]
pub(crate) enum Position {
    /// One glyph.
    Single(Vec<(u16, Value)>),
    /// Pairs of glyphs, by the first, then by the second.
    Pairs {
        pairs: Vec<(u16, Vec<(u16, PairValue)>)>,
        /// Whether the second glyph has values, so that it is stepped over.
        second: bool,
    },
    /// Pairs of classes: a row for each class of the first, a column for the second.
    ClassPairs {
        glyphs: Vec<u16>,
        first: Classes,
        second: Classes,
        rows: Vec<Vec<PairValue>>,
        /// Whether the second glyph has values, so that it is stepped over.
        steps_over: bool,
    },
    /// Entry and exit of joined glyphs.
    Cursive(Vec<(u16, [MaybeAnchor; 2])>),
    /// Marks on bases, or on other marks: an anchor of the base for each class.
    Marks {
        on_marks: bool,
        marks: Vec<Mark>,
        bases: Vec<(u16, Vec<MaybeAnchor>)>,
    },
    /// Marks on the parts of ligatures.
    LigatureMarks {
        marks: Vec<Mark>,
        ligatures: Vec<(u16, Vec<Vec<MaybeAnchor>>)>,
    },
    /// Other lookups in a context.
    Context(Context),
}

fn read_single(view: View<'_>) -> Result<Position, CutError> {
    let glyphs = coverage(view.follow16(2)?)?;
    let format = view.u16(4)?;
    let size = Value::size(format);
    let values = match view.u16(0)? {
        1 => {
            let value = Value::read(view, 6, format)?;
            glyphs
                .into_iter()
                .map(|glyph| (glyph, value.clone()))
                .collect()
        }
        2 => {
            let count = usize::from(view.u16(6)?);
            let read = |(index, glyph)| Ok((glyph, Value::read(view, 8 + index * size, format)?));
            (glyphs.into_iter().take(count).enumerate().map(read))
                .collect::<Result<_, CutError>>()?
        }
        _ => return Err(view.damaged("a single adjustment has an unknown format")),
    };
    Ok(Position::Single(values))
}

fn read_pairs(view: View<'_>) -> Result<Position, CutError> {
    let glyphs = coverage(view.follow16(2)?)?;
    let formats = [view.u16(4)?, view.u16(6)?];
    let [first_size, second_size] = formats.map(Value::size);
    let pair = |parent, at| -> Result<PairValue, CutError> {
        Ok((
            Value::read(parent, at, formats[0])?,
            Value::read(parent, at + first_size, formats[1])?,
        ))
    };
    match view.u16(0)? {
        1 => {
            let count = usize::from(view.u16(8)?);
            let mut pairs = Vec::new();
            for (index, glyph) in glyphs.into_iter().take(count).enumerate() {
                let set = view.follow16(10 + index * 2)?;
                let size = 2 + first_size + second_size;
                let read = |record: usize| {
                    let at = 2 + record * size;
                    set.spend(32)?;
                    Ok((set.u16(at)?, pair(set, at + 2)?))
                };
                let records = (0..usize::from(set.u16(0)?)).map(read);
                pairs.push((glyph, records.collect::<Result<_, CutError>>()?));
            }
            Ok(Position::Pairs {
                pairs,
                second: formats[1] & 0xff != 0,
            })
        }
        2 => {
            let definition = |at| match view.link16(at)? {
                Some(definition) => classes(definition),
                None => Ok(Classes::new()),
            };
            let (first, second) = (definition(8)?, definition(10)?);
            let (height, width) = (usize::from(view.u16(12)?), usize::from(view.u16(14)?));
            let size = first_size + second_size;
            view.spend(16 * height as u64 * width as u64)?;
            let rows = (0..height).map(|row| {
                let cell = |column| pair(view, 16 + (row * width + column) * size);
                (0..width).map(cell).collect()
            });
            Ok(Position::ClassPairs {
                glyphs,
                first,
                second,
                rows: rows.collect::<Result<_, CutError>>()?,
                steps_over: formats[1] & 0xff != 0,
            })
        }
        _ => Err(view.damaged("a pair adjustment has an unknown format")),
    }
}

/// `count` anchors from `at`.
fn anchors(view: View<'_>, at: usize, count: usize) -> Result<Vec<MaybeAnchor>, CutError> {
    view.spend(4 * count as u64)?;
    (0..count)
        .map(|index| Anchor::at(view, at + index * 2))
        .collect()
}

fn read_cursive(view: View<'_>) -> Result<Position, CutError> {
    if view.u16(0)? != 1 {
        return Err(view.damaged("a cursive attachment has an unknown format"));
    }
    let glyphs = coverage(view.follow16(2)?)?;
    let count = usize::from(view.u16(4)?);
    let read = |(index, glyph)| {
        let at = 6 + index * 4;
        Ok((glyph, [Anchor::at(view, at)?, Anchor::at(view, at + 2)?]))
    };
    let records = glyphs.into_iter().take(count).enumerate().map(read);
    Ok(Position::Cursive(records.collect::<Result<_, CutError>>()?))
}

/// Marks and bases: coverage tables, the count of classes, arrays.
fn read_marks(view: View<'_>, kind: u16) -> Result<Position, CutError> {
    if view.u16(0)? != 1 {
        return Err(view.damaged("a mark attachment has an unknown format"));
    }
    let glyphs = coverage(view.follow16(2)?)?;
    let array = view.follow16(8)?;
    let count = usize::from(array.u16(0)?);
    let read = |(index, glyph)| {
        let at = 2 + index * 4;
        Ok((glyph, (array.u16(at)?, Anchor::at(array, at + 2)?)))
    };
    let marks = glyphs.into_iter().take(count).enumerate().map(read);
    let marks = marks.collect::<Result<Vec<Mark>, CutError>>()?;
    let bases = coverage(view.follow16(4)?)?;
    let classes = usize::from(view.u16(6)?);
    let array = view.follow16(10)?;
    let count = usize::from(array.u16(0)?);
    let bases = bases.into_iter().take(count).enumerate();
    if kind == 5 {
        let read = |(index, glyph)| {
            let attach = array.follow16(2 + index * 2)?;
            let parts = usize::from(attach.u16(0)?);
            let part = |part| anchors(attach, 2 + part * classes * 2, classes);
            attach.spend(4 * parts as u64)?;
            Ok((
                glyph,
                (0..parts).map(part).collect::<Result<_, CutError>>()?,
            ))
        };
        return Ok(Position::LigatureMarks {
            marks,
            ligatures: bases.map(read).collect::<Result<_, CutError>>()?,
        });
    }
    let read = |(index, glyph)| Ok((glyph, anchors(array, 2 + index * classes * 2, classes)?));
    Ok(Position::Marks {
        on_marks: kind == 6,
        marks,
        bases: bases.map(read).collect::<Result<_, CutError>>()?,
    })
}

impl Subtable for Position {
    const TABLE: &'static str = "GPOS";
    const EXTENSION: u16 = 9;
    const PLACES: bool = true;

    fn read(kind: u16, view: View<'_>) -> Result<Option<Self>, CutError> {
        Ok(Some(match kind {
            1 => read_single(view)?,
            2 => read_pairs(view)?,
            3 => read_cursive(view)?,
            4..=6 => read_marks(view, kind)?,
            7 => Position::Context(Context::read(view, false)?),
            8 => Position::Context(Context::read(view, true)?),
            _ => return Ok(None),
        }))
    }

    fn context(&self) -> Option<&Context> {
        match self {
            Position::Context(context) => Some(context),
            _ => None,
        }
    }

    fn kind(&self) -> u16 {
        match self {
            Position::Single(_) => 1,
            Position::Pairs { .. } | Position::ClassPairs { .. } => 2,
            Position::Cursive(_) => 3,
            Position::Marks { on_marks, .. } => {
                if *on_marks {
                    6
                } else {
                    4
                }
            }
            Position::LigatureMarks { .. } => 5,
            Position::Context(context) => context.kind([7, 8]),
        }
    }

    fn cut(&self, map: &GlyphMap) -> Option<Self> {
        Some(match self {
            Position::Single(of) => Position::Single(kept(of, map, |value| Some(value.clone()))?),
            Position::Pairs { pairs, second } => {
                let some = |pairs: &Vec<(u16, PairValue)>| kept(pairs, map, |v| Some(v.clone()));
                Position::Pairs {
                    pairs: kept(pairs, map, some)?,
                    second: *second,
                }
            }
            Position::ClassPairs { .. } => {
                let kept = KeptPairs::of(self, map)?;
                let columns = Columns::of(&[&kept]);
                kept.finish(&columns)?
            }
            Position::Cursive(of) => Position::Cursive(kept(of, map, |ends| Some(ends.clone()))?),
            Position::Marks {
                on_marks,
                marks,
                bases,
            } => {
                let (marks, classes) = cut_marks(marks, map)?;
                let pick = |anchors: &Vec<MaybeAnchor>| picked(anchors, &classes);
                Position::Marks {
                    on_marks: *on_marks,
                    marks,
                    bases: kept(bases, map, |anchors| Some(pick(anchors)))?,
                }
            }
            Position::LigatureMarks { marks, ligatures } => {
                let (marks, classes) = cut_marks(marks, map)?;
                let pick = |parts: &Vec<Vec<MaybeAnchor>>| {
                    Some(parts.iter().map(|part| picked(part, &classes)).collect())
                };
                Position::LigatureMarks {
                    marks,
                    ligatures: kept(ligatures, map, pick)?,
                }
            }
            Position::Context(context) => Position::Context(context.cut(map)?),
        })
    }

    fn cut_lookup(subtables: &[Self], map: &GlyphMap) -> Vec<Self> {
        cut_subtables(subtables, map)
    }

    fn object(&self, lookups: &LookupMap, remap: &Remap) -> Object {
        match self {
            Position::Single(of) => single_object(of, remap),
            Position::Pairs { pairs, second } => pairs_object(pairs, *second, remap),
            Position::ClassPairs {
                glyphs,
                first,
                second,
                rows,
                steps_over,
            } => {
                let formats = pair_formats(rows.iter().flatten(), *steps_over);
                let mut object = Object::new();
                object.u16(2).link16(coverage_object(glyphs));
                object.u16(formats[0]).u16(formats[1]);
                object
                    .link16(class_object(first))
                    .link16(class_object(second));
                object
                    .count(rows.len())
                    .count(rows.first().map_or(0, Vec::len));
                for (one, other) in rows.iter().flatten() {
                    one.write(&mut object, formats[0], remap);
                    other.write(&mut object, formats[1], remap);
                }
                object
            }
            Position::Cursive(of) => {
                let glyphs: Vec<u16> = of.iter().map(|(glyph, _)| *glyph).collect();
                let mut object = Object::new();
                object
                    .u16(1)
                    .link16(coverage_object(&glyphs))
                    .count(of.len());
                write_anchors(&mut object, of.iter().flat_map(|(_, ends)| ends), remap);
                object
            }
            Position::Marks { marks, bases, .. } => {
                let mut array = Object::new();
                array.count(bases.len());
                write_anchors(
                    &mut array,
                    bases.iter().flat_map(|(_, anchors)| anchors),
                    remap,
                );
                let glyphs: Vec<u16> = bases.iter().map(|(glyph, _)| *glyph).collect();
                marks_object(marks, &glyphs, array, remap)
            }
            Position::LigatureMarks { marks, ligatures } => {
                let mut array = Object::new();
                array.count(ligatures.len());
                for (_, parts) in ligatures {
                    let mut attach = Object::new();
                    attach.count(parts.len());
                    write_anchors(&mut attach, parts.iter().flatten(), remap);
                    array.link16(attach);
                }
                let glyphs: Vec<u16> = ligatures.iter().map(|(glyph, _)| *glyph).collect();
                marks_object(marks, &glyphs, array, remap)
            }
            Position::Context(context) => context.object(lookups),
        }
    }

    fn variations(&self, visit: &mut dyn FnMut(u16, u16)) {
        let mut anchor = |anchor: &MaybeAnchor| {
            if let Some(anchor) = anchor {
                anchor.variations(visit);
            }
        };
        match self {
            Position::Single(of) => {
                for (_, value) in of {
                    value.variations(visit);
                }
            }
            Position::Pairs { pairs, .. } => {
                for (_, (one, other)) in pairs.iter().flat_map(|(_, pairs)| pairs) {
                    one.variations(visit);
                    other.variations(visit);
                }
            }
            Position::ClassPairs { rows, .. } => {
                for (one, other) in rows.iter().flatten() {
                    one.variations(visit);
                    other.variations(visit);
                }
            }
            Position::Cursive(of) => of.iter().flat_map(|(_, ends)| ends).for_each(anchor),
            Position::Marks { marks, bases, .. } => {
                marks.iter().for_each(|(_, (_, of))| anchor(of));
                bases.iter().flat_map(|(_, of)| of).for_each(anchor);
            }
            Position::LigatureMarks { marks, ligatures } => {
                marks.iter().for_each(|(_, (_, of))| anchor(of));
                (ligatures.iter().flat_map(|(_, parts)| parts).flatten()).for_each(anchor);
            }
            Position::Context(_) => {}
        }
    }

    fn shift(&mut self, by: Shift<'_>) {
        let mut anchor = |anchor: &mut MaybeAnchor| {
            if let Some(anchor) = anchor {
                Arc::make_mut(anchor).shift(by);
            }
        };
        match self {
            Position::Single(of) => of.iter_mut().for_each(|(_, value)| value.shift(by)),
            Position::Pairs { pairs, .. } => {
                for (_, (one, other)) in pairs.iter_mut().flat_map(|(_, pairs)| pairs) {
                    one.shift(by);
                    other.shift(by);
                }
            }
            Position::ClassPairs { rows, .. } => {
                for (one, other) in rows.iter_mut().flatten() {
                    one.shift(by);
                    other.shift(by);
                }
            }
            Position::Cursive(of) => of.iter_mut().flat_map(|(_, ends)| ends).for_each(anchor),
            Position::Marks { marks, bases, .. } => {
                marks.iter_mut().for_each(|(_, (_, of))| anchor(of));
                bases.iter_mut().flat_map(|(_, of)| of).for_each(anchor);
            }
            Position::LigatureMarks { marks, ligatures } => {
                marks.iter_mut().for_each(|(_, (_, of))| anchor(of));
                (ligatures.iter_mut().flat_map(|(_, parts)| parts).flatten()).for_each(anchor);
            }
            Position::Context(_) => {}
        }
    }
}

/// The marks that stay, their classes numbered anew, and the old classes in the new
/// order.
fn cut_marks(marks: &[Mark], map: &GlyphMap) -> Option<(Vec<Mark>, Vec<u16>)> {
    let marks = kept(marks, map, |mark| Some(mark.clone()))?;
    let classes: BTreeSet<u16> = marks.iter().map(|(_, (class, _))| *class).collect();
    let classes: Vec<u16> = classes.into_iter().collect();
    let new = |class: u16| classes.binary_search(&class).unwrap_or(0) as u16;
    let marks = (marks.into_iter())
        .map(|(glyph, (class, anchor))| (glyph, (new(class), anchor)))
        .collect();
    Some((marks, classes))
}

fn picked(anchors: &[MaybeAnchor], classes: &[u16]) -> Vec<MaybeAnchor> {
    (classes.iter())
        .map(|class| anchors.get(usize::from(*class)).cloned().flatten())
        .collect()
}

/// Pairs of classes with the glyphs that stay, before their classes are numbered anew.
struct KeptPairs<'a> {
    /// The first glyphs of pairs with their classes.
    glyphs: Vec<(u16, u16)>,
    second: Classes,
    rows: &'a [Vec<PairValue>],
    steps_over: bool,
}

/// Old classes of second glyphs by the column that they are now.
struct Columns {
    /// The old class of each column.
    old: Vec<u16>,
    new: BTreeMap<u16, u16>,
}

impl<'a> KeptPairs<'a> {
    fn of(subtable: &'a Position, map: &GlyphMap) -> Option<Self> {
        let Position::ClassPairs {
            glyphs,
            first,
            second,
            rows,
            steps_over,
        } = subtable
        else {
            return None;
        };
        let class = |glyph: u16| first.get(&glyph).copied().unwrap_or(0);
        let mut glyphs: Vec<(u16, u16)> = (glyphs.iter())
            .filter_map(|glyph| Some((map.get(*glyph)?, class(*glyph))))
            .filter(|(_, class)| usize::from(*class) < rows.len())
            .collect();
        glyphs.sort_unstable();
        glyphs.dedup_by_key(|(glyph, _)| *glyph);
        let width = rows.first().map_or(0, Vec::len);
        let second: Classes = (second.iter())
            .filter(|(_, class)| usize::from(**class) < width)
            .filter_map(|(glyph, class)| Some((map.get(*glyph)?, *class)))
            .collect();
        (!glyphs.is_empty() && width > 0).then_some(KeptPairs {
            glyphs,
            second,
            rows,
            steps_over: *steps_over,
        })
    }

    fn used_rows(&self) -> BTreeSet<u16> {
        self.glyphs.iter().map(|(_, class)| *class).collect()
    }

    /// Whether one definition of second classes serves both.
    fn shares_classes(&self, other: &Self) -> bool {
        self.second == other.second && self.rows[0].len() == other.rows[0].len()
    }

    /// With the columns that are left: of rows that have become alike one stays.
    fn finish(self, columns: &Columns) -> Option<Position> {
        // The row of most glyphs is class 0, which needs no entry.
        let mut row_of: BTreeMap<u16, usize> = BTreeMap::new();
        let mut distinct: Vec<Vec<PairValue>> = Vec::new();
        let mut known: BTreeMap<Vec<PairValue>, usize> = BTreeMap::new();
        for old in self.used_rows() {
            let row: Vec<PairValue> = (columns.old.iter())
                .map(|column| self.rows[usize::from(old)][usize::from(*column)].clone())
                .collect();
            let index = *known.entry(row.clone()).or_insert_with(|| {
                distinct.push(row);
                distinct.len() - 1
            });
            row_of.insert(old, index);
        }
        let mut sizes = vec![0usize; distinct.len()];
        for (_, class) in &self.glyphs {
            sizes[row_of[class]] += 1;
        }
        let largest = (0..sizes.len()).max_by_key(|row| (sizes[*row], usize::MAX - row))?;
        distinct.swap(0, largest);
        let place = |row: usize| match row {
            _ if row == largest => 0,
            0 => largest,
            _ => row,
        };
        let first: Classes = (self.glyphs.iter())
            .map(|(glyph, class)| (*glyph, place(row_of[class]) as u16))
            .filter(|(_, class)| *class != 0)
            .collect();
        let second: Classes = (self.second.into_iter())
            .map(|(glyph, class)| (glyph, columns.new[&class]))
            .filter(|(_, class)| *class != 0)
            .collect();
        Some(Position::ClassPairs {
            glyphs: self.glyphs.into_iter().map(|(glyph, _)| glyph).collect(),
            first,
            second,
            rows: distinct,
            steps_over: self.steps_over,
        })
    }
}

impl Columns {
    /// Class 0 first, then those in use; those that are equal in all of `tables`, which
    /// share their classes, become one.
    fn of(tables: &[&KeptPairs<'_>]) -> Self {
        let rows: Vec<&[PairValue]> = (tables.iter())
            .flat_map(|table| {
                table
                    .used_rows()
                    .into_iter()
                    .map(|row| &table.rows[usize::from(row)][..])
            })
            .collect();
        let used: BTreeSet<u16> = (tables.iter())
            .flat_map(|table| table.second.values().copied())
            .collect();
        let mut columns = Columns {
            old: Vec::new(),
            new: BTreeMap::new(),
        };
        let mut seen: BTreeMap<Vec<&PairValue>, u16> = BTreeMap::new();
        for old in std::iter::once(0).chain(used) {
            let cells: Vec<&PairValue> = rows.iter().map(|row| &row[usize::from(old)]).collect();
            let new = *seen.entry(cells).or_insert_with(|| {
                columns.old.push(old);
                columns.old.len() as u16 - 1
            });
            columns.new.insert(old, new);
        }
        columns
    }
}

/// The subtables of a lookup with the glyphs that stay. Subtables that share a definition
/// of classes keep sharing it: it is written once, and packed better than several.
fn cut_subtables(subtables: &[Position], map: &GlyphMap) -> Vec<Position> {
    let kept: Vec<Option<KeptPairs<'_>>> = (subtables.iter())
        .map(|subtable| KeptPairs::of(subtable, map))
        .collect();
    let pairs: Vec<&KeptPairs<'_>> = kept.iter().flatten().collect();
    let mut groups: Vec<Vec<&KeptPairs<'_>>> = Vec::new();
    let mut group_of: Vec<usize> = Vec::new();
    for table in pairs {
        let shared = groups
            .iter()
            .position(|group| group[0].shares_classes(table));
        let group = shared.unwrap_or(groups.len());
        if shared.is_none() {
            groups.push(Vec::new());
        }
        groups[group].push(table);
        group_of.push(group);
    }
    let columns: Vec<Columns> = groups.iter().map(|group| Columns::of(group)).collect();
    let mut group_of = group_of.into_iter();
    (subtables.iter().zip(kept))
        .filter_map(|(subtable, kept)| match kept {
            Some(kept) => kept.finish(&columns[group_of.next()?]),
            None => subtable.cut(map),
        })
        .collect()
}

/// The least formats that hold all values of a subtable.
fn pair_formats<'p>(values: impl Iterator<Item = &'p PairValue>, steps_over: bool) -> [u16; 2] {
    let mut formats = [0, 0];
    for (one, other) in values {
        formats[0] |= one.format();
        formats[1] |= other.format();
    }
    if steps_over && formats[1] == 0 {
        // An x advance of 0, so that the second glyph is still stepped over.
        formats[1] = 4;
    }
    formats
}

fn single_object(of: &[(u16, Value)], remap: &Remap) -> Object {
    let glyphs: Vec<u16> = of.iter().map(|(glyph, _)| *glyph).collect();
    let format = of
        .iter()
        .fold(0, |format, (_, value)| format | value.format());
    let same = of.windows(2).all(|pair| pair[0].1 == pair[1].1);
    let mut object = Object::new();
    object.u16(if same { 1 } else { 2 });
    object.link16(coverage_object(&glyphs)).u16(format);
    if !same {
        object.count(of.len());
    }
    for (_, value) in of.iter().take(if same { 1 } else { of.len() }) {
        value.write(&mut object, format, remap);
    }
    object
}

fn pairs_object(pairs: &[(u16, Vec<(u16, PairValue)>)], second: bool, remap: &Remap) -> Object {
    let values = pairs.iter().flat_map(|(_, set)| set.iter().map(|(_, v)| v));
    let formats = pair_formats(values, second);
    let glyphs: Vec<u16> = pairs.iter().map(|(glyph, _)| *glyph).collect();
    let mut object = Object::new();
    object.u16(1).link16(coverage_object(&glyphs));
    object.u16(formats[0]).u16(formats[1]).count(pairs.len());
    for (_, records) in pairs {
        let mut set = Object::new();
        set.count(records.len());
        for (glyph, (one, other)) in records {
            set.u16(*glyph);
            one.write(&mut set, formats[0], remap);
            other.write(&mut set, formats[1], remap);
        }
        object.link16(set);
    }
    object
}

fn write_anchors<'a>(
    object: &mut Object,
    anchors: impl Iterator<Item = &'a MaybeAnchor>,
    remap: &Remap,
) {
    for anchor in anchors {
        object.maybe16(anchor.as_ref().map(|anchor| anchor.object(remap)));
    }
}

fn marks_object(marks: &[Mark], bases: &[u16], array: Object, remap: &Remap) -> Object {
    let glyphs: Vec<u16> = marks.iter().map(|(glyph, _)| *glyph).collect();
    let classes = marks.iter().map(|(_, (class, _))| *class + 1).max();
    let mut object = Object::new();
    object.u16(1).link16(coverage_object(&glyphs));
    object.link16(coverage_object(bases));
    object.u16(classes.unwrap_or(0));
    let mut marks_array = Object::new();
    marks_array.count(marks.len());
    for (_, (class, anchor)) in marks {
        marks_array.u16(*class);
        marks_array.maybe16(anchor.as_ref().map(|anchor| anchor.object(remap)));
    }
    object.link16(marks_array).link16(array);
    object
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::glyphs::GlyphSet;

    fn advance(value: i16) -> PairValue {
        let moved = Value {
            values: [0, 0, value, 0],
            ..Value::default()
        };
        (moved, Value::default())
    }

    fn table(glyph: u16, values: [i16; 3]) -> Position {
        Position::ClassPairs {
            glyphs: vec![glyph],
            first: Classes::new(),
            second: Classes::from([(10, 1), (11, 2), (12, 2)]),
            rows: vec![values.map(advance).to_vec()],
            steps_over: false,
        }
    }

    fn classes(of: &Position) -> (&Classes, usize) {
        let Position::ClassPairs { second, rows, .. } = of else {
            panic!("no pairs of classes")
        };
        (second, rows[0].len())
    }

    #[test]
    fn subtables_that_share_classes_still_do() {
        let all: GlyphSet = (0..20).collect();
        let map = GlyphMap::of(&all);
        // The first has nothing to say of class 2, the second nothing of class 1.
        let tables = [table(1, [0, 5, 0]), table(2, [0, 0, 7])];
        let cut = cut_subtables(&tables, &map);
        assert_eq!(classes(&cut[0]), classes(&cut[1]));
        assert_eq!(classes(&cut[0]).1, 3);
        // Alone, what is like class 0 goes.
        let alone = cut_subtables(&tables[..1], &map);
        assert_eq!(classes(&alone[0]), (&Classes::from([(10, 1)]), 2));
    }

    #[test]
    fn subtables_of_other_classes_are_cut_apart() {
        let few: GlyphSet = [1, 2, 10].into_iter().collect();
        let map = GlyphMap::of(&few);
        let cut = cut_subtables(&[table(1, [0, 5, 0]), Position::Single(Vec::new())], &map);
        assert_eq!(cut.len(), 1);
        assert_eq!(classes(&cut[0]), (&Classes::from([(2, 1)]), 2));
    }
}
