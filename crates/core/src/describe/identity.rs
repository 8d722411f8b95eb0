//! Who a face is: its names (`name` table), weight, width, slope and optical
//! size (OS/2, `fvar`), and how it is drawn.

use serde::Serialize;
use skrifa::font::Kind;
use skrifa::raw::TableProvider as _;

use tidy_lattice_glyphs::font::{Container, Face, Names, Slope, name_text};

/// The longest text of a name that is told, in characters.
const LONGEST: usize = 400;

/// The identity of a face.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Identity {
    /// The names that count: typographic ones before the old ones.
    #[serde(flatten)]
    pub names: Names,
    /// The old family name (name ID 1), where it differs from the typographic
    /// one. Old programs group four styles under it.
    pub legacy_family: Option<String>,
    /// The old style name (ID 2), where it differs.
    pub legacy_style: Option<String>,
    /// The version (ID 5).
    pub version: Option<String>,
    /// The manufacturer (ID 8).
    pub manufacturer: Option<String>,
    /// The designer (ID 9).
    pub designer: Option<String>,
    /// The description (ID 10).
    pub description: Option<String>,
    /// The vendor's tag (OS/2 `achVendID`).
    pub vendor: Option<String>,
    /// The weight on the scale of `font-weight`, 1 to 1000.
    pub weight: f32,
    /// The width as `font-stretch` counts it, in %.
    pub width: f32,
    /// The slope.
    pub slope: Slope,
    /// The angle of the slope in degrees (`post` `italicAngle`), negative where
    /// letters lean to the right.
    pub italic_angle: f64,
    /// The sizes in pt that the face is drawn for: OS/2 version 5, or the
    /// range of the `opsz` axis.
    pub optical_size: Option<(f32, f32)>,
    /// The container of the file.
    pub container: Container,
    /// The face's number in a collection, from 0.
    pub index: u32,
    /// How many faces the file holds.
    pub faces_in_file: u32,
    /// How glyphs are drawn.
    pub outlines: Outlines,
    /// How many glyphs the face has.
    pub glyphs: u32,
}

/// The table that glyphs are drawn from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Outlines {
    /// `glyf`: quadratic curves.
    TrueType,
    /// `CFF `: cubic curves.
    Cff,
    /// `CFF2`: cubic curves that can vary.
    Cff2,
    /// None of them.
    None,
}

impl Outlines {
    /// The table in words.
    pub fn label(self) -> &'static str {
        match self {
            Outlines::TrueType => "TrueType outlines",
            Outlines::Cff => "CFF outlines",
            Outlines::Cff2 => "CFF2 outlines",
            Outlines::None => "no outlines",
        }
    }
}

impl Identity {
    pub(super) fn read(face: &Face, index: u32, faces_in_file: u32) -> Option<Self> {
        let font = face.font()?;
        let name = |id| name_text(font, id, LONGEST);
        let mut identity = Identity {
            names: face.names().clone(),
            legacy_family: name(1).filter(|family| *family != face.names().family),
            legacy_style: name(2).filter(|style| *style != face.names().style),
            version: name(5),
            manufacturer: name(8),
            designer: name(9),
            description: name(10),
            vendor: None,
            weight: face.weight(),
            width: face.width(),
            slope: face.slope(),
            italic_angle: font
                .style_metrics()
                .italic_angle
                .map_or(0.0, |angle| angle.to_f64()),
            optical_size: font
                .axes()
                .get_by_tag(skrifa::Tag::new(b"opsz"))
                .map(|axis| (axis.min_value(), axis.max_value())),
            container: face.container(),
            index,
            faces_in_file,
            outlines: Outlines::None,
            glyphs: font.num_glyphs(),
        };
        if let Kind::Sfnt(tables, _) = font.kind() {
            identity.outlines = if tables.glyf().is_ok() {
                Outlines::TrueType
            } else if tables.cff2().is_ok() {
                Outlines::Cff2
            } else if tables.cff().is_ok() {
                Outlines::Cff
            } else {
                Outlines::None
            };
            if let Ok(os2) = tables.os2() {
                let vendor = os2.ach_vend_id().to_string();
                let vendor = vendor.trim_matches(|c: char| c == ' ' || c == '\0');
                identity.vendor = (!vendor.is_empty()).then(|| vendor.to_owned());
                // OS/2 version 5 counts twentieths of a point.
                let twentieths = (
                    os2.us_lower_optical_point_size(),
                    os2.us_upper_optical_point_size(),
                );
                if let (None, (Some(low), Some(high))) = (identity.optical_size, twentieths)
                    && (low, high) != (0, u16::MAX)
                    && low < high
                {
                    identity.optical_size = Some((f32::from(low) / 20.0, f32::from(high) / 20.0));
                }
            }
        }
        Some(identity)
    }
}
