//! Widths and glyphs of shaped text.

use std::collections::HashMap;
use std::str::FromStr as _;

use harfrust::{
    Buffer, Direction, Feature, Language, Script, ShapeOptions, ShapePlan, ShaperFont, Tag, shape,
};

use crate::font::{Body, CardBody, Face};

/// Shapes text with one face at its default features: kerning, ligatures and
/// whatever else is on where a style sheet asks for nothing.
pub struct Shaper<'a>(Kind<'a>);

enum Kind<'a> {
    Font(Box<FontShaper<'a>>),
    /// A card knows widths, not shapes.
    Card(&'a CardBody),
}

struct FontShaper<'a> {
    font: ShaperFont<'a, 'a>,
    units_per_em: f64,
    plans: HashMap<(Option<Script>, bool), ShapePlan>,
    buffer: Buffer,
}

/// A glyph as shaping places it; lengths in font units.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct PlacedGlyph {
    /// The glyph's number.
    pub glyph: u32,
    /// The byte of the text that its cluster starts at.
    pub cluster: usize,
    /// How far it moves the pen.
    pub advance: i32,
    /// Where it stands from the pen: right, up.
    pub offset: (i32, i32),
}

/// How to shape, where the defaults do not do.
#[derive(Debug, Clone, Copy, Default)]
pub struct ShapeSettings<'a> {
    /// Features by tag with values; 0 turns one off.
    pub features: &'a [(&'a str, u32)],
    /// The BCP 47 language.
    pub language: Option<&'a str>,
    /// The script by its OpenType tag, where the first letter does not tell.
    pub script: Option<&'a str>,
}

impl<'a> Shaper<'a> {
    /// A shaper for `face`.
    pub fn new(face: &'a Face) -> Self {
        Shaper(match face.body() {
            Body::Font(font) => Kind::Font(Box::new(FontShaper {
                font: ShaperFont::new(font),
                units_per_em: f64::from(face.units_per_em()),
                plans: HashMap::new(),
                buffer: Buffer::new(),
            })),
            Body::Card(card) => Kind::Card(card),
        })
    }

    /// The width of `text`, shaped as one run in the script of its first
    /// letter, in em.
    pub fn width(&mut self, text: &str) -> f64 {
        match &mut self.0 {
            Kind::Font(font) => font.units(text) as f64 / font.units_per_em,
            Kind::Card(card) => card.units(text) as f64 / f64::from(card.card().units_per_em),
        }
    }

    /// [`Shaper::width`] in font units.
    pub fn units(&mut self, text: &str) -> i64 {
        match &mut self.0 {
            Kind::Font(font) => font.units(text),
            Kind::Card(card) => card.units(text),
        }
    }

    /// Whether [`Shaper::width`] is right for `text`: a card does not know how
    /// scripts shape whose letters change their forms or places.
    pub fn knows_width(&self, text: &str) -> bool {
        match &self.0 {
            Kind::Font(_) => true,
            Kind::Card(card) => card.knows_width(text),
        }
    }

    /// How many glyphs of `text` advance the line: 1 where a sequence is drawn
    /// as one picture.
    pub fn visible_glyphs(&mut self, text: &str) -> usize {
        match &mut self.0 {
            Kind::Font(font) => font.visible_glyphs(text),
            Kind::Card(card) => card.visible_glyphs(text),
        }
    }

    /// The glyphs of `text`, shaped as one run, from left to right; none where
    /// it cannot be shaped, or only a card is known.
    pub fn glyphs(&mut self, text: &str, settings: ShapeSettings<'_>) -> Vec<PlacedGlyph> {
        match &mut self.0 {
            Kind::Font(font) => font.glyphs(text, settings),
            Kind::Card(_) => Vec::new(),
        }
    }
}

impl FontShaper<'_> {
    fn units(&mut self, text: &str) -> i64 {
        if !self.shape(text) {
            return 0;
        }
        let glyphs = self.buffer.glyph_positions().iter();
        glyphs.map(|glyph| i64::from(glyph.x_advance)).sum()
    }

    fn visible_glyphs(&mut self, text: &str) -> usize {
        if !self.shape(text) {
            return 0;
        }
        self.buffer
            .glyph_positions()
            .iter()
            .filter(|glyph| glyph.x_advance != 0)
            .count()
    }

    fn glyphs(&mut self, text: &str, settings: ShapeSettings<'_>) -> Vec<PlacedGlyph> {
        self.buffer.reset();
        self.buffer.push_str(text);
        if let Some(script) = settings.script {
            self.buffer.set_script(Script::from_str(script).ok());
        }
        if let Some(language) = settings.language {
            self.buffer.set_language(Language::from_str(language).ok());
        }
        self.buffer.guess_segment_properties();
        let features: Vec<Feature> = settings
            .features
            .iter()
            .filter_map(|(tag, value)| {
                let tag = Tag::new_checked(tag.as_bytes()).ok()?;
                Some(Feature::new(tag, *value, ..))
            })
            .collect();
        let options = ShapeOptions::new().features(&features);
        if shape(&self.font, &mut self.buffer, options).is_err() {
            return Vec::new();
        }
        let placed = self.buffer.glyph_infos().iter();
        placed
            .zip(self.buffer.glyph_positions())
            .map(|(info, position)| PlacedGlyph {
                glyph: info.glyph_id,
                cluster: info.cluster as usize,
                advance: position.x_advance,
                offset: (position.x_offset, position.y_offset),
            })
            .collect()
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
