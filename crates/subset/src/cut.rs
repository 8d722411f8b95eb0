//! A part of a face: which glyphs it takes, and its tables.

use std::collections::{BTreeMap, BTreeSet};

use tidy_lattice_glyphs::font::CharacterSet;
use write_fonts::FontBuilder;
use write_fonts::types::Tag;

use crate::CutError;
use crate::bytes::{Budget, View};
use crate::characters::{Variant, cmap};
use crate::colour::layers::Colour;
use crate::colour::{bitmaps, drawings, strikes};
use crate::facts::{cut_kern, cut_names, cut_os2, cut_post, names_of_axes};
use crate::glyphs::{GlyphMap, GlyphSet};
use crate::layout::{Features, close_over_substitutions};
use crate::math;
use crate::metrics::{cut_metrics, cut_origins, cut_variations};
use crate::outlines::compact::{cut_cff, cut_cff2};
use crate::outlines::glyf::Glyphs;
use crate::outlines::gvar::cut_gvar;
use crate::source::Source;
use crate::variations::Remap;

/// What a part of a face is to show.
#[derive(Debug, Clone)]
pub struct Want {
    /// The characters, variation selectors among them.
    pub characters: CharacterSet,
    /// Whether they are those of a `unicode-range`, so that letters which their marks can be
    /// composed to are another file's.
    pub literal: bool,
    /// The features that stay.
    pub features: Features,
    /// Whether instructions for small sizes stay: TrueType programs, stems of CFF.
    pub hints: bool,
    /// Another name for the family, where its licence reserves the name.
    pub family: Option<String>,
}

/// A part of a face, as an sfnt.
#[derive(Debug, Clone)]
pub struct Cut {
    /// The font file.
    pub sfnt: Vec<u8>,
    /// The characters that are wanted and that the face has.
    pub characters: CharacterSet,
    /// The ids that its glyphs have in the source, by new id.
    pub glyphs: Vec<u16>,
    /// The tags of the features that are left.
    pub features: BTreeSet<[u8; 4]>,
    /// Its tables and their sizes in bytes.
    pub tables: Vec<(String, usize)>,
    /// Tables of the source that are gone, by tag.
    pub dropped: Vec<String>,
}

/// Tables that stay as they are: nothing in them is about single glyphs.
const WHOLE: [&[u8; 4]; 7] = [
    b"BASE", b"CPAL", b"MVAR", b"STAT", b"avar", b"fvar", b"gasp",
];

/// Tables for TrueType instructions.
const HINTS: [&[u8; 4]; 4] = [b"cvar", b"cvt ", b"fpgm", b"prep"];

impl Source<'_> {
    /// Cuts out what `want` needs.
    ///
    /// # Errors
    ///
    /// [`CutError::NothingNeeded`] where the face has none of the characters; the others
    /// where a table cannot be read or written.
    pub fn cut(&self, want: &Want) -> Result<Cut, CutError> {
        let budget = Budget::for_font(self.bytes);
        let asked = (self.characters).asked_for(&want.characters, want.literal);
        let shown: BTreeSet<u32> = (want.characters.iter())
            .filter(|point| {
                let signs = self.characters.symbol && *point <= 0xFF;
                asked.contains(point) || signs && asked.contains(&(point + 0xF000))
            })
            .collect();
        if shown.is_empty() {
            return Err(CutError::NothingNeeded {
                wanted: want.characters.len(),
            });
        }
        let variants = self.characters.variants_of(&want.characters, &asked);
        let (shaped, kept) = self.kept_glyphs(&asked, &variants, want, &budget)?;
        let map = GlyphMap::of(&kept);
        let mut part = Part {
            source: self,
            shaped: map.only(&shaped),
            map,
            budget: &budget,
            tables: BTreeMap::new(),
        };
        part.outlines(want.hints)?;
        part.metrics()?;
        let features = part.layout(&want.features)?;
        part.colour()?;
        part.facts(want, &asked, &variants)?;
        Ok(part.finish(shown, features))
    }

    /// Which glyphs texts of the characters are shaped to, and all that these are drawn with.
    fn kept_glyphs(
        &self,
        asked: &BTreeSet<u32>,
        variants: &[Variant],
        want: &Want,
        budget: &Budget,
    ) -> Result<(GlyphSet, GlyphSet), CutError> {
        let mut set: GlyphSet = (asked.iter())
            .filter_map(|point| self.characters.glyphs.get(point).copied())
            .chain(variants.iter().filter_map(|variant| variant.glyph))
            .chain([0])
            .collect();
        if let Some(layout) = &self.substitutions {
            close_over_substitutions(layout, &want.features, &mut set, budget)?;
        }
        if let Some(view) = self.view(b"MATH", budget) {
            math::close(view, &mut set)?;
        }
        let shaped = set.clone();
        if let Some(view) = self.view(b"COLR", budget) {
            Colour::read(view)?.close(&mut set)?;
        }
        if let Some(view) = self.view(b"sbix", budget) {
            strikes::close(view, self.glyph_count, &mut set)?;
        }
        if let Some(glyphs) = self.glyf(budget)? {
            glyphs.close(&mut set)?;
        }
        // Ids beyond the last glyph are what damaged tables name.
        let kept = set.iter().filter(|glyph| *glyph < self.glyph_count);
        Ok((shaped, kept.collect()))
    }

    fn glyf<'b>(&'b self, budget: &'b Budget) -> Result<Option<Glyphs<'b>>, CutError> {
        let Some(glyf) = self.view(b"glyf", budget) else {
            return Ok(None);
        };
        let need = |tag, table| self.view(tag, budget).ok_or(CutError::NoTable { table });
        let long = need(b"head", "head")?.u16(50)? != 0;
        let loca = need(b"loca", "loca")?;
        Glyphs::read(glyf, loca, long, self.glyph_count).map(Some)
    }
}

