//! The language and direction of elements (HTML, §3.2.6).

use super::dom::{Dom, NodeId};

/// The language of `node`, from the nearest `lang` around it, else from the
/// page's `Content-Language`.
pub fn of(dom: &Dom, node: NodeId) -> Option<String> {
    let mut around = Some(node);
    while let Some(node) = around {
        let declared = dom
            .attribute(node, "lang")
            .or_else(|| dom.attribute(node, "xml:lang"));
        if let Some(tag) = declared {
            return Some(tag.trim().to_owned()).filter(|tag| !tag.is_empty());
        }
        around = dom.parent(node);
    }
    None
}

/// Whether `language` is in the `range` of `:lang()` (RFC 4647, §3.3.2, as far
/// as `*` and prefixes go).
pub(super) fn matches(language: &str, range: &str) -> bool {
    if language.is_empty() {
        return range.is_empty();
    }
    let language = language.to_ascii_lowercase();
    let range = range.to_ascii_lowercase();
    if range == "*" {
        return true;
    }
    match range.strip_prefix("*-") {
        Some(part) => language.split('-').skip(1).any(|known| known == part),
        None => {
            language == range
                || language
                    .strip_prefix(&range)
                    .is_some_and(|rest| rest.starts_with('-'))
        }
    }
}

/// Whether the direction of `node` is right to left: by the nearest `dir`, where
/// `auto` looks at the text.
pub(super) fn right_to_left(dom: &Dom, node: NodeId) -> bool {
    let mut around = Some(node);
    while let Some(node) = around {
        match dom
            .attribute(node, "dir")
            .map(str::to_ascii_lowercase)
            .as_deref()
        {
            Some("rtl") => return true,
            Some("ltr") => return false,
            Some("auto") => {
                let text = dom.own_text(node);
                return unicode_bidi::get_base_direction(text.as_str())
                    == unicode_bidi::Direction::Rtl;
            }
            _ => around = dom.parent(node),
        }
    }
    false
}
