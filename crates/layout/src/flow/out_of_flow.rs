//! What is out of flow: `position: absolute` and `fixed` (CSS Positioned Layout 3, §3.5, §4;
//! CSS 2.2, §10.3.7, §10.6.4). All else is laid out as if it were not there; then it is put
//! into its containing block, whose size is known by then.

use std::collections::{BTreeMap, HashMap};

use tidy_lattice_documents::page::{Align, Display, Length, Placement, Position, TablePart};

use super::laid::{Edge, Laid, LaidLine, Static};
use super::{Given, Layouter, Room};

/// A containing block, in px of the page.
#[derive(Debug, Clone, Copy)]
struct Block {
    x: f64,
    y: f64,
    width: f64,
    height: f64,
    /// Whether its text goes from right to left.
    rtl: bool,
}

/// Where boxes are on the page: corner and size of the border box.
type Places = HashMap<usize, Block>;

/// Where what is out of flow would stand in it, on the page.
type Marks = HashMap<usize, (f64, f64, Static)>;

impl Layouter<'_, '_> {
    /// Whether the place that `node`, which is out of flow, would have in flow counts.
    pub fn stands_where_it_is(&self, node: usize) -> bool {
        let inset = &self.style(node).inset;
        let auto = |a: &Length, b: &Length| *a == Length::Auto && *b == Length::Auto;
        auto(&inset.left, &inset.right) || auto(&inset.top, &inset.bottom)
    }

    /// A mark of where `node` would stand: at `place`, from the box that it is put into.
    pub fn mark(node: usize, place: (f64, f64), edges: Static) -> Laid {
        Laid {
            node: Some(node),
            x: place.0,
            y: place.1,
            out: Some(edges),
            ..Laid::default()
        }
    }

    /// [`Layouter::mark`] of what would stand in the block `owner` from `corner` on, in
    /// `width` px: an element of a line where an empty line would begin.
    pub fn mark_in(&self, owner: usize, node: usize, corner: (f64, f64), width: f64) -> Laid {
        let style = self.style(owner);
        let from_line = self.style(node).from_line;
        let across = match (style.align, style.rtl) {
            (Align::Center, _) if from_line => width / 2.0,
            (Align::Right, _) | (Align::End, false) | (Align::Start, true) if from_line => width,
            (_, true) if !from_line => width,
            _ => 0.0,
        };
        let edges = Static {
            across: if style.rtl { Edge::End } else { Edge::Start },
            down: Edge::Start,
        };
        Self::mark(node, (corner.0 + across, corner.1), edges)
    }

    /// [`Layouter::mark`] of what would stand in a line, of which `before` px come before
    /// it: what is of lines in it, blocks below it, or above where the line begins.
    pub fn mark_in_line(
        &self,
        (owner, node): (usize, usize),
        line: &LaidLine,
        (left, before, width): (f64, f64, f64),
        begins: bool,
        whole: f64,
    ) -> Laid {
        let rtl = self.style(owner).rtl;
        let edges = Static {
            across: if rtl { Edge::End } else { Edge::Start },
            down: Edge::Start,
        };
        let place = match (self.style(node).from_line, rtl) {
            (true, true) => (left + width - before, line.top),
            (true, false) => (left + before, line.top),
            (false, _) => {
                let down = if begins { 0.0 } else { line.height };
                (if rtl { whole } else { 0.0 }, line.top + down)
            }
        };
        Self::mark(node, place, edges)
    }

