//! Text set with one face: the only place that knows the shaper.

mod engine;
mod run;
mod shaper;
mod slices;

pub use run::{RunShaper, RunStyle, ShapedRun, Shapers};
pub use shaper::{PlacedGlyph, ShapeSettings, Shaper};
