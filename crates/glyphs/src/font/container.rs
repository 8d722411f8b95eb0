//! Containers: what the bytes of a font file are, and the sfnt inside.
//!
//! - sfnt and collections: OpenType 1.9.1, "OpenType font file", table
//!   directory and TTC header.
//! - WOFF: W3C WOFF 1.0, sections 3 and 4.
//! - WOFF2: W3C WOFF 2.0, sections 4 and 5.

use std::panic::{AssertUnwindSafe, catch_unwind};

use serde::Serialize;
use skrifa::font::Blob;

use super::{FontError, sanitiser};

/// Bounds on what a font file may ask of memory.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Limits {
    /// The largest size of a font once unpacked, in bytes.
    pub unpacked: u64,
}

impl Limits {
    /// 64 MiB: more than three times the largest collection of CJK fonts that
    /// Linux distributions ship.
    pub const DEFAULT: Limits = Limits {
        unpacked: 64 * 1024 * 1024,
    };
}

impl Default for Limits {
    fn default() -> Self {
        Self::DEFAULT
    }
}

/// The container that a font came in, told by its bytes.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Container {
    /// An sfnt with TrueType outlines.
    TrueType,
    /// An sfnt with CFF or CFF2 outlines.
    OpenTypeCff,
    /// Several fonts that share tables (`ttcf`).
    Collection,
    /// WOFF 1.0.
    Woff,
    /// WOFF 2.0.
    Woff2,
}

impl Container {
    /// The keyword for `format()` in an `src` descriptor (CSS Fonts 4, §4.3).
    pub fn css_format(self) -> &'static str {
        match self {
            Container::TrueType => "truetype",
            Container::OpenTypeCff => "opentype",
            Container::Collection => "collection",
            Container::Woff => "woff",
            Container::Woff2 => "woff2",
        }
    }

    /// The name that people use for the container.
    pub fn label(self) -> &'static str {
        match self {
            Container::TrueType => "TrueType",
            Container::OpenTypeCff => "OpenType CFF",
            Container::Collection => "collection",
            Container::Woff => "WOFF",
            Container::Woff2 => "WOFF2",
        }
    }
}

/// A table of a font as its directory states it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct TableEntry {
    /// The tag; bytes that are no ASCII letters, digits or signs as `?`.
    pub tag: String,
    /// The length in bytes, unpacked.
    pub bytes: u32,
    /// Whether the table lies inside the file.
    pub inside: bool,
}

/// A font file, unpacked to its sfnt or collection.
#[derive(Clone)]
pub struct FontFile {
    container: Container,
    packed_bytes: u64,
    /// Where the table directory of each font starts, in bytes.
    directories: Vec<usize>,
    kerning_dropped: bool,
    data: Blob,
}

impl FontFile {
    /// Recognises `bytes` by their first four and unpacks them.
    ///
    /// # Errors
    ///
    /// Everything that [`FontError`] names except the errors about picking a
    /// face. Nothing larger than `limits` is ever allocated.
    pub fn read(bytes: Vec<u8>, limits: Limits) -> Result<Self, FontError> {
        let file = Self::read_damaged(bytes, limits)?;
        for offset in &file.directories {
            check_directory(&file.data, *offset)?;
        }
        Ok(file)
    }

    /// Like [`FontFile::read`], but tables that are missing or lie outside the
    /// file are no error: what depends on them is not there. Browsers refuse
    /// such fonts; this is for telling what is left in them.
    ///
    /// # Errors
    ///
    /// As [`FontFile::read`], except for errors about single tables.
    pub fn read_damaged(bytes: Vec<u8>, limits: Limits) -> Result<Self, FontError> {
        let packed_bytes = bytes.len() as u64;
        let mut container = recognise(&bytes)?;
        let sfnt = match container {
            Container::Woff => unpack_woff(&bytes, limits)?,
            Container::Woff2 => unpack_woff2(&bytes, limits)?,
            _ => bytes,
        };
        if sfnt.len() as u64 > limits.unpacked {
            return Err(too_large(sfnt.len() as u64, limits));
        }
        let directories = font_offsets(&sfnt)?;
        if container == Container::TrueType && sfnt.starts_with(b"OTTO") {
            container = Container::OpenTypeCff;
        }
        Ok(FontFile {
            container,
            packed_bytes,
            directories,
            kerning_dropped: false,
            data: Blob::from(sfnt),
        })
    }

