//! Advances, side bearings and their variations: `hmtx`, `vmtx`, `VORG`, `HVAR`, `VVAR`
//! (OpenType 1.9.1).

use std::collections::BTreeMap;

use crate::CutError;
use crate::bytes::{Object, View};
use crate::glyphs::GlyphMap;
use crate::variations::{NONE, Row, Store, index_map, read_index_map};

/// `hmtx` or `vmtx` for the glyphs that stay, and how many advances it states.
pub(crate) fn cut_metrics(
    view: View<'_>,
    declared: u16,
    map: &GlyphMap,
) -> Result<(Vec<u8>, u16), CutError> {
    let metrics = read_metrics(view, declared, map.old().iter().copied())?;
    Ok(written_metrics(&metrics))
}

/// Advances and side bearings of glyphs; `declared` is how many advances the header states.
pub(crate) fn read_metrics(
    view: View<'_>,
    declared: u16,
    glyphs: impl IntoIterator<Item = u16>,
) -> Result<Vec<(u16, i16)>, CutError> {
    if declared == 0 {
        return Err(view.damaged("the header states no advance"));
    }
    let declared = usize::from(declared);
    let read = |glyph: u16| {
        let glyph = usize::from(glyph);
        let last = glyph.min(declared - 1);
        let advance = view.u16(last * 4)?;
        let bearing = if glyph < declared {
            view.i16(glyph * 4 + 2)?
        } else {
            // Some fonts leave these out; readers take 0.
            view.i16(declared * 4 + (glyph - declared) * 2).unwrap_or(0)
        };
        Ok((advance, bearing))
    };
    glyphs.into_iter().map(read).collect()
}

/// The table, and how many advances it states: the last stands for all equal ones behind it.
pub(crate) fn written_metrics(metrics: &[(u16, i16)]) -> (Vec<u8>, u16) {
    let last = metrics.last().map(|(advance, _)| *advance);
    let same = metrics
        .iter()
        .rev()
        .take_while(|(a, _)| Some(*a) == last)
        .count();
    let count = metrics.len() - same.saturating_sub(1);
    let mut bytes = Vec::with_capacity(metrics.len() * 4);
    for (index, (advance, bearing)) in metrics.iter().enumerate() {
        if index < count {
            bytes.extend_from_slice(&advance.to_be_bytes());
        }
        bytes.extend_from_slice(&bearing.to_be_bytes());
    }
    (bytes, count as u16)
}

/// `VORG` for the glyphs that stay: the y of vertical origins.
pub(crate) fn cut_origins(view: View<'_>, map: &GlyphMap) -> Result<Vec<u8>, CutError> {
    let default = view.i16(4)?;
    let mut kept: BTreeMap<u16, i16> = BTreeMap::new();
    for index in 0..usize::from(view.u16(6)?) {
        let at = 8 + index * 4;
        if let Some(glyph) = map.get(view.u16(at)?) {
            kept.insert(glyph, view.i16(at + 2)?);
        }
    }
    let mut table = Object::new();
    table.u16(1).u16(0).i16(default).count(kept.len());
    for (glyph, y) in kept {
        table.u16(glyph).i16(y);
    }
    table.pack("VORG")
}

/// `HVAR` or `VVAR` for the glyphs that stay. `maps` is how many maps the table has:
/// three, or four with vertical origins.
pub(crate) fn cut_variations(
    view: View<'_>,
    maps: usize,
    map: &GlyphMap,
    table: &'static str,
) -> Result<Vec<u8>, CutError> {
    let store = view
        .link32(4)?
        .ok_or_else(|| view.damaged("it has no variation store"))?;
    let store = Store::read(store)?;
    let mut old_maps = Vec::new();
    for index in 0..maps {
        let old = view.link32(8 + index * 4)?;
        old_maps.push(old.map(read_index_map).transpose()?);
    }
    let place = |entries: &Option<Vec<(u16, u16)>>, glyph: u16| match entries {
        Some(entries) => {
            let at = usize::from(glyph).min(entries.len().saturating_sub(1));
            entries.get(at).copied().unwrap_or(NONE)
        }
        None => (0, glyph),
    };
    let zero = store.zeros();
    let rows_of = |entries: &Option<Vec<(u16, u16)>>| -> Vec<Row> {
        (map.old().iter())
            .map(|glyph| {
                let (outer, inner) = place(entries, *glyph);
                store.row(outer, inner).unwrap_or_else(|| zero.clone())
            })
            .collect()
    };
    // Advances always; the others only where the table has a map for them.
    let advances = rows_of(&old_maps[0]);
    let others: Vec<Option<Vec<Row>>> = (old_maps.iter().skip(1))
        .map(|entries| entries.is_some().then(|| rows_of(entries)))
        .collect();
    let mapped = {
        let mut distinct: BTreeMap<&Row, usize> = BTreeMap::new();
        let all = others.iter().flatten().flatten();
        for row in advances.iter().chain(all) {
            let next = distinct.len();
            distinct.entry(row).or_insert(next);
        }
        let mut rows: Vec<(&Row, usize)> = distinct.iter().map(|(row, i)| (*row, *i)).collect();
        rows.sort_by_key(|(_, index)| *index);
        let rows: Vec<&Row> = rows.into_iter().map(|(row, _)| row).collect();
        let (object, places) = store.encode(&rows);
        let entries = |rows: &[Row]| -> Vec<(u16, u16)> {
            rows.iter().map(|row| places[distinct[row]]).collect()
        };
        let mut written = Object::new();
        written.u16(1).u16(0).link32(object);
        written.link32(index_map(&entries(&advances)));
        for rows in &others {
            written.maybe32(rows.as_ref().map(|rows| index_map(&entries(rows))));
        }
        written.pack(table)?
    };
    if others.iter().any(Option::is_some) {
        return Ok(mapped);
    }
    let mut written = Object::new();
    written
        .u16(1)
        .u16(0)
        .link32(store.encode_in_order(&advances));
    for _ in 0..maps {
        written.u32(0);
    }
    let plain = written.pack(table)?;
    Ok(if plain.len() <= mapped.len() {
        plain
    } else {
        mapped
    })
}
