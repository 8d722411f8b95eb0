//! What `build` gives.

use serde::Serialize;
use tidy_lattice_core::stack::Built;
use tidy_lattice_core::stack::app::AppStack;
use tidy_lattice_core::stack::of_devices::DeviceStack;
use tidy_lattice_project::put_in::PutIn;

/// The result.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct BuiltStacks {
    /// One stack a role.
    pub stacks: Vec<Built>,
    /// Stacks of installed families, one a role without a web font.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub of_devices: Vec<DeviceStack>,
    /// The style sheet of all.
    pub css: String,
    /// How it is put into the pages, where these were named.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub put_in: Option<PutIn>,
}

/// The result of `--as app`.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct AppStacks {
    /// Who made it.
    pub made_by: &'static str,
    /// One stack a role.
    pub stacks: Vec<AppStack>,
}
