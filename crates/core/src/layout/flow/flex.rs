//! Flexible boxes (CSS Flexbox 1, §9): rows that may break, and columns.

use super::boxes::Part;
use super::floats::{Around, Floats};
use super::laid::Laid;
use super::{Given, Layouter, MOST_STRETCHED, Room};
use crate::page::{Display, Length, Placement, Position};

/// An item on the way to its size.
pub(super) struct FlexItem {
    pub part: Part,
    /// The size along the line before anything gives or takes, margins apart.
    base: f64,
    least: f64,
    most: f64,
    margins: f64,
    pub size: f64,
    /// Padding and border along the line.
    edges: f64,
    /// How much it grows and shrinks.
    factors: (f64, f64),
}

/// A row of items, laid out but not placed.
struct Row {
    items: Vec<FlexItem>,
    boxes: Vec<Laid>,
    height: f64,
    /// The baseline that items with `align-items: baseline` share.
    baseline: f64,
}

impl Layouter<'_, '_> {
    /// The items of a flexible box or grid, in the order in which they stand.
    pub fn items(&self, node: usize) -> Vec<Part> {
        let mut parts: Vec<Part> = Vec::new();
        for part in self.parts(node) {
            match part {
                Part::Block(_) | Part::Float(_) => parts.push(part),
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
            Part::Inline(_) => 0,
        });
        parts
    }

    fn push_text(&self, parts: &mut Vec<Part>, text: &mut Vec<usize>) {
        let text = std::mem::take(text);
        let blank = |node: &usize| match &self.stage.flow.nodes[*node].kind {
            crate::page::FlowKind::Text(text, _) => text.trim().is_empty(),
            _ => false,
        };
        if !text.iter().all(blank) {
            parts.push(Part::Inline(text));
        }
    }

    fn part_extent(&self, owner: usize, part: &Part) -> (f64, f64) {
        match part {
            Part::Block(node) | Part::Float(node) => self.contribution(*node),
            Part::Inline(nodes) => self.inline_extent(owner, nodes),
        }
    }

    /// The least and greatest width of the content of a flexible box.
    pub fn flex_extent(&self, node: usize) -> (f64, f64) {
        let flex = &self.style(node).flex;
        let items = self.items(node);
        let gap = self.gap(node, 0.0).0;
        let extents: Vec<(f64, f64)> = items
            .iter()
            .map(|part| self.part_extent(node, part))
            .collect();
        let greatest = |of: fn(&(f64, f64)) -> f64| extents.iter().map(of).fold(0.0, f64::max);
        if flex.column {
            return (greatest(|extent| extent.0), greatest(|extent| extent.1));
        }
        let gaps = gap * items.len().saturating_sub(1) as f64;
        let sum = |of: fn(&(f64, f64)) -> f64| extents.iter().map(of).sum::<f64>() + gaps;
        let least = if flex.wraps {
            greatest(|extent| extent.0)
        } else {
            sum(|extent| extent.0)
        };
        (least, sum(|extent| extent.1))
    }

    /// `column-gap` and `row-gap` in px.
    pub fn gap(&self, node: usize, width: f64) -> (f64, f64) {
        let gap = &self.style(node).gap;
        let px = |length: &Length| self.cut(length.px(Some(width)).unwrap_or(0.0));
        (px(&gap.0), px(&gap.1))
    }

    /// Lays out a flexible box.
    pub fn flex(&self, node: usize, room: Room, given: Given) -> Laid {
        let width = given.width.unwrap_or(room.width);
        let inner = self.inner(node, room.width);
        let stated = given
            .height
            .or_else(|| self.stated_height(node, room, inner));
        let content = Room {
            width: (width - inner.across()).max(0.0),
            height: stated.map(|height| (height - inner.down()).max(0.0)),
        };
        let mut laid = Laid {
            width,
            ..Laid::default()
        };
        let corner = (inner.left, inner.top);
        // What a least or greatest height makes of a height that is not stated.
        let limited = |height: f64| {
            let border = self.height_limited(node, room, inner, height + inner.down());
            (border - inner.down()).max(0.0)
        };
        let height = if self.style(node).flex.column {
            self.flex_column(node, content, corner, &limited, &mut laid)
        } else {
            self.flex_rows(node, content, corner, &limited, &mut laid)
        };
        let auto = height + inner.down();
        laid.height = match given.height {
            Some(height) => height,
            None => self.height_limited(node, room, inner, stated.unwrap_or(auto)),
        };
        laid.align_as_first_child();
        laid
    }

