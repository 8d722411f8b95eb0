//! Text set in lines: which face sets which stretch, how wide it is, where lines
//! may end.

mod face;
mod hyphenation;
mod places;
mod scripts;
mod setter;

pub use face::{StyleFaces, Typeface};
pub use hyphenation::{patterns, points};
pub use places::{BreakRules, is_blank, places};
pub use setter::{Run, Setter, Span};
