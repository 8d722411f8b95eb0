//! Item variation stores: deltas along the axes, by region (OpenType 1.9.1,
//! "OpenType Font Variations Common Table Formats").

use std::collections::BTreeMap;

use crate::CutError;
use crate::bytes::{Object, View};
use crate::tents::{Region, Span, limited_region};

/// A delta for each region of the store.
pub(crate) type Row = Vec<i32>;

struct Data {
    regions: Vec<u16>,
    rows: Vec<Vec<i32>>,
}

/// An item variation store.
pub(crate) struct Store {
    axes: u16,
    regions: Vec<Region>,
    data: Vec<Data>,
}

/// The index of a glyph or a value that nothing varies.
pub(crate) const NONE: (u16, u16) = (u16::MAX, u16::MAX);

/// Where the delta sets that are kept have gone.
#[derive(Debug, Default)]
pub(crate) struct Remap(BTreeMap<(u16, u16), (u16, u16)>);

impl Remap {
    /// The new indices of a delta set; `None` where it is gone, or never was.
    pub(crate) fn get(&self, outer: u16, inner: u16) -> Option<(u16, u16)> {
        self.0.get(&(outer, inner)).copied()
    }
}

impl Store {
    pub(crate) fn read(view: View<'_>) -> Result<Self, CutError> {
        if view.u16(0)? != 1 {
            return Err(view.damaged("its variation store has an unknown format"));
        }
        let mut store = Store {
            axes: 0,
            regions: Vec::new(),
            data: Vec::new(),
        };
        if let Some(list) = view.link32(2)? {
            store.axes = list.u16(0)?;
            let axes = usize::from(store.axes);
            for region in 0..usize::from(list.u16(2)?) {
                list.spend(4)?;
                let axis = |axis: usize| -> Result<[i16; 3], CutError> {
                    let at = 4 + (region * axes + axis) * 6;
                    Ok([list.i16(at)?, list.i16(at + 2)?, list.i16(at + 4)?])
                };
                (store.regions).push((0..axes).map(axis).collect::<Result<_, _>>()?);
            }
        }
        for index in 0..usize::from(view.u16(6)?) {
            let data = match view.link32(8 + index * 4)? {
                Some(data) => read_data(data)?,
                None => Data {
                    regions: Vec::new(),
                    rows: Vec::new(),
                },
            };
            store.data.push(data);
        }
        Ok(store)
    }

    /// The deltas of a set for each region; `None` where there is no such set.
    pub(crate) fn row(&self, outer: u16, inner: u16) -> Option<Row> {
        let data = self.data.get(usize::from(outer))?;
        let deltas = data.rows.get(usize::from(inner))?;
        let mut row = vec![0; self.regions.len()];
        for (region, delta) in data.regions.iter().zip(deltas) {
            *row.get_mut(usize::from(*region))? = *delta;
        }
        Some(row)
    }

    /// A row that varies nothing.
    pub(crate) fn zeros(&self) -> Row {
        vec![0; self.regions.len()]
    }

    /// The store with the delta sets that are used, and where they have gone.
    pub(crate) fn cut(
        &self,
        used: impl IntoIterator<Item = (u16, u16)>,
    ) -> Result<(Option<Vec<u8>>, Remap), CutError> {
        let mut sets: BTreeMap<Row, Vec<(u16, u16)>> = BTreeMap::new();
        for (outer, inner) in used {
            // What varies nothing needs no place.
            if let Some(row) = self
                .row(outer, inner)
                .filter(|row| row.iter().any(|d| *d != 0))
            {
                let known = sets.entry(row).or_default();
                if !known.contains(&(outer, inner)) {
                    known.push((outer, inner));
                }
            }
        }
        if sets.is_empty() {
            return Ok((None, Remap::default()));
        }
        let rows: Vec<&Row> = sets.keys().collect();
        let (object, places) = self.encode(&rows);
        let mut remap = Remap::default();
        for (place, old) in places.iter().zip(sets.values()) {
            remap.0.extend(old.iter().map(|old| (*old, *place)));
        }
        Ok((Some(object.pack("GDEF")?), remap))
    }

