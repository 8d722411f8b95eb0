//! Bytes of tables, read under bounds and a budget, and written as graphs of
//! objects that point to each other.

use std::cell::Cell;
use std::rc::Rc;

use write_fonts::FontWrite;
use write_fonts::TableWriter;
use write_fonts::validate::{Validate, ValidationCtx};

use crate::CutError;

/// How many values may still be read. A font whose tables overlap can ask for more
/// work than its size suggests; every value read is paid for here.
#[derive(Debug)]
pub(crate) struct Budget {
    left: Cell<u64>,
}

impl Budget {
    /// Values that may be read for a font of `bytes`: a walk over every table some
    /// dozens of times, and something for small fonts.
    pub(crate) fn for_font(bytes: usize) -> Self {
        Budget {
            left: Cell::new(8_000_000 + 32 * bytes as u64),
        }
    }

    pub(crate) fn spend(&self, values: u64) -> Result<(), CutError> {
        match self.left.get().checked_sub(values) {
            Some(left) => {
                self.left.set(left);
                Ok(())
            }
            None => Err(CutError::TooMuchWork),
        }
    }
}

/// A table, or a subtable from where it starts to the end of the table.
#[derive(Clone, Copy)]
pub(crate) struct View<'a> {
    pub(crate) data: &'a [u8],
    pub(crate) table: &'static str,
    pub(crate) budget: &'a Budget,
}

impl<'a> View<'a> {
    pub(crate) fn new(data: &'a [u8], table: &'static str, budget: &'a Budget) -> Self {
        View {
            data,
            table,
            budget,
        }
    }

    pub(crate) fn damaged(&self, detail: &str) -> CutError {
        CutError::Damaged {
            table: self.table,
            detail: detail.to_owned(),
        }
    }

    /// The `N` bytes at `at`.
    fn bytes<const N: usize>(&self, at: usize) -> Result<[u8; N], CutError> {
        self.budget.spend(1)?;
        at.checked_add(N)
            .and_then(|end| self.data.get(at..end))
            .and_then(|bytes| bytes.try_into().ok())
            .ok_or_else(|| self.damaged("a value lies beyond its end"))
    }

    pub(crate) fn u8(&self, at: usize) -> Result<u8, CutError> {
        self.bytes::<1>(at).map(|[byte]| byte)
    }

    pub(crate) fn u16(&self, at: usize) -> Result<u16, CutError> {
        self.bytes(at).map(u16::from_be_bytes)
    }

    pub(crate) fn i16(&self, at: usize) -> Result<i16, CutError> {
        self.bytes(at).map(i16::from_be_bytes)
    }

    pub(crate) fn u24(&self, at: usize) -> Result<u32, CutError> {
        self.bytes::<3>(at)
            .map(|[a, b, c]| u32::from_be_bytes([0, a, b, c]))
    }

    pub(crate) fn u32(&self, at: usize) -> Result<u32, CutError> {
        self.bytes(at).map(u32::from_be_bytes)
    }

    pub(crate) fn tag(&self, at: usize) -> Result<[u8; 4], CutError> {
        self.bytes(at)
    }

    /// `length` bytes at `at`.
    pub(crate) fn slice(&self, at: usize, length: usize) -> Result<&'a [u8], CutError> {
        self.budget.spend(1 + length as u64 / 16)?;
        at.checked_add(length)
            .and_then(|end| self.data.get(at..end))
            .ok_or_else(|| self.damaged("a part of it lies beyond its end"))
    }

    /// What starts at `at`.
    pub(crate) fn from(&self, at: usize) -> Result<View<'a>, CutError> {
        let data = self
            .data
            .get(at..)
            .ok_or_else(|| self.damaged("an offset leads beyond its end"))?;
        Ok(View { data, ..*self })
    }

    /// What the 16-bit offset at `at` leads to; `None` where it is 0.
    pub(crate) fn link16(&self, at: usize) -> Result<Option<View<'a>>, CutError> {
        match self.u16(at)? {
            0 => Ok(None),
            offset => self.from(usize::from(offset)).map(Some),
        }
    }

    /// What the 32-bit offset at `at` leads to; `None` where it is 0.
    pub(crate) fn link32(&self, at: usize) -> Result<Option<View<'a>>, CutError> {
        match self.u32(at)? {
            0 => Ok(None),
            offset => self.from(offset as usize).map(Some),
        }
    }

    /// What the 16-bit offset at `at` leads to, where there must be something.
    pub(crate) fn follow16(&self, at: usize) -> Result<View<'a>, CutError> {
        self.link16(at)?
            .ok_or_else(|| self.damaged("an offset leads nowhere"))
    }

    /// `count` 16-bit values from `at`.
    pub(crate) fn u16s(&self, at: usize, count: usize) -> Result<Vec<u16>, CutError> {
        self.budget.spend(count as u64)?;
        let bytes = self.slice(at, count * 2)?;
        Ok(bytes
            .chunks_exact(2)
            .map(|pair| u16::from_be_bytes([pair[0], pair[1]]))
            .collect())
    }

    pub(crate) fn spend(&self, values: u64) -> Result<(), CutError> {
        self.budget.spend(values)
    }
}

