//! Flexible boxes (CSS Flexbox 1, §9): rows that may break, and columns.

use tidy_lattice_documents::page::{FlexWrap, Length, Placement};

use super::boxes::Part;
use super::flex_sizes::{FlexItem, length_of};
use super::items::{shared_out, spread};
use super::laid::Laid;
use super::{Given, Layouter, Room};

/// A row of items, laid out but not placed.
struct Row {
    items: Vec<FlexItem>,
    boxes: Vec<Laid>,
    height: f64,
    /// The baseline that items with `align-items: baseline` share.
    baseline: f64,
}

impl Layouter<'_, '_> {
    /// The least and greatest width of the content of a flexible box.
    pub fn flex_extent(&self, node: usize) -> (f64, f64) {
        let flex = &self.style(node).flex;
        let items = self.items(node);
        let gap = self.gap(node, 0.0).0;
        let extents: Vec<(f64, f64)> = items
            .iter()
            .map(|part| self.flex_contribution(node, part))
            .collect();
        let greatest = |of: fn(&(f64, f64)) -> f64| extents.iter().map(of).fold(0.0, f64::max);
        if flex.column {
            return (greatest(|extent| extent.0), greatest(|extent| extent.1));
        }
        let gaps = gap * items.len().saturating_sub(1) as f64;
        let sum = |of: fn(&(f64, f64)) -> f64| extents.iter().map(of).sum::<f64>() + gaps;
        let least = if flex.wrap != FlexWrap::Nowrap {
            greatest(|extent| extent.0)
        } else {
            sum(|extent| extent.0)
        };
        (least, sum(|extent| extent.1))
    }

    /// What an item adds to the width of its container: no more than its stated basis
    /// where it does not grow, no less where it does not shrink (§9.9.1).
    fn flex_contribution(&self, node: usize, part: &Part) -> (f64, f64) {
        let (least, most) = self.part_extent(node, part);
        let Part::Block(item) = part else {
            return (least, most);
        };
        let style = self.style(*item);
        let edges = self.inner(*item, 0.0).across();
        let basis = self.definite_length(*item, &style.flex.basis, None, edges);
        let Some(basis) = basis.filter(|_| !self.style(node).flex.column) else {
            return (least, most);
        };
        let basis = basis + self.margin(*item, 0.0).across();
        let clamped = |size: f64| {
            let size = if style.flex.grow == 0.0 {
                size.min(basis)
            } else {
                size
            };
            if style.flex.shrink == 0.0 {
                size.max(basis)
            } else {
                size
            }
        };
        // What its own limits say goes before.
        let floor = self.specified_min(*item);
        (clamped(least).max(floor), clamped(most).max(floor))
    }

    /// Lays out a flexible box.
    pub fn flex(&self, node: usize, room: Room, given: Given) -> Laid {
        let width = given.width.unwrap_or(room.width);
        let inner = self.inner(node, room.width);
        let specified = self.definite_height(node, room, inner, given);
        let content = Room {
            width: (width - inner.across()).max(0.0),
            height: specified.map(|height| (height - inner.down()).max(0.0)),
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
            None => self.height_limited(node, room, inner, specified.unwrap_or(auto)),
        };
        laid.align_as_first_child();
        let tall = (laid.height - inner.down()).max(0.0);
        let content = (inner.left, inner.top, content.width, tall);
        self.mark_items(node, &mut laid, content);
        laid
    }

