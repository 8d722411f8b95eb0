//! Outlines as WOFF2 takes them apart: counts, flags, points, boxes in streams of their
//! own (W3C WOFF 2.0, section 5.1), and metrics without what outlines tell (5.4).

use std::collections::BTreeMap;

use crate::CutError;
use crate::bytes::{Budget, View};
use crate::outlines::glyf::{INSTRUCTIONS, components};

/// `glyf` taken apart.
pub(super) struct Transformed {
    pub(super) bytes: Vec<u8>,
    /// The lengths that `glyf` and `loca` have once a reader has put them together.
    pub(super) glyf_length: usize,
    pub(super) loca_length: usize,
    /// The least x of each glyph; 0 of what is empty.
    left: Vec<i16>,
    /// Whether the offsets in `loca` are long then.
    pub(super) long: bool,
}

#[derive(Default)]
struct Streams {
    contours: Vec<u8>,
    points: Vec<u8>,
    flags: Vec<u8>,
    glyphs: Vec<u8>,
    composites: Vec<u8>,
    /// A bit for each glyph whose box is stated.
    boxed: Vec<u8>,
    boxes: Vec<u8>,
    instructions: Vec<u8>,
    /// A bit for each glyph whose outlines overlap.
    overlaps: Vec<u8>,
    overlapping: bool,
    /// Whether there are cubic curves, whose flag the streams have no place for.
    cubic: bool,
}

struct Reader<'a> {
    bytes: &'a [u8],
    at: usize,
}

impl<'a> Reader<'a> {
    fn take(&mut self, length: usize) -> Result<&'a [u8], CutError> {
        let end = self.at.checked_add(length);
        let bytes = end.and_then(|end| self.bytes.get(self.at..end));
        self.at += length;
        bytes.ok_or_else(|| CutError::Damaged {
            table: "glyf",
            detail: "a glyph ends early".to_owned(),
        })
    }

    fn u8(&mut self) -> Result<u8, CutError> {
        Ok(self.take(1)?[0])
    }

    fn u16(&mut self) -> Result<u16, CutError> {
        let bytes = self.take(2)?;
        Ok(u16::from_be_bytes([bytes[0], bytes[1]]))
    }

    fn i16(&mut self) -> Result<i16, CutError> {
        self.u16().map(|value| value as i16)
    }
}

/// A number of one to three bytes (section 4.2).
fn short(out: &mut Vec<u8>, value: u16) {
    match value {
        0..=252 => out.push(value as u8),
        253..=505 => out.extend_from_slice(&[255, (value - 253) as u8]),
        506..=761 => out.extend_from_slice(&[254, (value - 506) as u8]),
        _ => {
            out.push(253);
            out.extend_from_slice(&value.to_be_bytes());
        }
    }
}

/// A point's way from the one before: a flag, and one to four bytes (section 5.2).
fn triplet(on_curve: bool, x: i32, y: i32, flags: &mut Vec<u8>, data: &mut Vec<u8>) {
    let (ax, ay) = (x.unsigned_abs(), y.unsigned_abs());
    let curve: u8 = if on_curve { 0 } else { 128 };
    let x_sign: u8 = if x < 0 { 0 } else { 1 };
    let y_sign: u8 = if y < 0 { 0 } else { 1 };
    let signs = x_sign + 2 * y_sign;
    if x == 0 && ay < 1280 {
        flags.push(curve + ((ay & 0xF00) >> 7) as u8 + y_sign);
        data.push(ay as u8);
    } else if y == 0 && ax < 1280 {
        flags.push(curve + 10 + ((ax & 0xF00) >> 7) as u8 + x_sign);
        data.push(ax as u8);
    } else if ax < 65 && ay < 65 && x != 0 && y != 0 {
        let high = ((ax - 1) & 0x30) + (((ay - 1) & 0x30) >> 2);
        flags.push(curve + 20 + high as u8 + signs);
        data.push((((ax - 1) & 0xF) << 4 | (ay - 1) & 0xF) as u8);
    } else if ax < 769 && ay < 769 && x != 0 && y != 0 {
        let high = 12 * (((ax - 1) & 0x300) >> 8) + (((ay - 1) & 0x300) >> 6);
        flags.push(curve + 84 + high as u8 + signs);
        data.extend_from_slice(&[(ax - 1) as u8, (ay - 1) as u8]);
    } else if ax < 4096 && ay < 4096 {
        flags.push(curve + 120 + signs);
        data.extend_from_slice(&[(ax >> 4) as u8, ((ax & 0xF) << 4 | ay >> 8) as u8, ay as u8]);
    } else {
        flags.push(curve + 124 + signs);
        data.extend_from_slice(&(ax as u16).to_be_bytes());
        data.extend_from_slice(&(ay as u16).to_be_bytes());
    }
}

