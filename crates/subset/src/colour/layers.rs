//! Layers of colour, plain and as graphs of paints (OpenType 1.9.1, `COLR` versions 0
//! and 1).

use std::collections::{BTreeMap, BTreeSet, HashMap};
use std::rc::Rc;

use crate::CutError;
use crate::bytes::{Object, View};
use crate::glyphs::{GlyphMap, GlyphSet};

/// Paints inside paints, at most.
const DEEPEST: usize = 64;

/// What a format of paint is made of.
struct Shape {
    /// Bytes of it.
    size: usize,
    /// Where offsets to other paints are.
    paints: &'static [usize],
    /// Where the id of a glyph is.
    glyph: Option<usize>,
    /// What else it leads to, and where the offset is.
    other: Option<(usize, Other)>,
}

#[derive(Clone, Copy)]
enum Other {
    ColourLine { stop: usize },
    Transform { size: usize },
}

/// Paints by format (OpenType 1.9.1, `COLR`, "Paint tables"); each second one varies,
/// with an index of four bytes more.
fn shape(format: u8) -> Option<Shape> {
    let plain = |size, paints| Shape {
        size,
        paints,
        glyph: None,
        other: None,
    };
    let line = |size, stop| Shape {
        other: Some((1, Other::ColourLine { stop })),
        ..plain(size, &[])
    };
    let transform = |size| Shape {
        other: Some((4, Other::Transform { size })),
        ..plain(7, &[1])
    };
    Some(match format {
        1 => plain(6, &[]),
        2 => plain(5, &[]),
        3 => plain(9, &[]),
        4 | 6 => line(16, 6),
        5 | 7 => line(20, 10),
        8 => line(12, 6),
        9 => line(16, 10),
        10 => Shape {
            glyph: Some(4),
            ..plain(6, &[1])
        },
        11 => Shape {
            glyph: Some(1),
            ..plain(3, &[])
        },
        12 => transform(24),
        13 => transform(28),
        14 | 16 | 28 => plain(8, &[1]),
        15 | 17 | 18 | 29 | 30 => plain(12, &[1]),
        19 | 31 => plain(16, &[1]),
        20 | 24 => plain(6, &[1]),
        21 | 22 | 25 | 26 => plain(10, &[1]),
        23 | 27 => plain(14, &[1]),
        32 => plain(8, &[1, 5]),
        _ => return None,
    })
}

/// A `COLR` table.
pub(crate) struct Colour<'a> {
    view: View<'a>,
    /// Plain layers: first and count by base glyph.
    plain: BTreeMap<u16, (u16, u16)>,
    layers: Option<View<'a>>,
    /// Paints by base glyph.
    paints: BTreeMap<u16, View<'a>>,
    /// The list of paints that `PaintColrLayers` names.
    list: Option<View<'a>>,
}

/// What a set of base glyphs uses.
#[derive(Default)]
struct Used {
    glyphs: BTreeSet<u16>,
    layers: BTreeSet<u32>,
    seen: BTreeSet<usize>,
}

impl<'a> Colour<'a> {
    pub(crate) fn read(view: View<'a>) -> Result<Self, CutError> {
        let mut colour = Colour {
            view,
            plain: BTreeMap::new(),
            layers: view.link32(8)?,
            paints: BTreeMap::new(),
            list: None,
        };
        if let Some(records) = view.link32(4)? {
            for index in 0..usize::from(view.u16(2)?) {
                let at = index * 6;
                let layers = (records.u16(at + 2)?, records.u16(at + 4)?);
                colour.plain.insert(records.u16(at)?, layers);
            }
        }
        if view.u16(0)? >= 1 {
            if let Some(bases) = view.link32(14)? {
                for index in 0..bases.u32(0)? as usize {
                    let at = 4 + index * 6;
                    bases.spend(8)?;
                    if let Some(paint) = bases.link32(at + 2)? {
                        colour.paints.insert(bases.u16(at)?, paint);
                    }
                }
            }
            colour.list = view.link32(18)?;
        }
        Ok(colour)
    }

    /// Where a paint stands in the table, which tells paints apart.
    fn place(&self, paint: View<'_>) -> usize {
        self.view.data.len() - paint.data.len()
    }