    /// A store of `rows`, and the place of each.
    pub(crate) fn encode(&self, rows: &[&Row]) -> (Object, Vec<(u16, u16)>) {
        let groups = grouped(rows);
        let mut used: Vec<usize> = (groups.iter())
            .flat_map(|group| (0..group.shape.len()).filter(|column| group.shape[*column] > 0))
            .collect();
        used.sort_unstable();
        used.dedup();
        let mut list = Object::new();
        list.u16(self.axes).count(used.len());
        for axis in used.iter().flat_map(|region| &self.regions[*region]) {
            for value in axis {
                list.i16(*value);
            }
        }
        let mut places = vec![NONE; rows.len()];
        let mut data = Vec::new();
        for group in &groups {
            // An inner index has 16 bits, and 65,535 is taken.
            for part in group.rows.chunks(0xFFFE) {
                for (inner, row) in part.iter().enumerate() {
                    places[*row] = (data.len() as u16, inner as u16);
                }
                data.push(group.object(part, rows, &used));
            }
        }
        let mut object = Object::new();
        object.u16(1).link32(list).count(data.len());
        for part in data {
            object.link32(part);
        }
        (object, places)
    }

    /// A store with one delta set for each of `rows`, in their order.
    pub(crate) fn encode_in_order(&self, rows: &[Row]) -> Object {
        let mut group = Group {
            shape: vec![0; self.regions.len()],
            rows: (0..rows.len()).collect(),
        };
        for row in rows {
            group.widen(&shape_of(row));
        }
        let used: Vec<usize> = (0..group.shape.len())
            .filter(|column| group.shape[*column] > 0)
            .collect();
        let mut list = Object::new();
        list.u16(self.axes).count(used.len());
        for axis in used.iter().flat_map(|region| &self.regions[*region]) {
            for value in axis {
                list.i16(*value);
            }
        }
        let rows: Vec<&Row> = rows.iter().collect();
        let mut object = Object::new();
        object.u16(1).link32(list).u16(1);
        object.link32(group.object(&group.rows, &rows, &used));
        object
    }
}

/// What a store without the old default adds to the values that vary.
#[derive(Debug, Default)]
pub(crate) struct Shifts(Vec<Vec<(i32, bool)>>);

impl Shifts {
    /// What is added to the value of a delta set, and whether it still varies.
    pub(crate) fn of(&self, outer: u16, inner: u16) -> (i32, bool) {
        let data = self.0.get(usize::from(outer));
        let shift = data.and_then(|data| data.get(usize::from(inner)));
        shift.copied().unwrap_or_default()
    }
}

impl Store {
    /// The store for limited axes, its delta sets where they were, and what goes into the
    /// values themselves.
    pub(crate) fn limited(&self, spans: &[Span]) -> Result<(Store, Shifts), CutError> {
        let mut regions: BTreeMap<Region, u16> = BTreeMap::new();
        let mut parts = Vec::with_capacity(self.regions.len());
        for region in &self.regions {
            let mut of = Vec::new();
            for (region, part) in limited_region(region, spans)? {
                let place = match region {
                    Some(region) => {
                        let next =
                            u16::try_from(regions.len()).map_err(|_| CutError::TooMuchWork)?;
                        Some(*regions.entry(region).or_insert(next))
                    }
                    None => None,
                };
                of.push((place, part));
            }
            parts.push(of);
        }
        let mut shifts = Shifts::default();
        let mut data = Vec::with_capacity(self.data.len());
        for old in &self.data {
            let parts_of = |column: &u16| parts.get(usize::from(*column)).into_iter().flatten();
            let mut columns: Vec<u16> = (old.regions.iter())
                .flat_map(|column| parts_of(column).filter_map(|(place, _)| *place))
                .collect();
            columns.sort_unstable();
            columns.dedup();
            let mut rows = Vec::with_capacity(old.rows.len());
            let mut added = Vec::with_capacity(old.rows.len());
            for row in &old.rows {
                let mut deltas = vec![0.0; columns.len()];
                let mut shift = 0.0;
                for (column, delta) in old.regions.iter().zip(row) {
                    for (place, part) in parts_of(column) {
                        let delta = f64::from(*delta) * part;
                        match place.and_then(|place| columns.binary_search(&place).ok()) {
                            Some(at) => deltas[at] += delta,
                            None => shift += delta,
                        }
                    }
                }
                let deltas: Vec<i32> = deltas.iter().map(|delta| delta.round() as i32).collect();
                added.push((shift.round() as i32, deltas.iter().any(|delta| *delta != 0)));
                rows.push(deltas);
            }
            shifts.0.push(added);
            data.push(Data {
                regions: columns,
                rows,
            });
        }
        let mut ordered: Vec<(Region, u16)> = regions.into_iter().collect();
        ordered.sort_by_key(|(_, place)| *place);
        Ok((
            Store {
                axes: spans.iter().filter(|span| !span.is_pinned()).count() as u16,
                regions: ordered.into_iter().map(|(region, _)| region).collect(),
                data,
            },
            shifts,
        ))
    }

