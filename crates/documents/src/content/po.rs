//! gettext PO files: what shows is the translation, and where there is none, or
//! only a fuzzy one, the original.

use super::{ContentError, FormatReader, Message, Reading, Sink, show, utf8};
use crate::content::message::Syntax;

pub(super) static PO: FormatReader = FormatReader {
    name: "po",
    label: "gettext PO",
    endings: &["po", "pot"],
    read: |bytes, reading, sink| match encoding(bytes) {
        Some(encoding) => read(&encoding.decode(bytes).0, reading, sink),
        None => read(utf8(bytes)?, reading, sink),
    },
};

/// The encoding that the header states (`charset=EUC-JP`), where it is another than
/// UTF-8.
fn encoding(bytes: &[u8]) -> Option<&'static encoding_rs::Encoding> {
    let header = &bytes[..bytes.len().min(4096)];
    let at = memchr::memmem::find(header, b"charset=")? + "charset=".len();
    let rest = &header[at..];
    let end = rest
        .iter()
        .position(|byte| !(byte.is_ascii_alphanumeric() || b"-_.:".contains(byte)))?;
    let encoding = encoding_rs::Encoding::for_label(&rest[..end])?;
    (encoding != encoding_rs::UTF_8).then_some(encoding)
}

/// One entry while it is read.
#[derive(Default)]
struct Entry {
    original: Option<(String, u32)>,
    plural: Option<(String, u32)>,
    translations: Vec<(String, u32)>,
    fuzzy: bool,
}

/// The keyword that continued strings belong to.
#[derive(Clone, Copy, PartialEq)]
enum Field {
    None,
    Context,
    Original,
    Plural,
    Translation,
}

fn read(text: &str, reading: Reading<'_>, sink: &mut Sink<'_>) -> Result<(), ContentError> {
    let mut entry = Entry::default();
    let mut field = Field::None;
    let mut language: Option<String> = None;
    for (number, line) in text.lines().enumerate() {
        let number = u32::try_from(number + 1).unwrap_or(u32::MAX);
        let line = line.trim();
        let malformed = |reason: &str| ContentError::Malformed {
            line: number,
            format: "gettext PO",
            reason: reason.to_owned(),
        };
        if line.starts_with('#') || line.is_empty() {
            // A comment, a flag or an empty line begins the next entry; obsolete
            // entries are comments.
            if field == Field::Translation {
                finish(std::mem::take(&mut entry), &mut language, reading, sink);
                field = Field::None;
            }
            if line.starts_with("#,") && line.contains("fuzzy") {
                entry.fuzzy = true;
            }
            continue;
        }
        let (keyword, rest) = match line.find('"') {
            Some(quote) => (line[..quote].trim(), &line[quote..]),
            None => return Err(malformed("there is no string behind the keyword")),
        };
        let string = unquoted(rest).ok_or_else(|| malformed("the string does not end"))?;
        match keyword {
            "" => match field {
                Field::None => return Err(malformed("a string without a keyword")),
                Field::Context => {}
                Field::Original => entry
                    .original
                    .iter_mut()
                    .for_each(|(known, _)| known.push_str(&string)),
                Field::Plural => entry
                    .plural
                    .iter_mut()
                    .for_each(|(known, _)| known.push_str(&string)),
                Field::Translation => entry
                    .translations
                    .last_mut()
                    .into_iter()
                    .for_each(|(known, _)| known.push_str(&string)),
            },
            "msgctxt" | "msgid" if field == Field::Translation => {
                finish(std::mem::take(&mut entry), &mut language, reading, sink);
                if keyword == "msgid" {
                    entry.original = Some((string, number));
                    field = Field::Original;
                } else {
                    field = Field::Context;
                }
            }
            "msgctxt" => field = Field::Context,
            "msgid" => {
                entry.original = Some((string, number));
                field = Field::Original;
            }
            "msgid_plural" => {
                entry.plural = Some((string, number));
                field = Field::Plural;
            }
            keyword if keyword.starts_with("msgstr") => {
                entry.translations.push((string, number));
                field = Field::Translation;
            }
            other => return Err(malformed(&format!("{other:?} is no keyword"))),
        }
    }
    finish(entry, &mut language, reading, sink);
    Ok(())
}

fn finish(entry: Entry, language: &mut Option<String>, reading: Reading<'_>, sink: &mut Sink<'_>) {
    let Some((original, line)) = entry.original else {
        return;
    };
    if original.is_empty() {
        // The header.
        let header = entry
            .translations
            .first()
            .map_or("", |(text, _)| text.as_str());
        let declared = header
            .lines()
            .find_map(|line| line.strip_prefix("Language:"));
        *language = declared
            .map(|tag| tag.trim().replace('_', "-"))
            .filter(|tag| !tag.is_empty());
        return;
    }
    let tag = language.as_deref().or(reading.language);
    let mut one = |text: &str, line: u32, language: Option<&str>| {
        show(
            &Message {
                text,
                syntax: Syntax::Printf,
                line,
                column: 1,
                language,
            },
            sink,
        );
    };
    let missing = entry.fuzzy || entry.translations.iter().all(|(text, _)| text.is_empty());
    if missing {
        // The original shows; its language is the project's, not the file's.
        one(&original, line, None);
        if let Some((plural, line)) = &entry.plural {
            one(plural, *line, None);
        }
    } else {
        for (text, line) in &entry.translations {
            one(text, *line, tag);
        }
    }
}

/// The string between the quotes, its escapes resolved (as in C).
fn unquoted(text: &str) -> Option<String> {
    let inside = text.strip_prefix('"')?.strip_suffix('"')?;
    let mut result = String::with_capacity(inside.len());
    let mut characters = inside.chars();
    while let Some(character) = characters.next() {
        if character == '"' {
            return None;
        }
        if character != '\\' {
            result.push(character);
            continue;
        }
        match characters.next()? {
            'n' => result.push('\n'),
            't' => result.push('\t'),
            'r' => result.push('\r'),
            other => result.push(other),
        }
    }
    Some(result)
}
