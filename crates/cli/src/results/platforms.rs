//! What `platforms` gives.

use serde::Serialize;
use tidy_lattice_core::platform::Platform;

/// The result of `platforms`.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct Platforms {
    /// The platforms.
    pub platforms: Vec<Platform>,
}
