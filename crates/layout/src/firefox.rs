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
use tidy_lattice_glyphs::font::{Face, LineSource, Underline};

use super::LineParts;

/// Units of 1/60 px, in which Firefox lays out.
const UNITS: f64 = 60.0;

/// The relative error that single precision may bring into a used size or an
/// override.
const SINGLE_PRECISION: f64 = 4e-7;

/// Position and thickness in em of the underline of faces that were measured in a browser,
/// which does not tell it: the median of the catalogue's cards.
const USUAL_UNDERLINE: (f64, f64) = (-0.093, 0.05);

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
        let units = f64::from(face.units_per_em());
        let underline = face.underline().unwrap_or(Underline {
            position: USUAL_UNDERLINE.0 * units,
            thickness: USUAL_UNDERLINE.1 * units,
        });
        Design {
            units_per_em: face.units_per_em(),
            underline_position: underline.position,
            underline_thickness: underline.thickness,
        }
    }
}

/// A face under an `@font-face` rule that states metrics.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct AdjustedLines {
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

impl AdjustedLines {
    /// The line at `size` px.
    pub fn line(&self, size: f32) -> Line {
        self.line_at(f64::from(size) * self.size_adjust / 100.0)
    }

    /// Whether the line at `size` px is that of `other`, and stays so under the
    /// errors of single precision. A value on a border of rounding would come
    /// out one way here and perhaps another way there.
    pub fn agrees(&self, other: &AdjustedLines, size: f32) -> bool {
        let line = self.steady_line(size);
        line.is_some() && line == other.steady_line(size)
    }

    /// The line at `size` px; `None` where the errors of single precision decide.
    pub fn steady_line(&self, size: f32) -> Option<Line> {
        let both = self.design.around(size, self.size_adjust);
        let [line, other] = both.map(|used| self.line_of(&used));
        (line == other).then_some(line)
    }

    /// The line at a used size in px.
    fn line_at(&self, used: f64) -> Line {
        self.line_of(&self.design.at(used))
    }

    fn line_of(&self, used: &Used) -> Line {
        used.line(
            used.ascent(self.overrides.ascent),
            used.descent(self.overrides.descent),
            used.line_gap(self.overrides.line_gap),
        )
    }
}

/// A face at a used size. What a value of its rule gives there is had by itself, so that a
/// search may put values together without computing each anew.
#[derive(Debug, Clone, Copy)]
pub struct Used {
    /// The size, in px.
    px: f64,
    /// The em in whole px, as the scale from font units gives it back.
    em: f64,
    /// The underline's thickness, in px, at least 1.
    thickness: f64,
    /// The underline's offset, in px, at most -1.
    offset: f64,
}

/// What an ascent or a descent gives to a line at a used size.
#[derive(Debug, Clone, Copy)]
pub struct Extent {
    /// In px.
    px: f64,
    /// In whole px, in units of 1/60 px.
    whole: i64,
    /// As it is, in units of 1/60 px, upwards.
    upwards: i64,
}

impl Design {
    /// The face at a used size in px.
    #[inline]
    fn at(&self, used: f64) -> Used {
        let scale = self.scale(used);
        Used {
            px: used,
            em: round(f64::from(self.units_per_em) * scale),
            thickness: (self.underline_thickness * scale).max(1.0),
            offset: (self.underline_position * scale).min(-1.0),
        }
    }

    /// The face at `size` px under a `size-adjust` in %, as small and as large as single
    /// precision may make it.
    pub fn around(&self, size: f32, size_adjust: f64) -> [Used; 2] {
        let used = f64::from(size) * size_adjust / 100.0;
        [1.0 - SINGLE_PRECISION, 1.0 + SINGLE_PRECISION].map(|error| self.at(used * error))
    }

    /// Px to a font unit at a used size, in the fixed point of the font engine.
    #[inline]
    fn scale(&self, used: f64) -> f64 {
        let units = f64::from(self.units_per_em);
        round(round(used * 64.0) * 65536.0 / units) / 65536.0 / 64.0
    }
}

