//! What can be wrong with a font file, each with a way out.

/// Why bytes could not be used as a font.
///
/// The messages name the place inside the file; the caller knows the file's
/// name and puts it in front.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum FontError {
    /// There are no bytes at all.
    #[error("the file is empty; was it copied or downloaded completely?")]
    Empty,
    /// The bytes are something else, which could be recognised.
    #[error("this is {found}, not a font that browsers load; {way_out}")]
    SomethingElse {
        /// What the bytes are.
        found: &'static str,
        /// What the user can do.
        way_out: &'static str,
    },
    /// The first bytes are not those of any font container.
    #[error(
        "this is not a font: it starts with {start}; TrueType, OpenType, \
         font collections, WOFF and WOFF2 can be read"
    )]
    NotAFont {
        /// The first bytes, in hexadecimal.
        start: String,
    },
    /// A table lies beyond the end of the file.
    #[error(
        "the file is cut short: its table '{table}' should end at byte {end}, \
         but the file has {length} bytes; copy or download it again"
    )]
    CutShort {
        /// The table's tag.
        table: String,
        /// Where the table ends, in bytes from the start of the file.
        end: u64,
        /// The length of the file in bytes.
        length: u64,
    },
    /// The header or the directory of tables is damaged.
    #[error("the font's {place} is damaged ({detail}); export or download the font again")]
    Damaged {
        /// Which part of the file.
        place: &'static str,
        /// What is wrong with it.
        detail: String,
    },
    /// A table is missing without which no browser loads the font.
    #[error("the font has no '{table}' table, which every browser needs; export the font again")]
    NoTable {
        /// The table's tag.
        table: &'static str,
    },
    /// The unpacked font is larger than allowed.
    #[error(
        "the font unpacks to {bytes} bytes, more than the limit of {limit}; \
         raise the limit if you trust the file"
    )]
    TooLarge {
        /// The size that the file declares, in bytes.
        bytes: u64,
        /// The limit in force, in bytes.
        limit: u64,
    },
    /// A collection has no font with this number.
    #[error("there is no font {index} in this file: it holds {count}, counted from 0")]
    NoSuchIndex {
        /// The number asked for.
        index: u32,
        /// How many fonts the file holds.
        count: u32,
    },
    /// The position asked for does not exist in this font.
    #[error("{asked:?} is no position of this font; {known}")]
    NoSuchPosition {
        /// What was asked for.
        asked: String,
        /// The positions or axes that exist, as a sentence.
        known: String,
    },
}
