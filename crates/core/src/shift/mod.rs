//! What moves when web fonts arrive: a page laid out twice, before and after, and
//! compared box by box and line by line.
//!
//! Scores are those of the Layout Instability specification. They hold for one
//! arrival of all web fonts at once, after the page was first drawn.

mod blocks;
mod foretold;
mod scene;
mod score;
mod set_texts;
mod shapes;
mod unloaded;
mod variant;

use std::collections::BTreeMap;

use serde::Serialize;

pub use blocks::{BlockShift, LineShift};
pub use foretold::{
    Foretold, ForetoldBlock, ForetoldElement, ForetoldLine, score_of_boxes, score_of_pages,
};
pub use scene::{Scene, Setting, SettingFonts, Stand};
pub use score::{MOVED, Moving, Rect, Score, score, worst_window};
pub use set_texts::set_texts;
pub use shapes::{Shape, Shapes};
pub use variant::{Change, changed};

use tidy_lattice_documents::page::{Flow, FlowKind, FlowNode};
use tidy_lattice_layout::Engine;
use tidy_lattice_layout::flow::{LaidPage, Unsupported};

/// What moves on a page.
#[derive(Debug, Clone, Serialize, schemars::JsonSchema)]
pub struct Shift {
    /// The engine whose layout this is.
    pub engine: Engine,
    /// Width and height of the viewport, in px.
    pub viewport: (f64, f64),
    /// The layout-shift score; `None` where it is not known.
    pub score: Option<Score>,
    /// Why it is not known.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub unknown: Option<String>,
    /// Boxes with lines, and how they change; only those that do.
    pub blocks: Vec<BlockShift>,
    /// How many boxes have lines.
    pub blocks_in_all: usize,
    /// Lines before, and after.
    pub lines: (usize, usize),
    /// Lines of before that begin or end elsewhere after.
    pub lines_broken: usize,
    /// How high the page is before, and after, in px.
    pub page_height: (f64, f64),
    /// What layout does not do, and what is therefore left out.
    pub unsupported: Vec<Unsupported>,
    /// Text that is left out for that, which no figure knows of; `None` where there is none.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub left_out: Option<LeftOut>,
    /// Characters that are set in faces known by name only, or that no font of the
    /// stack has; where they are is a guess.
    pub guessed: usize,
    /// Characters that show.
    pub characters: usize,
    /// Families of `local()` faces that Firefox loads none of before the web fonts are there,
    /// so that they do not stand in.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub unloaded: Vec<String>,
}

/// Text that is left out of a layout.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct LeftOut {
    /// Characters of it.
    pub characters: usize,
    /// The element that has most of them, as a short selector.
    pub most_in: String,
    /// Its line on the page, counted from 1.
    pub line: u32,
    /// Characters of it.
    pub most: usize,
}

/// The share of a page's text, as one of so many parts, of which it may be unknown where it
/// stands; beyond it no score is told.
const UNKNOWN: usize = 3;

impl Shift {
    /// Whether enough is measured to tell: of most of the text where it stands.
    pub fn is_known(&self) -> bool {
        self.score.is_some()
    }

    /// The score as a number, where it is known.
    pub fn value(&self) -> Option<f64> {
        self.score.as_ref().map(|score| score.value)
    }

    /// Leaves the score open.
    pub fn forget(&mut self, why: String) {
        self.score = None;
        self.unknown.get_or_insert(why);
    }
}

