//! Font files cut to what a text needs: our own subsetter, and writers of WOFF and WOFF2.
//!
//! - `characters`: which characters a text can ask a face for; `cmap`
//! - `layout`: GSUB, GPOS and GDEF read, closed over, cut and written
//! - `outlines`: `glyf`, `gvar`, CFF, CFF2
//! - `colour`: `COLR`, `sbix`, `CBDT`, `SVG `
//! - `axes`: axes of variable fonts pinned or shortened; `tents`: how much a variation
//!   counts along an axis
//! - `metrics`, `variations`, `math`, `facts`: the other tables
//! - [`Source`] is a face, read once; [`Source::cut`] gives a part of it
//! - [`encode`]: the part as WOFF or WOFF2
//!
//! Every value that is read from a font is checked against the table's end and paid for
//! from a budget, so that a hostile font ends in an error, soon.

mod axes;
mod bytes;
mod characters;
mod colour;
mod cut;
pub mod encode;
mod error;
mod facts;
mod glyphs;
mod layout;
mod math;
mod metrics;
mod outlines;
pub mod proof;
mod source;
mod tents;
mod variations;

pub use axes::AxisLimit;
pub use cut::{Cut, Want};
pub use error::CutError;
pub use layout::Features;
pub use source::Source;