/// A part while its tables are being made.
struct Part<'p, 'a> {
    source: &'p Source<'a>,
    map: GlyphMap,
    /// Of these the ones that texts are shaped to: parts of composites and layers of colour
    /// are drawn, but nothing is placed or put in place of them.
    shaped: GlyphMap,
    budget: &'p Budget,
    tables: BTreeMap<[u8; 4], Vec<u8>>,
}

impl<'p> Part<'p, '_> {
    fn view(&self, tag: &[u8; 4]) -> Option<View<'p>> {
        self.source.view(tag, self.budget)
    }

    fn need(&self, tag: &[u8; 4], table: &'static str) -> Result<View<'p>, CutError> {
        self.view(tag).ok_or(CutError::NoTable { table })
    }

    fn outlines(&mut self, hints: bool) -> Result<(), CutError> {
        let mut head = self.need(b"head", "head")?.slice(0, 54)?.to_vec();
        if let Some(glyphs) = self.source.glyf(self.budget)? {
            let (glyf, loca, long) = glyphs.cut(&self.map, hints)?;
            self.tables.insert(*b"glyf", glyf);
            self.tables.insert(*b"loca", loca);
            head[50..52].copy_from_slice(&u16::from(long).to_be_bytes());
            if let Some(gvar) = self.view(b"gvar") {
                self.tables.insert(*b"gvar", cut_gvar(gvar, &self.map)?);
            }
            if hints {
                self.whole(&HINTS);
            }
        } else if let Some(cff) = self.view(b"CFF ") {
            self.tables
                .insert(*b"CFF ", cut_cff(cff, &self.map, hints)?);
        } else if let Some(cff) = self.view(b"CFF2") {
            self.tables
                .insert(*b"CFF2", cut_cff2(cff, &self.map, hints)?);
        } else if self.view(b"CBDT").is_none() {
            return Err(CutError::NoTable {
                table: "glyf, CFF or CBDT",
            });
        }
        self.tables.insert(*b"head", head);
        let mut maxp = self.need(b"maxp", "maxp")?;
        // Version 0.5 has six bytes, version 1 has 32.
        let length = if maxp.u32(0)? == 0x1_0000 { 32 } else { 6 };
        maxp.data = maxp.slice(0, length)?;
        let mut maxp = maxp.data.to_vec();
        maxp[4..6].copy_from_slice(&(self.map.len() as u16).to_be_bytes());
        self.tables.insert(*b"maxp", maxp);
        Ok(())
    }

    fn whole(&mut self, tags: &[&[u8; 4]]) {
        for tag in tags {
            if let Some(view) = self.view(tag) {
                self.tables.insert(**tag, view.data.to_vec());
            }
        }
    }

    fn metrics(&mut self) -> Result<(), CutError> {
        for (header, metrics, required) in [(b"hhea", b"hmtx", true), (b"vhea", b"vmtx", false)] {
            let (Some(head), Some(table)) = (self.view(header), self.view(metrics)) else {
                if required {
                    return Err(CutError::NoTable {
                        table: "hhea and hmtx",
                    });
                }
                continue;
            };
            let (bytes, count) = cut_metrics(table, head.u16(34)?, &self.map)?;
            let mut head = head.slice(0, 36)?.to_vec();
            head[34..36].copy_from_slice(&count.to_be_bytes());
            self.tables.insert(*header, head);
            self.tables.insert(*metrics, bytes);
        }
        if let Some(view) = self.view(b"VORG") {
            self.tables.insert(*b"VORG", cut_origins(view, &self.map)?);
        }
        for (tag, maps, table) in [(b"HVAR", 3, "HVAR"), (b"VVAR", 4, "VVAR")] {
            if let Some(view) = self.view(tag) {
                let bytes = cut_variations(view, maps, &self.map, table)?;
                self.tables.insert(*tag, bytes);
            }
        }
        self.whole(&WHOLE);
        Ok(())
    }

    fn layout(&mut self, features: &Features) -> Result<BTreeSet<[u8; 4]>, CutError> {
        let source = self.source;
        let substitutions = source
            .substitutions
            .as_ref()
            .map(|l| l.cut(&self.shaped, features));
        let positions = source
            .positions
            .as_ref()
            .map(|l| l.cut(&self.shaped, features));
        let mut tags = BTreeSet::new();
        let mut marks = BTreeSet::new();
        let mut varied = BTreeSet::new();
        let mut visit = |outer, inner| {
            varied.insert((outer, inner));
        };
        if let Some(cut) = &substitutions {
            tags.extend(cut.tags());
            marks.extend(cut.mark_sets());
        }
        if let Some(cut) = &positions {
            tags.extend(cut.tags());
            marks.extend(cut.mark_sets());
            cut.variations(&mut visit);
        }
        let definitions = &source.definitions;
        definitions.variations(&self.shaped, &mut visit);
        let (store, remap) = match &definitions.store {
            Some(store) => store.cut(varied)?,
            None => (None, Remap::default()),
        };
        let marks = definitions.mark_set_numbers(&marks);
        if let Some(bytes) = substitutions
            .map(|cut| cut.write(&marks, &remap))
            .transpose()?
            .flatten()
        {
            self.tables.insert(*b"GSUB", bytes);
        }
        if let Some(bytes) = positions
            .map(|cut| cut.write(&marks, &remap))
            .transpose()?
            .flatten()
        {
            self.tables.insert(*b"GPOS", bytes);
        }
        if self.view(b"GDEF").is_some()
            && let Some(bytes) =
                definitions.write(&self.shaped, &marks, &remap, store.as_deref())?
        {
            self.tables.insert(*b"GDEF", bytes);
        }
        // Where GPOS kerns, nobody asks the old table.
        if !tags.contains(b"kern")
            && features.keeps(*b"kern")
            && let Some(kern) = self.view(b"kern")
            && let Some(bytes) = cut_kern(kern, &self.shaped)?
        {
            self.tables.insert(*b"kern", bytes);
        }
        if let Some(view) = self.view(b"MATH")
            && let Some(bytes) = math::cut(view, &self.map)?
        {
            self.tables.insert(*b"MATH", bytes);
        }
        Ok(tags)
    }

    fn colour(&mut self) -> Result<(), CutError> {
        if let Some(view) = self.view(b"COLR") {
            match Colour::read(view)?.cut(&self.map)? {
                Some(bytes) => {
                    self.tables.insert(*b"COLR", bytes);
                }
                None if self.view(b"SVG ").is_none() => {
                    self.tables.remove(b"CPAL");
                }
                None => {}
            }
        }
        if let Some(view) = self.view(b"sbix")
            && let Some(bytes) = strikes::cut(view, &self.map)?
        {
            self.tables.insert(*b"sbix", bytes);
        }
        if let (Some(index), Some(data)) = (self.view(b"CBLC"), self.view(b"CBDT"))
            && let Some((index, data)) = bitmaps::cut(index, data, &self.map)?
        {
            self.tables.insert(*b"CBLC", index);
            self.tables.insert(*b"CBDT", data);
        }
        if let Some(view) = self.view(b"SVG ")
            && let Some(bytes) = drawings::cut(view, &self.map)?
        {
            self.tables.insert(*b"SVG ", bytes);
        }
        Ok(())
    }

    fn facts(
        &mut self,
        want: &Want,
        asked: &BTreeSet<u32>,
        variants: &[Variant],
    ) -> Result<(), CutError> {
        let characters = &self.source.characters;
        let table = cmap(characters, asked, variants, &self.map)?;
        self.tables.insert(*b"cmap", table);
        if let Some(view) = self.view(b"OS/2") {
            self.tables.insert(*b"OS/2", cut_os2(view, asked)?);
        }
        if let Some(view) = self.view(b"post") {
            self.tables.insert(*b"post", cut_post(view)?);
        }
        if let Some(view) = self.view(b"name") {
            let axes = names_of_axes(self.view(b"fvar"), self.view(b"STAT"))?;
            let names = cut_names(view, &axes, want.family.as_deref())?;
            self.tables.insert(*b"name", names);
        }
        Ok(())
    }

    fn finish(self, shown: BTreeSet<u32>, features: BTreeSet<[u8; 4]>) -> Cut {
        let name = |tag: &[u8; 4]| String::from_utf8_lossy(tag).trim_end().to_owned();
        let tables = (self.tables.iter())
            .map(|(tag, bytes)| (name(tag), bytes.len()))
            .collect();
        let dropped = (self.source.tables.keys())
            .filter(|tag| !self.tables.contains_key(*tag))
            .map(name)
            .collect();
        let mut builder = FontBuilder::new();
        for (tag, bytes) in self.tables {
            builder.add_raw(Tag::new(&tag), bytes);
        }
        Cut {
            sfnt: builder.build(),
            characters: CharacterSet::of(shown),
            glyphs: self.map.old().to_vec(),
            features,
            tables,
            dropped,
        }
    }
}
