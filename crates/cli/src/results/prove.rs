//! What `prove` gives.

use serde::Serialize;
use tidy_lattice_browser::Comparison;
use tidy_lattice_core::layout::Engine;
use tidy_lattice_core::page::PageProblem;
use tidy_lattice_core::shift::Score;

use tidy_lattice_project::pages::Window;

/// The result.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct Proved {
    /// The platform whose fonts the browser had.
    pub platform: String,
    /// The browsers, in the order in which they were named.
    pub browsers: Vec<ProvedBrowser>,
    /// Every page in every window in every browser.
    pub runs: Vec<ProvedRun>,
    /// How far things may be apart.
    pub tolerances: Tolerances,
    /// Whether anything is farther apart.
    pub unsupported: bool,
    /// What could not be read.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub problems: Vec<PageProblem>,
}

/// A browser.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct ProvedBrowser {
    /// Its engine.
    pub engine: Engine,
    /// Its version, as it says.
    pub version: String,
    /// What it does not tell.
    pub silent_on: Vec<&'static str>,
}

/// How far prediction and browser may be apart.
#[derive(Debug, Clone, Copy, Serialize, schemars::JsonSchema)]
pub struct Tolerances {
    /// The share of blocks, in %, whose number of lines may differ.
    pub lines: f64,
    /// How far heights may differ, in px, where that was said.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub height: Option<f64>,
    /// How far scores may differ, where that is more than 10 %.
    pub score: f64,
    /// Whether heights are judged, too.
    pub strict: bool,
}

/// A page in a window in a browser.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct ProvedRun {
    /// The page.
    pub page: String,
    /// The window.
    pub window: Window,
    /// Width and height of the viewport that the browser had, in px: some have a least
    /// width.
    pub viewport: (u32, u32),
    /// The engine.
    pub engine: Engine,
    /// The page while web fonts are on their way.
    pub before: Comparison,
    /// The page once they are there.
    pub after: Comparison,
    /// The score as foretold.
    pub foretold: Score,
    /// The score that the browser counted.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub measured: Option<f64>,
    /// Where the browser counts none, the score of its own boxes before and after, and
    /// that of the foretold ones, counted alike.
    pub of_boxes: (f64, f64),
    /// What it fetched.
    pub fetched: Vec<Fetched>,
    /// Fonts that it fetched, and that were not foretold.
    pub unforeseen: Vec<String>,
    /// Fonts that were foretold, and that it did not fetch.
    pub not_fetched: Vec<String>,
    /// How many elements the page's scripts added, and how many of its file they took away;
    /// neither is compared.
    pub changed: (usize, usize),
    /// Faces of `@font-face` rules that failed.
    pub failed: Vec<String>,
    /// Families of `local()` faces that Firefox is taken to load none of before the web fonts
    /// are there.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub unloaded: Vec<String>,
    /// What its console said of fonts.
    pub console: Vec<String>,
    /// Fonts that show the texts, by element.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub fonts: Vec<ShownIn>,
    /// The share of pixels of the window that differ before and after, in %.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub pixels: Option<f64>,
    /// How long the browser took, and the prediction, in ms.
    pub took: (f64, f64),
    /// Whether it is within the tolerances.
    pub holds: bool,
    /// Why not, a sentence each.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub because: Vec<String>,
}

impl ProvedRun {
    /// The score that the browser gave, and the one that was predicted, counted alike.
    pub fn scores(&self) -> (f64, f64) {
        match self.measured {
            Some(measured) => (measured, self.foretold.value),
            None => self.of_boxes,
        }
    }

    /// How many blocks have another number of lines than predicted, before and after, and
    /// how many blocks there are.
    pub fn lines_off(&self) -> (usize, usize) {
        let both = [&self.before, &self.after];
        (
            both.iter().map(|one| one.counts_off).sum(),
            both.iter().map(|one| one.blocks).sum(),
        )
    }
}

/// A file that was fetched.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct Fetched {
    /// Its path on the server.
    pub path: String,
    /// The status.
    pub status: u16,
    /// Its size in bytes.
    pub bytes: usize,
    /// Whether it is a font.
    pub font: bool,
}

/// The fonts of an element.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct ShownIn {
    /// The element, as a short selector.
    pub element: String,
    /// The fonts, with how many glyphs each shows.
    pub fonts: Vec<(String, u64)>,
}
