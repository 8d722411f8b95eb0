//! Fitting a stand-in: an `@font-face` over a locally installed face, resized
//! and re-measured so that text keeps its lines when the web font arrives.

mod breaks;
mod lines;
mod paragraph;
mod ruler;
mod sample;
mod score;
mod set_text;
mod sizes;
mod slices;
mod width;

pub use breaks::{BreakCount, Column, all_columns};
pub use lines::{EM_ROUNDED_UP, LineFit, LineRequest, ResizedFace, StandInLines, fit_lines};
pub use paragraph::{SetLine, set_paragraph};
pub use sample::TextSample;
pub use set_text::{SetSample, SetText};
pub use sizes::{half_pixel_sizes, largest_even_factor};
pub use slices::{
    FitOptions, Fitting, Judged, MOST_SLICES, Minimise, Slice, Slices, WidthsOfStandIn,
};
pub use width::{Deviation, WidthFit, WidthFitter};
