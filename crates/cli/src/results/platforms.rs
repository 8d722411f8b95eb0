//! What `platforms` gives.

use std::collections::BTreeMap;

use serde::Serialize;
use tidy_lattice_core::platform::{CommonFamily, Platform};

/// The result of `platforms`.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct Platforms {
    /// The platforms.
    pub platforms: Vec<Platform>,
    /// Families that several of them have, where these were asked for.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub common: Vec<CommonFamily>,
    /// What came of own cards, where some were named.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub merged: Option<Merged>,
}

/// What came of own cards.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct Merged {
    /// How many there are.
    pub cards: usize,
    /// How many took a place, by the platforms that have any.
    pub taken: BTreeMap<String, usize>,
}
