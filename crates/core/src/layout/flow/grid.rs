//! Simple grids: tracks of lengths, shares and content, items one after another
//! or at numbered lines (CSS Grid 2, §7, §8.5, §12).

use super::boxes::Part;
use super::laid::Laid;
use super::{Layouter, Room};
use crate::page::{Length, Placement, Track, TrackSize};

/// The most rows that items may be placed in.
const MOST_ROWS: usize = 10_000;

/// An item and the tracks that it takes.
struct Placed {
    part: Part,
    column: usize,
    columns: usize,
    row: usize,
    rows: usize,
}

impl Layouter<'_, '_> {
    /// The least and greatest width of the content of a grid.
    pub fn grid_extent(&self, node: usize) -> (f64, f64) {
        let tracks = self.column_tracks(node, None);
        let placed = self.grid_places(node, tracks.len());
        let gap = self.gap(node, 0.0).0 * tracks.len().saturating_sub(1) as f64;
        let extents = self.track_extents(node, &tracks, &placed);
        let (mut least, mut most) = (gap, gap);
        let mut share = 0.0_f64;
        for (track, (a, b)) in tracks.iter().zip(extents) {
            match &track.max {
                TrackSize::Fixed(length) => {
                    let px = length.px(None).unwrap_or(b);
                    least += px;
                    most += px;
                }
                TrackSize::Share(factor) => {
                    least += a;
                    share = share.max(b / f64::from(factor.max(1.0)));
                }
                _ => {
                    least += a;
                    most += b;
                }
            }
        }
        for track in &tracks {
            if let TrackSize::Share(factor) = &track.max {
                most += share * f64::from(*factor);
            }
        }
        (least, most.max(least))
    }

    /// The tracks of columns in `width` px.
    fn column_tracks(&self, node: usize, width: Option<f64>) -> Vec<Track> {
        let stated = &self.style(node).grid.columns;
        if stated.is_empty() {
            return vec![Track {
                min: TrackSize::Auto,
                max: TrackSize::Auto,
                repeats: None,
            }];
        }
        let gap = self.gap(node, width.unwrap_or(0.0)).0;
        let mut tracks = Vec::new();
        for track in stated {
            if track.repeats.is_none() {
                tracks.push(track.clone());
                continue;
            }
            let least = match (&track.min, &track.max) {
                (TrackSize::Fixed(length), _) | (_, TrackSize::Fixed(length)) => {
                    length.px(width).unwrap_or(0.0)
                }
                _ => 0.0,
            };
            let others = (stated.len() - 1) as f64 * gap;
            let room = width.unwrap_or(0.0) - others;
            let count = if least + gap > 0.0 {
                ((room + gap) / (least + gap)).floor().max(1.0)
            } else {
                1.0
            };
            let mut count = (count as usize).min(MOST_ROWS);
            if track.repeats == Some(true) {
                // Tracks that stay empty fold up.
                count = count.min(self.items(node).len().max(1));
            }
            tracks.extend(std::iter::repeat_n(
                Track {
                    repeats: None,
                    ..track.clone()
                },
                count,
            ));
        }
        tracks
    }

    fn grid_places(&self, node: usize, columns: usize) -> Vec<Placed> {
        let mut placed: Vec<Placed> = Vec::new();
        let mut taken: Vec<Vec<bool>> = Vec::new();
        let mut cursor = (0, 0);
        for part in self.items(node) {
            let (column, row) = match &part {
                Part::Block(item) => {
                    let grid = &self.style(*item).grid;
                    (grid.column.clone(), grid.row.clone())
                }
                Part::Inline(_) => Default::default(),
            };
            let line = |number: i32, count: usize| -> usize {
                if number < 0 {
                    (count as i32 + 1 + number).max(0) as usize
                } else {
                    (number - 1).max(0) as usize
                }
            };
            let span = |line_: &crate::page::GridLine, count: usize| -> (Option<usize>, usize) {
                match (line_.start, line_.end) {
                    (Some(start), Some(end)) => {
                        let (a, b) = (line(start, count), line(end, count));
                        (Some(a.min(b)), a.abs_diff(b).max(1))
                    }
                    (Some(start), None) => (Some(line(start, count)), line_.span.max(1).into()),
                    (None, Some(end)) => {
                        let span = usize::from(line_.span.max(1));
                        (Some(line(end, count).saturating_sub(span)), span)
                    }
                    (None, None) => (None, line_.span.max(1).into()),
                }
            };
            let (at_column, wide) = span(&column, columns);
            let (at_row, tall) = span(&row, 0);
            let wide = wide.min(columns.max(1));
            let tall = tall.min(MOST_ROWS);
            let free = |taken: &Vec<Vec<bool>>, row: usize, column: usize| {
                (row..row + tall).all(|row| {
                    let cells = taken.get(row);
                    (column..column + wide).all(|column| {
                        cells.is_none_or(|cells| !cells.get(column).copied().unwrap_or(false))
                    })
                })
            };
            let (row, column) = match (at_row, at_column) {
                (Some(row), Some(column)) => (row.min(MOST_ROWS), column),
                (Some(row), None) => {
                    let row = row.min(MOST_ROWS);
                    let column = (0..=columns.saturating_sub(wide))
                        .find(|column| free(&taken, row, *column));
                    (row, column.unwrap_or(0))
                }
                (None, at_column) => {
                    let (mut row, mut column) = cursor;
                    if let Some(at) = at_column {
                        if at < column {
                            row += 1;
                        }
                        column = at;
                    }
                    while row < MOST_ROWS {
                        if column + wide <= columns.max(wide) && free(&taken, row, column) {
                            break;
                        }
                        if at_column.is_some() {
                            row += 1;
                        } else if column + wide < columns {
                            column += 1;
                        } else {
                            (row, column) = (row + 1, 0);
                        }
                    }
                    cursor = (row, column + wide);
                    (row, column)
                }
            };
            for cells in row..row + tall {
                if taken.len() <= cells {
                    taken.resize(cells + 1, Vec::new());
                }
                let cells = &mut taken[cells];
                cells.resize(cells.len().max(column + wide), false);
                cells[column..column + wide].fill(true);
            }
            placed.push(Placed {
                part,
                column,
                columns: wide,
                row,
                rows: tall,
            });
        }
        placed
    }

