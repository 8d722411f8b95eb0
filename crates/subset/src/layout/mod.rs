//! GSUB, GPOS and GDEF: read into what they say, cut to the glyphs that stay, written.

mod closure;
mod common;
mod context;
mod definitions;
mod position;
mod substitution;
mod table;
mod value;

pub(crate) use closure::close_over_substitutions;
pub(crate) use common::{coverage, coverage_object, kept_indices};
pub(crate) use definitions::Definitions;
pub(crate) use position::Position;
pub(crate) use substitution::Substitution;
pub use table::Features;
pub(crate) use table::Layout;
