//! Values split at blanks.

/// The parts of a value, split at blanks outside of brackets.
pub(in crate::style) fn parts(value: &str) -> Vec<String> {
    let mut parts = Vec::new();
    let (mut depth, mut part) = (0_usize, String::new());
    for character in value.chars() {
        match character {
            '(' | '[' => depth += 1,
            ')' | ']' => depth = depth.saturating_sub(1),
            _ => {}
        }
        if character.is_whitespace() && depth == 0 {
            if !part.is_empty() {
                parts.push(std::mem::take(&mut part));
            }
        } else {
            part.extend(character.to_lowercase());
        }
    }
    if !part.is_empty() {
        parts.push(part);
    }
    parts
}
