//! The texts of a page as it sets them: in which face, at which size, in columns how wide.

use std::collections::BTreeMap;

use tidy_lattice_documents::page::{Flow, LineHeight, StyleValue, TextStyle};
use tidy_lattice_layout::flow::{LaidPage, LaidText};

use super::shapes::Shapes;
use tidy_lattice_standin::SetText;

/// Texts on the same line box that shrinks to them are as wide as their column, in px.
const SHRUNK: f64 = 0.5;

/// The texts of a laid out page, in a window `height` px high.
pub fn set_texts(flow: &Flow, page: &LaidPage, height: f64) -> Vec<SetText> {
    let shapes = Shapes::of(page, flow);
    let texts = shapes.lines.values().flatten();
    texts
        .filter_map(|text| set_text(flow, text, height))
        .collect()
}

fn set_text(flow: &Flow, laid: &LaidText, height: f64) -> Option<SetText> {
    let top = laid.lines.first()?.top;
    let style = most_used(flow, laid)?;
    let widest = laid.lines.iter().map(|line| line.width).fold(0.0, f64::max);
    let shrunk = laid.lines.len() == 1 && laid.width - widest < SHRUNK;
    Some(SetText {
        text: laid.text.split_whitespace().collect::<Vec<_>>().join(" "),
        families: style.families.clone(),
        size: style.size,
        weight: style.weight,
        sloped: style.style != StyleValue::Normal,
        letter_spacing: style.letter_spacing,
        line_height_specified: style.line_height != LineHeight::Normal,
        width: (!shrunk).then_some(laid.width),
        lines: laid.lines.len(),
        in_first_window: (0.0..height).contains(&top),
    })
    .filter(|set| !set.text.is_empty())
}

/// The style that most of the text has.
fn most_used<'f>(flow: &'f Flow, laid: &LaidText) -> Option<&'f TextStyle> {
    let mut lengths: BTreeMap<usize, usize> = BTreeMap::new();
    for piece in laid.lines.iter().flat_map(|line| &line.pieces) {
        *lengths.entry(piece.node).or_default() += piece.range.len();
    }
    // The first of equals.
    let most = lengths
        .iter()
        .max_by_key(|(node, length)| (**length, std::cmp::Reverse(**node)))?;
    flow.nodes.get(*most.0).map(|node| &*node.text)
}
