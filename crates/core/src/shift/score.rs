//! The layout-shift score (Layout Instability, §2.2 to §2.4; session windows as
//! Cumulative Layout Shift sums them up): impact fraction times distance fraction.
//!
//! Which objects count, and with which rectangles, was compared with Chromium 156:
//! boxes that are not in a line with all that sticks out of them; texts as wide as
//! the box that their lines stand in, from their first letter's line to their last.

use serde::Serialize;

/// Something moves where its starting point moves by so many px along an axis.
pub const MOVED: f64 = 3.0;

/// The longest a session window lasts, and the longest pause in it, in ms.
const WINDOW: f64 = 5_000.0;
const PAUSE: f64 = 1_000.0;

/// A rectangle in px, from the top left corner of the page.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Rect {
    /// Its left edge.
    pub x: f64,
    /// Its top.
    pub y: f64,
    /// Its width.
    pub width: f64,
    /// Its height.
    pub height: f64,
}

impl Rect {
    /// Whether there is nothing in it.
    pub fn is_empty(self) -> bool {
        self.width <= 0.0 || self.height <= 0.0
    }

    /// The right edge.
    pub fn right(self) -> f64 {
        self.x + self.width
    }

    /// The bottom.
    pub fn bottom(self) -> f64 {
        self.y + self.height
    }

    /// What of it is in `other`.
    pub fn within(self, other: Rect) -> Rect {
        let (x, y) = (self.x.max(other.x), self.y.max(other.y));
        Rect {
            x,
            y,
            width: (self.right().min(other.right()) - x).max(0.0),
            height: (self.bottom().min(other.bottom()) - y).max(0.0),
        }
    }

    /// The smallest rectangle that holds both.
    pub fn with(self, other: Rect) -> Rect {
        if self.is_empty() {
            return other;
        }
        if other.is_empty() {
            return self;
        }
        let (x, y) = (self.x.min(other.x), self.y.min(other.y));
        Rect {
            x,
            y,
            width: self.right().max(other.right()) - x,
            height: self.bottom().max(other.bottom()) - y,
        }
    }
}

/// An object before and after.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Moving {
    /// Where it starts: its top corner on the side that its text starts.
    pub from: (f64, f64),
    /// The same after.
    pub to: (f64, f64),
    /// What it covers.
    pub before: Rect,
    /// The same after.
    pub after: Rect,
}

/// A layout shift.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Score {
    /// The score.
    pub value: f64,
    /// The share of the viewport that moved objects cover, before and after, 0 to 1.
    pub impact: f64,
    /// How far the farthest moved, in px.
    pub distance: f64,
}

impl Moving {
    /// How far it moved, in px along the axis of which that is more; 0 where it
    /// counts as unmoved.
    pub fn distance(&self) -> f64 {
        let across = (self.to.0 - self.from.0).abs();
        let down = (self.to.1 - self.from.1).abs();
        let distance = across.max(down);
        if distance < MOVED { 0.0 } else { distance }
    }
}

/// The score of all that moves at once in a viewport of `width` by `height` px.
pub fn score<'m>(
    objects: impl IntoIterator<Item = &'m Moving>,
    (width, height): (f64, f64),
) -> Score {
    let viewport = Rect {
        x: 0.0,
        y: 0.0,
        width,
        height,
    };
    let mut region = Vec::new();
    let mut distance = 0.0_f64;
    for object in objects {
        let moved = object.distance();
        if moved == 0.0 {
            continue;
        }
        let (before, after) = (
            object.before.within(viewport),
            object.after.within(viewport),
        );
        if before.is_empty() && after.is_empty() {
            continue;
        }
        // What comes into view, or leaves it, counts only where it moves down or up.
        if (before.is_empty() || after.is_empty()) && object.from.1 == object.to.1 {
            continue;
        }
        distance = distance.max(moved);
        region.extend([before, after].into_iter().filter(|rect| !rect.is_empty()));
    }
    let impact = area(&region) / (width * height);
    Score {
        value: impact * (distance / width.max(height)).min(1.0),
        impact,
        distance,
    }
}

/// The area that rectangles cover together, in square px.
fn area(rects: &[Rect]) -> f64 {
    let mut edges: Vec<f64> = rects
        .iter()
        .flat_map(|rect| [rect.y, rect.bottom()])
        .collect();
    edges.sort_by(f64::total_cmp);
    edges.dedup();
    let mut sorted: Vec<&Rect> = rects.iter().collect();
    sorted.sort_by(|a, b| a.x.total_cmp(&b.x));
    let mut total = 0.0;
    for pair in edges.windows(2) {
        let (top, bottom) = (pair[0], pair[1]);
        let mut covered = 0.0;
        let mut reach = f64::NEG_INFINITY;
        for rect in &sorted {
            if rect.y <= top && rect.bottom() >= bottom {
                covered += (rect.right() - rect.x.max(reach)).max(0.0);
                reach = reach.max(rect.right());
            }
        }
        total += covered * (bottom - top);
    }
    total
}

/// The greatest sum of shifts in a session window; times in ms, in order.
pub fn worst_window(shifts: &[(f64, f64)]) -> f64 {
    let (mut worst, mut sum) = (0.0_f64, 0.0);
    let (mut first, mut last) = (f64::NEG_INFINITY, f64::NEG_INFINITY);
    for (time, value) in shifts {
        if time - last > PAUSE || time - first > WINDOW {
            (sum, first) = (0.0, *time);
        }
        last = *time;
        sum += value;
        worst = worst.max(sum);
    }
    worst
}
