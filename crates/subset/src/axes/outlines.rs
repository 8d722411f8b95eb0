//! TrueType outlines at a new default, and their variations along limited axes
//! (OpenType 1.9.1, `glyf`, `gvar`, "Inferred deltas for un-referenced point numbers").

use std::collections::BTreeMap;

use kurbo::{Point, Vec2};
use skrifa::raw::FontData;
use skrifa::raw::FontRead as _;
use skrifa::raw::ReadError;
use skrifa::raw::tables::glyf::{Anchor, CurvePoint, Glyf, Glyph};
use skrifa::raw::tables::gvar::{GlyphVariationData, Gvar};
use skrifa::raw::tables::loca::Loca;
use skrifa::raw::types::{F2Dot14, GlyphId};
use write_fonts::from_obj::ToOwnedTable as _;
use write_fonts::tables::glyf::{Bbox, CompositeGlyph, Contour, GlyfLocaBuilder, Glyph as Written};
use write_fonts::tables::gvar::iup::iup_delta_optimize;
use write_fonts::tables::gvar::{
    GlyphDelta, GlyphDeltas, GlyphVariations, Gvar as WrittenGvar, Tent,
};

use super::design::Design;
use crate::CutError;
use crate::bytes::Budget;
use crate::metrics::{read_metrics, written_metrics};
use crate::source::Source;
use crate::tents::{Region, limited_region};

/// The two ends of the line and of the column that a glyph takes, behind its points.
const PHANTOMS: usize = 4;

/// How far an inferred delta may be from what is meant, in font units, as font tools have it.
const NEAR: f64 = 0.5;

/// Tables by tag.
pub(super) type Tables = Vec<([u8; 4], Vec<u8>)>;

fn damaged(table: &'static str) -> impl Fn(ReadError) -> CutError {
    move |error| CutError::Damaged {
        table,
        detail: error.to_string(),
    }
}

fn whole(value: f64) -> i16 {
    value
        .round()
        .clamp(f64::from(i16::MIN), f64::from(i16::MAX)) as i16
}

/// A glyph's points, those of its line and its column behind them.
struct Points {
    at: Vec<Vec2>,
    /// Where contours end; none of a composite, whose points are offsets of its parts.
    ends: Vec<usize>,
    composite: bool,
}

/// `glyf`, `loca`, `gvar`, `hmtx` and `vmtx` for the limited axes.
pub(super) fn limited(
    source: &Source<'_>,
    design: &Design,
    budget: &Budget,
    without_instructions: bool,
) -> Result<Tables, CutError> {
    let table = |tag: &'static [u8; 4]| source.tables.get(tag).map(AsRef::as_ref);
    let need = |tag: &'static [u8; 4], name| table(tag).ok_or(CutError::NoTable { table: name });
    let mut head = source
        .view(b"head", budget)
        .ok_or(CutError::NoTable { table: "head" })?
        .slice(0, 54)?
        .to_vec();
    let loca = Loca::read(FontData::new(need(b"loca", "loca")?), head[51] != 0);
    let loca = loca.map_err(damaged("loca"))?;
    let glyf = Glyf::read(FontData::new(need(b"glyf", "glyf")?)).map_err(damaged("glyf"))?;
    let gvar = table(b"gvar").map(|bytes| Gvar::read(FontData::new(bytes)));
    let gvar = gvar.transpose().map_err(damaged("gvar"))?;
    let mut lines = Sides::read(source, budget, b"hhea", b"hmtx")?;
    let mut columns = Sides::read(source, budget, b"vhea", b"vmtx")?;
    let mut glyphs = Vec::with_capacity(usize::from(source.glyph_count));
    let mut variations = Vec::with_capacity(glyphs.capacity());
    let mut phantoms = Vec::with_capacity(glyphs.capacity());
    let mut boxes = Vec::with_capacity(glyphs.capacity());
    for number in 0..source.glyph_count {
        let id = GlyphId::from(number);
        let glyph = loca.get_glyf(id, &glyf).map_err(damaged("glyf"))?;
        let mut written = match &glyph {
            Some(Glyph::Simple(simple)) => Written::Simple(simple.to_owned_table()),
            Some(Glyph::Composite(composite)) => Written::Composite(composite.to_owned_table()),
            None => Written::Empty,
        };
        let points = points_of(&written);
        budget.spend(points.at.len() as u64 * 4)?;
        boxes.push(box_of(&written));
        let data = match &gvar {
            Some(gvar) if number < gvar.glyph_count() => {
                gvar.glyph_variation_data(id).map_err(damaged("gvar"))?
            }
            _ => None,
        };
        let regions = match data {
            Some(data) => by_region(&data, &points, design, budget)?,
            None => BTreeMap::new(),
        };
        let moved: Vec<Vec2> = match regions.get(&None) {
            Some(deltas) => (points.at.iter().zip(deltas))
                .map(|(at, delta)| *at + *delta)
                .collect(),
            None => points.at.clone(),
        };
        let moved: Vec<Vec2> = (moved.iter())
            .map(|at| Vec2::new(f64::from(whole(at.x)), f64::from(whole(at.y))))
            .collect();
        move_points(&mut written, &moved);
        if without_instructions {
            drop_instructions(&mut written);
        }
        let outline = moved.len() - PHANTOMS;
        phantoms.push([0, 1, 2, 3].map(|index| moved[outline + index]));
        variations.push(GlyphVariations::new(
            id,
            varied(regions, &points, &moved, budget)?,
        ));
        glyphs.push(written);
    }
    set_boxes(&mut glyphs, budget)?;
    for (number, (glyph, [start, end, top, bottom])) in glyphs.iter().zip(&phantoms).enumerate() {
        let (was, is) = (boxes[number], box_of(glyph));
        let by = |one: i16, other: i16| f64::from(one) - f64::from(other);
        lines.grow(number, end.x - start.x, by(is.x_min, was.x_min) - start.x);
        columns.grow(number, top.y - bottom.y, top.y - by(is.y_max, was.y_max));
    }
    let mut builder = GlyfLocaBuilder::new();
    for glyph in &glyphs {
        (builder.add_glyph(glyph)).map_err(|_| CutError::DoesNotFit { table: "glyf" })?;
    }
    let (glyf, loca, _) = builder.build();
    let mut made = Tables::new();
    let loca = packed(&loca, "loca")?;
    let long = loca.len() >= 4 * (glyphs.len() + 1);
    head[50..52].copy_from_slice(&u16::from(long).to_be_bytes());
    made.push((*b"head", head));
    made.push((*b"loca", loca));
    made.push((*b"glyf", packed(&glyf, "glyf")?));
    if design.axes_left() > 0 {
        let table = WrittenGvar::new(variations, design.axes_left())
            .map_err(|_| CutError::DoesNotFit { table: "gvar" })?;
        made.push((*b"gvar", packed(&table, "gvar")?));
    }
    made.extend(lines.tables());
    made.extend(columns.tables());
    Ok(made)
}

