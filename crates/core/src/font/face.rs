//! One face: a font of a file at one position of its design space.

use serde::Serialize;
use skrifa::font::Font;
use skrifa::font::attribute::Style;

use super::{Container, FacePick, FontError, FontFile, LineMetrics, Names, position};

/// The slope of a face, as `font-style` names it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, schemars::JsonSchema)]
#[serde(rename_all = "lowercase")]
pub enum Slope {
    /// Upright.
    Normal,
    /// Drawn as an italic.
    Italic,
    /// Slanted upright letters.
    Oblique,
}

impl Slope {
    /// The value of the `font-style` descriptor.
    pub fn css(self) -> &'static str {
        match self {
            Slope::Normal => "normal",
            Slope::Italic => "italic",
            Slope::Oblique => "oblique",
        }
    }
}

/// A face, ready to be asked for characters, metrics and shapes.
#[derive(Clone)]
pub struct Face {
    font: Font,
    names: Names,
    container: Container,
    line: LineMetrics,
    weight: f32,
    slope: Slope,
    monospaced: bool,
    serif: Option<bool>,
    kerning_dropped: bool,
    colour: bool,
}

impl Face {
    /// Opens the face of `file` that `pick` names.
    ///
    /// # Errors
    ///
    /// [`FontError::NoSuchIndex`], [`FontError::NoSuchPosition`], and
    /// [`FontError::Damaged`] where `head` states an impossible em.
    pub fn open(file: &FontFile, pick: &FacePick) -> Result<Self, FontError> {
        if pick.index >= file.face_count() {
            return Err(FontError::NoSuchIndex {
                index: pick.index,
                count: file.face_count(),
            });
        }
        let damaged = |place, detail: String| FontError::Damaged { place, detail };
        let font = Font::new(file.data(), pick.index)
            .ok_or_else(|| damaged("table directory", "it cannot be read".to_owned()))?;
        // OpenType 1.9.1, head: "Valid range is from 16 to 16384".
        let stated = font.metrics().raw_units_per_em;
        if !(16..=16384).contains(&stated) {
            return Err(damaged(
                "head table",
                format!("it states {stated} units per em, but 16 to 16384 are possible"),
            ));
        }
        let mut names = Names::read(&font);
        let attributes = font.default_attributes();
        let mut weight = attributes.weight.value();
        let slope = match attributes.style {
            Style::Normal => Slope::Normal,
            Style::Italic => Slope::Italic,
            Style::Oblique(_) => Slope::Oblique,
        };
        let (monospaced, serif) = class_hints(&font);
        let font = match &pick.position {
            None => font,
            Some(asked) => {
                let placed = position::place(&font, asked)?;
                if let Some((_, value)) = placed.values.iter().find(|(tag, _)| tag == "wght") {
                    weight = *value;
                }
                // The names of the default position are not this face's, and
                // only named positions have names of their own.
                names.full = (placed.name.as_ref()).map(|name| format!("{} {name}", names.family));
                names.postscript = placed.postscript;
                names.style = placed.name.unwrap_or_else(|| asked.clone());
                placed.font
            }
        };
        let line = LineMetrics::choose(font.metrics());
        let colour = has_colour(&font);
        Ok(Face {
            font,
            names,
            container: file.container(),
            line,
            weight,
            slope,
            monospaced,
            serif,
            kerning_dropped: file.kerning_dropped(),
            colour,
        })
    }

    /// What the face calls itself.
    pub fn names(&self) -> &Names {
        &self.names
    }

    /// The container of the file that the face came from.
    pub fn container(&self) -> Container {
        self.container
    }

    /// The vertical metrics that browsers use, in em.
    pub fn line(&self) -> LineMetrics {
        self.line
    }

    /// The weight on the scale of `font-weight`, 1 to 1000: OS/2
    /// `usWeightClass`, or the `wght` value of the position.
    pub fn weight(&self) -> f32 {
        self.weight
    }

    /// The slope, from OS/2 `fsSelection` and `post` `italicAngle`.
    pub fn slope(&self) -> Slope {
        self.slope
    }

    /// Font units per em, 16 to 16384.
    pub fn units_per_em(&self) -> u16 {
        self.font.units_per_em()
    }

    /// The generic family (CSS Fonts 4, §2.1.2) that the face's own tables
    /// point to: `monospace` from `post` `isFixedPitch` or PANOSE, `serif` or
    /// `sans-serif` from OS/2 `sFamilyClass` or PANOSE. `None` where they are
    /// silent.
    pub fn stated_generic(&self) -> Option<&'static str> {
        if self.monospaced {
            Some("monospace")
        } else {
            self.serif
                .map(|serif| if serif { "serif" } else { "sans-serif" })
        }
    }

    /// Whether the face has glyphs in colour: a `COLR`, `CBDT`, `sbix` or `SVG`
    /// table.
    pub fn has_colour(&self) -> bool {
        self.colour
    }

    /// Whether browsers drop this face's kerning, as it is loaded as a web font.
    pub fn kerning_dropped(&self) -> bool {
        self.kerning_dropped
    }

    /// Whether the face has a Unicode character map at all.
    pub fn has_characters(&self) -> bool {
        self.font.charmap().has_unicode()
    }

    /// Whether the face maps `character` to a glyph other than `.notdef`.
    pub fn maps(&self, character: char) -> bool {
        self.font.charmap().map_unicode(character).is_some()
    }

    /// Whether the face's `cmap` format 14 subtable lists this variation
    /// sequence.
    pub fn maps_variation(&self, base: char, selector: char) -> bool {
        self.font
            .charmap()
            .map_unicode_variant(base, selector)
            .is_some()
    }

    /// The font underneath, for shaping.
    pub fn font(&self) -> &Font {
        &self.font
    }
}

/// Fixed pitch, and serifs or none, where the tables say so.
fn class_hints(font: &Font) -> (bool, Option<bool>) {
    use skrifa::font::Kind;
    use skrifa::raw::TableProvider;
    let Kind::Sfnt(tables, _) = font.kind() else {
        return (false, None);
    };
    let fixed = tables.post().is_ok_and(|post| post.is_fixed_pitch() != 0);
    let Ok(os2) = tables.os2() else {
        return (fixed, None);
    };
    let panose = os2.panose_10();
    // PANOSE family kind 2 is Latin text; there, serif styles 2 to 10 have
    // serifs and 11 to 15 have none, and proportion 9 is monospaced.
    let latin_text = panose.first() == Some(&2);
    let by_panose = match panose.get(1) {
        Some(2..=10) if latin_text => Some(true),
        Some(11..=15) if latin_text => Some(false),
        _ => None,
    };
    // OS/2 sFamilyClass: classes 1 to 5 and 7 have serifs, 8 has none.
    let by_class = match os2.s_family_class() >> 8 {
        1..=5 | 7 => Some(true),
        8 => Some(false),
        _ => None,
    };
    let fixed = fixed || (latin_text && panose.get(3) == Some(&9));
    (fixed, by_panose.or(by_class))
}

/// Whether the font has a table of glyphs in colour.
fn has_colour(font: &Font) -> bool {
    use skrifa::font::Kind;
    use skrifa::raw::TableProvider;
    match font.kind() {
        Kind::Sfnt(tables, _) => {
            tables.colr().is_ok()
                || tables.cbdt().is_ok()
                || tables.sbix().is_ok()
                || tables.svg().is_ok()
        }
        _ => false,
    }
}