/// Points of a simple glyph: whether on the curve, and where.
struct Outline {
    ends: Vec<u16>,
    points: Vec<(bool, i32, i32)>,
    overlaps: bool,
    cubic: bool,
}

fn outline(reader: &mut Reader<'_>, ends: Vec<u16>) -> Result<Outline, CutError> {
    const ON_CURVE: u8 = 1;
    const X_SHORT: u8 = 2;
    const Y_SHORT: u8 = 4;
    const REPEAT: u8 = 8;
    const X_SAME: u8 = 16;
    const Y_SAME: u8 = 32;
    const OVERLAP: u8 = 64;
    const CUBIC: u8 = 128;
    let count = ends.last().map_or(0, |last| usize::from(*last) + 1);
    let mut flags = Vec::new();
    while flags.len() < count {
        let flag = reader.u8()?;
        let times = if flag & REPEAT != 0 {
            usize::from(reader.u8()?)
        } else {
            0
        };
        flags.extend(std::iter::repeat_n(flag, times + 1));
    }
    flags.truncate(count);
    let mut read = |short: u8, same: u8| -> Result<Vec<i32>, CutError> {
        let mut at = 0;
        (flags.iter())
            .map(|flag| {
                at += match (flag & short != 0, flag & same != 0) {
                    (true, true) => i32::from(reader.u8()?),
                    (true, false) => -i32::from(reader.u8()?),
                    (false, true) => 0,
                    (false, false) => i32::from(reader.i16()?),
                };
                Ok(at)
            })
            .collect()
    };
    let (xs, ys) = (read(X_SHORT, X_SAME)?, read(Y_SHORT, Y_SAME)?);
    let overlaps = flags.first().is_some_and(|flag| flag & OVERLAP != 0);
    let places = xs.into_iter().zip(ys);
    Ok(Outline {
        ends,
        points: (flags.iter().zip(places))
            .map(|(flag, (x, y))| (flag & ON_CURVE != 0, x, y))
            .collect(),
        overlaps,
        cubic: flags.iter().any(|flag| flag & CUBIC != 0),
    })
}

/// Bytes of the glyph as a reader writes it: flags repeated where they can be, deltas
/// as short as they can be.
fn written_length(outline: &Outline, instructions: usize) -> usize {
    let mut length = 12 + outline.ends.len() * 2 + instructions;
    let (mut x, mut y) = (0, 0);
    let mut last = None;
    let mut repeats = 0u32;
    for (index, (on, to_x, to_y)) in outline.points.iter().enumerate() {
        let (dx, dy) = (to_x - x, to_y - y);
        let coordinate = |delta: i32| match delta {
            0 => (0u8, 0),
            -255..=255 => (if delta > 0 { 2 } else { 1 }, 1),
            _ => (3, 2),
        };
        let ((x_kind, x_bytes), (y_kind, y_bytes)) = (coordinate(dx), coordinate(dy));
        let overlaps = index == 0 && outline.overlaps;
        let flag = (*on, x_kind, y_kind, overlaps);
        if last == Some(flag) && repeats < 255 {
            length += usize::from(repeats == 0);
            repeats += 1;
        } else {
            length += 1;
            repeats = 0;
        }
        last = Some(flag);
        length += x_bytes + y_bytes;
        (x, y) = (*to_x, *to_y);
    }
    length
}

fn need<'a>(
    tables: &BTreeMap<[u8; 4], &'a [u8]>,
    tag: &[u8; 4],
    table: &'static str,
) -> Result<&'a [u8], CutError> {
    tables.get(tag).copied().ok_or(CutError::NoTable { table })
}

