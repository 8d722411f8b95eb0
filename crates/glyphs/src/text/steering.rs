//! Characters that steer how others show.

use std::borrow::Cow;
use std::fmt::Write as _;

/// Whether a character changes the order in which others show (UAX #9, §2: marks,
/// embeddings, overrides, isolates) or breaks their line: where one stands in a name, people
/// read another one than programs do.
pub fn is_steering(character: char) -> bool {
    matches!(
        character,
        '\u{61c}'
            | '\u{200e}'
            | '\u{200f}'
            | '\u{2028}'
            | '\u{2029}'
            | '\u{202a}'..='\u{202e}'
            | '\u{2066}'..='\u{2069}'
    )
}

/// The text with such characters as escapes that people can see: `\u{202E}`.
pub fn without_steering(text: &str) -> Cow<'_, str> {
    if !text.contains(is_steering) {
        return Cow::Borrowed(text);
    }
    let mut plain = String::with_capacity(text.len() + 16);
    for character in text.chars() {
        if is_steering(character) {
            let _ = write!(plain, "\\u{{{:X}}}", u32::from(character));
        } else {
            plain.push(character);
        }
    }
    Cow::Owned(plain)
}

#[cfg(test)]
mod tests {
    use super::without_steering;

    #[test]
    fn overrides_are_seen_and_letters_stay() {
        assert_eq!(
            without_steering("Sky\u{202e}txt\u{2028}."),
            "Sky\\u{202E}txt\\u{2028}."
        );
        let arabic = "نص\u{200d} e\u{301} 👩\u{200d}🚀";
        assert_eq!(without_steering(arabic), arabic);
    }
}
