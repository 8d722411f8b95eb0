//! The classes of faces, and what a font's tables state about them.

use serde::{Deserialize, Serialize};
use skrifa::font::{Font, Kind};
use skrifa::raw::TableProvider as _;

/// The class of a face.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Class {
    /// Strokes end in serifs.
    Serif,
    /// Strokes end without.
    Sans,
    /// Every letter has the same width.
    Monospace,
    /// Drawn like handwriting.
    Script,
    /// For display, of no other class.
    Decorative,
    /// Signs instead of letters.
    Symbol,
    /// Nothing tells.
    Unknown,
}

impl Class {
    /// The class in words.
    pub fn label(self) -> &'static str {
        match self {
            Class::Serif => "serif",
            Class::Sans => "sans",
            Class::Monospace => "monospace",
            Class::Script => "script",
            Class::Decorative => "decorative",
            Class::Symbol => "symbol",
            Class::Unknown => "unknown",
        }
    }

    /// The generic family (CSS Fonts 4, §2.1.2) of the class, where there is
    /// one.
    pub fn generic(self) -> Option<&'static str> {
        match self {
            Class::Serif => Some("serif"),
            Class::Sans => Some("sans-serif"),
            Class::Monospace => Some("monospace"),
            Class::Script => Some("cursive"),
            Class::Decorative | Class::Symbol | Class::Unknown => None,
        }
    }
}

/// Fixed pitch, family class and PANOSE of a font.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct DeclaredClass {
    /// `post` `isFixedPitch`.
    pub fixed_pitch: bool,
    /// OS/2 `sFamilyClass`: the class in the high byte, the subclass in the
    /// low one. 0 where there is no OS/2 table.
    pub family_class: i16,
    /// OS/2 `panose`, ten digits; all 0 where there is no OS/2 table.
    pub panose: [u8; 10],
}

impl DeclaredClass {
    /// Reads `post` and OS/2.
    pub fn read(font: &Font) -> Self {
        let Kind::Sfnt(tables, _) = font.kind() else {
            return DeclaredClass::default();
        };
        let mut declared = DeclaredClass {
            fixed_pitch: tables.post().is_ok_and(|post| post.is_fixed_pitch() != 0),
            ..DeclaredClass::default()
        };
        if let Ok(os2) = tables.os2() {
            declared.family_class = os2.s_family_class();
            for (digit, declared) in os2.panose_10().iter().zip(&mut declared.panose) {
                *declared = *digit;
            }
        }
        declared
    }

    /// PANOSE family kind 2 is Latin text, the only one whose further digits
    /// are read here.
    fn is_latin_text(&self) -> bool {
        self.panose[0] == 2
    }

    /// Serifs or none by PANOSE: serif styles 2 to 10 have serifs, 11 to 15
    /// have none.
    pub fn panose_serif(&self) -> Option<bool> {
        match self.panose[1] {
            2..=10 if self.is_latin_text() => Some(true),
            11..=15 if self.is_latin_text() => Some(false),
            _ => None,
        }
    }

    /// Whether PANOSE proportion 9 says that the font is monospaced.
    pub fn panose_monospaced(&self) -> bool {
        self.is_latin_text() && self.panose[3] == 9
    }

    /// Serifs or none by `sFamilyClass`: classes 1 to 5 and 7 have serifs, 8
    /// has none.
    pub fn class_serif(&self) -> Option<bool> {
        match self.family_class >> 8 {
            1..=5 | 7 => Some(true),
            8 => Some(false),
            _ => None,
        }
    }
}
