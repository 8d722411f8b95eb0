//! What GSUB, GPOS and GDEF share: coverage and class definitions (OpenType 1.9.1,
//! "OpenType Layout Common Table Formats").

use std::collections::BTreeMap;

use crate::CutError;
use crate::bytes::{Object, View};
use crate::glyphs::GlyphMap;

/// The glyphs of a coverage table in the order of their coverage indices.
pub(crate) fn coverage(view: View<'_>) -> Result<Vec<u16>, CutError> {
    let count = usize::from(view.u16(2)?);
    match view.u16(0)? {
        1 => view.u16s(4, count),
        2 => {
            let mut glyphs = Vec::new();
            for range in 0..count {
                let at = 4 + range * 6;
                let (first, last) = (view.u16(at)?, view.u16(at + 2)?);
                let start = usize::from(view.u16(at + 4)?);
                view.spend(u64::from(last.saturating_sub(first)))?;
                // What does not follow on would be found under another index.
                if first > last || start != glyphs.len() {
                    return Err(view.damaged("the ranges of a coverage table do not follow on"));
                }
                glyphs.extend(first..=last);
                if glyphs.len() > 1 << 16 {
                    return Err(view.damaged("a coverage table names glyphs twice"));
                }
            }
            Ok(glyphs)
        }
        _ => Err(view.damaged("a coverage table has an unknown format")),
    }
}

/// A coverage table of `glyphs`, which rise: the shorter of its two formats.
pub(crate) fn coverage_object(glyphs: &[u16]) -> Object {
    let runs = runs(glyphs);
    let mut object = Object::new();
    if runs.len() * 6 < glyphs.len() * 2 {
        object.u16(2).count(runs.len());
        let mut index = 0;
        for (first, last) in runs {
            object.u16(first).u16(last).u16(index);
            index = index.wrapping_add(last - first + 1);
        }
    } else {
        object.u16(1).count(glyphs.len());
        object.u16s(glyphs.iter().copied());
    }
    object
}

/// Ranges of numbers that follow each other, first and last.
pub(crate) fn runs(sorted: &[u16]) -> Vec<(u16, u16)> {
    let mut runs: Vec<(u16, u16)> = Vec::new();
    for value in sorted {
        match runs.last_mut() {
            Some((_, last)) if *last < u16::MAX && *last + 1 == *value => *last = *value,
            _ => runs.push((*value, *value)),
        }
    }
    runs
}

/// The new ids of the glyphs of a set that stay, rising; `None` where none does.
pub(crate) fn kept_set(set: &[u16], map: &GlyphMap) -> Option<Vec<u16>> {
    let mut kept: Vec<u16> = set.iter().filter_map(|glyph| map.get(*glyph)).collect();
    kept.sort_unstable();
    kept.dedup();
    (!kept.is_empty()).then_some(kept)
}

/// What stays of a coverage table: the index there and the new id, by new id.
pub(crate) fn kept_indices(view: View<'_>, map: &GlyphMap) -> Result<Vec<(usize, u16)>, CutError> {
    let mut kept: Vec<(usize, u16)> = coverage(view)?
        .into_iter()
        .enumerate()
        .filter_map(|(index, glyph)| Some((index, map.get(glyph)?)))
        .collect();
    kept.sort_by_key(|(_, glyph)| *glyph);
    kept.dedup_by_key(|(_, glyph)| *glyph);
    Ok(kept)
}

/// The classes of glyphs, those of class 0 left out.
pub(crate) fn classes(view: View<'_>) -> Result<BTreeMap<u16, u16>, CutError> {
    let mut classes = BTreeMap::new();
    match view.u16(0)? {
        1 => {
            let first = view.u16(2)?;
            let count = usize::from(view.u16(4)?);
            for (index, class) in view.u16s(6, count)?.into_iter().enumerate() {
                if class != 0 && usize::from(first) + index < usize::from(u16::MAX) {
                    classes.insert(first + index as u16, class);
                }
            }
        }
        2 => {
            for range in 0..usize::from(view.u16(2)?) {
                let at = 4 + range * 6;
                let (first, last, class) = (view.u16(at)?, view.u16(at + 2)?, view.u16(at + 4)?);
                view.spend(u64::from(last.saturating_sub(first)))?;
                if class != 0 && first <= last {
                    classes.extend((first..=last).map(|glyph| (glyph, class)));
                }
            }
        }
        _ => return Err(view.damaged("a class definition has an unknown format")),
    }
    Ok(classes)
}

/// A class definition: the shorter of its two formats.
pub(crate) fn class_object(classes: &BTreeMap<u16, u16>) -> Object {
    let mut ranges: Vec<(u16, u16, u16)> = Vec::new();
    for (glyph, class) in classes {
        match ranges.last_mut() {
            Some((_, last, of)) if *last + 1 == *glyph && of == class => *last = *glyph,
            _ => ranges.push((*glyph, *glyph, *class)),
        }
    }
    let mut object = Object::new();
    let ends = classes.keys().next().zip(classes.keys().next_back());
    let span = ends.map_or(0, |(first, last)| usize::from(last - first) + 1);
    if 6 + span * 2 < 4 + ranges.len() * 6 {
        let first = ends.map_or(0, |(first, _)| *first);
        object.u16(1).u16(first).count(span);
        let class = |glyph| classes.get(&glyph).copied().unwrap_or(0);
        object.u16s((0..span).map(|index| class(first + index as u16)));
    } else {
        object.u16(2).count(ranges.len());
        for (first, last, class) in ranges {
            object.u16(first).u16(last).u16(class);
        }
    }
    object
}
