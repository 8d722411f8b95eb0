//! Edges and widths of boxes (CSS 2.2, §8, §10.3, §10.4; CSS Sizing 3).

use tidy_lattice_documents::page::{BoxStyle, Display, Extent, FlowKind, Length, Outer, TablePart};

use super::Layouter;

/// Edges of a box in px.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct Edges {
    pub top: f64,
    pub right: f64,
    pub bottom: f64,
    pub left: f64,
}

impl Edges {
    pub fn across(self) -> f64 {
        self.left + self.right
    }

    pub fn down(self) -> f64 {
        self.top + self.bottom
    }
}

/// What children come to: blocks, and runs of what stands in lines.
#[derive(Debug, Clone)]
pub(super) enum Part {
    /// A box of its own.
    Block(usize),
    /// Nodes that stand in lines, with floats among them.
    Inline(Vec<usize>),
    /// A float with no line around it.
    Float(usize),
    /// A mark for what is out of flow, whose place depends on what is before it.
    Out(usize),
}

impl Layouter<'_, '_> {
    pub fn style(&self, node: usize) -> &BoxStyle {
        &self.stage.flow.nodes[node].boxes
    }

    pub fn padding(&self, node: usize, room: f64) -> Edges {
        if self.collapses(node) && self.style(node).display == Display::Table(TablePart::Whole) {
            return Edges::default();
        }
        let padding = &self.style(node).padding;
        let px = |length: &Length| self.cut(length.px(Some(room)).unwrap_or(0.0)).max(0.0);
        Edges {
            top: px(&padding.top),
            right: px(&padding.right),
            bottom: px(&padding.bottom),
            left: px(&padding.left),
        }
    }

    pub fn border(&self, node: usize) -> Edges {
        if self.collapses(node) {
            if let Some(known) = self.collapsed.borrow().get(&node) {
                return *known;
            }
            let mut table = Some(node);
            while let Some(above) = table
                && self.style(above).display != Display::Table(TablePart::Whole)
            {
                table = self.parents[above];
            }
            if let Some(table) = table.filter(|table| self.collapses(*table)) {
                self.collapsed_borders(table);
                let known = self.collapsed.borrow();
                return known.get(&node).copied().unwrap_or_default();
            }
        }
        self.computed_border(node)
    }

    /// Whether `node` is a table whose borders collapse, or a cell of one.
    fn collapses(&self, node: usize) -> bool {
        let style = self.style(node);
        style.collapse
            && matches!(
                style.display,
                Display::Table(TablePart::Whole | TablePart::Cell)
            )
            && matches!(self.stage.flow.nodes[node].kind, FlowKind::Element(_))
    }

    /// The borders that a style asks for.
    pub fn computed_border(&self, node: usize) -> Edges {
        let border = &self.style(node).border;
        Edges {
            top: f64::from(border.top),
            right: f64::from(border.right),
            bottom: f64::from(border.bottom),
            left: f64::from(border.left),
        }
    }

    /// Padding and border together.
    pub fn inner(&self, node: usize, room: f64) -> Edges {
        if self.is_drawn_tick(node) {
            return Edges::default();
        }
        let (padding, border) = (self.padding(node, room), self.border(node));
        Edges {
            top: padding.top + border.top,
            right: padding.right + border.right,
            bottom: padding.bottom + border.bottom,
            left: padding.left + border.left,
        }
    }

    /// Margins, `auto` as 0.
    pub fn margin(&self, node: usize, room: f64) -> Edges {
        let margin = &self.style(node).margin;
        let px = |length: &Length| self.cut(length.px(Some(room)).unwrap_or(0.0));
        Edges {
            top: px(&margin.top),
            right: px(&margin.right),
            bottom: px(&margin.bottom),
            left: px(&margin.left),
        }
    }

    /// A stated size as that of the border box; `edges` are padding and border.
    pub fn definite_length(
        &self,
        node: usize,
        length: &Length,
        whole: Option<f64>,
        edges: f64,
    ) -> Option<f64> {
        let px = self.cut(length.px(whole)?).max(0.0);
        Some(if self.style(node).border_box {
            px.max(edges)
        } else {
            px + edges
        })
    }

