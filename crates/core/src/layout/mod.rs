//! Shaping, and how browsers make line boxes.

pub mod chromium;
mod engine;
pub mod firefox;
pub mod flow;
mod overrides;
mod shape;
pub mod text;

pub use engine::{Engine, LineParts};
pub use overrides::Overrides;
pub use shape::{PlacedGlyph, ShapeSettings, Shaper};
