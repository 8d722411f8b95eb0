//! Mathematical typesetting (OpenType 1.9.1, `MATH`). Corrections for single pixel
//! sizes are left out: browsers do not read them.

use crate::CutError;
use crate::bytes::{Object, View};
use crate::glyphs::{GlyphMap, GlyphSet};
use crate::layout::{coverage, coverage_object, kept_indices};

/// Bytes of the constants: 4 numbers, 51 values with devices, a percentage.
const CONSTANTS: usize = 214;

/// The constructions of larger glyphs: coverage offset, count offset, first construction.
fn constructions<'a>(
    variants: View<'a>,
    horizontal: bool,
) -> Result<Vec<(u16, View<'a>)>, CutError> {
    let (vertical, across) = (usize::from(variants.u16(6)?), usize::from(variants.u16(8)?));
    let (at, first, count) = if horizontal {
        (4, vertical, across)
    } else {
        (2, 0, vertical)
    };
    let Some(covered) = variants.link16(at)? else {
        return Ok(Vec::new());
    };
    (coverage(covered)?.into_iter().take(count).enumerate())
        .map(|(index, glyph)| Ok((glyph, variants.follow16(10 + (first + index) * 2)?)))
        .collect()
}

fn variant_glyphs(construction: View<'_>) -> Result<Vec<(u16, u16)>, CutError> {
    (0..usize::from(construction.u16(2)?))
        .map(|index| {
            let at = 4 + index * 4;
            Ok((construction.u16(at)?, construction.u16(at + 2)?))
        })
        .collect()
}

/// Adds the larger forms of the glyphs of `set`, and the parts that they are built of.
pub(crate) fn close(view: View<'_>, set: &mut GlyphSet) -> Result<(), CutError> {
    let Some(variants) = view.link16(8)? else {
        return Ok(());
    };
    for horizontal in [false, true] {
        for (glyph, construction) in constructions(variants, horizontal)? {
            if !set.contains(glyph) {
                continue;
            }
            for (variant, _) in variant_glyphs(construction)? {
                set.insert(variant);
            }
            if let Some(assembly) = construction.link16(0)? {
                for part in 0..usize::from(assembly.u16(4)?) {
                    set.insert(assembly.u16(6 + part * 10)?);
                }
            }
        }
    }
    Ok(())
}

/// A value without its device.
fn value(object: &mut Object, view: View<'_>, at: usize) -> Result<(), CutError> {
    object.i16(view.i16(at)?).u16(0);
    Ok(())
}

/// Values by glyph: italics corrections, places of accents.
fn values(view: View<'_>, map: &GlyphMap) -> Result<Option<Object>, CutError> {
    let kept = kept_indices(view.follow16(0)?, map)?;
    let count = usize::from(view.u16(2)?);
    let kept: Vec<(usize, u16)> = kept
        .into_iter()
        .filter(|(index, _)| *index < count)
        .collect();
    if kept.is_empty() {
        return Ok(None);
    }
    let glyphs: Vec<u16> = kept.iter().map(|(_, glyph)| *glyph).collect();
    let mut object = Object::new();
    object.link16(coverage_object(&glyphs)).count(kept.len());
    for (index, _) in kept {
        value(&mut object, view, 4 + index * 4)?;
    }
    Ok(Some(object))
}

fn kern(view: View<'_>) -> Result<Object, CutError> {
    let heights = usize::from(view.u16(0)?);
    let mut object = Object::new();
    object.count(heights);
    for index in 0..heights * 2 + 1 {
        value(&mut object, view, 2 + index * 4)?;
    }
    Ok(object)
}

fn kerns(view: View<'_>, map: &GlyphMap) -> Result<Option<Object>, CutError> {
    let count = usize::from(view.u16(2)?);
    let kept: Vec<(usize, u16)> = (kept_indices(view.follow16(0)?, map)?.into_iter())
        .filter(|(index, _)| *index < count)
        .collect();
    if kept.is_empty() {
        return Ok(None);
    }
    let glyphs: Vec<u16> = kept.iter().map(|(_, glyph)| *glyph).collect();
    let mut object = Object::new();
    object.link16(coverage_object(&glyphs)).count(kept.len());
    for (index, _) in kept {
        for corner in 0..4 {
            let of = view.link16(4 + index * 8 + corner * 2)?;
            object.maybe16(of.map(kern).transpose()?);
        }
    }
    Ok(Some(object))
}

