//! Where lines may end: UAX #14, with the language's rules, as ICU4X has it, but
//! for pairs of ASCII characters, where Chromium and WebKit look in a table of
//! their own, and for spaces, behind which they always let a line end.
//!
//! The table was measured in Chromium 156, all 8,836 pairs.

use icu_locale::LanguageIdentifier;
use icu_segmenter::options::{LineBreakOptions, LineBreakStrictness, LineBreakWordOption};
use icu_segmenter::{GraphemeClusterSegmenter, LineSegmenter};
use tidy_lattice_documents::page::{LineBreak, WordBreak};

use crate::Engine;

/// What decides where lines may end.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct BreakRules<'a> {
    /// The engine.
    pub engine: Engine,
    /// The BCP 47 language.
    pub language: Option<&'a str>,
    /// `word-break`.
    pub word: WordBreak,
    /// `line-break`.
    pub line: LineBreak,
}

/// The places of `text`, in bytes, before which a line may end; neither the
/// beginning nor the end of the text are among them.
pub fn places(text: &str, rules: BreakRules<'_>) -> Vec<usize> {
    let language = rules
        .language
        .and_then(|tag| LanguageIdentifier::try_from_str(tag).ok());
    if rules.line == LineBreak::Anywhere {
        let clusters = GraphemeClusterSegmenter::new().segment_str(text);
        return clusters.filter(|at| *at > 0 && *at < text.len()).collect();
    }
    let mut options = LineBreakOptions::default();
    options.content_locale = language.as_ref();
    options.strictness = Some(match rules.line {
        LineBreak::Loose => LineBreakStrictness::Loose,
        LineBreak::Auto | LineBreak::Normal => LineBreakStrictness::Normal,
        LineBreak::Strict | LineBreak::Anywhere => LineBreakStrictness::Strict,
    });
    options.word_option = Some(match rules.word {
        WordBreak::Normal => LineBreakWordOption::Normal,
        WordBreak::BreakAll => LineBreakWordOption::BreakAll,
        WordBreak::KeepAll => LineBreakWordOption::KeepAll,
    });
    let segmenter = LineSegmenter::new_auto(options);
    let by_rules = segmenter.segment_str(text);
    let mut by_rules = by_rules.filter(|at| *at > 0).peekable();
    let mut found = Vec::new();
    let (mut before, mut last): (Option<char>, Option<char>) = (None, None);
    for (at, next) in text.char_indices() {
        while by_rules.peek().is_some_and(|place| *place < at) {
            by_rules.next();
        }
        let rule = by_rules.peek() == Some(&at);
        if let Some(last) = last {
            let may = if is_blank(next) {
                false
            } else if is_blank(last) {
                true
            } else if rules.engine != Engine::Firefox
                && rules.word == WordBreak::Normal
                && last.is_ascii_graphic()
                && next.is_ascii_graphic()
            {
                ascii(before, last, next)
            } else {
                rule
            };
            if may {
                found.push(at);
            }
        }
        before = last;
        last = Some(next);
    }
    found
}

/// Blanks that hang at the end of a line.
pub fn is_blank(character: char) -> bool {
    matches!(character, ' ' | '\t' | '\n')
}

/// Whether a line may end between two graphic ASCII characters.
fn ascii(before: Option<char>, last: char, next: char) -> bool {
    match last {
        // A hyphen may be a minus sign, unless letters or digits lead up to it.
        '-' if next.is_ascii_digit() => before.is_some_and(|c| c.is_ascii_alphanumeric()),
        '-' => !"!$),./:;?]".contains(next),
        '?' => !"!\"'),./:;?]".contains(next),
        _ if "(<[{".contains(next) => "!\"#%&)*+,.:;=>\\]|}~".contains(last),
        _ => false,
    }
}
