//! CFF and CFF2 (Adobe Technical Note 5176; OpenType 1.9.1, CFF2).

use std::collections::BTreeMap;

use super::charstring::{Programs, flatten};
use super::dict::{
    Entry, Index, entry, escaped, offset, read_dict, write_index, write_number, write_offset,
    write_operator,
};
use crate::CutError;
use crate::bytes::View;
use crate::glyphs::GlyphMap;

const CHARSET: u16 = 15;
const CHARSTRINGS: u16 = 17;
const PRIVATE: u16 = 18;
const SUBROUTINES: u16 = 19;
const VSINDEX: u16 = 22;
const STORE: u16 = 24;
const FONT_BOX: u16 = 5;
const FONT_MATRIX: u16 = escaped(7);
const CHARSTRING_TYPE: u16 = escaped(6);
const PAINT_TYPE: u16 = escaped(5);
const STROKE_WIDTH: u16 = escaped(8);
const ROS: u16 = escaped(30);
const CID_COUNT: u16 = escaped(34);
const FONT_ARRAY: u16 = escaped(36);
const FONT_SELECT: u16 = escaped(37);

/// Standard strings, which every reader knows (Technical Note 5176, appendix A).
const STANDARD_STRINGS: u16 = 391;

/// A font of a CFF: its Font DICT where there are several, its Private DICT and the
/// subroutines of that.
struct Part<'a> {
    dict: Vec<Entry>,
    private: Vec<Entry>,
    local: Option<Index<'a>>,
}

fn part<'a>(cff: View<'a>, dict: Vec<Entry>, wide: bool) -> Result<Part<'a>, CutError> {
    let place = entry(&dict, PRIVATE).map(|entry| entry.numbers.clone());
    let (private, local) = match place.as_deref() {
        Some([size, at]) if *size >= 0 && *at >= 0 => {
            let (size, at) = (*size as usize, *at as usize);
            let data = cff.slice(at, size)?;
            let private = read_dict(View { data, ..cff })?;
            let local = offset(&private, SUBROUTINES)
                .map(|subroutines| Index::read(cff, at + subroutines, wide))
                .transpose()?;
            (private, local)
        }
        _ => (Vec::new(), None),
    };
    Ok(Part {
        dict,
        private,
        local,
    })
}

/// Which part of the font each glyph that stays belongs to.
fn parts_of_glyphs(select: Option<View<'_>>, map: &GlyphMap) -> Result<Vec<usize>, CutError> {
    let Some(view) = select else {
        return Ok(vec![0; map.len()]);
    };
    let format = view.u8(0)?;
    if format == 0 {
        let part = |glyph: &u16| view.u8(1 + usize::from(*glyph)).map(usize::from);
        return map.old().iter().map(part).collect();
    }
    let (count, start, wide) = match format {
        3 => (usize::from(view.u16(1)?), 3, false),
        4 => (view.u32(1)? as usize, 5, true),
        _ => return Err(view.damaged("its FDSelect has an unknown format")),
    };
    let size = if wide { 6 } else { 3 };
    let mut ranges = Vec::new();
    for index in 0..count {
        let at = start + index * size;
        ranges.push(if wide {
            (view.u32(at)?, usize::from(view.u16(at + 4)?))
        } else {
            (u32::from(view.u16(at)?), usize::from(view.u8(at + 2)?))
        });
    }
    let of = |glyph: &u16| {
        let next = ranges.partition_point(|(first, _)| *first <= u32::from(*glyph));
        let range = next.checked_sub(1).and_then(|index| ranges.get(index));
        (range.map(|(_, part)| *part))
            .ok_or_else(|| view.damaged("its FDSelect leaves a glyph out"))
    };
    map.old().iter().map(of).collect()
}

