//! Blocks below one another, with margins that collapse, beside floats (CSS 2.2,
//! §8.3.1, §9.4.1, §9.5, §10.6).

use tidy_lattice_documents::page::{Display, FlowKind, Length, Position, Side, TablePart};

use super::boxes::{Edges, Part};
use super::floats::{Around, Floats};
use super::laid::{Laid, Strut};
use super::pile::Pile;
use super::{Given, Layouter, Room};

/// How often a box beside floats is laid out anew as it turns out higher.
const MOST_TRIES: usize = 4;

impl Layouter<'_, '_> {
    /// Lays `node` out as a block in `room`. Floats around it are those of the box that
    /// it stands in, unless it keeps its own.
    pub fn block(&self, node: usize, room: Room, given: Given, around: Option<Around<'_>>) -> Laid {
        self.step(1);
        self.note(node);
        let width = given
            .width
            .unwrap_or_else(|| self.block_width(node, room.width));
        let sized = Given {
            width: Some(width),
            ..given
        };
        let mut laid = match (&self.stage.flow.nodes[node].kind, self.style(node).display) {
            (FlowKind::Replaced(..) | FlowKind::Control(_), _) => {
                self.picture(node, Some(room), given)
            }
            _ if self.is_skipped(node) => self.skipped(node, room, sized),
            (_, Display::Flex { .. }) => self.flex(node, room, sized),
            (_, Display::Grid { .. }) => self.grid(node, room, sized),
            (_, Display::Table(TablePart::Whole)) => self.table(node, room, width, sized),
            _ => self.stack(node, room, sized, around),
        };
        laid.node = Some(node);
        laid.clips = self.style(node).clips;
        let margin = self.margin(node, room.width);
        laid.margin_start.add(margin.top);
        laid.margin_end.add(margin.bottom);
        laid.above = laid.margin_start;
        if laid.empty {
            laid.margin_start.join(laid.margin_end);
        }
        laid.x = margin.left + self.centred(node, room.width, laid.width);
        if self.style(node).position == Position::Relative {
            let (across, down) = self.moved(node, room);
            laid.x += across;
            laid.y += down;
            laid.lowered = down;
        }
        laid
    }

    /// How far `position: relative` moves a box (CSS 2.2, §9.4.3).
    pub fn moved(&self, node: usize, room: Room) -> (f64, f64) {
        let inset = &self.style(node).inset;
        let px = |length: &Length, whole| length.px(whole).map(|px| self.cut(px));
        let across = px(&inset.left, Some(room.width))
            .or_else(|| Some(-px(&inset.right, Some(room.width))?));
        let down = px(&inset.top, room.height).or_else(|| Some(-px(&inset.bottom, room.height)?));
        (across.unwrap_or(0.0), down.unwrap_or(0.0))
    }

    /// How far `auto` margins, or the direction, move a block to the right.
    fn centred(&self, node: usize, room: f64, width: f64) -> f64 {
        let style = self.style(node);
        let margin = self.margin(node, room);
        let left = (room - margin.across() - width).max(0.0);
        if left == 0.0 && self.parent_rtl(node) {
            // What is too wide sticks out at the end.
            return room - margin.across() - width;
        }
        match (&style.margin.left, &style.margin.right) {
            (Length::Auto, Length::Auto) => self.cut(left / 2.0),
            (Length::Auto, _) => left,
            (_, Length::Auto) => 0.0,
            // Where nothing is `auto`, the end gives way.
            _ if self.parent_rtl(node) => room - margin.across() - width,
            _ => 0.0,
        }
    }

    pub(super) fn parent_rtl(&self, node: usize) -> bool {
        self.parents[node].is_some_and(|parent| self.style(parent).rtl)
    }

