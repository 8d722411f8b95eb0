//! Heights of the rows of a table (CSS 2.2, §17.5.3; CSS Tables 3, §4.6).

use tidy_lattice_documents::page::{FlowKind, Length};

use super::laid::Laid;
use super::table::{Sheet, TableRow};
use super::{Given, Layouter, Room};

impl Layouter<'_, '_> {
    /// The cells of a table whose columns are as wide as `widths` says, each at its own height.
    pub fn cells_at_their_height(&self, sheet: &Sheet, widths: &[f64], across: f64) -> Vec<Laid> {
        let cells = sheet.cells.iter().map(|cell| {
            let range = cell.column..cell.column + cell.columns;
            let wide = widths[range.clone()].iter().sum::<f64>() + across * sheet.gaps(range);
            let content = Room {
                width: wide,
                height: None,
            };
            self.block(cell.node, content, Given::width(wide), None)
        });
        cells.collect()
    }

    /// How high rows are by themselves, and where their baselines are; `down` is between two.
    pub fn row_heights(&self, sheet: &Sheet, cells: &[Laid], down: f64) -> (Vec<f64>, Vec<f64>) {
        let mut heights: Vec<f64> = (sheet.rows.iter())
            .map(|row| {
                let specified_height = row
                    .node
                    .and_then(|row| self.style(row).height.preferred.px(None));
                specified_height.map_or(0.0, |px| self.cut(px))
            })
            .collect();
        let mut baselines = vec![0.0_f64; sheet.rows.len()];
        let alone = || {
            sheet
                .cells
                .iter()
                .zip(cells)
                .filter(|(cell, _)| cell.rows == 1)
        };
        for (cell, laid) in alone() {
            heights[cell.row] = heights[cell.row].max(laid.height);
            if self.on_baseline(cell.node) {
                let baseline = laid.first_baseline.unwrap_or(laid.height);
                baselines[cell.row] = baselines[cell.row].max(baseline);
            }
        }
        for (cell, laid) in alone().filter(|(cell, _)| self.on_baseline(cell.node)) {
            let baseline = laid.first_baseline.unwrap_or(laid.height);
            let tall = laid.height + baselines[cell.row] - baseline;
            heights[cell.row] = heights[cell.row].max(tall);
        }
        let mut spanning: Vec<_> = (sheet.cells.iter().zip(cells))
            .filter(|(cell, _)| cell.rows > 1)
            .collect();
        if spanning.is_empty() {
            return (heights, baselines);
        }
        spanning.sort_by_key(|(cell, _)| (cell.row, cell.rows));
        let asked = self.asked_heights(sheet);
        for (cell, laid) in spanning {
            let range = cell.row..cell.row + cell.rows;
            self.step(cell.rows);
            let have = heights[range.clone()].iter().sum::<f64>() + down * (cell.rows - 1) as f64;
            self.raise(&mut heights, &asked, range, (laid.height - have).max(0.0));
        }
        (heights, baselines)
    }

    /// Makes rows that a cell spans `more` higher together: those of no stated height in
    /// proportion to theirs, else the last that is empty, else all (Chromium 156).
    fn raise(
        &self,
        heights: &mut [f64],
        asked: &[(bool, Option<f64>)],
        rows: std::ops::Range<usize>,
        more: f64,
    ) {
        let grows = |row: &usize| heights[*row] > 0.0 && asked[*row] == (false, None);
        let empty = rows.clone().rev().find(|row| heights[*row] == 0.0);
        let grown: Vec<usize> = match (rows.clone().any(|row| grows(&row)), empty) {
            (true, _) => rows.filter(grows).collect(),
            (false, Some(row)) => vec![row],
            (false, None) => rows.collect(),
        };
        let sum: f64 = grown.iter().map(|row| heights[*row]).sum();
        let mut left = more;
        for (place, row) in grown.iter().enumerate() {
            let part = if place + 1 == grown.len() {
                left
            } else {
                self.cut(more * heights[*row] / sum)
            };
            heights[*row] += part;
            left -= part;
        }
    }

    /// Makes the rows of a table as high together as `tall`, where they are less: first those
    /// that ask for a share of it, then those of no stated height in proportion to theirs, else
    /// all that are not empty, else all. Heads and feet stay as they are where there is a body.
    pub fn fill_rows(&self, sheet: &Sheet, heights: &mut [f64], tall: f64) {
        let is_body = |row: &TableRow| row.group.is_none_or(|group| !self.is_head_or_foot(group));
        let has_body = sheet.rows.iter().any(is_body);
        let mut rows: Vec<usize> = (0..sheet.rows.len())
            .filter(|row| !has_body || is_body(&sheet.rows[*row]))
            .collect();
        let mut free = tall - heights.iter().sum::<f64>();
        if free <= 0.0 {
            return;
        }
        let asked = self.asked_heights(sheet);
        for row in &rows {
            if let Some(share) = asked[*row].1 {
                let more = (share * tall - heights[*row]).min(free).max(0.0);
                heights[*row] += self.cut(more);
                free -= self.cut(more);
            }
        }
        if free <= 0.0 {
            return;
        }
        let of_content = |row: &usize| heights[*row] > 0.0 && asked[*row] == (false, None);
        if rows.iter().any(of_content) {
            rows.retain(of_content);
        } else if rows.iter().any(|row| heights[*row] > 0.0) {
            rows.retain(|row| heights[*row] > 0.0);
        }
        let sum: f64 = rows.iter().map(|row| heights[*row]).sum();
        let mut left = free;
        for (place, row) in rows.iter().enumerate() {
            let more = if place + 1 == rows.len() {
                left
            } else if sum > 0.0 {
                self.cut(free * heights[*row] / sum)
            } else {
                self.cut(free / rows.len() as f64)
            };
            heights[*row] += more;
            left -= more;
        }
    }

    /// Of each row whether its height is stated in px, by itself or one of its cells, and the
    /// share of the table that it asks for.
    fn asked_heights(&self, sheet: &Sheet) -> Vec<(bool, Option<f64>)> {
        let mut asked = vec![(false, None::<f64>); sheet.rows.len()];
        let rows = sheet.rows.iter().map(|row| row.node).enumerate();
        let rows = rows.filter_map(|(number, node)| Some((number, node?)));
        let cells = sheet.cells.iter().filter(|cell| cell.rows == 1);
        for (row, node) in rows.chain(cells.map(|cell| (cell.row, cell.node))) {
            let (specified, share) = &mut asked[row];
            match &self.style(node).height.preferred {
                Length::Px(_) => *specified = true,
                percentage @ Length::Relative(_) => {
                    let wish = percentage.px(Some(1000.0)).unwrap_or(0.0) / 1000.0;
                    *share = Some(share.map_or(wish, |share| share.max(wish)));
                }
                _ => {}
            }
        }
        asked
    }

    fn is_head_or_foot(&self, group: usize) -> bool {
        self.is_group(group, "thead") || self.is_group(group, "tfoot")
    }

    /// Whether a group of rows is an element `tag`.
    pub fn is_group(&self, group: usize, tag: &str) -> bool {
        matches!(&self.stage.flow.nodes[group].kind, FlowKind::Element(name) if name == tag)
    }
}
