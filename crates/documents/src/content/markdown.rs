//! Markdown, by pulldown-cmark.

use pulldown_cmark::{Event, Options, Parser, Tag, TagEnd};

use super::{FormatReader, Lines, Part, Reading, Shown, Sink, utf8};

pub(super) static MARKDOWN: FormatReader = FormatReader {
    name: "markdown",
    label: "Markdown",
    endings: &["md", "markdown"],
    read: |bytes, reading, sink| {
        read(utf8(bytes)?, reading, sink);
        Ok(())
    },
};

fn read(text: &str, reading: Reading<'_>, sink: &mut Sink<'_>) {
    let options = Options::ENABLE_TABLES
        | Options::ENABLE_FOOTNOTES
        | Options::ENABLE_STRIKETHROUGH
        | Options::ENABLE_TASKLISTS
        | Options::ENABLE_YAML_STYLE_METADATA_BLOCKS
        | Options::ENABLE_PLUSES_DELIMITED_METADATA_BLOCKS;
    let mut lines = Lines::new(text);
    let mut part = Part::Body;
    let mut metadata = false;
    for (event, range) in Parser::new_ext(text, options).into_offset_iter() {
        let (shown, here) = match event {
            Event::Start(Tag::Heading { .. }) => {
                part = Part::Heading;
                continue;
            }
            Event::Start(Tag::CodeBlock(_)) => {
                part = Part::Code;
                continue;
            }
            Event::End(TagEnd::Heading(_) | TagEnd::CodeBlock) => {
                part = Part::Body;
                continue;
            }
            Event::Start(Tag::MetadataBlock(_)) => {
                metadata = true;
                continue;
            }
            Event::End(TagEnd::MetadataBlock(_)) => {
                metadata = false;
                continue;
            }
            Event::Start(Tag::Link { title, .. } | Tag::Image { title, .. }) => (title, part),
            Event::Text(text) if !metadata => (text, part),
            Event::Code(code) => (code, Part::Code),
            _ => continue,
        };
        if shown.is_empty() {
            continue;
        }
        let (line, column) = lines.place(range.start);
        sink(Shown {
            text: &shown,
            line,
            column,
            language: reading.language,
            part: here,
        });
    }
}
