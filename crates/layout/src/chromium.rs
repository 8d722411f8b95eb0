//! Line boxes as Chromium makes them, measured in Chromium 156 on Linux.
//!
//! Every face is used at `size × size-adjust`, cut (not rounded) to hundredths of a
//! px; ascent, descent and gap are each the used size times their override, or the
//! face's own metrics where nothing is stated, rounded to whole px.
//! `line-height: normal` is the sum of the three.
//!
//! Glyphs are set at the used size cut once more, to 1/64 px, and advance by their
//! own advances at that size, not rounded; see [`glyph_size`].

use tidy_lattice_glyphs::font::LineMetrics;

use tidy_lattice_documents::style::Overrides;

/// The parts of a line, in whole px.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Line {
    /// Above the baseline.
    pub ascent: i32,
    /// Below the baseline.
    pub descent: i32,
    /// Between lines.
    pub gap: i32,
}

impl Line {
    /// `line-height: normal`, in px.
    pub fn height(self) -> i32 {
        self.ascent + self.descent + self.gap
    }
}

/// The line of a face that states nothing, at `size` px.
pub fn natural_line(size: f32, metrics: &LineMetrics) -> Line {
    let size = used_size(size, 100.0);
    Line {
        ascent: natural_part(size, metrics.ascent),
        descent: natural_part(size, metrics.descent),
        gap: natural_part(size, metrics.line_gap),
    }
}

/// One part of [`natural_line`]: `em` times a used size, in whole px.
pub fn natural_part(used_size: f32, em: f64) -> i32 {
    (em as f32 * used_size).round() as i32
}

/// The line of a face with descriptors, at `size` px; `size_adjust` in %.
pub fn overridden_line(size: f32, size_adjust: f64, overrides: &Overrides) -> Line {
    let used = used_size(size, size_adjust);
    Line {
        ascent: overridden_part(used, overrides.ascent),
        descent: overridden_part(used, overrides.descent),
        gap: overridden_part(used, overrides.line_gap),
    }
}

/// The size in px that a face is used at, `size_adjust` in %.
#[inline]
pub fn used_size(size: f32, size_adjust: f64) -> f32 {
    let factor = (size_adjust / 100.0) as f32;
    // The order of the products decides where they are whole hundredths.
    cut(f64::from(size * factor * 100.0)) as f32 / 100.0
}

/// A size without its fraction. Sizes are not negative, so this is rounding down; `floor` is
/// no instruction of every processor, and fits ask for many thousands of sizes.
#[inline]
fn cut(size: f64) -> f64 {
    size as u64 as f64
}

/// The size in px that the glyphs of a face are set at: the used size, cut once more
/// to 1/64 px. Widths follow from it, so they move in steps of
/// a tenth of a per cent at 16 px.
#[inline]
pub fn glyph_size(size: f32, size_adjust: f64) -> f64 {
    cut(f64::from(used_size(size, size_adjust)) * 64.0) / 64.0
}

/// One part of [`overridden_line`]: an override in % of a used size in px.
#[inline]
pub fn overridden_part(used_size: f32, percent: f64) -> i32 {
    ((percent / 100.0) as f32 * used_size).round() as i32
}
