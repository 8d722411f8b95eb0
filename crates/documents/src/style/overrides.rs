//! The line metrics that an `@font-face` rule states.

use serde::Serialize;

/// `ascent-override`, `descent-override` and `line-gap-override` (CSS Fonts 5,
/// §4.3), in % of the used font size; each 0 or more.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Overrides {
    /// `ascent-override` in %.
    pub ascent: f64,
    /// `descent-override` in %.
    pub descent: f64,
    /// `line-gap-override` in %.
    pub line_gap: f64,
}
