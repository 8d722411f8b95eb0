//! Line boxes as Firefox makes them, measured in Firefox 153 on Linux. Of faces for
//! which nothing is stated, `Natural` tells.
//!
//! Of faces whose `@font-face` states metrics, everything stays in fractions of a px until the line is placed, in units of
//! 1/60 px. With `q = size × size-adjust` and ascent, descent and gap `A`, `D`,
//! `G` as overrides of `q`:
//!
//! - the em `E` is `q` rounded to whole px, as it comes out of a scale from font
//!   units in 16.16 fixed point, which decides at halves;
//! - the normal line height is `max(E, A + D) + G`, or `1.2 E` where
//!   `A + D ≤ E` and there is no gap;
//! - ascent and descent are rounded to whole px, and the descent must hold the
//!   font's own underline: offset and thickness, each rounded;
//! - what the line height has over them is split above and below; the text's own
//!   unrounded ascent and descent fit in too.

use serde::Serialize;
use tidy_lattice_coverage::lattice::Adjusted;
use tidy_lattice_documents::style::Overrides;
use tidy_lattice_glyphs::font::{Face, LineSource};

use super::LineParts;

/// Units of 1/60 px, in which Firefox lays out.
const UNITS: f64 = 60.0;

/// The relative error that single precision may bring into a used size or an
/// override.
const SINGLE_PRECISION: f64 = 4e-7;

/// What Firefox takes from the face itself, whatever its rule states.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Design {
    /// Font units per em (`head`), 16 to 16384.
    pub units_per_em: u16,
    /// Top of the underline (`post` `underlinePosition`), in font units above
    /// the baseline; usually negative.
    pub underline_position: f64,
    /// Thickness of the underline (`post` `underlineThickness`), in font units.
    pub underline_thickness: f64,
}

impl Design {
    /// Reads `face`.
    pub fn of(face: &Face) -> Self {
        let underline = face.underline();
        Design {
            units_per_em: face.units_per_em(),
            underline_position: underline.position,
            underline_thickness: underline.thickness,
        }
    }
}

/// A face under an `@font-face` rule that states metrics.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Stated {
    /// The face.
    pub design: Design,
    /// `size-adjust` in %.
    pub size_adjust: f64,
    /// The line metrics.
    pub overrides: Overrides,
}

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

impl Stated {
    /// The line at `size` px.
    pub fn line(&self, size: f32) -> Line {
        self.line_at(f64::from(size) * self.size_adjust / 100.0)
    }

    /// Whether the line at `size` px is that of `other`, and stays so under the
    /// errors of single precision. A value on a border of rounding would come
    /// out one way here and perhaps another way there.
    pub fn agrees(&self, other: &Stated, size: f32) -> bool {
        let own = self.steady_line(size);
        own.is_some() && own == other.steady_line(size)
    }

    /// The line at `size` px; `None` where the errors of single precision decide.
    pub fn steady_line(&self, size: f32) -> Option<Line> {
        let used = f64::from(size) * self.size_adjust / 100.0;
        let line = self.line_at(used * (1.0 - SINGLE_PRECISION));
        (line == self.line_at(used * (1.0 + SINGLE_PRECISION))).then_some(line)
    }

    /// The line at a used size in px.
    fn line_at(&self, used: f64) -> Line {
        let em = self.em(used);
        let ascent = self.overrides.ascent / 100.0 * used;
        let descent = self.overrides.descent / 100.0 * used;
        let nearest = |px: f64| floor(px * UNITS + 0.5);
        let upwards = |px: f64| -floor(-px * UNITS);
        let inner = nearest((ascent + descent - em).max(0.0));
        let gap = nearest(self.overrides.line_gap / 100.0 * used);
        let normal = if inner == 0 && gap == 0 {
            nearest(1.2 * em)
        } else {
            nearest(em) + inner + gap
        };
        let whole_ascent = nearest(round(ascent));
        let whole_descent = nearest(self.whole_descent(used, descent));
        let leading = normal - (whole_ascent + whole_descent);
        let half = leading / 2;
        Line {
            above: (whole_ascent + half).max(upwards(ascent)).max(whole_ascent),
            below: (whole_descent + leading - half)
                .max(upwards(descent))
                .max(whole_descent),
        }
    }

    /// The em in whole px, as the scale from font units gives it back.
    fn em(&self, used: f64) -> f64 {
        round(f64::from(self.design.units_per_em) * self.scale(used))
    }

    /// Px to a font unit, in the fixed point of the font engine.
    fn scale(&self, used: f64) -> f64 {
        let units = f64::from(self.design.units_per_em);
        round(round(used * 64.0) * 65536.0 / units) / 65536.0 / 64.0
    }

