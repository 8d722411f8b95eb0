//! GDEF: classes of glyphs, carets of ligatures, sets of marks (OpenType 1.9.1, GDEF).

use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

use super::common::{class_object, classes, coverage, coverage_object, kept_set};
use super::context::Classes;
use super::substitution::kept;
use super::value::{Device, Shift, shift};
use crate::CutError;
use crate::bytes::{Object, View};
use crate::glyphs::GlyphMap;
use crate::variations::{Remap, Store};

/// Where the caret stands inside a ligature.
#[derive(Debug, Clone)]
enum Caret {
    At(i16, Option<Arc<Device>>),
    /// At a point of the outline.
    Point(u16),
}

/// GDEF, and the item variation store that GPOS uses, too.
#[derive(Default)]
pub(crate) struct Definitions {
    classes: Classes,
    mark_classes: Classes,
    carets: Vec<(u16, Vec<Caret>)>,
    mark_sets: Vec<Vec<u16>>,
    pub(crate) store: Option<Store>,
}

fn carets(view: View<'_>) -> Result<Vec<Caret>, CutError> {
    let read = |index: usize| {
        let caret = view.follow16(2 + index * 2)?;
        view.spend(8)?;
        Ok(match caret.u16(0)? {
            2 => Caret::Point(caret.u16(2)?),
            3 => Caret::At(caret.i16(2)?, Device::at(caret, 4)?),
            _ => Caret::At(caret.i16(2)?, None),
        })
    };
    (0..usize::from(view.u16(0)?)).map(read).collect()
}

impl Definitions {
    pub(crate) fn read(view: View<'_>) -> Result<Self, CutError> {
        let minor = view.u16(2)?;
        let mut read = Definitions::default();
        if let Some(definition) = view.link16(4)? {
            read.classes = classes(definition)?;
        }
        if let Some(list) = view.link16(8)? {
            let glyphs = coverage(list.follow16(0)?)?;
            let count = usize::from(list.u16(2)?);
            for (index, glyph) in glyphs.into_iter().take(count).enumerate() {
                (read.carets).push((glyph, carets(list.follow16(4 + index * 2)?)?));
            }
        }
        if let Some(definition) = view.link16(10)? {
            read.mark_classes = classes(definition)?;
        }
        if minor >= 2
            && let Some(sets) = view.link16(12)?
        {
            for index in 0..usize::from(sets.u16(2)?) {
                let set = sets.link32(4 + index * 4)?;
                (read.mark_sets).push(set.map(coverage).transpose()?.unwrap_or_default());
            }
        }
        if minor >= 3
            && let Some(store) = view.link32(14)?
        {
            read.store = Some(Store::read(store)?);
        }
        Ok(read)
    }

    /// Visits every delta set that the carets of the glyphs which stay use.
    pub(crate) fn variations(&self, map: &GlyphMap, visit: &mut dyn FnMut(u16, u16)) {
        for (_, carets) in self.carets.iter().filter(|(g, _)| map.get(*g).is_some()) {
            for caret in carets {
                if let Caret::At(_, Some(device)) = caret
                    && let Device::Variation { outer, inner } = **device
                {
                    visit(outer, inner);
                }
            }
        }
    }

    /// Moves the carets to where they are at a new default.
    pub(crate) fn shift(&mut self, by: Shift<'_>) {
        for caret in self.carets.iter_mut().flat_map(|(_, carets)| carets) {
            if let Caret::At(at, device) = caret {
                shift(at, device, by);
            }
        }
    }

    /// The new numbers of the sets of marks that are used.
    pub(crate) fn mark_set_numbers(&self, used: &BTreeSet<u16>) -> BTreeMap<u16, u16> {
        let known = used
            .iter()
            .filter(|set| usize::from(**set) < self.mark_sets.len());
        known.copied().zip(0..).collect()
    }

    /// The table for the glyphs that stay; `None` where nothing is left of it.
    pub(crate) fn write(
        &self,
        map: &GlyphMap,
        mark_sets: &BTreeMap<u16, u16>,
        remap: &Remap,
        store: Option<&[u8]>,
    ) -> Result<Option<Vec<u8>>, CutError> {
        let cut = |classes: &Classes| -> Classes {
            (classes.iter())
                .filter_map(|(glyph, class)| Some((map.get(*glyph)?, *class)))
                .collect()
        };
        // Without a list of classes shapers guess at marks by their characters, so that
        // an empty one says something.
        let classes = (!self.classes.is_empty()).then(|| class_object(&cut(&self.classes)));
        let carets = kept(&self.carets, map, |carets| Some(carets.clone()));
        let mark_classes = cut(&self.mark_classes);
        let mark_classes = (!mark_classes.is_empty()).then(|| class_object(&mark_classes));
        let nothing = classes.is_none() && carets.is_none() && mark_classes.is_none();
        if nothing && mark_sets.is_empty() && store.is_none() {
            return Ok(None);
        }
        let minor = match (store, mark_sets.is_empty()) {
            (Some(_), _) => 3,
            (None, false) => 2,
            (None, true) => 0,
        };
        let mut root = Object::new();
        // The list of attachment points is for rasterisers that nobody ships any more.
        root.u16(1).u16(minor).maybe16(classes).u16(0);
        root.maybe16(carets.map(|carets| carets_object(&carets, remap)));
        root.maybe16(mark_classes);
        if minor >= 2 {
            root.maybe16((!mark_sets.is_empty()).then(|| self.mark_sets_object(map, mark_sets)));
        }
        if let Some(store) = store {
            let mut object = Object::new();
            object.raw(store);
            root.link32(object);
        }
        root.pack("GDEF").map(Some)
    }

    fn mark_sets_object(&self, map: &GlyphMap, numbers: &BTreeMap<u16, u16>) -> Object {
        let mut object = Object::new();
        object.u16(1).count(numbers.len());
        for old in numbers.keys() {
            let glyphs = kept_set(&self.mark_sets[usize::from(*old)], map).unwrap_or_default();
            object.link32(coverage_object(&glyphs));
        }
        object
    }
}

fn carets_object(carets: &[(u16, Vec<Caret>)], remap: &Remap) -> Object {
    let glyphs: Vec<u16> = carets.iter().map(|(glyph, _)| *glyph).collect();
    let mut list = Object::new();
    list.link16(coverage_object(&glyphs)).count(carets.len());
    for (_, carets) in carets {
        let mut glyph = Object::new();
        glyph.count(carets.len());
        for caret in carets {
            let mut object = Object::new();
            match caret {
                Caret::Point(point) => {
                    object.u16(2).u16(*point);
                }
                Caret::At(at, device) => {
                    let device = device.as_ref().and_then(|device| device.object(remap));
                    object.u16(if device.is_some() { 3 } else { 1 }).i16(*at);
                    if let Some(device) = device {
                        object.link16(device);
                    }
                }
            }
            glyph.link16(object);
        }
        list.link16(glyph);
    }
    list
}
