//! Blocks below one another, with margins that collapse (CSS 2.2, §8.3.1, §9.4.1,
//! §10.6).

use super::boxes::{Edges, Part};
use super::laid::{Laid, Strut};
use super::{Layouter, Room};
use crate::page::{Display, FlowKind, Length, Position, TablePart};

impl Layouter<'_, '_> {
    /// Lays `node` out as a block in `room`; `width` is that of its border box where
    /// something else decides over it.
    pub fn block(&self, node: usize, room: Room, width: Option<f64>) -> Laid {
        self.note(node);
        let width = width.unwrap_or_else(|| self.block_width(node, room.width));
        let mut laid = match (&self.stage.flow.nodes[node].kind, self.style(node).display) {
            (FlowKind::Replaced(..) | FlowKind::Control(_), _) => self.atom(node, room),
            (_, Display::Flex { .. }) => self.flex(node, room, width),
            (_, Display::Grid { .. }) => self.grid(node, room, width),
            (_, Display::Table(TablePart::Whole)) => self.table(node, room, width),
            _ => self.stack(node, room, width),
        };
        laid.node = Some(node);
        laid.clips = self.style(node).clips;
        let margin = self.margin(node, room.width);
        laid.margin_start.add(margin.top);
        laid.margin_end.add(margin.bottom);
        if laid.empty {
            laid.margin_start.join(laid.margin_end);
        }
        laid.x = margin.left + self.centred(node, room.width, laid.width);
        if self.style(node).position == Position::Relative {
            let inset = &self.style(node).inset;
            let px = |length: &Length, whole| length.px(whole).map(|px| self.cut(px));
            let across = px(&inset.left, Some(room.width))
                .or_else(|| Some(-px(&inset.right, Some(room.width))?));
            let down =
                px(&inset.top, room.height).or_else(|| Some(-px(&inset.bottom, room.height)?));
            laid.x += across.unwrap_or(0.0);
            laid.y += down.unwrap_or(0.0);
        }
        laid
    }

    /// How far `auto` margins, or the direction, move a block to the right.
    fn centred(&self, node: usize, room: f64, width: f64) -> f64 {
        let style = self.style(node);
        let margin = self.margin(node, room);
        let left = (room - margin.across() - width).max(0.0);
        match (&style.margin.left, &style.margin.right) {
            (Length::Auto, Length::Auto) => self.cut(left / 2.0),
            (Length::Auto, _) => left,
            (_, Length::Auto) => 0.0,
            // Where nothing is `auto`, the end gives way.
            _ if self.parent_rtl(node) => room - margin.across() - width,
            _ => 0.0,
        }
    }

    fn parent_rtl(&self, node: usize) -> bool {
        self.parents[node].is_some_and(|parent| self.style(parent).rtl)
    }

    /// Blocks or lines, below one another, in a border box of `width` px.
    fn stack(&self, node: usize, room: Room, width: f64) -> Laid {
        let inner = self.inner(node, room.width);
        let stated = self.stated_height(node, room, inner);
        let style = self.style(node);
        let content = Room {
            width: (width - inner.across()).max(0.0),
            height: stated.map(|height| (height - inner.down()).max(0.0)),
        };
        let mut laid = Laid {
            width,
            ..Laid::default()
        };
        // A box that keeps its margins to itself.
        let keeps = style.clips
            || node == 0
            || matches!(
                style.display,
                Display::FlowRoot | Display::InlineBlock | Display::Table(_)
            )
            || self.is_item(node);
        let open_start = !keeps && inner.top == 0.0;
        let open_end = !keeps
            && inner.bottom == 0.0
            && stated.is_none()
            && self.least(node, room, inner) == 0.0;
        let (mut end, strut, any) = self.pile(
            &mut laid,
            self.parts(node),
            node,
            content,
            (inner.left, inner.top),
            open_start,
        );
        if !any && open_start {
            // Nothing but margins: they go through.
            laid.margin_start.join(strut);
        } else if open_end {
            laid.margin_end = strut;
        } else {
            end += strut.sum();
        }
        let auto = end + inner.bottom;
        let height = stated.unwrap_or(auto);
        laid.height = self.height_limited(node, room, inner, height);
        laid.empty = !keeps && !any && laid.height == 0.0 && inner.down() == 0.0;
        laid
    }

