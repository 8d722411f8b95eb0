//! Longhands of counters (CSS Lists 3, §4).

use cssparser::{Parser, Token};

use super::given::Given;
use super::{Longhand, row};
use crate::style::computed::Numbered;

/// The most counters that a declaration is about.
const MOST: usize = 1_000;

pub(super) fn longhands() -> [Longhand; 3] {
    [
        row!(
            "counter-reset",
            false,
            "none",
            false,
            counters.reset,
            |given| numbered(given, 0)
        ),
        row!(
            "counter-increment",
            false,
            "none",
            false,
            counters.increment,
            |given| numbered(given, 1)
        ),
        row!("counter-set", false, "none", false, counters.set, |given| {
            numbered(given, 0)
        }),
    ]
}

/// `none`, or names that may each have a whole number behind them; `otherwise` where they
/// have none.
fn numbered(given: &Given<'_>, otherwise: i32) -> Option<Numbered> {
    if given.lower == "none" {
        return Some(Vec::new());
    }
    let mut input = Parser::new(given.text);
    let mut found: Numbered = Vec::new();
    // Whether the last name may still have a number.
    let mut is_open = false;
    loop {
        let start = input.position();
        let Ok(token) = input.next().cloned() else {
            break;
        };
        match token {
            Token::Ident(name) if !is_reserved(&name) && found.len() < MOST => {
                found.push((name.to_string(), otherwise));
                is_open = true;
                continue;
            }
            Token::Function(_) => {
                let to_its_end = |input: &mut Parser<'_>| {
                    while input.next().is_ok() {}
                    Ok::<_, cssparser::ParseError<()>>(())
                };
                input.parse_nested_block(to_its_end).ok()?;
            }
            Token::Number { .. } => {}
            _ => return None,
        }
        let number = input.slice_from(start).trim().to_ascii_lowercase();
        let (_, last) = found.last_mut().filter(|_| is_open)?;
        *last = given.part(&number).integer()?;
        is_open = false;
    }
    (!found.is_empty()).then_some(found)
}

/// Whether no counter may have this name.
fn is_reserved(name: &str) -> bool {
    super::is_wide(name)
        || ["none", "default"]
            .iter()
            .any(|no| name.eq_ignore_ascii_case(no))
}
