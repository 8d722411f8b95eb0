//! How the letters of a face are built: heights, weight and contrast of strokes.

use kurbo::{Affine, Shape as _};
use serde::Serialize;
use tidy_lattice_glyphs::font::{Body, Face, Outlines, Strokes, ink_stretches};

use super::LineDescription;

/// Heights and strokes, in em; `None` where nothing tells.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize, schemars::JsonSchema)]
pub struct LetterShape {
    /// Height of `x` as drawn, else as stated.
    pub x_height: Option<f64>,
    /// Height of `H` as drawn, else as stated.
    pub cap_height: Option<f64>,
    /// Thickness of the stem of `n`.
    pub stem: Option<f64>,
    /// How much thinner `o` is at its bottom than at its side: 1 for strokes of
    /// one thickness, less where thick and thin change.
    pub contrast: Option<f64>,
}

impl LetterShape {
    /// The letters of a font, or what its card says of them.
    pub fn of(face: &Face) -> Self {
        let em = f64::from(face.units_per_em());
        match face.body() {
            Body::Card(card) => {
                let card = card.card();
                LetterShape {
                    x_height: card.x_height.map(|units| units / em),
                    cap_height: card.cap_height.map(|units| units / em),
                    stem: card.strokes.map(|strokes| strokes.stem / em),
                    contrast: card.strokes.and_then(Strokes::contrast),
                }
            }
            Body::Font(_) => {
                let line = LineDescription::read(face, true, "en");
                let strokes = strokes(face);
                LetterShape {
                    x_height: line
                        .as_ref()
                        .and_then(|line| Some(line.x_height.best()? / em)),
                    cap_height: line.and_then(|line| Some(line.cap_height.best()? / em)),
                    stem: strokes.map(|strokes| strokes.stem / em),
                    contrast: strokes.and_then(Strokes::contrast),
                }
            }
        }
    }
}

/// The strokes of `n` and `o`, in font units; `None` where the face lacks these
/// or draws them otherwise.
pub(crate) fn strokes(face: &Face) -> Option<Strokes> {
    let outlines = Outlines::of(face)?;
    let n = outlines.letter('n')?;
    let o = outlines.letter('o')?;
    let (n_box, o_box) = (n.bounding_box(), o.bounding_box());
    let first = |stretches: Vec<(f64, f64)>| stretches.first().map(|(from, to)| to - from);
    let stem = first(ink_stretches(&n, n_box.y0 + 0.4 * n_box.height()))?;
    let side = first(ink_stretches(&o, o_box.y0 + 0.5 * o_box.height()))?;
    // Lying on its side, the bottom of the letter is its first stroke.
    let lying = Affine::new([0.0, 1.0, 1.0, 0.0, 0.0, 0.0]) * o;
    let bottom = first(ink_stretches(&lying, o_box.x0 + 0.5 * o_box.width()))?;
    let tenth = |units: f64| (units * 10.0).round() / 10.0;
    Some(Strokes {
        stem: tenth(stem),
        side: tenth(side),
        bottom: tenth(bottom),
    })
}
