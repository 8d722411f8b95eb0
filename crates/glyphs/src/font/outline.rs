//! Outlines of glyphs, in font units, y upwards.

use kurbo::{BezPath, Rect, Shape as _};
use skrifa::{DrawMemory, GlyphId, PathSink, ScalerFont};

use super::Face;

/// Draws the glyphs of one face.
pub struct Outlines {
    scaler: ScalerFont,
    characters: Vec<Option<u32>>,
}

impl Outlines {
    /// The outlines of `face`; `None` where only a card is known.
    pub fn of(face: &Face) -> Option<Self> {
        let font = face.font()?.clone();
        Some(Outlines {
            characters: (0..0x180u32)
                .map(|point| {
                    font.charmap()
                        .map_unicode(point)
                        .map(|glyph| glyph.to_u32())
                })
                .collect(),
            scaler: ScalerFont::force_unhinted(font, None),
        })
    }

    /// The outline of a glyph; empty where it has none or it cannot be read.
    pub fn glyph(&self, glyph: u32) -> BezPath {
        let mut pen = Pen(BezPath::new());
        let Some(outline) = self.scaler.outline(GlyphId::new(glyph)) else {
            return pen.0;
        };
        match outline.draw(DrawMemory::Scratch, &mut pen) {
            Ok(_) => pen.0,
            Err(_) => BezPath::new(),
        }
    }

    /// The outline of a character of the Latin blocks up to U+017F.
    pub fn letter(&self, letter: char) -> Option<BezPath> {
        let glyph = (*self.characters.get(letter as usize)?)?;
        Some(self.glyph(glyph)).filter(|path| !path.is_empty())
    }

    /// The box of a letter's ink.
    pub fn letter_box(&self, letter: char) -> Option<Rect> {
        self.letter(letter).map(|path| path.bounding_box())
    }
}

struct Pen(BezPath);

impl PathSink for Pen {
    fn move_to(&mut self, x: f32, y: f32) {
        self.0.move_to((f64::from(x), f64::from(y)));
    }

    fn line_to(&mut self, x: f32, y: f32) {
        self.0.line_to((f64::from(x), f64::from(y)));
    }

    fn quad_to(&mut self, cx0: f32, cy0: f32, x: f32, y: f32) {
        let control = (f64::from(cx0), f64::from(cy0));
        self.0.quad_to(control, (f64::from(x), f64::from(y)));
    }

    fn curve_to(&mut self, cx0: f32, cy0: f32, cx1: f32, cy1: f32, x: f32, y: f32) {
        self.0.curve_to(
            (f64::from(cx0), f64::from(cy0)),
            (f64::from(cx1), f64::from(cy1)),
            (f64::from(x), f64::from(y)),
        );
    }

    fn close(&mut self) {
        self.0.close_path();
    }
}

/// How much ink of `path` a horizontal line at height `y` crosses, in font
/// units: the sum over the line's stretches inside (non-zero winding).
pub fn ink_at(path: &BezPath, y: f64) -> f64 {
    ink_stretches(path, y)
        .iter()
        .map(|(from, to)| to - from)
        .sum()
}

/// The stretches of ink on a horizontal line at height `y`, from left to right.
pub fn ink_stretches(path: &BezPath, y: f64) -> Vec<(f64, f64)> {
    // Flattened to a twentieth of a font unit, far below what is judged here.
    const TOLERANCE: f64 = 0.05;
    let mut crossings: Vec<(f64, i32)> = Vec::new();
    let (mut start, mut last) = (kurbo::Point::ZERO, kurbo::Point::ZERO);
    let mut edge = |from: kurbo::Point, to: kurbo::Point| {
        if (from.y <= y) != (to.y <= y) {
            let x = from.x + (y - from.y) / (to.y - from.y) * (to.x - from.x);
            crossings.push((x, if to.y > from.y { 1 } else { -1 }));
        }
    };
    kurbo::flatten(path, TOLERANCE, |element| match element {
        kurbo::PathEl::MoveTo(point) => {
            edge(last, start);
            (start, last) = (point, point);
        }
        kurbo::PathEl::LineTo(point) => {
            edge(last, point);
            last = point;
        }
        _ => {
            edge(last, start);
            last = start;
        }
    });
    edge(last, start);
    crossings.sort_by(|a, b| a.0.total_cmp(&b.0));
    let mut stretches = Vec::new();
    let (mut winding, mut from) = (0, 0.0);
    for (x, turn) in crossings {
        if winding == 0 {
            from = x;
        }
        winding += turn;
        if winding == 0 {
            stretches.push((from, x));
        }
    }
    stretches
}
