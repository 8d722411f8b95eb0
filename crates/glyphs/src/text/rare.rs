//! Letters that a language has, and hardly ever uses.

use std::collections::HashMap;
use std::sync::LazyLock;

/// `scripts/count-letters` writes it: a tag and its letters a line.
const IN_USE: &str = include_str!("../../data/letters-in-use.txt");

static LANGUAGES: LazyLock<HashMap<&'static str, &'static str>> = LazyLock::new(|| {
    let lines = IN_USE.lines().filter(|line| !line.starts_with('#'));
    lines.filter_map(|line| line.split_once(' ')).collect()
});

/// Whether `letter` is one that ten thousand letters of text in the language do not
/// have, in either case: ÿ in French, š in Finnish. `tag` is a tag of
/// [`exemplars::all`](super::exemplars::all). Letters of ASCII are never rare, and none
/// is in a language that was not counted.
pub fn is_rare(tag: &str, letter: char) -> bool {
    let Some(used) = LANGUAGES.get(tag) else {
        return false;
    };
    let used = |letter: char| used.contains(letter);
    !letter.is_ascii() && !used(letter) && !letter.to_lowercase().any(used)
}
