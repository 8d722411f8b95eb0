//! What `record` gives.

use serde::Serialize;

use tidy_lattice_core::font::MeasuredIn;
use tidy_lattice_core::record::device::MeasuredGeneric;
use tidy_lattice_project::folders::UnreadableFile;

/// The result of `record`.
#[derive(Debug, Default, Serialize, schemars::JsonSchema)]
pub struct Recorded {
    /// The cards, in the order of the files.
    pub cards: Vec<RecordedCard>,
    /// Files that could not be read.
    pub unreadable: Vec<UnreadableFile>,
    /// The page that measures, where it was asked for.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub page: Option<MeasuringPage>,
    /// What measuring pages found.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub measured: Vec<MeasuredDevice>,
    /// The platform that was written.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub platform: Option<String>,
}

/// A page that measures the fonts of a device.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct MeasuringPage {
    /// The file.
    pub file: String,
    /// Its size in bytes.
    pub bytes: u64,
    /// Families that it looks for.
    pub families: usize,
    /// Languages whose pairs and words it measures (BCP 47).
    pub languages: Vec<String>,
}

/// What a measuring page found.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct MeasuredDevice {
    /// The file, or the address that it was sent to.
    pub file: String,
    /// The browser.
    pub browser: MeasuredIn,
    /// Families of which no face was measured.
    pub unmeasured: Vec<String>,
    /// How many families were looked for and are not there.
    pub absent: usize,
    /// What generic families are: all families that are as wide.
    pub generics: Vec<MeasuredGeneric>,
    /// What such cards do not know.
    pub not_known: Vec<String>,
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
