//! `@font-face` rules (CSS Fonts 4, §4; CSS Fonts 5, §2).

use cssparser::{
    AtRuleParser, CowRcStr, DeclarationParser, ParseError, Parser, ParserState,
    QualifiedRuleParser, RuleBodyItemParser, RuleBodyParser, Token, UnicodeRange,
};
use serde::Serialize;
use tidy_lattice_glyphs::font::CharacterSet;

use super::{Problem, start_of};

/// The most sources and ranges that a rule may list.
const MOST_ENTRIES: usize = 5_000;

/// An interval, both ends included.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Range {
    /// The lower end.
    pub from: f32,
    /// The upper end.
    pub to: f32,
}

impl Range {
    /// One value.
    pub const fn only(value: f32) -> Self {
        Range {
            from: value,
            to: value,
        }
    }

    /// Whether `value` is in it.
    pub fn contains(self, value: f32) -> bool {
        (self.from..=self.to).contains(&value)
    }

    fn of(one: f32, other: f32) -> Self {
        Range {
            from: one.min(other),
            to: one.max(other),
        }
    }
}

/// One entry of `src`.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case", tag = "kind")]
pub enum FaceSource {
    /// `url()`.
    Url {
        /// The URL as written.
        url: String,
        /// The `format()` hint, in lower case.
        #[serde(skip_serializing_if = "Option::is_none")]
        format: Option<String>,
    },
    /// `local()`.
    Local {
        /// A full or PostScript name.
        name: String,
    },
}

/// What `font-style` of a rule says.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case", tag = "kind")]
pub enum FaceStyle {
    /// `normal`.
    Normal,
    /// `italic`.
    Italic,
    /// `oblique` with its angles, in degrees.
    Oblique {
        /// The angles.
        angles: Range,
    },
}

/// A rule as read; descriptors that it leaves out have their initial values.
#[derive(Debug, Clone, PartialEq)]
pub struct FontFace {
    /// `font-family`; `None` where it is missing or wrong, which makes the rule
    /// count for nothing.
    pub family: Option<String>,
    /// `src`, in order; empty where it is missing or wrong.
    pub sources: Vec<FaceSource>,
    /// `font-weight`, 1 to 1000.
    pub weight: Range,
    /// `font-style`.
    pub style: FaceStyle,
    /// `font-stretch` (`font-width`) in %.
    pub stretch: Range,
    /// Whether the weight, the style and the stretch are stated; a variable font
    /// goes as far as its axes where they are not.
    pub declared: [bool; 3],
    /// `unicode-range`; `None` where all characters are meant.
    pub range: Option<CharacterSet>,
    /// `font-display`.
    pub display: Option<String>,
    /// `size-adjust` as a factor; 1 where it is left out.
    pub size_adjust: f32,
    /// `ascent-override` as a factor of the em.
    pub ascent: Option<f32>,
    /// `descent-override` as a factor of the em.
    pub descent: Option<f32>,
    /// `line-gap-override` as a factor of the em.
    pub line_gap: Option<f32>,
}

impl Default for FontFace {
    fn default() -> Self {
        FontFace {
            family: None,
            sources: Vec::new(),
            weight: Range::only(400.0),
            style: FaceStyle::Normal,
            stretch: Range::only(100.0),
            declared: [false; 3],
            range: None,
            display: None,
            size_adjust: 1.0,
            ascent: None,
            descent: None,
            line_gap: None,
        }
    }
}

type Error = ParseError<()>;

impl FontFace {
    /// Reads the block of a rule. What a browser would drop is told in
    /// `problems`.
    pub(super) fn read(input: &mut Parser<'_>, problems: &mut Vec<Problem>) -> Self {
        let mut descriptors = Descriptors(FontFace::default());
        for result in RuleBodyParser::new(input, &mut descriptors) {
            if let Err((_, text, place)) = result {
                problems.push(Problem {
                    line: place.line + 1,
                    what: format!("a descriptor that browsers drop: {}", start_of(text)),
                });
            }
        }
        descriptors.0
    }