    fn flex_lines(&self, node: usize, content: Room, gap: f64) -> Vec<Vec<FlexItem>> {
        let wraps = self.style(node).flex.wraps;
        let mut lines: Vec<Vec<FlexItem>> = vec![Vec::new()];
        let mut used = 0.0;
        for part in self.items(node) {
            let item = self.flex_item(node, part, content);
            let size = item.base.clamp(item.least, item.most.max(item.least)) + item.margins;
            let last = lines.len() - 1;
            let wants = used + if lines[last].is_empty() { 0.0 } else { gap } + size;
            if wraps && !lines[last].is_empty() && wants > content.width + 1e-6 {
                lines.push(vec![item]);
                used = size;
            } else {
                lines[last].push(item);
                used = wants;
            }
        }
        lines
    }

    fn flex_rows(
        &self,
        node: usize,
        content: Room,
        corner: (f64, f64),
        limited: &dyn Fn(f64) -> f64,
        laid: &mut Laid,
    ) -> f64 {
        let style = self.style(node);
        let (gap, row_gap) = self.gap(node, content.width);
        let mut rows: Vec<Row> = self
            .flex_lines(node, content, gap)
            .into_iter()
            .map(|mut items| {
                self.flex_sizes(&mut items, content.width, gap);
                self.flex_row(node, content, items)
            })
            .collect();
        let gaps = row_gap * rows.len().saturating_sub(1) as f64;
        let own = rows.iter().map(|row| row.height).sum::<f64>() + gaps;
        let height = content.height.unwrap_or_else(|| limited(own));
        let free = height - own;
        let (mut lower, mut between) = (0.0, 0.0);
        if let [only] = rows.as_mut_slice()
            && !style.flex.wraps
        {
            only.height = height;
        } else if style.flex.align_content == Placement::Stretch {
            let each = self.cut(free.max(0.0) / rows.len().max(1) as f64);
            rows.iter_mut().for_each(|row| row.height += each);
        } else {
            (lower, between) = spread(style.flex.align_content, free, rows.len());
        }
        let mirrored = style.rtl != style.flex.reverse;
        let mut y = corner.1 + lower;
        for row in rows {
            let tall = row.height;
            self.place_row(node, content, row, (corner.0, y, gap, mirrored), laid);
            y += tall + row_gap + between;
        }
        own
    }

    /// The items of a row laid out, and how high it is by itself (§9.4).
    fn flex_row(&self, node: usize, content: Room, items: Vec<FlexItem>) -> Row {
        let boxes: Vec<Laid> = items
            .iter()
            .map(|item| self.part_box(node, &item.part, content, Given::width(item.size)))
            .collect();
        let (mut height, mut baseline, mut below) = (0.0_f64, 0.0_f64, 0.0_f64);
        for (laid, item) in boxes.iter().zip(&items) {
            let margin = self.part_margin(&item.part, content.width);
            let tall = laid.height + margin.down();
            height = height.max(tall);
            if self.placed(node, &item.part) == Placement::Baseline {
                let own = laid.first_baseline.unwrap_or(laid.height) + margin.top;
                baseline = baseline.max(own);
                below = below.max(tall - own);
            }
        }
        Row {
            items,
            boxes,
            height: height.max(baseline + below),
            baseline,
        }
    }