    /// Puts marks for what is out of flow into a flexible box or a grid, at which each
    /// would be its only item (CSS Flexbox 1, §4.1; CSS Grid 2, §9.2); `content` is its
    /// content box, from the corner of `laid`.
    pub fn mark_items(&self, container: usize, laid: &mut Laid, content: (f64, f64, f64, f64)) {
        let (left, top, width, height) = content;
        let style = self.style(container);
        let column = style.flex.column && matches!(style.display, Display::Flex { .. });
        let grid = matches!(style.display, Display::Grid { .. });
        let mut children = Vec::new();
        self.out_in(container, &mut children);
        for child in children {
            let flex = &self.style(child).flex;
            let along = match (grid, flex.justify_self) {
                (true, Some(flex)) => flex,
                (true, None) => style.flex.justify_items,
                (false, _) => style.flex.justify,
            };
            let along = edge(along, !grid && style.flex.reverse);
            let across = edge(flex.align_self.unwrap_or(style.flex.align_items), false);
            let edges = match column {
                true => Static {
                    across,
                    down: along,
                },
                false => Static {
                    across: along,
                    down: across,
                },
            };
            let edges = Static {
                across: match (style.rtl, edges.across) {
                    (true, Edge::Start) => Edge::End,
                    (true, Edge::End) => Edge::Start,
                    (_, edge) => edge,
                },
                ..edges
            };
            let at = |edge: Edge, start: f64, size: f64| match edge {
                Edge::Start => start,
                Edge::Middle => start + size / 2.0,
                Edge::End => start + size,
            };
            let place = (at(edges.across, left, width), at(edges.down, top, height));
            laid.children.push(Self::mark(child, place, edges));
        }
    }

    /// The children of `node` that are out of flow and whose place in it counts.
    fn out_in(&self, node: usize, found: &mut Vec<usize>) {
        for child in &self.stage.flow.nodes[node].children {
            let inner = &self.stage.flow.nodes[*child];
            if self.is_out(*child) {
                found.extend(self.stands_where_it_is(*child).then_some(*child));
            } else if inner.boxes.display == Display::Contents {
                self.out_in(*child, found);
            }
        }
    }

    /// Lays out what is out of flow, and puts it where it belongs in the page `root`.
    pub fn place_out_of_flow(&self, root: &mut Laid) {
        let (mut places, mut marks) = (Places::new(), Marks::new());
        gather(root, (0.0, 0.0), &mut places, &mut marks);
        // Those of a box, in order; those of the page by the root element.
        let mut put: BTreeMap<usize, Vec<Laid>> = BTreeMap::new();
        let mut gone = vec![false; self.stage.flow.nodes.len()];
        for node in 0..self.stage.flow.nodes.len() {
            gone[node] |= self.parents[node].is_some_and(|parent| gone[parent]);
            if gone[node] || !self.is_out(node) || node == 0 {
                continue;
            }
            let Some((container, block)) = self.containing(node, &places) else {
                self.leave_out(node, "position: absolute in a box that is not laid out");
                gone[node] = true;
                continue;
            };
            let mark = marks.get(&node).copied();
            if mark.is_none() && self.stands_where_it_is(node) {
                self.leave_out(node, "position: absolute in the middle of a line");
                gone[node] = true;
                continue;
            }
            let mut laid = self.out_of_flow(node, block, mark);
            gather(&laid, (0.0, 0.0), &mut places, &mut marks);
            let from = places.get(&container).copied();
            let from = from.map_or((0.0, 0.0), |from| (from.x, from.y));
            laid.x -= from.0;
            laid.y -= from.1;
            put.entry(container).or_default().push(laid);
        }
        attach(root, &mut put);
    }

    /// The node whose box `node` is put into, and its containing block; `None` where that
    /// is not laid out as one box.
    fn containing(&self, node: usize, places: &Places) -> Option<(usize, Block)> {
        let fixed = self.style(node).position == Position::Fixed;
        let mut next = self.parents[node];
        while let Some(above) = next {
            let style = self.style(above);
            let is_block = (style.position != Position::Static && !fixed)
                || style
                    .unsupported
                    .iter()
                    .any(|one| one.property == "transform");
            if is_block {
                let place = places.get(&above)?;
                let border = self.border(above);
                let block = Block {
                    x: place.x + border.left,
                    y: place.y + border.top,
                    width: place.width - border.across(),
                    height: place.height - border.down(),
                    rtl: style.rtl,
                };
                return Some((above, block));
            }
            next = self.parents[above];
        }
        let viewport = self.stage.viewport;
        let block = Block {
            x: 0.0,
            y: 0.0,
            width: self.cut(f64::from(viewport.width)),
            height: self.cut(f64::from(viewport.height)),
            rtl: self.style(0).rtl,
        };
        Some((0, block))
    }

