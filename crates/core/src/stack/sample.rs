//! What widths were fitted on, in words.

use serde::Serialize;

/// What widths were fitted on.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum SampleKind {
    /// The user's own text.
    OwnText {
        /// Where it came from.
        sources: Vec<String>,
    },
    /// The built-in sample of a language.
    Language {
        /// The language's BCP 47 tag.
        language: String,
    },
}

impl SampleKind {
    /// The sample in words.
    pub fn label(&self) -> String {
        match self {
            SampleKind::OwnText { sources } => match sources.as_slice() {
                [one] => one.clone(),
                many => format!("{} texts", many.len()),
            },
            SampleKind::Language { language } => {
                format!("the built-in sample for language {language}")
            }
        }
    }
}
