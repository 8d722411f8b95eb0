//! From strokes to outlines: the hand that draws a font.

use kurbo::{Affine, BezPath, Cap, Join, PathEl, Point, Shape, Stroke, StrokeOpts};

use super::skeleton::{Kind, Skeleton};

/// The parameters of a font's drawing, in font units of 1/1000 em unless said
/// otherwise.
#[derive(Debug, Clone, Copy)]
pub struct Hand {
    /// Thickness of upright strokes.
    pub weight: f64,
    /// Thickness of level strokes as a share of `weight`, 0 to 1.
    pub contrast: f64,
    /// Factor on all widths.
    pub width: f64,
    /// How far widths differ from letter to letter: 1 as drawn, less for wide
    /// letters that are narrower and narrow ones that are wider.
    pub rhythm: f64,
    /// Space beside the strokes of a letter.
    pub side: f64,
    /// Height of capitals.
    pub cap_height: f64,
    /// Height of small letters.
    pub x_height: f64,
    /// Height of b, d, h.
    pub ascender: f64,
    /// Depth of p, q; positive.
    pub descender: f64,
    /// Round ends, else square ones.
    pub round: bool,
    /// How far strokes lean to the right: x for each y.
    pub slant: f64,
    /// The advance of every glyph in a monospaced font.
    pub fixed_advance: Option<f64>,
}

/// A drawn glyph.
#[derive(Debug, Clone)]
pub struct Drawn {
    /// The outline of lines and quadratic curves, in whole font units.
    pub outline: BezPath,
    /// The advance width in font units.
    pub advance: u16,
    /// The height that marks are put on, in font units.
    pub top: f64,
    /// The middle that marks are put on, in font units.
    pub middle: f64,
}

impl Hand {
    /// Draws `skeleton`. With `as_small_capital` a capital is drawn at the
    /// height of small letters, as most small Cyrillic letters are.
    pub fn draw(&self, skeleton: &Skeleton, as_small_capital: bool) -> Drawn {
        let half = self.weight / 2.0;
        let mut factor = self.width;
        if as_small_capital {
            factor *= 0.8;
        }
        // A middling letter keeps its width.
        const MIDDLING: f64 = 380.0;
        if skeleton.width > 0.0 {
            factor *= (skeleton.width / MIDDLING).powf(self.rhythm - 1.0);
        }
        let mut inset = self.side + half;
        let ink = skeleton.width * factor;
        let mut advance = ink + 2.0 * inset;
        if let Some(fixed) = self.fixed_advance {
            let most = fixed - 2.0 * inset;
            if ink > most {
                factor *= most / ink;
            }
            inset = (fixed - skeleton.width * factor) / 2.0;
            advance = fixed;
        }
        let is_mark = matches!(skeleton.kind, Kind::MarkAbove | Kind::MarkBelow);
        let placed = map(&skeleton.strokes, |point| {
            if is_mark {
                Point::new(point.x * self.width, point.y)
            } else {
                let y = self.height(point.y, skeleton.kind, as_small_capital);
                Point::new(inset + point.x * factor, y)
            }
        });
        if is_mark {
            advance = 0.0;
        }
        Drawn {
            outline: self.stroke(&self.lean(&placed)),
            advance: advance.round() as u16,
            top: if as_small_capital
                || (skeleton.kind == Kind::Small
                    && skeleton.strokes.bounding_box().max_y() <= 620.0)
            {
                self.x_height
            } else {
                self.cap_height.max(if skeleton.kind == Kind::Small {
                    self.ascender
                } else {
                    0.0
                })
            },
            middle: advance / 2.0,
        }
    }

    /// A nominal height in this hand; strokes stay inside it by half their
    /// thickness.
    fn height(&self, nominal: f64, kind: Kind, as_small_capital: bool) -> f64 {
        let half = self.weight * self.contrast / 2.0;
        let (bottom, top) = match kind {
            Kind::Capital if as_small_capital => (half, self.x_height - half),
            Kind::Capital => (half, self.cap_height - half),
            _ => (half, self.x_height - half),
        };
        let reach = if kind == Kind::Capital { 700.0 } else { 500.0 };
        if nominal < 0.0 {
            bottom + nominal / 200.0 * (self.descender - half + bottom).max(0.0)
        } else if nominal <= reach || kind == Kind::Capital {
            bottom + nominal / reach * (top - bottom)
        } else {
            top + (nominal - reach) / 250.0 * (self.ascender - half - top)
        }
    }

    /// Leans `strokes` about half the height of small letters.
    fn lean(&self, strokes: &BezPath) -> BezPath {
        let back = -self.slant * self.x_height / 2.0;
        Affine::new([1.0, 0.0, self.slant, 1.0, back, 0.0]) * strokes
    }

    /// Strokes with an oval pen: level strokes are thinner by `contrast`.
    pub fn stroke(&self, strokes: &BezPath) -> BezPath {
        const TOLERANCE: f64 = 0.4;
        let squeeze = Affine::scale_non_uniform(1.0, 1.0 / self.contrast);
        let (join, cap) = if self.round {
            (Join::Round, Cap::Round)
        } else {
            (Join::Miter, Cap::Square)
        };
        let style = Stroke::new(self.weight)
            .with_join(join)
            .with_caps(cap)
            .with_miter_limit(3.0);
        let wide = kurbo::stroke(squeeze * strokes, &style, &StrokeOpts::default(), TOLERANCE);
        quadratic(&(squeeze.inverse() * &wide))
    }
}

/// Applies `place` to every point of `path`.
fn map(path: &BezPath, place: impl Fn(Point) -> Point) -> BezPath {
    let elements = path.elements().iter().map(|element| match *element {
        PathEl::MoveTo(p) => PathEl::MoveTo(place(p)),
        PathEl::LineTo(p) => PathEl::LineTo(place(p)),
        PathEl::QuadTo(a, p) => PathEl::QuadTo(place(a), place(p)),
        PathEl::CurveTo(a, b, p) => PathEl::CurveTo(place(a), place(b), place(p)),
        PathEl::ClosePath => PathEl::ClosePath,
    });
    elements.collect()
}

/// `path` in quadratic curves with whole coordinates, as `glyf` wants it.
fn quadratic(path: &BezPath) -> BezPath {
    const ACCURACY: f64 = 0.8;
    let whole = |point: Point| Point::new(point.x.round(), point.y.round());
    let mut quads = BezPath::new();
    let mut last = Point::ZERO;
    for element in path.elements() {
        match *element {
            PathEl::MoveTo(p) => {
                quads.move_to(whole(p));
                last = p;
            }
            PathEl::LineTo(p) => {
                if whole(p) != whole(last) {
                    quads.line_to(whole(p));
                }
                last = p;
            }
            PathEl::QuadTo(a, p) => {
                quads.quad_to(whole(a), whole(p));
                last = p;
            }
            PathEl::CurveTo(a, b, p) => {
                for (_, _, quad) in kurbo::CubicBez::new(last, a, b, p).to_quads(ACCURACY) {
                    quads.quad_to(whole(quad.p1), whole(quad.p2));
                }
                last = p;
            }
            PathEl::ClosePath => quads.close_path(),
        }
    }
    quads
}
