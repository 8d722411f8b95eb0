//! Text that style sheets make: `content` (CSS Content 3, §2) and list markers
//! (CSS Counter Styles 3, §6).

use std::ops::Range;

use icu_properties::CodePointMapData;
use icu_properties::props::GeneralCategory;
use icu_segmenter::GraphemeClusterSegmenter;

use cssparser::{Parser, Token};
use tidy_lattice_glyphs::text::signs;

use super::dom::{Dom, NodeId};
use crate::style::computed::TextStyle;

/// The text that `content` makes for a pseudo-element of `node`. A counter
/// counts for all digits, as its value is not known.
pub(super) fn content(value: &str, dom: &Dom, node: NodeId, style: &TextStyle) -> String {
    let mut input = Parser::new(value);
    let mut text = String::new();
    while let Ok(token) = input.next().cloned() {
        match token {
            Token::QuotedString(string) => text.push_str(&string),
            Token::Ident(word) => {
                let closing = word.eq_ignore_ascii_case("close-quote");
                if closing || word.eq_ignore_ascii_case("open-quote") {
                    text.push_str(&quote(
                        style,
                        super::language::of(dom, node).as_deref(),
                        closing,
                    ));
                }
            }
            Token::Function(name) => {
                let name = name.to_ascii_lowercase();
                let argument = input.parse_nested_block(|input| {
                    let first = input.expect_ident_or_string().map(ToString::to_string);
                    while input.next().is_ok() {}
                    Ok::<_, cssparser::ParseError<()>>(first.unwrap_or_default())
                });
                match (name.as_str(), argument) {
                    ("attr", Ok(name)) => {
                        text.push_str(dom.attribute(node, &name).unwrap_or_default());
                    }
                    ("counter" | "counters", _) => text.push_str("0123456789"),
                    _ => {}
                }
            }
            // What follows is the alternative text, which does not show.
            Token::Delim('/') => break,
            _ => {}
        }
    }
    text
}

/// The outermost mark of `quotes`; for `auto` that of the language.
fn quote(style: &TextStyle, language: Option<&str>, closing: bool) -> String {
    let pick = |open: &str, close: &str| {
        if closing {
            close.to_owned()
        } else {
            open.to_owned()
        }
    };
    match &style.quotes {
        Some(pairs) => match pairs.first() {
            Some((open, close)) => pick(open, close),
            None => String::new(),
        },
        None => {
            let signs = signs(language.unwrap_or("en"));
            let (open, close) = signs.map_or(("“", "”"), |signs| signs.quotes);
            pick(open, close)
        }
    }
}

/// Where the first letter of a text is, with the punctuation around it (CSS Pseudo 4,
/// §2.2); nothing where there is none.
pub(super) fn first_letter(text: &str) -> Option<Range<usize>> {
    let kinds = CodePointMapData::<GeneralCategory>::new();
    let marks = |text: &str| {
        let punctuation = text.chars().take_while(|c| {
            matches!(
                kinds.get(*c),
                GeneralCategory::OpenPunctuation
                    | GeneralCategory::ClosePunctuation
                    | GeneralCategory::InitialPunctuation
                    | GeneralCategory::FinalPunctuation
                    | GeneralCategory::OtherPunctuation
            )
        });
        punctuation.map(char::len_utf8).sum::<usize>()
    };
    let start = text.len() - text.trim_start().len();
    let letter = start + marks(&text[start..]);
    let cluster = GraphemeClusterSegmenter::new()
        .segment_str(&text[letter..])
        .find(|end| *end > 0)?;
    if text[letter..].starts_with(char::is_whitespace) {
        return None;
    }
    let end = letter + cluster;
    Some(start..end + marks(&text[end..]))
}

/// The text of the marker of the item `number` in a list of this style; nothing
/// where the marker is drawn, not set.
pub(super) fn marker(style: &TextStyle, number: usize) -> Option<String> {
    let kind = style.list.trim();
    if let Some(text) = quoted(kind) {
        return Some(text);
    }
    let letters = |first: char, count: usize| {
        let mut rest = number.max(1);
        let mut text = Vec::new();
        while rest > 0 {
            rest -= 1;
            let letter = u32::from(first) + u32::try_from(rest % count).unwrap_or(0);
            text.push(char::from_u32(letter).unwrap_or(first));
            rest /= count;
        }
        text.iter().rev().collect::<String>()
    };
    let text = match kind.to_ascii_lowercase().as_str() {
        "decimal" => number.to_string(),
        "decimal-leading-zero" => format!("{number:02}"),
        "lower-alpha" | "lower-latin" => letters('a', 26),
        "upper-alpha" | "upper-latin" => letters('A', 26),
        "lower-roman" => roman(number).to_lowercase(),
        "upper-roman" => roman(number),
        "arabic-indic" => digits(number, '٠'),
        "persian" | "urdu" => digits(number, '۰'),
        "devanagari" | "hindi" => digits(number, '०'),
        "bengali" => digits(number, '০'),
        "thai" => digits(number, '๐'),
        _ => return None,
    };
    Some(format!("{text}."))
}

fn quoted(text: &str) -> Option<String> {
    let mut input = Parser::new(text);
    input
        .expect_string_cloned()
        .ok()
        .map(|text| text.to_string())
}

fn digits(number: usize, zero: char) -> String {
    let digit = |c: char| {
        let value = c.to_digit(10).unwrap_or(0);
        char::from_u32(u32::from(zero) + value).unwrap_or(c)
    };
    number.to_string().chars().map(digit).collect()
}

fn roman(number: usize) -> String {
    const SIGNS: [(usize, &str); 13] = [
        (1000, "M"),
        (900, "CM"),
        (500, "D"),
        (400, "CD"),
        (100, "C"),
        (90, "XC"),
        (50, "L"),
        (40, "XL"),
        (10, "X"),
        (9, "IX"),
        (5, "V"),
        (4, "IV"),
        (1, "I"),
    ];
    if number >= 4000 {
        return number.to_string();
    }
    let mut rest = number;
    let mut text = String::new();
    for (value, sign) in SIGNS {
        while rest >= value {
            text.push_str(sign);
            rest -= value;
        }
    }
    text
}
