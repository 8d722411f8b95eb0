//! Placeholders outside of ICU messages: `printf` conversions, and names in
//! braces of several makes (`{{name}}`, `%{name}`, `${name}`, `{0}`).

use super::brought::{Kind, brought};
use super::{Parts, markup};

/// The longest placeholder in braces, in bytes.
const LONGEST: usize = 200;

/// Hands over what shows of `message`.
pub(super) fn show(message: &str, language: Option<&str>, parts: &mut Parts<'_>) {
    let mut text = String::new();
    let mut rest = message;
    while let Some(at) = rest.find(['%', '{', '$']) {
        let (before, special) = rest.split_at(at);
        text.push_str(before);
        let Some((length, what)) = placeholder(special) else {
            let sign = special.chars().next().map_or(1, char::len_utf8);
            text.push_str(&special[..sign]);
            rest = &special[sign..];
            continue;
        };
        match what {
            What::Sign(sign) => text.push(sign),
            What::Unknown | What::Brings(_) => {
                if !text.is_empty() {
                    markup::show(&std::mem::take(&mut text), parts);
                }
                if let What::Brings(kind) = what {
                    parts(&brought(kind, language), true);
                }
            }
        }
        rest = &special[length..];
    }
    text.push_str(rest);
    if !text.is_empty() {
        markup::show(&text, parts);
    }
}

enum What {
    Sign(char),
    Unknown,
    Brings(Kind),
}

/// Where `close` is in `text`, unless that is farther than a placeholder is long: where
/// none is closed, each would look through all of the rest.
fn soon(text: &str, close: &str) -> Option<usize> {
    let most = (LONGEST + close.len()).min(text.len());
    let near = &text.as_bytes()[..most];
    let found = near
        .windows(close.len())
        .position(|part| part == close.as_bytes());
    found.filter(|end| *end < LONGEST)
}

/// The placeholder that `text` starts with: its length in bytes, and what shows.
fn placeholder(text: &str) -> Option<(usize, What)> {
    let named = |name: &str| Kind::by_name(name).map_or(What::Unknown, What::Brings);
    for (open, close) in [
        ("{{", "}}"),
        ("%{", "}"),
        ("${", "}"),
        ("{", "}"),
        ("$t(", ")"),
    ] {
        if let Some(rest) = text.strip_prefix(open) {
            let end = soon(rest, close)?;
            let inside = &rest[..end];
            // `{` on its own is only a sign where what follows is no name.
            let name = inside
                .split([',', ':', '|'])
                .next()
                .unwrap_or_default()
                .trim();
            let is_name = open != "{"
                || name
                    .chars()
                    .all(|c| c.is_alphanumeric() || "_-.$@[]".contains(c));
            return is_name.then(|| (open.len() + end + close.len(), named(name)));
        }
    }
    let bytes = text.as_bytes();
    if bytes.first() != Some(&b'%') {
        return None;
    }
    if bytes.get(1) == Some(&b'%') {
        return Some((2, What::Sign('%')));
    }
    let mut at = 1;
    let mut name = None;
    if bytes.get(at) == Some(&b'(') {
        let end = soon(text, ")")?;
        name = Some(&text[2..end]);
        at = end + 1;
    }
    let skip = |at: &mut usize, allowed: &[u8]| {
        while bytes.get(*at).is_some_and(|byte| allowed.contains(byte)) {
            *at += 1;
        }
    };
    // A position, flags (without the blank, which running text has), a width, a
    // precision, a length.
    skip(&mut at, b"0123456789$");
    skip(&mut at, b"-+#0,");
    skip(&mut at, b"0123456789*");
    skip(&mut at, b".0123456789*");
    skip(&mut at, b"hlLqjzt");
    let what = match bytes.get(at)? {
        b'd' | b'i' | b'u' => What::Brings(Kind::Integer),
        b'f' | b'F' | b'e' | b'E' | b'g' | b'G' => What::Brings(Kind::Number),
        b's' | b'S' | b'@' | b'c' | b'C' => name.map_or(What::Unknown, named),
        b'x' | b'X' | b'o' | b'p' => What::Brings(Kind::Integer),
        _ => return None,
    };
    // `50%discount` is no conversion where the word goes on.
    if bytes.get(at + 1).is_some_and(u8::is_ascii_alphabetic) && name.is_none() && at == 1 {
        return None;
    }
    Some((at + 1, what))
}
