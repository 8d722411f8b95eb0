//! Grids: items in areas of tracks (CSS Grid 2, §10 to §12).

use tidy_lattice_documents::page::{Length, Placement, Track, TrackSize};

use super::boxes::{Edges, Part};
use super::grid_places::{Placed, Places};
use super::grid_tracks::{Axis, Contribution, expand, sizes};
use super::items::spread;
use super::laid::Laid;
use super::{Given, Layouter, Room};

impl Layouter<'_, '_> {
    /// The least and greatest width of the content of a grid.
    pub fn grid_extent(&self, node: usize) -> (f64, f64) {
        let (tracks, placed) = self.columns_of_grid(node, None);
        let gap = self.gap(node, 0.0).0;
        let items = self.widths_in_grid(node, &placed);
        let gaps = gap * tracks.len().saturating_sub(1) as f64;
        let all = |axis: Axis| {
            let sizes = sizes(&tracks, &items, gap, axis);
            sizes.iter().sum::<f64>() + gaps
        };
        let least = all(Axis::Least);
        (least, all(Axis::Free).max(least))
    }

    /// The tracks of columns in `width` px, implicit ones too, and the places of the
    /// items.
    fn columns_of_grid(&self, node: usize, width: Option<f64>) -> (Vec<Track>, Vec<Placed>) {
        let grid = &self.style(node).grid;
        let gap = self.gap(node, width.unwrap_or(0.0)).0;
        let items = self.items(node);
        let specified = expand(&grid.columns.tracks, width, gap, items.len());
        let wide = grid.areas.first().map_or(0, Vec::len);
        let places = Places {
            columns: specified.len().max(wide),
            rows: grid.rows.tracks.len().max(grid.areas.len()),
            grid,
            style: &|item| &self.style(item).grid,
        };
        let placed = places.of(items);
        let count = placed.iter().map(|item| item.column + item.columns);
        let count = count.max().unwrap_or(0).max(specified.len()).max(wide);
        (with_implicit(specified, &grid.auto_columns, count), placed)
    }

    fn widths_in_grid(&self, node: usize, placed: &[Placed]) -> Vec<Contribution> {
        let items = placed.iter().map(|item| {
            let (least, most, specified) = match &item.part {
                Part::Block(node) | Part::Float(node) | Part::Out(node) => {
                    let (least, most) = self.contribution(*node);
                    let specified = self.specified_contribution(*node);
                    // What clips, or states its least size, needs no more (§6.6).
                    let style = self.style(*node);
                    let yields =
                        style.width.min != Length::Auto || style.clips && self.is_element(*node);
                    (if yields { specified } else { least }, most, specified)
                }
                Part::Inline(nodes) => {
                    let (least, most) = self.inline_extent(node, nodes);
                    (least, most, 0.0)
                }
            };
            Contribution {
                start: item.column,
                span: item.columns,
                least,
                most,
                specified,
            }
        });
        items.collect()
    }

    /// Lays out a grid.
    pub fn grid(&self, node: usize, room: Room, given: Given) -> Laid {
        let width = given.width.unwrap_or(room.width);
        let inner = self.inner(node, room.width);
        let style = self.style(node);
        let content = (width - inner.across()).max(0.0);
        let specified = self.definite_height(node, room, inner, given);
        let tall = specified.map(|height| (height - inner.down()).max(0.0));
        let (gap, row_gap) = self.gap(node, content);
        let (tracks, placed) = self.columns_of_grid(node, Some(content));
        let widths = sizes(
            &tracks,
            &self.widths_in_grid(node, &placed),
            gap,
            Axis::Room {
                room: content,
                stretches: style.flex.justify == Placement::Stretch,
            },
        );
        let widths = self.cut_tracks(&tracks, &widths);
        let lefts = starts(&widths, gap, content, style.flex.justify);
        let mut boxes: Vec<Laid> = Vec::with_capacity(placed.len());
        let mut heights: Vec<Contribution> = Vec::with_capacity(placed.len());
        for item in &placed {
            let area = area(&widths, &lefts, item.column, item.columns);
            let (given, margin) = self.width_in_area(node, &item.part, area);
            let laid = self.part_box(node, &item.part, area_room(area, None), given);
            let most = laid.height + margin.down();
            heights.push(Contribution {
                start: item.row,
                span: item.rows,
                least: self.least_in_row(&item.part, area).unwrap_or(most),
                most,
                specified: margin.down(),
            });
            boxes.push(laid);
        }
        let (heights, limited) = self.rows_of_grid(node, room, &placed, &heights, (tall, row_gap));
        let all = heights.iter().sum::<f64>() + row_gap * heights.len().saturating_sub(1) as f64;
        let tops = starts(
            &heights,
            row_gap,
            tall.unwrap_or(limited.max(all)),
            style.flex.align_content,
        );
        let mut laid = Laid {
            width,
            ..Laid::default()
        };
        for (item, mut child) in placed.iter().zip(boxes) {
            let wide = area(&widths, &lefts, item.column, item.columns);
            let high = area(&heights, &tops, item.row, item.rows);
            child = self.in_area(node, &item.part, (wide, high), child);
            let x = lefts.get(item.column).copied().unwrap_or(0.0) + child.x;
            child.x = inner.left
                + if style.rtl {
                    content - x - child.width
                } else {
                    x
                };
            child.y += inner.top + tops.get(item.row).copied().unwrap_or(0.0);
            self.shift_relative(&item.part, area_room(wide, Some(high)), &mut child);
            laid.children.push(child);
        }
        laid.height = match given.height {
            Some(height) => height,
            None => {
                let auto = all + inner.down();
                self.height_limited(node, room, inner, specified.unwrap_or(auto))
            }
        };
        laid.align_as_first_child();
        let high = (laid.height - inner.down()).max(0.0);
        self.mark_items(node, &mut laid, (inner.left, inner.top, content, high));
        laid
    }