    /// Lays `node` out in its containing block; its corner is that on the page.
    fn out_of_flow(&self, node: usize, block: Block, mark: Option<(f64, f64, Static)>) -> Laid {
        let room = Room {
            width: block.width,
            height: Some(block.height),
        };
        let style = self.style(node);
        let margin = self.margin(node, block.width);
        let inset = |from: &Length, to: &Length, whole: f64| {
            let px = |length: &Length| Some(self.cut(length.px(Some(whole))?));
            (px(from), px(to))
        };
        let mut across = Axis {
            start: block.x,
            size: block.width,
            inset: inset(&style.inset.left, &style.inset.right, block.width),
            margins: (margin.left, margin.right),
            auto: (
                style.margin.left == Length::Auto,
                style.margin.right == Length::Auto,
            ),
            self_alignment: style.flex.justify_self.and_then(own_edge),
            mark: mark.map(|(x, _, edges)| (x, edges.across)),
            reverse: block.rtl,
        };
        let mut down = Axis {
            start: block.y,
            size: block.height,
            inset: inset(&style.inset.top, &style.inset.bottom, block.height),
            margins: (margin.top, margin.bottom),
            auto: (
                style.margin.top == Length::Auto,
                style.margin.bottom == Length::Auto,
            ),
            self_alignment: style.flex.align_self.and_then(own_edge),
            mark: mark.map(|(_, y, edges)| (y, edges.down)),
            reverse: false,
        };
        across.settle();
        down.settle();
        let inner = self.inner(node, block.width);
        // Pictures, controls and tables are as large as they like.
        let element = self.is_element(node);
        let table = style.display == Display::Table(TablePart::Whole);
        let fills = |axis: &Axis, length: &Length| {
            element && !table && axis.fills() && *length == Length::Auto
        };
        let width = element.then(|| {
            let all = (across.room() - margin.across()).max(inner.across());
            let wish = match style.width.preferred {
                Length::Auto if fills(&across, &style.width.preferred) => all,
                Length::Auto => self.fit(node, all),
                _ => return self.block_width(node, block.width),
            };
            self.limited(node, &style.width, wish, block.width, all, inner.across())
        });
        let height = fills(&down, &style.height.preferred).then(|| {
            let all = (down.room() - margin.down()).max(inner.down());
            self.height_limited(node, room, inner, all)
        });
        let mut laid = self.block(node, room, Given { width, height }, None);
        laid.x = across.place(laid.width, |px| self.cut(px));
        laid.y = down.place(laid.height, |px| self.cut(px));
        laid
    }
}

/// One direction of a box out of flow, in px of the page.
struct Axis {
    /// Where its containing block starts, and how large it is.
    start: f64,
    size: f64,
    /// Offsets from the start and the end; none for `auto`.
    inset: (Option<f64>, Option<f64>),
    margins: (f64, f64),
    /// Whether margins are `auto`.
    auto: (bool, bool),
    /// Where it asks to stand between its offsets (CSS Box Alignment 3, §6.1).
    self_alignment: Option<Edge>,
    /// Where it would stand in flow.
    mark: Option<(f64, Edge)>,
    /// Whether text starts at the end.
    reverse: bool,
}

impl Axis {
    /// Offsets that leave less than nothing leave nothing (CSS Positioned Layout 3, §4.2).
    fn settle(&mut self) {
        if let (Some(from), Some(to)) = &mut self.inset
            && *from + *to > self.size
        {
            if self.reverse {
                *from = self.size - *to;
            } else {
                *to = self.size - *from;
            }
        }
    }

