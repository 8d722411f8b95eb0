//! Strings, family lists and URLs as CSS wants them.

use std::fmt::Write as _;

use tidy_lattice_glyphs::text::is_steering;

/// The generic families (CSS Fonts 4, §2.1.2), which must not be quoted.
pub const GENERICS: [&str; 13] = [
    "serif",
    "sans-serif",
    "monospace",
    "cursive",
    "fantasy",
    "system-ui",
    "math",
    "emoji",
    "ui-serif",
    "ui-sans-serif",
    "ui-monospace",
    "ui-rounded",
    "fangsong",
];

/// Whether `name` is the keyword of a generic family.
pub fn is_generic(name: &str) -> bool {
    GENERICS.contains(&name)
}

/// `text` as a quoted string ("serialize a string", CSSOM §2.1). `<` is escaped
/// too, so that a name cannot end the style element that it stands in.
pub fn quoted(text: &str) -> String {
    let mut css = String::with_capacity(text.len() + 2);
    css.push('"');
    for character in text.chars() {
        match character {
            '\0' => css.push('\u{fffd}'),
            '"' | '\\' => {
                css.push('\\');
                css.push(character);
            }
            '<' | '\u{1}'..='\u{1f}' | '\u{7f}' => {
                let _ = write!(css, "\\{:x} ", u32::from(character));
            }
            // Whoever reads the sheet sees what it says.
            steering if is_steering(steering) => {
                let _ = write!(css, "\\{:x} ", u32::from(steering));
            }
            _ => css.push(character),
        }
    }
    css.push('"');
    css
}

/// A `font-family` value: families quoted, the generic at the end bare.
pub fn family_list<'a>(families: impl IntoIterator<Item = &'a str>, generic: &str) -> String {
    let mut list: Vec<String> = families.into_iter().map(quoted).collect();
    list.push(generic.to_owned());
    list.join(", ")
}

/// The name of a custom property made from `name`: lower-case ASCII letters
/// and digits, everything else a hyphen.
pub fn custom_property(name: &str) -> String {
    let mut property = String::from("-");
    for character in name.chars() {
        if character.is_ascii_alphanumeric() {
            property.push(character.to_ascii_lowercase());
        } else if !property.ends_with('-') {
            property.push('-');
        }
    }
    let property = format!("-{}", property.trim_end_matches('-'));
    if property.len() <= 2 {
        "--web-font".to_owned()
    } else {
        property
    }
}

/// The name of a class made from `name`, as [`custom_property`] makes one; it
/// never starts with a digit.
pub fn class_name(name: &str) -> String {
    let property = custom_property(name);
    let stem = property.trim_start_matches('-');
    format!("font-{stem}")
}

/// A relative file path as a URL: separators forward, and the characters
/// percent-encoded that would end or change a URL (RFC 3986, §2.1).
pub fn url_path(path: &str) -> String {
    let mut url = String::with_capacity(path.len());
    for byte in path.bytes() {
        match byte {
            b'A'..=b'Z'
            | b'a'..=b'z'
            | b'0'..=b'9'
            | b'-'
            | b'.'
            | b'_'
            | b'~'
            | b'/'
            | b'+'
            | b'@'
            | b','
            | b'=' => url.push(char::from(byte)),
            _ => {
                let _ = write!(url, "%{byte:02X}");
            }
        }
    }
    url
}
