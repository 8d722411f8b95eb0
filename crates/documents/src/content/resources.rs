//! String resources in XML, as apps keep them in `values-uk/strings.xml`:
//! `string`, `plurals` and `string-array`, with their escapes.

use super::xml::{Piece, Walker, attribute};
use super::{ContentError, FormatReader, Message, Reading, Sink, plural_shows, show, utf8};
use crate::content::message::Syntax;

/// What is said of XML of another kind.
pub const NO_RESOURCES: &str = "there is no <resources>";

pub(super) static RESOURCES: FormatReader = FormatReader {
    name: "resources",
    label: "string resources (XML)",
    endings: &["xml"],
    read: |bytes, reading, sink| read(utf8(bytes)?, reading, sink),
};

fn read(text: &str, reading: Reading<'_>, sink: &mut Sink<'_>) -> Result<(), ContentError> {
    let mut walker = Walker::new(text, "XML");
    // What is being read, how deep in it, and whether it shows.
    let mut string: Option<(String, u32, bool)> = None;
    let mut depth = 0_usize;
    let mut resources = false;
    while let Some((piece, line)) = walker.next()? {
        match piece {
            Piece::Start(tag, _) if tag == "resources" => resources = true,
            Piece::Start(tag, attributes)
                if string.is_none() && (tag == "string" || tag == "item") =>
            {
                let form = attribute(&attributes, "quantity");
                let shows = form.is_none_or(|form| plural_shows(&form, reading.language));
                string = Some((String::new(), line, shows));
                depth = 1;
            }
            Piece::Start(..) if string.is_some() => depth += 1,
            Piece::End(_) if string.is_some() => {
                depth -= 1;
                if depth == 0
                    && let Some((text, line, true)) = string.take()
                {
                    show(
                        &Message {
                            text: &unescaped(text.trim()),
                            syntax: Syntax::Printf,
                            line,
                            column: 1,
                            language: reading.language,
                        },
                        sink,
                    );
                }
            }
            Piece::Text(text) => {
                if let Some((known, ..)) = &mut string {
                    known.push_str(&text);
                }
            }
            _ => {}
        }
    }
    if resources {
        Ok(())
    } else {
        Err(ContentError::Malformed {
            line: 1,
            format: "XML",
            reason: format!(
                "{NO_RESOURCES}; of XML files only string resources and XLIFF are understood"
            ),
        })
    }
}

/// Resolves `\n`, `\'`, `\"`, `\@`, `\uXXXX`, drops quotes and joins blanks.
fn unescaped(text: &str) -> String {
    let mut result = String::with_capacity(text.len());
    let mut characters = text.chars().peekable();
    let mut quoted = false;
    while let Some(character) = characters.next() {
        match character {
            '\\' => match characters.next() {
                Some('n') => result.push('\n'),
                Some('t') => result.push('\t'),
                Some('u') => {
                    let digits: String = characters.by_ref().take(4).collect();
                    let point = u32::from_str_radix(&digits, 16).ok();
                    result.extend(point.and_then(char::from_u32));
                }
                Some(other) => result.push(other),
                None => {}
            },
            '"' => quoted = !quoted,
            character if character.is_whitespace() && !quoted => {
                if !result.ends_with(' ') {
                    result.push(' ');
                }
            }
            _ => result.push(character),
        }
    }
    result
}
