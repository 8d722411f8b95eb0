//! The script whose generic families a text gets: browsers keep generic families by script,
//! and take the script from the language that the page states.

use icu_locale::{LanguageIdentifier, LocaleExpander};

/// Scripts for which browsers have generic families of their own (ISO 15924).
pub const SCRIPTS: [&str; 5] = ["Deva", "Hans", "Hant", "Jpan", "Kore"];

/// These, and those for which Firefox asks the system for a font of their language.
const WRITTEN: [&str; 24] = [
    "Arab", "Armn", "Beng", "Cyrl", "Deva", "Ethi", "Geor", "Grek", "Gujr", "Guru", "Hans", "Hant",
    "Hebr", "Jpan", "Khmr", "Knda", "Kore", "Mlym", "Orya", "Sinh", "Taml", "Telu", "Thai", "Tibt",
];

thread_local! {
    static LIKELY: LocaleExpander = const { LocaleExpander::new_extended() };
}

/// Whether `tag` has the form of a language tag (BCP 47).
pub fn is_language_tag(tag: &str) -> bool {
    tag.parse::<LanguageIdentifier>().is_ok()
}

/// The script that `language` (a BCP 47 tag) is written in, where some browser has generic
/// families of its own for it; `None` for all others, which get the usual ones.
pub fn script_for_generics(language: &str) -> Option<&'static str> {
    let mut language: LanguageIdentifier = language.replace('_', "-").parse().ok()?;
    LIKELY.with(|likely| likely.maximize(&mut language));
    let script = language.script?;
    WRITTEN.into_iter().find(|known| *known == script.as_str())
}
