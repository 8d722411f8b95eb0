//! TrueType outlines (OpenType 1.9.1, `glyf`, `loca`).

use crate::CutError;
use crate::bytes::View;
use crate::glyphs::{GlyphMap, GlyphSet};

/// Arguments of a component are words.
const WORDS: u16 = 0x0001;
const ONE_SCALE: u16 = 0x0008;
const MORE: u16 = 0x0020;
const TWO_SCALES: u16 = 0x0040;
const MATRIX: u16 = 0x0080;
pub(crate) const INSTRUCTIONS: u16 = 0x0100;

/// `glyf` with the places of its glyphs.
pub(crate) struct Glyphs<'a> {
    glyf: View<'a>,
    ends: Vec<usize>,
}

/// A component of a composite glyph: where its record starts, and its glyph.
pub(crate) struct Component {
    at: usize,
    glyph: u16,
    pub(crate) flags: u16,
    pub(crate) end: usize,
}

/// The components of a composite glyph; none of another.
pub(crate) fn components(view: View<'_>) -> Result<Vec<Component>, CutError> {
    let mut components = Vec::new();
    if view.i16(0)? >= 0 {
        return Ok(components);
    }
    let mut at = 10;
    loop {
        let (flags, glyph) = (view.u16(at)?, view.u16(at + 2)?);
        let arguments = if flags & WORDS != 0 { 4 } else { 2 };
        let scale = match flags {
            _ if flags & ONE_SCALE != 0 => 2,
            _ if flags & TWO_SCALES != 0 => 4,
            _ if flags & MATRIX != 0 => 8,
            _ => 0,
        };
        let end = at + 4 + arguments + scale;
        components.push(Component {
            at,
            glyph,
            flags,
            end,
        });
        if flags & MORE == 0 {
            return Ok(components);
        }
        at = end;
    }
}

impl<'a> Glyphs<'a> {
    /// `long` is what `head` says of the offsets.
    pub(crate) fn read(
        glyf: View<'a>,
        loca: View<'_>,
        long: bool,
        glyphs: u16,
    ) -> Result<Self, CutError> {
        let mut ends = Vec::with_capacity(usize::from(glyphs) + 1);
        for index in 0..=usize::from(glyphs) {
            ends.push(if long {
                loca.u32(index * 4)? as usize
            } else {
                usize::from(loca.u16(index * 2)?) * 2
            });
        }
        Ok(Glyphs { glyf, ends })
    }

    /// The bytes of a glyph; none where it is empty or is no glyph.
    fn bytes(&self, glyph: u16) -> Result<&'a [u8], CutError> {
        let glyph = usize::from(glyph);
        match (self.ends.get(glyph), self.ends.get(glyph + 1)) {
            (Some(start), Some(end)) if start < end => self.glyf.slice(*start, end - start),
            _ => Ok(&[]),
        }
    }

    fn view(&self, glyph: u16) -> Result<Option<View<'a>>, CutError> {
        let bytes = self.bytes(glyph)?;
        // Nothing has an outline in less than its header.
        Ok((bytes.len() >= 10).then_some(View {
            data: bytes,
            ..self.glyf
        }))
    }

    /// Adds the glyphs that the composites of `set` are made of.
    pub(crate) fn close(&self, set: &mut GlyphSet) -> Result<(), CutError> {
        let mut queue: Vec<u16> = set.iter().collect();
        while let Some(glyph) = queue.pop() {
            let Some(view) = self.view(glyph)? else {
                continue;
            };
            for component in components(view)? {
                if set.insert(component.glyph) {
                    queue.push(component.glyph);
                }
            }
        }
        Ok(())
    }

    /// `glyf` and `loca` for the glyphs that stay, and whether the offsets are long.
    pub(crate) fn cut(
        &self,
        map: &GlyphMap,
        hints: bool,
    ) -> Result<(Vec<u8>, Vec<u8>, bool), CutError> {
        let mut glyf = Vec::new();
        let mut ends = vec![0usize];
        for glyph in map.old() {
            if let Some(view) = self.view(*glyph)? {
                let start = glyf.len();
                glyf.extend_from_slice(view.data);
                if view.i16(0)? < 0 {
                    let end = cut_composite(view, &mut glyf[start..], map, hints)?;
                    glyf.truncate(start + end);
                } else if !hints {
                    let contours = view.u16(0)? as usize;
                    let at = 10 + contours * 2;
                    let length = usize::from(view.u16(at)?);
                    view.slice(at + 2, length)?;
                    glyf[start + at..start + at + 2].fill(0);
                    glyf.drain(start + at + 2..start + at + 2 + length);
                }
                // Short offsets count in words.
                if glyf.len() % 2 == 1 {
                    glyf.push(0);
                }
            }
            ends.push(glyf.len());
        }
        let long = glyf.len() > usize::from(u16::MAX) * 2;
        let mut loca = Vec::with_capacity(ends.len() * 4);
        for end in ends {
            if long {
                loca.extend_from_slice(&(end as u32).to_be_bytes());
            } else {
                loca.extend_from_slice(&((end / 2) as u16).to_be_bytes());
            }
        }
        // A font of blanks alone has no outlines, but browsers want the table.
        if glyf.is_empty() {
            glyf.push(0);
        }
        Ok((glyf, loca, long))
    }
}

/// Gives the components of `copy` their new ids and, without hints, takes its
/// instructions; where it ends.
fn cut_composite(
    view: View<'_>,
    copy: &mut [u8],
    map: &GlyphMap,
    hints: bool,
) -> Result<usize, CutError> {
    let components = components(view)?;
    let mut end = view.data.len();
    for component in &components {
        let glyph = (map.get(component.glyph))
            .ok_or_else(|| view.damaged("a composite glyph has a part that is no glyph"))?;
        copy[component.at + 2..component.at + 4].copy_from_slice(&glyph.to_be_bytes());
        if !hints {
            let flags = component.flags & !INSTRUCTIONS;
            copy[component.at..component.at + 2].copy_from_slice(&flags.to_be_bytes());
            end = component.end;
        }
    }
    Ok(end.min(copy.len()))
}
