//! How well a face does something.

use serde::{Deserialize, Serialize};

/// How well something works.
#[derive(
    Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, schemars::JsonSchema,
)]
#[serde(rename_all = "kebab-case")]
pub enum Works {
    /// For no probe.
    Missing,
    /// For some probes.
    Partly,
    /// For every probe.
    Works,
}

impl Works {
    /// The degree in words.
    pub fn label(self) -> &'static str {
        match self {
            Works::Missing => "missing",
            Works::Partly => "partly",
            Works::Works => "works",
        }
    }

    /// `works` of `all` probes.
    pub fn of(works: usize, all: usize) -> Self {
        match works {
            0 => Works::Missing,
            _ if works == all => Works::Works,
            _ => Works::Partly,
        }
    }
}
