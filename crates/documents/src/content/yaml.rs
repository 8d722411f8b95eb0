//! YAML messages, by their events: nested keys, one root key a language.

use saphyr_parser::{Event, Parser};

use super::{ContentError, FormatReader, Message, Reading, Sink, plural_shows, show, utf8};
use crate::content::is_language;
use crate::content::message::Syntax;

pub(super) static YAML: FormatReader = FormatReader {
    name: "yaml",
    label: "YAML",
    endings: &["yaml", "yml"],
    read: |bytes, reading, sink| read(utf8(bytes)?, reading, sink),
};

/// How deep mappings may nest.
const DEEPEST: usize = 64;

/// A mapping or a list on the way down.
struct Level {
    /// The key whose value comes next; `None` where a key comes next.
    key: Option<String>,
    mapping: bool,
    language: Option<String>,
}

fn read(text: &str, reading: Reading<'_>, sink: &mut Sink<'_>) -> Result<(), ContentError> {
    let malformed = |line: usize, reason: String| ContentError::Malformed {
        line: u32::try_from(line).unwrap_or(u32::MAX),
        format: "YAML",
        reason,
    };
    let mut levels: Vec<Level> = Vec::new();
    for event in Parser::new_from_str(text) {
        let (event, span) =
            event.map_err(|error| malformed(error.marker().line(), error.info().to_owned()))?;
        match event {
            Event::MappingStart(..) | Event::SequenceStart(..) => {
                if levels.len() >= DEEPEST {
                    return Err(malformed(span.start.line(), "it nests too deep".to_owned()));
                }
                let around = levels.last();
                let language = match around {
                    // A root key that is a language tells that of what is in it.
                    Some(level) if levels.len() == 1 => {
                        level.key.clone().filter(|key| is_language(key))
                    }
                    _ => None,
                };
                let language = language.or_else(|| around.and_then(|level| level.language.clone()));
                levels.push(Level {
                    key: None,
                    mapping: matches!(event, Event::MappingStart(..)),
                    language,
                });
            }
            Event::MappingEnd | Event::SequenceEnd => {
                levels.pop();
                if let Some(level) = levels.last_mut() {
                    level.key = None;
                }
            }
            Event::Scalar(value, style, ..) => {
                let Some(level) = levels.last_mut() else {
                    continue;
                };
                if level.mapping && level.key.is_none() {
                    level.key = Some(value.into_owned());
                    continue;
                }
                let key = level.key.take();
                let plain = style == saphyr_parser::ScalarStyle::Plain;
                // Numbers, booleans and nothing are no messages.
                let silent = plain
                    && (value.is_empty()
                        || ["null", "~", "true", "false"].contains(&value.as_ref())
                        || value.parse::<f64>().is_ok());
                let language = level.language.as_deref().or(reading.language);
                let form = key.as_deref().is_none_or(|key| plural_shows(key, language));
                if !silent && form {
                    show(
                        &Message {
                            text: &value,
                            syntax: Syntax::Any,
                            line: u32::try_from(span.start.line()).unwrap_or(u32::MAX),
                            column: u32::try_from(span.start.col() + 1).unwrap_or(1),
                            language,
                        },
                        sink,
                    );
                }
            }
            Event::Alias(_) => {
                if let Some(level) = levels.last_mut() {
                    level.key = None;
                }
            }
            _ => {}
        }
    }
    Ok(())
}