    /// The container that the file came in.
    pub fn container(&self) -> Container {
        self.container
    }

    /// The size of the file as given, in bytes.
    pub fn packed_bytes(&self) -> u64 {
        self.packed_bytes
    }

    /// How many fonts the file holds; more than one only in collections.
    pub fn face_count(&self) -> u32 {
        self.directories.len() as u32
    }

    /// The tables of the font with this number, in the order of its directory;
    /// none where there is no such font.
    pub fn tables(&self, index: u32) -> Vec<TableEntry> {
        let sfnt: &[u8] = &self.data;
        let directory = self.directories.get(index as usize);
        directory.map_or_else(Vec::new, |offset| {
            entries(sfnt, *offset)
                .map(|(at, start, length)| TableEntry {
                    tag: tag_text(sfnt, at),
                    bytes: length,
                    inside: u64::from(start) + u64::from(length) <= sfnt.len() as u64,
                })
                .collect()
        })
    }

    /// The bytes of a table of the font with this number.
    pub fn table(&self, index: u32, tag: &str) -> Option<&[u8]> {
        let sfnt: &[u8] = &self.data;
        let offset = *self.directories.get(index as usize)?;
        let (_, start, length) = entries(sfnt, offset)
            .find(|(at, _, _)| sfnt.get(*at..*at + 4) == Some(tag.as_bytes()))?;
        sfnt.get(start as usize..(start as usize).checked_add(length as usize)?)
    }

    /// Whether the tables are compressed in the file.
    pub fn is_packed(&self) -> bool {
        matches!(self.container, Container::Woff | Container::Woff2)
    }

    /// The size of the unpacked file, in bytes.
    pub fn unpacked_bytes(&self) -> u64 {
        self.data.len() as u64
    }

    /// The file as browsers see it when they load it as a web font: without the
    /// tables that their sanitiser drops. Collections are not loaded that way
    /// and stay as they are.
    #[must_use]
    pub fn as_web_font(mut self) -> Self {
        if self.container != Container::Collection
            && let Some((record, kern)) = find_table(&self.data, *b"kern")
            && sanitiser::drops_kern(kern)
        {
            let mut sfnt = self.data.to_vec();
            // Under a tag that nobody asks for, the table is as good as gone.
            sfnt[record..record + 4].copy_from_slice(b"gone");
            self.data = Blob::from(sfnt);
            self.kerning_dropped = true;
        }
        self
    }

    /// Whether [`FontFile::as_web_font`] dropped the old kerning table.
    pub fn kerning_dropped(&self) -> bool {
        self.kerning_dropped
    }

    /// The unpacked file: an sfnt, or a collection of them.
    pub fn sfnt(&self) -> &[u8] {
        &self.data
    }

    pub(super) fn data(&self) -> Blob {
        self.data.clone()
    }
}

fn recognise(bytes: &[u8]) -> Result<Container, FontError> {
    let Some(magic) = bytes.get(..4) else {
        return Err(if bytes.is_empty() {
            FontError::Empty
        } else {
            FontError::NotAFont { start: hex(bytes) }
        });
    };
    match magic {
        [0, 1, 0, 0] | b"true" => Ok(Container::TrueType),
        b"OTTO" => Ok(Container::OpenTypeCff),
        b"ttcf" => Ok(Container::Collection),
        b"wOFF" => Ok(Container::Woff),
        b"wOF2" => Ok(Container::Woff2),
        _ => Err(recognise_other(bytes)),
    }
}