    /// The whole store, every delta set where it is.
    pub(crate) fn object(&self) -> Object {
        let mut list = Object::new();
        list.u16(self.axes).count(self.regions.len());
        for value in self.regions.iter().flatten().flatten() {
            list.i16(*value);
        }
        let used: Vec<usize> = (0..self.regions.len()).collect();
        let mut object = Object::new();
        object.u16(1).link32(list).count(self.data.len());
        for (outer, data) in (0u16..).zip(&self.data) {
            let rows: Vec<Row> = (0u16..)
                .take(data.rows.len())
                .map(|inner| self.row(outer, inner).unwrap_or_else(|| self.zeros()))
                .collect();
            let mut group = Group {
                shape: vec![0; self.regions.len()],
                rows: (0..rows.len()).collect(),
            };
            for row in &rows {
                group.widen(&shape_of(row));
            }
            let rows: Vec<&Row> = rows.iter().collect();
            object.link32(group.object(&group.rows, &rows, &used));
        }
        object
    }
}

fn read_data(view: View<'_>) -> Result<Data, CutError> {
    let items = usize::from(view.u16(0)?);
    let words = view.u16(2)?;
    let (long, words) = (words & 0x8000 != 0, usize::from(words & 0x7FFF));
    let columns = usize::from(view.u16(4)?);
    let regions = view.u16s(6, columns)?;
    let start = 6 + columns * 2;
    let words = words.min(columns);
    let (wide, narrow) = if long { (4, 2) } else { (2, 1) };
    let size = words * wide + (columns - words) * narrow;
    let mut rows = Vec::new();
    for item in 0..items {
        view.spend(8)?;
        let mut at = start + item * size;
        let mut row = Vec::with_capacity(columns);
        for column in 0..columns {
            let width = if column < words { wide } else { narrow };
            row.push(match width {
                1 => i32::from(view.u8(at)? as i8),
                2 => i32::from(view.i16(at)?),
                _ => view.u32(at)? as i32,
            });
            at += width;
        }
        rows.push(row);
    }
    Ok(Data { regions, rows })
}

/// The bytes that each delta of a row needs: 0, 1, 2 or 4.
type Shape = Vec<u8>;

fn shape_of(row: &Row) -> Shape {
    (row.iter())
        .map(|delta| match *delta {
            0 => 0,
            delta if i8::try_from(delta).is_ok() => 1,
            delta if i16::try_from(delta).is_ok() => 2,
            _ => 4,
        })
        .collect()
}

/// Rows that are written with the same columns.
#[derive(Clone)]
struct Group {
    shape: Shape,
    rows: Vec<usize>,
}

impl Group {
    fn widen(&mut self, shape: &Shape) {
        for (mine, other) in self.shape.iter_mut().zip(shape) {
            *mine = (*mine).max(*other);
        }
    }

    /// Bytes of a row.
    fn width(shape: &Shape) -> usize {
        let columns = shape.iter().filter(|bytes| **bytes > 0).count();
        let wide = shape.iter().filter(|bytes| **bytes >= 2).count();
        match shape.iter().max() {
            Some(4) => {
                let widest = shape.iter().filter(|bytes| **bytes == 4).count();
                columns * 2 + widest * 2
            }
            _ => columns + wide,
        }
    }

    /// Bytes of the group: its header, its columns, its rows.
    fn cost(shape: &Shape, rows: usize) -> usize {
        let columns = shape.iter().filter(|bytes| **bytes > 0).count();
        10 + columns * 2 + rows * Self::width(shape)
    }

    fn merged(&self, other: &Group) -> (Shape, usize) {
        let shape: Shape = (self.shape.iter().zip(&other.shape))
            .map(|(one, other)| *one.max(other))
            .collect();
        let cost = Self::cost(&shape, self.rows.len() + other.rows.len());
        (shape, cost)
    }

    fn object(&self, part: &[usize], rows: &[&Row], used: &[usize]) -> Object {
        let long = self.shape.contains(&4);
        let wide = if long { 4 } else { 2 };
        let mut columns: Vec<usize> = (0..self.shape.len())
            .filter(|column| self.shape[*column] > 0)
            .collect();
        // Wide deltas stand first.
        columns.sort_by_key(|column| self.shape[*column] < wide);
        let words = columns
            .iter()
            .filter(|column| self.shape[**column] >= wide)
            .count();
        let mut object = Object::new();
        object.count(part.len());
        object.u16(words as u16 | if long { 0x8000 } else { 0 });
        object.count(columns.len());
        for column in &columns {
            object.count(used.binary_search(column).unwrap_or(0));
        }
        for row in part {
            for (index, column) in columns.iter().enumerate() {
                let delta = rows[*row][*column];
                match (index < words, long) {
                    (true, true) => object.raw(&delta.to_be_bytes()),
                    (true, false) | (false, true) => object.i16(delta as i16),
                    (false, false) => object.u8(delta as u8),
                };
            }
        }
        object
    }
}

