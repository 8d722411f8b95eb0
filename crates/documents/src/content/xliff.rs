//! XLIFF 1.2 and 2: what shows is the target, and where there is none, or it is
//! empty, the source.

use super::xml::{Piece, Walker, attribute};
use super::{ContentError, FormatReader, Message, Reading, Sink, show, utf8};
use crate::content::message::Syntax;

pub(super) static XLIFF: FormatReader = FormatReader {
    name: "xliff",
    label: "XLIFF",
    endings: &["xlf", "xliff"],
    read: |bytes, reading, sink| read(utf8(bytes)?, reading, sink),
};

/// Elements whose content is native code or notes, not text: of 1.2 and of 2.
const CODE: [&str; 10] = [
    "bpt",
    "ept",
    "it",
    "ph",
    "note",
    "header",
    "alt-trans",
    "originalData",
    "metadata",
    "skeleton",
];

fn read(text: &str, reading: Reading<'_>, sink: &mut Sink<'_>) -> Result<(), ContentError> {
    let mut walker = Walker::new(text, "XLIFF");
    let mut source_language: Option<String> = None;
    let mut target_language: Option<String> = None;
    let mut source: Option<(String, u32)> = None;
    let mut target: Option<(String, u32)> = None;
    let mut within: Option<bool> = None;
    let mut code = 0_usize;
    while let Some((piece, line)) = walker.next()? {
        match piece {
            Piece::Start(tag, attributes) | Piece::Empty(tag, attributes)
                if tag == "file" || tag == "xliff" =>
            {
                let take = |known: &mut Option<String>, names: [&str; 2]| {
                    let found = names.iter().find_map(|name| attribute(&attributes, name));
                    if found.is_some() {
                        *known = found;
                    }
                };
                take(&mut source_language, ["source-language", "srcLang"]);
                take(&mut target_language, ["target-language", "trgLang"]);
            }
            Piece::Start(tag, _) if code > 0 || CODE.contains(&tag.as_str()) => code += 1,
            Piece::End(_) if code > 0 => code -= 1,
            Piece::Start(tag, _) if tag == "source" => {
                source = Some((String::new(), line));
                within = Some(false);
            }
            Piece::Start(tag, _) if tag == "target" => {
                target = Some((String::new(), line));
                within = Some(true);
            }
            Piece::End(tag) if tag == "source" || tag == "target" => within = None,
            Piece::Text(text) if code == 0 => {
                let into = match within {
                    Some(true) => target.as_mut(),
                    Some(false) => source.as_mut(),
                    None => None,
                };
                if let Some((known, _)) = into {
                    known.push_str(&text);
                }
            }
            Piece::End(tag) if tag == "trans-unit" || tag == "segment" => {
                let translated = target.take().filter(|(text, _)| !text.trim().is_empty());
                let source_text = source.take();
                let (shown, language) = match translated {
                    Some(shown) => (Some(shown), target_language.as_deref().or(reading.language)),
                    None => (source_text, source_language.as_deref()),
                };
                if let Some((text, line)) = shown {
                    show(
                        &Message {
                            text: &text,
                            syntax: Syntax::Any,
                            line,
                            column: 1,
                            language,
                        },
                        sink,
                    );
                }
            }
            _ => {}
        }
    }
    Ok(())
}
