//! Stacks: a web font, its stand-ins in order, the generic at the end.

mod build;
mod notes;
mod result;

pub use build::{BuildError, BuildRequest, build};
pub use notes::Note;
pub use result::{Built, SampleKind, StackFace, StandIn, WebFont};
