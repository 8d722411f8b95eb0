//! Pages laid out: blocks, lines, tables, grids and flexible boxes, as far as they
//! decide where text stands. What cannot be laid out is named ([`Unsupported`]).
//!
//! CSS Display 3, CSS 2.2 §8 to §10 and §17, CSS Inline 3, CSS Text 4, CSS Grid 2,
//! CSS Flexbox 1. Where the standards leave room, as Chromium does it; each model
//! says what of it was measured.

mod block;
mod boxes;
mod controls;
mod flex;
mod flex_sizes;
mod floats;
mod grid;
mod grid_places;
mod grid_tracks;
mod inline;
mod items;
mod laid;
mod lines;
mod out_of_flow;
mod paragraph;
mod pile;
mod sizes;
mod skipped;
mod table;
mod table_borders;
mod table_columns;
mod table_rows;

use std::cell::{Cell, RefCell};
use std::collections::{BTreeMap, BTreeSet, HashMap, HashSet};
use std::sync::Arc;

pub use laid::{Laid, LaidLine, LaidPiece, LaidText};

use tidy_lattice_documents::page::{BoxStyle, Display, Flow, FlowKind, Skipped};
use tidy_lattice_documents::style::read::Viewport;
use tidy_lattice_glyphs::shaping::Shapers;

use super::Engine;
use super::text::{Setter, StyleFaces, patterns};
use paragraph::Paragraph;

/// Something that layout does not do, and where a page asks for it first.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord, serde::Serialize, schemars::JsonSchema)]
pub struct Unsupported {
    /// What, in words.
    pub what: String,
    /// The element, as a short selector.
    pub element: String,
    /// The line of the page, counted from 1.
    pub line: u32,
    /// How many elements ask for it.
    pub count: usize,
}

/// What a page is laid out with.
pub struct Stage<'s, 'a> {
    /// The page.
    pub flow: &'s Flow,
    /// The faces of every style that it has.
    pub faces: &'s [StyleFaces<'a>],
    /// For each node, the number of its style in `faces`.
    pub style_of: &'s [usize],
    /// The shapers of all faces.
    pub shapers: &'s Shapers,
    /// The engine.
    pub engine: Engine,
    /// The viewport.
    pub viewport: Viewport,
    /// Whether any font of the device has a character, which the browser may turn to
    /// where the stack has none.
    pub installed: &'s dyn Fn(char) -> bool,
}

/// A page laid out.
#[derive(Debug)]
pub struct LaidPage {
    /// The box of the root element; its children are relative to it.
    pub root: Laid,
    /// What was left out, in order of place.
    pub unsupported: Vec<Unsupported>,
    /// The nodes that were left out, with all that is in them.
    pub left_out: Vec<usize>,
    /// How many clusters no measured font of the stack sets.
    pub guessed: usize,
    /// The nodes whose lines hold some of them.
    pub guessed_in: Vec<usize>,
    /// How many steps layout took: boxes and rows laid out or measured, parts of texts and ends
    /// of lines looked at, each as often as it was.
    pub steps: u64,
    /// The faces that texts are set in: nodes in order, each with PostScript names in
    /// order.
    fonts: Vec<(usize, Arc<str>)>,
}

impl LaidPage {
    /// The faces that the text `node` is set in, by PostScript name.
    pub fn fonts_of(&self, node: usize) -> impl Iterator<Item = &str> {
        let start = self.fonts.partition_point(|(text, _)| *text < node);
        let here = self.fonts[start..].iter();
        here.take_while(move |(text, _)| *text == node)
            .map(|(_, font)| &**font)
    }
}

/// How often a page is laid out anew because content that was skipped comes to be seen: what is
/// lower than it said lets what is behind it come into sight.
const MOST_ROUNDS: usize = 8;

