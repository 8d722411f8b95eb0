//! What `build` gives.

use serde::Serialize;
use tidy_lattice_core::stack::Built;
use tidy_lattice_core::stack::app::AppStack;

/// The result.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct BuiltStacks {
    /// One stack a role.
    pub stacks: Vec<Built>,
    /// The style sheet of all.
    pub css: String,
}

/// The result of `--as app`.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct AppStacks {
    /// Who made it.
    pub made_by: &'static str,
    /// One stack a role.
    pub stacks: Vec<AppStack>,
}