fn packed<T>(table: &T, tag: &'static str) -> Result<Vec<u8>, CutError>
where
    T: write_fonts::FontWrite + write_fonts::validate::Validate,
{
    write_fonts::dump_table(table).map_err(|_| CutError::DoesNotFit { table: tag })
}

/// Advances and bearings of a direction.
struct Sides {
    header: Option<([u8; 4], Vec<u8>)>,
    metrics: [u8; 4],
    all: Vec<(u16, i16)>,
}

impl Sides {
    fn read(
        source: &Source<'_>,
        budget: &Budget,
        header: &[u8; 4],
        metrics: &[u8; 4],
    ) -> Result<Self, CutError> {
        let mut sides = Sides {
            header: None,
            metrics: *metrics,
            all: Vec::new(),
        };
        if let (Some(head), Some(table)) =
            (source.view(header, budget), source.view(metrics, budget))
        {
            let head = head.slice(0, 36)?.to_vec();
            let declared = u16::from_be_bytes([head[34], head[35]]);
            sides.all = read_metrics(table, declared, 0..source.glyph_count)?;
            sides.header = Some((*header, head));
        }
        Ok(sides)
    }

    /// Adds to the advance and to the bearing of a glyph.
    fn grow(&mut self, number: usize, grown: f64, moved: f64) {
        if let Some((advance, bearing)) = self.all.get_mut(number) {
            let grown = f64::from(*advance) + grown;
            *advance = grown.round().clamp(0.0, f64::from(u16::MAX)) as u16;
            *bearing = whole(f64::from(*bearing) + moved);
        }
    }

    fn tables(self) -> Tables {
        let Some((header, mut head)) = self.header else {
            return Tables::new();
        };
        let (bytes, count) = written_metrics(&self.all);
        head[34..36].copy_from_slice(&count.to_be_bytes());
        vec![(header, head), (self.metrics, bytes)]
    }
}

fn points_of(glyph: &Written) -> Points {
    let mut points = Points {
        at: Vec::new(),
        ends: Vec::new(),
        composite: false,
    };
    let vector = |x: i16, y: i16| Vec2::new(f64::from(x), f64::from(y));
    match glyph {
        Written::Simple(simple) => {
            for contour in &simple.contours {
                points.at.extend(contour.iter().map(|p| vector(p.x, p.y)));
                points.ends.push(points.at.len().saturating_sub(1));
            }
        }
        Written::Composite(composite) => {
            points.composite = true;
            points.at.extend(
                (composite.components().iter()).map(|part| match part.anchor {
                    Anchor::Offset { x, y } => vector(x, y),
                    // Placed by points of outlines, which move by themselves.
                    Anchor::Point { .. } => Vec2::ZERO,
                }),
            );
        }
        Written::Empty => {}
    }
    points.at.extend([Vec2::ZERO; PHANTOMS]);
    points
}

fn move_points(glyph: &mut Written, moved: &[Vec2]) {
    let mut next = moved.iter().map(|at| (whole(at.x), whole(at.y)));
    match glyph {
        Written::Simple(simple) => {
            for contour in &mut simple.contours {
                let mut points: Vec<CurvePoint> = std::mem::take(contour).into();
                for (point, (x, y)) in points.iter_mut().zip(&mut next) {
                    (point.x, point.y) = (x, y);
                }
                *contour = Contour::from(points);
            }
            simple.recompute_bounding_box();
        }
        Written::Composite(composite) => {
            for (part, (new_x, new_y)) in composite.components_mut().iter_mut().zip(next) {
                if let Anchor::Offset { x, y } = &mut part.anchor {
                    (*x, *y) = (new_x, new_y);
                }
            }
        }
        Written::Empty => {}
    }
}

fn drop_instructions(glyph: &mut Written) {
    match glyph {
        Written::Simple(simple) => simple.instructions.clear(),
        Written::Composite(composite) => composite.set_instructions(&[]),
        Written::Empty => {}
    }
}

/// The deltas of all points in each region that is left; those that count everywhere under
/// `None`.
type ByRegion = BTreeMap<Option<Region>, Vec<Vec2>>;

fn by_region(
    data: &GlyphVariationData<'_>,
    points: &Points,
    design: &Design,
    budget: &Budget,
) -> Result<ByRegion, CutError> {
    let mut regions = ByRegion::new();
    for tuple in data.tuples() {
        budget.spend(points.at.len() as u64 + 8)?;
        let (peak, start, end) = (
            tuple.peak(),
            tuple.intermediate_start(),
            tuple.intermediate_end(),
        );
        let region: Region = (0..design.spans.len())
            .map(|axis| {
                let at = |tuple: &skrifa::raw::tables::variations::Tuple<'_>| {
                    tuple.get(axis).map_or(0, F2Dot14::to_bits)
                };
                let peak = at(&peak);
                let start = start.as_ref().map_or(peak.min(0), at);
                let end = end.as_ref().map_or(peak.max(0), at);
                [start, peak, end]
            })
            .collect();
        let mut deltas = vec![None; points.at.len()];
        for delta in tuple.deltas() {
            if let Some(known) = deltas.get_mut(usize::from(delta.position)) {
                *known = Some(Vec2::new(
                    f64::from(delta.x_delta),
                    f64::from(delta.y_delta),
                ));
            }
        }
        let deltas = inferred(points, &deltas);
        for (region, part) in limited_region(&region, &design.spans)? {
            budget.spend(points.at.len() as u64)?;
            let sums = (regions.entry(region)).or_insert_with(|| vec![Vec2::ZERO; deltas.len()]);
            for (sum, delta) in sums.iter_mut().zip(&deltas) {
                *sum += *delta * part;
            }
        }
    }
    Ok(regions)
}

