//! Where the boxes and texts of a laid out page are, on the page.

use std::collections::BTreeMap;

use tidy_lattice_documents::page::{Flow, FlowKind};
use tidy_lattice_layout::flow::{Laid, LaidPage, LaidText};

use super::score::Rect;

/// A page as a set of shapes, by node.
#[derive(Debug, Default)]
pub struct Shapes {
    /// Boxes of elements.
    pub boxes: BTreeMap<usize, Shape>,
    /// Texts.
    pub texts: BTreeMap<usize, Shape>,
    /// The lines of the boxes that hold some, by node of the box; several where
    /// blocks stand between.
    pub lines: BTreeMap<usize, Vec<LaidText>>,
}

/// A box or text.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Shape {
    /// Where it starts.
    pub start: (f64, f64),
    /// What it covers by itself.
    pub rect: Rect,
    /// What it covers with all that sticks out of it and shows.
    pub visual: Rect,
}

impl Shapes {
    /// The shapes of a page.
    pub fn of(page: &LaidPage, flow: &Flow) -> Self {
        let mut shapes = Shapes::default();
        let all = Rect {
            x: f64::MIN / 4.0,
            y: f64::MIN / 4.0,
            width: f64::MAX / 2.0,
            height: f64::MAX / 2.0,
        };
        shapes.add(&page.root, flow, (0.0, 0.0), all, 0);
        shapes
    }

    /// Adds a box; gives what it covers with all that sticks out.
    fn add(&mut self, laid: &Laid, flow: &Flow, at: (f64, f64), clip: Rect, owner: usize) -> Rect {
        let (x, y) = (at.0 + laid.x, at.1 + laid.y);
        let border_box = Rect {
            x,
            y,
            width: laid.width,
            height: laid.height,
        };
        let owner = laid.node.unwrap_or(owner);
        let inside = if laid.clips {
            clip.within(border_box)
        } else {
            clip
        };
        let mut visual = border_box;
        for child in &laid.children {
            let covered = self.add(child, flow, (x, y), inside, owner);
            visual = visual.with(covered);
        }
        if let Some(text) = &laid.text {
            let covered = self.add_text(text, flow, (x, y), inside, owner);
            visual = visual.with(covered);
        }
        if laid.clips {
            visual = border_box;
        }
        if let Some(node) = laid.node {
            let rtl = flow.nodes[node].boxes.rtl;
            let start = (
                if rtl {
                    border_box.right()
                } else {
                    border_box.x
                },
                border_box.y,
            );
            if flow.nodes[node].boxes.visible {
                let visual = visual.within(clip);
                self.boxes.insert(
                    node,
                    Shape {
                        start,
                        rect: border_box,
                        visual,
                    },
                );
            }
        }
        visual
    }

    fn add_text(
        &mut self,
        text: &LaidText,
        flow: &Flow,
        (x, y): (f64, f64),
        clip: Rect,
        owner: usize,
    ) -> Rect {
        let rtl = flow.nodes[owner].boxes.rtl;
        let mut covered = Rect::default();
        for piece in text.lines.iter().flat_map(|line| &line.pieces) {
            let line_box = Rect {
                x: x + piece.x,
                y: y + piece.top,
                width: piece.width,
                height: piece.height,
            };
            covered = covered.with(line_box);
            // Blanks by themselves do not count.
            let blank = match &flow.nodes[piece.node].kind {
                FlowKind::Text(words, _) => words.chars().all(|c| c.is_whitespace()),
                _ => false,
            };
            if blank || !flow.nodes[piece.node].boxes.visible {
                continue;
            }
            let first = Shape {
                start: (if rtl { line_box.right() } else { line_box.x }, line_box.y),
                rect: line_box,
                visual: Rect {
                    x: x + text.left,
                    y: line_box.y,
                    width: text.width,
                    height: line_box.height,
                }
                .within(clip),
            };
            // Where directions mix, the leftmost stretch of the first line is taken for
            // the start, as Chromium does.
            let shape = self.texts.entry(piece.node).or_insert(first);
            shape.rect = shape.rect.with(line_box);
            let bottom = line_box.bottom().min(clip.bottom());
            shape.visual.height = shape.visual.height.max(bottom - shape.visual.y);
        }
        let mut placed = text.clone();
        placed.left += x;
        for line in &mut placed.lines {
            line.top += y;
            line.baseline += y;
            for piece in &mut line.pieces {
                piece.x += x;
                piece.top += y;
            }
        }
        self.lines.entry(owner).or_default().push(placed);
        covered
    }
}
