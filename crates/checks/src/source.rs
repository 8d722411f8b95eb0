//! The text of a file, and places in it.

use std::ops::Range;

use serde::{Deserialize, Serialize};

/// The longest excerpt that is told, in characters: sheets may be one line long.
const LONGEST: usize = 160;

/// A text with its lines.
#[derive(Debug, Clone)]
pub struct SourceText {
    /// The file.
    pub name: String,
    /// What is in it.
    pub text: String,
    /// Where each line starts, in bytes.
    lines: Vec<usize>,
}

/// A place in a file: what is wrong stands there.
#[derive(
    Debug, Clone, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, schemars::JsonSchema,
)]
pub struct Place {
    /// The file.
    pub file: String,
    /// The line, counted from 1.
    pub line: u32,
    /// The column in characters, counted from 1.
    pub column: u32,
    /// The last line, counted from 1.
    pub end_line: u32,
    /// The column behind the last character.
    pub end_column: u32,
}

/// The source around a place.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, schemars::JsonSchema)]
pub struct Excerpt {
    /// The line, cut where it is long.
    pub text: String,
    /// The first character of the part that is meant, counted from 0.
    pub start: usize,
    /// How many characters are meant.
    pub length: usize,
}

impl SourceText {
    /// The text of the file `name`.
    pub fn new(name: String, text: String) -> Self {
        let starts = text.match_indices('\n').map(|(at, _)| at + 1);
        let lines = std::iter::once(0).chain(starts).collect();
        SourceText { name, text, lines }
    }

    /// The line and the column of a byte, counted from 1.
    pub fn position(&self, at: usize) -> (u32, u32) {
        let line = self.lines.partition_point(|start| *start <= at).max(1) - 1;
        let before = self.text.get(self.lines[line]..at).unwrap_or_default();
        let number = |count: usize| u32::try_from(count + 1).unwrap_or(u32::MAX);
        (number(line), number(before.chars().count()))
    }

    /// The place of a stretch of bytes.
    pub fn place(&self, span: &Range<usize>) -> Place {
        let (line, column) = self.position(span.start);
        let (end_line, end_column) = self.position(span.end);
        Place {
            file: self.name.clone(),
            line,
            column,
            end_line,
            end_column,
        }
    }

    /// The stretch of a line that is not blank.
    pub fn line(&self, number: u32) -> Range<usize> {
        let index = (number.max(1) as usize - 1).min(self.lines.len() - 1);
        let start = self.lines[index];
        let line = self.text[start..].lines().next().unwrap_or_default();
        let blank = line.len() - line.trim_start().len();
        start + blank..start + line.trim_end().len().max(blank)
    }

    /// The line that a stretch of bytes starts in, with the stretch in it.
    pub fn excerpt(&self, span: &Range<usize>) -> Excerpt {
        let (line, _) = self.position(span.start);
        let start = self.lines[line as usize - 1];
        let line = self.text[start..].lines().next().unwrap_or_default();
        let blank = line.len() - line.trim_start().len();
        let line_end = start + line.len();
        let characters = |from: usize, to: usize| {
            self.text
                .get(from..to.min(line_end))
                .map_or(0, |text| text.chars().count())
        };
        let mut from = start + blank.min(span.start - start);
        // Of a long line the part before the stretch is cut, but for a little.
        let mut text = String::new();
        if characters(from, line_end) > LONGEST && characters(from, span.start) > LONGEST / 2 {
            let keep = self.text[from..span.start]
                .char_indices()
                .rev()
                .nth(LONGEST / 4);
            from += keep.map_or(0, |(at, _)| at);
            text.push('…');
        }
        let cut = text.chars().count();
        text.extend(self.text[from..line_end].chars().take(LONGEST - cut));
        let length = text.chars().count();
        let begin = (cut + characters(from, span.start)).min(length);
        Excerpt {
            start: begin,
            length: characters(span.start, span.end).clamp(1, (length - begin).max(1)),
            text,
        }
    }
}
