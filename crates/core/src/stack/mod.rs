//! Stacks: a web font, its stand-ins in order, the generic at the end.

mod build;

pub use build::{
    BuildError, BuildRequest, Built, Note, SampleKind, StackFace, StandIn, WebFont, build,
};
