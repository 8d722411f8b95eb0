//! Lines, heights and classes at a new default: `HVAR`, `VVAR`, `MVAR`, and the fields of
//! `OS/2`, `hhea`, `vhea` and `post` that they move (OpenType 1.9.1, `MVAR`, "Value tags").

use super::design::Design;
use super::outlines::Tables;
use crate::CutError;
use crate::bytes::{Budget, Object, View};
use crate::metrics::{read_metrics, written_metrics};
use crate::source::{Source, tag_name};
use crate::variations::{NONE, Shifts, Store, index_map, read_index_map};

/// Value tags, the table that has the value, and where.
const VALUES: [(&[u8; 4], &[u8; 4], usize); 31] = [
    (b"hasc", b"OS/2", 68),
    (b"hdsc", b"OS/2", 70),
    (b"hlgp", b"OS/2", 72),
    (b"hcla", b"OS/2", 74),
    (b"hcld", b"OS/2", 76),
    (b"xhgt", b"OS/2", 86),
    (b"cpht", b"OS/2", 88),
    (b"sbxs", b"OS/2", 10),
    (b"sbys", b"OS/2", 12),
    (b"sbxo", b"OS/2", 14),
    (b"sbyo", b"OS/2", 16),
    (b"spxs", b"OS/2", 18),
    (b"spys", b"OS/2", 20),
    (b"spxo", b"OS/2", 22),
    (b"spyo", b"OS/2", 24),
    (b"strs", b"OS/2", 26),
    (b"stro", b"OS/2", 28),
    // The same three as OS/2 has: renderers move those of both.
    (b"hasc", b"hhea", 4),
    (b"hdsc", b"hhea", 6),
    (b"hlgp", b"hhea", 8),
    (b"hcrs", b"hhea", 18),
    (b"hcrn", b"hhea", 20),
    (b"hcof", b"hhea", 22),
    (b"vasc", b"vhea", 4),
    (b"vdsc", b"vhea", 6),
    (b"vlgp", b"vhea", 8),
    (b"vcrs", b"vhea", 18),
    (b"vcrn", b"vhea", 20),
    (b"vcof", b"vhea", 22),
    (b"undo", b"post", 8),
    (b"unds", b"post", 10),
];

/// `made` are the tables that are done: what is there already is changed further.
pub(super) fn limited(
    source: &Source<'_>,
    design: &Design,
    made: &Tables,
    budget: &Budget,
) -> Result<Tables, CutError> {
    let mut changed = Changed {
        source,
        made,
        tables: Tables::new(),
    };
    for (tag, maps, header, metrics) in [
        (b"HVAR", 3, b"hhea", b"hmtx"),
        (b"VVAR", 4, b"vhea", b"vmtx"),
    ] {
        if let Some(view) = source.view(tag, budget) {
            let advances = Advances::read(view, maps, design)?;
            changed.set_advances(&advances, header, metrics, budget)?;
            changed.tables.push((*tag, advances.packed(tag)?));
        }
    }
    if let Some(view) = source.view(b"MVAR", budget) {
        changed.line(view, design)?;
    }
    changed.classes(design);
    Ok(changed.tables)
}

struct Changed<'c, 'a> {
    source: &'c Source<'a>,
    made: &'c Tables,
    tables: Tables,
}

impl Changed<'_, '_> {
    /// The table as it is so far, to be changed.
    fn table(&mut self, tag: [u8; 4]) -> Option<&mut Vec<u8>> {
        let known = self.tables.iter().position(|(known, _)| *known == tag);
        let place = match known {
            Some(place) => place,
            None => {
                let done = self.made.iter().find(|(known, _)| *known == tag);
                let bytes = match done {
                    Some((_, bytes)) => bytes.clone(),
                    None => self.source.tables.get(&tag)?.to_vec(),
                };
                self.tables.push((tag, bytes));
                self.tables.len() - 1
            }
        };
        self.tables.get_mut(place).map(|(_, bytes)| bytes)
    }

    /// Adds to a signed 16-bit value, where the table reaches that far.
    fn add(&mut self, tag: [u8; 4], at: usize, by: i32) {
        let Some(bytes) = self.table(tag).and_then(|table| table.get_mut(at..at + 2)) else {
            return;
        };
        let value = i32::from(i16::from_be_bytes([bytes[0], bytes[1]])).saturating_add(by);
        let value = value.clamp(i32::from(i16::MIN), i32::from(i16::MAX)) as i16;
        bytes.copy_from_slice(&value.to_be_bytes());
    }

    fn set(&mut self, tag: [u8; 4], at: usize, value: &[u8]) {
        if let Some(table) = self.table(tag)
            && let Some(bytes) = table.get_mut(at..at + value.len())
        {
            bytes.copy_from_slice(value);
        }
    }

