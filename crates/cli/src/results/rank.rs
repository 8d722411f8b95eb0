//! What `rank` gives.

use serde::Serialize;
use tidy_lattice_core::describe::LetterShape;
use tidy_lattice_core::font::{Class, Names};
use tidy_lattice_core::rank::{Ranked, Weights};

/// The result.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct RankedFaces {
    /// The face that fallbacks are wanted for.
    pub web: Names,
    /// Its class.
    pub class: Class,
    /// Its letters.
    pub shape: LetterShape,
    /// What was measured on.
    pub text: String,
    /// Sizes in use, in px.
    pub sizes: Vec<f32>,
    /// Widths of columns in use, in px.
    pub widths: Vec<f64>,
    /// How much each part of a score counts.
    pub weights: Weights,
    /// The candidates, closest first; those that cannot serve last.
    pub candidates: Vec<Ranked>,
    /// Families of the web font's class that are known by name only, so that they cannot be
    /// ranked.
    pub name_only: Vec<String>,
}