    /// Blocks or lines, below one another.
    fn stack(&self, node: usize, room: Room, given: Given, around: Option<Around<'_>>) -> Laid {
        let width = given.width.unwrap_or(room.width);
        let inner = self.inner(node, room.width);
        let specified = self.definite_height(node, room, inner, given);
        let style = self.style(node);
        let content = Room {
            width: (width - inner.across()).max(0.0),
            height: specified.map(|height| (height - inner.down()).max(0.0)),
        };
        let mut laid = Laid {
            width,
            ..Laid::default()
        };
        let keeps = self.keeps_to_itself(node);
        let open_start = !keeps && inner.top == 0.0;
        let open_end = !keeps && inner.bottom == 0.0 && specified.is_none();
        let mut inner_floats = Floats::default();
        let mut around = match around {
            Some(around) if !keeps => around,
            _ => Around {
                floats: &mut inner_floats,
                x: 0.0,
                y: 0.0,
            },
        };
        let mut parts = self.parts(node);
        let mut top = inner.top;
        if let Some(legend) = self.legend(node, &mut parts) {
            let margin = self.margin(legend, content.width);
            let edge = self.border(node).top;
            let width = self.atom_block_width(legend, content.width);
            let mut child = self.block(legend, content, Given::width(width), None);
            child.x += inner.left;
            // It stands on the border.
            child.y = margin.top.max((edge - child.height) / 2.0);
            top += (child.y + child.height + margin.bottom - edge).max(0.0);
            laid.children.push(child);
        }
        let mut pile = Pile::new(node, content, (inner.left, top), open_start);
        self.pile(&mut laid, parts, &mut pile, &mut around);
        let (mut end, strut, any) = (pile.bottom, pile.strut, pile.any);
        if !any && open_start {
            // Nothing but margins: they go through.
            laid.margin_start.join(strut);
        } else if open_end {
            laid.margin_end = strut;
        } else {
            end += strut.sum();
        }
        if keeps && let Some(bottom) = inner_floats.bottom() {
            end = end.max(bottom);
        }
        if let (Some(most), Some(text)) = (style.most_lines, &laid.text)
            && let Some(line) = text.lines.get(most.saturating_sub(1) as usize)
        {
            end = end.min(line.top + line.height);
        }
        let mut auto = end + inner.bottom;
        if let Some(ratio) = style.ratio {
            let edges = if style.border_box {
                Edges::default()
            } else {
                inner
            };
            let tall = self.cut((width - edges.across()) / f64::from(ratio)) + edges.down();
            auto = if style.clips { tall } else { auto.max(tall) };
        }
        if let Some(fill) = self.fills_viewport(node, room.width) {
            auto = auto.max(fill);
        }
        let cell = style.display == Display::Table(TablePart::Cell);
        let height = match specified {
            // Cells are as high as their content at least.
            Some(specified) if cell => auto.max(specified),
            specified => specified.unwrap_or(auto),
        };
        laid.height = match given.height {
            Some(height) => height,
            None => self.height_limited(node, room, inner, height),
        };
        if open_end && laid.height > auto + 1e-6 {
            // A least height keeps the margins in it apart from what is below.
            laid.margin_end = Strut::default();
        }
        laid.empty = !keeps && !any && laid.height == 0.0 && inner.down() == 0.0;
        laid
    }

    /// How high `html` and `body` are at least in quirks mode: they fill the viewport
    /// (Quirks Mode Standard, §3.5, §3.6).
    fn fills_viewport(&self, node: usize, room: f64) -> Option<f64> {
        let is_body = || {
            let kind = &self.stage.flow.nodes[node].kind;
            self.parents[node] == Some(0)
                && matches!(kind, FlowKind::Element(tag) if tag == "body")
                && !self.is_out(node)
                && !self.floats(node)
        };
        if !self.stage.flow.quirks || !(node == 0 || is_body()) {
            return None;
        }
        let viewport = self.cut(f64::from(self.stage.viewport.height));
        let html = self.margin(0, f64::from(self.stage.viewport.width)).down();
        if node == 0 {
            return Some(viewport - html);
        }
        let around = html + self.inner(0, room).down() + self.margin(node, room).down();
        Some(viewport - around)
    }

    /// Lays a block out at `corner` among floats: one that keeps its floats to itself
    /// stands beside them, or below where it does not fit. Gives it with its left edge
    /// and its top.
    pub(super) fn beside(
        &self,
        child: usize,
        content: Room,
        (left, top): (f64, f64),
        around: &mut Around<'_>,
    ) -> (Laid, f64, f64) {
        if !self.keeps_to_itself(child) {
            let inside = self.any_floats.then(|| {
                let width = self.block_width(child, content.width);
                let x = self.margin(child, content.width).left
                    + self.centred(child, content.width, width);
                around.inside(left + x, top)
            });
            let laid = self.block(child, content, Given::default(), inside);
            let x = laid.x + left;
            return (laid, x, top);
        }
        if around.floats.is_empty() {
            let laid = self.block(child, content, Given::default(), None);
            let x = laid.x + left;
            return (laid, x, top);
        }
        let margin = self.margin(child, content.width);
        let edges = (around.x + left, around.x + left + content.width);
        let style = self.style(child);
        let table = style.display == Display::Table(TablePart::Whole);
        let auto = style.width.preferred == Length::Auto;
        // Tables need what is in them; others take what there is.
        let least = if table { self.extent(child).0 } else { 0.0 };
        let mut y = top;
        // Its height decides beside which floats it stands.
        let (mut tall, mut tries) = (1.0, 0);
        loop {
            let (from, to) = around.floats.band(around.y + y, tall, edges);
            let (from_band, to_band) = (from, to);
            let free = (from, to) == edges;
            let from = from.max(edges.0 + margin.left);
            let to = to.min(edges.1 - margin.right);
            let width = if free {
                self.block_width(child, content.width)
            } else if auto && table {
                self.fit(child, (to - from).max(0.0))
            } else if auto {
                let edges = self.inner(child, content.width).across();
                let all = (to - from).max(edges);
                self.limited(child, &style.width, all, content.width, all, edges)
            } else {
                self.block_width(child, content.width)
            };
            let fits = width <= to - from + 1e-6 && (!auto || least <= to - from + 1e-6);
            if !fits && let Some(next) = around.floats.next_bottom(around.y + y, tall) {
                y = next - around.y;
                tall = 1.0;
                continue;
            }
            let laid = self.block(child, content, Given::width(width), None);
            let whole = around.floats.band(around.y + y, laid.height, edges);
            if whole != (from_band, to_band) && tries < MOST_TRIES {
                (tall, tries) = (laid.height, tries + 1);
                continue;
            }
            let rest = to - from - laid.width;
            let auto = (
                style.margin.left == Length::Auto,
                style.margin.right == Length::Auto,
            );
            let x = match auto {
                _ if free => laid.x + left,
                (true, true) => from + self.cut(rest.max(0.0) / 2.0) - around.x,
                (true, false) => from + rest.max(0.0) - around.x,
                (false, false) if self.parent_rtl(child) => from + rest - around.x,
                _ => from - around.x,
            };
            return (laid, x, y);
        }
    }

