//! Flexible boxes (CSS Flexbox 1, §9): rows that may break, and columns.

use super::boxes::Part;
use super::laid::Laid;
use super::{Layouter, Room};
use crate::page::{Length, Placement};

/// An item on the way to its size.
pub(super) struct FlexItem {
    pub part: Part,
    /// The size along the line before anything gives or takes, margins apart.
    base: f64,
    least: f64,
    most: f64,
    margins: f64,
    pub size: f64,
}

impl Layouter<'_, '_> {
    /// The items of a flexible box or grid, in the order in which they stand.
    pub fn items(&self, node: usize) -> Vec<Part> {
        let mut parts: Vec<Part> = Vec::new();
        for part in self.parts(node) {
            match part {
                Part::Block(_) => parts.push(part),
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
            Part::Block(node) => self.style(*node).flex.order,
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
            Part::Block(node) => self.contribution(*node),
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

    /// Lays out a flexible box whose border box is `width` px wide.
    pub fn flex(&self, node: usize, room: Room, width: f64) -> Laid {
        let inner = self.inner(node, room.width);
        let stated = self.stated_height(node, room, inner);
        let content = Room {
            width: (width - inner.across()).max(0.0),
            height: stated.map(|height| (height - inner.down()).max(0.0)),
        };
        let mut laid = Laid {
            width,
            ..Laid::default()
        };
        let flex = self.style(node).flex.clone();
        if flex.reverse {
            self.beyond(node, "flex-direction: row-reverse or column-reverse");
        }
        let height = if flex.column {
            self.flex_column(node, content, (inner.left, inner.top), &mut laid)
        } else {
            self.flex_rows(node, content, (inner.left, inner.top), &mut laid)
        };
        let auto = height + inner.down();
        laid.height = self.height_limited(node, room, inner, stated.unwrap_or(auto));
        laid.align_as_first_child();
        laid
    }

    fn flex_rows(&self, node: usize, content: Room, corner: (f64, f64), laid: &mut Laid) -> f64 {
        let style = self.style(node);
        let (gap, row_gap) = self.gap(node, content.width);
        let mut lines: Vec<Vec<FlexItem>> = vec![Vec::new()];
        let mut used = 0.0;
        for part in self.items(node) {
            let item = self.flex_item(node, part, content);
            let size = item.base.clamp(item.least, item.most.max(item.least)) + item.margins;
            let last = lines.len() - 1;
            let wants = used + if lines[last].is_empty() { 0.0 } else { gap } + size;
            if style.flex.wraps && !lines[last].is_empty() && wants > content.width {
                lines.push(vec![item]);
                used = size;
            } else {
                lines[last].push(item);
                used = wants;
            }
        }
        let single = lines.len() == 1;
        let mut y = corner.1;
        let count = lines.len();
        for (number, mut line) in lines.into_iter().enumerate() {
            self.flex_sizes(&mut line, content.width, gap);
            let mut boxes: Vec<Laid> = line
                .iter()
                .map(|item| self.part_box(node, &item.part, content, item.size))
                .collect();
            let tall =
                |laid: &Laid, item: &FlexItem| laid.height + self.part_margin(&item.part).down();
            let mut height = boxes
                .iter()
                .zip(&line)
                .map(|(laid, item)| tall(laid, item))
                .fold(0.0, f64::max);
            let baseline = boxes
                .iter()
                .zip(&line)
                .filter(|(_, item)| self.placed(node, &item.part) == Placement::Baseline)
                .map(|(laid, item)| {
                    laid.first_baseline.unwrap_or(laid.height) + self.part_margin(&item.part).top
                })
                .fold(0.0, f64::max);
            for (laid, item) in boxes.iter().zip(&line) {
                if self.placed(node, &item.part) == Placement::Baseline {
                    let own = laid.first_baseline.unwrap_or(laid.height)
                        + self.part_margin(&item.part).top;
                    height = f64::max(height, tall(laid, item) + baseline - own);
                }
            }
            if let Some(stated) = content.height.filter(|_| single) {
                height = stated;
            }
            let total = line
                .iter()
                .map(|item| item.size + item.margins)
                .sum::<f64>()
                + gap * line.len().saturating_sub(1) as f64;
            let free = content.width - total;
            let (mut x, between) = spread(style.flex.justify, free, line.len());
            if style.rtl {
                self.beyond(node, "a flexible box from right to left");
            }
            x += corner.0;
            for (item, mut child) in line.iter().zip(boxes.drain(..)) {
                let margin = self.part_margin(&item.part);
                let placement = self.placed(node, &item.part);
                let room = height - child.height - margin.down();
                let auto = self.auto_margins(&item.part);
                let lower = match placement {
                    Placement::Center => self.cut(room / 2.0),
                    Placement::End => room,
                    Placement::Baseline => {
                        baseline - child.first_baseline.unwrap_or(child.height) - margin.top
                    }
                    _ => 0.0,
                };
                if placement == Placement::Stretch && self.may_stretch(&item.part) {
                    child.height = child.height.max(height - margin.down());
                }
                if auto.0 {
                    x += free.max(0.0) / f64::from(auto.2.max(1));
                }
                child.x = x + margin.left;
                child.y = y + margin.top + lower;
                x += item.size + item.margins + gap + between;
                if auto.1 {
                    x += free.max(0.0) / f64::from(auto.2.max(1));
                }
                laid.children.push(child);
            }
            y += height;
            if number + 1 < count {
                y += row_gap;
            }
        }
        y - corner.1
    }

    /// Whether the left and the right margin are `auto`, and how many of them are.
    fn auto_margins(&self, part: &Part) -> (bool, bool, u8) {
        match part {
            Part::Block(node) => {
                let margin = &self.style(*node).margin;
                let (left, right) = (margin.left == Length::Auto, margin.right == Length::Auto);
                (left, right, u8::from(left) + u8::from(right))
            }
            Part::Inline(_) => (false, false, 0),
        }
    }

    fn may_stretch(&self, part: &Part) -> bool {
        match part {
            Part::Block(node) => self.style(*node).height.own == Length::Auto,
            Part::Inline(_) => true,
        }
    }

    fn part_margin(&self, part: &Part) -> super::boxes::Edges {
        match part {
            Part::Block(node) => self.margin(*node, f64::from(self.stage.viewport.width)),
            Part::Inline(_) => super::boxes::Edges::default(),
        }
    }

    fn placed(&self, node: usize, part: &Part) -> Placement {
        let own = match part {
            Part::Block(item) => self.style(*item).flex.align_self,
            Part::Inline(_) => None,
        };
        own.unwrap_or(self.style(node).flex.align_items)
    }

    /// Lays an item out at a width of its border box.
    pub fn part_box(&self, owner: usize, part: &Part, room: Room, width: f64) -> Laid {
        match part {
            Part::Block(node) if !self.is_element(*node) => {
                let mut laid = self.atom(*node, room);
                laid.width = width;
                laid
            }
            Part::Block(node) => {
                let mut laid = self.block(*node, room, Some(width));
                laid.y = 0.0;
                laid
            }
            Part::Inline(nodes) => {
                let mut laid = Laid {
                    width,
                    ..Laid::default()
                };
                let content = Room {
                    width,
                    height: None,
                };
                let part = vec![Part::Inline(nodes.clone())];
                let (bottom, ..) = self.pile(&mut laid, part, owner, content, (0.0, 0.0), false);
                laid.height = bottom;
                laid
            }
        }
    }

    fn flex_item(&self, owner: usize, part: Part, content: Room) -> FlexItem {
        match &part {
            Part::Block(node) => {
                let style = self.style(*node);
                let edges = self.inner(*node, content.width).across();
                let margins = self.margin(*node, content.width).across();
                let whole = Some(content.width);
                let basis = match &style.flex.basis {
                    Length::Auto => &style.width.own,
                    other => other,
                };
                let (least, most) = self.extent(*node);
                let base = match basis {
                    Length::MinContent => least,
                    other => self.stated(*node, other, whole, edges).unwrap_or(most),
                };
                // What an item needs is its least size, unless it says otherwise
                // (§4.5).
                let floor = match self.stated(*node, &style.width.min, whole, edges) {
                    Some(stated) => stated,
                    None if style.clips => edges,
                    None => match self.stated(*node, &style.width.own, whole, edges) {
                        Some(width) => width.min(least),
                        None => least,
                    },
                };
                let ceiling = self.stated(*node, &style.width.max, whole, edges);
                FlexItem {
                    base,
                    least: floor.min(ceiling.unwrap_or(f64::MAX)),
                    most: ceiling.unwrap_or(f64::MAX),
                    margins,
                    size: base,
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
        let factor = |item: &FlexItem| match &item.part {
            Part::Block(node) => {
                let flex = &self.style(*node).flex;
                if grows {
                    f64::from(flex.grow)
                } else {
                    f64::from(flex.shrink) * item.base
                }
            }
            Part::Inline(_) => {
                if grows {
                    0.0
                } else {
                    item.base
                }
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
                .map(|(item, _)| match &item.part {
                    Part::Block(node) if grows => f64::from(self.style(*node).flex.grow),
                    _ => 1.0,
                })
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

    fn flex_column(&self, node: usize, content: Room, corner: (f64, f64), laid: &mut Laid) -> f64 {
        let style = self.style(node);
        let gap = self.gap(node, content.width).1;
        let mut y = corner.1;
        let items = self.items(node);
        let count = items.len();
        for (number, part) in items.into_iter().enumerate() {
            let margin = self.part_margin(&part);
            let all = content.width - margin.across();
            let placement = self.placed(node, &part);
            let width = match &part {
                Part::Block(item) => {
                    let own = &self.style(*item).width;
                    let edges = self.inner(*item, content.width).across();
                    let wish = match self.stated(*item, &own.own, Some(content.width), edges) {
                        Some(width) => width,
                        None if placement == Placement::Stretch => all,
                        None => self.fit(*item, all),
                    };
                    self.limited(*item, own, wish, content.width, all, edges)
                }
                Part::Inline(_) => all,
            };
            if let Part::Block(item) = &part
                && self.style(*item).flex.grow > 0.0
                && content.height.is_some()
            {
                self.beyond(*item, "flex-grow in a column of a stated height");
            }
            let mut child = self.part_box(node, &part, content, width);
            let room = all - child.width;
            let right = match placement {
                Placement::Center => self.cut(room / 2.0),
                Placement::End => room,
                _ if style.rtl => room,
                _ => 0.0,
            };
            child.x = corner.0 + margin.left + right;
            child.y = y + margin.top;
            y = child.y + child.height + margin.bottom;
            if number + 1 < count {
                y += gap;
            }
            laid.children.push(child);
        }
        y - corner.1
    }
}

/// Where a line of items starts, and what comes between them, where `free` px are
/// left.
fn spread(justify: Placement, free: f64, count: usize) -> (f64, f64) {
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
