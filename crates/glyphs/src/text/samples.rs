//! Built-in samples of languages, for fits without a text of the user's own.
//!
//! Letter and word frequencies are not listed anywhere: they are counted, each
//! time, on a passage of prose of our own in the language. Passages say the
//! same in every language, so results of several languages compare. A passage
//! of 100 to 150 words weighs the frequent words rightly and the rare ones
//! roughly; the user's own text is always the better sample.

use super::Source;

macro_rules! samples {
    ($($tag:literal),* $(,)?) => {
        &[$(($tag, include_str!(concat!("../../data/languages/", $tag, ".txt")))),*]
    };
}

/// Language subtag and passage, in the order of the tags.
const SAMPLES: &[(&str, &str)] = samples![
    "ar", "cs", "de", "el", "en", "es", "fr", "hi", "it", "ja", "nl", "pl", "pt", "ru", "sv", "tr",
    "uk", "vi",
];

/// The tags of the languages that have a sample, in alphabetical order.
pub fn tags() -> impl Iterator<Item = &'static str> {
    SAMPLES.iter().map(|(tag, _)| *tag)
}

/// The sample for a BCP 47 `tag`; region and script are ignored (`pl-PL` is
/// `pl`). `None` for languages without one.
pub fn of(tag: &str) -> Option<Source> {
    let language = tag.split(['-', '_']).next()?.to_ascii_lowercase();
    let (tag, text) = SAMPLES.iter().find(|(known, _)| *known == language)?;
    Some(Source {
        name: format!("sample of {tag}"),
        text: (*text).to_owned(),
    })
}
