//! Widths and glyphs of shaped text.

use std::collections::HashMap;

use harfrust::{Buffer, Direction, Script, ShapeOptions, ShapePlan, ShaperFont, shape};

use crate::font::Face;

/// Shapes text with one face at its default features: kerning, ligatures and
/// whatever else is on where a style sheet asks for nothing.
pub struct Shaper<'a> {
    font: ShaperFont<'a, 'a>,
    units_per_em: f64,
    plans: HashMap<(Option<Script>, bool), ShapePlan>,
    buffer: Buffer,
}

impl<'a> Shaper<'a> {
    /// A shaper for `face`.
    pub fn new(face: &'a Face) -> Self {
        Shaper {
            font: ShaperFont::new(face.font()),
            units_per_em: f64::from(face.units_per_em()),
            plans: HashMap::new(),
            buffer: Buffer::new(),
        }
    }

    /// The width of `text`, shaped as one run in the script of its first
    /// letter, in em.
    pub fn width(&mut self, text: &str) -> f64 {
        if !self.shape(text) {
            return 0.0;
        }
        let units: i64 = self
            .buffer
            .glyph_positions()
            .iter()
            .map(|glyph| i64::from(glyph.x_advance))
            .sum();
        units as f64 / self.units_per_em
    }

    /// How many glyphs of `text` advance the line: 1 where a sequence is drawn
    /// as one picture.
    pub fn visible_glyphs(&mut self, text: &str) -> usize {
        if !self.shape(text) {
            return 0;
        }
        self.buffer
            .glyph_positions()
            .iter()
            .filter(|glyph| glyph.x_advance != 0)
            .count()
    }

    /// Shapes `text` into the buffer; false where it cannot be shaped.
    fn shape(&mut self, text: &str) -> bool {
        self.buffer.reset();
        self.buffer.push_str(text);
        self.buffer.guess_segment_properties();
        let (script, direction) = (self.buffer.script(), self.buffer.direction());
        let plan = self
            .plans
            .entry((script, direction == Direction::RightToLeft))
            .or_insert_with(|| ShapePlan::new(&self.font, direction, script, None, &[]));
        let options = ShapeOptions::new().plan(Some(plan));
        shape(&self.font, &mut self.buffer, options).is_ok()
    }
}
