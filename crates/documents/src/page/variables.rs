//! Custom properties and `var()` (CSS Variables 1).

use std::collections::HashMap;

use cssparser::{ParseError, Parser, Token};

use super::work::Work;

/// Custom properties of an element: names with their hyphens, values.
pub(super) type Variables = HashMap<String, String>;

/// Values longer than this, in bytes, are treated as invalid: references that
/// double at every step would never end.
pub(super) const LONGEST: usize = 64 * 1024;

/// How deep references, and functions with references in them, may nest.
const DEEPEST: usize = 64;

/// `value` with every `var()` replaced; `None` where a reference leads nowhere
/// and has no fallback, or leads round in a circle.
///
/// Every byte that is read for it is paid from `work`; it leads nowhere where nothing
/// is left.
pub(super) fn substitute(value: &str, variables: &Variables, work: &Work) -> Option<String> {
    let mut way = Way {
        variables,
        work,
        within: Vec::new(),
        depth: 0,
    };
    way.substitute(value)
}

/// Whether `value` refers to a custom property.
pub(super) fn refers(value: &str) -> bool {
    let mut rest = value.as_bytes();
    while let Some(at) = rest.iter().position(|byte| *byte == b'(') {
        if rest[..at].to_ascii_lowercase().ends_with(b"var") {
            return true;
        }
        rest = &rest[at + 1..];
    }
    false
}

/// Down the references of a value.
struct Way<'a> {
    variables: &'a Variables,
    work: &'a Work,
    /// The properties whose values are being replaced.
    within: Vec<String>,
    /// How deep properties and fallbacks nest here.
    depth: usize,
}

type Error = ParseError<()>;

impl Way<'_> {
    fn substitute(&mut self, value: &str) -> Option<String> {
        if !refers(value) {
            return Some(value.to_owned());
        }
        if self.depth > DEEPEST || !self.work.pay(value.len() as u64) {
            return None;
        }
        let depth = self.depth;
        self.depth += 1;
        let mut input = Parser::new(value);
        let mut result = String::new();
        let replaced = self.replace(&mut input, &mut result);
        // Where a reference in brackets leads nowhere, its way back out is cut short.
        self.depth = depth;
        self.work.pay(result.len() as u64);
        replaced.ok()?;
        (result.len() <= LONGEST).then_some(result)
    }

    fn replace(&mut self, input: &mut Parser<'_>, result: &mut String) -> Result<(), Error> {
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
                    let found = input.parse_nested_block(|input| self.reference(input))?;
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
                    self.depth += 1;
                    if self.depth > DEEPEST {
                        return Err(ParseError::custom(()));
                    }
                    input.parse_nested_block(|input| self.replace(input, result))?;
                    self.depth -= 1;
                    result.push(close);
                }
                _ => result.push_str(input.slice_from(start)),
            }
        }
    }

    fn reference(&mut self, input: &mut Parser<'_>) -> Result<String, Error> {
        let name = input.expect_ident_cloned()?.to_string();
        let fallback = if input.try_parse(Parser::expect_comma).is_ok() {
            let start = input.position();
            while input.next().is_ok() {}
            Some(input.slice_from(start).trim())
        } else {
            None
        };
        let circular = self.within.contains(&name);
        if let (Some(value), false) = (self.variables.get(&name), circular) {
            self.within.push(name);
            let value = self.substitute(value);
            self.within.pop();
            if let Some(value) = value {
                return Ok(value);
            }
        }
        let fallback = fallback.ok_or(ParseError::custom(()))?;
        self.substitute(fallback).ok_or(ParseError::custom(()))
    }
}