/// Puts rows together so that headers and columns of zeros cost least.
fn grouped(rows: &[&Row]) -> Vec<Group> {
    /// More shapes than these are merged unseen: each pair is looked at.
    const MOST_SHAPES: usize = 120;
    let mut by_shape: BTreeMap<Shape, Vec<usize>> = BTreeMap::new();
    for (index, row) in rows.iter().enumerate() {
        by_shape.entry(shape_of(row)).or_default().push(index);
    }
    let mut groups: Vec<Group> = (by_shape.into_iter())
        .map(|(shape, rows)| Group { shape, rows })
        .collect();
    groups.sort_by_key(|group| std::cmp::Reverse(group.rows.len()));
    if groups.len() > MOST_SHAPES {
        let rest = groups.split_off(MOST_SHAPES);
        let mut last = Group {
            shape: vec![0; rows.first().map_or(0, |row| row.len())],
            rows: Vec::new(),
        };
        for group in rest {
            last.widen(&group.shape);
            last.rows.extend(group.rows);
        }
        groups.push(last);
    }
    loop {
        let mut best: Option<(usize, usize, usize)> = None;
        for one in 0..groups.len() {
            for other in one + 1..groups.len() {
                let apart = Group::cost(&groups[one].shape, groups[one].rows.len())
                    + Group::cost(&groups[other].shape, groups[other].rows.len());
                let (_, together) = groups[one].merged(&groups[other]);
                let gain = apart.saturating_sub(together);
                if gain > best.map_or(0, |(gain, ..)| gain) {
                    best = Some((gain, one, other));
                }
            }
        }
        let Some((_, one, other)) = best else {
            break;
        };
        let gone = groups.remove(other);
        groups[one].widen(&gone.shape);
        groups[one].rows.extend(gone.rows);
    }
    // Rows of zeros alone have no column of their own, but need a place.
    if groups.len() > 1
        && let Some(empty) = groups.iter().position(|g| g.shape.iter().all(|b| *b == 0))
    {
        let gone = groups.remove(empty);
        let least = (0..groups.len()).min_by_key(|group| Group::width(&groups[*group].shape));
        if let Some(least) = least {
            groups[least].rows.extend(gone.rows);
        }
    }
    for group in &mut groups {
        group.rows.sort_unstable();
    }
    groups
}

/// A map from glyphs to delta sets.
pub(crate) fn read_index_map(view: View<'_>) -> Result<Vec<(u16, u16)>, CutError> {
    let format = view.u8(1)?;
    let (count, start) = match view.u8(0)? {
        0 => (usize::from(view.u16(2)?), 4),
        _ => (view.u32(2)? as usize, 6),
    };
    let size = usize::from(format >> 4 & 3) + 1;
    let bits = u32::from(format & 15) + 1;
    // More entries than glyphs are never asked for.
    (0..count.min(1 << 16))
        .map(|index| {
            let bytes = view.slice(start + index * size, size)?;
            let value = bytes
                .iter()
                .fold(0u32, |value, byte| value << 8 | u32::from(*byte));
            Ok(((value >> bits) as u16, (value & ((1 << bits) - 1)) as u16))
        })
        .collect()
}

/// The map as an object: the last entry stands for all glyphs behind it.
pub(crate) fn index_map(entries: &[(u16, u16)]) -> Object {
    let last = entries.last().copied();
    let mut entries = entries;
    while entries.len() > 1 && entries.get(entries.len() - 2).copied() == last {
        entries = &entries[..entries.len() - 1];
    }
    let most = |pick: fn(&(u16, u16)) -> u16| entries.iter().map(pick).max().unwrap_or(0);
    let (outer, inner) = (most(|entry| entry.0), most(|entry| entry.1));
    let bits = (u16::BITS - inner.leading_zeros()).max(1);
    let value = |entry: &(u16, u16)| u32::from(entry.0) << bits | u32::from(entry.1);
    let needed = u32::BITS - (u32::from(outer) << bits | u32::from(inner)).leading_zeros();
    let size = needed.div_ceil(8).max(1) as usize;
    let mut object = Object::new();
    object.u8(0).u8((size as u8 - 1) << 4 | (bits as u8 - 1));
    object.count(entries.len());
    for entry in entries {
        object.raw(&value(entry).to_be_bytes()[4 - size..]);
    }
    object
}

#[cfg(test)]
mod tests;
