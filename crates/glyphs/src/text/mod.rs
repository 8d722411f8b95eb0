//! Characters and languages: facts about text that need no font.

mod character;
mod dice;
pub mod exemplars;
mod group;
mod rare;
pub mod samples;
mod signs;
mod source;
mod steering;
pub mod words;

pub use character::{Character, is_shown, script_name, used_with};
pub use dice::Dice;
pub use group::Group;
pub use rare::is_rare;
pub use signs::{LanguageSigns, signs};
pub use source::{Source, TextError, decode};
pub use steering::{is_steering, without_steering};