    /// Puts `parts` below one another into `laid`, from `corner` on. Gives the
    /// bottom of the last, the margins behind it, and whether there was anything
    /// but margins.
    pub fn pile(
        &self,
        laid: &mut Laid,
        parts: Vec<Part>,
        owner: usize,
        content: Room,
        corner: (f64, f64),
        open_start: bool,
    ) -> (f64, Strut, bool) {
        let (left, top) = corner;
        let mut bottom = top;
        let mut strut = Strut::default();
        let mut any = false;
        for part in parts {
            match part {
                Part::Inline(nodes) => {
                    let Some((mut text, height, baselines)) =
                        self.lines_of(owner, &nodes, content.width)
                    else {
                        continue;
                    };
                    if !any && open_start {
                        laid.margin_start.join(strut);
                    } else {
                        bottom += strut.sum();
                    }
                    strut = Strut::default();
                    any = true;
                    for line in &mut text.0.lines {
                        line.top += bottom;
                        line.baseline += bottom;
                        for piece in &mut line.pieces {
                            piece.x += left;
                            piece.top += bottom;
                        }
                    }
                    for atom in &mut text.1 {
                        atom.x += left;
                        atom.y += bottom;
                    }
                    text.0.left = left;
                    laid.first_baseline.get_or_insert(baselines.0 + bottom);
                    laid.last_baseline = Some(baselines.1 + bottom);
                    bottom += height;
                    laid.children.append(&mut text.1);
                    self.put_text(laid, text.0);
                }
                Part::Block(child) => {
                    let mut block = self.block(child, content, None);
                    block.x += left;
                    if block.empty {
                        let mut here = strut;
                        here.join(block.margin_start);
                        let at = if !any && open_start { 0.0 } else { here.sum() };
                        block.y += bottom + at;
                        strut = here;
                        laid.children.push(block);
                        continue;
                    }
                    strut.join(block.margin_start);
                    if !any && open_start {
                        laid.margin_start.join(strut);
                    } else {
                        bottom += strut.sum();
                    }
                    any = true;
                    strut = block.margin_end;
                    block.y += bottom;
                    let (first, last) = (block.first_baseline, block.last_baseline);
                    laid.first_baseline = laid
                        .first_baseline
                        .or(first.map(|baseline| baseline + block.y));
                    if let Some(last) = last {
                        laid.last_baseline = Some(last + block.y);
                    }
                    bottom += block.height;
                    laid.children.push(block);
                }
            }
        }
        (bottom, strut, any)
    }

    /// Lines stand in the box itself; where it has blocks as well, in a box of their
    /// own.
    fn put_text(&self, laid: &mut Laid, text: super::laid::LaidText) {
        if laid.text.is_none() {
            laid.text = Some(text);
        } else {
            laid.children.push(Laid {
                text: Some(text),
                ..Laid::default()
            });
        }
    }

    /// Whether `node` is an item of a flexible box, a grid or a table.
    fn is_item(&self, node: usize) -> bool {
        matches!(
            self.style(node).display,
            Display::Table(TablePart::Cell | TablePart::Caption)
        ) || self.parents[node].is_some_and(|parent| {
            matches!(
                self.style(parent).display,
                Display::Flex { .. } | Display::Grid { .. }
            )
        })
    }

    /// The stated height of the border box.
    pub fn stated_height(&self, node: usize, room: Room, inner: Edges) -> Option<f64> {
        self.stated(
            node,
            &self.style(node).height.own,
            room.height,
            inner.down(),
        )
    }

    fn least(&self, node: usize, room: Room, inner: Edges) -> f64 {
        let least = &self.style(node).height.min;
        self.stated(node, least, room.height, inner.down())
            .unwrap_or(0.0)
    }

    /// A height between its limits.
    pub fn height_limited(&self, node: usize, room: Room, inner: Edges, height: f64) -> f64 {
        let most = &self.style(node).height.max;
        let most = self.stated(node, most, room.height, inner.down());
        let height = most.map_or(height, |most| height.min(most));
        height.max(self.least(node, room, inner)).max(inner.down())
    }
}