/// Lays a page out; the first node is the root element.
pub fn lay_out(stage: &Stage<'_, '_>) -> LaidPage {
    let flow = settled(stage);
    let stage = &Stage {
        flow: flow.as_ref().unwrap_or(stage.flow),
        ..*stage
    };
    let mut near = HashSet::new();
    let has_skipped = (stage.flow.nodes.iter()).any(|node| node.boxes.skipped == Skipped::Far);
    let (mut rounds, mut steps) = (0, 0);
    let (layouter, root) = loop {
        let (layouter, root) = lay_out_with(stage, &near);
        rounds += 1;
        steps += layouter.steps.get();
        if !has_skipped || rounds == MOST_ROUNDS || !layouter.see_more(&root, &mut near) {
            break (layouter, root);
        }
    };
    let mut unsupported: Vec<Unsupported> = layouter
        .unsupported
        .borrow()
        .clone()
        .into_values()
        .collect();
    unsupported.sort_by(|a, b| a.line.cmp(&b.line).then_with(|| a.what.cmp(&b.what)));
    let mut guessed = 0;
    let mut guessed_in = Vec::new();
    let mut names: BTreeSet<Arc<str>> = BTreeSet::new();
    let mut fonts = Vec::new();
    for paragraph in layouter.paragraphs.borrow().values() {
        for (text, font) in layouter.fonts(paragraph) {
            let name = names.get(font).cloned().unwrap_or_else(|| Arc::from(font));
            names.insert(Arc::clone(&name));
            fonts.push((text, name));
        }
        let here = layouter.guessed(paragraph);
        guessed += here;
        if here > 0 {
            guessed_in.push(paragraph.owner);
        }
    }
    fonts.sort_unstable();
    fonts.dedup();
    fonts.shrink_to_fit();
    let mut left_out = layouter.left_out.borrow().clone();
    left_out.sort_unstable();
    left_out.dedup();
    LaidPage {
        root,
        unsupported,
        left_out,
        guessed,
        guessed_in,
        steps,
        fonts,
    }
}

/// Lays a page out once; of boxes whose content is skipped while they are far from what is seen,
/// that of `near` is not.
fn lay_out_with<'s, 'a>(
    stage: &'s Stage<'s, 'a>,
    near: &HashSet<usize>,
) -> (Layouter<'s, 'a>, Laid) {
    let layouter = Layouter {
        stage,
        near: near.clone(),
        setter: Setter {
            engine: stage.engine,
            shapers: stage.shapers,
        },
        parents: parents(stage.flow),
        paragraphs: RefCell::default(),
        atoms: RefCell::default(),
        extents: RefCell::default(),
        sheets: RefCell::default(),
        collapsed: RefCell::default(),
        stretched: Cell::default(),
        steps: Cell::default(),
        any_floats: stage
            .flow
            .nodes
            .iter()
            .any(|node| node.boxes.float.is_some()),
        unsupported: RefCell::default(),
        left_out: RefCell::default(),
    };
    let width = layouter.cut(f64::from(stage.viewport.width));
    let room = Room {
        width,
        height: Some(f64::from(stage.viewport.height)),
    };
    let mut root = if stage.flow.nodes.is_empty() {
        Laid::default()
    } else {
        layouter.block(0, room, Given::default(), None)
    };
    let top = root.margin_start.sum();
    root.y += top;
    layouter.place_out_of_flow(&mut root);
    (layouter, root)
}

/// The page with what depends on fonts and engine settled; nothing where that is nothing.
fn settled(stage: &Stage<'_, '_>) -> Option<Flow> {
    let mut settled: Option<Flow> = None;
    for (number, node) in stage.flow.nodes.iter().enumerate() {
        let faces = &stage.faces[stage.style_of[number]];
        let mut resolved = node.boxes.in_font(|| faces.units(stage.shapers));
        // The text of a picture that cannot be had flows with the text around it in Firefox; in
        // the others it is a box.
        let is_text = matches!(&node.kind, FlowKind::Element(tag) if tag == "img");
        if is_text && node.boxes.display == Display::Inline && stage.engine != Engine::Firefox {
            let boxes = resolved.get_or_insert_with(|| BoxStyle::clone(&node.boxes));
            boxes.display = Display::InlineBlock;
        }
        if let Some(boxes) = resolved {
            let flow = settled.get_or_insert_with(|| stage.flow.clone());
            flow.nodes[number].boxes = Arc::new(boxes);
        }
    }
    settled
}

