//! Text set with one face: the only place that knows the shaper.

mod run;
mod shaper;

pub use run::{RunShaper, RunStyle, ShapedRun, Shapers};
pub use shaper::{PlacedGlyph, ShapeSettings, Shaper};
