//! What a text needs: its extended grapheme clusters with counts, and the
//! script or group that each belongs to.

mod character;
mod clusters;
pub mod content;
pub mod exemplars;
mod group;
pub mod language;
mod languages_of_paths;
pub mod message;
mod of_language;
mod signs;
mod text;

pub use character::{Character, is_shown, script_name};
pub use clusters::{ClusterNeed, Counter, Need, Place, SourceId};
pub use group::Group;
pub use languages_of_paths::{is_language, language_of_path};
pub use of_language::language_need;
pub use signs::{LanguageSigns, signs};
pub use text::{Source, TextError, decode};