fn select_bytes(parts: &[usize], second: bool) -> Vec<u8> {
    let mut runs: Vec<(usize, usize)> = Vec::new();
    for (glyph, part) in parts.iter().enumerate() {
        if runs.last().is_none_or(|(_, last)| last != part) {
            runs.push((glyph, *part));
        }
    }
    if !second && parts.len() < 5 + runs.len() * 3 || runs.len() > usize::from(u16::MAX) {
        let mut bytes = vec![0];
        bytes.extend(parts.iter().map(|part| *part as u8));
        return bytes;
    }
    let mut bytes = vec![3];
    bytes.extend_from_slice(&(runs.len() as u16).to_be_bytes());
    for (glyph, part) in runs {
        bytes.extend_from_slice(&(glyph as u16).to_be_bytes());
        bytes.push(part as u8);
    }
    bytes.extend_from_slice(&(parts.len() as u16).to_be_bytes());
    bytes
}

/// A Private DICT without what it had of subroutines and, as told, of hints.
fn private_bytes(private: &[Entry], hints: bool, second: bool) -> Vec<u8> {
    // defaultWidthX, nominalWidthX: without them advances are wrong.
    const WIDTHS: [u16; 2] = [20, 21];
    let mut bytes = Vec::new();
    for entry in private {
        let needed = WIDTHS.contains(&entry.operator) || second && entry.operator == VSINDEX;
        if entry.operator != SUBROUTINES && (hints || needed) {
            bytes.extend_from_slice(&entry.bytes);
            write_operator(&mut bytes, entry.operator);
        }
    }
    bytes
}

/// The SIDs of all glyphs of a font with names.
fn names_of(cff: View<'_>, at: usize, glyphs: usize) -> Result<Vec<u16>, CutError> {
    let mut names = vec![0];
    let (format, mut at) = match at {
        // ISOAdobe: the standard strings in order.
        0 => return Ok((0..glyphs as u16).collect()),
        1 | 2 => {
            return Err(CutError::NotSupported {
                what: "a CFF font with one of the expert character sets",
            });
        }
        _ => (cff.u8(at)?, at + 1),
    };
    while names.len() < glyphs {
        match format {
            0 => {
                names.push(cff.u16(at)?);
                at += 2;
            }
            1 | 2 => {
                let first = cff.u16(at)?;
                let (left, size) = if format == 1 {
                    (u16::from(cff.u8(at + 2)?), 3)
                } else {
                    (cff.u16(at + 2)?, 4)
                };
                cff.spend(u64::from(left))?;
                names.extend((0..=left).map(|more| first.wrapping_add(more)));
                at += size;
            }
            _ => return Err(cff.damaged("its charset has an unknown format")),
        }
    }
    names.truncate(glyphs);
    Ok(names)
}

/// The charset of the glyphs that stay, and the strings that it names.
fn charset(
    cff: View<'_>,
    names: &[u16],
    strings: &Index<'_>,
    map: &GlyphMap,
) -> Result<(Vec<u8>, Vec<Vec<u8>>), CutError> {
    let mut kept = Vec::new();
    let mut bytes = vec![0];
    for glyph in map.old().iter().skip(1) {
        let name = names.get(usize::from(*glyph)).copied().unwrap_or(0);
        let new = match name.checked_sub(STANDARD_STRINGS) {
            None => name,
            Some(custom) => {
                kept.push(strings.get(usize::from(custom))?.data.to_vec());
                STANDARD_STRINGS + kept.len() as u16 - 1
            }
        };
        cff.spend(8)?;
        bytes.extend_from_slice(&new.to_be_bytes());
    }
    Ok((bytes, kept))
}

fn copied(dict: &mut Vec<u8>, entries: &[Entry], operators: &[u16]) {
    for entry in entries.iter().filter(|e| operators.contains(&e.operator)) {
        dict.extend_from_slice(&entry.bytes);
        write_operator(dict, entry.operator);
    }
}

