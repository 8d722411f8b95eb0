//! Which engines honour `size-adjust` and the three line overrides, and what a
//! stand-in shows in one that honours only the first.

use std::sync::LazyLock;

use serde::{Deserialize, Serialize};

use tidy_lattice_glyphs::font::{LineMetrics, LineSource};

/// What is known of engines, with its date and source.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct EngineSupport {
    /// When the source was made, as YYYY-MM-DD.
    pub date: String,
    /// Where it comes from.
    pub source: String,
    /// The engines.
    #[serde(rename = "engine")]
    pub engines: Vec<Engine>,
}

/// One engine.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Engine {
    /// Its name.
    pub name: String,
    /// The browser whose versions are told.
    pub browser: String,
    /// The first version that honours `size-adjust`; `None` for none.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub size_adjust: Option<String>,
    /// The first version that honours the three line overrides; `None` for
    /// none.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub line_overrides: Option<String>,
}

static SUPPORT: LazyLock<EngineSupport> = LazyLock::new(|| {
    toml::from_str(include_str!("../../data/engine-support.toml"))
        .expect("the built-in table is valid; a test reads it")
});

/// The built-in table.
pub fn engine_support() -> &'static EngineSupport {
    &SUPPORT
}

/// Lines where an engine honours `size-adjust` alone.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, schemars::JsonSchema)]
pub struct WithoutOverrides {
    /// `line-height: normal` of the web font by its own metrics, in em.
    pub web: f64,
    /// That of the stand-in by the metrics of the local face, in em of the font
    /// size.
    pub stand_in: f64,
}

impl WithoutOverrides {
    /// The lines of a local face at `size_adjust` %; `None` where its line metrics
    /// are not known.
    pub fn of(web: &LineMetrics, local: &LineMetrics, size_adjust: f64) -> Option<Self> {
        let height = |line: &LineMetrics| line.ascent + line.descent + line.line_gap;
        let round = |em: f64| (em * 1000.0).round() / 1000.0;
        (local.source != LineSource::NotKnown).then(|| WithoutOverrides {
            web: round(height(web)),
            stand_in: round(height(local) * size_adjust / 100.0),
        })
    }
}