    fn listed(&self, layer: u32) -> Result<View<'a>, CutError> {
        let missing = || self.view.damaged("a paint names a layer that is not there");
        let list = self.list.ok_or_else(missing)?;
        if layer >= list.u32(0)? {
            return Err(missing());
        }
        list.link32(4 + layer as usize * 4)?.ok_or_else(missing)
    }

    fn walk(&self, paint: View<'a>, used: &mut Used, depth: usize) -> Result<(), CutError> {
        if depth > DEEPEST {
            return Err(self
                .view
                .damaged("paints contain each other without an end"));
        }
        if !used.seen.insert(self.place(paint)) {
            return Ok(());
        }
        let format = paint.u8(0)?;
        let shape = self.known(format)?;
        if let Some(at) = shape.glyph {
            let glyph = paint.u16(at)?;
            used.glyphs.insert(glyph);
            if format == 11
                && let Some(base) = self.paints.get(&glyph)
            {
                self.walk(*base, used, depth + 1)?;
            }
        }
        if format == 1 {
            let first = paint.u32(2)?;
            for layer in (0..u32::from(paint.u8(1)?)).map(|layer| first.saturating_add(layer)) {
                used.layers.insert(layer);
                self.walk(self.listed(layer)?, used, depth + 1)?;
            }
        }
        for at in shape.paints {
            let inner = paint.from(paint.u24(*at)? as usize)?;
            self.walk(inner, used, depth + 1)?;
        }
        Ok(())
    }

    fn known(&self, format: u8) -> Result<Shape, CutError> {
        shape(format).ok_or_else(|| self.view.damaged("a paint has an unknown format"))
    }

    /// Adds the glyphs that the layers of `set` are drawn with.
    pub(crate) fn close(&self, set: &mut GlyphSet) -> Result<(), CutError> {
        let mut used = Used::default();
        for (base, paint) in &self.paints {
            if set.contains(*base) {
                self.walk(*paint, &mut used, 0)?;
            }
        }
        let bases: Vec<u16> = self
            .plain
            .keys()
            .copied()
            .filter(|g| set.contains(*g))
            .collect();
        for glyph in used.glyphs {
            set.insert(glyph);
        }
        for base in bases {
            let (first, count) = self.plain[&base];
            for layer in 0..usize::from(count) {
                if let Some(layers) = self.layers {
                    set.insert(layers.u16((usize::from(first) + layer) * 4)?);
                }
            }
        }
        Ok(())
    }

    /// The table for the glyphs that stay; `None` where none of them has colour.
    pub(crate) fn cut(&self, map: &GlyphMap) -> Result<Option<Vec<u8>>, CutError> {
        let mut records = Object::new();
        let mut layers = Object::new();
        let (mut bases, mut layer_count) = (0usize, 0usize);
        let mut done: BTreeMap<(u16, u16), usize> = BTreeMap::new();
        for (base, (first, count)) in &self.plain {
            let Some(new) = map.get(*base) else {
                continue;
            };
            let start = *done.entry((*first, *count)).or_insert(layer_count);
            if start == layer_count {
                for layer in 0..usize::from(*count) {
                    let at = (usize::from(*first) + layer) * 4;
                    let of = (self.layers).ok_or_else(|| self.view.damaged("it has no layers"))?;
                    let glyph = map.get(of.u16(at)?);
                    let glyph = glyph.ok_or_else(|| of.damaged("a layer has no glyph"))?;
                    layers.u16(glyph).u16(of.u16(at + 2)?);
                }
                layer_count += usize::from(*count);
            }
            records.u16(new).count(start).u16(*count);
            bases += 1;
        }
        let mut used = Used::default();
        let mut kept = Vec::new();
        for (base, paint) in &self.paints {
            if let Some(new) = map.get(*base) {
                self.walk(*paint, &mut used, 0)?;
                kept.push((new, *paint));
            }
        }
        if bases == 0 && kept.is_empty() {
            return Ok(None);
        }
        let mut root = Object::new();
        root.u16(u16::from(!kept.is_empty())).count(bases);
        root.maybe32((bases > 0).then_some(records));
        root.maybe32((bases > 0).then_some(layers))
            .count(layer_count);
        if !kept.is_empty() {
            self.write_paints(&mut root, &kept, &used, map)?;
        }
        root.pack("COLR").map(Some)
    }

    fn write_paints(
        &self,
        root: &mut Object,
        kept: &[(u16, View<'a>)],
        used: &Used,
        map: &GlyphMap,
    ) -> Result<(), CutError> {
        let numbers: BTreeMap<u32, u32> = used.layers.iter().copied().zip(0..).collect();
        let mut writer = Writer {
            colour: self,
            map,
            layers: &numbers,
            done: HashMap::new(),
        };
        let mut list = Object::new();
        list.u32(kept.len() as u32);
        for (glyph, paint) in kept {
            list.u16(*glyph).link32(writer.paint(*paint, 0)?);
        }
        root.link32(list);
        if numbers.is_empty() {
            root.u32(0);
        } else {
            let mut layers = Object::new();
            layers.u32(numbers.len() as u32);
            for old in numbers.keys() {
                layers.link32(writer.paint(self.listed(*old)?, 0)?);
            }
            root.link32(layers);
        }
        root.maybe32(self.clips(map)?);
        // What varies is found by indices that stay: the map and the store stay whole.
        for at in [26, 30] {
            let whole = self.view.link32(at)?;
            root.maybe32(whole.map(|view| self.whole(view)).transpose()?);
        }
        Ok(())
    }

    /// A part of the table as it stands. Where it ends is not written; the next part
    /// or the end of the table is taken, which may be more than needed, never less.
    fn whole(&self, view: View<'a>) -> Result<Object, CutError> {
        let start = self.place(view);
        let mut end = self.view.data.len();
        for at in [4, 8, 14, 18, 22, 26, 30] {
            let other = self.view.u32(at)? as usize;
            if other > start {
                end = end.min(other);
            }
        }
        let mut object = Object::new();
        object.raw(self.view.slice(start, end - start)?);
        Ok(object)
    }

    fn clips(&self, map: &GlyphMap) -> Result<Option<Object>, CutError> {
        let Some(list) = self.view.link32(22)? else {
            return Ok(None);
        };
        let mut kept: BTreeMap<u16, &[u8]> = BTreeMap::new();
        for index in 0..list.u32(1)? as usize {
            let at = 5 + index * 7;
            let (first, last) = (list.u16(at)?, list.u16(at + 2)?);
            let clip = list.from(list.u24(at + 4)? as usize)?;
            let bytes = clip.slice(0, if clip.u8(0)? == 2 { 13 } else { 9 })?;
            list.spend(u64::from(last.saturating_sub(first)))?;
            let new = (first..=last).filter_map(|glyph| map.get(glyph));
            kept.extend(new.map(|glyph| (glyph, bytes)));
        }
        if kept.is_empty() {
            return Ok(None);
        }
        let mut ranges: Vec<(u16, u16, &[u8])> = Vec::new();
        for (glyph, bytes) in kept {
            match ranges.last_mut() {
                Some((_, last, of)) if *last + 1 == glyph && *of == bytes => *last = glyph,
                _ => ranges.push((glyph, glyph, bytes)),
            }
        }
        let mut object = Object::new();
        object.u8(1).u32(ranges.len() as u32);
        for (first, last, bytes) in ranges {
            let mut clip = Object::new();
            clip.raw(bytes);
            object.u16(first).u16(last).link24(clip);
        }
        Ok(Some(object))
    }
}

/// Writes paints, each once.
struct Writer<'w, 'a> {
    colour: &'w Colour<'a>,
    map: &'w GlyphMap,
    layers: &'w BTreeMap<u32, u32>,
    done: HashMap<usize, Rc<Object>>,
}

impl<'a> Writer<'_, 'a> {
    fn paint(&mut self, paint: View<'a>, depth: usize) -> Result<Rc<Object>, CutError> {
        let place = self.colour.place(paint);
        if let Some(done) = self.done.get(&place) {
            return Ok(Rc::clone(done));
        }
        if depth > DEEPEST {
            return Err(paint.damaged("paints contain each other without an end"));
        }
        let format = paint.u8(0)?;
        let shape = self.colour.known(format)?;
        let bytes = paint.slice(0, shape.size)?;
        let mut object = Object::new();
        let mut at = 0;
        while at < shape.size {
            if shape.paints.contains(&at) {
                let inner = paint.from(paint.u24(at)? as usize)?;
                object.link24(self.paint(inner, depth + 1)?);
                at += 3;
            } else if shape.glyph == Some(at) {
                let glyph = self.map.get(paint.u16(at)?);
                object.u16(glyph.ok_or_else(|| paint.damaged("a paint has no glyph"))?);
                at += 2;
            } else if let Some((_, other)) = shape.other.filter(|(place, _)| *place == at) {
                let view = paint.from(paint.u24(at)? as usize)?;
                let size = match other {
                    Other::ColourLine { stop } => 3 + usize::from(view.u16(1)?) * stop,
                    Other::Transform { size } => size,
                };
                let mut written = Object::new();
                written.raw(view.slice(0, size)?);
                object.link24(written);
                at += 3;
            } else if format == 1 && at == 2 {
                let first = paint.u32(2)?;
                object.u32(self.layers.get(&first).copied().unwrap_or(0));
                at += 4;
            } else {
                object.u8(bytes[at]);
                at += 1;
            }
        }
        let object = Rc::new(object);
        self.done.insert(place, Rc::clone(&object));
        Ok(object)
    }
}
