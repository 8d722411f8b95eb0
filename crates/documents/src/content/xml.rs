//! XML as the catalogues need it: elements, attributes, text with its entities
//! resolved, and lines.

use quick_xml::Reader;
use quick_xml::events::Event;

use super::{ContentError, Lines};

/// How deep elements may nest.
const DEEPEST: usize = 256;

/// What comes next in a document.
pub(super) enum Piece {
    /// A start tag: local name, attributes.
    Start(String, Vec<(String, String)>),
    /// An element without content.
    Empty(String, Vec<(String, String)>),
    /// An end tag.
    End(String),
    /// Text, or one resolved reference.
    Text(String),
}

/// Goes through a document.
pub(super) struct Walker<'t> {
    reader: Reader<&'t [u8]>,
    lines: Lines<'t>,
    format: &'static str,
    depth: usize,
}

impl<'t> Walker<'t> {
    pub(super) fn new(text: &'t str, format: &'static str) -> Self {
        Walker {
            reader: Reader::from_str(text),
            lines: Lines::new(text),
            format,
            depth: 0,
        }
    }

    fn malformed(&mut self, at: u64, reason: String) -> ContentError {
        let (line, _) = self.lines.place(usize::try_from(at).unwrap_or(usize::MAX));
        ContentError::Malformed {
            line,
            format: self.format,
            reason,
        }
    }

    /// The next piece and the line that it starts in; `None` at the end.
    pub(super) fn next(&mut self) -> Result<Option<(Piece, u32)>, ContentError> {
        loop {
            let at = self.reader.buffer_position();
            let event = match self.reader.read_event() {
                Ok(event) => event,
                Err(error) => {
                    let at = self.reader.error_position();
                    return Err(self.malformed(at, error.to_string()));
                }
            };
            let piece = match event {
                Event::Start(tag) => {
                    self.depth += 1;
                    if self.depth > DEEPEST {
                        return Err(self.malformed(at, "elements nest too deep".to_owned()));
                    }
                    Piece::Start(tag.local_name().as_ref().to_owned(), attributes(&tag))
                }
                Event::Empty(tag) => {
                    Piece::Empty(tag.local_name().as_ref().to_owned(), attributes(&tag))
                }
                Event::End(tag) => {
                    self.depth = self.depth.saturating_sub(1);
                    Piece::End(tag.local_name().as_ref().to_owned())
                }
                Event::Text(text) => Piece::Text(text.to_string()),
                Event::CData(text) => Piece::Text(text.to_string()),
                Event::GeneralRef(name) => Piece::Text(resolved(&name)),
                Event::Eof => return Ok(None),
                _ => continue,
            };
            let (line, _) = self.lines.place(usize::try_from(at).unwrap_or(usize::MAX));
            return Ok(Some((piece, line)));
        }
    }
}

fn attributes(tag: &quick_xml::events::BytesStart<'_>) -> Vec<(String, String)> {
    tag.attributes()
        .with_checks(false)
        .flatten()
        .map(|attribute| {
            let raw = attribute.value.into_owned();
            let value = quick_xml::escape::unescape(&raw).map(std::borrow::Cow::into_owned);
            (
                attribute.key.local_name().as_ref().to_owned(),
                value.unwrap_or(raw),
            )
        })
        .collect()
}

/// What a reference stands for: of XML's own and of numbers; others stay.
fn resolved(name: &str) -> String {
    let text = format!("&{name};");
    match quick_xml::escape::unescape(&text) {
        Ok(resolved) => resolved.into_owned(),
        Err(_) => text,
    }
}

/// One of `attributes`, by its name.
pub(super) fn attribute(attributes: &[(String, String)], name: &str) -> Option<String> {
    let found = attributes.iter().find(|(known, _)| known == name);
    found.map(|(_, value)| value.clone())
}
