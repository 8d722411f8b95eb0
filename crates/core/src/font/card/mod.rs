//! Cards: measurements of a face without its outlines, to be used where the
//! face is not installed.
//!
//! A card is a JSON document. It holds what coverage and line metrics need in
//! full, and widths as far as a simple model carries them: an advance for each
//! character, adjustments of pairs (kerning and ligatures) that are frequent in
//! text, and for joining scripts the advances of the joined forms. Where the
//! model does not hold for a script, the card says so.

mod data;
mod ruler;

pub use data::{Adjustments, Card, CardError, CardSource, JoinedForms, Underline};
pub use ruler::{CardRuler, joins_left, joins_right, skeleton};

pub(crate) use data::Lookup;
