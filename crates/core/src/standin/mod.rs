//! Fitting a stand-in: an `@font-face` over a locally installed face, resized
//! and re-measured so that text keeps its lines when the web font arrives.

mod lines;
mod score;
mod sizes;
mod width;

pub use lines::{LineFit, LineRequest, ResizedFace, StandInLines, fit_lines};
pub use sizes::half_pixel_sizes;
pub use width::{Deviation, TextSample, WidthFit, WidthFitter};
