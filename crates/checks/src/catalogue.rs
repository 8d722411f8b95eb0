//! The rules: code, level, why, what to do, a wrong and a right example.

use std::sync::LazyLock;

use serde::{Deserialize, Serialize};

const RULES: &str = include_str!("../data/rules.toml");

/// How bad it is.
#[derive(
    Debug,
    Clone,
    Copy,
    PartialEq,
    Eq,
    PartialOrd,
    Ord,
    Hash,
    Serialize,
    Deserialize,
    schemars::JsonSchema,
)]
#[serde(rename_all = "kebab-case")]
pub enum Level {
    /// Something could be done better.
    Advice,
    /// Something is not as its author will have meant it, or costs readers something.
    Warning,
    /// Something does not work.
    Error,
}

impl Level {
    /// The level in a word.
    pub fn label(self) -> &'static str {
        match self {
            Level::Advice => "advice",
            Level::Warning => "warning",
            Level::Error => "error",
        }
    }
}

/// A rule.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Rule {
    /// The code, in kebab case; it stays as it is for good.
    pub code: String,
    /// How bad it is.
    pub level: Level,
    /// What it is about, in a few words.
    pub title: String,
    /// Why it matters.
    pub why: String,
    /// What to do.
    pub todo: String,
    /// What is found.
    #[serde(default)]
    pub wrong: String,
    /// What is not.
    #[serde(default)]
    pub right: String,
    /// Whether the examples are pages; style sheets else.
    #[serde(default)]
    pub page: bool,
    /// Whether `--fix` can mend it.
    #[serde(default)]
    pub mended: bool,
}

#[derive(Deserialize)]
struct File {
    rule: Vec<Rule>,
}

static CATALOGUE: LazyLock<Vec<Rule>> = LazyLock::new(|| {
    let file: File = toml::from_str(RULES).expect("the built-in rules are read in a test");
    file.rule
});

/// All rules, subject by subject.
pub fn rules() -> &'static [Rule] {
    &CATALOGUE
}

/// The rule `code`.
pub fn find(code: &str) -> Option<&'static Rule> {
    rules().iter().find(|rule| rule.code == code)
}