    /// The heights of rows, and how high their content is where the grid's height does not
    /// say it (`tall`): as high as they are, within `min-height` and `max-height`.
    fn rows_of_grid(
        &self,
        node: usize,
        room: Room,
        placed: &[Placed],
        heights: &[Contribution],
        (tall, gap): (Option<f64>, f64),
    ) -> (Vec<f64>, f64) {
        let style = self.style(node);
        let inner = self.inner(node, room.width);
        let count = (placed.iter().map(|item| item.row + item.rows).max())
            .unwrap_or(0)
            .max(style.grid.rows.tracks.len())
            .max(style.grid.areas.len());
        let specified = expand(&style.grid.rows.tracks, tall, gap, count);
        let rows = with_implicit(specified, &style.grid.auto_rows, count);
        let gaps = gap * rows.len().saturating_sub(1) as f64;
        let in_room = |room: f64| {
            let stretches = style.flex.align_content == Placement::Stretch;
            sizes(&rows, heights, gap, Axis::Room { room, stretches })
        };
        let mut shared = match tall {
            Some(tall) => in_room(tall),
            None => sizes(&rows, heights, gap, Axis::Free),
        };
        let all = shared.iter().sum::<f64>() + gaps;
        let limited = self.height_limited(node, room, inner, all + inner.down()) - inner.down();
        if tall.is_none() && (limited - all).abs() > 1e-6 {
            shared = in_room(limited);
        }
        (self.cut_tracks(&rows, &shared), limited)
    }

    /// Sizes of tracks in whole units; what one loses by that the next one gets.
    fn cut_tracks(&self, tracks: &[Track], sizes: &[f64]) -> Vec<f64> {
        let mut rest = 0.0;
        let all = tracks.iter().zip(sizes);
        all.map(|(track, size)| {
            let shares = !matches!(track.max, TrackSize::Fixed(_));
            let wanted = size + if shares { rest } else { 0.0 };
            let cut = self.cut(wanted + 1e-9);
            if shares {
                rest = (wanted - cut).max(0.0);
            }
            cut
        })
        .collect()
    }

    /// The width that an item takes in an area `wide` px wide (§6.2), and its margins.
    fn width_in_area(&self, node: usize, part: &Part, wide: f64) -> (Given, Edges) {
        let (Part::Block(item) | Part::Float(item)) = part else {
            return (Given::width(wide), Edges::default());
        };
        let margin = self.margin(*item, wide);
        if !self.is_element(*item) {
            return (Given::default(), margin);
        }
        let style = self.style(*item);
        let placement = style.flex.justify_self;
        let placement = placement.unwrap_or(self.style(node).flex.justify_items);
        let auto = style.margin.left == Length::Auto || style.margin.right == Length::Auto;
        let stretches = placement == Placement::Stretch && !auto;
        let width = if stretches || style.width.preferred != Length::Auto {
            self.block_width(*item, wide)
        } else {
            let all = (wide - margin.across()).max(0.0);
            let edges = self.inner(*item, wide).across();
            let wish = self.fit(*item, all);
            self.limited(*item, &style.width, wish, wide, all, edges)
        };
        (Given::width(width), margin)
    }