    /// Advances as the table that is asked first has them; bearings stay as the outlines
    /// have made them.
    fn set_advances(
        &mut self,
        advances: &Advances,
        header: &[u8; 4],
        metrics: &[u8; 4],
        budget: &Budget,
    ) -> Result<(), CutError> {
        let source = self.source;
        let (Some(old_head), Some(old)) =
            (source.view(header, budget), source.view(metrics, budget))
        else {
            return Ok(());
        };
        let old = read_metrics(old, old_head.u16(34)?, 0..source.glyph_count)?;
        let (Some(head), Some(new)) = (self.table(*header).cloned(), self.table(*metrics).cloned())
        else {
            return Ok(());
        };
        let declared = View::new(&head, tag_name(*header), budget).u16(34)?;
        let new = View::new(&new, tag_name(*metrics), budget);
        let mut all = read_metrics(new, declared, 0..source.glyph_count)?;
        for (number, ((advance, _), (was, _))) in (0u16..).zip(all.iter_mut().zip(old)) {
            let moved = i32::from(was).saturating_add(advances.shift(number));
            *advance = moved.clamp(0, i32::from(u16::MAX)) as u16;
        }
        let (bytes, count) = written_metrics(&all);
        self.set(*header, 34, &count.to_be_bytes());
        if let Some(table) = self.table(*metrics) {
            *table = bytes;
        }
        Ok(())
    }

    fn line(&mut self, view: View<'_>, design: &Design) -> Result<(), CutError> {
        let size = usize::from(view.u16(6)?);
        let store = match view.link16(10)? {
            Some(store) => Store::read(store)?,
            None => return Ok(()),
        };
        let (store, shifts) = store.limited(&design.spans)?;
        let mut table = Object::new();
        let count = usize::from(view.u16(8)?);
        table.u16(1).u16(0).u16(0).u16(8).count(count);
        table.link16(store.object());
        for index in 0..count {
            let at = 12 + index * size;
            let (tag, outer, inner) = (view.tag(at)?, view.u16(at + 4)?, view.u16(at + 6)?);
            let (by, _) = shifts.of(outer, inner);
            for (_, table, at) in VALUES.iter().filter(|(known, ..)| **known == tag) {
                if by != 0 {
                    self.add(**table, *at, by);
                }
            }
            table.raw(&tag).u16(outer).u16(inner);
        }
        self.tables.push((*b"MVAR", table.pack("MVAR")?));
        Ok(())
    }

    /// What the tables say of the default's weight, width and slope.
    fn classes(&mut self, design: &Design) {
        if let Some(weight) = design.new_default(*b"wght") {
            let weight = weight.round().clamp(1.0, 1000.0) as u16;
            self.set(*b"OS/2", 4, &weight.to_be_bytes());
        }
        if let Some(width) = design.new_default(*b"wdth") {
            // In % of the normal width (OpenType 1.9.1, OS/2, usWidthClass).
            const CLASSES: [f64; 9] = [50.0, 62.5, 75.0, 87.5, 100.0, 112.5, 125.0, 150.0, 200.0];
            let off = |class: &f64| (class - width).abs();
            let nearest = (1u16..)
                .zip(&CLASSES)
                .min_by(|(_, one), (_, other)| off(one).total_cmp(&off(other)));
            if let Some((class, _)) = nearest {
                self.set(*b"OS/2", 6, &class.to_be_bytes());
            }
        }
        if let Some(slant) = design.new_default(*b"slnt") {
            let fixed = (slant * 65536.0).round() as i32;
            self.set(*b"post", 4, &fixed.to_be_bytes());
        }
    }
}

/// `HVAR` or `VVAR`.
struct Advances {
    store: Store,
    shifts: Shifts,
    maps: Vec<Option<Vec<(u16, u16)>>>,
}

impl Advances {
    fn read(view: View<'_>, maps: usize, design: &Design) -> Result<Self, CutError> {
        let store = (view.link32(4)?).ok_or_else(|| view.damaged("it has no variation store"))?;
        let (store, shifts) = Store::read(store)?.limited(&design.spans)?;
        let map = |index: usize| {
            let map = view.link32(8 + index * 4)?;
            map.map(read_index_map).transpose()
        };
        Ok(Advances {
            store,
            shifts,
            maps: (0..maps).map(map).collect::<Result<_, _>>()?,
        })
    }

    /// What is added to the advance of a glyph.
    fn shift(&self, glyph: u16) -> i32 {
        let (outer, inner) = match self.maps.first() {
            Some(Some(entries)) => {
                let at = usize::from(glyph).min(entries.len().saturating_sub(1));
                entries.get(at).copied().unwrap_or(NONE)
            }
            _ => (0, glyph),
        };
        self.shifts.of(outer, inner).0
    }

    fn packed(&self, tag: &[u8; 4]) -> Result<Vec<u8>, CutError> {
        let mut table = Object::new();
        table.u16(1).u16(0).link32(self.store.object());
        for map in &self.maps {
            table.maybe32(map.as_ref().map(|entries| index_map(entries)));
        }
        table.pack(tag_name(*tag))
    }
}
