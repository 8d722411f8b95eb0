//! What `check` and `explain` give.

use serde::{Deserialize, Serialize};
use tidy_lattice_checks::Finding;
use tidy_lattice_checks::catalogue::Rule;

use crate::glossary::Word;

/// The result of `check`.
#[derive(Debug, Serialize, Deserialize, schemars::JsonSchema)]
pub struct Checked {
    /// What was found, worst file first; at and above the level that is told.
    pub findings: Vec<Finding>,
    /// How many errors there are.
    pub errors: usize,
    /// How many warnings there are.
    pub warnings: usize,
    /// How many pieces of advice there are, told or not.
    pub advice: usize,
    /// How many of the findings `--fix` can mend.
    pub mendable: usize,
    /// How many findings the baseline knows.
    pub known: usize,
    /// How many findings the project file allows.
    pub allowed: usize,
    /// How many pages were looked at.
    pub pages: usize,
    /// How many style sheets were looked at, those in pages too.
    pub sheets: usize,
    /// How many `@font-face` rules they have.
    pub faces: usize,
}

/// The result of `explain`.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct Explained {
    /// The rules.
    pub rules: Vec<Rule>,
    /// The words.
    pub words: Vec<Word>,
}

/// A file as it is and as it would be.
pub struct Change {
    /// Its name.
    pub name: String,
    /// As it is.
    pub before: String,
    /// As it would be.
    pub after: String,
    /// How many findings that mends.
    pub findings: usize,
}
