//! The style of a text: what its element's computed values say of fonts.

use serde::Serialize;

use crate::style::read::{FamilyName, USUAL_FIXED_SIZE};

/// The size that `medium` means in browsers, in px.
pub const MEDIUM: f32 = 16.0;

/// Computed values (CSS Cascade 5, §4.4) of the properties that fonts need.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct TextStyle {
    /// `font-family`; empty where nothing is set and the browser's own standard
    /// font shows.
    pub families: Vec<FamilyName>,
    /// `font-size` in px.
    pub size: f32,
    /// `font-weight`, 1 to 1000.
    pub weight: f32,
    /// `font-style`.
    pub style: StyleValue,
    /// `font-stretch` in %.
    pub stretch: f32,
    /// `line-height`.
    pub line_height: LineHeight,
    /// `letter-spacing` in px.
    #[serde(skip_serializing_if = "is_zero")]
    pub letter_spacing: f32,
    /// `word-spacing` in px.
    #[serde(skip_serializing_if = "is_zero")]
    pub word_spacing: f32,
    /// `text-transform`.
    #[serde(skip_serializing_if = "Transform::is_none")]
    pub transform: Transform,
    /// Keywords of the `font-variant-*` properties other than `normal`, by
    /// property.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub variants: Vec<(String, Vec<String>)>,
    /// `font-feature-settings`: tags and values.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub features: Vec<(String, u32)>,
    /// `font-variation-settings`: axes and values.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub variations: Vec<(String, f32)>,
    /// Whether glyphs follow the font size (`font-optical-sizing`).
    #[serde(skip)]
    pub optical: bool,
    /// `font-kerning`.
    #[serde(skip_serializing_if = "is_auto")]
    pub kerning: String,
    /// Whether a missing bold may be faked (`font-synthesis-weight`).
    pub fake_bold: bool,
    /// Whether a missing italic may be faked (`font-synthesis-style`).
    pub fake_italic: bool,
    /// How far `font-size` came from keywords, which decides its size where the
    /// family becomes `monospace`.
    #[serde(skip)]
    pub(crate) origin: SizeOrigin,
    /// `quotes`: pairs of opening and closing marks; `None` for `auto`.
    #[serde(skip)]
    pub(crate) quotes: Option<Vec<(String, String)>>,
    /// `list-style-type`.
    #[serde(skip)]
    pub(crate) list: String,
}

/// `font-style`.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case", tag = "kind", content = "degrees")]
pub enum StyleValue {
    /// `normal`.
    Normal,
    /// `italic`.
    Italic,
    /// `oblique` by an angle in degrees.
    Oblique(f32),
}

/// `line-height`.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case", tag = "kind", content = "value")]
pub enum LineHeight {
    /// What the font says.
    Normal,
    /// A multiple of the font size.
    Number(f32),
    /// A length in px.
    Px(f32),
}

/// `text-transform`.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct Transform {
    /// The change of case.
    pub case: Option<CaseChange>,
    /// `full-width`.
    pub full_width: bool,
    /// `full-size-kana`.
    pub full_size_kana: bool,
}

/// A change of case.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum CaseChange {
    /// `uppercase`.
    Uppercase,
    /// `lowercase`.
    Lowercase,
    /// `capitalize`.
    Capitalize,
}

/// Where a font size came from.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum SizeOrigin {
    /// An absolute keyword, by its place from 0 (`xx-small`).
    Keyword(usize),
    /// Relative to a size that came from a keyword.
    Relative,
    /// A length.
    Absolute,
}

impl Transform {
    /// Whether nothing changes.
    pub fn is_none(&self) -> bool {
        *self == Transform::default()
    }
}

fn is_zero(value: &f32) -> bool {
    *value == 0.0
}

fn is_auto(value: &str) -> bool {
    value == "auto"
}

