//! Messages of catalogues: what of them shows. Placeholders show something else
//! than themselves; of plural forms only those show that the language has; tags
//! do not show at all.

mod brought;
mod icu;
mod markup;
mod plain;

pub use brought::{Kind, brought};

use std::cell::RefCell;
use std::collections::HashMap;

use icu_locale::Locale;
use icu_plurals::{PluralCategory, PluralRules};

/// How placeholders are written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Syntax {
    /// As in `printf`: `%d`, `%1$s`, `%(name)s`; and in braces.
    Printf,
    /// ICU messages where they are well formed, else braces and `printf`.
    Any,
}

/// Where parts of a message go; true where a placeholder brings them.
pub(super) type Parts<'p> = dyn FnMut(&str, bool) + 'p;

/// Hands over what shows of `message` in `language`.
pub(super) fn shown(message: &str, syntax: Syntax, language: Option<&str>, parts: &mut Parts<'_>) {
    let special = |byte: &u8| matches!(byte, b'{' | b'%' | b'<' | b'&' | b'$');
    if !message.as_bytes().iter().any(special) {
        parts(message, false);
        return;
    }
    if syntax == Syntax::Any
        && message.contains('{')
        && !(message.contains("%{") || message.contains("${"))
        && let Some(tree) = icu::read(message)
    {
        icu::show(&tree, language, parts);
        return;
    }
    plain::show(message, language, parts);
}

/// Whether a form for the plural category `keyword` is ever chosen in
/// `language`; true for words that are no categories, and where the language is
/// not known.
pub(super) fn plural_shows(keyword: &str, language: Option<&str>) -> bool {
    let category = match keyword {
        "zero" => PluralCategory::Zero,
        "one" => PluralCategory::One,
        "two" => PluralCategory::Two,
        "few" => PluralCategory::Few,
        "many" => PluralCategory::Many,
        _ => return true,
    };
    let Some(language) = language else {
        return true;
    };
    thread_local! {
        static KNOWN: RefCell<HashMap<String, Vec<PluralCategory>>> = RefCell::default();
    }
    KNOWN.with_borrow_mut(|known| {
        if !known.contains_key(language) {
            let rules = locale(language)
                .and_then(|locale| PluralRules::try_new_cardinal((&locale).into()).ok());
            let categories = rules.map(|rules| rules.categories().collect());
            known.insert(language.to_owned(), categories.unwrap_or_default());
        }
        let categories = &known[language];
        categories.is_empty() || categories.contains(&category)
    })
}

/// The locale of a tag, with hyphens or underscores.
fn locale(tag: &str) -> Option<Locale> {
    Locale::try_from_str(&tag.replace('_', "-")).ok()
}