    /// The width of the border box of a block in flow: all the room, unless it
    /// says otherwise.
    pub fn block_width(&self, node: usize, room: f64) -> f64 {
        let edges = self.inner(node, room).across();
        let margins = self.margin(node, room).across();
        let all = (room - margins).max(edges);
        let extent = &self.style(node).width;
        let wish = match &extent.preferred {
            Length::Auto => match self.style(node).display {
                Display::Table(TablePart::Whole) => self.fit(node, all),
                // As wide as its content, also as a block (HTML, §15.5.2).
                _ if self.is_button(node) => self.fit(node, all),
                _ => all,
            },
            keyword => self.sized(node, keyword, room, all, edges).unwrap_or(all),
        };
        self.limited(node, extent, wish, room, all, edges)
    }

    fn is_button(&self, node: usize) -> bool {
        matches!(&self.stage.flow.nodes[node].kind, FlowKind::Element(tag) if tag == "button")
    }

    /// A width between its limits.
    pub fn limited(
        &self,
        node: usize,
        extent: &Extent,
        wish: f64,
        room: f64,
        all: f64,
        edges: f64,
    ) -> f64 {
        let most = self.sized(node, &extent.max, room, all, edges);
        let least = self.sized(node, &extent.min, room, all, edges);
        let width = most.map_or(wish, |most| wish.min(most));
        least.map_or(width, |least| width.max(least)).max(edges)
    }

    fn sized(&self, node: usize, length: &Length, room: f64, all: f64, edges: f64) -> Option<f64> {
        match length {
            Length::Auto => None,
            Length::MinContent => Some(self.extent(node).0),
            Length::MaxContent => Some(self.extent(node).1),
            Length::FitContent => Some(self.fit(node, all)),
            _ => self.definite_length(node, length, Some(room), edges),
        }
    }

    /// As wide as the content likes, but not wider than `all`, nor narrower than it
    /// needs.
    pub fn fit(&self, node: usize, all: f64) -> f64 {
        let (least, most) = self.extent(node);
        most.min(all.max(least))
    }

    /// The children of `node` by how they are laid out.
    pub fn parts(&self, node: usize) -> Vec<Part> {
        let mut parts = Vec::new();
        let mut line = Vec::new();
        let items = matches!(
            self.style(node).display,
            Display::Flex { .. } | Display::Grid { .. }
        );
        self.gather(node, items, &mut parts, &mut line);
        self.end_line(&mut parts, &mut line);
        parts
    }

    fn gather(&self, node: usize, items: bool, parts: &mut Vec<Part>, line: &mut Vec<usize>) {
        for child in &self.stage.flow.nodes[node].children {
            let child = *child;
            let inner = &self.stage.flow.nodes[child];
            match &inner.kind {
                FlowKind::Text(..) | FlowKind::Break => line.push(child),
                FlowKind::Marker(_) => {}
                FlowKind::Element(_) | FlowKind::Replaced(..) | FlowKind::Control(_) => {
                    if inner.boxes.position.is_out() {
                        // Others are placed by their offsets, or by their container.
                        if items || !self.stands_where_it_is(child) {
                            continue;
                        }
                        let in_line =
                            inner.boxes.from_line || line.iter().any(|node| self.shows(*node));
                        if in_line {
                            line.push(child);
                        } else {
                            self.end_line(parts, line);
                            parts.push(Part::Out(child));
                        }
                    } else if self.floats(child) && !items {
                        line.push(child);
                    } else if inner.boxes.display == Display::Contents {
                        self.gather(child, items, parts, line);
                    } else if self.is_in_line(child) {
                        line.push(child);
                    } else {
                        self.end_line(parts, line);
                        parts.push(Part::Block(child));
                    }
                }
            }
        }
    }

    fn end_line(&self, parts: &mut Vec<Part>, line: &mut Vec<usize>) {
        let line = std::mem::take(line);
        if line.iter().any(|node| self.shows(*node)) {
            parts.push(Part::Inline(line));
            return;
        }
        if self.any_floats {
            let mut floats = Vec::new();
            line.iter()
                .for_each(|node| self.floats_in(*node, &mut floats));
            parts.extend(floats.into_iter().map(Part::Float));
        }
        let outs = line.into_iter().filter(|node| self.is_out(*node));
        parts.extend(outs.map(Part::Out));
    }

