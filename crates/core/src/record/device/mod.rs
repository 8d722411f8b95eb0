//! Measuring the faces of any device in its own browser: what a page has to measure
//! ([`Plan`], [`MEASURE`]), and cards of what comes back ([`Measured`]).
//!
//! The browser is asked for widths only, at 1000 px: of every character, before a font in
//! which every character is as wide as none is elsewhere, so that what a face lacks is told
//! by its width; of pairs, joined forms and runs, as [`record`](super::record) measures
//! them; and of words that nothing was learned from, by which the cards are checked here.
//! Heights and strokes are read from drawn pixels.
//!
//! What a browser does not show stays unknown: the underline, features that are off,
//! variation sequences, sequences that are drawn as one picture.

mod cards;
mod plan;
mod platform;
mod probe;
mod result;

pub use cards::card;
pub use plan::{Plan, PlanFace, PlanFamily};
pub use platform::definition;
pub use probe::probe;
pub use result::{
    Measured, MeasuredError, MeasuredFace, MeasuredFamily, MeasuredGeneric, Reached, StemsSeen,
};

/// The script that measures, for a page that calls `measureDevice(plan, families, told)`.
pub const MEASURE: &str = concat!(
    include_str!("measure/setting.js"),
    include_str!("measure/pictures.js"),
    include_str!("measure/model.js"),
    include_str!("measure/characters.js"),
    include_str!("measure/pairs.js"),
    include_str!("measure/shaping.js"),
    include_str!("measure/face.js"),
    include_str!("measure/families.js"),
    include_str!("measure/device.js"),
);
