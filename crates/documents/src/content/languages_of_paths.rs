//! The language of a file, by its path: `locales/uk/app.json`, `uk.json`,
//! `messages_uk.properties`, `values-uk/strings.xml`, `uk.lproj/…`.

use tidy_lattice_glyphs::text::{exemplars, signs};

/// Folders whose folders are named by language.
const AROUND: [&str; 14] = [
    "locales",
    "locale",
    "_locales",
    "i18n",
    "l10n",
    "lang",
    "langs",
    "languages",
    "intl",
    "translations",
    "messages",
    "texts",
    "strings",
    "content",
];

/// Words that are language tags too, and more often mean something else.
const WORDS: [&str; 20] = [
    "am", "as", "be", "bin", "bo", "br", "do", "id", "in", "is", "it", "js", "my", "no", "or",
    "os", "so", "ti", "to", "ts",
];

/// Whether `tag` is a BCP 47 tag of a language that CLDR knows: `uk`, `pt-BR`,
/// `zh_Hans`.
pub fn is_language(tag: &str) -> bool {
    let mut parts = tag.split(['-', '_']);
    let first = parts.next().unwrap_or_default();
    let language = (2..=3).contains(&first.len())
        && first.bytes().all(|byte| byte.is_ascii_alphabetic())
        && signs(&first.to_ascii_lowercase()).is_some();
    language
        && parts.all(|part| {
            let alphabetic = part.bytes().all(|byte| byte.is_ascii_alphabetic());
            let digits = part.bytes().all(|byte| byte.is_ascii_digit());
            matches!(part.len(), 2 | 4) && alphabetic || part.len() == 3 && digits
        })
}

/// The language that `path` names, as a BCP 47 tag.
pub fn language_of_path(path: &str) -> Option<String> {
    let mut parts: Vec<&str> = path.split(['/', '\\']).collect();
    let file = parts.pop().unwrap_or_default();
    let stem = file.split('.').next().unwrap_or_default();
    let inner: Vec<&str> = file.split('.').collect();
    // `uk.json`, `app.uk.arb`.
    let middle = inner
        .get(1..inner.len().saturating_sub(1))
        .unwrap_or_default();
    let names = middle.iter().rev().copied().chain([stem]);
    for name in names {
        if is_language(name) && (!WORDS.contains(&name) || is_catalogue(file)) {
            return Some(tag(name));
        }
    }
    // `messages_uk`, `app-pt-BR`: what stands behind the first sign that leaves a
    // language.
    for (place, _) in stem.match_indices(['_', '-']) {
        let name = &stem[place + 1..];
        if is_language(name) && (!WORDS.contains(&name) || is_catalogue(file)) {
            return Some(tag(name));
        }
    }
    while let Some(folder) = parts.pop() {
        if let Some(language) = folder.strip_suffix(".lproj").filter(|tag| is_language(tag)) {
            return Some(tag(language));
        }
        if let Some(language) = folder.strip_prefix("values-").and_then(qualified) {
            return Some(language);
        }
        let known = parts.last().is_some_and(|around| AROUND.contains(around));
        if is_language(folder) && (known || !WORDS.contains(&folder)) {
            return Some(tag(folder));
        }
    }
    None
}

/// Whether the file's ending is that of catalogues, where tags are likely.
fn is_catalogue(file: &str) -> bool {
    let ending = file.rsplit('.').next().unwrap_or_default();
    [
        "json",
        "arb",
        "po",
        "xlf",
        "xliff",
        "properties",
        "yml",
        "yaml",
    ]
    .contains(&ending)
}

/// `uk`, `pt-rBR`, `b+sr+Latn` of a resource folder.
fn qualified(name: &str) -> Option<String> {
    if let Some(name) = name.strip_prefix("b+") {
        let tag_name = name.replace('+', "-");
        return is_language(&tag_name).then(|| tag(&tag_name));
    }
    let parts: Vec<&str> = name.split('-').collect();
    let language = parts.first().filter(|language| is_language(language))?;
    let region = parts
        .get(1)
        .and_then(|part| part.strip_prefix('r'))
        .filter(|r| r.len() == 2);
    Some(match region {
        Some(region) => tag(&format!("{language}-{region}")),
        None => tag(language),
    })
}

/// The tag as it is written today.
fn tag(name: &str) -> String {
    exemplars::preferred(name)
}
