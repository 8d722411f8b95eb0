//! Lengths and the arithmetic of CSS Values 4, as far as text needs them.

use cssparser::{ParseError, Parser, Token};

use super::Viewport;

/// What relative units are relative to; lengths in px.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LengthContext {
    /// The font size that `em` means.
    pub em: f32,
    /// The font size of the root element.
    pub rem: f32,
    /// What 100 % is.
    pub percent: f32,
    /// The viewport.
    pub viewport: Viewport,
    /// Units of the first font, where it is known.
    pub font: Option<FontUnits>,
}

/// What the units that depend on a font come to (CSS Values 4, §6.1.1), in px.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct FontUnits {
    /// `ch`: the advance of “0”.
    pub ch: f32,
    /// `ex`: the x-height.
    pub ex: f32,
}

impl FontUnits {
    /// Whether `text` has a length in such a unit.
    pub fn are_in(text: &str) -> bool {
        ["ch", "ex"].iter().any(|unit| {
            text.match_indices(unit).any(|(at, _)| {
                let number = text[..at].ends_with(|c: char| c.is_ascii_digit());
                number && !text[at + 2..].starts_with(|c: char| c.is_alphanumeric() || c == '-')
            })
        })
    }
}

/// A value on the way through `calc()`: a number, or a length in px.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Quantity {
    /// Without a unit.
    Number(f32),
    /// A length in px.
    Px(f32),
}

type Error = ParseError<()>;

fn wrong<T>() -> Result<T, Error> {
    Err(ParseError::custom(()))
}

/// Reads one number, length or percentage, or an expression of them.
///
/// # Errors
///
/// Where there is something else.
pub fn length(input: &mut Parser<'_>, context: &LengthContext) -> Result<Quantity, Error> {
    match input.next()?.clone() {
        Token::Number { value, .. } => Ok(Quantity::Number(value)),
        Token::Percentage { unit_value, .. } => Ok(Quantity::Px(unit_value * context.percent)),
        Token::Dimension { value, unit, .. } => dimension(value, &unit, context),
        Token::ParenthesisBlock => input.parse_nested_block(|input| sum(input, context)),
        Token::Function(name) => {
            let name = name.to_ascii_lowercase();
            input.parse_nested_block(|input| function(&name, input, context))
        }
        _ => wrong(),
    }
}

fn dimension(value: f32, unit: &str, context: &LengthContext) -> Result<Quantity, Error> {
    let Viewport { width, height, .. } = context.viewport;
    // Where the font is not known, half an em is what CSS Values falls back to.
    let font = context.font.unwrap_or(FontUnits {
        ch: context.em * 0.5,
        ex: context.em * 0.5,
    });
    let factor = match unit.to_ascii_lowercase().as_str() {
        "px" => 1.0,
        "em" => context.em,
        "rem" => context.rem,
        "ch" => font.ch,
        "ex" => font.ex,
        "rex" | "rch" => context.rem * 0.5,
        "cap" | "ic" => context.em,
        "rcap" | "ric" => context.rem,
        "lh" => context.em * 1.2,
        "rlh" => context.rem * 1.2,
        "vw" | "svw" | "lvw" | "dvw" | "vi" | "svi" | "lvi" | "dvi" | "cqw" | "cqi" => {
            width / 100.0
        }
        "vh" | "svh" | "lvh" | "dvh" | "vb" | "svb" | "lvb" | "dvb" | "cqh" | "cqb" => {
            height / 100.0
        }
        "vmin" | "svmin" | "lvmin" | "dvmin" | "cqmin" => width.min(height) / 100.0,
        "vmax" | "svmax" | "lvmax" | "dvmax" | "cqmax" => width.max(height) / 100.0,
        "in" => 96.0,
        "cm" => 96.0 / 2.54,
        "mm" => 96.0 / 25.4,
        "q" => 96.0 / 101.6,
        "pt" => 96.0 / 72.0,
        "pc" => 16.0,
        _ => return wrong(),
    };
    Ok(Quantity::Px(value * factor))
}

fn function(
    name: &str,
    input: &mut Parser<'_>,
    context: &LengthContext,
) -> Result<Quantity, Error> {
    let mut values = vec![sum(input, context)?];
    while input.try_parse(Parser::expect_comma).is_ok() {
        values.push(sum(input, context)?);
    }
    let px = matches!(values[0], Quantity::Px(_));
    let plain: Vec<f32> = values.iter().map(|value| value.plain()).collect();
    let same = values
        .iter()
        .all(|value| matches!(value, Quantity::Px(_)) == px);
    let result = match (name, plain.as_slice()) {
        _ if !same => return wrong(),
        ("calc", [only]) => *only,
        ("min", all) => all.iter().copied().fold(f32::INFINITY, f32::min),
        ("max", all) => all.iter().copied().fold(f32::NEG_INFINITY, f32::max),
        ("clamp", [least, wanted, most]) => wanted.min(*most).max(*least),
        ("abs", [only]) => only.abs(),
        ("round", [value, step]) if *step > 0.0 => (value / step).round() * step,
        _ => return wrong(),
    };
    Ok(if px {
        Quantity::Px(result)
    } else {
        Quantity::Number(result)
    })
}

impl Quantity {
    fn plain(self) -> f32 {
        match self {
            Quantity::Number(value) | Quantity::Px(value) => value,
        }
    }
}

fn sum(input: &mut Parser<'_>, context: &LengthContext) -> Result<Quantity, Error> {
    let mut total = product(input, context)?;
    loop {
        let start = input.state();
        let sign = match input.next() {
            Ok(Token::Delim('+')) => 1.0,
            Ok(Token::Delim('-')) => -1.0,
            Ok(_) => {
                input.reset(&start);
                return Ok(total);
            }
            Err(_) => return Ok(total),
        };
        total = match (total, product(input, context)?) {
            (Quantity::Px(a), Quantity::Px(b)) => Quantity::Px(a + sign * b),
            (Quantity::Number(a), Quantity::Number(b)) => Quantity::Number(a + sign * b),
            _ => return wrong(),
        };
    }
}

fn product(input: &mut Parser<'_>, context: &LengthContext) -> Result<Quantity, Error> {
    let mut total = length(input, context)?;
    loop {
        let start = input.state();
        let times = match input.next() {
            Ok(Token::Delim('*')) => true,
            Ok(Token::Delim('/')) => false,
            Ok(_) => {
                input.reset(&start);
                return Ok(total);
            }
            Err(_) => return Ok(total),
        };
        let other = length(input, context)?;
        total = match (total, other, times) {
            (Quantity::Number(a), Quantity::Number(b), true) => Quantity::Number(a * b),
            (Quantity::Px(a), Quantity::Number(b), true)
            | (Quantity::Number(a), Quantity::Px(b), true) => Quantity::Px(a * b),
            (Quantity::Number(a), Quantity::Number(b), false) if b != 0.0 => {
                Quantity::Number(a / b)
            }
            (Quantity::Px(a), Quantity::Number(b), false) if b != 0.0 => Quantity::Px(a / b),
            (Quantity::Px(a), Quantity::Px(b), false) if b != 0.0 => Quantity::Number(a / b),
            _ => return wrong(),
        };
    }
}
