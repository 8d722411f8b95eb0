//! Which script each character goes with where text is cut into runs (UAX #24, §5.1 and §5.2):
//! what scripts share goes with what is before it, a closing bracket with its opening one.

use std::ops::Range;

use icu_properties::props::{BidiMirroringGlyph, BidiPairedBracketType, EmojiPresentation, Script};
use icu_properties::{CodePointMapData, CodePointSetData};

/// The most brackets that are open at once, as in Chromium; the outermost are forgotten.
const MOST_OPEN: usize = 32;

/// Tells the scripts of characters, one after another.
#[derive(Debug, Default)]
pub(super) struct Scripts {
    last: Option<Script>,
    /// Opening brackets, each with the script that it went with.
    open: Vec<(char, Option<Script>)>,
}

impl Scripts {
    /// For `text`, at whose start what scripts share goes with what comes.
    pub fn of(text: &str) -> Self {
        Scripts {
            last: text.chars().find_map(own_script),
            open: Vec::new(),
        }
    }

    /// The script of the next characters, which are one cluster.
    pub fn next(&mut self, cluster: &str) -> Option<Script> {
        for character in cluster.chars() {
            if let Some(script) = own_script(character) {
                self.last = Some(script);
                return self.last;
            }
        }
        for character in cluster.chars() {
            self.bracket(character);
        }
        self.last
    }

    fn bracket(&mut self, character: char) {
        let pair = CodePointMapData::<BidiMirroringGlyph>::new().get(character);
        match (pair.paired_bracket_type, pair.mirroring_glyph) {
            (BidiPairedBracketType::Open, _) => {
                if self.open.len() == MOST_OPEN {
                    self.open.remove(0);
                }
                self.open.push((character, self.last));
            }
            (BidiPairedBracketType::Close, Some(opening)) => {
                let place = self.open.iter().rposition(|(open, _)| *open == opening);
                if let Some(place) = place {
                    self.last = self.open[place].1;
                    self.open.truncate(place);
                }
            }
            _ => {}
        }
    }
}

/// The script of a character that is of one script alone.
fn own_script(character: char) -> Option<Script> {
    let script = CodePointMapData::<Script>::new().get(character);
    let shared = [Script::Common, Script::Inherited, Script::Unknown];
    (!shared.contains(&script)).then_some(script)
}

/// The run that byte `at` of `text` is in: of one script; emoji are runs of their own.
pub(super) fn script_run(text: &str, at: usize) -> Range<usize> {
    let pictures = CodePointSetData::new::<EmojiPresentation>();
    let mut scripts = Scripts::of(text);
    let mut start = 0;
    let mut before = None;
    for (place, character) in text.char_indices() {
        let script = scripts.next(character.encode_utf8(&mut [0; 4]));
        let kind = (script, pictures.contains(character));
        if before.is_some_and(|before| before != kind) {
            if at < place {
                return start..place;
            }
            start = place;
        }
        before = Some(kind);
    }
    start..text.len()
}

#[cfg(test)]
mod tests {
    use icu_properties::PropertyNamesShort;
    use rstest::rstest;

    use super::*;

    /// The first letter of the script of each character.
    fn classes(text: &str) -> String {
        let names = PropertyNamesShort::<Script>::new();
        let mut scripts = Scripts::of(text);
        let next = |character: char| {
            let script = scripts.next(character.encode_utf8(&mut [0; 4]));
            let name = script.and_then(|script| names.get(script));
            name.and_then(|name| name.chars().next()).unwrap_or('-')
        };
        text.chars().map(next).collect()
    }

    #[rstest]
    #[case::one_script("a, b.", "LLLLL")]
    #[case::what_is_shared_follows("а (b", "CCCL")]
    #[case::brackets_go_together("а (b). c", "CCCLCCCL")]
    #[case::at_the_start("(b) а", "LLLLC")]
    #[case::one_in_the_other("а (b [в] c) d", "CCCLLLCLLLCCL")]
    #[case::never_opened("а b) c", "CCLLLL")]
    #[case::crossed("а (b [ c) d] e", "CCCLLLLLCCLLLL")]
    #[case::without_letters("12 (3)", "------")]
    fn scripts_by_character(#[case] text: &str, #[case] expected: &str) {
        assert_eq!(classes(text), expected);
    }

    #[rstest]
    #[case::first("ab аб", 1, "ab ")]
    #[case::last("ab аб", 4, "аб")]
    #[case::emoji_are_runs("ab 🚢 аб", 3, "🚢")]
    #[case::in_brackets("аб (ab) аб", 5, "ab")]
    #[case::behind_brackets("аб (ab) аб", 7, ") аб")]
    fn runs(#[case] text: &str, #[case] letter: usize, #[case] expected: &str) {
        let at = text.char_indices().nth(letter).expect("a letter").0;
        assert_eq!(&text[script_run(text, at)], expected);
    }

    #[test]
    fn many_open_brackets_are_forgotten() {
        let text = format!("а{}b{}", "(".repeat(40), ")".repeat(40));
        let classes = classes(&text);
        // The 32 innermost are known; what closes the others goes with them.
        assert_eq!(classes, format!("{}L{}", "C".repeat(41), "C".repeat(40)));
    }
}
