//! The crossing of needs and fonts: who covers what, who serves what, and
//! what falls through.

mod fit;
mod serve;
mod shaping;

pub use fit::{Fit, fit};
pub use serve::{Cell, Coverage, FontShare, Gap, GapCause, Row, cover};
pub use shaping::{
    Prober, ScriptShaping, ShapingCheck, ShapingNeed, needs_shaping, scripts_shaped,
};