/// What a cut CFF is put together from.
struct Pieces {
    charstrings: Vec<u8>,
    select: Option<Vec<u8>>,
    /// Font DICTs but for their Private entry, with that.
    fonts: Vec<(Vec<u8>, Vec<u8>)>,
}

/// Takes the charstrings of the glyphs that stay, and the parts that they belong to.
fn pieces<'a>(
    cff: View<'a>,
    top: &[Entry],
    global: &Index<'a>,
    map: &GlyphMap,
    hints: bool,
    regions: Option<&[usize]>,
) -> Result<Pieces, CutError> {
    let second = regions.is_some();
    let at = offset(top, CHARSTRINGS).ok_or_else(|| cff.damaged("it has no charstrings"))?;
    let charstrings = Index::read(cff, at, second)?;
    let several = offset(top, FONT_ARRAY);
    let mut parts = Vec::new();
    match several {
        Some(at) => {
            let array = Index::read(cff, at, second)?;
            for index in 0..array.count.min(256) {
                parts.push(part(cff, read_dict(array.get(index)?)?, second)?);
            }
        }
        None => parts.push(part(cff, top.to_vec(), second)?),
    }
    let select = match offset(top, FONT_SELECT) {
        Some(at) if several.is_some() => Some(cff.from(at)?),
        _ => None,
    };
    let old_parts = parts_of_glyphs(select, map)?;
    let mut numbers: BTreeMap<usize, usize> = old_parts.iter().map(|part| (*part, 0)).collect();
    for (new, number) in numbers.values_mut().enumerate() {
        *number = new;
    }
    let mut flattened = Vec::with_capacity(map.len());
    for (glyph, part) in map.old().iter().zip(&old_parts) {
        let part = (parts.get(*part)).ok_or_else(|| cff.damaged("a glyph has no Font DICT"))?;
        let of = offset(&part.private, VSINDEX).unwrap_or(0);
        let programs = Programs {
            global,
            local: part.local.as_ref(),
            second,
            regions: regions.unwrap_or(&[]),
            default_regions: regions.and_then(|r| r.get(of)).copied().unwrap_or(0),
            hints,
        };
        let charstring = charstrings.get(usize::from(*glyph))?;
        flattened.push(flatten(charstring, &programs)?);
        cff.spend(flattened.last().map_or(0, Vec::len) as u64 / 16)?;
    }
    let new_parts: Vec<usize> = old_parts.iter().map(|part| numbers[part]).collect();
    let fonts = (numbers.keys())
        .map(|old| {
            let part = &parts[*old];
            let mut dict = Vec::new();
            if several.is_some() {
                copied(&mut dict, &part.dict, &[FONT_MATRIX]);
            }
            (dict, private_bytes(&part.private, hints, second))
        })
        .collect::<Vec<_>>();
    Ok(Pieces {
        charstrings: write_index(&flattened, second),
        select: (several.is_some() && (!second || fonts.len() > 1))
            .then(|| select_bytes(&new_parts, second)),
        fonts,
    })
}

/// The Font DICTs as they are written at `at`, and the Private DICTs behind them.
fn font_array(fonts: &[(Vec<u8>, Vec<u8>)], at: usize, second: bool) -> Vec<u8> {
    let dicts = |privates: usize| {
        let mut place = privates;
        let dicts: Vec<Vec<u8>> = (fonts.iter())
            .map(|(dict, private)| {
                let mut dict = dict.clone();
                write_offset(&mut dict, private.len());
                write_offset(&mut dict, place);
                write_operator(&mut dict, PRIVATE);
                place += private.len();
                dict
            })
            .collect();
        write_index(&dicts, second)
    };
    // Offsets have a fixed length, so that the first try tells the size.
    let size = dicts(0).len();
    let mut bytes = dicts(at + size);
    for (_, private) in fonts {
        bytes.extend_from_slice(private);
    }
    bytes
}

