//! How wide content is at least and at most (CSS Sizing 3, §5).

use super::boxes::Part;
use super::paragraph::ItemKind;
use super::{Layouter, Room};
use crate::page::{Display, FlowKind, Length, TablePart};

impl Layouter<'_, '_> {
    /// The least and the greatest width that the border box of `node` likes to
    /// have, in px, unless it is stated.
    pub fn extent(&self, node: usize) -> (f64, f64) {
        if let Some(known) = self.extents.borrow().get(&node) {
            return *known;
        }
        // A box in itself cannot be; this ends what would never end otherwise.
        self.extents.borrow_mut().insert(node, (0.0, 0.0));
        let edges = self.inner(node, 0.0).across();
        let content = match (&self.stage.flow.nodes[node].kind, self.style(node).display) {
            (FlowKind::Replaced(..) | FlowKind::Control(_), _) => {
                let width = self.atom_size(node, None).0;
                (width - edges, width - edges)
            }
            (_, Display::Flex { .. }) => self.flex_extent(node),
            (_, Display::Grid { .. }) => self.grid_extent(node),
            (_, Display::Table(TablePart::Whole)) => {
                let (least, most) = self.table_extent(node);
                (least - edges, most - edges)
            }
            _ => self.pile_extent(node),
        };
        let extent = (content.0 + edges, content.1 + edges);
        self.extents.borrow_mut().insert(node, extent);
        extent
    }

    /// [`Layouter::extent`] with what is stated, and the margins.
    pub fn contribution(&self, node: usize) -> (f64, f64) {
        let style = self.style(node);
        let edges = self.inner(node, 0.0).across();
        let stated = |length: &Length| self.stated(node, length, None, edges);
        let (mut least, mut most) = match stated(&style.width.own) {
            Some(width) => (width, width),
            None => match style.width.own {
                Length::MinContent => (self.extent(node).0, self.extent(node).0),
                Length::MaxContent => (self.extent(node).1, self.extent(node).1),
                _ => self.extent(node),
            },
        };
        if let Some(limit) = stated(&style.width.max) {
            (least, most) = (least.min(limit), most.min(limit));
        }
        if let Some(limit) = stated(&style.width.min) {
            (least, most) = (least.max(limit), most.max(limit));
        }
        let margin = self.margin(node, 0.0).across();
        (least + margin, most + margin)
    }

    fn pile_extent(&self, node: usize) -> (f64, f64) {
        let (mut least, mut most) = (0.0_f64, 0.0_f64);
        for part in self.parts(node) {
            let (a, b) = match part {
                Part::Block(child) => self.contribution(child),
                Part::Inline(nodes) => self.inline_extent(node, &nodes),
            };
            least = least.max(a);
            most = most.max(b);
        }
        (least, most)
    }

    /// The widest that must stay together, and the widest line, were there no end to
    /// lines.
    pub fn inline_extent(&self, owner: usize, nodes: &[usize]) -> (f64, f64) {
        let paragraph = self.paragraph(owner, nodes);
        let room = Room {
            width: f64::from(self.stage.viewport.width),
            height: None,
        };
        for item in &paragraph.items {
            if item.kind == ItemKind::Atom && !self.atoms.borrow().contains_key(&item.node) {
                let laid = self.atom(item.node, room);
                self.atoms.borrow_mut().insert(item.node, laid);
            }
        }
        let width = |lines: Vec<super::lines::Filled>| {
            let widths = lines
                .iter()
                .map(|line| line.width + line.hyphen.unwrap_or(0.0));
            widths.fold(0.0, f64::max)
        };
        let least = width(self.fill(&paragraph, 0.0, 0.0));
        let most = width(self.fill(&paragraph, f64::MAX / 4.0, 0.0));
        (least, most)
    }
}