    /// The descent in whole px, with room for the underline. An underline that
    /// would leave the descent is first moved up to its bottom.
    fn whole_descent(&self, used: f64, descent: f64) -> f64 {
        let px = self.scale(used);
        let mut thickness = (self.design.underline_thickness * px).max(1.0);
        let mut offset = (self.design.underline_position * px).min(-1.0);
        if thickness - offset > descent {
            if thickness > descent {
                thickness = descent.max(1.0);
            }
            offset = thickness - descent;
        }
        round((round(-offset) + round(thickness)).max(descent))
    }
}

/// `line-height: normal` of a web font for which nothing is stated, in px, at `size` px.
pub fn natural_height(face: &Face, size: f32) -> f64 {
    Natural::of(face, f64::from(size)).parts().normal
}

/// The largest whole number that is no larger: `f64::floor`, which is a call on plain
/// x86-64, and lines are searched millions of times.
fn floor(value: f64) -> i64 {
    let whole = value as i64;
    whole - i64::from(whole as f64 > value)
}

/// What a face gives to a line in Firefox, in px: ascent and descent as text is placed
/// by them, and the normal line height.
pub(super) fn parts(face: &Face, adjusted: &Adjusted, size: f32) -> LineParts {
    let used = f64::from(size) * f64::from(adjusted.size);
    let stated = [adjusted.ascent, adjusted.descent, adjusted.line_gap];
    let natural = Natural::of(face, used);
    if stated == [None; 3] {
        return natural.parts();
    }
    let own = [natural.ascent, natural.descent, natural.gap()];
    let part = |index: usize| match stated[index] {
        Some(factor) => f64::from(factor) * used,
        None => own[index],
    };
    let model = Stated {
        design: Design::of(face),
        size_adjust: f64::from(adjusted.size) * 100.0,
        overrides: Overrides {
            ascent: part(0) / used * 100.0,
            descent: part(1) / used * 100.0,
            line_gap: part(2) / used * 100.0,
        },
    };
    LineParts {
        ascent: round(part(0)),
        descent: model.whole_descent(used, part(1)),
        normal: model.line(size).height(),
    }
}

/// The line of a face for which nothing is stated, in px: web fonts and installed ones.
///
/// Typographic metrics that the font asks for (OS/2 `fsSelection`, bit 7) are rounded
/// to whole px, others are taken upwards, as FreeType gives them. The typographic line
/// is rounded; what it has over ascent and descent is the gap. Where there is none, and
/// ascent and descent are no more than an em, the line is 1.2 em high. This gave all of
/// 650 heights and baselines (ten faces, 65 sizes).
struct Natural {
    em: f64,
    ascent: f64,
    descent: f64,
    line: f64,
    /// The descent with room for the underline.
    deep: f64,
}

impl Natural {
    fn of(face: &Face, used: f64) -> Self {
        let metrics = face.line();
        let model = Stated {
            design: Design::of(face),
            size_adjust: 100.0,
            overrides: Overrides {
                ascent: 0.0,
                descent: 0.0,
                line_gap: 0.0,
            },
        };
        let units = f64::from(model.design.units_per_em);
        let scale = model.scale(used);
        let part = |em: f64| {
            let px = em * units * scale;
            match metrics.source {
                LineSource::Os2TypoAsked => round(px),
                // In 1/64 px first.
                _ => (round(px * 64.0) / 64.0).ceil(),
            }
        };
        let (ascent, descent) = (part(metrics.ascent), part(metrics.descent));
        let typographic = face
            .typographic_height()
            .unwrap_or(metrics.ascent + metrics.descent + metrics.line_gap);
        Natural {
            em: model.em(used),
            ascent,
            descent,
            line: round(typographic * units * scale),
            deep: model.whole_descent(used, descent),
        }
    }

    fn gap(&self) -> f64 {
        (self.line - (self.ascent + self.descent)).max(0.0)
    }

    fn parts(&self) -> LineParts {
        let both = self.ascent + self.descent;
        let normal = if both <= self.em && self.gap() == 0.0 {
            1.2 * self.em
        } else {
            both + self.gap()
        };
        LineParts {
            ascent: self.ascent,
            descent: self.deep,
            normal: (normal * UNITS).round() / UNITS,
        }
    }
}

/// How far a line of `height` px reaches above and below the baseline.
pub(super) fn leaded(parts: LineParts, height: f64) -> (f64, f64) {
    let units = |px: f64| (px * UNITS).round() as i64;
    let leading = units(height) - units(parts.ascent + parts.descent);
    let half = leading / 2;
    (
        parts.ascent + half as f64 / UNITS,
        parts.descent + (leading - half) as f64 / UNITS,
    )
}

/// To the nearest whole number, halves upwards.
fn round(number: f64) -> f64 {
    floor(number + 0.5) as f64
}