impl Default for TextStyle {
    fn default() -> Self {
        TextStyle {
            families: Vec::new(),
            size: MEDIUM,
            weight: 400.0,
            style: StyleValue::Normal,
            stretch: 100.0,
            line_height: LineHeight::Normal,
            letter_spacing: 0.0,
            word_spacing: 0.0,
            transform: Transform::default(),
            variants: Vec::new(),
            features: Vec::new(),
            variations: Vec::new(),
            optical: true,
            kerning: "auto".to_owned(),
            fake_bold: true,
            fake_italic: true,
            origin: SizeOrigin::Keyword(MEDIUM_KEYWORD),
            quotes: None,
            list: "disc".to_owned(),
        }
    }
}

/// What form controls are set in by the browser's own style sheet (`data/browser.css`).
const CONTROL_FAMILY: &str = "Arial";
const CONTROL_SIZE: f32 = 13.3333;

/// Where `medium` stands in [`KEYWORDS`].
const MEDIUM_KEYWORD: usize = 3;

/// A size keyword with what browsers make of it, in px.
struct SizeKeyword {
    name: &'static str,
    /// Where the standard font is 16 px.
    usual: f32,
    /// Where the fixed-pitch one is 13 px, in standards mode and in quirks mode.
    fixed_13: [f32; 2],
    /// Where it is 12 px, as in Firefox on Linux.
    fixed_12: [f32; 2],
}

const fn keyword(
    name: &'static str,
    usual: f32,
    fixed_13: [f32; 2],
    fixed_12: [f32; 2],
) -> SizeKeyword {
    SizeKeyword {
        name,
        usual,
        fixed_13,
        fixed_12,
    }
}

const KEYWORDS: [SizeKeyword; 8] = [
    keyword("xx-small", 9.0, [9.0, 9.0], [9.0, 9.0]),
    keyword("x-small", 10.0, [10.0, 9.0], [9.0, 9.0]),
    keyword("small", 13.0, [12.0, 10.0], [10.0, 10.0]),
    keyword("medium", 16.0, [13.0, 13.0], [12.0, 12.0]),
    keyword("large", 18.0, [16.0, 16.0], [14.0, 14.0]),
    keyword("x-large", 24.0, [20.0, 20.0], [18.0, 18.0]),
    keyword("xx-large", 32.0, [26.0, 26.0], [24.0, 24.0]),
    keyword("xxx-large", 48.0, [39.0, 40.0], [36.0, 37.0]),
];

impl SizeKeyword {
    /// Its size in `monospace`, where that is `fixed_size` px by default.
    fn fixed(&self, fixed_size: f32, quirks: bool) -> f32 {
        let sizes = if fixed_size < USUAL_FIXED_SIZE {
            self.fixed_12
        } else {
            self.fixed_13
        };
        sizes[usize::from(quirks)]
    }
}

impl SizeOrigin {
    /// The keyword called `name`.
    pub(crate) fn keyword(name: &str) -> Option<Self> {
        let place = KEYWORDS.iter().position(|known| known.name == name)?;
        Some(SizeOrigin::Keyword(place))
    }
}

impl TextStyle {
    /// Plain text in these families.
    pub fn of_families(families: Vec<FamilyName>) -> Self {
        TextStyle {
            families,
            ..TextStyle::default()
        }
    }

    /// Whether it is that of form controls which no style sheet sets: as the browser's own says,
    /// by its family and size.
    pub fn is_of_controls(&self) -> bool {
        let [FamilyName::Named(family)] = self.families.as_slice() else {
            return false;
        };
        family == CONTROL_FAMILY && (self.size - CONTROL_SIZE).abs() < 1e-4
    }

    /// Whether `monospace` is all that `font-family` says: browsers have another
    /// standard size for it.
    fn only_monospace(&self) -> bool {
        matches!(self.families.as_slice(), [FamilyName::Generic(name)] if name == "monospace")
    }

