//! Floats: boxes at the left or right edge, which lines, and boxes with floats of
//! their own, stand beside (CSS 2.2, §9.5).

use tidy_lattice_documents::page::Side;

/// How many floats are kept before those that are passed are dropped.
const MOST_KEPT: usize = 256;

/// The floats of a box that keeps its floats to itself, in px from the corner of its
/// border box.
#[derive(Debug, Default)]
pub(super) struct Floats {
    kept: Vec<Float>,
    /// The lowest bottoms on the left and on the right.
    bottoms: [Option<f64>; 2],
    /// The top of the last: none is placed above an earlier one.
    last_top: Option<f64>,
}

/// A float: its margin box.
#[derive(Debug, Clone, Copy)]
struct Float {
    side: Side,
    /// The edge that faces the text.
    edge: f64,
    top: f64,
    bottom: f64,
}

/// Where a box stands among the floats that it shares with others.
pub(super) struct Around<'f> {
    /// The floats.
    pub floats: &'f mut Floats,
    /// The corner of the border box of the box that is being laid out.
    pub x: f64,
    /// Its top.
    pub y: f64,
}

impl Around<'_> {
    /// The same floats, seen from a box inside.
    pub fn inside(&mut self, x: f64, y: f64) -> Around<'_> {
        Around {
            x: self.x + x,
            y: self.y + y,
            floats: self.floats,
        }
    }
}

impl Floats {
    /// Whether there are none.
    pub fn is_empty(&self) -> bool {
        self.bottoms == [None, None]
    }

    /// What is free between `left` and `right` from `top` on for `height` px.
    pub fn band(&self, top: f64, height: f64, (left, right): (f64, f64)) -> (f64, f64) {
        let bottom = top + height.max(1e-3);
        let (mut from, mut to) = (left, right);
        for float in self.beside(top, bottom) {
            match float.side {
                Side::Left => from = from.max(float.edge),
                Side::Right => to = to.min(float.edge),
            }
        }
        (from, to.max(from))
    }

    fn beside(&self, top: f64, bottom: f64) -> impl Iterator<Item = &Float> {
        self.kept
            .iter()
            .filter(move |float| float.top < bottom && float.bottom > top)
    }

    /// The bottom of the float beside `top` that ends first.
    pub fn next_bottom(&self, top: f64, height: f64) -> Option<f64> {
        let bottoms = self
            .beside(top, top + height.max(1e-3))
            .map(|float| float.bottom);
        bottoms.min_by(f64::total_cmp)
    }

    /// Places a float whose margin box is `width` by `height` px, not above `top`,
    /// between `left` and `right`; gives its corner.
    pub fn place(
        &mut self,
        side: Side,
        (width, height): (f64, f64),
        top: f64,
        within: (f64, f64),
    ) -> (f64, f64) {
        let mut y = self.last_top.map_or(top, |last| top.max(last));
        let (mut from, mut to) = self.band(y, 0.0, within);
        // Every turn passes the end of one.
        while to - from + 1e-6 < width
            && let Some(bottom) = self.next_bottom(y, 0.0)
        {
            y = bottom;
            (from, to) = self.band(y, 0.0, within);
        }
        let x = match side {
            Side::Left => from,
            Side::Right => to - width,
        };
        self.last_top = Some(y);
        let bottom = &mut self.bottoms[usize::from(side == Side::Right)];
        *bottom = Some(bottom.map_or(y + height, |known| known.max(y + height)));
        if self.kept.len() > MOST_KEPT {
            self.kept.retain(|float| float.bottom > y);
        }
        if height > 0.0 && self.kept.len() <= 4 * MOST_KEPT {
            self.kept.push(Float {
                side,
                edge: if side == Side::Left { x + width } else { x },
                top: y,
                bottom: y + height,
            });
        }
        (x, y)
    }

    /// The top of a box that clears floats on the left, on the right, or both.
    pub fn cleared(&self, (left, right): (bool, bool)) -> Option<f64> {
        let of = |clears: bool, side: usize| self.bottoms[side].filter(|_| clears);
        let (left, right) = (of(left, 0), of(right, 1));
        left.into_iter().chain(right).max_by(f64::total_cmp)
    }

    /// The bottom of the lowest.
    pub fn bottom(&self) -> Option<f64> {
        self.cleared((true, true))
    }
}
