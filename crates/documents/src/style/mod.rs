//! CSS: `read` understands what there is, the rest writes what we make.

pub(crate) mod computed;
pub mod matching;
mod overrides;
mod parts;
pub(crate) mod properties;
pub mod read;
mod sheet;
mod text;

pub use overrides::Overrides;
use parts::parts;
pub use read::stretch_keyword;
pub use sheet::{FontFaceRule, Property, SourceRef, StyleSheet};
pub use text::{GENERICS, class_name, custom_property, family_list, is_generic, quoted, url_path};
