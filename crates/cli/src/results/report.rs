//! What `report` shows.

use serde::Serialize;
use tidy_lattice_core::stack::Built;
use tidy_lattice_core::stack::of_devices::DeviceStack;

use super::{Checked, Covered, Forecasts, Shifts, TrimmedFaces};

/// Everything that is known of a project.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct Report {
    /// Its texts against its stacks, on its devices.
    pub cover: Covered,
    /// What is wrong in its pages and sheets.
    pub check: Checked,
    /// The stacks of its roles with a web font.
    pub stacks: Vec<Built>,
    /// Stacks of installed families.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub of_devices: Vec<DeviceStack>,
    /// What moves on its pages when web fonts arrive, as they are and served in other ways.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub shift: Option<Shifts>,
    /// What its pages fetch.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub forecast: Option<Forecasts>,
    /// How small its web fonts can be.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub trim: Option<TrimmedFaces>,
    /// Parts that could not be had.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub not_done: Vec<NotDone>,
}

/// A part of a report that is not there.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct NotDone {
    /// The command that would tell it.
    pub part: &'static str,
    /// Why.
    pub reason: String,
}

/// What is drawn or embedded besides.
pub struct Drawn {
    /// The `@font-face` rules of the web fonts, cut to the texts and embedded, and of their
    /// stand-ins.
    pub rules: String,
    /// Families of web fonts that are embedded.
    pub embedded: Vec<String>,
    /// For each role with stand-ins a paragraph before and after, as SVG; `None` where the
    /// page would become too large.
    pub stand_ins: Vec<(String, Option<String>)>,
    /// The page that moves most, in outline, as SVG.
    pub moved: Option<String>,
    /// Missing clusters as fonts draw them.
    pub gaps: Vec<DrawnGap>,
}

/// A missing cluster as fonts draw it.
pub struct DrawnGap {
    /// The cluster.
    pub cluster: String,
    /// As the font of the stack draws it that takes it and draws it wrongly, as SVG.
    pub now: Option<String>,
    /// As a font draws it that has it, as SVG.
    pub then: Option<String>,
}