    /// What the content of each track needs and likes.
    fn track_extents(&self, node: usize, tracks: &[Track], placed: &[Placed]) -> Vec<(f64, f64)> {
        let mut extents = vec![(0.0_f64, 0.0_f64); tracks.len()];
        for item in placed.iter().filter(|item| item.columns == 1) {
            if let Some(extent) = extents.get_mut(item.column) {
                let (least, most) = match &item.part {
                    Part::Block(node) => self.contribution(*node),
                    Part::Inline(nodes) => self.inline_extent(node, nodes),
                };
                *extent = (extent.0.max(least), extent.1.max(most));
            }
        }
        extents
    }

    /// Widths of the tracks in `width` px (§12.3 to §12.8).
    fn track_widths(
        &self,
        node: usize,
        tracks: &[Track],
        placed: &[Placed],
        width: f64,
    ) -> Vec<f64> {
        let extents = self.track_extents(node, tracks, placed);
        let gap = self.gap(node, width).0;
        let room = width - gap * tracks.len().saturating_sub(1) as f64;
        let mut sizes: Vec<(f64, f64)> = tracks
            .iter()
            .zip(&extents)
            .map(|(track, (least, most))| {
                let min = match &track.min {
                    TrackSize::Fixed(length) => self.cut(length.px(Some(width)).unwrap_or(0.0)),
                    TrackSize::MaxContent => *most,
                    TrackSize::Share(_) => 0.0,
                    TrackSize::Auto | TrackSize::MinContent => *least,
                };
                let max = match &track.max {
                    TrackSize::Fixed(length) => self.cut(length.px(Some(width)).unwrap_or(0.0)),
                    TrackSize::MinContent => *least,
                    TrackSize::Share(_) => min,
                    TrackSize::Auto | TrackSize::MaxContent => *most,
                };
                (min, max.max(min))
            })
            .collect();
        // Grow evenly up to what each likes.
        let mut free = room - sizes.iter().map(|size| size.0).sum::<f64>();
        for _ in 0..tracks.len() {
            let open: Vec<usize> = (0..sizes.len())
                .filter(|track| sizes[*track].0 < sizes[*track].1)
                .collect();
            if open.is_empty() || free <= 1e-6 {
                break;
            }
            let each = free / open.len() as f64;
            for track in open {
                let more = each.min(sizes[track].1 - sizes[track].0);
                sizes[track].0 += more;
                free -= more;
            }
        }
        let mut widths: Vec<f64> = sizes.into_iter().map(|size| size.0).collect();
        let factor = |track: &Track| match track.max {
            TrackSize::Share(factor) => f64::from(factor),
            _ => 0.0,
        };
        if tracks.iter().any(|track| factor(track) > 0.0) {
            let mut shares: Vec<bool> = tracks.iter().map(|track| factor(track) > 0.0).collect();
            for _ in 0..tracks.len() {
                let fixed: f64 = widths
                    .iter()
                    .zip(&shares)
                    .filter(|(_, shares)| !**shares)
                    .map(|(width, _)| width)
                    .sum();
                let total: f64 = tracks
                    .iter()
                    .zip(&shares)
                    .filter(|(_, shares)| **shares)
                    .map(|(track, _)| factor(track))
                    .sum();
                let one = (room - fixed).max(0.0) / total.max(1.0);
                // A share is never less than what its track needs.
                let short = (0..tracks.len())
                    .find(|track| shares[*track] && factor(&tracks[*track]) * one < widths[*track]);
                if let Some(short) = short {
                    shares[short] = false;
                    continue;
                }
                for (track, width) in widths.iter_mut().enumerate() {
                    if shares[track] {
                        *width = self.cut(factor(&tracks[track]) * one);
                    }
                }
                break;
            }
        } else {
            // `auto` tracks take what is left (`justify-content: normal`).
            let auto: Vec<usize> = (0..tracks.len())
                .filter(|track| tracks[*track].max == TrackSize::Auto)
                .collect();
            let left = room - widths.iter().sum::<f64>();
            if left > 0.0 && self.style(node).flex.justify == Placement::Stretch {
                for track in &auto {
                    widths[*track] += self.cut(left / auto.len() as f64);
                }
            }
        }
        widths
    }

