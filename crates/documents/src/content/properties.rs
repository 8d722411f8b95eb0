//! Java properties, by java-properties: ISO-8859-1 with escapes, or UTF-8.

use java_properties::{LineContent, PropertiesIter};

use super::{ContentError, FormatReader, Message, Reading, Sink, show};
use crate::content::message::Syntax;

pub(super) static PROPERTIES: FormatReader = FormatReader {
    name: "properties",
    label: "properties",
    endings: &["properties"],
    read,
};

fn read(bytes: &[u8], reading: Reading<'_>, sink: &mut Sink<'_>) -> Result<(), ContentError> {
    let bytes = bytes.strip_prefix(b"\xef\xbb\xbf").unwrap_or(bytes);
    // Since Java 9 files are UTF-8, and ISO-8859-1 where they are no such.
    let encoding = match std::str::from_utf8(bytes) {
        Ok(_) => encoding_rs::UTF_8,
        Err(_) => encoding_rs::WINDOWS_1252,
    };
    for line in PropertiesIter::new_with_encoding(bytes, encoding) {
        let line = line.map_err(|error| ContentError::Malformed {
            line: u32::try_from(error.line_number().unwrap_or(1)).unwrap_or(u32::MAX),
            format: "properties",
            reason: error.to_string(),
        })?;
        let number = u32::try_from(line.line_number()).unwrap_or(u32::MAX);
        if let LineContent::KVPair(_, value) = line.content() {
            show(
                &Message {
                    text: value,
                    syntax: Syntax::Any,
                    line: number,
                    column: 1,
                    language: reading.language,
                },
                sink,
            );
        }
    }
    Ok(())
}
