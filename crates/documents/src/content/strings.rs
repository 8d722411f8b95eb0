//! `.strings` files: `"key" = "value";` with comments, as apps keep them in
//! `uk.lproj/`.

use super::{ContentError, FormatReader, Lines, Message, Reading, Sink, show, utf8_or_utf16};
use crate::content::message::Syntax;

pub(super) static STRINGS: FormatReader = FormatReader {
    name: "strings",
    label: ".strings",
    endings: &["strings"],
    read: |bytes, reading, sink| read(&utf8_or_utf16(bytes)?, reading, sink),
};

fn read(text: &str, reading: Reading<'_>, sink: &mut Sink<'_>) -> Result<(), ContentError> {
    let mut lines = Lines::new(text);
    let mut rest = Rest { text, at: 0 };
    loop {
        rest.skip_blanks_and_comments();
        if rest.is_empty() {
            return Ok(());
        }
        let mut parts = Vec::new();
        let at = rest.at;
        let (mut line, mut column) = lines.place(at);
        let malformed = |reason: &str, line: u32| ContentError::Malformed {
            line,
            format: ".strings",
            reason: reason.to_owned(),
        };
        for sign in ['=', ';'] {
            rest.skip_blanks_and_comments();
            (line, column) = lines.place(rest.at);
            let string = rest
                .string()
                .ok_or_else(|| malformed("a string is missing or does not end", line))?;
            parts.push(string);
            rest.skip_blanks_and_comments();
            if !rest.take(sign) {
                return Err(malformed(
                    &format!("there is no {sign:?} behind the string"),
                    line,
                ));
            }
        }
        if let Some(value) = parts.pop() {
            show(
                &Message {
                    text: &value,
                    syntax: Syntax::Printf,
                    line,
                    column,
                    language: reading.language,
                },
                sink,
            );
        }
    }
}

/// What is left of a file.
struct Rest<'t> {
    text: &'t str,
    at: usize,
}

impl Rest<'_> {
    fn is_empty(&self) -> bool {
        self.at >= self.text.len()
    }

    fn left(&self) -> &str {
        self.text.get(self.at..).unwrap_or_default()
    }

    fn take(&mut self, sign: char) -> bool {
        let found = self.left().starts_with(sign);
        if found {
            self.at += sign.len_utf8();
        }
        found
    }

    fn skip_blanks_and_comments(&mut self) {
        loop {
            let left = self.left();
            let white_space = left.len() - left.trim_start().len();
            self.at += white_space;
            let left = self.left();
            let end = if left.starts_with("/*") {
                left.find("*/").map(|end| end + 2)
            } else if left.starts_with("//") {
                left.find('\n').map(|end| end + 1)
            } else {
                return;
            };
            self.at += end.unwrap_or(left.len());
        }
    }

    /// A quoted string with its escapes resolved, or a bare word.
    fn string(&mut self) -> Option<String> {
        let left = self.left();
        let mut result = String::new();
        let mut characters = left.char_indices();
        if !left.starts_with('"') {
            let end = left.find(|c: char| c.is_whitespace() || "=;\"".contains(c))?;
            result.push_str(&left[..end]);
            self.at += end;
            return (end > 0).then_some(result);
        }
        characters.next();
        while let Some((place, character)) = characters.next() {
            match character {
                '"' => {
                    self.at += place + 1;
                    return Some(result);
                }
                '\\' => match characters.next()?.1 {
                    'n' => result.push('\n'),
                    't' => result.push('\t'),
                    'r' => result.push('\r'),
                    'U' | 'u' => {
                        let mut point = 0;
                        for _ in 0..4 {
                            point = point * 16 + characters.next()?.1.to_digit(16)?;
                        }
                        result.extend(char::from_u32(point));
                    }
                    other => result.push(other),
                },
                _ => result.push(character),
            }
        }
        None
    }
}