/// Names the things that are most often saved under a font's file name.
fn recognise_other(bytes: &[u8]) -> FontError {
    let text = bytes
        .iter()
        .position(|byte| !byte.is_ascii_whitespace())
        .map_or(bytes, |start| &bytes[start..]);
    let starts = |prefix: &str| {
        text.get(..prefix.len())
            .is_some_and(|start| start.eq_ignore_ascii_case(prefix.as_bytes()))
    };
    let other = |found, way_out| FontError::SomethingElse { found, way_out };
    if starts("<!doctype html") || starts("<html") {
        other(
            "a web page",
            "the download link may have led to an error page",
        )
    } else if starts("version https://git-lfs") {
        other(
            "a pointer to a large file",
            "run `git lfs pull` to fetch the font itself",
        )
    } else if bytes.starts_with(b"PK\x03\x04") {
        other("a ZIP archive", "unpack it and name the font files inside")
    } else if bytes.starts_with(&[0x1f, 0x8b]) {
        other("a gzip file", "unpack it and name the font file inside")
    } else if bytes.starts_with(b"%!")
        || bytes.starts_with(&[0x80, 0x01])
        || bytes.starts_with(b"typ1")
    {
        other("a Type 1 font", "convert it to OpenType or WOFF2")
    } else if bytes.get(34..36) == Some(b"LP") {
        other("an EOT file", "ask for WOFF2 or TrueType")
    } else if starts("<?xml") || starts("<svg") {
        other("an XML or SVG file", "ask for WOFF2 or TrueType")
    } else {
        FontError::NotAFont {
            start: hex(&bytes[..bytes.len().min(4)]),
        }
    }
}

fn hex(bytes: &[u8]) -> String {
    let digits: Vec<String> = bytes.iter().map(|byte| format!("{byte:02X}")).collect();
    digits.join(" ")
}

fn too_large(bytes: u64, limits: Limits) -> FontError {
    FontError::TooLarge {
        bytes,
        limit: limits.unpacked,
    }
}

/// Unpacks WOFF 1.0 after checking the sizes that its directory declares, as
/// the decoder allocates what the directory asks for.
fn unpack_woff(bytes: &[u8], limits: Limits) -> Result<Vec<u8>, FontError> {
    const HEADER: usize = 44;
    const ENTRY: usize = 20;
    let tables = be16(bytes, 12).ok_or_else(|| damaged("WOFF header", "it ends early"))?;
    let mut total = 12u64;
    for table in 0..usize::from(tables) {
        let at = HEADER + table * ENTRY;
        let (Some(offset), Some(packed), Some(unpacked)) = (
            be32(bytes, at + 4),
            be32(bytes, at + 8),
            be32(bytes, at + 12),
        ) else {
            return Err(damaged("WOFF directory", "it ends early"));
        };
        let end = u64::from(offset) + u64::from(packed);
        if end > bytes.len() as u64 {
            return Err(FontError::CutShort {
                table: tag_text(bytes, at).trim_end().to_owned(),
                end,
                length: bytes.len() as u64,
            });
        }
        total += 16 + u64::from(unpacked).div_ceil(4) * 4;
    }
    if total > limits.unpacked {
        return Err(too_large(total, limits));
    }
    shielded(|| wuff::decompress_woff1(bytes))
        .ok_or_else(|| damaged("WOFF data", "its tables cannot be unpacked"))
}

/// Unpacks WOFF 2.0. The decoder tells the size of the stream before it
/// unpacks it, so the limit is checked there.
fn unpack_woff2(bytes: &[u8], limits: Limits) -> Result<Vec<u8>, FontError> {
    if let Some(length) = be32(bytes, 8)
        && u64::from(length) > bytes.len() as u64
    {
        return Err(FontError::CutShort {
            table: "all tables".to_owned(),
            end: u64::from(length),
            length: bytes.len() as u64,
        });
    }
    // The header's total size is only a hint, but a font that already claims
    // too much can be refused without unpacking it.
    if let Some(total) = be32(bytes, 16)
        && u64::from(total) > limits.unpacked
    {
        return Err(too_large(u64::from(total), limits));
    }
    shielded(|| wuff::decompress_woff2(bytes))
        .ok_or_else(|| damaged("WOFF2 data", "its tables cannot be unpacked"))
}

/// Runs a decoder of another crate over hostile bytes; a panic inside it is
/// a damaged font, not our end.
fn shielded<E>(decode: impl FnOnce() -> Result<Vec<u8>, E>) -> Option<Vec<u8>> {
    catch_unwind(AssertUnwindSafe(|| decode().ok()))
        .ok()
        .flatten()
}