    /// Whether a size of `auto` takes all that the offsets leave.
    fn fills(&self) -> bool {
        self.inset.0.is_some() && self.inset.1.is_some() && self.self_alignment.is_none()
    }

    /// How much room there is, margins included.
    fn room(&self) -> f64 {
        match (self.inset, self.mark) {
            // Without offsets it goes from where the box would stand to the end.
            ((None, None), Some((at, Edge::Start))) => self.start + self.size - at,
            ((None, None), Some((at, Edge::End))) => at - self.start,
            ((from, to), _) => self.size - from.unwrap_or(0.0) - to.unwrap_or(0.0),
        }
    }

    /// Where a box of this size starts.
    fn place(&self, size: f64, cut: impl Fn(f64) -> f64) -> f64 {
        let end = self.start + self.size;
        let (from, to) = match self.inset {
            (Some(from), Some(to)) => (from, to),
            (Some(from), None) => return self.start + from + self.margins.0,
            (None, Some(to)) => return end - to - self.margins.1 - size,
            (None, None) => {
                let (at, edge) = self.mark.unwrap_or((self.start, Edge::Start));
                return at_edge(edge, at, size, self.margins);
            }
        };
        let first = self.start + from + self.margins.0;
        let free = self.size - from - to - self.margins.0 - self.margins.1 - size;
        match (self.auto, self.self_alignment) {
            ((true, true), _) if free < 0.0 => first + if self.reverse { free } else { 0.0 },
            ((true, true), _) | ((false, false), Some(Edge::Middle)) => first + cut(free / 2.0),
            ((true, false), _) | ((false, false), Some(Edge::End)) => first + free,
            ((false, false), None) if self.reverse => first + free,
            _ => first,
        }
    }
}

/// What `align-self` or `justify-self` asks for; nothing for `stretch`.
fn own_edge(placement: Placement) -> Option<Edge> {
    (placement != Placement::Stretch).then(|| edge(placement, false))
}

/// The start of a box of which `edge` is at `place`, with margins before and behind.
fn at_edge(edge: Edge, place: f64, size: f64, (before, behind): (f64, f64)) -> f64 {
    match edge {
        Edge::Start => place + before,
        Edge::Middle => place + (before - behind - size) / 2.0,
        Edge::End => place - behind - size,
    }
}

/// Where the only item of a container stands.
fn edge(placement: Placement, reverse: bool) -> Edge {
    match (placement, reverse) {
        (Placement::Center | Placement::SpaceAround | Placement::SpaceEvenly, _) => Edge::Middle,
        (Placement::End, false) | (_, true) => Edge::End,
        _ => Edge::Start,
    }
}

/// Collects where the boxes in `laid` are, and the marks, from the corner that `laid` is
/// placed from.
fn gather(laid: &Laid, at: (f64, f64), places: &mut Places, marks: &mut Marks) {
    let (x, y) = (at.0 + laid.x, at.1 + laid.y);
    match (laid.node, laid.out) {
        (Some(node), Some(edges)) => {
            marks.insert(node, (x, y, edges));
        }
        (Some(node), None) => {
            let place = Block {
                x,
                y,
                width: laid.width,
                height: laid.height,
                rtl: false,
            };
            places.insert(node, place);
        }
        (None, _) => {}
    }
    for child in &laid.children {
        gather(child, (x, y), places, marks);
    }
}

/// Takes the marks out, and puts boxes into those that they belong to.
fn attach(laid: &mut Laid, put: &mut BTreeMap<usize, Vec<Laid>>) {
    laid.children.retain(|child| child.out.is_none());
    if let Some(more) = laid.node.and_then(|node| put.remove(&node)) {
        laid.children.extend(more);
    }
    for child in &mut laid.children {
        attach(child, put);
    }
}
