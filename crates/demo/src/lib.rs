//! The demo of tidy-lattice: a made-up island ferry company, *Tern & Skerry
//! Lines*, with its texts in eight languages and its fonts.
//!
//! The fonts are drawn by `draw` (a feature, for those who draw); what it draws is committed under `project/`
//! and embedded as [`PROJECT`], so that the built program needs no maker.

#[cfg(feature = "draw")]
pub mod draw;
pub mod planted;

use include_dir::{Dir, include_dir};

/// The demo project as it is written to disk.
pub static PROJECT: Dir<'static> = include_dir!("$CARGO_MANIFEST_DIR/project");

/// Every file of the project: its path with forward slashes, and its bytes, in
/// order of path.
pub fn files() -> Vec<(String, &'static [u8])> {
    let mut files = Vec::new();
    let mut folders = vec![&PROJECT];
    while let Some(folder) = folders.pop() {
        folders.extend(folder.dirs());
        files.extend(folder.files().map(|file| {
            let parts: Vec<_> = file
                .path()
                .iter()
                .map(|part| part.to_string_lossy())
                .collect();
            (parts.join("/"), file.contents())
        }));
    }
    files.sort();
    files
}

/// The bytes of one file of the project.
pub fn file(path: &str) -> Option<&'static [u8]> {
    PROJECT.get_file(path).map(|file| file.contents())
}
