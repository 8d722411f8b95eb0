//! What `demo` gives.

use serde::Serialize;
use tidy_lattice_core::stack::Built;

use super::Checked;
use super::Covered;
use super::Forecasts;
use super::Shifts;
use super::Traced;
use super::TrimmedFaces;

/// The result of the demo.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct Demo {
    /// Where the project was written.
    pub folder: String,
    /// The project's texts against its stacks, on its devices.
    pub cover: Covered,
    /// A text in one of its roles.
    pub trace: Traced,
    /// The stacks with stand-ins.
    pub build: Vec<Built>,
    /// What moves on its pages when their web fonts arrive.
    pub shift: Shifts,
    /// What is wrong in its old pages.
    pub check: Checked,
    /// How small its web fonts can be.
    pub trim: TrimmedFaces,
    /// What its pages fetch now.
    pub forecast: Forecasts,
    /// What is wrong in its shop, a project of its own.
    pub shop: Checked,
}