    /// Sets the size of a keyword, and scales a relative size where `monospace`, which is
    /// `fixed_size` px by default, comes or goes against `parent`. Browsers agree on this, no
    /// standard does.
    pub(crate) fn settle_size(&mut self, parent: &TextStyle, quirks: bool, fixed_size: f32) {
        let mono = self.only_monospace();
        match self.origin {
            SizeOrigin::Keyword(place) => {
                let keyword = &KEYWORDS[place];
                self.size = if mono {
                    keyword.fixed(fixed_size, quirks)
                } else {
                    keyword.usual
                };
            }
            SizeOrigin::Relative if mono != parent.only_monospace() => {
                let medium = &KEYWORDS[MEDIUM_KEYWORD];
                let (size, fixed) = (medium.usual, medium.fixed(fixed_size, false));
                self.size *= if mono { fixed / size } else { size / fixed };
            }
            SizeOrigin::Relative | SizeOrigin::Absolute => {}
        }
    }

    /// The OpenType features that the style asks for, with the CSS that does:
    /// `font-variant-*` (CSS Fonts 4, §6) and `font-feature-settings`. Only
    /// those that are turned on.
    pub fn asked_features(&self) -> Vec<(String, String)> {
        let mut asked: Vec<(String, String)> = Vec::new();
        for (property, keywords) in &self.variants {
            for keyword in keywords {
                for tag in variant_features(property, keyword) {
                    asked.push(((*tag).to_owned(), format!("{property}: {keyword}")));
                }
            }
        }
        for (tag, value) in &self.features {
            asked.retain(|(known, _)| known != tag);
            if *value > 0 {
                asked.push((
                    tag.clone(),
                    format!("font-feature-settings: \"{tag}\" {value}"),
                ));
            }
        }
        asked
    }
}

/// The features of a keyword of `font-variant-*`.
fn variant_features(property: &str, keyword: &str) -> &'static [&'static str] {
    match (property, keyword) {
        ("font-variant-ligatures", "discretionary-ligatures") => &["dlig"],
        ("font-variant-ligatures", "historical-ligatures") => &["hlig"],
        ("font-variant-ligatures", "common-ligatures") => &["liga"],
        ("font-variant-ligatures", "contextual") => &["calt"],
        ("font-variant-caps", "small-caps") => &["smcp"],
        ("font-variant-caps", "all-small-caps") => &["smcp", "c2sc"],
        ("font-variant-caps", "petite-caps") => &["pcap"],
        ("font-variant-caps", "all-petite-caps") => &["pcap", "c2pc"],
        ("font-variant-caps", "unicase") => &["unic"],
        ("font-variant-caps", "titling-caps") => &["titl"],
        ("font-variant-numeric", "lining-nums") => &["lnum"],
        ("font-variant-numeric", "oldstyle-nums") => &["onum"],
        ("font-variant-numeric", "proportional-nums") => &["pnum"],
        ("font-variant-numeric", "tabular-nums") => &["tnum"],
        ("font-variant-numeric", "diagonal-fractions") => &["frac"],
        ("font-variant-numeric", "stacked-fractions") => &["afrc"],
        ("font-variant-numeric", "ordinal") => &["ordn"],
        ("font-variant-numeric", "slashed-zero") => &["zero"],
        ("font-variant-position", "sub") => &["subs"],
        ("font-variant-position", "super") => &["sups"],
        ("font-variant-east-asian", "jis78") => &["jp78"],
        ("font-variant-east-asian", "jis83") => &["jp83"],
        ("font-variant-east-asian", "jis90") => &["jp90"],
        ("font-variant-east-asian", "jis04") => &["jp04"],
        ("font-variant-east-asian", "simplified") => &["smpl"],
        ("font-variant-east-asian", "traditional") => &["trad"],
        ("font-variant-east-asian", "full-width") => &["fwid"],
        ("font-variant-east-asian", "proportional-width") => &["pwid"],
        ("font-variant-east-asian", "ruby") => &["ruby"],
        _ => &[],
    }
}
