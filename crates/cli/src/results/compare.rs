//! What `compare` gives.

use serde::Serialize;
use tidy_lattice_core::compare::Comparison;

/// The result of `compare`.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct Compared {
    /// What widths were measured on.
    pub text: String,
    /// The faces.
    #[serde(flatten)]
    pub comparison: Comparison,
}
