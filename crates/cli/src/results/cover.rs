//! What `cover` gives.

use serde::Serialize;
use tidy_lattice_core::lattice::survey::{RoleNeed, Surveyed};
use tidy_lattice_core::lattice::{FontInStack, Row};
use tidy_lattice_core::page::{PageProblem, TextOrigin, TextStyle};

/// The result.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct Covered {
    /// The name of the project.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub project: String,
    /// The lattice of all texts.
    #[serde(flatten)]
    pub survey: Surveyed,
    /// Distinct clusters, where fonts were given by themselves.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub distinct: Option<u64>,
    /// What each font does, where fonts were given by themselves.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub fonts: Vec<FontInStack>,
    /// Scripts and groups, where fonts were given by themselves.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub rows: Vec<Row>,
    /// Clusters that may fall through by the project's rules.
    pub most_gaps: u64,
    /// What could not be read of pages and sheets.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub problems: Vec<PageProblem>,
    /// Clusters with counts by role, language and style, where they are asked
    /// for.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub needs: Vec<RoleNeed>,
    /// Every text of every page with its style, where that is asked for.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub styled: Vec<StyledText>,
}

/// A text of a page.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct StyledText {
    /// The page.
    pub page: String,
    /// The line that it starts in, counted from 1.
    pub line: u32,
    /// The element, as a short selector.
    pub element: String,
    /// What kind of text it is.
    pub origin: TextOrigin,
    /// What shows, after `text-transform`.
    pub text: String,
    /// Its language, as the page states it.
    pub language: Option<String>,
    /// Its computed style.
    pub style: TextStyle,
}