fn parents(flow: &Flow) -> Vec<Option<usize>> {
    let mut parents = vec![None; flow.nodes.len()];
    for (number, node) in flow.nodes.iter().enumerate() {
        for child in &node.children {
            parents[*child] = Some(number);
        }
    }
    parents
}

/// The room that a box may take.
#[derive(Debug, Clone, Copy)]
struct Room {
    /// The width of the containing block, in px.
    width: f64,
    /// Its height, where it is known before its content is.
    height: Option<f64>,
}

/// What something else decides over: sizes of the border box, in px.
#[derive(Debug, Clone, Copy, Default)]
struct Given {
    width: Option<f64>,
    height: Option<f64>,
}

impl Given {
    fn width(width: f64) -> Self {
        Given {
            width: Some(width),
            height: None,
        }
    }
}

/// Lays out.
struct Layouter<'s, 'a> {
    stage: &'s Stage<'s, 'a>,
    setter: Setter<'s>,
    /// Boxes that are near enough to what is seen for their content to count.
    near: HashSet<usize>,
    /// For each node, the node that it stands in.
    parents: Vec<Option<usize>>,
    /// Paragraphs by their first node.
    paragraphs: RefCell<HashMap<usize, Arc<Paragraph>>>,
    /// What is set like a letter, laid out.
    atoms: RefCell<HashMap<usize, Laid>>,
    /// Least and greatest widths of the content of nodes.
    extents: RefCell<HashMap<usize, (f64, f64)>>,
    /// Tables taken apart.
    sheets: RefCell<HashMap<usize, Arc<table::Sheet>>>,
    /// Borders of tables that collapse, and of their cells.
    collapsed: RefCell<HashMap<usize, boxes::Edges>>,
    /// How many items were laid out anew because they are stretched.
    stretched: Cell<usize>,
    /// How many steps were taken.
    steps: Cell<u64>,
    /// Whether anything floats.
    any_floats: bool,
    unsupported: RefCell<BTreeMap<String, Unsupported>>,
    left_out: RefCell<Vec<usize>>,
}

impl<'s, 'a> Layouter<'s, 'a> {
    fn engine(&self) -> Engine {
        self.stage.engine
    }

    /// Counts steps.
    fn step(&self, count: usize) {
        self.steps.set(self.steps.get() + count as u64);
    }

    fn cut(&self, px: f64) -> f64 {
        self.stage.engine.cut(px)
    }

    fn faces(&self, node: usize) -> &'s StyleFaces<'a> {
        &self.stage.faces[self.stage.style_of[node]]
    }

    /// Notes what `node` asks for that is not done.
    fn unsupported(&self, node: usize, what: &str) {
        let node = &self.stage.flow.nodes[node];
        let mut known = self.unsupported.borrow_mut();
        let entry = known.entry(what.to_owned()).or_insert_with(|| Unsupported {
            what: what.to_owned(),
            element: node.selector.to_string(),
            line: node.line,
            count: 0,
        });
        entry.count += 1;
    }

    /// Notes all that the style of `node` asks for that is not done.
    fn note(&self, node: usize) {
        let firefox = self.engine() == Engine::Firefox;
        for one in &self.stage.flow.nodes[node].boxes.unsupported {
            let language = self.stage.flow.nodes[node].language.as_deref();
            if one.is_hyphenation() && firefox && patterns(language).is_some() {
                continue;
            }
            if one.keeps_lines() {
                self.unsupported(node, &one.to_string());
            } else {
                self.leave_out(node, &one.to_string());
            }
        }
    }

    fn leave_out(&self, node: usize, what: &str) {
        self.unsupported(node, what);
        self.left_out.borrow_mut().push(node);
    }

    fn is_element(&self, node: usize) -> bool {
        matches!(self.stage.flow.nodes[node].kind, FlowKind::Element(_))
    }
}
