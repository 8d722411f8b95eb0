//! What a face is made for: running text of a script, or something else.

use std::collections::BTreeMap;

use icu_properties::CodePointMapData;
use icu_properties::props::Script;
use tidy_lattice_glyphs::font::{Class, Face};
use tidy_lattice_glyphs::text::script_name;

use tidy_lattice_standin::Fitting;

/// Scripts that are written with thousands of characters.
const LARGE: [&str; 3] = ["Han", "Hangul", "Yi"];

/// Scripts that are written together with ideographs.
const WITH_HAN: [&str; 3] = ["Hiragana", "Katakana", "Bopomofo"];

/// Characters of a script beyond which a face is made for a large one.
const MANY: usize = 2000;

/// Latin letters that fonts for other scripts have beside their own.
const BESIDE: usize = 150;

/// Words in names of families that are for something other than running text.
const NOT_FOR_TEXT: [(&str, &str); 8] = [
    ("math", "mathematics"),
    ("symbol", "symbols"),
    ("symbols", "symbols"),
    ("dingbats", "symbols"),
    ("emoji", "emoji"),
    ("icon", "icons"),
    ("icons", "icons"),
    ("barcode", "bar codes"),
];

/// The script of most of the text that `fitting` measures and `web` shows, by its Unicode name.
pub fn script_of(fitting: &Fitting<'_>, web: &Face) -> Option<String> {
    let scripts = CodePointMapData::<Script>::new();
    let mut counts: BTreeMap<String, u64> = BTreeMap::new();
    for (text, count) in fitting.texts() {
        for character in text.chars().filter(|c| c.is_alphabetic() && web.maps(*c)) {
            let name = written(scripts.get(character));
            *counts.entry(name).or_default() += count;
        }
    }
    let most = counts
        .into_iter()
        .max_by(|a, b| a.1.cmp(&b.1).then(b.0.cmp(&a.0)));
    most.map(|(script, _)| script)
}

/// What else than running text of `script` the face is made for, in words.
pub fn made_for_other(face: &Face, class: Class, script: &str) -> Option<String> {
    let family = face.names().family.to_lowercase();
    let mut words = family.split(|c: char| !c.is_alphanumeric());
    let found = words.find_map(|word| NOT_FOR_TEXT.iter().find(|(known, _)| *known == word));
    if let Some((_, what)) = found {
        return Some((*what).to_owned());
    }
    if class == Class::Symbol {
        return Some("symbols".to_owned());
    }
    let counts = letters_by_script(face);
    let letters = counts.get(script).copied().unwrap_or(0);
    let (most, count) = counts
        .iter()
        .max_by(|a, b| a.1.cmp(b.1).then(b.0.cmp(a.0)))
        .map(|(script, count)| (script.clone(), *count))?;
    if most == script {
        return None;
    }
    let is_large = |script: &str| LARGE.contains(&script);
    let large = is_large(&most) && count > MANY && !is_large(script);
    let beside = script == "Latin" && letters < BESIDE && letters < count;
    // A face for Hangul has the ideographs of Korean names, and writes no Japanese.
    let few = is_large(script) && letters * 4 < count;
    (large || beside || few).then(|| match most.as_str() {
        "Han" => "ideographs".to_owned(),
        other => format!("the {other} script"),
    })
}

/// The Unicode name of a script; kana and the like are written as Han is.
fn written(script: Script) -> String {
    let name = script_name(script);
    if WITH_HAN.contains(&name.as_str()) {
        "Han".to_owned()
    } else {
        name
    }
}

/// How many letters the face has of each script.
fn letters_by_script(face: &Face) -> BTreeMap<String, usize> {
    let scripts = CodePointMapData::<Script>::new();
    let mut counts: BTreeMap<Script, usize> = BTreeMap::new();
    for character in face.characters().iter().filter_map(char::from_u32) {
        let script = scripts.get(character);
        if script != Script::Common && script != Script::Inherited {
            *counts.entry(script).or_default() += 1;
        }
    }
    let mut by_name = BTreeMap::new();
    for (script, count) in counts {
        *by_name.entry(written(script)).or_default() += count;
    }
    by_name
}
