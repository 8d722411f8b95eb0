//! Text and where it came from.

/// A piece of text and the name that people know it by.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Source {
    /// A file name, or a word for text from elsewhere.
    pub name: String,
    /// The text.
    pub text: String,
}

/// Why bytes are not text that can be read.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum TextError {
    /// The bytes are not UTF-8.
    #[error(
        "line {line}, byte {byte} of the file is not UTF-8; \
         save the file as UTF-8 (in an editor, or with `iconv -t utf-8`)"
    )]
    NotUtf8 {
        /// The line, counted from 1.
        line: usize,
        /// The byte's place in the file, counted from 1.
        byte: usize,
    },
    /// The bytes start with the mark of UTF-16.
    #[error(
        "the file is UTF-16; save it as UTF-8 (in an editor, or with `iconv -f utf-16 -t utf-8`)"
    )]
    Utf16,
}

/// Reads `bytes` as UTF-8; a byte order mark at the start is dropped.
///
/// # Errors
///
/// [`TextError`] says where the bytes stop being UTF-8.
pub fn decode(bytes: Vec<u8>) -> Result<String, TextError> {
    if bytes.starts_with(&[0xff, 0xfe]) || bytes.starts_with(&[0xfe, 0xff]) {
        return Err(TextError::Utf16);
    }
    let mut text = String::from_utf8(bytes).map_err(|error| {
        let good = &error.as_bytes()[..error.utf8_error().valid_up_to()];
        TextError::NotUtf8 {
            line: good.iter().filter(|byte| **byte == b'\n').count() + 1,
            byte: good.len() + 1,
        }
    })?;
    if text.starts_with('\u{feff}') {
        text.drain(..'\u{feff}'.len_utf8());
    }
    Ok(text)
}
