//! The font files that Debian's packages install.

use std::fs;
use std::path::{Path, PathBuf};

use tidy_lattice_core::font::{Face, FacePick, FontFile, Limits};

/// Where Debian's packages put fonts.
const ROOT: &str = "/usr/share/fonts";

/// All single font files (no collections) in order of path.
///
/// # Panics
///
/// Where the folder of fonts cannot be read.
pub fn installed() -> Vec<PathBuf> {
    let mut fonts = Vec::new();
    let mut folders = vec![PathBuf::from(ROOT)];
    while let Some(folder) = folders.pop() {
        for entry in fs::read_dir(&folder).expect("the fonts of Debian's packages") {
            let path = entry.expect("a font").path();
            let ending = path.extension().and_then(|ending| ending.to_str());
            if path.is_dir() {
                folders.push(path);
            } else if matches!(ending, Some("ttf" | "otf")) {
                fonts.push(path);
            }
        }
    }
    fonts.sort();
    fonts
}

/// The installed file of this name.
///
/// # Panics
///
/// Where there is none: `.ci/run` then installs too little.
pub fn named(name: &str) -> PathBuf {
    installed()
        .into_iter()
        .find(|path| path.file_name().is_some_and(|file| file == name))
        .unwrap_or_else(|| panic!("{name} is not installed"))
}

/// The default face of a file.
///
/// # Panics
///
/// Where the file is no font.
pub fn face(path: &Path) -> Face {
    try_face(path).unwrap_or_else(|error| panic!("{}: {error}", path.display()))
}

/// The default face of a file as browsers load it as a web font.
///
/// # Panics
///
/// Where the file is no font.
pub fn web_face(path: &Path) -> Face {
    let open = || -> Result<Face, Box<dyn std::error::Error>> {
        let file = FontFile::read(fs::read(path)?, Limits::DEFAULT)?.as_web_font();
        Ok(Face::open(&file, &FacePick::default())?)
    };
    open().unwrap_or_else(|error| panic!("{}: {error}", path.display()))
}

/// The default face of a file, or what is wrong with it.
///
/// # Errors
///
/// What the core says of the file.
pub fn try_face(path: &Path) -> Result<Face, Box<dyn std::error::Error>> {
    let file = FontFile::read(fs::read(path)?, Limits::DEFAULT)?;
    Ok(Face::open(&file, &FacePick::default())?)
}