    /// The height that an item needs of its row where what is in it does not count: what
    /// sticks out is cut off, or a least height is stated (§6.6).
    fn least_in_row(&self, part: &Part, width: f64) -> Option<f64> {
        let (Part::Block(item) | Part::Float(item)) = part else {
            return None;
        };
        let style = self.style(*item);
        let inner = self.inner(*item, width);
        let room = Room {
            width,
            height: None,
        };
        let states = style.height.min != Length::Auto || style.clips;
        let yields = states && style.height.preferred == Length::Auto && self.is_element(*item);
        yields.then(|| {
            let least = self.least(*item, room, inner).max(inner.down());
            self.margin(*item, width).down() + least
        })
    }

    /// Puts an item where it stands in its area.
    fn in_area(&self, node: usize, part: &Part, (wide, high): (f64, f64), child: Laid) -> Laid {
        let container = &self.style(node).flex;
        let (Part::Block(item) | Part::Float(item)) = part else {
            let height = match container.align_items {
                Placement::Stretch => high,
                _ => child.height,
            };
            return Laid {
                x: 0.0,
                y: offset(container.align_items, high - height),
                height,
                ..child
            };
        };
        let style = self.style(*item);
        let margin = self.margin(*item, wide);
        let align = style.flex.align_self.unwrap_or(container.align_items);
        let justify = style.flex.justify_self.unwrap_or(container.justify_items);
        let (top, bottom) = (
            style.margin.top == Length::Auto,
            style.margin.bottom == Length::Auto,
        );
        let mut child = child;
        let stretches = align == Placement::Stretch
            && style.height.preferred == Length::Auto
            && self.is_element(*item)
            && style.ratio.is_none()
            && !top
            && !bottom;
        if stretches {
            let height = (high - margin.down()).max(0.0);
            child = self.stretched(node, part, area_room(wide, Some(high)), child, height);
        }
        let across = wide - child.width - margin.across();
        let down = high - child.height - margin.down();
        let place = |placement, room: f64, start: bool, end: bool| match (start, end) {
            (true, true) => (room / 2.0).max(0.0),
            (true, false) => room.max(0.0),
            (false, true) => 0.0,
            _ => offset(placement, room),
        };
        // From where the direction of the grid starts.
        let (mut start, mut end) = (
            style.margin.left == Length::Auto,
            style.margin.right == Length::Auto,
        );
        let mut before = margin.left;
        if self.style(node).rtl {
            (start, end) = (end, start);
            before = margin.right;
        }
        child.x = before + self.cut(place(justify, across, start, end));
        child.y = margin.top + self.cut(place(align, down, top, bottom));
        child
    }
}

/// Tracks with those that nothing states, up to `count`.
fn with_implicit(mut tracks: Vec<Track>, auto: &[Track], count: usize) -> Vec<Track> {
    let specified = tracks.len();
    for number in specified..count {
        let turn = auto.get((number - specified) % auto.len().max(1));
        tracks.push(turn.cloned().unwrap_or(Track::AUTO));
    }
    tracks
}

/// The size of an area of `span` tracks, with what is between them.
fn area(sizes: &[f64], starts: &[f64], start: usize, span: usize) -> f64 {
    let last = (start + span).min(sizes.len()).saturating_sub(1);
    match (starts.get(start), starts.get(last), sizes.get(last)) {
        (Some(first), Some(last), Some(size)) if last >= first => last - first + size,
        _ => 0.0,
    }
}

fn area_room(width: f64, height: Option<f64>) -> Room {
    Room { width, height }
}

/// Where tracks start in `room` px.
fn starts(sizes: &[f64], gap: f64, room: f64, content: Placement) -> Vec<f64> {
    let total = sizes.iter().sum::<f64>() + gap * sizes.len().saturating_sub(1) as f64;
    let (mut at, between) = spread(content, room - total, sizes.len());
    let mut starts = Vec::with_capacity(sizes.len());
    for size in sizes {
        starts.push(at);
        at += size + gap + between;
    }
    starts
}

fn offset(placement: Placement, room: f64) -> f64 {
    match placement {
        Placement::Center => room / 2.0,
        Placement::End => room,
        _ => 0.0,
    }
}
