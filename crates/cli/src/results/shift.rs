//! What `shift` gives.

use serde::Serialize;
use tidy_lattice_core::layout::Engine;
use tidy_lattice_core::page::PageProblem;
use tidy_lattice_core::shift::Shift;

use tidy_lattice_project::pages::Window;

/// The result.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct Shifts {
    /// The engine whose layout is predicted.
    pub engine: Engine,
    /// Every page in every window on every platform, in this order.
    pub cells: Vec<ShiftCell>,
    /// The same pages served in other ways.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub variants: Vec<VariantRow>,
    /// The highest score that passes.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub budget: Option<f64>,
    /// How many scores are above it.
    pub over_budget: usize,
    /// How many scores are not known.
    pub unknown: usize,
    /// What could not be read.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub problems: Vec<PageProblem>,
}

/// A page in a window on a platform.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct ShiftCell {
    /// The page, or what the text is.
    pub page: String,
    /// The window.
    pub window: Window,
    /// The platform's short name.
    pub platform: String,
    /// Its name for people.
    pub title: String,
    /// What moves.
    #[serde(flatten)]
    pub shift: Shift,
}

/// One way to serve the pages.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct VariantRow {
    /// Its name, as `--variant` takes it.
    pub name: String,
    /// What it is.
    pub what: String,
    /// Scores of every page in every window on every platform, in the order of
    /// `cells`; nothing where they are not known.
    pub scores: Vec<Option<f64>>,
    /// Lines that break elsewhere, in the same order.
    pub lines_broken: Vec<Option<usize>>,
}
