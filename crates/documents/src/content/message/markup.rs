//! Tags and references in messages: `<b>5&nbsp;min</b>` shows `5 min`.

use html5ever::data::NAMED_ENTITIES;

use super::Parts;

/// The longest tag that is taken for one, in bytes.
const LONGEST_TAG: usize = 2_000;

/// Hands over `text` without its tags, references resolved.
pub(super) fn show(text: &str, parts: &mut Parts<'_>) {
    let mut rest = text;
    while let Some(at) = rest.find(['<', '&']) {
        let (before, special) = rest.split_at(at);
        let taken = if special.starts_with('<') {
            tag(special).map(|length| (String::new(), length))
        } else {
            reference(special)
        };
        match taken {
            Some((shown, length)) => {
                if !before.is_empty() {
                    parts(before, false);
                }
                if !shown.is_empty() {
                    parts(&shown, false);
                }
                rest = &special[length..];
            }
            None => {
                // Only a sign.
                parts(&rest[..=at], false);
                rest = &rest[at + 1..];
            }
        }
    }
    if !rest.is_empty() {
        parts(rest, false);
    }
}

/// The length of the tag that `text` starts with.
fn tag(text: &str) -> Option<usize> {
    let name = text[1..].trim_start_matches('/');
    let first = name.chars().next()?;
    if !first.is_ascii_alphanumeric() {
        return None;
    }
    let end = text.find('>')?;
    let inside = &text[1..end];
    (end < LONGEST_TAG && !inside.contains('<')).then_some(end + 1)
}

/// What the reference that `text` starts with stands for, and its length.
fn reference(text: &str) -> Option<(String, usize)> {
    let end = text.char_indices().take(40).find(|(_, c)| *c == ';')?.0;
    let name = &text[1..end];
    let shown = if let Some(number) = name.strip_prefix('#') {
        let point = match number.strip_prefix(['x', 'X']) {
            Some(digits) => u32::from_str_radix(digits, 16).ok()?,
            None => number.parse().ok()?,
        };
        char::from_u32(point)?.to_string()
    } else {
        let (first, second) = NAMED_ENTITIES.get(&format!("{name};"))?;
        [*first, *second]
            .into_iter()
            .filter(|point| *point != 0)
            .filter_map(char::from_u32)
            .collect()
    };
    Some((shown, end + 1))
}
