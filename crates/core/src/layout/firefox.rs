//! Line boxes as Firefox makes them for faces whose `@font-face` states
//! metrics, measured in Firefox 153 on Linux.
//!
//! Everything stays in fractions of a px until the line is placed, in units of
//! 1/60 px. With `q = size × size-adjust`, `E = round(q)` and ascent, descent
//! and gap `A`, `D`, `G` as overrides of `q`, the normal line height is
//! `max(E, A + D) + G`, or `1.2 E` where `A + D ≤ E` and there is no gap. What
//! it has over the rounded ascent and descent is split above and below.

use super::Overrides;

/// Units of 1/60 px, in which Firefox lays out.
const UNITS: f64 = 60.0;

/// The extent of a line, in 1/60 px.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Line {
    /// From the top of the line to the baseline.
    pub above: i64,
    /// From the baseline to the bottom of the line.
    pub below: i64,
}

impl Line {
    /// `line-height: normal`, in px.
    pub fn height(self) -> f64 {
        (self.above + self.below) as f64 / UNITS
    }
}

/// The line of a face with descriptors, at `size` px; `size_adjust` in %.
pub fn stated_line(size: f32, size_adjust: f64, overrides: &Overrides) -> Line {
    let used = f64::from(size) * size_adjust / 100.0;
    let em = used.round();
    let ascent = overrides.ascent / 100.0 * used;
    let descent = overrides.descent / 100.0 * used;
    let gap = overrides.line_gap / 100.0 * used;
    let normal = if ascent + descent <= em && gap == 0.0 {
        1.2 * em
    } else {
        em.max(ascent + descent) + gap
    };
    let whole = |px: f64| (px.round() * UNITS) as i64;
    let upwards = |px: f64| (px * UNITS).ceil() as i64;
    let leading = (normal * UNITS).round() as i64 - (whole(ascent) + whole(descent));
    let half = leading / 2;
    Line {
        above: (whole(ascent) + half)
            .max(upwards(ascent))
            .max(whole(ascent)),
        below: (whole(descent) + leading - half)
            .max(upwards(descent))
            .max(whole(descent)),
    }
}
