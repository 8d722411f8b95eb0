//! The script whose generic families a text gets: browsers keep generic families by script,
//! and take the script from the language that the page states.

use icu_locale::{LanguageIdentifier, LocaleExpander};

/// Scripts for which browsers have generic families of their own (ISO 15924).
pub const SCRIPTS: [&str; 5] = ["Deva", "Hans", "Hant", "Jpan", "Kore"];

thread_local! {
    static LIKELY: LocaleExpander = const { LocaleExpander::new_common() };
}

/// Whether `tag` has the form of a language tag (BCP 47).
pub fn is_language_tag(tag: &str) -> bool {
    tag.parse::<LanguageIdentifier>().is_ok()
}

/// The one of [`SCRIPTS`] that `language` (a BCP 47 tag) is written in; `None` for all
/// others, which get the usual generic families.
pub fn script_for_generics(language: &str) -> Option<&'static str> {
    let mut language: LanguageIdentifier = language.replace('_', "-").parse().ok()?;
    LIKELY.with(|likely| likely.maximize(&mut language));
    let script = language.script?;
    SCRIPTS.into_iter().find(|known| *known == script.as_str())
}
