//! Media queries (Media Queries 4) and `@supports`, evaluated.

use cssparser::{ParseError, Parser, Token};

use super::length::{LengthContext, Quantity, length};

/// What a page is looked at in.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Viewport {
    /// Width in px.
    pub width: f32,
    /// Height in px.
    pub height: f32,
    /// Whether the page is printed.
    pub print: bool,
    /// The size that the browser gives `monospace` where no style sheet sets one, in px.
    pub fixed_size: f32,
}

/// What browsers give `monospace` nearly everywhere, in px.
pub const USUAL_FIXED_SIZE: f32 = 13.0;

impl Viewport {
    /// A screen of this size in px.
    pub const fn screen(width: f32, height: f32) -> Self {
        Viewport {
            width,
            height,
            print: false,
            fixed_size: USUAL_FIXED_SIZE,
        }
    }

    /// The same where the browser gives `monospace` this size in px.
    pub const fn with_fixed_size(self, fixed_size: f32) -> Self {
        Viewport { fixed_size, ..self }
    }
}

/// A list of media queries, as text.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct MediaList(String);

/// A condition of `@supports`, as text.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Supports(String);

type Error = ParseError<()>;

/// How deep conditions may nest.
const DEEPEST: usize = 12;

impl MediaList {
    /// Takes the text between `@media` and its block.
    pub fn read(text: &str) -> Self {
        MediaList(text.to_owned())
    }

    /// Whether any query of it holds; an empty list does.
    pub fn holds(&self, viewport: Viewport) -> bool {
        let mut input = Parser::new(&self.0);
        if input.is_exhausted() {
            return true;
        }
        let queries = input.parse_comma_separated(|input| {
            // A query that cannot be read is `not all`.
            let holds = query(input, viewport).unwrap_or(false);
            while input.next().is_ok() {}
            Ok::<bool, Error>(holds)
        });
        queries.is_ok_and(|queries| queries.contains(&true))
    }
}

fn query(input: &mut Parser<'_>, viewport: Viewport) -> Result<bool, Error> {
    let feature = |input: &mut Parser<'_>| media_feature(input, viewport);
    let start = input.state();
    let mut negated = false;
    let mut word = input.try_parse(|input| input.expect_ident_cloned()).ok();
    if let Some(first) = &word
        && (first.eq_ignore_ascii_case("not") || first.eq_ignore_ascii_case("only"))
    {
        negated = first.eq_ignore_ascii_case("not");
        word = input.try_parse(|input| input.expect_ident_cloned()).ok();
        if word.is_none() {
            input.reset(&start);
            return condition(input, &feature, 0);
        }
    }
    let Some(kind) = word else {
        return condition(input, &feature, 0);
    };
    let mut holds = match kind.to_ascii_lowercase().as_str() {
        "all" => true,
        "screen" => !viewport.print,
        "print" => viewport.print,
        _ => false,
    };
    if input
        .try_parse(|input| input.expect_ident_matching("and"))
        .is_ok()
    {
        holds &= condition(input, &feature, 0)?;
    }
    input.expect_exhausted()?;
    Ok(holds != negated)
}