    /// Lays out a grid whose border box is `width` px wide.
    pub fn grid(&self, node: usize, room: Room, width: f64) -> Laid {
        let inner = self.inner(node, room.width);
        let style = self.style(node);
        let content = (width - inner.across()).max(0.0);
        let (gap, row_gap) = self.gap(node, content);
        let tracks = self.column_tracks(node, Some(content));
        let placed = self.grid_places(node, tracks.len());
        if placed
            .iter()
            .any(|item| item.column + item.columns > tracks.len())
        {
            self.beyond(node, "columns of a grid that no track is stated for");
        }
        let widths = self.track_widths(node, &tracks, &placed, content);
        let rows = placed.iter().map(|item| item.row + item.rows).max();
        let mut heights = vec![0.0_f64; rows.unwrap_or(0)];
        for (height, track) in heights.iter_mut().zip(&style.grid.rows) {
            if let TrackSize::Fixed(length) = &track.min {
                *height = self.cut(length.px(room.height).unwrap_or(0.0));
            }
        }
        let total = widths.iter().sum::<f64>() + gap * widths.len().saturating_sub(1) as f64;
        let start = match style.flex.justify {
            Placement::Center => self.cut((content - total) / 2.0),
            Placement::End => content - total,
            _ => 0.0,
        };
        let left = |column: usize| {
            let before = widths.iter().take(column).sum::<f64>();
            inner.left + start + before + gap * column as f64
        };
        let mut boxes: Vec<Laid> = Vec::with_capacity(placed.len());
        for item in &placed {
            let range = item.column..(item.column + item.columns).min(widths.len());
            let wide = widths
                .get(range)
                .map_or(0.0, |widths| widths.iter().sum::<f64>())
                + gap * (item.columns - 1) as f64;
            let area = Room {
                width: wide,
                height: None,
            };
            let (own, margin) = match &item.part {
                Part::Block(part) => {
                    let margin = self.margin(*part, wide);
                    let all = wide - margin.across();
                    let placement = self.style(*part).flex.justify_self;
                    let placement = placement.unwrap_or(style.flex.justify_items);
                    let sized = self.style(*part).width.own != Length::Auto;
                    let own = if placement == Placement::Stretch || sized {
                        self.block_width(*part, wide)
                    } else {
                        self.fit(*part, all)
                    };
                    (own, margin)
                }
                Part::Inline(_) => (wide, super::boxes::Edges::default()),
            };
            let mut laid = self.part_box(node, &item.part, area, own);
            laid.x = left(item.column) + margin.left;
            laid.y = margin.top;
            if item.rows == 1 {
                heights[item.row] = heights[item.row].max(laid.height + margin.down());
            }
            boxes.push(laid);
        }
        for (item, laid) in placed.iter().zip(&boxes).filter(|(item, _)| item.rows > 1) {
            let range = item.row..item.row + item.rows;
            let have =
                heights[range.clone()].iter().sum::<f64>() + row_gap * (item.rows - 1) as f64;
            let more = ((laid.height - have) / item.rows as f64).max(0.0);
            heights[range]
                .iter_mut()
                .for_each(|height| *height += self.cut(more));
        }
        let top =
            |row: usize| heights.iter().take(row).sum::<f64>() + row_gap * row as f64 + inner.top;
        let mut laid = Laid {
            width,
            ..Laid::default()
        };
        for (item, mut child) in placed.iter().zip(boxes) {
            let range = item.row..item.row + item.rows;
            let tall = heights[range].iter().sum::<f64>() + row_gap * (item.rows - 1) as f64;
            let (placement, stretches) = match &item.part {
                Part::Block(part) => (
                    self.style(*part)
                        .flex
                        .align_self
                        .unwrap_or(style.flex.align_items),
                    self.style(*part).height.own == Length::Auto,
                ),
                Part::Inline(_) => (style.flex.align_items, true),
            };
            let room = tall - child.height - child.y;
            match placement {
                Placement::Center => child.y += self.cut(room / 2.0),
                Placement::End => child.y += room,
                Placement::Stretch if stretches => child.height += room.max(0.0),
                _ => {}
            }
            child.y += top(item.row);
            laid.children.push(child);
        }
        let count = heights.len();
        let auto = if count == 0 {
            inner.down()
        } else {
            top(count) - row_gap + inner.bottom
        };
        let stated = self.stated_height(node, room, inner);
        laid.height = self.height_limited(node, room, inner, stated.unwrap_or(auto));
        laid.align_as_first_child();
        laid
    }
}
