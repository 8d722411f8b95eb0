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
    /// Words of a language, as often as each occurs in it.
    Language {
        /// The language's BCP 47 tag.
        language: String,
    },
    /// The user's own text, which is short, with words of its language.
    Joined {
        /// Where it came from.
        sources: Vec<String>,
        /// How many words it has.
        words: u64,
        /// The language's BCP 47 tag.
        language: String,
    },
}

impl SampleKind {
    /// The sample in words.
    pub fn label(&self) -> String {
        match self {
            SampleKind::OwnText { sources } => named(sources),
            SampleKind::Language { language } => {
                format!("the most frequent words of language {language}")
            }
            SampleKind::Joined {
                sources,
                words,
                language,
            } => format!(
                "{} ({words} words) and the most frequent words of language {language}",
                named(sources)
            ),
        }
    }

    /// Whether it is text that will be read, and nothing else.
    pub fn is_own(&self) -> bool {
        matches!(self, SampleKind::OwnText { .. })
    }
}

fn named(sources: &[String]) -> String {
    match sources {
        [one] => one.clone(),
        many => format!("{} texts", many.len()),
    }
}
