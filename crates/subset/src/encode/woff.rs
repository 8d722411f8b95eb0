//! WOFF 1.0: each table deflated for itself (W3C WOFF 1.0, sections 3 to 5).

use std::io::Write;

use flate2::Compression;
use flate2::write::ZlibEncoder;

use super::tables;
use crate::CutError;

/// An sfnt as WOFF.
///
/// # Errors
///
/// [`CutError::Damaged`] where `sfnt` is none.
pub fn woff(sfnt: &[u8]) -> Result<Vec<u8>, CutError> {
    let damaged = || CutError::Damaged {
        table: "directory",
        detail: "this is no sfnt".to_owned(),
    };
    let tables = tables(sfnt).ok_or_else(damaged)?;
    let padded = |length: usize| length.div_ceil(4) * 4;
    let mut directory = Vec::new();
    let mut data: Vec<u8> = Vec::new();
    let start = 44 + tables.len() * 20;
    let mut unpacked = 12 + tables.len() * 16;
    for (index, (tag, table)) in tables.iter().enumerate() {
        let mut encoder = ZlibEncoder::new(Vec::new(), Compression::best());
        let packed = encoder.write_all(table).and_then(|()| encoder.finish());
        // What does not shrink is stored.
        let packed = packed.ok().filter(|packed| packed.len() < table.len());
        let bytes = packed.as_deref().unwrap_or(table);
        directory.extend_from_slice(tag);
        for value in [start + data.len(), bytes.len(), table.len()] {
            directory.extend_from_slice(&(value as u32).to_be_bytes());
        }
        directory.extend_from_slice(&sfnt[12 + index * 16 + 4..12 + index * 16 + 8]);
        data.extend_from_slice(bytes);
        data.resize(padded(data.len()), 0);
        unpacked += padded(table.len());
    }
    let mut out = b"wOFF".to_vec();
    out.extend_from_slice(&sfnt[..4]);
    out.extend_from_slice(&((start + data.len()) as u32).to_be_bytes());
    out.extend_from_slice(&(tables.len() as u16).to_be_bytes());
    out.extend_from_slice(&[0, 0]);
    out.extend_from_slice(&(unpacked as u32).to_be_bytes());
    // Version 1.0; no metadata, no private data.
    out.extend_from_slice(&[0, 1, 0, 0]);
    out.resize(44, 0);
    out.extend(directory);
    out.extend(data);
    Ok(out)
}
