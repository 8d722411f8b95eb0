//! Text set in lines: which face sets which stretch, how wide it is, where lines
//! may end.

mod face;
mod places;
mod setter;

pub use face::{StyleFaces, Typeface};
pub use places::{BreakRules, is_blank, places};
pub use setter::{Run, Setter, Span};
