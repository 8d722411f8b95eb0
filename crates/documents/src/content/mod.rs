//! Texts out of the files that projects keep them in: plain text, Markdown, CSV,
//! and the message catalogues of web and app projects.
//!
//! Readers hand over what shows, piece by piece, so that large catalogues never
//! stand in memory as a whole.

mod csv;
mod json;
mod languages_of_paths;
mod markdown;
pub mod message;
mod po;
mod properties;
mod resources;
mod strings;
mod xliff;
mod xml;
mod yaml;

use std::borrow::Cow;

use serde::Serialize;

use self::message::Syntax;
use tidy_lattice_glyphs::text::{TextError, decode};

pub use languages_of_paths::{is_language, language_of_path};
pub use resources::NO_RESOURCES;

/// What reads one kind of files.
struct FormatReader {
    /// A short name, in kebab case.
    name: &'static str,
    /// The name for people.
    label: &'static str,
    /// The endings of such files, in lower case.
    endings: &'static [&'static str],
    /// Hands over what shows.
    read: fn(&[u8], Reading<'_>, &mut Sink<'_>) -> Result<(), ContentError>,
}

/// All kinds, a line each.
static READERS: &[&FormatReader] = &[
    &HTML,
    &markdown::MARKDOWN,
    &TEXT,
    &csv::CSV,
    &csv::TSV,
    &json::JSON,
    &yaml::YAML,
    &po::PO,
    &xliff::XLIFF,
    &properties::PROPERTIES,
    &resources::RESOURCES,
    &strings::STRINGS,
];

/// Plain text, and whatever else tells nothing by its name.
static TEXT: FormatReader = FormatReader {
    name: "text",
    label: "plain text",
    endings: &["txt"],
    read: |bytes, reading, sink| {
        plain(utf8(bytes)?, reading.language, sink);
        Ok(())
    },
};

/// Pages; read with their style sheets where those are at hand.
static HTML: FormatReader = FormatReader {
    name: "html",
    label: "HTML",
    endings: &["html", "htm", "xhtml"],
    read: |bytes, reading, sink| {
        html(utf8(bytes)?, reading, sink);
        Ok(())
    },
};

/// A kind of files that texts are read from.
#[derive(Clone, Copy)]
pub struct Format(&'static FormatReader);

impl Format {
    /// The format of the file called `name`, by its ending; plain text where it
    /// tells nothing.
    pub fn of(name: &str) -> Self {
        let ending = name.rsplit(['/', '\\']).next().unwrap_or(name);
        let ending = ending.rsplit_once('.').map_or("", |(_, ending)| ending);
        let ending = ending.to_ascii_lowercase();
        let of_ending = |reader: &&&FormatReader| reader.endings.contains(&ending.as_str());
        Format(
            READERS
                .iter()
                .find(of_ending)
                .map_or(&TEXT, |reader| *reader),
        )
    }

    /// The endings that files of texts have, in lower case.
    pub fn endings() -> impl Iterator<Item = &'static str> {
        READERS.iter().flat_map(|reader| reader.endings).copied()
    }

    /// Whether it is plain text.
    pub fn is_text(self) -> bool {
        std::ptr::eq(self.0, &TEXT)
    }

    /// Whether it is a page.
    pub fn is_page(self) -> bool {
        std::ptr::eq(self.0, &HTML)
    }

    /// The name for people.
    pub fn label(self) -> &'static str {
        self.0.label
    }
}

impl std::fmt::Debug for Format {
    fn fmt(&self, formatter: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        formatter.write_str(self.0.name)
    }
}

/// A piece of text that shows.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Shown<'a> {
    /// The text.
    pub text: &'a str,
    /// The line that it starts in, counted from 1.
    pub line: u32,
    /// Where it starts in that line, in characters from 1; 1 where only the line
    /// is known.
    pub column: u32,
    /// Its language, where the file tells.
    pub language: Option<&'a str>,
    /// What it is in the file.
    pub part: Part,
}

/// What a text is in its file.
#[derive(
    Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, schemars::JsonSchema,
)]
#[serde(rename_all = "kebab-case")]
pub enum Part {
    /// Running text.
    Body,
    /// A heading.
    Heading,
    /// Code.
    Code,
    /// What a placeholder for a number or a date will bring.
    Brought,
}

/// Where pieces go.
pub type Sink<'s> = dyn FnMut(Shown<'_>) + 's;

/// Why a file cannot be read as its format.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum ContentError {
    /// It is not text.
    #[error(transparent)]
    Text(#[from] TextError),
    /// It breaks the rules of its format.
    #[error("line {line}: this is not valid {format}: {reason}")]
    Malformed {
        /// The line, counted from 1.
        line: u32,
        /// The format's name.
        format: &'static str,
        /// What is wrong.
        reason: String,
    },
}

