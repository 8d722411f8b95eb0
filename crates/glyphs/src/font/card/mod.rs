//! Cards: measurements of a face without its outlines, to be used where the
//! face is not installed.
//!
//! A card is a JSON document ([`Card`]). It holds what coverage and line metrics
//! need in full, and widths as far as a simple model carries them
//! ([`WidthModel`]). Where the model does not hold for a script, the card says
//! so.

mod body;
mod data;
mod model;

pub use body::CardBody;
pub use data::{Card, CardError, CardSource, MeasuredIn, PairTable, RunTable, Strokes, Underline};
pub use model::{JoinedForms, WidthModel, joins_left, joins_right, without_mark};
