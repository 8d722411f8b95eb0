//! Boxes that tables need and nobody wrote: what stands in a table, a group of rows or a row
//! beside what belongs there is put into a cell (CSS Tables 3, §2.2.1).

use std::sync::Arc;

use super::Builder;
use crate::page::flow::{FlowKind, FlowNode};
use crate::style::computed::{CounterChanges, Display, Outer, TablePart};
use crate::style::properties::{Parent, for_child};

/// What such a cell is called.
const CELL: &str = "::table-cell";

impl Builder<'_> {
    /// Where `node` stands that comes to stand in `around`: there, or in a cell in it.
    pub(super) fn place_in(&mut self, around: usize, node: &FlowNode) -> usize {
        let Display::Table(part) = self.flow.nodes[around].boxes.display else {
            return around;
        };
        let has_cells = matches!(part, TablePart::Whole | TablePart::Group | TablePart::Row);
        if !has_cells || !self.is_box(around) || belongs(node, part) {
            return around;
        }
        let last = self.flow.nodes[around].children.last().copied();
        let is_cell = |node: &FlowNode| matches!(&node.kind, FlowKind::Element(tag) if tag == CELL);
        if let Some(cell) = last.filter(|last| is_cell(&self.flow.nodes[*last])) {
            return cell;
        }
        // What does not show asks for none.
        if shows_nothing(node) {
            return around;
        }
        let outer = &self.flow.nodes[around];
        let parent = Parent {
            text: &outer.text,
            boxes: &outer.boxes,
            display: (outer.boxes.display, Outer::Block),
            content: &None,
            counters: &CounterChanges::default(),
        };
        let mut boxes = for_child(&parent, true).boxes;
        boxes.settle(false);
        boxes.display = Display::Table(TablePart::Cell);
        let kind = FlowKind::Element(CELL.to_owned());
        let cell = outer.inside(kind, outer.text.clone(), Arc::new(boxes));
        let number = self.flow.nodes.len();
        self.flow.nodes.push(cell);
        self.flow.nodes[around].children.push(number);
        number
    }

    /// Whether a node is an element, whose style is its own.
    fn is_box(&self, node: usize) -> bool {
        matches!(self.flow.nodes[node].kind, FlowKind::Element(_))
    }
}

/// Whether a node may stand in this part of a table.
fn belongs(node: &FlowNode, around: TablePart) -> bool {
    let part = match (&node.kind, node.boxes.display) {
        (FlowKind::Element(_), Display::Table(part)) if !node.boxes.position.is_out() => part,
        _ => return false,
    };
    match part {
        TablePart::Whole => false,
        TablePart::Cell => true,
        TablePart::Row => around != TablePart::Row,
        TablePart::Group | TablePart::Caption | TablePart::Column => around == TablePart::Whole,
    }
}

/// Whether a node is white space, a marker, or out of flow.
fn shows_nothing(node: &FlowNode) -> bool {
    match &node.kind {
        FlowKind::Text(text, _) => text.chars().all(|c| c.is_ascii_whitespace()),
        FlowKind::Marker(_) => true,
        _ => node.boxes.position.is_out(),
    }
}
