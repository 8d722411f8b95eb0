//! What `record` gives.

use serde::Serialize;

use tidy_lattice_project::folders::UnreadableFile;

/// The result of `record`.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct Recorded {
    /// The cards, in the order of the files.
    pub cards: Vec<RecordedCard>,
    /// Files that could not be read.
    pub unreadable: Vec<UnreadableFile>,
}

/// A card and where it went.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct RecordedCard {
    /// The font file.
    pub font: String,
    /// Family and style.
    pub face: String,
    /// The file that was written.
    pub file: String,
    /// How many characters the face has.
    pub characters: u64,
    /// Scripts (Unicode names) whose widths the card does not know.
    pub unknown_widths: Vec<String>,
    /// The size of the card in bytes.
    pub bytes: u64,
    /// Its size packed with Brotli, as repositories and servers store it.
    pub packed_bytes: u64,
}
