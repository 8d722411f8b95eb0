//! Widths and glyphs of shaped text.

use std::str::FromStr as _;

use harfrust::{Buffer, Direction, Language, Script, ShaperFont};

use super::engine::{Engine, Segment, feature, script};
use super::slices::by_slice;
use crate::font::{Body, CardBody, Face};

/// Shapes text with one face at its default features: kerning, ligatures and
/// whatever else is on where a style sheet asks for nothing.
pub struct Shaper<'a>(Kind<'a>);

enum Kind<'a> {
    Font(Box<FontShaper<'a>>),
    /// A card knows widths, not shapes.
    Card(&'a CardBody),
    /// Several files, each of which shapes what it shows.
    Slices(&'a Face, Vec<Shaper<'a>>),
}

struct FontShaper<'a> {
    font: ShaperFont<'a, 'a>,
    units_per_em: f64,
    /// Plans without features, by script and whether from right to left.
    engine: Engine<(Option<Script>, bool)>,
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
        if !face.slices().is_empty() {
            let slices = face.slices().iter().map(|slice| Shaper::new(&slice.face));
            return Shaper(Kind::Slices(face, slices.collect()));
        }
        Shaper(match face.body() {
            Body::Font(font) => Kind::Font(Box::new(FontShaper {
                font: ShaperFont::new(font),
                units_per_em: f64::from(face.units_per_em()),
                engine: Engine::new(),
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
            Kind::Slices(face, slices) => {
                let parts = by_slice(face, text).into_iter();
                parts.map(|(number, part)| slices[number].width(part)).sum()
            }
        }
    }

    /// [`Shaper::width`] in font units.
    pub fn units(&mut self, text: &str) -> i64 {
        match &mut self.0 {
            Kind::Font(font) => font.units(text),
            Kind::Card(card) => card.units(text),
            Kind::Slices(face, slices) => {
                let parts = by_slice(face, text).into_iter();
                parts.map(|(number, part)| slices[number].units(part)).sum()
            }
        }
    }

    /// Whether [`Shaper::width`] is right for `text`: a card does not know how
    /// scripts shape whose letters change their forms or places.
    pub fn knows_width(&self, text: &str) -> bool {
        match &self.0 {
            Kind::Font(_) | Kind::Slices(..) => true,
            Kind::Card(card) => card.knows_width(text),
        }
    }

    /// How many glyphs of `text` advance the line: 1 where a sequence is drawn
    /// as one picture.
    pub fn visible_glyphs(&mut self, text: &str) -> usize {
        match &mut self.0 {
            Kind::Font(font) => font.visible_glyphs(text),
            Kind::Card(card) => card.visible_glyphs(text),
            Kind::Slices(face, slices) => {
                let parts = by_slice(face, text).into_iter();
                parts
                    .map(|(number, part)| slices[number].visible_glyphs(part))
                    .sum()
            }
        }
    }

    /// The glyphs of `text`, shaped as one run, from left to right; none where
    /// it cannot be shaped, or only a card is known. Of a face of several files those of
    /// the file that shows its first letter, which all of `text` is shaped with.
    pub fn glyphs(&mut self, text: &str, settings: ShapeSettings<'_>) -> Vec<PlacedGlyph> {
        match &mut self.0 {
            Kind::Font(font) => font.glyphs(text, settings),
            Kind::Card(_) => Vec::new(),
            Kind::Slices(face, slices) => match by_slice(face, text).first() {
                Some((number, _)) => slices[*number].glyphs(text, settings),
                None => Vec::new(),
            },
        }
    }
}

impl FontShaper<'_> {
    fn units(&mut self, text: &str) -> i64 {
        let Some(shaped) = self.shape(text) else {
            return 0;
        };
        let glyphs = shaped.glyph_positions().iter();
        glyphs.map(|glyph| i64::from(glyph.x_advance)).sum()
    }

    fn visible_glyphs(&mut self, text: &str) -> usize {
        let Some(shaped) = self.shape(text) else {
            return 0;
        };
        let glyphs = shaped.glyph_positions().iter();
        glyphs.filter(|glyph| glyph.x_advance != 0).count()
    }

    fn glyphs(&mut self, text: &str, settings: ShapeSettings<'_>) -> Vec<PlacedGlyph> {
        let features = settings.features.iter();
        let segment = Segment {
            script: settings.script.and_then(script),
            direction: None,
            language: settings
                .language
                .and_then(|language| Language::from_str(language).ok()),
            features: features
                .filter_map(|(tag, value)| feature(tag, *value))
                .collect(),
        };
        let Some(shaped) = self.engine.shape(&self.font, text, &segment, |_, _| None) else {
            return Vec::new();
        };
        let placed = shaped.glyph_infos().iter();
        placed
            .zip(shaped.glyph_positions())
            .map(|(info, position)| PlacedGlyph {
                glyph: info.glyph_id,
                cluster: info.cluster as usize,
                advance: position.x_advance,
                offset: (position.x_offset, position.y_offset),
            })
            .collect()
    }

    /// Shapes `text` as its letters say; `None` where it cannot be shaped.
    fn shape(&mut self, text: &str) -> Option<&Buffer> {
        let key = |script, direction| Some((script, direction == Direction::RightToLeft));
        self.engine
            .shape(&self.font, text, &Segment::default(), key)
    }
}
