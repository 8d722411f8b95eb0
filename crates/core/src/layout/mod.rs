//! Shaping, and how browsers make line boxes.

pub mod chromium;
pub mod firefox;
mod overrides;
mod shape;

pub use overrides::Overrides;
pub use shape::{PlacedGlyph, ShapeSettings, Shaper};