    /// Whether `character` is in its `unicode-range`.
    pub fn admits(&self, character: char) -> bool {
        (self.range.as_ref()).is_none_or(|range| range.contains(u32::from(character)))
    }
}

struct Descriptors(FontFace);

impl<'i> DeclarationParser<'i> for Descriptors {
    type Declaration = ();
    type Error = ();

    fn parse_value(
        &mut self,
        name: CowRcStr<'i>,
        input: &mut Parser<'i>,
        _: &ParserState,
    ) -> Result<(), Error> {
        let face = &mut self.0;
        match name.to_ascii_lowercase().as_str() {
            "font-family" => face.family = Some(family(input)?),
            "src" => {
                let sources = sources(input);
                if sources.is_empty() {
                    return Err(ParseError::custom(()));
                }
                face.sources = sources;
            }
            "font-weight" => {
                face.weight = range(input, weight)?;
                face.declared[0] = true;
            }
            "font-stretch" | "font-width" => {
                face.stretch = range(input, stretch)?;
                face.declared[2] = true;
            }
            "font-style" => {
                face.style = style(input)?;
                face.declared[1] = true;
            }
            "unicode-range" => face.range = Some(characters(input)?),
            "font-display" => {
                let value = input.expect_ident()?.to_ascii_lowercase();
                if !["auto", "block", "swap", "fallback", "optional"].contains(&value.as_str()) {
                    return Err(ParseError::custom(()));
                }
                face.display = Some(value);
            }
            "size-adjust" => face.size_adjust = percentage(input)?,
            "ascent-override" => face.ascent = metric(input)?,
            "descent-override" => face.descent = metric(input)?,
            "line-gap-override" => face.line_gap = metric(input)?,
            _ => while input.next().is_ok() {},
        }
        Ok(())
    }
}

impl AtRuleParser<'_> for Descriptors {
    type Prelude = ();
    type AtRule = ();
    type Error = ();
}

impl QualifiedRuleParser<'_> for Descriptors {
    type Prelude = ();
    type QualifiedRule = ();
    type Error = ();
}

impl RuleBodyItemParser<'_, (), ()> for Descriptors {
    fn parse_declarations(&self) -> bool {
        true
    }

    fn parse_qualified(&self) -> bool {
        false
    }
}

/// One family name; generic keywords are none.
fn family(input: &mut Parser<'_>) -> Result<String, Error> {
    match super::families::list(input).as_deref() {
        Some([super::FamilyName::Named(name)]) => Ok(name.clone()),
        _ => Err(ParseError::custom(())),
    }
}

/// The entries that can be read; others are skipped (§4.3.1).
fn sources(input: &mut Parser<'_>) -> Vec<FaceSource> {
    let entries = input.parse_comma_separated_ignoring_errors(|input| {
        let source = if let Ok(url) = input.try_parse(|input| input.expect_url()) {
            FaceSource::Url {
                url: url.to_string(),
                format: None,
            }
        } else {
            input.expect_function_matching("local")?;
            let name = input.parse_nested_block(family)?;
            FaceSource::Local { name }
        };
        let mut format = None;
        while let Ok(function) = input.try_parse(|input| input.expect_function().cloned()) {
            let word = input.parse_nested_block(|input| {
                let first = input.expect_ident_or_string()?.to_ascii_lowercase();
                while input.next().is_ok() {}
                Ok::<_, Error>(first)
            })?;
            if function.eq_ignore_ascii_case("format") {
                format = Some(word);
            }
        }
        Ok::<_, Error>(match source {
            FaceSource::Url { url, .. } => FaceSource::Url { url, format },
            local => local,
        })
    });
    entries.into_iter().take(MOST_ENTRIES).collect()
}