    fn flex_lines(&self, node: usize, content: Room, gap: f64) -> Vec<Vec<FlexItem>> {
        let wraps = self.style(node).flex.wrap != FlexWrap::Nowrap;
        let mut lines: Vec<Vec<FlexItem>> = vec![Vec::new()];
        let mut used = 0.0;
        for part in self.items(node) {
            let item = self.flex_item(node, part, content);
            let size = item.hypothetical() + item.margins;
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
        let sum = rows.iter().map(|row| row.height).sum::<f64>() + gaps;
        let height = content.height.unwrap_or_else(|| limited(sum));
        let free = height - sum;
        let (mut lower, mut between) = (0.0, 0.0);
        if let [only] = rows.as_mut_slice()
            && style.flex.wrap == FlexWrap::Nowrap
        {
            only.height = height;
        } else if style.flex.align_content == Placement::Stretch {
            let each = self.cut(free.max(0.0) / rows.len().max(1) as f64);
            rows.iter_mut().for_each(|row| row.height += each);
        } else {
            (lower, between) = spread(style.flex.align_content, free, rows.len());
        }
        let mirrored = style.rtl != style.flex.reverse;
        let upwards = style.flex.wrap == FlexWrap::WrapReverse;
        let mut y = lower;
        for (number, row) in rows.into_iter().enumerate() {
            let tall = row.height;
            let top = corner.1 + if upwards { height - y - tall } else { y };
            let is_aligned = |item: &FlexItem| self.placed(node, &item.part) == Placement::Baseline;
            if row.items.iter().any(is_aligned) {
                if upwards {
                    self.unsupported(node, "baselines in flex-wrap: wrap-reverse");
                } else if number == 0 {
                    laid.first_baseline = Some(top + row.baseline);
                }
            }
            self.place_row(node, content, row, (corner.0, top, gap, mirrored), laid);
            y += tall + row_gap + between;
        }
        sum
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
                let ascent = laid.first_baseline.unwrap_or(laid.height) + margin.top;
                baseline = baseline.max(ascent);
                below = below.max(tall - ascent);
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
        let upwards = self.style(node).flex.wrap == FlexWrap::WrapReverse;
        let free = content.width - length_of(&row.items, gap, |item| item.size);
        let autos = row.items.iter().map(|item| {
            let [_, right, _, left] = self.auto_margins(&item.part);
            usize::from(left) + usize::from(right)
        });
        let justify = self.style(node).flex.justify;
        let (start, between, each) = shared_out(justify, free, row.items.len(), autos.sum());
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
            let lower = match if upwards {
                turned(placement)
            } else {
                placement
            } {
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
        if style.flex.wrap != FlexWrap::Nowrap && content.height.is_some() {
            self.unsupported(node, "flex-wrap in a column of a stated height");
        } else if style.flex.wrap == FlexWrap::WrapReverse {
            self.unsupported(node, "flex-wrap: wrap-reverse in a column");
        }
        let (boxes, mut line) = self.items_of_column(node, content);
        let sum = length_of(&line, gap, FlexItem::hypothetical);
        let height = content.height.unwrap_or_else(|| limited(sum));
        self.flex_sizes(&mut line, height, gap);
        let free = height - length_of(&line, gap, |item| item.size);
        let autos = line.iter().map(|item| {
            let [top, _, bottom, _] = self.auto_margins(&item.part);
            usize::from(top) + usize::from(bottom)
        });
        let (start, between, each) = shared_out(style.flex.justify, free, line.len(), autos.sum());
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
        sum
    }

    /// The items of a column, laid out as wide as they are, and how high each may get.
    fn items_of_column(&self, node: usize, content: Room) -> (Vec<Laid>, Vec<FlexItem>) {
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
                let style = self.style(*inner);
                let edges = self.inner(*inner, content.width).down();
                let specified =
                    |length: &Length| self.definite_length(*inner, length, content.height, edges);
                item.edges = edges;
                item.factors = (f64::from(style.flex.grow), f64::from(style.flex.shrink));
                if let Some(basis) = specified(&style.flex.basis) {
                    item.base = basis;
                }
                if style.clips {
                    item.least = edges;
                }
                if let Some(least) = specified(&style.height.min) {
                    item.least = least;
                }
                if let Some(most) = specified(&style.height.max) {
                    item.most = most;
                    item.least = item.least.min(most);
                }
            }
            boxes.push(child);
            line.push(item);
        }
        (boxes, line)
    }

    /// The width of the border box of an item in a column.
    fn width_in_column(&self, node: usize, part: &Part, content: Room) -> f64 {
        let margin = self.part_margin(part, content.width);
        let all = (content.width - margin.across()).max(0.0);
        let Part::Block(item) = part else {
            return all;
        };
        let extent = &self.style(*item).width;
        let edges = self.inner(*item, content.width).across();
        let placement = self.placed(node, part);
        let [_, right, _, left] = self.auto_margins(part);
        let stretches = placement == Placement::Stretch && !left && !right;
        if !self.is_element(*item) {
            let given = Given {
                width: (stretches && extent.preferred == Length::Auto).then_some(all),
                height: None,
            };
            return self.atom_size(*item, Some(content), given).0;
        }
        let wish = match self.definite_length(*item, &extent.preferred, Some(content.width), edges)
        {
            Some(width) => width,
            None if stretches && extent.preferred == Length::Auto => all,
            None => self.fit(*item, all),
        };
        self.limited(*item, extent, wish, content.width, all, edges)
    }
}

/// Where what is placed from the start of the cross axis stands where that is the bottom
/// (CSS Flexbox 1, §5.2).
fn turned(placement: Placement) -> Placement {
    match placement {
        Placement::Start | Placement::Stretch => Placement::End,
        Placement::End => Placement::Start,
        other => other,
    }
}
