//! Which face of a family a style picks (CSS Fonts 4, §5.2 "Matching font
//! styles", step 4), and what is faked where none fits.

use serde::Serialize;

use super::read::{FaceStyle, Range};

/// What a face offers.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct FaceTraits {
    /// The weights, 1 to 1000.
    pub weight: Range,
    /// The widths in %.
    pub stretch: Range,
    /// The slope.
    pub style: FaceStyle,
}

/// The slope that a text asks for.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum AskedSlope {
    /// Upright.
    Normal,
    /// Italic.
    Italic,
    /// Oblique by an angle in degrees.
    Oblique(f32),
}

/// What a text asks for.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Asked {
    /// The weight, 1 to 1000.
    pub weight: f32,
    /// The width in %.
    pub stretch: f32,
    /// The slope.
    pub slope: AskedSlope,
}

impl Default for Asked {
    fn default() -> Self {
        Asked {
            weight: 400.0,
            stretch: 100.0,
            slope: AskedSlope::Normal,
        }
    }
}

/// What the browser makes itself of a face that does not have it.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Hash, Serialize, schemars::JsonSchema)]
pub struct Faked {
    /// Thickened.
    pub bold: bool,
    /// Slanted.
    pub italic: bool,
}

impl Faked {
    /// Whether anything is.
    pub fn any(self) -> bool {
        self.bold || self.italic
    }
}

/// From this angle on, in degrees, slanted text is like italic (CSS Fonts 4, §2.4).
const ITALIC: f32 = 14.0;

/// From this weight on browsers thicken faces that are all below it.
const BOLD: f32 = 600.0;

/// The places in `faces` of those that `asked` picks: one, or several with the
/// same traits, which then make up one face by their ranges. Empty where there
/// are no faces.
pub fn matching(faces: &[FaceTraits], asked: Asked) -> Vec<usize> {
    let mut left: Vec<usize> = (0..faces.len()).collect();
    narrow(&mut left, |place| {
        stretch_distance(faces[place].stretch, asked.stretch)
    });
    narrow(&mut left, |place| {
        slope_distance(faces[place].style, asked.slope)
    });
    narrow(&mut left, |place| {
        weight_distance(faces[place].weight, asked.weight)
    });
    left
}

/// Keeps the places whose distance is least.
fn narrow(left: &mut Vec<usize>, distance: impl Fn(usize) -> (u8, f32)) {
    let compare = |a: &(u8, f32), b: &(u8, f32)| a.0.cmp(&b.0).then(a.1.total_cmp(&b.1));
    let best = left.iter().map(|place| distance(*place)).min_by(compare);
    if let Some(best) = best {
        left.retain(|place| compare(&distance(*place), &best).is_eq());
    }
}

/// Narrower first for normal and below, wider first above.
fn stretch_distance(range: Range, asked: f32) -> (u8, f32) {
    if range.contains(asked) {
        return (0, 0.0);
    }
    let narrower = range.to < asked;
    let away = if narrower {
        asked - range.to
    } else {
        range.from - asked
    };
    let preferred = (asked <= 100.0) == narrower;
    (if preferred { 1 } else { 2 }, away)
}

fn slope_distance(style: FaceStyle, asked: AskedSlope) -> (u8, f32) {
    match (asked, style) {
        (AskedSlope::Normal, FaceStyle::Normal) | (AskedSlope::Italic, FaceStyle::Italic) => {
            (0, 0.0)
        }
        // Upright text prefers the least slanted oblique to an italic.
        (AskedSlope::Normal, FaceStyle::Oblique { angles }) => (1, angles.from.abs()),
        (AskedSlope::Normal, FaceStyle::Italic) => (2, 0.0),
        (AskedSlope::Italic, FaceStyle::Oblique { angles }) => (1, (angles.from - 14.0).abs()),
        (AskedSlope::Italic, FaceStyle::Normal) => (2, 0.0),
        (AskedSlope::Oblique(asked), FaceStyle::Oblique { angles }) => {
            if angles.contains(asked) {
                (0, 0.0)
            } else {
                (
                    1,
                    (angles.from - asked).abs().min((angles.to - asked).abs()),
                )
            }
        }
        // Upright counts as an angle of 0, which is nearer than an italic to what is
        // hardly slanted.
        (AskedSlope::Oblique(asked), FaceStyle::Normal) if asked.abs() < ITALIC => (2, 0.0),
        (AskedSlope::Oblique(_), FaceStyle::Italic) => (3, 0.0),
        (AskedSlope::Oblique(_), FaceStyle::Normal) => (4, 0.0),
    }
}

/// CSS Fonts 4, §5.2: from 400 to 500 first up to 500, then below, then above;
/// lighter ones first below, bolder ones first above.
fn weight_distance(range: Range, asked: f32) -> (u8, f32) {
    if range.contains(asked) {
        return (0, 0.0);
    }
    let lighter = range.to < asked;
    let away = if lighter {
        asked - range.to
    } else {
        range.from - asked
    };
    let step = if (400.0..=500.0).contains(&asked) {
        match (lighter, range.from <= 500.0) {
            (false, true) => 1,
            (true, _) => 2,
            (false, false) => 3,
        }
    } else if (asked < 400.0) == lighter {
        1
    } else {
        2
    };
    (step, away)
}

/// What is faked where `traits` serves what was `asked`. Engines agree on the
/// weight from which they thicken; no standard states it.
pub fn faked(traits: &FaceTraits, asked: Asked, bold: bool, italic: bool) -> Faked {
    Faked {
        bold: bold && asked.weight >= BOLD && traits.weight.to < BOLD,
        italic: italic && asked.slope != AskedSlope::Normal && traits.style == FaceStyle::Normal,
    }
}
