//! The built-in catalogue, embedded.

use std::sync::LazyLock;

use include_dir::{Dir, include_dir};
use tidy_lattice_glyphs::font::Card;

use super::{Definition, Platform};

static CATALOGUE: Dir<'static> = include_dir!("$CARGO_MANIFEST_DIR/data/catalogue");

/// The platforms in the order in which they are told.
const ORDER: [&str; 7] = ["windows", "macos", "ios", "android", "gnome", "kde", "bare"];

static PLATFORMS: LazyLock<Vec<Platform>> = LazyLock::new(|| {
    let platforms = ORDER.iter().filter_map(|name| {
        let file = CATALOGUE.get_file(format!("{name}.toml"))?;
        let definition = Definition::read(file.contents_utf8()?).ok()?;
        definition.assemble(name, card, &[]).ok()
    });
    platforms.collect()
});

/// The built-in platforms.
pub fn platforms() -> &'static [Platform] {
    &PLATFORMS
}

/// The card of this name in the built-in catalogue.
pub fn card(name: &str) -> Option<Card> {
    let file = CATALOGUE.get_file(format!("cards/{name}.card.json"))?;
    Card::read(file.contents()).ok()
}

/// The paths of the catalogue's files, with forward slashes, in order.
pub fn file_names() -> Vec<String> {
    files().into_iter().map(|(path, _)| path).collect()
}

/// The catalogue's files: path and bytes, in order of path.
pub fn files() -> Vec<(String, &'static [u8])> {
    let folders = std::iter::once(&CATALOGUE).chain(CATALOGUE.dirs());
    let mut files: Vec<(String, &[u8])> = folders
        .flat_map(Dir::files)
        .map(|file| {
            let path = file.path().to_string_lossy().replace('\\', "/");
            (path, file.contents())
        })
        .collect();
    files.sort();
    files
}
