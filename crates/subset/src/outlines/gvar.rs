//! Variations of TrueType outlines (OpenType 1.9.1, `gvar`).

use std::collections::BTreeMap;

use crate::CutError;
use crate::bytes::{Object, View};
use crate::glyphs::GlyphMap;

/// The peak of a variation is written with it.
const EMBEDDED: u16 = 0x8000;
const INTERMEDIATE: u16 = 0x4000;
const INDEX: u16 = 0x0FFF;

/// Where a variation names one of the shared peaks.
struct Peak {
    at: usize,
    flags: u16,
}

fn shared_peaks(data: View<'_>, axes: usize) -> Result<Vec<Peak>, CutError> {
    let mut peaks = Vec::new();
    if data.data.is_empty() {
        return Ok(peaks);
    }
    let mut at = 4;
    for _ in 0..data.u16(0)? & INDEX {
        let flags = data.u16(at + 2)?;
        if flags & EMBEDDED == 0 {
            peaks.push(Peak { at: at + 2, flags });
        }
        at += 4;
        at += if flags & EMBEDDED != 0 { axes * 2 } else { 0 };
        at += if flags & INTERMEDIATE != 0 {
            axes * 4
        } else {
            0
        };
    }
    Ok(peaks)
}

/// `gvar` for the glyphs that stay, with the shared peaks that they use.
pub(crate) fn cut_gvar(view: View<'_>, map: &GlyphMap) -> Result<Vec<u8>, CutError> {
    let axes = usize::from(view.u16(4)?);
    let shared = usize::from(view.u16(6)?);
    let tuples = view.from(view.u32(8)? as usize)?;
    let glyphs = view.u16(12)?;
    let long = view.u16(14)? & 1 == 1;
    let array = view.from(view.u32(16)? as usize)?;
    let offset = |glyph: usize| -> Result<usize, CutError> {
        Ok(if long {
            view.u32(20 + glyph * 4)? as usize
        } else {
            usize::from(view.u16(20 + glyph * 2)?) * 2
        })
    };
    let mut kept = Vec::with_capacity(map.len());
    let mut numbers: BTreeMap<u16, u16> = BTreeMap::new();
    for glyph in map.old() {
        let data = if *glyph < glyphs {
            let (start, end) = (
                offset(usize::from(*glyph))?,
                offset(usize::from(*glyph) + 1)?,
            );
            array.slice(start, end.saturating_sub(start))?
        } else {
            &[]
        };
        let data = View { data, ..view };
        let peaks = shared_peaks(data, axes)?;
        numbers.extend(peaks.iter().map(|peak| (peak.flags & INDEX, 0)));
        kept.push((data.data, peaks));
    }
    for (new, number) in (0..).zip(numbers.values_mut()) {
        *number = new;
    }
    let mut data = Vec::new();
    let mut ends = vec![0usize];
    for (bytes, peaks) in kept {
        let start = data.len();
        data.extend_from_slice(bytes);
        for peak in peaks {
            let flags = peak.flags & !INDEX | numbers[&(peak.flags & INDEX)];
            let at = start + peak.at;
            data[at..at + 2].copy_from_slice(&flags.to_be_bytes());
        }
        if data.len() % 2 == 1 {
            data.push(0);
        }
        ends.push(data.len());
    }
    let long = data.len() > usize::from(u16::MAX) * 2;
    let width = if long { 4 } else { 2 };
    let start = 20 + ends.len() * width;
    let mut table = Object::new();
    table.u16(1).u16(0).count(axes).count(numbers.len());
    table
        .u32(start as u32)
        .count(map.len())
        .u16(u16::from(long));
    table.u32((start + numbers.len() * axes * 2) as u32);
    for end in ends {
        if long {
            table.u32(end as u32);
        } else {
            table.u16((end / 2) as u16);
        }
    }
    for old in numbers.keys() {
        if usize::from(*old) >= shared {
            return Err(view.damaged("a variation names a shared peak that is not there"));
        }
        table.raw(tuples.slice(usize::from(*old) * axes * 2, axes * 2)?);
    }
    table.raw(&data);
    table.pack("gvar")
}