/// Compares a page before and after.
pub fn compare(
    flow: &Flow,
    (before, after): (&LaidPage, &LaidPage),
    engine: Engine,
    viewport: (f64, f64),
    guessed: usize,
    score: Score,
) -> Shift {
    let left_out = left_out(flow, after);
    let (from, to) = (Shapes::of(before, flow), Shapes::of(after, flow));
    let blocks = blocks::compare(flow, &from, &to, &left_out);
    let lines = |shapes: &Shapes| {
        let kept = shapes.lines.iter().filter(|(node, _)| !left_out[**node]);
        kept.flat_map(|(_, texts)| texts)
            .map(|text| text.lines.len())
            .sum()
    };
    let shown = |node: &FlowNode| match &node.kind {
        FlowKind::Text(text, _) => {
            let characters = text.chars();
            characters
                .filter(|c| tidy_lattice_glyphs::text::is_shown(*c))
                .count()
        }
        _ => 0,
    };
    let characters: usize = flow.nodes.iter().map(shown).sum();
    let text_left_out = text_left_out(flow, after, &shown);
    let missing = text_left_out.as_ref().map_or(0, |text| text.characters);
    let unknown = if guessed * UNKNOWN > characters {
        Some("over a third of the text shows in fonts that are not measured on this platform")
    } else if missing * UNKNOWN > characters {
        Some("over a third of the text stands in what layout leaves out")
    } else {
        None
    };
    Shift {
        engine,
        viewport,
        score: unknown.is_none().then_some(score),
        unknown: unknown.map(str::to_owned),
        blocks_in_all: from.lines.keys().filter(|node| !left_out[**node]).count(),
        lines: (lines(&from), lines(&to)),
        lines_broken: blocks.iter().map(|block| block.broken.len()).sum(),
        blocks,
        page_height: (before.root.height, after.root.height),
        unsupported: after.unsupported.clone(),
        left_out: text_left_out,
        guessed,
        characters,
        unloaded: Vec::new(),
    }
}

/// The text in what `page` leaves out, where there is some.
fn text_left_out(
    flow: &Flow,
    page: &LaidPage,
    shown: &impl Fn(&FlowNode) -> usize,
) -> Option<LeftOut> {
    // For each node, the outermost one around it that is left out.
    let mut of: Vec<Option<usize>> = vec![None; flow.nodes.len()];
    for node in &page.left_out {
        of[*node] = Some(*node);
    }
    let mut characters: BTreeMap<usize, usize> = BTreeMap::new();
    // Parents come before what is in them.
    for (number, node) in flow.nodes.iter().enumerate() {
        let Some(outer) = of[number] else { continue };
        *characters.entry(outer).or_default() += shown(node);
        for child in &node.children {
            of[*child] = Some(outer);
        }
    }
    let (outer, most) = characters
        .iter()
        .max_by_key(|(node, count)| (**count, std::cmp::Reverse(**node)))?;
    (*most > 0).then(|| LeftOut {
        characters: characters.values().sum(),
        most_in: flow.nodes[*outer].selector.to_string(),
        line: flow.nodes[*outer].line,
        most: *most,
    })
}

/// The objects of both, as scores look at them; of hidden texts none.
pub fn moving(from: &Shapes, to: &Shapes, left_out: &[bool], hidden: &[bool]) -> Vec<Moving> {
    let mut moving = Vec::new();
    for (node, before) in &from.boxes {
        if let Some(after) = to.boxes.get(node).filter(|_| !left_out[*node]) {
            moving.push(Moving {
                from: before.start,
                to: after.start,
                before: before.visual,
                after: after.visual,
            });
        }
    }
    for (node, before) in &from.texts {
        let counts = !left_out[*node] && !hidden[*node];
        if let Some(after) = to.texts.get(node).filter(|_| counts) {
            moving.push(Moving {
                from: before.start,
                to: after.start,
                // A text counts as high before as it is after.
                before: Rect {
                    height: after.visual.height,
                    ..before.visual
                },
                after: after.visual,
            });
        }
    }
    moving
}

/// For each node, whether it is left out of figures.
pub fn left_out(flow: &Flow, page: &LaidPage) -> Vec<bool> {
    let mut out = vec![false; flow.nodes.len()];
    for node in &page.left_out {
        out[*node] = true;
    }
    // Parents come before what is in them.
    for (number, node) in flow.nodes.iter().enumerate() {
        if out[number] {
            for child in &node.children {
                out[*child] = true;
            }
        }
    }
    out
}
