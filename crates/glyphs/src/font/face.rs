//! One face: a font of a file at one position of its design space.

use std::collections::BTreeSet;
use std::sync::Arc;

use serde::{Deserialize, Serialize};
use skrifa::font::Font;
use skrifa::font::attribute::Style;

use super::card::{Card, CardBody, CardError, MeasuredIn, Underline};
use super::class::DeclaredClass;
use super::colour::{Engines, colour_tables, not_coloured_by};
use super::{
    CharacterSet, Container, FacePick, FontError, FontFile, LineMetrics, Names, lookups, position,
};

/// The most mappings that are read: a hostile `cmap` may repeat itself, but
/// there are no more characters than Unicode has code points.
const MOST_MAPPINGS: usize = 4 * 0x11_0000;

/// The slope of a face, as `font-style` names it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, schemars::JsonSchema)]
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

/// What a face is known by.
#[derive(Clone)]
pub enum Body {
    /// Its font file.
    Font(Font),
    /// A card of it.
    Card(CardBody),
}

/// A face, ready to be asked for characters, metrics and shapes.
#[derive(Clone)]
pub struct Face {
    body: Body,
    names: Names,
    container: Container,
    line: LineMetrics,
    weight: f32,
    width: f32,
    slope: Slope,
    units_per_em: u16,
    underline: Option<Underline>,
    declared_generic: Option<&'static str>,
    kerning_dropped: bool,
    colour: bool,
    not_coloured_by: Engines,
    /// The files of a face that is several; each holds a part of its characters.
    slices: Option<Arc<Vec<Slice>>>,
}

/// One file of a face that is several files, as npm packages and font services ship
/// it.
#[derive(Clone)]
pub struct Slice {
    /// The characters that it is held to: its `unicode-range`.
    pub range: CharacterSet,
    /// Its face.
    pub face: Face,
}

impl Face {
    /// The face that `slices` are together, in the order of their rules: of two that
    /// hold a character the later one shows it (CSS Fonts 4, §4.5.1). Names, metrics
    /// and class are those of the slice that has most Latin letters, else most
    /// characters. `None` where there is no slice; a card cannot be one.
    pub fn of_slices(slices: Vec<Slice>) -> Option<Self> {
        let latin = |slice: &Slice| {
            let shown = |c: &char| slice.range.contains(u32::from(*c)) && slice.face.maps(*c);
            ('A'..='z').filter(shown).count()
        };
        let size = |slice: &Slice| slice.range.len().min(slice.face.characters().len());
        // Of equals the first.
        let main = slices
            .iter()
            .rev()
            .max_by_key(|slice| (latin(slice), size(slice)))?;
        let main = main.face.clone();
        Some(Face {
            colour: slices.iter().any(|slice| slice.face.colour),
            slices: Some(Arc::new(slices)),
            ..main
        })
    }

    /// The files of a face that is several; none of a face in one file.
    pub fn slices(&self) -> &[Slice] {
        self.slices.as_deref().map_or(&[], Vec::as_slice)
    }

    /// The slice that shows `character`: the last whose range holds it and that has
    /// it.
    pub fn slice_of(&self, character: char) -> Option<usize> {
        self.slices().iter().rposition(|slice| {
            slice.range.contains(u32::from(character)) && slice.face.maps(character)
        })
    }

