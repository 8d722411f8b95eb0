//! What `init` gives.

use serde::Serialize;
use tidy_lattice_project::starting::Start;

/// The result of `init`.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct Started {
    /// Where the project file was written; nothing where it was only shown.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub file: Option<String>,
    /// What was found, and the project file.
    #[serde(flatten)]
    pub start: Start,
    /// The commands to run next.
    pub next: Vec<String>,
}
