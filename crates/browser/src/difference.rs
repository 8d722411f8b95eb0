//! What may differ between a page as foretold and as a browser lays it out, and by how much.

use serde::Serialize;

use super::Engine;

/// Something that differs.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Difference {
    /// The element, as a short selector.
    pub element: String,
    /// The line of the page, counted from 1.
    pub line: u32,
    /// What.
    pub what: Differs,
    /// As foretold.
    pub foretold: String,
    /// As measured.
    pub measured: String,
}

/// What differs.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Differs {
    /// The number of lines.
    Lines,
    /// Where a line ends.
    Break,
    /// How wide a line is, in px.
    Width,
    /// How high an element is, in px.
    Height,
    /// How wide an element is, in px.
    BoxWidth,
    /// Where an element is across: its left edge from that of the element around it, in px.
    X,
    /// Where an element is down: its top from that of the element around it, in px.
    Y,
    /// The computed line height.
    LineHeight,
    /// The fonts that show a block.
    Fonts,
    /// The element is not there, or has no box.
    Missing,
}

/// What is compared besides numbers and ends of lines.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Judged {
    /// Whether widths of lines are: not where a system sets letters at whole px.
    pub widths: bool,
    /// Whether heights of all boxes are, or of blocks that hold lines only.
    pub boxes: bool,
    /// How far heights may be apart, in px.
    pub height_off: f64,
}

impl Judged {
    /// What can be of an engine; `height_off` in place of the usual tolerance, which is
    /// that of exact models in Chromium, and of what is known of the others.
    pub fn of(engine: Engine, height_off: Option<f64>) -> Self {
        let (widths, boxes, usual) = match engine {
            Engine::Chromium => (true, true, 0.02),
            Engine::Firefox => (true, true, 0.6),
            Engine::Webkit => (false, false, 1.0),
        };
        Judged {
            widths,
            boxes,
            height_off: height_off.unwrap_or(usual),
        }
    }
}

/// A length as it is told.
pub(super) fn px(px: f64) -> String {
    format!("{px:.3}")
}
