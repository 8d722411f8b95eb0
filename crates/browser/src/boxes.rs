//! Where boxes are and how wide, against what is around and before them: what moves a box moves
//! all behind it, which is no fault of theirs.

use std::collections::HashMap;

use tidy_lattice_core::shift::{ForetoldElement, Rect};

use super::MeasuredElement;
use super::difference::{Differs, Judged, px};

/// Letters are measured to parts of px, so edges and widths across are no closer, in px.
const ACROSS: f64 = 0.3;

/// How far the edges of a box are off, in px: as foretold less as measured.
#[derive(Debug, Clone, Copy)]
struct Edges {
    start: f64,
    end: f64,
}

/// A box that was looked at: across and down.
#[derive(Debug, Clone, Copy)]
struct Seen {
    off: [Edges; 2],
    predicted: Rect,
    measured: (f64, f64),
}

/// The boxes of a page that were looked at so far.
pub(super) struct Boxes {
    /// How far edges may be off, across and down, in px.
    tolerance: [f64; 2],
    seen: HashMap<usize, Seen>,
    /// The last child so far of each element, by their numbers.
    last: HashMap<usize, usize>,
}

/// What differs, as foretold and as measured.
type Apart = (Differs, String, String);

impl Boxes {
    pub(super) fn new(judged: Judged) -> Self {
        Boxes {
            tolerance: [judged.height_off.max(ACROSS), judged.height_off],
            seen: HashMap::new(),
            last: HashMap::new(),
        }
    }

    /// How a box differs: in width where what is around it does not differ as much, in its place
    /// where neither what is around it nor what is right before it is off as far.
    pub(super) fn apart(
        &mut self,
        predicted: &ForetoldElement,
        measured: &MeasuredElement,
    ) -> Vec<Apart> {
        let (here, around, before) = self.look(predicted, measured);
        let mut apart = Vec::new();
        let [across, _] = self.tolerance;
        let wider = |seen: &Seen| seen.off[0].end - seen.off[0].start;
        let is_explained = |seen: &Seen| (wider(seen) - wider(&here)).abs() <= across;
        if wider(&here).abs() > across && !around.as_ref().is_some_and(is_explained) {
            let (predicted, seen) = (predicted.rect.width, measured.width);
            apart.push((Differs::BoxWidth, px(predicted), px(seen)));
        }
        for (axis, what) in [Differs::X, Differs::Y].into_iter().enumerate() {
            let off = here.off[axis].start;
            let mut explained = vec![0.0];
            for seen in around.iter().chain(&before) {
                let Edges { start, end } = seen.off[axis];
                explained.extend([start, end, (start + end) / 2.0]);
            }
            let tolerance = self.tolerance[axis];
            if explained.iter().all(|by| (off - by).abs() > tolerance) {
                let place = |rect: (f64, f64)| [rect.0, rect.1][axis];
                let predicted = place((predicted.rect.x, predicted.rect.y))
                    - around.map_or(0.0, |around| {
                        place((around.predicted.x, around.predicted.y))
                    });
                let seen = place((measured.x, measured.y))
                    - around.map_or(0.0, |around| place(around.measured));
                apart.push((what, px(predicted), px(seen)));
            }
        }
        let with_unit =
            |(what, predicted, seen)| (what, format!("{predicted} px"), format!("{seen} px"));
        apart.into_iter().map(with_unit).collect()
    }

    /// Takes note of a box that is not judged by itself.
    pub(super) fn pass(&mut self, predicted: &ForetoldElement, measured: &MeasuredElement) {
        self.look(predicted, measured);
    }

    /// A box, what is around it, and what stands before it there.
    fn look(
        &mut self,
        predicted: &ForetoldElement,
        measured: &MeasuredElement,
    ) -> (Seen, Option<Seen>, Option<Seen>) {
        let rect = predicted.rect;
        let edges = |start: f64, size: f64, seen: f64, seen_size: f64| Edges {
            start: start - seen,
            end: start + size - seen - seen_size,
        };
        let here = Seen {
            off: [
                edges(rect.x, rect.width, measured.x, measured.width),
                edges(rect.y, rect.height, measured.y, measured.height),
            ],
            predicted: rect,
            measured: (measured.x, measured.y),
        };
        self.seen.insert(predicted.number, here);
        let around = measured.parent.and_then(|parent| self.seen.get(&parent));
        let around = around.copied();
        let before = measured.parent.and_then(|parent| {
            let before = self.last.insert(parent, predicted.number)?;
            self.seen.get(&before).copied()
        });
        (here, around, before)
    }
}