impl Used {
    /// What an `ascent-override` in % gives.
    #[inline]
    pub fn ascent(&self, percent: f64) -> Extent {
        let px = percent / 100.0 * self.px;
        Extent {
            px,
            whole: nearest(round(px)),
            upwards: upwards(px),
        }
    }

    /// What a `descent-override` in % gives.
    #[inline]
    pub fn descent(&self, percent: f64) -> Extent {
        let px = percent / 100.0 * self.px;
        Extent {
            px,
            whole: nearest(self.whole_descent(px)),
            upwards: upwards(px),
        }
    }

    /// What a `line-gap-override` in % gives, in units of 1/60 px.
    #[inline]
    pub fn line_gap(&self, percent: f64) -> i64 {
        nearest(percent / 100.0 * self.px)
    }

    /// The line of these parts.
    #[inline]
    pub fn line(&self, ascent: Extent, descent: Extent, gap: i64) -> Line {
        let inner = nearest((ascent.px + descent.px - self.em).max(0.0));
        let normal = if inner == 0 && gap == 0 {
            nearest(1.2 * self.em)
        } else {
            nearest(self.em) + inner + gap
        };
        let leading = normal - (ascent.whole + descent.whole);
        let half = leading / 2;
        Line {
            above: (ascent.whole + half).max(ascent.upwards).max(ascent.whole),
            below: (descent.whole + leading - half)
                .max(descent.upwards)
                .max(descent.whole),
        }
    }

    /// The descent in whole px, with room for the underline. An underline that
    /// would leave the descent is first moved up to its bottom.
    #[inline]
    fn whole_descent(&self, descent: f64) -> f64 {
        let (mut thickness, mut offset) = (self.thickness, self.offset);
        if thickness - offset > descent {
            if thickness > descent {
                thickness = descent.max(1.0);
            }
            offset = thickness - descent;
        }
        round((round(-offset) + round(thickness)).max(descent))
    }
}

/// In units of 1/60 px, to the nearest.
#[inline]
fn nearest(px: f64) -> i64 {
    floor(px * UNITS + 0.5)
}

/// In units of 1/60 px, upwards.
#[inline]
fn upwards(px: f64) -> i64 {
    -floor(-px * UNITS)
}

/// `line-height: normal` of a web font for which nothing is stated, in px, at `size` px.
pub fn natural_height(face: &Face, size: f32) -> f64 {
    Natural::of(face, f64::from(size)).parts().normal
}

/// The largest whole number that is no larger: `f64::floor`, which is a call on plain
/// x86-64, and lines are searched millions of times.
#[inline]
fn floor(value: f64) -> i64 {
    let whole = value as i64;
    whole - i64::from(whole as f64 > value)
}

/// What a face gives to a line in Firefox, in px: ascent and descent as text is placed
/// by them, and the normal line height.
pub(super) fn parts(face: &Face, adjusted: &Adjusted, size: f32) -> LineParts {
    let used = f64::from(size) * f64::from(adjusted.size);
    let specified = [adjusted.ascent, adjusted.descent, adjusted.line_gap];
    let natural = Natural::of(face, used);
    if specified == [None; 3] {
        return natural.parts();
    }
    let natural_parts = [natural.ascent, natural.descent, natural.gap()];
    let part = |index: usize| match specified[index] {
        Some(factor) => f64::from(factor) * used,
        None => natural_parts[index],
    };
    let model = AdjustedLines {
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
        descent: model.design.at(used).whole_descent(part(1)),
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
        let design = Design::of(face);
        let units = f64::from(design.units_per_em);
        let scale = design.scale(used);
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
            em: design.at(used).em,
            ascent,
            descent,
            line: round(typographic * units * scale),
            deep: design.at(used).whole_descent(descent),
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
#[inline]
fn round(number: f64) -> f64 {
    floor(number + 0.5) as f64
}