    /// The floats among nodes that stand in a line.
    fn floats_in(&self, node: usize, floats: &mut Vec<usize>) {
        if self.floats(node) {
            floats.push(node);
        } else if self.style(node).display == Display::Inline {
            let children = &self.stage.flow.nodes[node].children;
            children
                .iter()
                .for_each(|child| self.floats_in(*child, floats));
        }
    }

    /// Whether anything of `node` takes room in a line.
    fn shows(&self, node: usize) -> bool {
        let inner = &self.stage.flow.nodes[node];
        match &inner.kind {
            FlowKind::Text(text, _) => {
                let kept = inner.boxes.white_space_collapse
                    != tidy_lattice_documents::page::WhiteSpaceCollapse::Collapse;
                let collapses = |c: char| matches!(c, ' ' | '\t' | '\n' | '\r' | '\u{c}');
                (kept && !text.is_empty()) || text.chars().any(|c| !collapses(c))
            }
            FlowKind::Element(_) if inner.boxes.display == Display::Inline => {
                let edges = self.inner(node, 0.0).across() + self.margin(node, 0.0).across();
                edges != 0.0 || inner.children.iter().any(|child| self.shows(*child))
            }
            FlowKind::Marker(_) => false,
            _ => !self.floats(node) && !inner.boxes.position.is_out(),
        }
    }

    /// Whether `node` is a box out of flow.
    pub fn is_out(&self, node: usize) -> bool {
        let inner = &self.stage.flow.nodes[node];
        inner.boxes.position.is_out() && !matches!(inner.kind, FlowKind::Text(..))
    }

    /// Whether `node` is a box that floats.
    pub fn floats(&self, node: usize) -> bool {
        let inner = &self.stage.flow.nodes[node];
        inner.boxes.float.is_some() && !matches!(inner.kind, FlowKind::Text(..))
    }

    /// Whether `node` keeps margins and floats in it to itself (CSS 2.2, §9.4.1).
    pub fn keeps_to_itself(&self, node: usize) -> bool {
        let style = self.style(node);
        let kind = &self.stage.flow.nodes[node].kind;
        style.clips
            || node == 0
            || style.float.is_some()
            || style.position.is_out()
            || !matches!(kind, FlowKind::Element(_))
            || matches!(
                style.display,
                Display::FlowRoot
                    | Display::InlineBlock
                    | Display::Table(_)
                    | Display::Flex { .. }
                    | Display::Grid { .. }
            )
            || matches!(kind, FlowKind::Element(tag) if tag == "fieldset" || tag == "button")
            || self.is_item(node)
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

    /// Whether `node` stands in a line; an inline element that holds a block does
    /// not.
    pub fn is_in_line(&self, node: usize) -> bool {
        let inner = &self.stage.flow.nodes[node];
        match inner.kind {
            FlowKind::Text(..) | FlowKind::Break => true,
            FlowKind::Marker(_) => false,
            FlowKind::Replaced(..) | FlowKind::Control(_) => !matches!(
                inner.boxes.display,
                Display::Block
                    | Display::FlowRoot
                    | Display::Flex { inline: false }
                    | Display::Grid { inline: false }
            ),
            FlowKind::Element(_) => match inner.boxes.display {
                Display::Inline => !self.holds_block(node),
                Display::InlineBlock
                | Display::Flex { inline: true }
                | Display::Grid { inline: true } => true,
                Display::Table(TablePart::Whole) => inner.boxes.outer == Outer::Inline,
                _ => false,
            },
        }
    }

    fn holds_block(&self, node: usize) -> bool {
        self.stage.flow.nodes[node].children.iter().any(|child| {
            let inner = &self.stage.flow.nodes[*child];
            !inner.boxes.position.is_out()
                && !self.floats(*child)
                && match inner.kind {
                    FlowKind::Element(_) if inner.boxes.display == Display::Contents => {
                        self.holds_block(*child)
                    }
                    FlowKind::Element(_) | FlowKind::Replaced(..) | FlowKind::Control(_) => {
                        !self.is_in_line(*child)
                    }
                    _ => false,
                }
        })
    }
}