enum Part {
    Bytes(Vec<u8>),
    Link { object: Rc<Object>, width: usize },
}

/// An object of a table: bytes, and offsets to other objects, counted from its start.
#[derive(Default)]
pub(crate) struct Object {
    parts: Vec<Part>,
    /// How many objects lie below it, each counted as often as something leads there.
    below: u64,
}

impl Object {
    pub(crate) fn new() -> Self {
        Self::default()
    }

    fn tail(&mut self) -> &mut Vec<u8> {
        if !matches!(self.parts.last(), Some(Part::Bytes(_))) {
            self.parts.push(Part::Bytes(Vec::new()));
        }
        match self.parts.last_mut() {
            Some(Part::Bytes(bytes)) => bytes,
            _ => unreachable!("a part of bytes was just put there"),
        }
    }

    pub(crate) fn raw(&mut self, bytes: &[u8]) -> &mut Self {
        self.tail().extend_from_slice(bytes);
        self
    }

    pub(crate) fn u8(&mut self, value: u8) -> &mut Self {
        self.raw(&[value])
    }

    pub(crate) fn u16(&mut self, value: u16) -> &mut Self {
        self.raw(&value.to_be_bytes())
    }

    /// A length or a number that cannot exceed what the source's 16 bits held.
    pub(crate) fn count(&mut self, value: usize) -> &mut Self {
        self.u16(u16::try_from(value).unwrap_or(u16::MAX))
    }

    pub(crate) fn i16(&mut self, value: i16) -> &mut Self {
        self.raw(&value.to_be_bytes())
    }

    pub(crate) fn u32(&mut self, value: u32) -> &mut Self {
        self.raw(&value.to_be_bytes())
    }

    pub(crate) fn u16s(&mut self, values: impl IntoIterator<Item = u16>) -> &mut Self {
        for value in values {
            self.u16(value);
        }
        self
    }

    pub(crate) fn link16(&mut self, object: impl Into<Rc<Object>>) -> &mut Self {
        self.link(object.into(), 2)
    }

    pub(crate) fn link24(&mut self, object: impl Into<Rc<Object>>) -> &mut Self {
        self.link(object.into(), 3)
    }

    pub(crate) fn link32(&mut self, object: impl Into<Rc<Object>>) -> &mut Self {
        self.link(object.into(), 4)
    }

    /// An offset that may lead nowhere.
    pub(crate) fn maybe16(&mut self, object: Option<Object>) -> &mut Self {
        match object {
            Some(object) => self.link16(object),
            None => self.u16(0),
        }
    }

    /// An offset that may lead nowhere.
    pub(crate) fn maybe32(&mut self, object: Option<Object>) -> &mut Self {
        match object {
            Some(object) => self.link32(object),
            None => self.u32(0),
        }
    }

    fn link(&mut self, object: Rc<Object>, width: usize) -> &mut Self {
        self.below = self.below.saturating_add(1 + object.below);
        self.parts.push(Part::Link { object, width });
        self
    }

    /// The table whose root this is, equal objects written once, every offset fitting
    /// its width.
    pub(crate) fn pack(&self, table: &'static str) -> Result<Vec<u8>, CutError> {
        /// More than any font that is known, by far: what is shared is walked to as
        /// often as something leads there.
        const MOST_OBJECTS: u64 = 4_000_000;
        if self.below > MOST_OBJECTS {
            return Err(CutError::TooMuchWork);
        }
        write_fonts::dump_table(self).map_err(|_| CutError::DoesNotFit { table })
    }
}

impl FontWrite for Object {
    fn write_into(&self, writer: &mut TableWriter) {
        for part in &self.parts {
            match part {
                Part::Bytes(bytes) => writer.write_slice(bytes),
                Part::Link { object, width } => writer.write_offset(&**object, *width),
            }
        }
    }
}

impl Validate for Object {
    fn validate_impl(&self, _: &mut ValidationCtx) {}
}
