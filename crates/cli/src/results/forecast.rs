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
    /// Sums by the language of the pages, where there are several.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub languages: Vec<PageSum>,
    /// Sums by platform, where they differ.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub platforms: Vec<PageSum>,
    /// Files that are fetched and not packed.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub unpacked: Vec<UnpackedFile>,
    /// The fonts in an app, in place of pages.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub app: Option<AppForecast>,
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
    /// The language of the page, as it states it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub language: Option<String>,
    /// What it fetches once `trim` has cut the project's fonts.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub after_trim: Option<AfterTrim>,
    /// What to have the browser ask for at once.
    pub preload: Vec<Preload>,
}

/// What a page fetches of cut fonts.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct AfterTrim {
    /// How many files.
    pub files: usize,
    /// Their size together, in bytes.
    pub bytes: u64,
}

/// What some of the pages fetch.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct PageSum {
    /// The language, or the platform; `None` of pages that state no language.
    pub of: Option<String>,
    /// How many pages.
    pub pages: usize,
    /// How many files they fetch, each counted once.
    pub files: usize,
    /// Their size together, in bytes.
    pub bytes: u64,
    /// The most that one of the pages fetches, in bytes.
    pub most: u64,
}

/// A file that is fetched and not packed.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct UnpackedFile {
    /// The file.
    pub file: String,
    /// Its size as it lies, in bytes: what travels where the server does not pack it.
    pub bytes: u64,
    /// Its size as gzip packs it, in bytes: what travels where the server does.
    pub gzip: u64,
}

/// The fonts of an app.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct AppForecast {
    /// The faces.
    pub faces: Vec<AppFaceBytes>,
    /// The languages of its texts.
    pub languages: Vec<AppLanguage>,
    /// The size of all faces, not packed, in bytes.
    pub bytes: u64,
    /// The same once they are cut to all languages.
    pub cut: u64,
}

/// A face of an app.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct AppFaceBytes {
    /// The file.
    pub file: String,
    /// The family.
    pub family: String,
    /// Its size, not packed, in bytes.
    pub bytes: u64,
    /// The same once it is cut to all languages.
    pub cut: u64,
    /// By language.
    pub languages: Vec<LanguageBytes>,
}

/// What a language takes of a face.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct LanguageBytes {
    /// The language; `None` of texts of which it is not known.
    pub language: Option<String>,
    /// The face cut to it alone, in bytes.
    pub alone: u64,
    /// What it adds to the others, in bytes.
    pub adds: u64,
}

/// What a language takes of all faces.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct AppLanguage {
    /// The language; `None` of texts of which it is not known.
    pub language: Option<String>,
    /// All faces cut to it alone, in bytes.
    pub alone: u64,
    /// What it adds to the others, in bytes.
    pub adds: u64,
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
