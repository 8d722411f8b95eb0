//! What was found, and how to mend it.

use std::ops::Range;

use serde::{Deserialize, Serialize};

use crate::catalogue::Level;
use crate::source::{Excerpt, Place, SourceText};

/// One mistake.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Finding {
    /// Its code; `explain` tells more of it.
    pub code: &'static str,
    /// How bad it is.
    pub level: Level,
    /// What is wrong.
    pub what: String,
    /// Why it matters.
    pub why: String,
    /// What to do.
    pub todo: String,
    /// Where it stands.
    pub place: Place,
    /// The line there; nothing where the file is no text.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub excerpt: Option<Excerpt>,
    /// What `--fix` would change.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub mend: Vec<Edit>,
}

/// A change to a file.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, schemars::JsonSchema)]
pub struct Edit {
    /// The file.
    pub file: String,
    /// The first byte that goes.
    pub start: usize,
    /// The byte behind the last that goes.
    pub end: usize,
    /// What comes in its place.
    pub text: String,
}

/// A finding as it is read again.
#[derive(Deserialize)]
struct Told {
    code: String,
    level: Level,
    what: String,
    why: String,
    todo: String,
    place: Place,
    #[serde(default)]
    excerpt: Option<Excerpt>,
    #[serde(default)]
    mend: Vec<Edit>,
}

impl<'de> Deserialize<'de> for Finding {
    fn deserialize<D: serde::Deserializer<'de>>(from: D) -> Result<Self, D::Error> {
        let read = Told::deserialize(from)?;
        let rule = crate::catalogue::find(&read.code)
            .ok_or_else(|| serde::de::Error::custom(format!("there is no rule {}", read.code)))?;
        Ok(Finding {
            code: rule.code.as_str(),
            level: read.level,
            what: read.what,
            why: read.why,
            todo: read.todo,
            place: read.place,
            excerpt: read.excerpt,
            mend: read.mend,
        })
    }
}

impl Finding {
    /// A finding of the rule `code` at `span` of `source`.
    ///
    /// # Panics
    ///
    /// Where the catalogue has no such rule, which tests would tell.
    pub fn new(code: &'static str, source: &SourceText, span: &Range<usize>, what: String) -> Self {
        let rule = crate::catalogue::find(code).unwrap_or_else(|| panic!("no rule {code}"));
        Finding {
            code,
            level: rule.level,
            what,
            why: rule.why.clone(),
            todo: rule.todo.clone(),
            place: source.place(span),
            excerpt: Some(source.excerpt(span)),
            mend: Vec::new(),
        }
    }

    /// A finding of the rule `code` in a file whose text is not at hand.
    ///
    /// # Panics
    ///
    /// As [`Finding::new`].
    pub fn at(code: &'static str, place: (&str, u32, u32), what: String) -> Self {
        let (file, line, column) = place;
        let source = SourceText::new(file.to_owned(), String::new());
        Finding {
            place: Place {
                file: file.to_owned(),
                line,
                column,
                end_line: line,
                end_column: column + 1,
            },
            excerpt: None,
            ..Finding::new(code, &source, &(0..0), what)
        }
    }

    /// With another advice than the rule's usual one.
    pub fn todo(mut self, todo: String) -> Self {
        self.todo = todo;
        self
    }

    /// Mended by putting `text` in place of `span` of `source`.
    pub fn mended(mut self, source: &SourceText, span: Range<usize>, text: String) -> Self {
        self.mend.push(Edit {
            file: source.name.clone(),
            start: span.start,
            end: span.end,
            text,
        });
        self
    }
}