    /// Lays a float out and places it not above `corner`.
    pub fn float(
        &self,
        node: usize,
        content: Room,
        (left, top): (f64, f64),
        around: &mut Around<'_>,
    ) -> Laid {
        let mut laid = self.atom(node, content);
        let margin = self.margin(node, content.width);
        let style = self.style(node);
        let size = (
            (laid.width + margin.across()).max(0.0),
            (laid.height + margin.down()).max(0.0),
        );
        let mut least = around.y + top;
        if let Some(free) = around.floats.cleared(style.clear) {
            least = least.max(free);
        }
        let edges = (around.x + left, around.x + left + content.width);
        let side = style.float.unwrap_or(Side::Left);
        let (x, y) = around.floats.place(side, size, least, edges);
        laid.x = x - around.x + margin.left;
        laid.y = y - around.y + margin.top;
        if style.position == Position::Relative {
            let (across, down) = self.moved(node, content);
            laid.x += across;
            laid.y += down;
        }
        laid
    }

    /// The legend of a `fieldset`, taken out of its parts (HTML, §15.3.13).
    fn legend(&self, node: usize, parts: &mut Vec<Part>) -> Option<usize> {
        let tag = |node: usize| match &self.stage.flow.nodes[node].kind {
            FlowKind::Element(tag) => tag.as_str(),
            _ => "",
        };
        if tag(node) != "fieldset" {
            return None;
        }
        let place = parts
            .iter()
            .position(|part| matches!(part, Part::Block(child) if tag(*child) == "legend"))?;
        match parts.remove(place) {
            Part::Block(legend) => Some(legend),
            Part::Inline(_) | Part::Float(_) | Part::Out(_) => None,
        }
    }

    /// The margins at the top of a block that collapse with what is before it, unless it
    /// clears floats.
    pub(super) fn leading(&self, node: usize, room: f64, floats: &Floats) -> Strut {
        let mut strut = Strut::default();
        let mut next = Some(node);
        while let Some(node) = next.take() {
            strut.add(self.margin(node, room).top);
            let element = matches!(self.stage.flow.nodes[node].kind, FlowKind::Element(_));
            if element && !self.keeps_to_itself(node) && self.inner(node, room).top == 0.0 {
                let parts = self.parts(node);
                next = parts
                    .iter()
                    .find_map(|part| match part {
                        Part::Float(_) | Part::Out(_) => None,
                        Part::Block(child) => Some(Some(*child)),
                        Part::Inline(_) => Some(None),
                    })
                    .flatten()
                    .filter(|child| floats.cleared(self.style(*child).clear).is_none());
            }
        }
        strut
    }

    /// Lines stand in the box itself; where it has blocks as well, in a box of their
    /// own.
    pub(super) fn put_text(&self, laid: &mut Laid, text: super::laid::LaidText) {
        if laid.text.is_none() {
            laid.text = Some(text);
        } else {
            laid.children.push(Laid {
                text: Some(text),
                ..Laid::default()
            });
        }
    }

    /// The stated height of the border box.
    pub fn specified_height(&self, node: usize, room: Room, inner: Edges) -> Option<f64> {
        self.definite_length(
            node,
            &self.style(node).height.preferred,
            room.height,
            inner.down(),
        )
    }

    /// The height of the border box where it does not depend on the content: one that is
    /// given, or a stated one within its limits.
    pub fn definite_height(
        &self,
        node: usize,
        room: Room,
        inner: Edges,
        given: Given,
    ) -> Option<f64> {
        given.height.or_else(|| {
            let specified = self.specified_height(node, room, inner)?;
            Some(self.height_limited(node, room, inner, specified))
        })
    }

    /// The least height of the border box.
    pub fn least(&self, node: usize, room: Room, inner: Edges) -> f64 {
        let least = &self.style(node).height.min;
        self.definite_length(node, least, room.height, inner.down())
            .unwrap_or(0.0)
    }

    /// A height between its limits.
    pub fn height_limited(&self, node: usize, room: Room, inner: Edges, height: f64) -> f64 {
        let most = &self.style(node).height.max;
        let most = self.definite_length(node, most, room.height, inner.down());
        let height = most.map_or(height, |most| height.min(most));
        height.max(self.least(node, room, inner)).max(inner.down())
    }
}