/// Where the table directory of each font starts, in bytes.
fn font_offsets(sfnt: &[u8]) -> Result<Vec<usize>, FontError> {
    // The largest collections hold some dozens of fonts.
    const MOST_FONTS: u32 = 1024;
    if !sfnt.starts_with(b"ttcf") {
        return Ok(vec![0]);
    }
    let count = be32(sfnt, 8).ok_or_else(|| damaged("collection header", "it ends early"))?;
    if count == 0 || count > MOST_FONTS {
        return Err(damaged(
            "collection header",
            &format!("it claims {count} fonts"),
        ));
    }
    (0..count as usize)
        .map(|font| {
            be32(sfnt, 12 + font * 4)
                .map(|offset| offset as usize)
                .ok_or_else(|| damaged("collection header", "it ends early"))
        })
        .collect()
}

/// The records of the table directory at `offset` that the file has: where the
/// record starts, where the table starts, and its length, all in bytes.
fn entries(sfnt: &[u8], offset: usize) -> impl Iterator<Item = (usize, u32, u32)> + '_ {
    let count = offset.checked_add(4).and_then(|at| be16(sfnt, at));
    (0..usize::from(count.unwrap_or(0))).map_while(move |table| {
        let at = offset + 12 + table * 16;
        Some((at, be32(sfnt, at + 8)?, be32(sfnt, at + 12)?))
    })
}

/// Checks that every table of the directory at `offset` lies in the file, and
/// that those are there without which no browser loads a font.
fn check_directory(sfnt: &[u8], offset: usize) -> Result<(), FontError> {
    let count = offset
        .checked_add(4)
        .and_then(|at| be16(sfnt, at))
        .ok_or_else(|| damaged("table directory", "it ends early"))?;
    let mut tags = Vec::with_capacity(usize::from(count));
    for table in 0..usize::from(count) {
        let at = offset + 12 + table * 16;
        let (Some(start), Some(length)) = (be32(sfnt, at + 8), be32(sfnt, at + 12)) else {
            return Err(damaged("table directory", "it ends early"));
        };
        let end = u64::from(start) + u64::from(length);
        if end > sfnt.len() as u64 {
            return Err(FontError::CutShort {
                table: tag_text(sfnt, at).trim_end().to_owned(),
                end,
                length: sfnt.len() as u64,
            });
        }
        tags.push(&sfnt[at..at + 4]);
    }
    for table in ["head", "hhea", "hmtx", "maxp"] {
        if !tags.contains(&table.as_bytes()) {
            return Err(FontError::NoTable { table });
        }
    }
    Ok(())
}

/// Where the record of table `tag` starts, and the table, in a single sfnt whose
/// directory was checked.
fn find_table(sfnt: &[u8], tag: [u8; 4]) -> Option<(usize, &[u8])> {
    let tables = usize::from(be16(sfnt, 4)?);
    let record = (0..tables)
        .map(|table| 12 + table * 16)
        .find(|at| sfnt.get(*at..at + 4) == Some(&tag))?;
    let (start, length) = (be32(sfnt, record + 8)?, be32(sfnt, record + 12)?);
    let table = sfnt.get(start as usize..(start as usize).checked_add(length as usize)?)?;
    Some((record, table))
}

fn damaged(place: &'static str, detail: &str) -> FontError {
    FontError::Damaged {
        place,
        detail: detail.to_owned(),
    }
}

fn tag_text(bytes: &[u8], at: usize) -> String {
    bytes[at..at + 4]
        .iter()
        .map(|byte| {
            if byte.is_ascii_graphic() || *byte == b' ' {
                char::from(*byte)
            } else {
                '?'
            }
        })
        .collect()
}

fn be16(bytes: &[u8], at: usize) -> Option<u16> {
    let bytes = bytes.get(at..at.checked_add(2)?)?;
    Some(u16::from_be_bytes(bytes.try_into().ok()?))
}

fn be32(bytes: &[u8], at: usize) -> Option<u32> {
    let bytes = bytes.get(at..at.checked_add(4)?)?;
    Some(u32::from_be_bytes(bytes.try_into().ok()?))
}