fn range(
    input: &mut Parser<'_>,
    one: impl Fn(&mut Parser<'_>) -> Result<f32, Error>,
) -> Result<Range, Error> {
    let first = one(input)?;
    match input.try_parse(|input| one(input)) {
        Ok(second) => Ok(Range::of(first, second)),
        Err(_) => Ok(Range::only(first)),
    }
}

fn weight(input: &mut Parser<'_>) -> Result<f32, Error> {
    let weight = match input.next()? {
        Token::Number { value, .. } => *value,
        Token::Ident(word) => match word.to_ascii_lowercase().as_str() {
            "normal" | "auto" => 400.0,
            "bold" => 700.0,
            _ => return Err(ParseError::custom(())),
        },
        _ => return Err(ParseError::custom(())),
    };
    if (1.0..=1000.0).contains(&weight) {
        Ok(weight)
    } else {
        Err(ParseError::custom(()))
    }
}

fn stretch(input: &mut Parser<'_>) -> Result<f32, Error> {
    match input.next()? {
        Token::Percentage { unit_value, .. } if *unit_value >= 0.0 => Ok(*unit_value * 100.0),
        Token::Ident(word) => stretch_keyword(word).ok_or(ParseError::custom(())),
        _ => Err(ParseError::custom(())),
    }
}

/// The percentage of a `font-stretch` keyword (CSS Fonts 4, §2.3).
pub fn stretch_keyword(word: &str) -> Option<f32> {
    Some(match word.to_ascii_lowercase().as_str() {
        "ultra-condensed" => 50.0,
        "extra-condensed" => 62.5,
        "condensed" => 75.0,
        "semi-condensed" => 87.5,
        "normal" | "auto" => 100.0,
        "semi-expanded" => 112.5,
        "expanded" => 125.0,
        "extra-expanded" => 150.0,
        "ultra-expanded" => 200.0,
        _ => return None,
    })
}

fn style(input: &mut Parser<'_>) -> Result<FaceStyle, Error> {
    let word = input.expect_ident()?.to_ascii_lowercase();
    match word.as_str() {
        "normal" | "auto" => Ok(FaceStyle::Normal),
        "italic" => Ok(FaceStyle::Italic),
        "oblique" => {
            let angles = match input.try_parse(|input| range(input, angle)) {
                Ok(angles) => angles,
                Err(_) => Range::only(14.0),
            };
            Ok(FaceStyle::Oblique { angles })
        }
        _ => Err(ParseError::custom(())),
    }
}

/// An angle in degrees.
fn angle(input: &mut Parser<'_>) -> Result<f32, Error> {
    match input.next()? {
        Token::Dimension { value, unit, .. } => match unit.to_ascii_lowercase().as_str() {
            "deg" => Ok(*value),
            "grad" => Ok(*value * 0.9),
            "rad" => Ok(value.to_degrees()),
            "turn" => Ok(*value * 360.0),
            _ => Err(ParseError::custom(())),
        },
        Token::Number { value: 0.0, .. } => Ok(0.0),
        _ => Err(ParseError::custom(())),
    }
}

fn characters(input: &mut Parser<'_>) -> Result<CharacterSet, Error> {
    let ranges = input.parse_comma_separated(|input| {
        UnicodeRange::parse(input).map_err(ParseError::<()>::from)
    })?;
    if ranges.len() > MOST_ENTRIES {
        return Err(ParseError::custom(()));
    }
    Ok(CharacterSet::of_ranges(
        ranges.iter().map(|range| (range.start, range.end)),
    ))
}

fn percentage(input: &mut Parser<'_>) -> Result<f32, Error> {
    let value = input.expect_percentage()?;
    if value >= 0.0 {
        Ok(value)
    } else {
        Err(ParseError::custom(()))
    }
}

fn metric(input: &mut Parser<'_>) -> Result<Option<f32>, Error> {
    if input
        .try_parse(|input| input.expect_ident_matching("normal"))
        .is_ok()
    {
        return Ok(None);
    }
    percentage(input).map(Some)
}
