//! Font files and the faces in them, read from bytes.
//!
//! A [`FontFile`] is a container (sfnt, collection, WOFF, WOFF2) recognised by
//! its first bytes and unpacked; a [`Face`] is one font of it at one position
//! of its design space.

mod container;
mod error;
mod face;
mod line;
mod names;
mod position;
mod sanitiser;

pub use container::{Container, FontFile, Limits};
pub use error::FontError;
pub use face::{Face, Slope};
pub use line::{LineMetrics, LineSource};
pub use names::Names;
pub use position::FacePick;
