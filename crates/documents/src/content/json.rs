//! JSON messages: flat or nested objects of strings, under keys of any kind; ARB
//! files; one object a language; localisation catalogues of strings by language.

use std::borrow::Cow;
use std::fmt;

use serde::de::{Deserializer as _, MapAccess, SeqAccess, Visitor};
use serde_json::value::RawValue;

use super::{ContentError, FormatReader, Lines, Message, Reading, Sink, plural_shows, show, utf8};
use crate::content::is_language;
use crate::content::message::Syntax;

pub(super) static JSON: FormatReader = FormatReader {
    name: "json",
    label: "JSON",
    endings: &["json", "arb"],
    read: |bytes, reading, sink| read(utf8(bytes)?, reading, sink),
};

/// How deep objects may nest.
const DEEPEST: usize = 64;

fn read(text: &str, reading: Reading<'_>, sink: &mut Sink<'_>) -> Result<(), ContentError> {
    let root: &RawValue = serde_json::from_str(text).map_err(|error| malformed(&error))?;
    let mut reader = Reader {
        text,
        lines: Lines::new(text),
        sink,
    };
    let specified_language = own_language(root.get());
    let language = specified_language.as_deref().or(reading.language);
    reader.value(root, language, 0)
}

fn malformed(error: &serde_json::Error) -> ContentError {
    ContentError::Malformed {
        line: u32::try_from(error.line()).unwrap_or(u32::MAX),
        format: "JSON",
        reason: (error.to_string().split(" at line ").next())
            .unwrap_or_default()
            .to_owned(),
    }
}

/// `@@locale`, which ARB files state at the top.
fn own_language(object: &str) -> Option<String> {
    if !object.contains("\"@@locale\"") {
        return None;
    }
    struct Locale;
    impl<'de> Visitor<'de> for Locale {
        type Value = Option<String>;

        fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
            f.write_str("an object")
        }

        fn visit_map<A: MapAccess<'de>>(self, mut map: A) -> Result<Self::Value, A::Error> {
            let mut found = None;
            while let Some((key, value)) = map.next_entry::<Cow<'de, str>, &'de RawValue>()? {
                if key == "@@locale" {
                    found = serde_json::from_str(value.get()).ok();
                }
            }
            Ok(found)
        }
    }
    serde_json::Deserializer::from_str(object)
        .deserialize_map(Locale)
        .ok()
        .flatten()
}

struct Reader<'t, 's, 'k> {
    text: &'t str,
    lines: Lines<'t>,
    sink: &'s mut Sink<'k>,
}

impl<'t> Reader<'t, '_, '_> {
    fn value(
        &mut self,
        raw: &'t RawValue,
        language: Option<&str>,
        depth: usize,
    ) -> Result<(), ContentError> {
        let text = raw.get();
        match text.as_bytes().first() {
            Some(b'"') => self.string(text, language),
            Some(b'{' | b'[') if depth < DEEPEST => {
                let mut result = Ok(());
                let walk = Walk(
                    &mut |key: Option<&str>, value: &'t RawValue, all: &[String]| {
                        if result.is_err() {
                            return;
                        }
                        let language = match key {
                            // Descriptions of messages, and notes.
                            Some(key) if key.starts_with('@') || key == "$schema" => return,
                            // A form of a plural that its language never chooses.
                            Some(key) if is_plural_object(all) && !plural_shows(key, language) => {
                                return;
                            }
                            Some(key) if is_language(key) && languages_only(all) => Some(key),
                            Some(key) if depth <= 1 && all.len() == 1 && is_language(key) => {
                                Some(key)
                            }
                            _ => language,
                        };
                        result = self.value(value, language, depth + 1);
                    },
                );
                let mut input = serde_json::Deserializer::from_str(text);
                let walked = if text.starts_with('{') {
                    input.deserialize_map(walk)
                } else {
                    input.deserialize_seq(walk)
                };
                // The whole was read before, so its parts can be.
                walked.map_err(|error| malformed(&error))?;
                result
            }
            _ => Ok(()),
        }
    }

    fn string(&mut self, raw: &'t str, language: Option<&str>) -> Result<(), ContentError> {
        let message: Cow<'_, str> = match raw.get(1..raw.len() - 1) {
            Some(inside) if !inside.contains('\\') => inside.into(),
            _ => serde_json::from_str::<String>(raw)
                .map_err(|error| malformed(&error))?
                .into(),
        };
        if message.is_empty() {
            return Ok(());
        }
        // `raw` is a part of `text`, so the distance is its place.
        let place = (raw.as_ptr() as usize).saturating_sub(self.text.as_ptr() as usize);
        let (line, column) = self.lines.place(place + 1);
        show(
            &Message {
                text: &message,
                syntax: Syntax::Any,
                line,
                column,
                language,
            },
            self.sink,
        );
        Ok(())
    }
}

/// Whether the keys of an object are plural categories (CLDR) only.
fn is_plural_object(keys: &[String]) -> bool {
    keys.iter().any(|key| key == "other")
        && keys.iter().all(|key| {
            ["zero", "one", "two", "few", "many", "other"].contains(&key.as_str())
                || key.starts_with('=')
        })
}

fn languages_only(keys: &[String]) -> bool {
    keys.len() > 1 && keys.iter().all(|key| is_language(key))
}

/// Goes through an object or list; first all keys are read, as what one means
/// depends on the others.
struct Walk<'f, 't>(&'f mut Visit<'f, 't>);

/// Takes a key, its value and all keys of the object.
type Visit<'f, 't> = dyn FnMut(Option<&str>, &'t RawValue, &[String]) + 'f;

impl<'de> Visitor<'de> for Walk<'_, 'de> {
    type Value = ();

    fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("an object or a list")
    }

    fn visit_map<A: MapAccess<'de>>(self, mut map: A) -> Result<(), A::Error> {
        let mut keys: Vec<String> = Vec::new();
        let mut values: Vec<&'de RawValue> = Vec::new();
        while let Some((key, value)) = map.next_entry::<Cow<'de, str>, &'de RawValue>()? {
            keys.push(key.into_owned());
            values.push(value);
        }
        // Only small objects can be about plurals or languages.
        let siblings: &[String] = if keys.len() <= 1_000 { &keys } else { &[] };
        for (key, value) in keys.iter().zip(values) {
            (self.0)(Some(key), value, siblings);
        }
        Ok(())
    }

    fn visit_seq<A: SeqAccess<'de>>(self, mut list: A) -> Result<(), A::Error> {
        while let Some(value) = list.next_element::<&'de RawValue>()? {
            (self.0)(None, value, &[]);
        }
        Ok(())
    }
}