fn damaged(table: &'static str) -> CutError {
    CutError::Damaged {
        table,
        detail: "a value lies beyond its end".to_owned(),
    }
}

fn u16_at(bytes: &[u8], at: usize, table: &'static str) -> Result<u16, CutError> {
    let bytes = bytes.get(at..at + 2).ok_or_else(|| damaged(table))?;
    Ok(u16::from_be_bytes([bytes[0], bytes[1]]))
}

/// Takes `glyf` apart; `None` where it would lose something.
pub(super) fn transform_glyphs(
    tables: &BTreeMap<[u8; 4], &[u8]>,
) -> Result<Option<Transformed>, CutError> {
    let (glyf, loca) = (
        need(tables, b"glyf", "glyf")?,
        need(tables, b"loca", "loca")?,
    );
    let count = usize::from(u16_at(need(tables, b"maxp", "maxp")?, 4, "maxp")?);
    let long = u16_at(need(tables, b"head", "head")?, 50, "head")? != 0;
    let offset = |glyph: usize| -> Result<usize, CutError> {
        if !long {
            return Ok(usize::from(u16_at(loca, glyph * 2, "loca")?) * 2);
        }
        let bytes = loca
            .get(glyph * 4..glyph * 4 + 4)
            .ok_or_else(|| damaged("loca"))?;
        Ok(u32::from_be_bytes([bytes[0], bytes[1], bytes[2], bytes[3]]) as usize)
    };
    let bits = count.div_ceil(32) * 4;
    let mut streams = Streams {
        boxed: vec![0; bits],
        overlaps: vec![0; count.div_ceil(8)],
        ..Streams::default()
    };
    let mut left = Vec::with_capacity(count);
    let mut glyf_length = 0;
    for glyph in 0..count {
        let (start, end) = (offset(glyph)?, offset(glyph + 1)?);
        if start >= end {
            streams.contours.extend_from_slice(&[0, 0]);
            left.push(0);
            continue;
        }
        let bytes = glyf.get(start..end).ok_or_else(|| damaged("glyf"))?;
        let (x_min, length) = streams.glyph(glyph, bytes)?;
        left.push(x_min);
        glyf_length += length.div_ceil(4) * 4;
    }
    if streams.cubic {
        return Ok(None);
    }
    // Readers pad glyphs to four bytes, which may be more than short offsets reach.
    let long = long || glyf_length > usize::from(u16::MAX) * 2;
    let loca_length = (count + 1) * if long { 4 } else { 2 };
    let mut bytes = vec![0, 0];
    bytes.extend_from_slice(&u16::from(streams.overlapping).to_be_bytes());
    bytes.extend_from_slice(&(count as u16).to_be_bytes());
    bytes.extend_from_slice(&u16::from(long).to_be_bytes());
    streams.boxed.extend_from_slice(&streams.boxes);
    let parts = [
        &streams.contours,
        &streams.points,
        &streams.flags,
        &streams.glyphs,
        &streams.composites,
        &streams.boxed,
        &streams.instructions,
    ];
    for part in parts {
        bytes.extend_from_slice(&(part.len() as u32).to_be_bytes());
    }
    for part in parts {
        bytes.extend_from_slice(part);
    }
    if streams.overlapping {
        bytes.extend_from_slice(&streams.overlaps);
    }
    Ok(Some(Transformed {
        bytes,
        glyf_length,
        loca_length,
        left,
        long,
    }))
}

