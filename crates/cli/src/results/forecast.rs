//! What `forecast` gives.

use serde::Serialize;
use tidy_lattice_core::forecast::Forecast;
use tidy_lattice_core::layout::Engine;
use tidy_lattice_core::page::PageProblem;

/// The result.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct Forecasts {
    /// The engine that fetches.
    pub engine: Engine,
    /// Pages; of each one entry for all platforms and windows that fetch the same.
    pub pages: Vec<PageForecast>,
    /// The budget of a page in bytes.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub budget: Option<u64>,
    /// How many entries are above it.
    pub over_budget: usize,
    /// How many entries ask for files whose sizes are not known.
    pub not_known: usize,
    /// Files that rules declare and no page fetches anywhere.
    pub never_fetched: Vec<NeverFetched>,
    /// What could not be read of pages and sheets.
    pub problems: Vec<PageProblem>,
}

/// What a page fetches.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct PageForecast {
    /// The page.
    pub page: String,
    /// Platforms and windows where it is so.
    pub on: Vec<String>,
    /// Whether that is on every platform and in every window.
    pub everywhere: bool,
    /// The files.
    #[serde(flatten)]
    pub forecast: Forecast,
    /// What to have the browser ask for at once.
    pub preload: Vec<Preload>,
}

/// A file to preload.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct Preload {
    /// The file.
    pub file: String,
    /// The tag for the page's head.
    pub tag: String,
}

/// A file that nobody fetches.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct NeverFetched {
    /// The file.
    pub file: String,
    /// The family.
    pub family: String,
    /// Where its rule stands.
    pub rule: String,
    /// Its size in bytes.
    pub bytes: u64,
}
