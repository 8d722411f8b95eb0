//! A laid out page in the terms in which a browser can be asked for it.

use std::collections::{BTreeMap, BTreeSet};

use serde::Serialize;

use super::score::Rect;
use super::shapes::Shapes;
use super::{left_out, moving};
use crate::layout::flow::{LaidPage, LaidPiece};
use crate::page::{Flow, FlowKind, LineHeight, TextStyle};

/// A page as foretold.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Foretold {
    /// The height of the root element, in px.
    pub page_height: f64,
    /// Elements that have a box of their own, in the order of the page.
    pub elements: Vec<ForetoldElement>,
    /// Blocks that hold lines of text.
    pub blocks: Vec<ForetoldBlock>,
    /// Boxes that were left out, and what is around them therefore a guess.
    pub left_out: Vec<Rect>,
}

/// The box of an element.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct ForetoldElement {
    /// Its place among all elements of the page, from 0.
    pub number: usize,
    /// The element, as a short selector.
    pub element: String,
    /// The line of the page, counted from 1.
    pub line: u32,
    /// Its border box.
    pub rect: Rect,
    /// Its computed line height in px; nothing for `normal`.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub line_height: Option<f64>,
}

/// A block and its lines of text.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct ForetoldBlock {
    /// The place of the element among all elements of the page, from 0.
    pub number: usize,
    /// Its lines, from the top.
    pub lines: Vec<ForetoldLine>,
    /// Whether some of its text is set in faces that are not measured, or that the
    /// browser picks by itself.
    pub guessed: bool,
    /// The faces that it is set in, with all that is in it, by PostScript name.
    pub fonts: Vec<String>,
}

/// A line of text.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct ForetoldLine {
    /// The texts of the page in it, without blanks.
    pub text: String,
    /// The left edge of what is written.
    pub x: f64,
    /// Its width, from the first letter to the last.
    pub width: f64,
    /// Whether that is the width of what is written: not where a blank stands before
    /// a box at its end.
    pub exact: bool,
    /// The top of the line.
    pub y: f64,
    /// Its height.
    pub height: f64,
}

impl Foretold {
    /// What a laid out page comes to; what was left out is not in it.
    pub fn of(page: &LaidPage, flow: &Flow) -> Self {
        let out = left_out(flow, page);
        let shapes = Shapes::of(page, flow);
        let named = |node: &usize| {
            let inner = &flow.nodes[*node];
            match &inner.kind {
                FlowKind::Element(tag) => !tag.starts_with("::"),
                FlowKind::Replaced(..) | FlowKind::Control(_) => true,
                _ => false,
            }
        };
        let elements = shapes
            .boxes
            .iter()
            .filter(|(node, _)| !out[**node] && named(node))
            .map(|(node, shape)| ForetoldElement {
                number: flow.nodes[*node].element,
                element: flow.nodes[*node].selector.to_string(),
                line: flow.nodes[*node].line,
                rect: shape.own,
                line_height: line_height(&flow.nodes[*node].text),
            })
            .collect();
        let mut blocks: BTreeMap<usize, ForetoldBlock> = BTreeMap::new();
        for (node, texts) in shapes.lines.iter().filter(|(node, _)| !out[**node]) {
            let number = flow.nodes[*node].element;
            let block = blocks.entry(number).or_insert(ForetoldBlock {
                number,
                lines: Vec::new(),
                guessed: false,
                fonts: fonts_in(page, flow, *node),
            });
            block.guessed |= page.guessed_in.contains(node);
            for text in texts {
                for line in &text.lines {
                    let mut told = ForetoldLine {
                        text: String::new(),
                        x: f64::MAX,
                        width: 0.0,
                        exact: true,
                        y: line.top,
                        height: line.height,
                    };
                    let mut right = f64::MIN;
                    let mut pieces: Vec<&LaidPiece> = line.pieces.iter().collect();
                    pieces.sort_by_key(|piece| piece.range.start);
                    for piece in &pieces {
                        let of_page =
                            matches!(flow.nodes[piece.node].kind, FlowKind::Text(_, Some(_)));
                        let part = &text.text[piece.range.clone()];
                        if !of_page || part.trim().is_empty() {
                            continue;
                        }
                        told.exact &= !part.starts_with(' ') || !told.text.is_empty();
                        told.text
                            .extend(part.chars().filter(|c| !c.is_whitespace()));
                        told.x = told.x.min(piece.x);
                        right = right.max(piece.x + piece.width);
                    }
                    let last = pieces.last().map(|piece| &text.text[piece.range.clone()]);
                    told.exact &= !last.is_some_and(|last| last.ends_with(' '));
                    if !told.text.is_empty() {
                        told.width = right - told.x;
                        block.lines.push(told);
                    }
                }
            }
        }
        let left_out = shapes.boxes.iter().filter(|(node, _)| out[**node]);
        Foretold {
            page_height: page.root.height,
            left_out: left_out.map(|(_, shape)| shape.own).collect(),
            elements,
            blocks: blocks
                .into_values()
                .filter(|block| !block.lines.is_empty())
                .collect(),
        }
    }
}

/// The faces of a node and of all that is in it.
fn fonts_in(page: &LaidPage, flow: &Flow, node: usize) -> Vec<String> {
    let mut fonts = BTreeSet::new();
    let mut open = vec![node];
    while let Some(node) = open.pop() {
        fonts.extend(page.fonts.get(&node).into_iter().flatten().cloned());
        open.extend(&flow.nodes[node].children);
    }
    fonts.into_iter().collect()
}

/// The computed line height of a style in px.
fn line_height(style: &TextStyle) -> Option<f64> {
    match style.line_height {
        LineHeight::Normal => None,
        LineHeight::Number(number) => Some(f64::from(style.size * number)),
        LineHeight::Px(px) => Some(f64::from(px)),
    }
}

/// The score that a page would have were it laid out as a browser measured it:
/// rectangles by place of their element, before and after. Texts are not among
/// them, as engines without scores do not tell where they start.
pub fn score_of_boxes(
    before: &BTreeMap<usize, Rect>,
    after: &BTreeMap<usize, Rect>,
    viewport: (f64, f64),
) -> super::Score {
    let moving: Vec<super::Moving> = before
        .iter()
        .filter_map(|(number, from)| {
            let to = after.get(number)?;
            Some(super::Moving {
                from: (from.x, from.y),
                to: (to.x, to.y),
                before: *from,
                after: *to,
            })
        })
        .collect();
    super::score(&moving, viewport)
}

/// The score of a page foretold before and after; `hidden` texts do not count.
pub fn score_of_pages(
    flow: &Flow,
    (before, after): (&LaidPage, &LaidPage),
    hidden: &[bool],
    viewport: (f64, f64),
) -> super::Score {
    let out = left_out(flow, after);
    let (from, to) = (Shapes::of(before, flow), Shapes::of(after, flow));
    super::score(&moving(&from, &to, &out, hidden), viewport)
}