impl Streams {
    /// Adds a glyph; its least x, and the bytes that a reader makes of it.
    fn glyph(&mut self, glyph: usize, bytes: &[u8]) -> Result<(i16, usize), CutError> {
        let mut reader = Reader { bytes, at: 0 };
        let contours = reader.i16()?;
        let declared = [reader.i16()?, reader.i16()?, reader.i16()?, reader.i16()?];
        self.contours.extend_from_slice(&contours.to_be_bytes());
        if contours < 0 {
            self.state_box(glyph, declared);
            let length = self.composite(&mut reader)?;
            return Ok((declared[0], length));
        }
        if contours == 0 {
            return Ok((0, 0));
        }
        let mut ends = Vec::new();
        for _ in 0..contours {
            ends.push(reader.u16()?);
        }
        if ends.windows(2).any(|pair| pair[0] >= pair[1]) {
            return Err(damaged("glyf"));
        }
        let instructions = usize::from(reader.u16()?);
        let code = reader.take(instructions)?;
        let outline = outline(&mut reader, ends)?;
        self.cubic |= outline.cubic;
        let mut last = -1i32;
        for end in &outline.ends {
            short(&mut self.points, (i32::from(*end) - last) as u16);
            last = i32::from(*end);
        }
        let (mut x, mut y) = (0, 0);
        for (on, to_x, to_y) in &outline.points {
            triplet(*on, to_x - x, to_y - y, &mut self.flags, &mut self.glyphs);
            (x, y) = (*to_x, *to_y);
        }
        short(&mut self.glyphs, instructions as u16);
        self.instructions.extend_from_slice(code);
        if outline.overlaps {
            self.overlapping = true;
            self.overlaps[glyph / 8] |= 0x80 >> (glyph % 8);
        }
        let xs = || outline.points.iter().map(|(_, x, _)| *x);
        let ys = || outline.points.iter().map(|(_, _, y)| *y);
        let computed = [xs().min(), ys().min(), xs().max(), ys().max()];
        if computed.map(|edge| edge.unwrap_or(0)) != declared.map(i32::from) {
            self.state_box(glyph, declared);
        }
        Ok((declared[0], written_length(&outline, instructions)))
    }

    fn state_box(&mut self, glyph: usize, declared: [i16; 4]) {
        self.boxed[glyph / 8] |= 0x80 >> (glyph % 8);
        for edge in declared {
            self.boxes.extend_from_slice(&edge.to_be_bytes());
        }
    }

    fn composite(&mut self, reader: &mut Reader<'_>) -> Result<usize, CutError> {
        let start = reader.at;
        let budget = Budget::for_font(reader.bytes.len());
        let list = components(View::new(reader.bytes, "glyf", &budget))?;
        let instructed = list
            .iter()
            .any(|component| component.flags & INSTRUCTIONS != 0);
        let end = list.last().map_or(start, |component| component.end);
        reader.take(end.saturating_sub(start))?;
        let components = &reader.bytes[start..reader.at];
        self.composites.extend_from_slice(components);
        let mut length = 10 + components.len();
        if instructed {
            let count = reader.u16()?;
            short(&mut self.glyphs, count);
            self.instructions
                .extend_from_slice(reader.take(usize::from(count))?);
            length += 2 + usize::from(count);
        }
        Ok(length)
    }
}

/// `hmtx` without the left side bearings that are each glyph's least x; `None` where
/// one is another.
pub(super) fn transform_metrics(
    tables: &BTreeMap<[u8; 4], &[u8]>,
    glyphs: &Transformed,
) -> Result<Option<Vec<u8>>, CutError> {
    let hmtx = need(tables, b"hmtx", "hmtx")?;
    let count = usize::from(u16_at(need(tables, b"hhea", "hhea")?, 34, "hhea")?);
    let (mut proportional, mut monospaced) = (true, glyphs.left.len() > count);
    let mut advances = Vec::new();
    let mut bearings = [Vec::new(), Vec::new()];
    for (glyph, left) in glyphs.left.iter().enumerate() {
        let at = if glyph < count {
            advances.extend_from_slice(&u16_at(hmtx, glyph * 4, "hmtx")?.to_be_bytes());
            glyph * 4 + 2
        } else {
            count * 4 + (glyph - count) * 2
        };
        let bearing = u16_at(hmtx, at, "hmtx")?;
        let same = bearing as i16 == *left;
        let tail = usize::from(glyph >= count);
        bearings[tail].extend_from_slice(&bearing.to_be_bytes());
        if tail == 0 {
            proportional &= same;
        } else {
            monospaced &= same;
        }
    }
    if !proportional && !monospaced {
        return Ok(None);
    }
    let mut bytes = vec![u8::from(proportional) | u8::from(monospaced) << 1];
    bytes.extend(advances);
    if !proportional {
        bytes.extend_from_slice(&bearings[0]);
    }
    if !monospaced {
        bytes.extend_from_slice(&bearings[1]);
    }
    Ok(Some(bytes))
}
