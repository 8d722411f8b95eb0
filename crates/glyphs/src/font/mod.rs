//! Font files and the faces in them, read from bytes.
//!
//! A [`FontFile`] is a container (sfnt, collection, WOFF, WOFF2) recognised by
//! its first bytes and unpacked; a [`Face`] is one font of it at one position
//! of its design space.

mod card;
mod class;
mod colour;
mod container;
mod error;
mod face;
mod judgement;
mod line;
pub mod lookups;
mod names;
mod outline;
mod position;
mod ranges;
mod sanitiser;
mod scripts;
mod spaces;
mod works;

pub use card::{
    Card, CardBody, CardError, CardSource, JoinedForms, MeasuredIn, PairTable, RunTable, Strokes,
    Underline, WidthModel, joins_left, joins_right, without_mark,
};
pub use class::{Class, DeclaredClass};
pub use colour::{ColourTable, Engines, colour_tables, not_coloured_by};
pub use container::{Container, FontFile, Limits, TableEntry};
pub use error::FontError;
pub use face::{Body, Face, Slice, Slope};
pub use judgement::{ClassJudgement, Sureness};
pub use line::{LineMetrics, LineSource};
pub use names::{Names, name_text};
pub use outline::{Outlines, ink_at, ink_stretches};
pub use position::FacePick;
pub use ranges::CharacterSet;
pub use scripts::{Share, scripts_of, writing_scripts};
pub use works::Works;
