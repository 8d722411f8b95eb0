//! What `describe` gives.

use serde::Serialize;
use tidy_lattice_core::describe::{Description, FamilyDescription};

use tidy_lattice_project::folders::UnreadableFile;

/// The result of `describe`.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct Described {
    /// The families, in the order of the files.
    pub families: Vec<FamilyDescription>,
    /// The faces, in the order of the files.
    pub faces: Vec<DescribedFace>,
    /// Files that could not be read.
    pub unreadable: Vec<UnreadableFile>,
}

/// One face and its file.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct DescribedFace {
    /// The file.
    pub file: String,
    /// What the face holds.
    #[serde(flatten)]
    pub description: Description,
}
