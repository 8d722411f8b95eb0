//! The browser engine whose layout is predicted, and the line that each makes of a
//! face.
//!
//! What engines measured alike is one model here; where they differ, each has its
//! own: see [`super::chromium`] and [`super::firefox`]. WebKit honours
//! `size-adjust` and leaves the three line overrides out (measured in WebKitGTK
//! 2.50); its ascent, descent and gap are each rounded to whole px.

use serde::Serialize;
use tidy_lattice_coverage::lattice::Adjusted;
use tidy_lattice_documents::style::read::USUAL_FIXED_SIZE;
use tidy_lattice_glyphs::font::Face;

use super::{LineParts, chromium, firefox};

/// A browser engine.
#[derive(
    Debug,
    Clone,
    Copy,
    Default,
    PartialEq,
    Eq,
    Hash,
    PartialOrd,
    Ord,
    Serialize,
    schemars::JsonSchema,
)]
#[serde(rename_all = "kebab-case")]
pub enum Engine {
    /// Blink.
    #[default]
    Chromium,
    /// Gecko.
    Firefox,
    /// WebKit.
    Webkit,
}

/// The longest length of boxes, in px: 2³¹ units of 1/64 px.
const LONGEST: f64 = 33_554_431.0;

impl Engine {
    /// What it gives `monospace` where no style sheet sets a size, in px, on a `system` that
    /// is known by name.
    pub fn fixed_size(self, system: Option<&str>) -> f32 {
        if self == Engine::Firefox && system == Some("Linux") {
            12.0
        } else {
            USUAL_FIXED_SIZE
        }
    }

    /// The name for people.
    pub fn label(self) -> &'static str {
        match self {
            Engine::Chromium => "Chromium",
            Engine::Firefox => "Firefox",
            Engine::Webkit => "WebKit",
        }
    }

    /// The unit that boxes are laid out in, in px.
    pub fn unit(self) -> f64 {
        match self {
            Engine::Firefox => 1.0 / 60.0,
            Engine::Chromium | Engine::Webkit => 1.0 / 64.0,
        }
    }

    /// `px` as a length of boxes: cut to whole units, and to what engines count up to;
    /// what is no number is 0.
    pub fn cut(self, px: f64) -> f64 {
        if px.is_nan() {
            return 0.0;
        }
        let px = px.clamp(-LONGEST, LONGEST);
        match self {
            Engine::Firefox => (px * 60.0).round() / 60.0,
            Engine::Chromium | Engine::Webkit => (px * 64.0).trunc() / 64.0,
        }
    }

    /// A line height that is a length, in px: Chromium takes it to the nearest unit of layout.
    pub fn line_of(self, px: f64) -> f64 {
        match self {
            Engine::Chromium => (px * 64.0).round() / 64.0,
            Engine::Firefox | Engine::Webkit => self.cut(px),
        }
    }

    /// A line height that is a multiple of the font size, in px: Chromium takes the
    /// size to the nearest unit of layout and cuts the product, WebKit cuts it to whole
    /// px.
    pub fn multiplied(self, size: f32, number: f32) -> f64 {
        match self {
            Engine::Chromium => {
                let size = (f64::from(size) * 64.0).round() / 64.0;
                // Single precision brings products a little below whole units.
                ((size * f64::from(number) * 64.0 + 1e-4).trunc()) / 64.0
            }
            Engine::Firefox => self.cut(f64::from(size * number)),
            // In whole px.
            Engine::Webkit => f64::from(size * number).floor(),
        }
    }

    /// The size in px of small capitals that are made of large ones, in text of `size`
    /// px.
    pub fn faked_capitals(self, size: f32) -> f32 {
        match self {
            // In whole px.
            Engine::Chromium => (size * 0.7).round(),
            Engine::Firefox => size * 0.8,
            Engine::Webkit => size * 0.7,
        }
    }

    /// The width of a stretch of glyphs as a box has it.
    pub fn up(self, px: f64) -> f64 {
        match self {
            // Advances are rounded to 1/65536 of a unit and summed up in single
            // precision; what exceeds a unit by less than that is off by is none.
            Engine::Chromium => (px * 64.0 - 0.1).ceil() / 64.0,
            Engine::Firefox => (px * 60.0).round() / 60.0,
            Engine::Webkit => px,
        }
    }

    /// The size in px that the glyphs of a face are set at.
    pub fn glyph_size(self, size: f32, adjusted: &Adjusted) -> f64 {
        match self {
            Engine::Chromium => chromium::glyph_size(size, f64::from(adjusted.size) * 100.0),
            Engine::Firefox | Engine::Webkit => f64::from(size) * f64::from(adjusted.size),
        }
    }

    /// What a face at `size` px gives to a line.
    pub fn line_parts(self, face: &Face, adjusted: &Adjusted, size: f32) -> LineParts {
        let line = face.line();
        let natural = [line.ascent, line.descent, line.line_gap];
        let specified = match self {
            Engine::Webkit => [None; 3],
            _ => [adjusted.ascent, adjusted.descent, adjusted.line_gap],
        };
        match self {
            Engine::Chromium => {
                let used = chromium::used_size(size, f64::from(adjusted.size) * 100.0);
                let part = |index: usize| match specified[index] {
                    Some(factor) => f64::from((factor * used).round()),
                    None => f64::from(chromium::natural_part(used, natural[index])),
                };
                LineParts {
                    ascent: part(0),
                    descent: part(1),
                    normal: part(0) + part(1) + part(2),
                }
            }
            Engine::Webkit => {
                let used = f64::from(size) * f64::from(adjusted.size);
                let part = |index: usize| (natural[index] * used).round();
                LineParts {
                    ascent: part(0),
                    descent: part(1),
                    normal: part(0) + part(1) + part(2),
                }
            }
            Engine::Firefox => firefox::parts(face, adjusted, size),
        }
    }

    /// How far a line of `height` px reaches above and below the baseline, around
    /// a face that gives `parts`.
    pub fn leaded(self, parts: LineParts, height: f64) -> (f64, f64) {
        let room = height - (parts.ascent + parts.descent);
        match self {
            // The half above is whole px, whichever sign it has.
            Engine::Chromium | Engine::Webkit => {
                let above = (room / 2.0).floor();
                (parts.ascent + above, parts.descent + room - above)
            }
            Engine::Firefox => firefox::leaded(parts, height),
        }
    }
}