/// Deltas of all points: those that are not there follow their neighbours on the contour.
fn inferred(points: &Points, deltas: &[Option<Vec2>]) -> Vec<Vec2> {
    let mut all: Vec<Vec2> = deltas
        .iter()
        .map(|delta| delta.unwrap_or_default())
        .collect();
    if points.composite {
        return all;
    }
    let mut first = 0;
    for end in &points.ends {
        let contour = first..(end + 1).max(first);
        first = contour.end;
        let known: Vec<usize> = contour.clone().filter(|at| deltas[*at].is_some()).collect();
        for (number, one) in known.iter().enumerate() {
            // From each point that is there to the next, around the end.
            let other = known[(number + 1) % known.len()];
            let mut at = *one;
            loop {
                at = if at + 1 == contour.end {
                    contour.start
                } else {
                    at + 1
                };
                if at == other || deltas[at].is_some() {
                    break;
                }
                let by = |pick: fn(&Vec2) -> f64| {
                    let place = |index: usize| pick(&points.at[index]);
                    between(
                        place(at),
                        (place(*one), pick(&all[*one])),
                        (place(other), pick(&all[other])),
                    )
                };
                let delta = Vec2::new(by(|v| v.x), by(|v| v.y));
                all[at] = delta;
            }
        }
    }
    all
}

