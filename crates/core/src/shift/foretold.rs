//! A laid out page in the terms in which a browser can be asked for it.

use std::collections::{BTreeMap, BTreeSet};

use serde::Serialize;
use tidy_lattice_documents::page::{Control, Display, Flow, FlowKind, LineHeight, TextStyle};
use tidy_lattice_layout::flow::{LaidLine, LaidPage, LaidPiece, LaidText};

use super::score::Rect;
use super::shapes::Shapes;
use super::{left_out, moving};

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
                FlowKind::Control(Control::Sign(_)) => false,
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
                rect: shape.rect,
                line_height: line_height(&flow.nodes[*node].text),
            })
            .collect();
        let mut blocks: BTreeMap<usize, Block<'_>> = BTreeMap::new();
        for (node, texts) in shapes.lines.iter().filter(|(node, _)| !out[**node]) {
            let number = flow.nodes[*node].element;
            let block = blocks.entry(number).or_insert_with(|| Block {
                texts: Vec::new(),
                guessed: false,
                fonts: fonts_in(page, flow, *node),
            });
            block.guessed |= page.guessed_in.contains(node);
            block.texts.extend(texts);
        }
        let left_out = shapes.boxes.iter().filter(|(node, _)| out[**node]);
        Foretold {
            page_height: page.root.height,
            left_out: left_out.map(|(_, shape)| shape.rect).collect(),
            elements,
            blocks: blocks
                .into_iter()
                .map(|(number, block)| block.foretold(number, flow))
                .filter(|block| !block.lines.is_empty())
                .collect(),
        }
    }
}

/// A block whose lines are being put together.
struct Block<'t> {
    texts: Vec<&'t LaidText>,
    guessed: bool,
    fonts: Vec<String>,
}

/// Texts that stand at one height.
struct Row {
    line: ForetoldLine,
    middle: f64,
    /// The height of the letters that it began with.
    letters: f64,
    right: f64,
    /// Whether a blank stands at its end.
    blank: bool,
}

impl Block<'_> {
    fn foretold(self, number: usize, flow: &Flow) -> ForetoldBlock {
        let mut rows = rows(&self.texts, flow);
        rows.sort_by(|a, b| a.middle.total_cmp(&b.middle));
        let lines = rows.into_iter().map(|row| ForetoldLine {
            width: row.right - row.line.x,
            exact: row.line.exact && !row.blank,
            ..row.line
        });
        ForetoldBlock {
            number,
            lines: lines.collect(),
            guessed: self.guessed,
            fonts: self.fonts,
        }
    }
}

/// The rows of a block, put together as a browser's rectangles of words are: in the
/// order of the page; what is set above or below a row by half of the smaller height
/// begins one of its own.
fn rows(texts: &[&LaidText], flow: &Flow) -> Vec<Row> {
    let lines = texts
        .iter()
        .flat_map(|text| text.lines.iter().map(move |line| (*text, line)));
    let mut pieces: Vec<(&LaidText, &LaidLine, &LaidPiece)> = lines
        .flat_map(|(text, line)| line.pieces.iter().map(move |piece| (text, line, piece)))
        .collect();
    pieces.sort_by_key(|(_, _, piece)| (piece.node, piece.range.start));
    let mut rows: Vec<Row> = Vec::new();
    for (text, line, piece) in pieces {
        let of_page = matches!(flow.nodes[piece.node].kind, FlowKind::Text(_, Some(_)));
        let part = &text.text[piece.range.clone()];
        // Letters of no size have no rectangles.
        if !of_page || part.trim().is_empty() || piece.height <= 0.0 {
            continue;
        }
        let middle = piece.top + piece.height / 2.0;
        let same = rows.iter().rposition(|row| {
            (row.middle - middle).abs() < row.letters.min(piece.height) / 2.0 - 0.01
        });
        let number = same.unwrap_or_else(|| {
            rows.push(Row {
                line: ForetoldLine {
                    text: String::new(),
                    x: f64::MAX,
                    width: 0.0,
                    exact: true,
                    y: line.top,
                    height: line.height,
                },
                middle,
                letters: piece.height,
                right: f64::MIN,
                blank: false,
            });
            rows.len() - 1
        });
        let row = &mut rows[number];
        // Blanks at either end are in the piece, but not in what is measured.
        row.line.exact &= !part.starts_with(char::is_whitespace) || !row.line.text.is_empty();
        row.blank = part.ends_with(char::is_whitespace);
        row.line
            .text
            .extend(part.chars().filter(|c| !c.is_whitespace()));
        row.line.x = row.line.x.min(piece.x);
        row.right = row.right.max(piece.x + piece.width);
    }
    rows
}

/// How far down from a box browsers' tools look for its texts: the boxes in it, and
/// the texts in these. Boxes that no element asked for do not count, but around items.
const DEPTH: usize = 2;

/// The faces that browsers' tools tell of a node; none where that is not known.
fn fonts_in(page: &LaidPage, flow: &Flow, node: usize) -> Vec<String> {
    let mut fonts = BTreeSet::new();
    if !gather_fonts(page, flow, (node, DEPTH), &mut fonts) {
        fonts.clear();
    }
    fonts.into_iter().collect()
}

fn gather_fonts(
    page: &LaidPage,
    flow: &Flow,
    (node, depth): (usize, usize),
    fonts: &mut BTreeSet<String>,
) -> bool {
    let is_text = |child: usize| matches!(flow.nodes[child].kind, FlowKind::Text(..));
    // A text among items has a box of its own around it, which counts.
    let items = matches!(
        flow.nodes[node].boxes.display,
        Display::Flex { .. } | Display::Grid { .. }
    );
    for child in &flow.nodes[node].children {
        let depth = depth - 1;
        if items && is_text(*child) && depth == 0 {
            continue;
        }
        let out = flow.nodes[*child].boxes.position.is_out() && !is_text(*child);
        if out && page.left_out.contains(child) {
            // Its texts are among them, but are not laid out.
            return false;
        }
        if is_text(*child) {
            fonts.extend(page.fonts_of(*child).map(str::to_owned));
        } else if depth > 0 && !gather_fonts(page, flow, (*child, depth), fonts) {
            return false;
        }
    }
    true
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
