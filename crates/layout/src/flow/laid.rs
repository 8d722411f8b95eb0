//! What layout comes to: boxes and lines.

use std::ops::Range;
use std::sync::Arc;

/// A box, in px.
#[derive(Debug, Clone, Default)]
pub struct Laid {
    /// The node; nothing for a box that no element asked for.
    pub node: Option<usize>,
    /// From the left of the parent's border box.
    pub x: f64,
    /// From its top.
    pub y: f64,
    /// The width of the border box.
    pub width: f64,
    /// Its height.
    pub height: f64,
    /// Boxes in it.
    pub children: Vec<Laid>,
    /// Lines in it.
    pub text: Option<LaidText>,
    /// Whether content is cut off at its edges.
    pub clips: bool,
    /// Where its first baseline is, from its top.
    pub first_baseline: Option<f64>,
    /// Where its last baseline is, from its top.
    pub last_baseline: Option<f64>,
    /// Of a mark for what is out of flow: which of its edges would stand here.
    pub(super) out: Option<Static>,
    /// How far `position: relative` moved it down, which its baselines do not follow.
    pub(super) lowered: f64,
    /// The margins at its top that may collapse with what is before.
    pub(super) margin_start: Strut,
    /// Of an empty box, the part of `margin_start` that is above it: where it stands, were
    /// there something in it (CSS 2.2, §8.3.1).
    pub(super) above: Strut,
    /// The margins at its bottom that may collapse with what is behind.
    pub(super) margin_end: Strut,
    /// Whether the two collapse with each other, as there is nothing between.
    pub(super) empty: bool,
}

/// The lines of a box.
#[derive(Debug, Clone)]
pub struct LaidText {
    /// All the text, with blanks collapsed.
    pub text: Arc<str>,
    /// The lines, in order.
    pub lines: Vec<LaidLine>,
    /// Left edge and width of what the lines stand in, from the box's own left.
    pub left: f64,
    /// Its width.
    pub width: f64,
}

/// A line, in px from the corner of its box.
#[derive(Debug, Clone, PartialEq)]
pub struct LaidLine {
    /// Its top.
    pub top: f64,
    /// Its height.
    pub height: f64,
    /// Its baseline.
    pub baseline: f64,
    /// Its part of the text, in bytes, without blanks at the end.
    pub range: Range<usize>,
    /// Its width, without blanks at the end.
    pub width: f64,
    /// Stretches of texts in it, from left to right.
    pub pieces: Vec<LaidPiece>,
}

/// What of one text stands in one line.
#[derive(Debug, Clone, PartialEq)]
pub struct LaidPiece {
    /// The node of the text.
    pub node: usize,
    /// Its part of the text of the box, in bytes.
    pub range: Range<usize>,
    /// Its left edge.
    pub x: f64,
    /// Its width.
    pub width: f64,
    /// The top of its letters: the ascent above the baseline.
    pub top: f64,
    /// Ascent and descent together.
    pub height: f64,
}

impl Laid {
    /// Takes the baseline of its first item for both of its own, where items are not aligned
    /// on one: the lower edge of an item that has none (CSS Flexbox 1, §8.5).
    pub(super) fn align_as_first_child(&mut self) {
        let of_first = (self.children.first()).map(|child| {
            let baseline = child.first_baseline.unwrap_or(child.height);
            baseline + child.y - child.lowered
        });
        self.first_baseline = self.first_baseline.or(of_first);
        self.last_baseline = self.first_baseline;
    }
}

/// Where a box out of flow would stand were it in flow (its static position, CSS
/// Positioned Layout 3, §3.5.1), by its edges across and down.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) struct Static {
    pub across: Edge,
    pub down: Edge,
}

/// What of a box is at a place.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Edge {
    /// Its left or upper edge.
    Start,
    /// Its middle.
    Middle,
    /// Its right or lower edge.
    End,
}

/// Margins that collapse (CSS 2.2, §8.3.1): the greatest and the most negative.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub(super) struct Strut {
    positive: f64,
    negative: f64,
}

impl Strut {
    /// Adds a margin.
    pub fn add(&mut self, margin: f64) {
        if margin >= 0.0 {
            self.positive = self.positive.max(margin);
        } else {
            self.negative = self.negative.min(margin);
        }
    }

    /// Takes all of `other` in.
    pub fn join(&mut self, other: Strut) {
        self.positive = self.positive.max(other.positive);
        self.negative = self.negative.min(other.negative);
    }

    /// What they come to.
    pub fn sum(self) -> f64 {
        self.positive + self.negative
    }
}
