//! What `trim` gives.

use serde::Serialize;
use tidy_lattice_core::text::Character;
use tidy_lattice_core::trim::Trimmed;

/// The result.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct TrimmedFaces {
    /// The faces, in the order in which they were named.
    pub faces: Vec<TrimmedFace>,
    /// Files that hold nothing of what is needed, which can go.
    pub not_needed: Vec<NotNeeded>,
    /// The size of the files that were named, in bytes.
    pub bytes_before: u64,
    /// The size of what they become, in bytes: of each face the first form.
    pub bytes: u64,
    /// The style sheet with the rules of all faces.
    pub css: String,
    /// The files, in the order in which what draws without CSS asks them for a character.
    pub fonts: Vec<ListedFont>,
    /// The name of the sheet or the list that goes with the files.
    #[serde(skip)]
    pub list: &'static str,
    /// Where the files went; nothing where none were written.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub folder: Option<String>,
}

/// A face and what became of it.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct TrimmedFace {
    /// The file that was cut.
    pub source: String,
    /// The family in the style sheet.
    pub family: String,
    /// Weight and style, in words.
    pub style: String,
    /// The size of the file, in bytes.
    pub bytes_before: u64,
    /// The size of what it became, in bytes, in its first form.
    pub bytes: u64,
    /// The names of the files, by piece, in the order of the forms.
    pub files: Vec<Vec<WrittenFile>>,
    /// How it was cut.
    #[serde(flatten)]
    pub cut: Trimmed,
    /// What is needed and the face does not have.
    pub lacks: Vec<Character>,
    /// How many characters these are; the list above has the first hundred.
    pub lacks_count: u64,
    /// What a user should know.
    pub notes: Vec<String>,
}

/// A file.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct WrittenFile {
    /// Its name.
    pub name: String,
    /// Its size in bytes.
    pub bytes: u64,
}

/// A file for what draws without CSS.
#[derive(Debug, Clone, Serialize, schemars::JsonSchema)]
pub struct ListedFont {
    /// The family.
    pub family: String,
    /// The name of the file, in its first form.
    pub file: String,
    /// The least and the largest weight.
    pub weight: (f32, f32),
    /// `normal`, `italic` or `oblique`.
    pub style: String,
    /// The characters, as `unicode-range` writes them.
    pub characters: String,
}

/// The list of files as it is written.
#[derive(Debug, Serialize)]
pub struct FontList<'l> {
    /// The form, with its version.
    pub schema: &'static str,
    /// The program's version.
    pub version: &'static str,
    /// The files.
    pub fonts: &'l [ListedFont],
}

/// A file of which nothing is needed.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct NotNeeded {
    /// The file.
    pub source: String,
    /// Its size in bytes.
    pub bytes: u64,
}
