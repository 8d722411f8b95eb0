//! Pictures of glyphs in colour at some sizes (OpenType 1.9.1, `CBLC`, `CBDT`).

use std::collections::BTreeMap;

use crate::CutError;
use crate::bytes::View;
use crate::glyphs::GlyphMap;

/// A picture: its format, its bytes, and its metrics where the index states them.
#[derive(Clone)]
struct Picture<'a> {
    format: u16,
    bytes: &'a [u8],
    metrics: Option<&'a [u8]>,
}

/// Where pictures lie in an index subtable.
fn pictures<'a>(
    table: View<'a>,
    data: View<'a>,
    first: u16,
    last: u16,
    map: &GlyphMap,
    found: &mut BTreeMap<u16, Picture<'a>>,
) -> Result<(), CutError> {
    let (index, format) = (table.u16(0)?, table.u16(2)?);
    let base = data.from(table.u32(4)? as usize)?;
    let mut keep = |glyph: u16, start: usize, end: usize, metrics| -> Result<(), CutError> {
        if let Some(new) = map.get(glyph)
            && start < end
        {
            let bytes = base.slice(start, end - start)?;
            found.insert(
                new,
                Picture {
                    format,
                    bytes,
                    metrics,
                },
            );
        }
        Ok(())
    };
    let glyphs = (first..=last).enumerate();
    match index {
        1 | 3 => {
            let offset = |number: usize| -> Result<usize, CutError> {
                Ok(if index == 1 {
                    table.u32(8 + number * 4)? as usize
                } else {
                    usize::from(table.u16(8 + number * 2)?)
                })
            };
            for (number, glyph) in glyphs {
                keep(glyph, offset(number)?, offset(number + 1)?, None)?;
            }
        }
        2 => {
            let size = table.u32(8)? as usize;
            let metrics = table.slice(12, 8)?;
            for (number, glyph) in glyphs {
                keep(glyph, number * size, (number + 1) * size, Some(metrics))?;
            }
        }
        4 => {
            for number in 0..table.u32(8)? as usize {
                let at = 12 + number * 4;
                let (start, end) = (table.u16(at + 2)?, table.u16(at + 6)?);
                keep(table.u16(at)?, usize::from(start), usize::from(end), None)?;
            }
        }
        5 => {
            let size = table.u32(8)? as usize;
            let metrics = table.slice(12, 8)?;
            for number in 0..table.u32(20)? as usize {
                let glyph = table.u16(24 + number * 2)?;
                keep(glyph, number * size, (number + 1) * size, Some(metrics))?;
            }
        }
        _ => return Err(table.damaged("an index of pictures has an unknown format")),
    }
    Ok(())
}

/// `CBLC` and `CBDT`.
type IndexAndData = (Vec<u8>, Vec<u8>);

/// `CBLC` and `CBDT` for the glyphs that stay; `None` where none of them has a picture.
pub(crate) fn cut(
    index: View<'_>,
    data: View<'_>,
    map: &GlyphMap,
) -> Result<Option<IndexAndData>, CutError> {
    let mut out = data.slice(0, 4)?.to_vec();
    let mut sizes = Vec::new();
    for size in 0..index.u32(4)? as usize {
        let at = 8 + size * 48;
        let array = index.from(index.u32(at)? as usize)?;
        let mut found = BTreeMap::new();
        for number in 0..index.u32(at + 8)? as usize {
            let at = number * 8;
            let (first, last) = (array.u16(at)?, array.u16(at + 2)?);
            let table = array.from(array.u32(at + 4)? as usize)?;
            pictures(table, data, first, last, map, &mut found)?;
        }
        if let (Some((first, _)), Some((last, _))) =
            (found.first_key_value(), found.last_key_value())
        {
            let (first, last) = (*first, *last);
            sizes.push((at, first, last, index_tables(&found, &mut out)));
        }
    }
    if sizes.is_empty() {
        return Ok(None);
    }
    let mut bytes = index.slice(0, 4)?.to_vec();
    bytes.extend_from_slice(&(sizes.len() as u32).to_be_bytes());
    let mut place = 8 + sizes.len() * 48;
    for (at, first, last, (count, tables)) in &sizes {
        let mut record = index.slice(*at, 48)?.to_vec();
        record[..4].copy_from_slice(&(place as u32).to_be_bytes());
        record[4..8].copy_from_slice(&(tables.len() as u32).to_be_bytes());
        record[8..12].copy_from_slice(&(*count as u32).to_be_bytes());
        record[40..42].copy_from_slice(&first.to_be_bytes());
        record[42..44].copy_from_slice(&last.to_be_bytes());
        bytes.extend(record);
        place += tables.len();
    }
    for (_, _, _, (_, tables)) in &sizes {
        bytes.extend_from_slice(tables);
    }
    Ok(Some((bytes, out)))
}

/// The index subtables of the pictures of one size, which are written to `out`.
fn index_tables(found: &BTreeMap<u16, Picture<'_>>, out: &mut Vec<u8>) -> (usize, Vec<u8>) {
    let mut runs: Vec<Vec<(u16, &Picture<'_>)>> = Vec::new();
    for (glyph, picture) in found {
        let follows = |(last, of): &(u16, &Picture<'_>)| {
            *last + 1 == *glyph
                && of.format == picture.format
                && of.metrics == picture.metrics
                && (of.metrics.is_none() || of.bytes.len() == picture.bytes.len())
        };
        match runs.last_mut() {
            Some(run) if run.last().is_some_and(follows) => run.push((*glyph, picture)),
            _ => runs.push(vec![(*glyph, picture)]),
        }
    }
    let (mut array, mut tables) = (Vec::new(), Vec::new());
    for run in &runs {
        let (first, of) = run[0];
        let last = run[run.len() - 1].0;
        array.extend_from_slice(&first.to_be_bytes());
        array.extend_from_slice(&last.to_be_bytes());
        array.extend_from_slice(&((runs.len() * 8 + tables.len()) as u32).to_be_bytes());
        let index: u16 = if of.metrics.is_some() { 2 } else { 1 };
        tables.extend_from_slice(&index.to_be_bytes());
        tables.extend_from_slice(&of.format.to_be_bytes());
        tables.extend_from_slice(&(out.len() as u32).to_be_bytes());
        let start = out.len();
        if let Some(metrics) = of.metrics {
            tables.extend_from_slice(&(of.bytes.len() as u32).to_be_bytes());
            tables.extend_from_slice(metrics);
        }
        for (_, picture) in run {
            if of.metrics.is_none() {
                tables.extend_from_slice(&((out.len() - start) as u32).to_be_bytes());
            }
            out.extend_from_slice(picture.bytes);
        }
        if of.metrics.is_none() {
            tables.extend_from_slice(&((out.len() - start) as u32).to_be_bytes());
        }
    }
    array.extend(tables);
    (runs.len(), array)
}
