//! The value of `font-family` (CSS Fonts 4, §2.1).

use cssparser::{Parser, Token};
use serde::Serialize;

use crate::style::is_generic;

/// The most families of a list that are read.
const MOST_FAMILIES: usize = 200;

/// One entry of a stack.
#[derive(Debug, Clone, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case", tag = "kind", content = "name")]
pub enum FamilyName {
    /// A family by its name.
    Named(String),
    /// A keyword that stands for what the platform has.
    Generic(String),
}

impl FamilyName {
    /// The name or keyword.
    pub fn as_str(&self) -> &str {
        match self {
            FamilyName::Named(name) | FamilyName::Generic(name) => name,
        }
    }
}

/// Keywords that are no names (CSS Values 4, §4.1.1) unless quoted.
const RESERVED: [&str; 6] = [
    "inherit",
    "initial",
    "unset",
    "revert",
    "revert-layer",
    "default",
];

/// The families of `text`, in order; `None` where it is no valid value.
///
/// Unquoted names are identifiers with one blank between them (§2.1.1); `Foo
/// 2`, which has none, makes the whole declaration invalid.
pub fn families(text: &str) -> Option<Vec<FamilyName>> {
    let mut input = Parser::new(text);
    let list = list(&mut input)?;
    input.is_exhausted().then_some(list)
}

/// The families up to the end of `input`.
pub(super) fn list(input: &mut Parser<'_>) -> Option<Vec<FamilyName>> {
    let mut list = Vec::new();
    loop {
        list.push(family(input)?);
        if list.len() > MOST_FAMILIES {
            return None;
        }
        match input.next() {
            Ok(Token::Comma) => {}
            Ok(_) => return None,
            Err(_) => return Some(list),
        }
    }
}

fn family(input: &mut Parser<'_>) -> Option<FamilyName> {
    if let Ok(quoted) = input.try_parse(|input| input.expect_string_cloned()) {
        return Some(FamilyName::Named(quoted.to_string()));
    }
    if input
        .try_parse(|input| input.expect_function_matching("generic"))
        .is_ok()
    {
        let name = input
            .parse_nested_block(|input| {
                Ok::<_, cssparser::ParseError<()>>(input.expect_ident_cloned()?)
            })
            .ok()?;
        return Some(FamilyName::Generic(format!("generic({name})")));
    }
    let mut words = vec![input.expect_ident_cloned().ok()?.to_string()];
    while let Ok(word) = input.try_parse(|input| input.expect_ident_cloned()) {
        words.push(word.to_string());
    }
    if let [only] = words.as_slice() {
        let lower = only.to_ascii_lowercase();
        if RESERVED.contains(&lower.as_str()) {
            return None;
        }
        if is_generic(&lower) {
            return Some(FamilyName::Generic(lower));
        }
    }
    Some(FamilyName::Named(words.join(" ")))
}
