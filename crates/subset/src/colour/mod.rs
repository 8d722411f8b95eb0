//! Glyphs in colour: layers (`COLR`), pictures (`sbix`, `CBDT`), drawings (`SVG `).

pub(crate) mod bitmaps;
pub(crate) mod drawings;
pub(crate) mod layers;
pub(crate) mod strikes;
