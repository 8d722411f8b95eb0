//! The crossing of needs and fonts: who covers what, who serves what, and
//! what falls through.

mod fetch;
mod fit;
mod forms;
mod serve;
mod serving;
mod shaping;
mod stack;
pub mod survey;
mod trace;

pub use fetch::fetched;
pub use fit::{Fit, Repertoire, fit, fit_within};
pub use forms::Flaw;
pub use serve::{Cell, Coverage, FontInStack, Gap, GapCause, PartFace, Row, cover, cover_with};
pub use serving::{Judge, Passed, Presentation, Served};
pub use shaping::{
    Prober, ScriptShaping, ShapingCheck, ShapingNeed, needs_shaping, scripts_shaped, shaping_probes,
};
pub use stack::{
    Absent, Adjusted, Arrival, Candidate, Entry, Fonts, Instances, Origin, Request, Resolved,
    WebFace, WebFile, resolve,
};
pub use trace::{PassedFace, PieceFont, Trace, TracedEntry, TracedFace, TracedPiece, trace};