/// How a file is read.
#[derive(Debug, Clone, Copy, Default)]
pub struct Reading<'a> {
    /// The language of the file, where it says none itself.
    pub language: Option<&'a str>,
}

/// Hands everything of `bytes` that shows to `sink`.
///
/// HTML is read as its text alone here; [`crate::page`] knows styles.
///
/// # Errors
///
/// [`ContentError`] where the bytes are no text, or not of the format.
pub fn read(
    bytes: &[u8],
    format: Format,
    reading: Reading<'_>,
    sink: &mut Sink<'_>,
) -> Result<(), ContentError> {
    (format.0.read)(bytes, reading, sink)
}

/// The bytes as UTF-8, without a byte order mark and without copying.
fn utf8(bytes: &[u8]) -> Result<&str, TextError> {
    match std::str::from_utf8(bytes) {
        Ok(text) => Ok(text.strip_prefix('\u{feff}').unwrap_or(text)),
        // The slow way finds out where it stops.
        Err(_) => Err(decode(bytes.to_vec()).err().unwrap_or(TextError::Utf16)),
    }
}

/// The bytes as UTF-8, or as UTF-16 with a byte order mark.
fn utf8_or_utf16(bytes: &[u8]) -> Result<Cow<'_, str>, TextError> {
    let encoding = match bytes {
        [0xff, 0xfe, ..] => encoding_rs::UTF_16LE,
        [0xfe, 0xff, ..] => encoding_rs::UTF_16BE,
        _ => return utf8(bytes).map(Cow::Borrowed),
    };
    Ok(encoding.decode(bytes).0)
}

/// Text as it is, in one piece.
fn plain(text: &str, language: Option<&str>, sink: &mut Sink<'_>) {
    sink(Shown {
        text,
        line: 1,
        column: 1,
        language,
        part: Part::Body,
    });
}

/// The texts of a page, without its styles.
fn html(text: &str, reading: Reading<'_>, sink: &mut Sink<'_>) {
    use crate::page::{Files, OpenedFile, Unread};
    struct Nothing;
    impl Files for Nothing {
        fn read(&self, _: &str, _: &str, _: &str) -> Result<OpenedFile, Unread> {
            Err(Unread::Remote)
        }
    }
    let screen = crate::style::read::Viewport::screen(1280.0, 800.0);
    let (page, _) = crate::page::read(text, "", &Nothing, screen);
    for piece in &page.texts {
        sink(Shown {
            text: &piece.text,
            line: piece.line,
            column: 1,
            language: piece.language.as_deref().or(reading.language),
            part: if piece.role == "headings" {
                Part::Heading
            } else {
                Part::Body
            },
        });
    }
}

/// One message of a catalogue at its place.
struct Message<'a> {
    text: &'a str,
    syntax: Syntax,
    line: u32,
    column: u32,
    language: Option<&'a str>,
}

/// Hands over what shows of a message.
fn show(message: &Message<'_>, sink: &mut Sink<'_>) {
    message::shown(
        message.text,
        message.syntax,
        message.language,
        &mut |text, brought| {
            sink(Shown {
                text,
                line: message.line,
                column: message.column,
                language: message.language,
                part: if brought { Part::Brought } else { Part::Body },
            });
        },
    );
}

/// Counts lines and columns while it is asked for ever later bytes of a text.
struct Lines<'t> {
    text: &'t str,
    at: usize,
    line: u32,
    column: u32,
}

impl<'t> Lines<'t> {
    fn new(text: &'t str) -> Self {
        Lines {
            text,
            at: 0,
            line: 1,
            column: 1,
        }
    }

    /// The line of `byte` and the character in it, both from 1.
    fn place(&mut self, byte: usize) -> (u32, u32) {
        let byte = byte.clamp(self.at, self.text.len());
        let passed = &self.text.as_bytes()[self.at..byte];
        let mut line_start = 0;
        for found in memchr::memchr_iter(b'\n', passed) {
            self.line += 1;
            self.column = 1;
            line_start = found + 1;
        }
        // Characters are the bytes that do not continue one.
        let characters = passed[line_start..]
            .iter()
            .filter(|byte| **byte & 0xc0 != 0x80);
        self.column += u32::try_from(characters.count()).unwrap_or(0);
        self.at = byte;
        (self.line, self.column)
    }
}

/// Whether a form for `keyword` is ever chosen in `language`: forms that its
/// plural rules do not have never show.
fn plural_shows(keyword: &str, language: Option<&str>) -> bool {
    message::plural_shows(keyword, language)
}
