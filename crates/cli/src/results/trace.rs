//! What `trace` gives.

use serde::Serialize;
use tidy_lattice_core::lattice::Trace;

/// The result.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct Traced {
    /// The text.
    pub text: String,
    /// Whether web fonts are taken to be on their way still.
    pub before_load: bool,
    /// What each platform shows, in the order in which they were named.
    pub platforms: Vec<PlatformTrace>,
}

/// What a platform shows.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct PlatformTrace {
    /// Its short name; nothing where fonts were given by themselves.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub platform: Option<String>,
    /// Its name for people.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub title: Option<String>,
    /// Which face shows what.
    #[serde(flatten)]
    pub trace: Trace,
}
