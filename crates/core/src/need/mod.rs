//! What a text needs: its extended grapheme clusters with counts, and the
//! script or group that each belongs to.

mod character;
mod clusters;
pub mod exemplars;
mod group;
pub mod language;
mod signs;
mod text;

pub use character::{Character, is_shown, script_name};
pub use clusters::{ClusterNeed, Need, Place};
pub use group::Group;
pub use signs::{LanguageSigns, signs};
pub use text::{Source, TextError, decode};