/// `CFF ` for the glyphs that stay.
pub(crate) fn cut_cff(cff: View<'_>, map: &GlyphMap, hints: bool) -> Result<Vec<u8>, CutError> {
    let names = Index::read(cff, usize::from(cff.u8(2)?), false)?;
    let tops = Index::read(cff, names.end, false)?;
    let strings = Index::read(cff, tops.end, false)?;
    let global = Index::read(cff, strings.end, false)?;
    let top = read_dict(tops.get(0)?)?;
    let at = offset(&top, CHARSTRINGS).ok_or_else(|| cff.damaged("it has no charstrings"))?;
    let glyphs = Index::read(cff, at, false)?.count;
    let pieces = pieces(cff, &top, &global, map, hints, None)?;
    let collection = entry(&top, ROS);
    if collection.is_some() != entry(&top, FONT_ARRAY).is_some() {
        return Err(cff.damaged("only one of its ROS and FDArray entries is there"));
    }
    let GlyphNames {
        entry: mut head,
        charset,
        strings: kept_strings,
    } = match collection {
        Some(ros) => of_collection(ros, &strings, map)?,
        None => {
            let at = offset(&top, CHARSET).unwrap_or(0);
            let names = names_of(cff, at, glyphs)?;
            let (charset, strings) = charset(cff, &names, &strings, map)?;
            GlyphNames {
                entry: Vec::new(),
                charset,
                strings,
            }
        }
    };
    let same = [
        FONT_BOX,
        FONT_MATRIX,
        CHARSTRING_TYPE,
        PAINT_TYPE,
        STROKE_WIDTH,
        CID_COUNT,
    ];
    copied(&mut head, &top, &same);
    let name = vec![names.get(0)?.data.to_vec()];
    let mut start = vec![1, 0, 4, 4];
    start.extend(write_index(&name, false));
    let strings = write_index(&kept_strings, false);
    let global = write_index::<Vec<u8>>(&[], false);
    let top_bytes = |places: &[usize; 5]| {
        let [charset, select, charstrings, array, private] = *places;
        let mut dict = head.clone();
        write_offset(&mut dict, charset);
        write_operator(&mut dict, CHARSET);
        write_offset(&mut dict, charstrings);
        write_operator(&mut dict, CHARSTRINGS);
        if collection.is_some() {
            write_offset(&mut dict, array);
            write_operator(&mut dict, FONT_ARRAY);
            write_offset(&mut dict, select);
            write_operator(&mut dict, FONT_SELECT);
        } else {
            let size = pieces.fonts.first().map_or(0, |(_, private)| private.len());
            write_offset(&mut dict, size);
            write_offset(&mut dict, private);
            write_operator(&mut dict, PRIVATE);
        }
        write_index(&[dict], false)
    };
    let size = top_bytes(&[0; 5]).len();
    let charset_at = start.len() + size + strings.len() + global.len();
    let select_at = charset_at + charset.len();
    let charstrings_at = select_at + pieces.select.as_ref().map_or(0, Vec::len);
    let array_at = charstrings_at + pieces.charstrings.len();
    let mut bytes = start;
    bytes.extend(top_bytes(&[
        charset_at,
        select_at,
        charstrings_at,
        array_at,
        array_at,
    ]));
    bytes.extend(strings);
    bytes.extend(global);
    bytes.extend(charset);
    bytes.extend(pieces.select.iter().flatten());
    bytes.extend_from_slice(&pieces.charstrings);
    if collection.is_some() {
        bytes.extend(font_array(&pieces.fonts, array_at, false));
    } else if let Some((_, private)) = pieces.fonts.first() {
        bytes.extend_from_slice(private);
    }
    Ok(bytes)
}

/// What glyphs are called.
struct GlyphNames {
    /// The ROS entry of a character collection; else nothing.
    entry: Vec<u8>,
    charset: Vec<u8>,
    /// The strings that stay.
    strings: Vec<Vec<u8>>,
}

