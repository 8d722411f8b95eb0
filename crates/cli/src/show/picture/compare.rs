//! Faces side by side, as a picture: a word of each on one baseline with the
//! x-heights marked, the words laid over one another, and what sets them apart.

use kurbo::Affine;
use tidy_lattice_core::compare::{ComparedFace, Comparison};
use tidy_lattice_core::font::Face;
use tidy_lattice_core::shaping::ShapeSettings;

use super::canvas::{Canvas, FACES, INK, RULE, SOFT, WIDTH, to_px};
use super::lettering::{LabelFaces, Labels, Lettering};
use crate::show::text::em;

const MARGIN: f64 = 48.0;

/// Draws `faces`, which `comparison` tells of, with the word `word`.
pub fn comparison(comparison: &Comparison, faces: &[&Face], word: &str) -> String {
    let mut canvas = Canvas::new();
    let Some(label_faces) = LabelFaces::open() else {
        return canvas.svg();
    };
    let mut labels = label_faces.labels();
    let names: Vec<String> = comparison
        .faces
        .iter()
        .map(|face| face.names.label())
        .collect();
    labels.title(&mut canvas, &names.join(" · "), (MARGIN, 64.0), 26.0, INK);
    let mut y = side_by_side(&mut canvas, &mut labels, comparison, faces, word, 96.0);
    y = overlaid(&mut canvas, &mut labels, comparison, faces, word, y + 36.0);
    facts(&mut canvas, &mut labels, comparison, y + 40.0);
    canvas.svg()
}

/// One word a face on one baseline; returns where it ends.
fn side_by_side(
    canvas: &mut Canvas,
    labels: &mut Labels<'_>,
    comparison: &Comparison,
    faces: &[&Face],
    word: &str,
    top: f64,
) -> f64 {
    const GAP: f64 = 36.0;
    /// Room for the labels of the x-heights.
    const NOTES: f64 = 90.0;
    let plain = ShapeSettings::default();
    let per_px: f64 = faces
        .iter()
        .map(|face| Lettering::new(face).width(word, 1.0, plain))
        .sum();
    let room = WIDTH - 2.0 * MARGIN - NOTES - GAP * (faces.len() as f64 - 1.0);
    let size = (room / per_px.max(0.1)).clamp(24.0, 150.0);
    let highest = highest(comparison).max(1.0);
    let baseline = top + 30.0 + highest * size;
    let mut marks: Vec<(f64, String, &str)> = Vec::new();
    canvas.rule(MARGIN, baseline, WIDTH - 2.0 * MARGIN, SOFT, false);
    let mut x = MARGIN;
    for (index, (face, compared)) in faces.iter().zip(&comparison.faces).enumerate() {
        let colour = FACES[index % FACES.len()];
        let width = Lettering::new(face).set(canvas, word, (x, baseline), size, colour, plain);
        labels.label(canvas, &caption(compared), (x, top + 14.0), 13.0, colour);
        if let Some(x_height) = compared.x_height {
            marks.push((baseline - x_height * size, em(x_height), colour));
        }
        x += width + GAP;
    }
    marks.sort_by(|a, b| b.0.total_cmp(&a.0));
    let mut last = f64::INFINITY;
    for (y, text, colour) in marks {
        canvas.rule(MARGIN, y, WIDTH - 2.0 * MARGIN - NOTES, colour, true);
        // Labels that would cover one another move up.
        let place = (y + 4.0).min(last - 14.0);
        labels.label_before(
            canvas,
            &format!("x {text}"),
            (WIDTH - MARGIN, place),
            12.0,
            colour,
        );
        last = place;
    }
    baseline + 0.35 * size
}

fn highest(comparison: &Comparison) -> f64 {
    let heights = comparison.faces.iter().map(|face| face.line.ascent);
    heights.fold(0.0, f64::max).min(1.4)
}

/// A short caption under which a word stands.
fn caption(face: &ComparedFace) -> String {
    let card = if face.card { ", by its card" } else { "" };
    format!("{}{card}", face.names.label())
}

/// Every word over the first one: at equal sizes, and scaled as a stand-in would
/// be.
fn overlaid(
    canvas: &mut Canvas,
    labels: &mut Labels<'_>,
    comparison: &Comparison,
    faces: &[&Face],
    word: &str,
    top: f64,
) -> f64 {
    let plain = ShapeSettings::default();
    let widest = faces
        .iter()
        .map(|face| Lettering::new(face).width(word, 1.0, plain))
        .fold(0.1, f64::max);
    let column = (WIDTH - 2.0 * MARGIN - 40.0) / 2.0;
    let size = (column / (widest * 1.15)).min(130.0);
    let baseline = top + 24.0 + highest(comparison).max(1.0) * size;
    for (at, scaled) in [(MARGIN, false), (MARGIN + column + 40.0, true)] {
        let title = if scaled {
            "scaled so that the text is equally long"
        } else {
            "at the same font size"
        };
        labels.label(canvas, title, (at, top + 10.0), 13.0, SOFT);
        canvas.rule(at, baseline, column, RULE, false);
        for (index, (face, compared)) in faces.iter().zip(&comparison.faces).enumerate() {
            let factor = match &compared.fit {
                Some(fit) if scaled => fit.size_adjust / 100.0,
                _ => 1.0,
            };
            let colour = FACES[index % FACES.len()];
            let scale = size * factor / f64::from(face.units_per_em());
            if face.is_card() {
                let mut lettering = Lettering::new(face);
                lettering.set(canvas, word, (at, baseline), size * factor, colour, plain);
            } else {
                let outline = Lettering::new(face).outline(word);
                let placed: Affine = to_px(at, baseline, scale);
                canvas.path(&(placed * outline), colour, 0.5);
            }
        }
    }
    baseline + 0.35 * size
}

/// A table: a column a face.
fn facts(canvas: &mut Canvas, labels: &mut Labels<'_>, comparison: &Comparison, top: f64) {
    const LINE: f64 = 25.0;
    const FIRST: f64 = 210.0;
    let column = (WIDTH - 2.0 * MARGIN - FIRST) / comparison.faces.len().max(1) as f64;
    let rows = crate::show::compare::rows(comparison);
    let mut y = top;
    for (title, cells) in rows {
        canvas.rule(MARGIN, y - LINE * 0.68, WIDTH - 2.0 * MARGIN, RULE, false);
        labels.label(canvas, &title, (MARGIN, y), 14.0, SOFT);
        for (index, cell) in cells.iter().enumerate() {
            let x = MARGIN + FIRST + column * index as f64;
            let colour = if title == "Face" {
                FACES[index % FACES.len()]
            } else {
                INK
            };
            let mut line = cell.clone();
            while labels.width(&line, 14.0) > column - 10.0 && line.chars().count() > 4 {
                line = line
                    .chars()
                    .take(line.chars().count() - 2)
                    .collect::<String>()
                    + "…";
            }
            labels.label(canvas, &line, (x, y), 14.0, colour);
        }
        y += LINE;
    }
    canvas.reach(y + 16.0);
}
