//! The web font and its closest candidates on one line each, resized to the same
//! width, with the web font's x-height drawn through.

use tidy_lattice_core::font::Face;
use tidy_lattice_core::rank::Ranked;
use tidy_lattice_core::shaping::ShapeSettings;

use super::canvas::{Canvas, FACES, INK, RULE, SOFT, WIDTH};
use super::lettering::{LabelFaces, Lettering};
use crate::results::RankedFaces;

const MARGIN: f64 = 48.0;
/// How many candidates are drawn.
const DRAWN: usize = 5;
const WORD: &str = "Hamburgefonts";
/// How wide the words and their lines are, in px.
const COLUMN: f64 = 580.0;

/// Draws the web font and the first candidates that `face_of` knows.
pub fn ranking<'f>(
    ranked: &RankedFaces,
    web: &'f Face,
    face_of: &dyn Fn(&Ranked) -> Option<&'f Face>,
) -> String {
    let mut canvas = Canvas::new();
    let Some(label_faces) = LabelFaces::open() else {
        return canvas.svg();
    };
    let mut labels = label_faces.labels();
    let title = format!("Fallbacks for {}", ranked.web.label());
    labels.title(&mut canvas, &title, (MARGIN, 64.0), 26.0, INK);
    let caption = format!(
        "measured on {}; the same word, resized to be as wide",
        ranked.text
    );
    labels.label(&mut canvas, &caption, (MARGIN, 90.0), 14.0, SOFT);
    let plain = ShapeSettings::default();
    let word = if Lettering::new(web).has(WORD) {
        WORD
    } else {
        "0123"
    };
    let size = 78.0;
    let x_height = ranked.shape.x_height.unwrap_or(0.5) * size;
    let cap_height = ranked.shape.cap_height.unwrap_or(0.7) * size;
    let good = ranked
        .candidates
        .iter()
        .filter(|candidate| !candidate.rejected);
    let drawn: Vec<(&Face, f64, String, String)> = std::iter::once((
        web,
        1.0,
        ranked.web.label(),
        format!("{}, the web font", ranked.class.label()),
    ))
    .chain(good.take(DRAWN).filter_map(|candidate| {
        let factor = candidate.widths.as_ref()?.mean_size_adjust() / 100.0;
        Some((
            face_of(candidate)?,
            factor,
            format!(
                "{}. {}",
                candidate.place.unwrap_or_default(),
                candidate.names.label()
            ),
            format!(
                "score {:.1}, at {:.1} %: {}",
                candidate.score,
                factor * 100.0,
                candidate.reason
            ),
        ))
    }))
    .collect();
    let mut baseline = 190.0;
    for (index, (face, factor, name, caption)) in drawn.into_iter().enumerate() {
        let colour = FACES[index % FACES.len()];
        canvas.rule(MARGIN, baseline, COLUMN, RULE, false);
        canvas.rule(MARGIN, baseline - x_height, COLUMN, FACES[0], true);
        canvas.rule(MARGIN, baseline - cap_height, COLUMN, RULE, true);
        let mut lettering = Lettering::new(face);
        lettering.set(
            &mut canvas,
            word,
            (MARGIN, baseline),
            size * factor,
            colour,
            plain,
        );
        let x = MARGIN + 620.0;
        labels.label(
            &mut canvas,
            &name,
            (x, baseline - cap_height + 20.0),
            16.0,
            colour,
        );
        let lines = labels.lines(&caption, 13.0, WIDTH - MARGIN - x);
        for (row, line) in lines.iter().take(2).enumerate() {
            let y = baseline - cap_height + 40.0 + 17.0 * row as f64;
            labels.label(&mut canvas, line, (x, y), 13.0, SOFT);
        }
        baseline += 112.0;
    }
    canvas.reach(baseline - 50.0);
    canvas.svg()
}
