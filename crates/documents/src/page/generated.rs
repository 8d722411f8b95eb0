//! Text that style sheets make: `content` (CSS Content 3, §2) and list markers
//! (CSS Counter Styles 3, §6).

use std::ops::Range;

use icu_properties::CodePointMapData;
use icu_properties::props::GeneralCategory;
use icu_segmenter::GraphemeClusterSegmenter;

use cssparser::{Parser, Token};
use tidy_lattice_glyphs::text::signs;

use super::counters::Counters;
use super::dom::{Dom, NodeId};
use crate::style::computed::TextStyle;

/// The text that `content` makes for a pseudo-element of `node`, where the counters have these
/// values.
pub(super) fn content(
    value: &str,
    dom: &Dom,
    node: NodeId,
    style: &TextStyle,
    counters: &Counters,
) -> String {
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
                let arguments = input.parse_nested_block(|input| {
                    let mut found = Vec::new();
                    while let Ok(token) = input.next() {
                        match token {
                            Token::Ident(part) | Token::QuotedString(part) => {
                                found.push(part.to_string());
                            }
                            _ => {}
                        }
                    }
                    Ok::<_, cssparser::ParseError<()>>(found)
                });
                let arguments = arguments.unwrap_or_default();
                let parts: Vec<&str> = arguments.iter().map(String::as_str).collect();
                match (name.as_str(), parts.as_slice()) {
                    ("attr", [name, ..]) => {
                        text.push_str(dom.attribute(node, name).unwrap_or_default());
                    }
                    ("counter", [name, kind @ ..]) => {
                        text.push_str(&counted(counters.value(name), kind));
                    }
                    ("counters", [name, between, kind @ ..]) => {
                        let values = counters.values(name);
                        let values = values.iter().map(|value| counted(*value, kind));
                        text.push_str(&values.collect::<Vec<_>>().join(between));
                    }
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
    numbered(number, kind).map(|text| format!("{text}."))
}

/// The value of a counter in a counter style, in decimal numbers where the style has none for
/// it (CSS Counter Styles 3, §2).
fn counted(value: i32, kind: &[&str]) -> String {
    let kind = kind.first().copied().unwrap_or("decimal");
    let sign = match kind.to_ascii_lowercase().as_str() {
        "none" => "",
        "disc" => "•",
        "circle" => "◦",
        "square" => "▪",
        _ => {
            let number = usize::try_from(value.unsigned_abs()).unwrap_or(usize::MAX);
            // Digits take a sign; letters and Roman numbers start at 1.
            let text = numbered(number, kind)
                .filter(|text| value > 0 || text.starts_with(char::is_numeric))
                .unwrap_or_else(|| number.to_string());
            return if value < 0 { format!("-{text}") } else { text };
        }
    };
    sign.to_owned()
}

/// A number in a counter style that has signs for numbers.
fn numbered(number: usize, kind: &str) -> Option<String> {
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
    Some(match kind.to_ascii_lowercase().as_str() {
        "decimal" => number.to_string(),
        "decimal-leading-zero" => format!("{number:02}"),
        "lower-alpha" | "lower-latin" => letters('a', 26),
        "upper-alpha" | "upper-latin" => letters('A', 26),
        "lower-greek" => greek(number)?,
        "lower-roman" => roman(number).to_lowercase(),
        "upper-roman" => roman(number),
        "arabic-indic" => digits(number, '٠'),
        "persian" | "urdu" => digits(number, '۰'),
        "devanagari" | "hindi" => digits(number, '०'),
        "bengali" => digits(number, '০'),
        "thai" => digits(number, '๐'),
        _ => return None,
    })
}

/// The letters α to ω without the final sigma, one for each of the first 24 numbers, then two.
fn greek(number: usize) -> Option<String> {
    let alphabet: Vec<char> = ('α'..='ω').filter(|letter| *letter != 'ς').collect();
    let mut rest = number;
    let mut text = Vec::new();
    while rest > 0 {
        rest -= 1;
        text.push(*alphabet.get(rest % alphabet.len())?);
        rest /= alphabet.len();
    }
    Some(text.iter().rev().collect())
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