/// `not A`, `A and B …`, `A or B …`, where each is in brackets or a function.
fn condition(
    input: &mut Parser<'_>,
    feature: &dyn Fn(&mut Parser<'_>) -> Result<bool, Error>,
    depth: usize,
) -> Result<bool, Error> {
    if depth > DEEPEST {
        return Err(ParseError::custom(()));
    }
    if input
        .try_parse(|input| input.expect_ident_matching("not"))
        .is_ok()
    {
        return Ok(!bracketed(input, feature, depth)?);
    }
    let mut holds = bracketed(input, feature, depth)?;
    while let Ok(word) = input.try_parse(|input| input.expect_ident_cloned()) {
        let next = bracketed(input, feature, depth)?;
        if word.eq_ignore_ascii_case("and") {
            holds &= next;
        } else if word.eq_ignore_ascii_case("or") {
            holds |= next;
        } else {
            return Err(ParseError::custom(()));
        }
    }
    Ok(holds)
}

fn bracketed(
    input: &mut Parser<'_>,
    feature: &dyn Fn(&mut Parser<'_>) -> Result<bool, Error>,
    depth: usize,
) -> Result<bool, Error> {
    let start = input.state();
    match input.next()? {
        Token::ParenthesisBlock => {
            let nested = input.parse_nested_block(|input| {
                input.try_parse(|input| {
                    let holds = condition(input, feature, depth + 1)?;
                    input.expect_exhausted()?;
                    Ok::<bool, Error>(holds)
                })
            });
            if let Ok(holds) = nested {
                return Ok(holds);
            }
            input.reset(&start);
            input.next()?;
            input.parse_nested_block(|input| {
                let holds = feature(input);
                while input.next().is_ok() {}
                // What is unknown does not hold.
                Ok::<bool, Error>(holds.unwrap_or(false))
            })
        }
        Token::Function(name) => {
            let selector = name.eq_ignore_ascii_case("selector");
            let font =
                name.eq_ignore_ascii_case("font-format") || name.eq_ignore_ascii_case("font-tech");
            input.parse_nested_block(|input| {
                while input.next().is_ok() {}
                Ok::<bool, Error>(selector || font)
            })
        }
        _ => Err(ParseError::custom(())),
    }
}

/// One feature: `width >= 40em`, `min-width: 600px`, `400px < width < 700px`,
/// `orientation: portrait`, `hover`.
fn media_feature(input: &mut Parser<'_>, viewport: Viewport) -> Result<bool, Error> {
    if let Ok(name) = input.try_parse(|input| input.expect_ident_cloned()) {
        let name = name.to_ascii_lowercase();
        if input.is_exhausted() {
            return Ok(has_feature(&name, viewport));
        }
        if input.try_parse(Parser::expect_colon).is_ok() {
            return named_feature(&name, input, viewport);
        }
        let compare = comparison(input)?;
        return Ok(compare(measure(&name, viewport)?, value(input, viewport)?));
    }
    let low = value(input, viewport)?;
    let first = comparison(input)?;
    let name = input.expect_ident_cloned()?.to_ascii_lowercase();
    let measured = measure(&name, viewport)?;
    let mut holds = first(low, measured);
    if !input.is_exhausted() {
        let second = comparison(input)?;
        holds &= second(measured, value(input, viewport)?);
    }
    Ok(holds)
}

fn comparison(input: &mut Parser<'_>) -> Result<fn(f32, f32) -> bool, Error> {
    let first = match input.next()? {
        Token::Delim(sign) => *sign,
        _ => return Err(ParseError::custom(())),
    };
    let equal = input.try_parse(|input| input.expect_delim('=')).is_ok();
    Ok(match (first, equal) {
        ('<', true) => |a, b| a <= b,
        ('<', false) => |a, b| a < b,
        ('>', true) => |a, b| a >= b,
        ('>', false) => |a, b| a > b,
        ('=', false) => |a, b| (a - b).abs() < f32::EPSILON,
        _ => return Err(ParseError::custom(())),
    })
}

/// A length in px, a ratio, or a number.
fn value(input: &mut Parser<'_>, viewport: Viewport) -> Result<f32, Error> {
    // In media queries relative units mean the initial font size.
    let context = LengthContext {
        em: 16.0,
        rem: 16.0,
        percent: 0.0,
        viewport,
        font: None,
    };
    let first = match length(input, &context)? {
        Quantity::Number(value) | Quantity::Px(value) => value,
    };
    if input.try_parse(|input| input.expect_delim('/')).is_ok() {
        return Ok(first / input.expect_number()?);
    }
    Ok(first)
}

fn measure(name: &str, viewport: Viewport) -> Result<f32, Error> {
    match name {
        "width" | "device-width" => Ok(viewport.width),
        "height" | "device-height" => Ok(viewport.height),
        "aspect-ratio" => Ok(viewport.width / viewport.height),
        _ => Err(ParseError::custom(())),
    }
}

fn has_feature(name: &str, viewport: Viewport) -> bool {
    match name {
        "width" => viewport.width > 0.0,
        "height" => viewport.height > 0.0,
        "hover" | "any-hover" | "pointer" | "any-pointer" => !viewport.print,
        "color" => true,
        _ => false,
    }
}

fn named_feature(name: &str, input: &mut Parser<'_>, viewport: Viewport) -> Result<bool, Error> {
    if let Some(name) = name.strip_prefix("min-") {
        return Ok(measure(name, viewport)? >= value(input, viewport)?);
    }
    if let Some(name) = name.strip_prefix("max-") {
        return Ok(measure(name, viewport)? <= value(input, viewport)?);
    }
    if let Ok(measured) = measure(name, viewport) {
        return Ok((measured - value(input, viewport)?).abs() < f32::EPSILON);
    }
    let word = input.expect_ident_cloned()?.to_ascii_lowercase();
    let portrait = viewport.height >= viewport.width;
    Ok(match (name, word.as_str()) {
        ("orientation", word) => (word == "portrait") == portrait,
        ("hover" | "any-hover", word) => word == "hover",
        ("pointer" | "any-pointer", word) => word == "fine",
        ("prefers-color-scheme", word) => word == "light",
        ("scripting", word) => word == "enabled",
        ("update", word) => word == "fast",
        (_, word) => word == "no-preference",
    })
}

impl Supports {
    /// Takes the text between `@supports` and its block.
    pub fn read(text: &str) -> Self {
        Supports(text.to_owned())
    }

    /// Whether current browsers meet the condition. Declarations of properties
    /// that start with a hyphen, and values that no browser knows, do not hold.
    pub fn holds(&self) -> bool {
        let mut input = Parser::new(&self.0);
        condition(&mut input, &supported, 0).unwrap_or(false)
    }
}

fn supported(input: &mut Parser<'_>) -> Result<bool, Error> {
    let name = input.expect_ident_cloned()?;
    input.expect_colon()?;
    let prefixed = name.starts_with('-') && !name.starts_with("--");
    let empty = input.is_exhausted();
    Ok(!prefixed && !empty)
}