/// What the glyphs of a character collection are called.
fn of_collection(ros: &Entry, strings: &Index<'_>, map: &GlyphMap) -> Result<GlyphNames, CutError> {
    let mut kept: Vec<Vec<u8>> = Vec::new();
    let mut entry = Vec::new();
    // Registry and ordering are strings, the supplement is a number. What the characters of
    // the collection are is for readers of PDF: they are numbered by glyph, which needs no
    // table.
    for name in ros.numbers.iter().take(2) {
        let name = u16::try_from(*name).unwrap_or(0);
        let new = match name.checked_sub(STANDARD_STRINGS) {
            None => i32::from(name),
            Some(custom) => {
                kept.push(strings.get(usize::from(custom))?.data.to_vec());
                i32::from(STANDARD_STRINGS) + kept.len() as i32 - 1
            }
        };
        write_number(&mut entry, new);
    }
    write_number(&mut entry, ros.numbers.get(2).copied().unwrap_or(0));
    write_operator(&mut entry, ROS);
    let last = (map.len() as u16).saturating_sub(2);
    let mut charset = vec![2, 0, 1];
    charset.extend_from_slice(&last.to_be_bytes());
    let charset = if map.len() > 1 { charset } else { vec![0] };
    Ok(GlyphNames {
        entry,
        charset,
        strings: kept,
    })
}

/// `CFF2` for the glyphs that stay.
pub(crate) fn cut_cff2(cff: View<'_>, map: &GlyphMap, hints: bool) -> Result<Vec<u8>, CutError> {
    let head = usize::from(cff.u8(2)?);
    let size = usize::from(cff.u16(3)?);
    let data = cff.slice(head, size)?;
    let top = read_dict(View { data, ..cff })?;
    let global = Index::read(cff, head + size, true)?;
    let mut regions = Vec::new();
    let mut store = None;
    if let Some(at) = offset(&top, STORE) {
        let length = usize::from(cff.u16(at)?);
        store = Some(cff.slice(at, length + 2)?);
        let view = cff.from(at + 2)?;
        for index in 0..usize::from(view.u16(6)?) {
            let data = view.link32(8 + index * 4)?;
            regions.push(data.map_or(Ok(0), |data| data.u16(4).map(usize::from))?);
        }
    }
    let pieces = pieces(cff, &top, &global, map, hints, Some(&regions))?;
    let top_bytes = |places: [usize; 4]| {
        let [charstrings, select, array, at] = places;
        let mut dict = Vec::new();
        copied(&mut dict, &top, &[FONT_MATRIX]);
        write_offset(&mut dict, charstrings);
        write_operator(&mut dict, CHARSTRINGS);
        if pieces.select.is_some() {
            write_offset(&mut dict, select);
            write_operator(&mut dict, FONT_SELECT);
        }
        write_offset(&mut dict, array);
        write_operator(&mut dict, FONT_ARRAY);
        if store.is_some() {
            write_offset(&mut dict, at);
            write_operator(&mut dict, STORE);
        }
        dict
    };
    let global = write_index::<Vec<u8>>(&[], true);
    let size = top_bytes([0; 4]).len();
    let store_at = 5 + size + global.len();
    let select_at = store_at + store.map_or(0, <[u8]>::len);
    let charstrings_at = select_at + pieces.select.as_ref().map_or(0, Vec::len);
    let array_at = charstrings_at + pieces.charstrings.len();
    let mut bytes = vec![2, 0, 5];
    bytes.extend_from_slice(&(size as u16).to_be_bytes());
    bytes.extend(top_bytes([charstrings_at, select_at, array_at, store_at]));
    bytes.extend(global);
    bytes.extend_from_slice(store.unwrap_or(&[]));
    bytes.extend(pieces.select.iter().flatten());
    bytes.extend_from_slice(&pieces.charstrings);
    bytes.extend(font_array(&pieces.fonts, array_at, true));
    Ok(bytes)
}
