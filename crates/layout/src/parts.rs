//! The parts of a line box.

/// What a face gives to a line, in px.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct LineParts {
    /// Above the baseline.
    pub ascent: f64,
    /// Below the baseline.
    pub descent: f64,
    /// `line-height: normal`.
    pub normal: f64,
}
