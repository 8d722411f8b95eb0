//! The entries of `src` in `@font-face` rules, and the files that they lead to, opened as
//! browsers do.

use std::hash::{DefaultHasher, Hash as _, Hasher as _};
use std::path::Path;
use std::sync::Arc;

use tidy_lattice_checks::inputs::{Found, FoundFile, SheetInput, SourceEntry};
use tidy_lattice_checks::raw::{Span, by_commas};
use tidy_lattice_core::font::{Face, FacePick, FontFile};
use tidy_lattice_core::style::read::FaceSource;

use super::Access;

/// Opens a file as browsers do.
pub fn open(path: &Path, access: Access<'_>) -> FoundFile {
    let name = path.display().to_string();
    let bytes = match super::fonts::font_bytes(path, access) {
        Ok(bytes) => bytes,
        Err(error) => {
            return FoundFile {
                path: name,
                bytes: access.size(path).unwrap_or_default(),
                digest: 0,
                container: None,
                face: Err(error.without_path()),
            };
        }
    };
    opened(name, bytes, access)
}

/// The bytes as browsers take them.
pub fn opened(name: String, bytes: Vec<u8>, access: Access<'_>) -> FoundFile {
    let mut digest = DefaultHasher::new();
    bytes.hash(&mut digest);
    let size = bytes.len() as u64;
    let file = FontFile::read(bytes, access.limits);
    let container = file.as_ref().ok().map(FontFile::container);
    let face = file.and_then(|file| Face::open(&file.as_web_font(), &FacePick::default()));
    FoundFile {
        path: name,
        bytes: size,
        digest: digest.finish(),
        container,
        face: face.map(Arc::new).map_err(|error| error.to_string()),
    }
}

/// The entries of the `src` descriptors of a block.
pub fn entries(sheet: &SheetInput, block: usize) -> Vec<SourceEntry> {
    let text = &sheet.source.text;
    let declarations = sheet.raw.blocks[block].declarations.iter().enumerate();
    let mut entries = Vec::new();
    for (declaration, one) in declarations.filter(|(_, one)| one.name == "src") {
        let (_, span) = one.value(text);
        for span in by_commas(text, &span) {
            let source_text = &text[span.clone()];
            let css = format!("@font-face {{ src: {source_text} }}");
            let read = tidy_lattice_core::style::read::Sheet::read(&css);
            let source = read
                .font_faces()
                .next()
                .and_then(|(face, _)| face.sources.first().cloned());
            let mut entry = SourceEntry {
                span: span.clone(),
                declaration,
                url: None,
                local: None,
                format: None,
                found: Found::Unknown,
            };
            match source {
                Some(FaceSource::Url { url, format }) => {
                    entry.url = Some(url);
                    entry.format = format.map(|word| {
                        let place = inside_format(source_text).map_or(span.clone(), |inside| {
                            span.start + inside.start..span.start + inside.end
                        });
                        (word, place)
                    });
                }
                Some(FaceSource::Local { name }) => entry.local = Some(name),
                None => continue,
            }
            entries.push(entry);
        }
    }
    entries
}

/// What stands in the brackets of `format()`.
fn inside_format(entry: &str) -> Option<Span> {
    let at = entry.to_ascii_lowercase().rfind("format(")? + "format(".len();
    let end = at + entry[at..].find(')')?;
    Some(at..end)
}
