//! Colour and bitmap tables, and which browser engines draw each.

use std::borrow::Cow;

use serde::{Deserialize, Serialize};
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

/// All engines, in the order of their bits in [`Engines`].
const ENGINES: [&str; 3] = [BLINK, GECKO, WEBKIT];

/// Some of the browser engines; written as their names.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(try_from = "Vec<String>", into = "Vec<&'static str>")]
pub struct Engines(u8);

impl Engines {
    /// No engine.
    pub const NONE: Self = Engines(0);
    /// Every engine.
    pub const ALL: Self = Engines(0b111);
    /// Those of the usual browsers outside of Apple's systems: Chromium, Firefox.
    pub const USUAL: Self = Engines(0b011);

    /// Those among both.
    pub fn and(self, other: Self) -> Self {
        Engines(self.0 & other.0)
    }

    /// Whether there are none.
    pub fn is_empty(self) -> bool {
        self.0 == 0
    }

    /// Their names.
    pub fn names(self) -> Vec<&'static str> {
        let all = ENGINES.into_iter().enumerate();
        all.filter(|(bit, _)| self.0 & (1 << bit) != 0)
            .map(|(_, name)| name)
            .collect()
    }

    fn named(names: &[&str]) -> Self {
        let bit = |name: &&str| ENGINES.iter().position(|known| known == name);
        Engines(
            names
                .iter()
                .filter_map(bit)
                .fold(0, |all, bit| all | 1 << bit),
        )
    }
}

impl Default for Engines {
    fn default() -> Self {
        Engines::ALL
    }
}

impl From<Engines> for Vec<&'static str> {
    fn from(engines: Engines) -> Self {
        engines.names()
    }
}

impl TryFrom<Vec<String>> for Engines {
    type Error = String;

    fn try_from(names: Vec<String>) -> Result<Self, String> {
        let unknown = names.iter().find(|name| !ENGINES.contains(&name.as_str()));
        match unknown {
            Some(name) => Err(format!(
                "{name:?} is no engine that is known: there are {}",
                ENGINES.join(", ")
            )),
            None => Ok(Engines::named(
                &names.iter().map(String::as_str).collect::<Vec<_>>(),
            )),
        }
    }
}

impl schemars::JsonSchema for Engines {
    fn schema_name() -> Cow<'static, str> {
        "Engines".into()
    }

    fn json_schema(_: &mut schemars::SchemaGenerator) -> schemars::Schema {
        schemars::json_schema!({
            "description": "Names of browser engines.",
            "type": "array",
            "items": { "enum": ENGINES },
        })
    }
}

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
            not_drawn_by: ENGINES
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
pub fn not_coloured_by(tables: &[ColourTable]) -> Engines {
    if tables.is_empty() {
        return Engines::NONE;
    }
    let drawn = |engine: &&str| tables.iter().any(|table| table.drawn_by.contains(engine));
    let not: Vec<&str> = ENGINES
        .into_iter()
        .filter(|engine| !drawn(engine))
        .collect();
    Engines::named(&not)
}
