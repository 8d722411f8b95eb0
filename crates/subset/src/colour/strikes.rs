//! Pictures of glyphs at some sizes (OpenType 1.9.1, `sbix`).

use crate::CutError;
use crate::bytes::{Object, View};
use crate::glyphs::{GlyphMap, GlyphSet};

fn strikes(view: View<'_>) -> Result<Vec<View<'_>>, CutError> {
    let count = view.u32(4)? as usize;
    (0..count)
        .map(|index| {
            view.spend(8)?;
            view.from(view.u32(8 + index * 4)? as usize)
        })
        .collect()
}

fn picture<'a>(strike: View<'a>, glyph: u16) -> Result<&'a [u8], CutError> {
    let at = 4 + usize::from(glyph) * 4;
    let (start, end) = (strike.u32(at)? as usize, strike.u32(at + 4)? as usize);
    strike.slice(start, end.saturating_sub(start))
}

/// The glyph whose picture a record repeats.
fn repeated(picture: &[u8]) -> Option<u16> {
    (picture.get(4..8) == Some(b"dupe"))
        .then(|| picture.get(8..10))
        .flatten()
        .map(|id| u16::from_be_bytes([id[0], id[1]]))
}

/// Adds the glyphs whose pictures those of `set` repeat.
pub(crate) fn close(view: View<'_>, glyphs: u16, set: &mut GlyphSet) -> Result<(), CutError> {
    for strike in strikes(view)? {
        let mut queue: Vec<u16> = set.iter().collect();
        while let Some(glyph) = queue.pop() {
            if glyph < glyphs
                && let Some(other) = repeated(picture(strike, glyph)?)
                && other < glyphs
                && set.insert(other)
            {
                queue.push(other);
            }
        }
    }
    Ok(())
}

/// `sbix` for the glyphs that stay; `None` where none of them has a picture.
pub(crate) fn cut(view: View<'_>, map: &GlyphMap) -> Result<Option<Vec<u8>>, CutError> {
    let mut written = Vec::new();
    for strike in strikes(view)? {
        let mut object = Object::new();
        object.u16(strike.u16(0)?).u16(strike.u16(2)?);
        let mut offset = 4 + (map.len() + 1) * 4;
        object.u32(offset as u32);
        let mut data = Vec::new();
        for glyph in map.old() {
            let bytes = picture(strike, *glyph)?;
            let start = data.len();
            data.extend_from_slice(bytes);
            if let Some(new) = repeated(bytes).and_then(|other| map.get(other)) {
                data[start + 8..start + 10].copy_from_slice(&new.to_be_bytes());
            }
            offset += bytes.len();
            object.u32(offset as u32);
        }
        object.raw(&data);
        if !data.is_empty() {
            written.push(object);
        }
    }
    if written.is_empty() {
        return Ok(None);
    }
    let mut table = Object::new();
    table.u16(view.u16(0)?).u16(view.u16(2)?);
    table.u32(written.len() as u32);
    for strike in written {
        table.link32(strike);
    }
    table.pack("sbix").map(Some)
}
