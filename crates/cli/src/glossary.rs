//! The words of the program's answers, and what they mean.

use std::sync::LazyLock;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A word and its meaning.
#[derive(Clone, Debug, Deserialize, JsonSchema, Serialize)]
pub struct Word {
    /// The word, or several that belong together.
    pub word: String,
    /// What it means.
    pub means: String,
    /// The section of a standard that it comes from.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub source: Option<String>,
    /// The command that it matters to most.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub see: Option<String>,
}

#[derive(Deserialize)]
struct List {
    word: Vec<Word>,
}

static WORDS: LazyLock<Vec<Word>> = LazyLock::new(|| {
    let list: List =
        toml::from_str(include_str!("../data/words.toml")).unwrap_or(List { word: Vec::new() });
    list.word
});

/// All of them, in the order of the alphabet.
pub fn words() -> &'static [Word] {
    &WORDS
}

/// The word that is meant by `asked`: it, its plural, or another form of it.
pub fn find(asked: &str) -> Option<&'static Word> {
    let asked = bare(asked);
    let known = || {
        words()
            .iter()
            .flat_map(|word| word.word.split(", ").map(move |one| (word, one)))
    };
    let exact = known().find(|(_, one)| bare(one) == asked);
    // "stand-ins", "covers", "slices", "pinning" and the like begin as the word does.
    let close =
        || known().find(|(_, one)| asked.len() > 3 && asked.starts_with(bare(one).as_str()));
    // "score", "shift" and the like are words of a longer name.
    let part = || {
        known().find(|(_, one)| {
            asked.len() > 3
                && one
                    .split(' ')
                    .any(|part| bare(part) == asked.trim_end_matches('s'))
        })
    };
    exact.or_else(close).or_else(part).map(|(word, _)| word)
}

/// Small letters alone, as hyphens, blanks and capitals are easily mistaken.
fn bare(word: &str) -> String {
    let letters = word.chars().filter(|c| c.is_alphanumeric());
    letters.flat_map(char::to_lowercase).collect()
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::*;

    /// The page that lists them.
    fn page() -> String {
        let mut page = "# Words\n\nThe words of the program's answers, as `tidy-lattice explain WORD` tells them. \
                        Those of CSS, OpenType and Unicode have their section.\n\n| word | what it means |\n|---|---|\n"
            .to_owned();
        for word in words() {
            let source = word.source.as_ref().map(|source| format!(" ({source})"));
            let see = word.see.as_ref().map(|see| format!(" See `{see}`."));
            page.push_str(&format!(
                "| **{}** | {}{}{} |\n",
                word.word,
                word.means,
                source.unwrap_or_default(),
                see.unwrap_or_default()
            ));
        }
        page
    }

    #[test]
    fn the_page_of_words_tells_what_the_program_tells() {
        let path = concat!(env!("CARGO_MANIFEST_DIR"), "/../../docs/words.md");
        if std::env::var_os("TIDY_LATTICE_WRITE").is_some() {
            std::fs::write(path, page()).expect("the page");
        }
        assert_eq!(std::fs::read_to_string(path).expect("the page"), page());
    }

    #[test]
    fn words_are_in_order_and_name_commands_that_there_are() {
        let all: Vec<String> = words()
            .iter()
            .map(|word| word.word.to_lowercase())
            .collect();
        assert!(all.len() > 25 && all.is_sorted(), "{all:?}");
        let commands = <crate::args::Args as clap::CommandFactory>::command();
        for word in words() {
            let see = word.see.as_deref();
            assert!(
                see.is_none_or(|see| commands.find_subcommand(see).is_some()),
                "{word:?}"
            );
            assert!(word.means.ends_with('.'), "{word:?}");
        }
    }

    #[rstest]
    #[case("stand-in", Some("stand-in"))]
    #[case("Stand-ins", Some("stand-in"))]
    #[case("standin", Some("stand-in"))]
    #[case("descent", Some("ascent, descent, line gap"))]
    #[case("score", Some("layout shift score"))]
    #[case("scores", Some("layout shift score"))]
    #[case("slices", Some("slice"))]
    #[case("falls through", None)]
    #[case("fall through", Some("fall through"))]
    #[case("a", None)]
    fn other_forms_of_a_word_are_found(#[case] asked: &str, #[case] word: Option<&str>) {
        assert_eq!(find(asked).map(|found| found.word.as_str()), word);
    }
}
