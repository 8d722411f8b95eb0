//! A face, read once, from which any number of parts can be cut.

use std::borrow::Cow;
use std::collections::{BTreeMap, BTreeSet};

use skrifa::raw::TableProvider;
use tidy_lattice_glyphs::font::{CharacterSet, FontFile};

use crate::CutError;
use crate::bytes::{Budget, View};
use crate::characters::Characters;
use crate::layout::{Definitions, Layout, Position, Substitution};

/// A face that parts are cut from.
pub struct Source<'a> {
    pub(crate) tables: BTreeMap<[u8; 4], Cow<'a, [u8]>>,
    pub(crate) bytes: usize,
    pub(crate) glyph_count: u16,
    pub(crate) characters: Characters,
    pub(crate) substitutions: Option<Layout<Substitution>>,
    pub(crate) positions: Option<Layout<Position>>,
    pub(crate) definitions: Definitions,
}

/// Names of tables as errors call them.
pub(crate) fn tag_name(tag: [u8; 4]) -> &'static str {
    match &tag {
        b"CBDT" => "CBDT",
        b"CBLC" => "CBLC",
        b"CFF " => "CFF",
        b"CFF2" => "CFF2",
        b"COLR" => "COLR",
        b"GDEF" => "GDEF",
        b"GPOS" => "GPOS",
        b"GSUB" => "GSUB",
        b"HVAR" => "HVAR",
        b"MATH" => "MATH",
        b"MVAR" => "MVAR",
        b"OS/2" => "OS/2",
        b"STAT" => "STAT",
        b"SVG " => "SVG",
        b"VORG" => "VORG",
        b"VVAR" => "VVAR",
        b"avar" => "avar",
        b"fvar" => "fvar",
        b"glyf" => "glyf",
        b"gvar" => "gvar",
        b"head" => "head",
        b"hhea" => "hhea",
        b"hmtx" => "hmtx",
        b"kern" => "kern",
        b"loca" => "loca",
        b"maxp" => "maxp",
        b"name" => "name",
        b"post" => "post",
        b"sbix" => "sbix",
        b"vhea" => "vhea",
        b"vmtx" => "vmtx",
        _ => "of another kind",
    }
}

impl<'a> Source<'a> {
    /// Reads face `index` of `file`: its characters and its layout tables; everything
    /// else is read when a part is cut.
    ///
    /// # Errors
    ///
    /// [`CutError::NoTable`] where there are no glyphs to cut, [`CutError::Damaged`] and
    /// [`CutError::TooMuchWork`] where a table cannot be read.
    pub fn read(file: &'a FontFile, index: u32) -> Result<Self, CutError> {
        let mut tables: BTreeMap<[u8; 4], Cow<'a, [u8]>> = BTreeMap::new();
        // What browsers drop of a web font is not there any more.
        for entry in file
            .tables(index)
            .into_iter()
            .filter(|entry| entry.tag != "gone")
        {
            if let (Ok(tag), Some(bytes)) = (
                <[u8; 4]>::try_from(entry.tag.as_bytes()),
                file.table(index, &entry.tag),
            ) {
                tables.entry(tag).or_insert(Cow::Borrowed(bytes));
            }
        }
        let has = |tag: &[u8; 4]| tables.contains_key(tag);
        if has(b"VARC") {
            return Err(CutError::NotSupported {
                what: "a font of variable composite glyphs (VARC)",
            });
        }
        if has(b"morx") && !has(b"GSUB") {
            return Err(CutError::NotSupported {
                what: "a font that is shaped by Apple's tables alone (morx)",
            });
        }
        let bytes = tables.values().map(|table| table.len()).sum();
        let font = skrifa::FontRef::from_index(file.sfnt(), index)
            .map_err(|_| CutError::NoTable { table: "maxp" })?;
        let glyph_count = font
            .maxp()
            .map_err(|_| CutError::NoTable { table: "maxp" })?
            .num_glyphs();
        let budget = Budget::for_font(bytes);
        let view = |tag: &[u8; 4]| {
            let table = tables.get(tag)?;
            Some(View::new(table, tag_name(*tag), &budget))
        };
        Ok(Source {
            characters: Characters::read(&font, glyph_count),
            substitutions: view(b"GSUB").map(Layout::read).transpose()?,
            positions: view(b"GPOS").map(Layout::read).transpose()?,
            definitions: view(b"GDEF")
                .map_or_else(|| Ok(Definitions::default()), Definitions::read)?,
            tables,
            bytes,
            glyph_count,
        })
    }

    pub(crate) fn view<'b>(&'b self, tag: &[u8; 4], budget: &'b Budget) -> Option<View<'b>> {
        let table = self.tables.get(tag)?;
        Some(View::new(table, tag_name(*tag), budget))
    }

    /// The characters that the face has glyphs for.
    pub fn characters(&self) -> CharacterSet {
        CharacterSet::of(self.characters.glyphs.keys().copied())
    }

    /// How many glyphs the face has.
    pub fn glyph_count(&self) -> u16 {
        self.glyph_count
    }

    /// The tags of its features, each once.
    pub fn features(&self) -> BTreeSet<[u8; 4]> {
        let mut tags = self
            .substitutions
            .as_ref()
            .map(Layout::tags)
            .unwrap_or_default();
        tags.extend(
            self.positions
                .as_ref()
                .map(Layout::tags)
                .unwrap_or_default(),
        );
        tags
    }

    /// Its tables and their sizes in bytes.
    pub fn tables(&self) -> Vec<(String, usize)> {
        (self.tables.iter())
            .map(|(tag, table)| {
                (
                    String::from_utf8_lossy(tag).trim_end().to_owned(),
                    table.len(),
                )
            })
            .collect()
    }
}
