//! Variable fonts with fewer or shorter axes: an axis is pinned to one value, or ends
//! earlier. Whatever varies along it is worked out for the new default and the new ends.

mod design;
mod metrics;
mod outlines;

use std::borrow::Cow;
use std::fmt;

use crate::CutError;
use crate::bytes::Budget;
use crate::source::Source;

use design::Design;

/// What is left of an axis, in its own units (OpenType 1.9.1, `fvar`).
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct AxisLimit {
    /// The axis, as `wght`.
    pub tag: [u8; 4],
    /// The least value.
    pub from: f64,
    /// The largest value; the least again where the axis is pinned to it.
    pub to: f64,
}

impl AxisLimit {
    /// The axis' tag as text.
    pub fn name(&self) -> String {
        String::from_utf8_lossy(&self.tag).trim_end().to_owned()
    }
}

impl fmt::Display for AxisLimit {
    fn fmt(&self, out: &mut fmt::Formatter<'_>) -> fmt::Result {
        if self.from == self.to {
            write!(out, "{}={}", self.name(), self.from)
        } else {
            write!(out, "{}={}..{}", self.name(), self.from, self.to)
        }
    }
}

/// Tables that speak of axes, and are gone with the last one.
const OF_AXES: [&[u8; 4]; 8] = [
    b"HVAR", b"MVAR", b"STAT", b"VVAR", b"avar", b"cvar", b"fvar", b"gvar",
];

/// Tables for TrueType instructions, and the control values that they read.
const INSTRUCTIONS: [&[u8; 4]; 4] = [b"cvar", b"cvt ", b"fpgm", b"prep"];

impl Source<'_> {
    /// Holds the axes to `limits`. What is cut of the face from now on has the others whole,
    /// those of one value no more, and its default where it was, or at the nearest end.
    ///
    /// # Errors
    ///
    /// [`CutError::NoAxis`] where the face has no such axis, or a shorter one;
    /// [`CutError::NotSupported`] for CFF2 outlines and for colours that vary; the others
    /// where a table cannot be read or written.
    pub fn limit(&mut self, limits: &[AxisLimit]) -> Result<(), CutError> {
        if limits.is_empty() {
            return Ok(());
        }
        let budget = Budget::for_font(self.bytes);
        let design = {
            let fvar = self
                .view(b"fvar", &budget)
                .ok_or_else(|| CutError::NoAxis {
                    asked: limits[0].to_string(),
                    known: "none: it is no variable font".to_owned(),
                })?;
            Design::read(fvar, self.view(b"avar", &budget), limits)?
        };
        self.refuse_what_varies_otherwise(&budget)?;
        let varied_instructions = self.tables.contains_key(b"cvar");
        let mut made = outlines::limited(self, &design, &budget, varied_instructions)?;
        made.extend(metrics::limited(self, &design, &made, &budget)?);
        if let Some(fvar) = self.view(b"fvar", &budget) {
            made.push((*b"fvar", design.fvar(fvar)?));
        }
        let avar = design.avar()?;
        self.limit_layout(&design)?;
        self.tables.remove(b"avar");
        made.extend(avar.map(|avar| (*b"avar", avar)));
        for (tag, bytes) in made {
            self.tables.insert(tag, Cow::Owned(bytes));
        }
        // Control values that vary are not worked out: without them the programs are wrong.
        if varied_instructions {
            for tag in INSTRUCTIONS {
                self.tables.remove(tag);
            }
        }
        // Baselines have a store of their own, of the axes that were: without it they stay where
        // they are by default.
        if let Some(baselines) = self.tables.get_mut(b"BASE")
            && baselines.get(2..4) != Some(&[0, 0])
            && baselines.len() >= 12
        {
            baselines.to_mut()[8..12].fill(0);
        }
        if design.axes_left() == 0 {
            for tag in OF_AXES {
                self.tables.remove(tag);
            }
        }
        Ok(())
    }

    fn refuse_what_varies_otherwise(&self, budget: &Budget) -> Result<(), CutError> {
        let refused = |what| Err(CutError::NotSupported { what });
        if self.tables.contains_key(b"CFF2") {
            return refused("a variable font with CFF2 outlines, to shorter axes,");
        }
        if let Some(colours) = self.view(b"COLR", budget)
            && colours.u16(0)? >= 1
            && colours.u32(30)? != 0
        {
            return refused("a font whose colours vary, to shorter axes,");
        }
        Ok(())
    }

    fn limit_layout(&mut self, design: &Design) -> Result<(), CutError> {
        let spans = &design.spans;
        if let Some(store) = self.definitions.store.take() {
            let (store, shifts) = store.limited(spans)?;
            let mut shift = |outer: u16, inner: u16| shifts.of(outer, inner);
            if let Some(positions) = &mut self.positions {
                positions.shift(&mut shift);
            }
            self.definitions.shift(&mut shift);
            self.definitions.store = (design.axes_left() > 0).then_some(store);
        }
        if let Some(substitutions) = &mut self.substitutions {
            substitutions.limit(spans);
        }
        if let Some(positions) = &mut self.positions {
            positions.limit(spans);
        }
        Ok(())
    }
}
