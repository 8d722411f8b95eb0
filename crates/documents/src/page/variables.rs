//! Custom properties and `var()` (CSS Variables 1).

use std::collections::HashMap;

use cssparser::{ParseError, Parser, Token};

/// Custom properties of an element: names with their hyphens, values.
pub(super) type Variables = HashMap<String, String>;

/// Values longer than this, in bytes, are treated as invalid: references that
/// double at every step would never end.
const LONGEST: usize = 64 * 1024;

/// How deep references may nest.
const DEEPEST: usize = 32;

/// `value` with every `var()` replaced; `None` where a reference leads nowhere
/// and has no fallback, or leads round in a circle.
pub(super) fn substitute(value: &str, variables: &Variables) -> Option<String> {
    substitute_within(value, variables, &mut Vec::new())
}

fn substitute_within(
    value: &str,
    variables: &Variables,
    within: &mut Vec<String>,
) -> Option<String> {
    if !value.to_ascii_lowercase().contains("var(") {
        return Some(value.to_owned());
    }
    if within.len() > DEEPEST {
        return None;
    }
    let mut input = Parser::new(value);
    let mut result = String::new();
    replace(&mut input, variables, within, &mut result).ok()?;
    (result.len() <= LONGEST).then_some(result)
}

type Error = ParseError<()>;

fn replace(
    input: &mut Parser<'_>,
    variables: &Variables,
    within: &mut Vec<String>,
    result: &mut String,
) -> Result<(), Error> {
    loop {
        let start = input.position();
        let Ok(token) = input.next_including_whitespace_and_comments() else {
            return Ok(());
        };
        let token = token.clone();
        if result.len() > LONGEST {
            return Err(ParseError::custom(()));
        }
        match token {
            Token::Function(name) if name.eq_ignore_ascii_case("var") => {
                let found =
                    input.parse_nested_block(|input| reference(input, variables, within))?;
                result.push_str(&found);
            }
            Token::Function(_)
            | Token::ParenthesisBlock
            | Token::SquareBracketBlock
            | Token::CurlyBracketBlock => {
                let close = match token {
                    Token::SquareBracketBlock => ']',
                    Token::CurlyBracketBlock => '}',
                    _ => ')',
                };
                result.push_str(input.slice_from(start));
                input.parse_nested_block(|input| replace(input, variables, within, result))?;
                result.push(close);
            }
            _ => result.push_str(input.slice_from(start)),
        }
    }
}

fn reference(
    input: &mut Parser<'_>,
    variables: &Variables,
    within: &mut Vec<String>,
) -> Result<String, Error> {
    let name = input.expect_ident_cloned()?.to_string();
    let fallback = if input.try_parse(Parser::expect_comma).is_ok() {
        let start = input.position();
        while input.next().is_ok() {}
        Some(input.slice_from(start).trim())
    } else {
        None
    };
    let circular = within.contains(&name);
    if let (Some(value), false) = (variables.get(&name), circular) {
        within.push(name);
        let value = substitute_within(value, variables, within);
        within.pop();
        if let Some(value) = value {
            return Ok(value);
        }
    }
    let fallback = fallback.ok_or(ParseError::custom(()))?;
    substitute_within(fallback, variables, within).ok_or(ParseError::custom(()))
}
