//! Items of flexible boxes and grids: which there are, and what both do with them.

use tidy_lattice_documents::page::{Display, FlowKind, Length, Placement, Position};

use super::boxes::{Edges, Part};
use super::floats::{Around, Floats};
use super::laid::Laid;
use super::pile::Pile;
use super::{Given, Layouter, Room};

/// How often items may be laid out anew because they are stretched: nested ones
/// would take twice as long a level.
const MOST_STRETCHED: usize = 4_096;

impl Layouter<'_, '_> {
    /// The items of a flexible box or grid, in the order in which they stand.
    pub fn items(&self, node: usize) -> Vec<Part> {
        let mut parts: Vec<Part> = Vec::new();
        for part in self.parts(node) {
            match part {
                Part::Block(_) | Part::Float(_) => parts.push(part),
                // Marked by the container itself.
                Part::Out(_) => {}
                // What stands in a line by itself is an item each; texts together
                // are one.
                Part::Inline(nodes) => {
                    let mut text = Vec::new();
                    for inner in nodes {
                        if self.is_text(inner) {
                            text.push(inner);
                            continue;
                        }
                        self.push_text(&mut parts, &mut text);
                        parts.push(Part::Block(inner));
                    }
                    self.push_text(&mut parts, &mut text);
                }
            }
        }
        parts.sort_by_key(|part| match part {
            Part::Block(node) | Part::Float(node) => self.style(*node).flex.order,
            Part::Inline(_) | Part::Out(_) => 0,
        });
        parts
    }

    fn push_text(&self, parts: &mut Vec<Part>, text: &mut Vec<usize>) {
        let text = std::mem::take(text);
        let blank = |node: &usize| match &self.stage.flow.nodes[*node].kind {
            FlowKind::Text(text, _) => text.trim().is_empty(),
            _ => false,
        };
        if !text.iter().all(blank) {
            parts.push(Part::Inline(text));
        }
    }

    /// The least and greatest width of an item, margins included.
    pub fn part_extent(&self, owner: usize, part: &Part) -> (f64, f64) {
        match part {
            Part::Block(node) | Part::Float(node) | Part::Out(node) => self.contribution(*node),
            Part::Inline(nodes) => self.inline_extent(owner, nodes),
        }
    }

    /// `column-gap` and `row-gap` in px.
    pub fn gap(&self, node: usize, width: f64) -> (f64, f64) {
        let gap = &self.style(node).gap;
        let px = |length: &Length| self.cut(length.px(Some(width)).unwrap_or(0.0));
        (px(&gap.0), px(&gap.1))
    }

    /// Lays an item out at a size of its border box, without its margins.
    pub fn part_box(&self, owner: usize, part: &Part, room: Room, given: Given) -> Laid {
        match part {
            Part::Block(node) | Part::Float(node) | Part::Out(node) => {
                let mut laid = self.block(*node, room, given, None);
                laid.y = 0.0;
                laid
            }
            Part::Inline(nodes) => {
                let width = given.width.unwrap_or(room.width);
                let mut laid = Laid {
                    width,
                    ..Laid::default()
                };
                let content = Room {
                    width,
                    height: None,
                };
                let part = vec![Part::Inline(nodes.clone())];
                let mut floats = Floats::default();
                let mut around = Around {
                    floats: &mut floats,
                    x: 0.0,
                    y: 0.0,
                };
                let mut pile = Pile::new(owner, content, (0.0, 0.0), false);
                self.pile(&mut laid, part, &mut pile, &mut around);
                laid.height = given.height.unwrap_or(pile.bottom);
                laid
            }
        }
    }

    /// Moves an item that is `position: relative`.
    pub fn shift_relative(&self, part: &Part, room: Room, child: &mut Laid) {
        if let Part::Block(node) = part
            && self.style(*node).position == Position::Relative
        {
            let (across, down) = self.moved(*node, room);
            child.x += across;
            child.y += down;
            child.lowered = down;
        }
    }

    /// An item at a height of its border box that its container decides over; laid out
    /// anew where what is in it depends on that.
    pub fn stretched(
        &self,
        owner: usize,
        part: &Part,
        room: Room,
        laid: Laid,
        height: f64,
    ) -> Laid {
        let Part::Block(node) = part else {
            return Laid { height, ..laid };
        };
        let inner = self.inner(*node, room.width);
        let height = self.height_limited(*node, room, inner, height);
        if (height - laid.height).abs() < 1e-6 {
            return laid;
        }
        let depends = !self.is_element(*node)
            || matches!(
                self.style(*node).display,
                Display::Flex { .. } | Display::Grid { .. }
            )
            || self.stage.flow.nodes[*node]
                .children
                .iter()
                .any(|child| matches!(self.style(*child).height.preferred, Length::Relative(_)));
        if !depends || self.stretched.get() >= MOST_STRETCHED {
            return Laid { height, ..laid };
        }
        self.stretched.set(self.stretched.get() + 1);
        let given = Given {
            width: Some(laid.width),
            height: Some(height),
        };
        self.part_box(owner, part, room, given)
    }

    /// Whether the margins at the top, the right, the bottom and the left are `auto`.
    pub fn auto_margins(&self, part: &Part) -> [bool; 4] {
        match part {
            Part::Block(node) => {
                let margin = &self.style(*node).margin;
                [&margin.top, &margin.right, &margin.bottom, &margin.left]
                    .map(|margin| *margin == Length::Auto)
            }
            Part::Inline(_) | Part::Float(_) | Part::Out(_) => [false; 4],
        }
    }

    /// Whether no height is stated.
    pub fn may_stretch(&self, part: &Part) -> bool {
        match part {
            Part::Block(node) => self.style(*node).height.preferred == Length::Auto,
            Part::Inline(_) | Part::Float(_) | Part::Out(_) => true,
        }
    }

    /// The margins of an item in a container `width` px wide.
    pub fn part_margin(&self, part: &Part, width: f64) -> Edges {
        match part {
            Part::Block(node) => self.margin(*node, width),
            Part::Inline(_) | Part::Float(_) | Part::Out(_) => Edges::default(),
        }
    }

    /// How an item is aligned across the line.
    pub fn placed(&self, node: usize, part: &Part) -> Placement {
        let self_alignment = match part {
            Part::Block(item) => self.style(*item).flex.align_self,
            Part::Inline(_) | Part::Float(_) | Part::Out(_) => None,
        };
        self_alignment.unwrap_or(self.style(node).flex.align_items)
    }
}

/// Where a line of items starts, and what comes between them, where `free` px are
/// left.
pub(super) fn spread(justify: Placement, free: f64, count: usize) -> (f64, f64) {
    let count = count as f64;
    match justify {
        Placement::Center => (free / 2.0, 0.0),
        Placement::End => (free, 0.0),
        Placement::SpaceBetween if count > 1.0 => (0.0, free.max(0.0) / (count - 1.0)),
        Placement::SpaceAround if count > 0.0 => {
            let between = free.max(0.0) / count;
            (between / 2.0, between)
        }
        Placement::SpaceEvenly if count > 0.0 => {
            let between = free.max(0.0) / (count + 1.0);
            (between, between)
        }
        _ => (0.0, 0.0),
    }
}

/// What `free` px along a line of items become: where the items start, what comes
/// between them, and what each of their `auto` margins gets, which go first.
pub(super) fn shared_out(
    justify: Placement,
    free: f64,
    count: usize,
    autos: usize,
) -> (f64, f64, f64) {
    if autos > 0 {
        return (0.0, 0.0, free.max(0.0) / autos as f64);
    }
    let (start, between) = spread(justify, free, count);
    (start, between, 0.0)
}
