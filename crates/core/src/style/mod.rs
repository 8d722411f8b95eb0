//! CSS written.

mod sheet;
mod text;

pub use sheet::{FontFaceRule, SourceRef, StyleSheet};
pub use text::{GENERICS, custom_property, family_list, is_generic, quoted, url_path};
