//! A weight axis: outlines that grow along their normals, point by point, so that all
//! weights have the same points.

use write_fonts::FontBuilder;
use write_fonts::tables::fvar::{AxisInstanceArrays, Fvar, VariationAxisRecord};
use write_fonts::tables::glyf::{Glyph, SimpleGlyph};
use write_fonts::tables::gvar::{GlyphDelta, GlyphDeltas, GlyphVariations, Gvar, Tent};
use write_fonts::types::{F2Dot14, Fixed, GlyphId, NameId, Tag};

use super::assemble::add;

/// The name of the axis.
pub const AXIS_NAME: NameId = NameId::new(256);

/// Lightest, default and boldest weight, and how far outlines move there, in font units.
const LIGHT: (f64, f64) = (300.0, -12.0);
const REGULAR: f64 = 400.0;
const BOLD: (f64, f64) = (700.0, 26.0);
/// How much further than an edge a corner may move.
const MITER: f64 = 1.6;

/// Adds `fvar` and `gvar` for glyphs with these advances.
///
/// # Panics
///
/// Where a table cannot be written: everything drawn is part of this crate.
pub fn add_weights(builder: &mut FontBuilder<'_>, glyphs: &[Glyph], advances: &[u16]) {
    let axis = VariationAxisRecord::new(
        Tag::new(b"wght"),
        Fixed::from_f64(LIGHT.0),
        Fixed::from_f64(REGULAR),
        Fixed::from_f64(BOLD.0),
        0,
        AXIS_NAME,
    );
    add(
        builder,
        &Fvar::new(AxisInstanceArrays::new(vec![axis], Vec::new())),
    );
    let variations = glyphs.iter().zip(advances).enumerate();
    let variations = variations.map(|(id, (glyph, advance))| {
        let at = |peak: f32, move_by: f64| {
            let tent = Tent::new(F2Dot14::from_f32(peak), None);
            GlyphDeltas::new(vec![tent], deltas(glyph, *advance, move_by))
        };
        let weights = vec![at(-1.0, LIGHT.1), at(1.0, BOLD.1)];
        GlyphVariations::new(GlyphId::new(id as u32), weights)
    });
    match Gvar::new(variations.collect(), 1) {
        Ok(gvar) => add(builder, &gvar),
        Err(error) => panic!("the weights cannot be written: {error}"),
    }
}

/// What each point of `glyph` moves by, and its four phantom points. Its left side stays
/// where it is; a mark grows about its middle.
fn deltas(glyph: &Glyph, advance: u16, by: f64) -> Vec<GlyphDelta> {
    let grown = if advance == 0 { 0.0 } else { 2.0 * by };
    let mut moves: Vec<(f64, f64)> = match glyph {
        Glyph::Empty => Vec::new(),
        Glyph::Simple(simple) => outwards(simple)
            .into_iter()
            .map(|(x, y)| (x * by + grown / 2.0, y * by))
            .collect(),
        // The letter stays; its mark stays over the middle.
        Glyph::Composite(_) => vec![(0.0, 0.0), (grown / 2.0, 0.0)],
    };
    let grown = if matches!(glyph, Glyph::Empty) {
        0.0
    } else {
        grown
    };
    moves.extend([(0.0, 0.0), (grown, 0.0), (0.0, 0.0), (0.0, 0.0)]);
    let whole = |value: f64| value.round() as i16;
    moves
        .into_iter()
        .map(|(x, y)| GlyphDelta::required(whole(x), whole(y)))
        .collect()
}

/// Where each point goes when the outline grows by 1, in order of points.
fn outwards(glyph: &SimpleGlyph) -> Vec<(f64, f64)> {
    let contours: Vec<Vec<(f64, f64)>> = glyph
        .contours
        .iter()
        .map(|contour| {
            let points = contour.iter();
            points
                .map(|point| (f64::from(point.x), f64::from(point.y)))
                .collect()
        })
        .collect();
    // The largest contour is an outer one, and tells on which side the ink is.
    let largest = contours
        .iter()
        .map(|contour| area(contour))
        .max_by(|a, b| a.abs().total_cmp(&b.abs()));
    let side = largest.map_or(1.0, f64::signum);
    let moved = contours.iter().flat_map(|points| {
        let count = points.len();
        (0..count).map(move |at| {
            let here = points[at];
            let before = normal(points[(at + count - 1) % count], here);
            let after = normal(here, points[(at + 1) % count]);
            let (x, y) = (before.0 + after.0, before.1 + after.1);
            let squared = x * x + y * y;
            // The corner of two edges that move by 1 is at twice their sum over its square.
            let reach = if squared < 1e-9 { 0.0 } else { 2.0 / squared };
            let length = (reach * squared.sqrt()).min(MITER);
            let unit = if squared < 1e-9 {
                0.0
            } else {
                length / squared.sqrt()
            };
            (x * unit * side, y * unit * side)
        })
    });
    moved.collect()
}

/// Twice the signed area: positive where the contour turns counter-clockwise.
fn area(points: &[(f64, f64)]) -> f64 {
    let next = points.iter().cycle().skip(1);
    points
        .iter()
        .zip(next)
        .map(|(a, b)| a.0 * b.1 - b.0 * a.1)
        .sum()
}

/// The normal at the right of the edge from `a` to `b`, of length 1.
fn normal(a: (f64, f64), b: (f64, f64)) -> (f64, f64) {
    let (x, y) = (b.0 - a.0, b.1 - a.1);
    let length = x.hypot(y);
    if length < 1e-9 {
        return (0.0, 0.0);
    }
    (y / length, -x / length)
}
