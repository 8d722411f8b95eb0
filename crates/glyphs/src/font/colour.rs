//! Colour and bitmap tables, and which browser engines draw each.

use serde::Serialize;
use skrifa::font::{Font, Kind};
use skrifa::raw::TableProvider as _;

/// A table of glyphs in colour or pixels.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct ColourTable {
    /// The format, such as `COLR v1`.
    pub format: String,
    /// The engines that draw it.
    pub drawn_by: Vec<&'static str>,
    /// Those that do not.
    pub not_drawn_by: Vec<&'static str>,
}

const BLINK: &str = "Chromium";
const GECKO: &str = "Firefox";
const WEBKIT: &str = "WebKit";

/// The colour and bitmap tables of `font`.
///
/// Engines: COLR v0 and CBDT or sbix pictures are drawn by all; COLR v1 by
/// Chromium and Firefox; SVG by Firefox and WebKit on Apple systems.
pub fn colour_tables(font: &Font) -> Vec<ColourTable> {
    let Kind::Sfnt(tables, _) = font.kind() else {
        return Vec::new();
    };
    let mut found = Vec::new();
    let mut add = |format: String, drawn_by: &[&'static str]| {
        found.push(ColourTable {
            format,
            drawn_by: drawn_by.to_vec(),
            not_drawn_by: [BLINK, GECKO, WEBKIT]
                .into_iter()
                .filter(|engine| !drawn_by.contains(engine))
                .collect(),
        });
    };
    if let Ok(colr) = tables.colr() {
        match colr.version() {
            0 => add("COLR v0".to_owned(), &[BLINK, GECKO, WEBKIT]),
            version => add(format!("COLR v{version}"), &[BLINK, GECKO]),
        }
    }
    if tables.svg().is_ok() {
        add("SVG".to_owned(), &[GECKO, WEBKIT]);
    }
    if tables.cbdt().is_ok() {
        add("CBDT bitmaps".to_owned(), &[BLINK, GECKO]);
    }
    if tables.sbix().is_ok() {
        add("sbix bitmaps".to_owned(), &[BLINK, GECKO, WEBKIT]);
    }
    if tables.ebdt().is_ok() {
        add("EBDT bitmaps".to_owned(), &[]);
    }
    found
}

/// The engines that draw none of a font's colour tables; none where it has no such table.
pub fn not_coloured_by(tables: &[ColourTable]) -> Vec<&'static str> {
    let engines = tables.first().map(|first| {
        let all = first.drawn_by.iter().chain(&first.not_drawn_by);
        all.copied().collect::<Vec<_>>()
    });
    let drawn = |engine: &&str| tables.iter().any(|table| table.drawn_by.contains(engine));
    engines
        .into_iter()
        .flatten()
        .filter(|engine| !drawn(engine))
        .collect()
}
