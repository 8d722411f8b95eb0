//! Stacks, built: signs first, the web font, its stand-ins, fonts for other
//! scripts, installed families, the generic family.

pub mod app;
mod build;
mod check;
mod engines;
mod extras;
mod installed;
mod notes;
pub mod of_devices;
pub mod plain;
mod request;
mod result;
mod rules;
mod sample;
mod scripts;
mod stand_ins;
pub mod tokens;

pub use build::{BuildError, build, stack_property};
pub use check::misread;
pub use engines::{Engine, EngineSupport, WithoutOverrides, engine_support};
pub use notes::Note;
pub use request::{BuildRequest, KeptFamily, LocalFamily, ScriptSource, SignSource, WebSource};
pub use result::{
    Built, Entry, EntryKind, ExtraFont, StackFace, StandIn, StandInFace, WebFamily, WebFont,
    WebLines, WebSlice,
};
pub use rules::{Sheets, sheets};
pub use sample::SampleKind;