    /// The same face with what its rule says of it, which wins over what its tables
    /// do: the family, the weight, the slope.
    #[must_use]
    pub fn declared(mut self, family: &str, weight: Option<f32>, slope: Slope) -> Self {
        family.clone_into(&mut self.names.family);
        self.weight = weight.unwrap_or(self.weight);
        self.slope = slope;
        self
    }

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
        let declared = font.metrics().raw_units_per_em;
        if !(16..=16384).contains(&declared) {
            return Err(damaged(
                "head table",
                format!("it states {declared} units per em, but 16 to 16384 are possible"),
            ));
        }
        let mut names = Names::read(&font);
        let attributes = font.default_attributes();
        let mut weight = attributes.weight.value();
        let mut width = attributes.width.percentage();
        let slope = match attributes.style {
            Style::Normal => Slope::Normal,
            Style::Italic => Slope::Italic,
            Style::Oblique(_) => Slope::Oblique,
        };
        let declared_generic = declared_generic(&font);
        let font = match &pick.position {
            None => font,
            Some(asked) => {
                let placed = position::place(&font, asked)?;
                for (tag, value) in &placed.values {
                    match tag.as_str() {
                        "wght" => weight = *value,
                        "wdth" => width = *value,
                        _ => {}
                    }
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
        let underline = font.style_metrics().underline.unwrap_or_default();
        Ok(Face {
            names,
            container: file.container(),
            line,
            weight,
            width,
            slope,
            units_per_em: font.units_per_em(),
            underline: Some(Underline {
                position: underline.position.to_f64(),
                thickness: underline.thickness.to_f64(),
            }),
            declared_generic,
            kerning_dropped: file.kerning_dropped(),
            colour: has_colour(&font),
            not_coloured_by: not_coloured_by(&colour_tables(&font)),
            slices: None,
            body: Body::Font(font),
        })
    }

    /// Those of `values`, by axis tag, that the face has axes for, within their ends.
    pub fn on_axes(&self, values: &[(String, f32)]) -> Vec<(String, f32)> {
        match &self.body {
            Body::Font(font) => position::within(font, values),
            Body::Card(_) => Vec::new(),
        }
    }

    /// The same face at `values` by axis tag, each within what its axis has; nothing
    /// where the face has none of these axes.
    pub fn at(&self, values: &[(String, f32)]) -> Option<Self> {
        let values = self.on_axes(values);
        let Body::Font(font) = &self.body else {
            return None;
        };
        if values.is_empty() {
            return None;
        }
        let font = position::moved(font, &values);
        let slices = self.slices.as_ref().map(|slices| {
            let moved = slices.iter().map(|slice| Slice {
                range: slice.range.clone(),
                face: slice.face.at(&values).unwrap_or_else(|| slice.face.clone()),
            });
            Arc::new(moved.collect())
        });
        let value = |tag: &str| values.iter().find(|(known, _)| known == tag);
        let underline = font.style_metrics().underline.unwrap_or_default();
        Some(Face {
            line: LineMetrics::choose(font.metrics()),
            weight: value("wght").map_or(self.weight, |(_, value)| *value),
            width: value("wdth").map_or(self.width, |(_, value)| *value),
            underline: Some(Underline {
                position: underline.position.to_f64(),
                thickness: underline.thickness.to_f64(),
            }),
            body: Body::Font(font),
            slices,
            ..self.clone()
        })
    }

    /// A face known by its card.
    ///
    /// # Errors
    ///
    /// [`CardError::Wrong`] where the card contradicts itself.
    pub fn from_card(card: Card) -> Result<Self, CardError> {
        let body = CardBody::new(card.clone())?;
        Ok(Face {
            names: card.names,
            // What is installed is not loaded in any container.
            container: Container::TrueType,
            line: card.line,
            weight: card.weight,
            width: card.width,
            slope: card.slope,
            units_per_em: card.units_per_em,
            underline: card.underline,
            declared_generic: card.class.generic(),
            kerning_dropped: false,
            colour: card.colour,
            not_coloured_by: Engines::NONE,
            slices: None,
            body: Body::Card(body),
        })
    }

    /// Whether the face is known by a card only.
    pub fn is_card(&self) -> bool {
        matches!(self.body, Body::Card(_))
    }

    /// What the face is known by.
    pub fn body(&self) -> &Body {
        &self.body
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

    /// The width as `font-stretch` counts it, in %, 50 to 200; 100 is normal:
    /// OS/2 `usWidthClass`, or the `wdth` value of the position.
    pub fn width(&self) -> f32 {
        self.width
    }

    /// Font units per em, 16 to 16384.
    pub fn units_per_em(&self) -> u16 {
        self.units_per_em
    }

    /// The height of `x` (OS/2 `sxHeight`) in em; `None` where the font states none.
    pub fn x_height(&self) -> Option<f64> {
        let units = match &self.body {
            Body::Font(font) => font.metrics().x_height?.to_f64(),
            Body::Card(card) => card.card().x_height?,
        };
        (units > 0.0).then_some(units / f64::from(self.units_per_em))
    }

    /// Ascender, descender and line gap of the typographic metrics (OS/2
    /// `sTypoAscender`, `sTypoDescender`, `sTypoLineGap`) together, in em; `None` where
    /// the font has none, or only a card is known.
    pub fn typographic_height(&self) -> Option<f64> {
        let Body::Font(font) = &self.body else {
            return None;
        };
        let line = font.metrics().typo_line?;
        let units = line.ascender.to_f64() - line.descender.to_f64() + line.line_gap.to_f64();
        (line.ascender.to_f64() != 0.0).then_some(units / f64::from(self.units_per_em))
    }

    /// The average width of letters (OS/2 `xAvgCharWidth`) in em; `None` where the
    /// font states none, or only a card is known.
    pub fn average_width(&self) -> Option<f64> {
        let Body::Font(font) = &self.body else {
            return None;
        };
        let units = font.metrics().average_char_width?.to_f64();
        (units > 0.0).then_some(units / f64::from(self.units_per_em))
    }

    /// The widest advance (`hhea` `advanceWidthMax`) in em; `None` where only a card is known.
    pub fn widest_advance(&self) -> Option<f64> {
        let Body::Font(font) = &self.body else {
            return None;
        };
        let units = font.metrics().max_h_advance?.to_f64();
        Some(units / f64::from(self.units_per_em))
    }

    /// The width of the box around all glyphs (`head`, xMin to xMax) in em; `None` where only a
    /// card is known.
    pub fn widest(&self) -> Option<f64> {
        let Body::Font(font) = &self.body else {
            return None;
        };
        let bounds = font.metrics().bounds;
        let units = bounds.x_max.to_f64() - bounds.x_min.to_f64();
        Some(units / f64::from(self.units_per_em))
    }

    /// The underline (`post`), in font units; `None` where the card was measured in a
    /// browser, which does not tell it.
    pub fn underline(&self) -> Option<Underline> {
        self.underline
    }

    /// The generic family (CSS Fonts 4, §2.1.2) that the face's own tables
    /// point to: `monospace` from `post` `isFixedPitch` or PANOSE, `serif` or
    /// `sans-serif` from OS/2 `sFamilyClass` or PANOSE. `None` where they are
    /// silent.
    pub fn declared_generic(&self) -> Option<&'static str> {
        self.declared_generic
    }

    /// Whether the face has glyphs in colour: a `COLR`, `CBDT`, `sbix` or `SVG`
    /// table.
    pub fn has_colour(&self) -> bool {
        self.colour
    }

    /// The engines that draw none of its tables of glyphs in colour: glyphs without an
    /// outline are blank there.
    pub fn not_coloured_by(&self) -> Engines {
        self.not_coloured_by
    }

    /// Whether substitutions that are on by default look at spaces.
    pub fn minds_spaces(&self) -> bool {
        super::spaces::decide(self)
    }

    /// Whether browsers drop this face's kerning, as it is loaded as a web font.
    pub fn kerning_dropped(&self) -> bool {
        self.kerning_dropped
    }

    /// Whether the face has a Unicode character map at all.
    pub fn has_characters(&self) -> bool {
        if self.slices.is_some() {
            return self
                .slices()
                .iter()
                .any(|slice| slice.face.has_characters());
        }
        match &self.body {
            Body::Font(font) => font.charmap().has_unicode(),
            Body::Card(card) => !card.characters().is_empty(),
        }
    }

    /// Whether the face maps `character` to a glyph other than `.notdef`.
    pub fn maps(&self, character: char) -> bool {
        if self.slices.is_some() {
            return self.slice_of(character).is_some();
        }
        match &self.body {
            Body::Font(font) => font.charmap().map_unicode(character).is_some(),
            Body::Card(card) => card.characters().contains(u32::from(character)),
        }
    }

    /// Whether the face's `cmap` format 14 subtable lists this variation
    /// sequence.
    pub fn maps_variation(&self, base: char, selector: char) -> bool {
        if self.slices.is_some() {
            let slice = self.slice_of(base).map(|number| &self.slices()[number]);
            return slice.is_some_and(|slice| slice.face.maps_variation(base, selector));
        }
        match &self.body {
            Body::Font(font) => font.charmap().map_unicode_variant(base, selector).is_some(),
            Body::Card(card) => card.has_variation(base, selector),
        }
    }

    /// The characters that the face maps to a glyph other than `.notdef`.
    pub fn characters(&self) -> CharacterSet {
        if self.slices.is_some() {
            let all = self.slices().iter().flat_map(|slice| {
                let has = slice.face.characters();
                let held = has.iter().filter(|point| slice.range.contains(*point));
                held.collect::<Vec<u32>>()
            });
            return CharacterSet::of(all);
        }
        match &self.body {
            Body::Font(font) => {
                let mapped = font.charmap().unicodes().take(MOST_MAPPINGS);
                let real =
                    mapped.filter(|(point, glyph)| glyph.to_u32() != 0 && *point <= 0x10_ffff);
                CharacterSet::of(real.map(|(point, _)| point))
            }
            Body::Card(card) => card.characters().clone(),
        }
    }

    /// Characters and the glyphs that they are mapped to, in the order of the
    /// font; nothing where only a card is known.
    pub fn mapped(&self) -> impl Iterator<Item = (char, u32)> + '_ {
        let mapped = self
            .font()
            .map(|font| font.charmap().unicodes().take(MOST_MAPPINGS));
        mapped.into_iter().flatten().filter_map(|(point, glyph)| {
            let glyph = Some(glyph.to_u32()).filter(|glyph| *glyph != 0)?;
            Some((char::from_u32(point)?, glyph))
        })
    }

    /// The names of the named positions that a variable font has, whatever
    /// position this face is at.
    pub fn positions(&self) -> Vec<String> {
        self.font().map_or_else(Vec::new, position::position_names)
    }

    /// The least and the greatest value of an axis of a variable font (`fvar`); `None`
    /// for an axis that runs backwards, on which nothing can be placed.
    pub fn axis(&self, tag: &str) -> Option<(f32, f32)> {
        let axes = self.font()?.axes();
        let axis = axes.iter().find(|axis| axis.tag() == tag)?;
        let ends = (axis.min_value(), axis.max_value());
        (ends.0 <= ends.1).then_some(ends)
    }

    /// The browser that the face was measured in, where nobody read its tables.
    pub fn measured_in(&self) -> Option<&MeasuredIn> {
        match &self.body {
            Body::Font(_) => None,
            Body::Card(card) => card.card().measured_in.as_ref(),
        }
    }

    /// Whether it is known which features the face has; else [`Face::feature_tags`] are
    /// none.
    pub fn knows_features(&self) -> bool {
        self.measured_in().is_none() && !self.only_widths()
    }

    /// Whether nothing but the widths of its characters is known.
    pub fn only_widths(&self) -> bool {
        match &self.body {
            Body::Font(_) => false,
            Body::Card(card) => card.card().only_widths,
        }
    }

    /// The tags of all features for substitution and positioning.
    pub fn feature_tags(&self) -> BTreeSet<String> {
        if self.slices.is_some() {
            let tags = self.slices().iter().map(|slice| slice.face.feature_tags());
            return tags.flatten().collect();
        }
        match &self.body {
            Body::Font(_) => lookups::tags(self),
            Body::Card(card) => card.card().features.iter().cloned().collect(),
        }
    }

    /// The font underneath; `None` where only a card is known.
    pub fn font(&self) -> Option<&Font> {
        match &self.body {
            Body::Font(font) => Some(font),
            Body::Card(_) => None,
        }
    }
}

/// Fixed pitch, and serifs or none, where the tables say so.
fn declared_generic(font: &Font) -> Option<&'static str> {
    let declared = DeclaredClass::read(font);
    if declared.fixed_pitch || declared.panose_monospaced() {
        Some("monospace")
    } else {
        (declared.panose_serif().or_else(|| declared.class_serif()))
            .map(|serif| if serif { "serif" } else { "sans-serif" })
    }
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