/// What a point at `at` moves by, between two that are known: place and delta.
fn between(at: f64, one: (f64, f64), other: (f64, f64)) -> f64 {
    let (low, high) = if one.0 <= other.0 {
        (one, other)
    } else {
        (other, one)
    };
    if low.0 == high.0 {
        if low.1 == high.1 { low.1 } else { 0.0 }
    } else if at <= low.0 {
        low.1
    } else if at >= high.0 {
        high.1
    } else {
        low.1 + (high.1 - low.1) * (at - low.0) / (high.0 - low.0)
    }
}

/// The variations that are left of a glyph, in whole units, without what is inferred.
fn varied(
    regions: ByRegion,
    points: &Points,
    moved: &[Vec2],
    budget: &Budget,
) -> Result<Vec<GlyphDeltas>, CutError> {
    /// As many fit the 12 bits that count them.
    const MOST: usize = 0x0FFF;
    let mut all = Vec::new();
    for (region, deltas) in regions {
        let Some(region) = region else {
            continue;
        };
        let deltas: Vec<Vec2> = (deltas.iter())
            .map(|delta| Vec2::new(f64::from(whole(delta.x)), f64::from(whole(delta.y))))
            .collect();
        if deltas.iter().all(|delta| *delta == Vec2::ZERO) {
            continue;
        }
        budget.spend(8 * deltas.len() as u64)?;
        let tents = region
            .iter()
            .map(|tent| {
                let [start, peak, end] = tent.map(F2Dot14::from_bits);
                Tent::new(peak, Some((start, end)))
            })
            .collect();
        let plain = || {
            (deltas.iter())
                .map(|delta| GlyphDelta {
                    x: whole(delta.x),
                    y: whole(delta.y),
                    required: !points.composite || *delta != Vec2::ZERO,
                })
                .collect::<Vec<_>>()
        };
        let written = if points.composite || points.ends.is_empty() {
            plain()
        } else {
            let coordinates = moved.iter().map(|at| at.to_point()).collect::<Vec<Point>>();
            iup_delta_optimize(deltas.clone(), coordinates, NEAR, &points.ends)
                .unwrap_or_else(|_| plain())
        };
        all.push(GlyphDeltas::new(tents, written));
    }
    if all.len() > MOST {
        return Err(CutError::TooMuchWork);
    }
    Ok(all)
}

fn box_of(glyph: &Written) -> Bbox {
    match glyph {
        Written::Simple(simple) => simple.bbox,
        Written::Composite(composite) => composite.bbox,
        Written::Empty => Bbox::default(),
    }
}

/// Gives composites the boxes of what they are made of.
fn set_boxes(glyphs: &mut [Written], budget: &Budget) -> Result<(), CutError> {
    for number in 0..glyphs.len() {
        let Written::Composite(composite) = &glyphs[number] else {
            continue;
        };
        let made = made_of(composite, glyphs, 0, budget)?;
        if let (Written::Composite(composite), Some(made)) = (&mut glyphs[number], made) {
            composite.bbox = Bbox {
                x_min: whole(made.x0),
                y_min: whole(made.y0),
                x_max: whole(made.x1),
                y_max: whole(made.y1),
            };
        }
    }
    Ok(())
}

/// The box of a composite; `None` where its parts have none, or are nested too deep.
fn made_of(
    composite: &CompositeGlyph,
    glyphs: &[Written],
    depth: usize,
    budget: &Budget,
) -> Result<Option<kurbo::Rect>, CutError> {
    /// Renderers stop earlier.
    const DEEPEST: usize = 16;
    if depth > DEEPEST {
        return Ok(None);
    }
    let mut all: Option<kurbo::Rect> = None;
    for part in composite.components() {
        budget.spend(4)?;
        let of = match glyphs.get(part.glyph.to_u32() as usize) {
            Some(Written::Simple(simple)) => {
                let edges = simple.bbox;
                Some(kurbo::Rect::new(
                    f64::from(edges.x_min),
                    f64::from(edges.y_min),
                    f64::from(edges.x_max),
                    f64::from(edges.y_max),
                ))
            }
            Some(Written::Composite(inner)) => made_of(inner, glyphs, depth + 1, budget)?,
            _ => None,
        };
        let Some(of) = of else {
            continue;
        };
        let scale = &part.transform;
        let (x, y) = match part.anchor {
            Anchor::Offset { x, y } => (f64::from(x), f64::from(y)),
            Anchor::Point { .. } => (0.0, 0.0),
        };
        let number = |value: F2Dot14| f64::from(value.to_f32());
        let affine = kurbo::Affine::new([
            number(scale.xx),
            number(scale.yx),
            number(scale.xy),
            number(scale.yy),
            x,
            y,
        ]);
        let of = affine.transform_rect_bbox(of);
        all = Some(all.map_or(of, |all| all.union(of)));
    }
    Ok(all)
}

#[cfg(test)]
mod tests;