    fn place_row(
        &self,
        node: usize,
        content: Room,
        row: Row,
        (left, y, gap, mirrored): (f64, f64, f64, bool),
        laid: &mut Laid,
    ) {
        let count = row.items.len();
        let sizes = row.items.iter().map(|item| item.size + item.margins);
        let total = sizes.sum::<f64>() + gap * count.saturating_sub(1) as f64;
        let free = content.width - total;
        let autos: usize = row
            .items
            .iter()
            .map(|item| {
                let [_, right, _, left] = self.auto_margins(&item.part);
                usize::from(left) + usize::from(right)
            })
            .sum();
        let (start, between) = if autos > 0 {
            (0.0, 0.0)
        } else {
            spread(self.style(node).flex.justify, free, count)
        };
        let each = free.max(0.0) / autos.max(1) as f64;
        let mut x = start;
        for (item, mut child) in row.items.iter().zip(row.boxes) {
            let margin = self.part_margin(&item.part, content.width);
            let placement = self.placed(node, &item.part);
            let [top, right, bottom, left_auto] = self.auto_margins(&item.part);
            let stretches =
                placement == Placement::Stretch && self.may_stretch(&item.part) && !top && !bottom;
            if stretches {
                let tall = (row.height - margin.down()).max(0.0);
                child = self.stretched(node, &item.part, content, child, tall);
            }
            let room = row.height - child.height - margin.down();
            let lower = match placement {
                _ if top && bottom => self.cut((room / 2.0).max(0.0)),
                _ if top => room.max(0.0),
                _ if bottom => 0.0,
                Placement::Center => self.cut(room / 2.0),
                Placement::End => room,
                Placement::Baseline => {
                    row.baseline - child.first_baseline.unwrap_or(child.height) - margin.top
                }
                _ => 0.0,
            };
            let (before, behind) = if mirrored {
                (right, left_auto)
            } else {
                (left_auto, right)
            };
            x += if before { each } else { 0.0 };
            let outer = item.size + item.margins;
            child.x = left
                + margin.left
                + if mirrored {
                    content.width - x - outer
                } else {
                    x
                };
            child.y += y + margin.top + lower;
            self.shift_relative(&item.part, content, &mut child);
            x += outer + gap + between;
            x += if behind { each } else { 0.0 };
            laid.children.push(child);
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
                .any(|child| matches!(self.style(*child).height.own, Length::Relative(_)));
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
    fn auto_margins(&self, part: &Part) -> [bool; 4] {
        match part {
            Part::Block(node) => {
                let margin = &self.style(*node).margin;
                [&margin.top, &margin.right, &margin.bottom, &margin.left]
                    .map(|margin| *margin == Length::Auto)
            }
            Part::Inline(_) | Part::Float(_) => [false; 4],
        }
    }

    fn may_stretch(&self, part: &Part) -> bool {
        match part {
            Part::Block(node) => self.style(*node).height.own == Length::Auto,
            Part::Inline(_) | Part::Float(_) => true,
        }
    }

    fn part_margin(&self, part: &Part, width: f64) -> super::boxes::Edges {
        match part {
            Part::Block(node) => self.margin(*node, width),
            Part::Inline(_) | Part::Float(_) => super::boxes::Edges::default(),
        }
    }

    fn placed(&self, node: usize, part: &Part) -> Placement {
        let own = match part {
            Part::Block(item) => self.style(*item).flex.align_self,
            Part::Inline(_) | Part::Float(_) => None,
        };
        own.unwrap_or(self.style(node).flex.align_items)
    }

    /// Lays an item out at a size of its border box, without its margins.
    pub fn part_box(&self, owner: usize, part: &Part, room: Room, given: Given) -> Laid {
        match part {
            Part::Block(node) | Part::Float(node) => {
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
                let (bottom, ..) = self.pile(
                    &mut laid,
                    part,
                    owner,
                    content,
                    (0.0, 0.0),
                    false,
                    &mut around,
                );
                laid.height = given.height.unwrap_or(bottom);
                laid
            }
        }
    }

    fn flex_item(&self, owner: usize, part: Part, content: Room) -> FlexItem {
        match &part {
            Part::Block(node) | Part::Float(node) => {
                let style = self.style(*node);
                let edges = self.inner(*node, content.width).across();
                let margins = self.margin(*node, content.width).across();
                let whole = Some(content.width);
                let basis = match &style.flex.basis {
                    Length::Auto => &style.width.own,
                    other => other,
                };
                let picture = !self.is_element(*node);
                let (least, most) = if picture {
                    let given = Given::default();
                    let width = self.atom_size(*node, Some(content), given).0;
                    (width, width)
                } else {
                    self.extent(*node)
                };
                let base = match basis {
                    Length::MinContent => least,
                    other => self.stated(*node, other, whole, edges).unwrap_or(most),
                };
                // What an item needs is its least size, unless it says otherwise
                // (§4.5).
                let floor = match self.stated(*node, &style.width.min, whole, edges) {
                    Some(stated) => stated,
                    None if style.clips && !picture => edges,
                    None => match self.stated(*node, &style.width.own, whole, edges) {
                        Some(width) => width.min(least),
                        None => least,
                    },
                };
                let ceiling = self.stated(*node, &style.width.max, whole, edges);
                let ceiling = ceiling.unwrap_or(f64::MAX);
                // A stated least goes before the most.
                let least = if style.width.min == Length::Auto {
                    floor.min(ceiling)
                } else {
                    floor
                };
                FlexItem {
                    base,
                    least,
                    most: ceiling,
                    margins,
                    size: base,
                    edges,
                    factors: (f64::from(style.flex.grow), f64::from(style.flex.shrink)),
                    part,
                }
            }
            Part::Inline(nodes) => {
                let (least, most) = self.inline_extent(owner, nodes);
                FlexItem {
                    base: most,
                    least,
                    most: f64::MAX,
                    margins: 0.0,
                    size: most,
                    edges: 0.0,
                    factors: (0.0, 1.0),
                    part,
                }
            }
        }
    }

    /// Gives and takes (§9.7).
    fn flex_sizes(&self, line: &mut [FlexItem], width: f64, gap: f64) {
        let gaps = gap * line.len().saturating_sub(1) as f64;
        let outer: f64 = line.iter().map(|item| item.margins).sum::<f64>() + gaps;
        let first: f64 = line
            .iter()
            .map(|item| item.base.clamp(item.least, item.most.max(item.least)))
            .sum();
        let grows = first + outer < width;
        let factor = |item: &FlexItem| {
            if grows {
                item.factors.0
            } else {
                // Padding and border do not shrink (§9.7).
                item.factors.1 * (item.base - item.edges).max(0.0)
            }
        };
        let mut frozen = vec![false; line.len()];
        for item in line.iter_mut() {
            item.size = item.base;
        }
        // Every turn freezes one at least.
        for _ in 0..=line.len() {
            let used: f64 = line
                .iter()
                .zip(&frozen)
                .map(|(item, frozen)| if *frozen { item.size } else { item.base })
                .sum();
            let free = width - outer - used;
            let total: f64 = line
                .iter()
                .zip(&frozen)
                .filter(|(_, frozen)| !**frozen)
                .map(|(item, _)| factor(item))
                .sum();
            let plain: f64 = line
                .iter()
                .zip(&frozen)
                .filter(|(_, frozen)| !**frozen)
                .map(|(item, _)| if grows { item.factors.0 } else { 1.0 })
                .sum();
            // Factors that sum up to less than one take a part of the room only.
            let free = if grows && plain < 1.0 {
                free * plain
            } else {
                free
            };
            let mut violation = 0.0;
            let mut wishes = Vec::with_capacity(line.len());
            for (item, frozen) in line.iter().zip(&frozen) {
                if *frozen {
                    wishes.push((item.size, 0.0));
                    continue;
                }
                let share = if total > 0.0 {
                    factor(item) / total
                } else {
                    0.0
                };
                let wish = item.base + free * share;
                let size = wish.clamp(item.least, item.most.max(item.least));
                violation += size - wish;
                wishes.push((size, size - wish));
            }
            let mut changed = false;
            for ((item, frozen), (size, off)) in line.iter_mut().zip(&mut frozen).zip(wishes) {
                if *frozen {
                    continue;
                }
                item.size = size;
                if violation == 0.0
                    || (violation > 0.0 && off > 0.0)
                    || (violation < 0.0 && off < 0.0)
                {
                    *frozen = true;
                    changed = true;
                }
            }
            if !changed || frozen.iter().all(|frozen| *frozen) {
                break;
            }
        }
        for item in line {
            item.size = self.cut(item.size);
        }
    }

    fn flex_column(
        &self,
        node: usize,
        content: Room,
        corner: (f64, f64),
        limited: &dyn Fn(f64) -> f64,
        laid: &mut Laid,
    ) -> f64 {
        let style = self.style(node);
        let gap = self.gap(node, content.width).1;
        if style.flex.wraps && content.height.is_some() {
            self.beyond(node, "flex-wrap in a column of a stated height");
        }
        let mut boxes = Vec::new();
        let mut line: Vec<FlexItem> = Vec::new();
        for part in self.items(node) {
            let margin = self.part_margin(&part, content.width);
            let width = self.width_in_column(node, &part, content);
            let child = self.part_box(node, &part, content, Given::width(width));
            let mut item = FlexItem {
                base: child.height,
                least: child.height,
                most: f64::MAX,
                margins: margin.down(),
                size: child.height,
                edges: 0.0,
                factors: (0.0, 1.0),
                part,
            };
            if let Part::Block(inner) = &item.part {
                let own = self.style(*inner);
                let edges = self.inner(*inner, content.width).down();
                let stated = |length: &Length| self.stated(*inner, length, content.height, edges);
                item.edges = edges;
                item.factors = (f64::from(own.flex.grow), f64::from(own.flex.shrink));
                if let Some(basis) = stated(&own.flex.basis) {
                    item.base = basis;
                }
                if own.clips {
                    item.least = edges;
                }
                if let Some(least) = stated(&own.height.min) {
                    item.least = least;
                }
                if let Some(most) = stated(&own.height.max) {
                    item.most = most;
                    item.least = item.least.min(most);
                }
            }
            boxes.push(child);
            line.push(item);
        }
        let count = line.len();
        let gaps = gap * count.saturating_sub(1) as f64;
        let own: f64 = line
            .iter()
            .map(|item| item.base.clamp(item.least, item.most.max(item.least)) + item.margins)
            .sum::<f64>()
            + gaps;
        let height = content.height.unwrap_or_else(|| limited(own));
        self.flex_sizes(&mut line, height, gap);
        let total: f64 = line
            .iter()
            .map(|item| item.size + item.margins)
            .sum::<f64>()
            + gaps;
        let free = height - total;
        let autos: usize = line
            .iter()
            .map(|item| {
                let [top, _, bottom, _] = self.auto_margins(&item.part);
                usize::from(top) + usize::from(bottom)
            })
            .sum();
        let (start, between) = if autos > 0 {
            (0.0, 0.0)
        } else {
            spread(style.flex.justify, free, count)
        };
        let each = free.max(0.0) / autos.max(1) as f64;
        let mut y = start;
        for (item, mut child) in line.iter().zip(boxes) {
            let margin = self.part_margin(&item.part, content.width);
            let placement = self.placed(node, &item.part);
            if (item.size - child.height).abs() > 1e-6 {
                child = self.stretched(node, &item.part, content, child, item.size);
            }
            let room = content.width - margin.across() - child.width;
            let [top, right, bottom, left] = self.auto_margins(&item.part);
            let shifted = match placement {
                _ if left && right => self.cut(room.max(0.0) / 2.0),
                _ if left => room.max(0.0),
                _ if right => 0.0,
                Placement::Center => self.cut(room / 2.0),
                Placement::End if !style.rtl => room,
                Placement::Start | Placement::Stretch | Placement::Baseline if style.rtl => room,
                _ => 0.0,
            };
            let (before, behind) = if style.flex.reverse {
                (bottom, top)
            } else {
                (top, bottom)
            };
            y += if before { each } else { 0.0 };
            let outer = item.size + item.margins;
            child.x = corner.0 + margin.left + shifted;
            child.y += corner.1
                + margin.top
                + if style.flex.reverse {
                    height - y - outer
                } else {
                    y
                };
            self.shift_relative(&item.part, content, &mut child);
            y += outer + gap + between + if behind { each } else { 0.0 };
            laid.children.push(child);
        }
        own
    }

    /// The width of the border box of an item in a column.
    fn width_in_column(&self, node: usize, part: &Part, content: Room) -> f64 {
        let margin = self.part_margin(part, content.width);
        let all = (content.width - margin.across()).max(0.0);
        let Part::Block(item) = part else {
            return all;
        };
        let own = &self.style(*item).width;
        let edges = self.inner(*item, content.width).across();
        let placement = self.placed(node, part);
        let [_, right, _, left] = self.auto_margins(part);
        let stretches = placement == Placement::Stretch && !left && !right;
        if !self.is_element(*item) {
            let given = Given {
                width: (stretches && own.own == Length::Auto).then_some(all),
                height: None,
            };
            return self.atom_size(*item, Some(content), given).0;
        }
        let wish = match self.stated(*item, &own.own, Some(content.width), edges) {
            Some(width) => width,
            None if stretches && own.own == Length::Auto => all,
            None => self.fit(*item, all),
        };
        self.limited(*item, own, wish, content.width, all, edges)
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