fn glyph_info(view: View<'_>, map: &GlyphMap) -> Result<Object, CutError> {
    let mut object = Object::new();
    for at in [0, 2] {
        let of = view.link16(at)?;
        object.maybe16(of.map(|of| values(of, map)).transpose()?.flatten());
    }
    let extended = view
        .link16(4)?
        .map(|of| kept_indices(of, map))
        .transpose()?;
    object.maybe16(extended.filter(|kept| !kept.is_empty()).map(|kept| {
        let glyphs: Vec<u16> = kept.into_iter().map(|(_, glyph)| glyph).collect();
        coverage_object(&glyphs)
    }));
    let of = view.link16(6)?;
    object.maybe16(of.map(|of| kerns(of, map)).transpose()?.flatten());
    Ok(object)
}

fn construction(view: View<'_>, map: &GlyphMap) -> Result<Object, CutError> {
    let missing = || view.damaged("a larger form of a glyph is no glyph");
    let mut object = Object::new();
    let assembly = match view.link16(0)? {
        Some(assembly) => {
            let parts = usize::from(assembly.u16(4)?);
            let mut written = Object::new();
            value(&mut written, assembly, 0)?;
            written.count(parts);
            for part in 0..parts {
                let at = 6 + part * 10;
                written.u16(map.get(assembly.u16(at)?).ok_or_else(missing)?);
                written.raw(assembly.slice(at + 2, 8)?);
            }
            Some(written)
        }
        None => None,
    };
    object.maybe16(assembly);
    let variants = variant_glyphs(view)?;
    object.count(variants.len());
    for (glyph, advance) in variants {
        object.u16(map.get(glyph).ok_or_else(missing)?).u16(advance);
    }
    Ok(object)
}

fn variants(view: View<'_>, map: &GlyphMap) -> Result<Object, CutError> {
    let mut kept = Vec::new();
    for horizontal in [false, true] {
        let mut of: Vec<(u16, View<'_>)> = (constructions(view, horizontal)?.into_iter())
            .filter_map(|(glyph, construction)| Some((map.get(glyph)?, construction)))
            .collect();
        of.sort_by_key(|(glyph, _)| *glyph);
        of.dedup_by_key(|(glyph, _)| *glyph);
        kept.push(of);
    }
    let mut object = Object::new();
    object.u16(view.u16(0)?);
    for of in &kept {
        let glyphs: Vec<u16> = of.iter().map(|(glyph, _)| *glyph).collect();
        object.maybe16((!glyphs.is_empty()).then(|| coverage_object(&glyphs)));
    }
    for of in &kept {
        object.count(of.len());
    }
    for (_, of) in kept.iter().flatten() {
        object.link16(construction(*of, map)?);
    }
    Ok(object)
}

/// `MATH` for the glyphs that stay.
pub(crate) fn cut(view: View<'_>, map: &GlyphMap) -> Result<Option<Vec<u8>>, CutError> {
    let mut root = Object::new();
    root.u16(1).u16(0);
    let constants = match view.link16(4)? {
        Some(constants) => {
            let mut object = Object::new();
            object.raw(constants.slice(0, 8)?);
            for index in 0..51 {
                value(&mut object, constants, 8 + index * 4)?;
            }
            object.raw(constants.slice(CONSTANTS - 2, 2)?);
            Some(object)
        }
        None => None,
    };
    root.maybe16(constants);
    let info = view.link16(6)?;
    root.maybe16(info.map(|info| glyph_info(info, map)).transpose()?);
    let of = view.link16(8)?;
    root.maybe16(of.map(|of| variants(of, map)).transpose()?);
    root.pack("MATH").map(Some)
}
