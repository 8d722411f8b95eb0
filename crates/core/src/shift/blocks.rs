//! Boxes with lines, before and after.

use std::collections::HashSet;
use std::ops::Range;

use serde::Serialize;
use tidy_lattice_documents::page::Flow;
use tidy_lattice_layout::flow::{LaidLine, LaidText};

use super::shapes::Shapes;

/// The longest line that is quoted, in characters.
const LONGEST: usize = 160;

/// How much a height changes at least to be told, in px: less is arithmetic.
const CHANGED: f64 = 1.0 / 128.0;

/// A box whose height, place or lines change.
#[derive(Debug, Clone, Serialize, schemars::JsonSchema)]
pub struct BlockShift {
    /// The element, as a short selector.
    pub element: String,
    /// The line of the page that it starts in, counted from 1.
    pub line: u32,
    /// The place of the element among all of the page, from 0.
    pub number: usize,
    /// How it begins.
    pub text: String,
    /// Its height before, and after, in px.
    pub height: (f64, f64),
    /// How far it moves: right, down; in px.
    pub moved: (f64, f64),
    /// How many lines it has before, and after.
    pub lines: (usize, usize),
    /// Lines of before that begin or end elsewhere after, with what stands in the
    /// same place after.
    pub broken: Vec<LineShift>,
}

/// A line that breaks elsewhere.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct LineShift {
    /// Its number in the box, from 1.
    pub number: usize,
    /// The line before.
    pub before: String,
    /// The line of that number after; nothing where there are fewer.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub after: Option<String>,
}

impl BlockShift {
    /// How much higher it becomes, in px.
    pub fn grows(&self) -> f64 {
        self.height.1 - self.height.0
    }
}

pub(super) fn compare(
    flow: &Flow,
    from: &Shapes,
    to: &Shapes,
    left_out: &[bool],
) -> Vec<BlockShift> {
    let mut blocks = Vec::new();
    for (node, before) in &from.lines {
        let (Some(after), Some(a), Some(b)) =
            (to.lines.get(node), from.boxes.get(node), to.boxes.get(node))
        else {
            continue;
        };
        if left_out[*node] {
            continue;
        }
        let broken = broken(before, after);
        let moved = (b.start.0 - a.start.0, b.start.1 - a.start.1);
        let count = |texts: &[LaidText]| texts.iter().map(|text| text.lines.len()).sum();
        let changed = (a.rect.height - b.rect.height).abs() > CHANGED
            || moved.0.abs() > CHANGED
            || moved.1.abs() > CHANGED
            || !broken.is_empty();
        if !changed {
            continue;
        }
        let inner = &flow.nodes[*node];
        let text = before.first().map_or("", |text| &text.text);
        blocks.push(BlockShift {
            element: inner.selector.to_string(),
            line: inner.line,
            number: inner.element,
            text: quoted(text),
            height: (a.rect.height, b.rect.height),
            moved,
            lines: (count(before), count(after)),
            broken,
        });
    }
    blocks
}

/// The lines of `before` that `after` does not have.
fn broken(before: &[LaidText], after: &[LaidText]) -> Vec<LineShift> {
    let mut broken = Vec::new();
    let mut number = 0;
    for (place, text) in before.iter().enumerate() {
        let other = after.get(place);
        let known: HashSet<Range<usize>> = other
            .iter()
            .flat_map(|text| &text.lines)
            .map(|line| line.range.clone())
            .collect();
        for (index, line) in text.lines.iter().enumerate() {
            number += 1;
            if known.contains(&line.range) {
                continue;
            }
            let same = other.and_then(|other| Some((other, other.lines.get(index)?)));
            broken.push(LineShift {
                number,
                before: words(text, line),
                after: same.map(|(text, line)| words(text, line)),
            });
        }
    }
    broken
}

fn words(text: &LaidText, line: &LaidLine) -> String {
    quoted(&text.text[line.range.clone()])
}

fn quoted(text: &str) -> String {
    let shown: String = text
        .chars()
        .map(|c| match c {
            // A box in the line.
            '\u{fffc}' => '□',
            c if c.is_control() => ' ',
            c => c,
        })
        .take(LONGEST)
        .collect();
    if shown.len() < text.len() {
        format!("{}…", shown.trim_end())
    } else {
        shown
    }
}
