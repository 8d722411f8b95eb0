//! Quotation marks and currency signs of languages, from CLDR.

use std::collections::HashMap;
use std::sync::LazyLock;

const SIGNS: &str = include_str!("../../data/language-signs.txt");

/// The marks and signs of a language.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct LanguageSigns {
    /// Opening and closing quotation marks.
    pub quotes: (&'static str, &'static str),
    /// Those inside of others.
    pub inner_quotes: (&'static str, &'static str),
    /// The currency of the region where most of its speakers live (ISO 4217);
    /// `-` where the language has no region.
    pub currency: &'static str,
    /// The sign of that currency, and its narrow form.
    pub currency_signs: (&'static str, &'static str),
}

static LANGUAGES: LazyLock<HashMap<&'static str, LanguageSigns>> = LazyLock::new(|| {
    let lines = SIGNS.lines().filter(|line| !line.starts_with('#'));
    lines
        .filter_map(|line| {
            let fields: Vec<&str> = line.split('\t').collect();
            let [
                language,
                open,
                close,
                inner_open,
                inner_close,
                currency,
                sign,
                narrow,
            ] = fields.as_slice()
            else {
                return None;
            };
            Some((
                *language,
                LanguageSigns {
                    quotes: (open, close),
                    inner_quotes: (inner_open, inner_close),
                    currency,
                    currency_signs: (sign, narrow),
                },
            ))
        })
        .collect()
});

/// The signs of the language of a BCP 47 `tag`; regions are ignored. `None` for
/// languages that CLDR does not know.
pub fn signs(tag: &str) -> Option<LanguageSigns> {
    let tag = super::exemplars::preferred(tag);
    let mut parts: Vec<&str> = tag.split('-').collect();
    loop {
        let name = parts.join("-");
        let found = LANGUAGES
            .iter()
            .find(|(known, _)| known.eq_ignore_ascii_case(&name));
        if let Some((_, signs)) = found {
            return Some(*signs);
        }
        parts.pop();
        if parts.is_empty() {
            return None;
        }
    }
}
