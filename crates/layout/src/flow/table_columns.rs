//! Widths of the columns of a table (CSS 2.2, §17.5.2; CSS Tables 3, §4).

use tidy_lattice_documents::page::Length;

use super::Layouter;
use super::table::Sheet;

/// What a column asks for, in px.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct Column {
    pub least: f64,
    pub most: f64,
    /// Whether a width is stated.
    fixed: bool,
    /// A stated share of the table, 0 to 1.
    share: Option<f64>,
}

impl Layouter<'_, '_> {
    /// What the columns of a table ask for.
    pub fn columns_of(&self, sheet: &Sheet, spacing: f64) -> Vec<Column> {
        let mut columns = vec![Column::default(); sheet.columns];
        for (column, node) in columns.iter_mut().zip(&sheet.column_nodes) {
            match &self.style(*node).width.preferred {
                Length::Px(px) => {
                    column.fixed = true;
                    column.least = self.cut(f64::from(*px));
                    column.most = column.least;
                }
                own @ Length::Relative(_) => {
                    column.share = own.px(Some(1000.0)).map(|px| px / 1000.0);
                }
                _ => {}
            }
        }
        for spanning in [false, true] {
            for cell in sheet
                .cells
                .iter()
                .filter(|cell| (cell.columns > 1) == spanning)
            {
                let (least, most) = self.contribution(cell.node);
                let own = &self.style(cell.node).width.preferred;
                if cell.columns == 1 {
                    let column = &mut columns[cell.column];
                    column.fixed |= matches!(own, Length::Px(_));
                    if let Length::Relative(_) = own {
                        let share = own.px(Some(1000.0)).unwrap_or(0.0) / 1000.0;
                        column.share = Some(column.share.unwrap_or(0.0).max(share));
                    }
                    // A stated width is no less than what the content needs.
                    let needs = self.extent(cell.node).0;
                    column.least = column.least.max(if column.fixed {
                        needs.max(least)
                    } else {
                        least
                    });
                    column.most = column.most.max(most).max(column.least);
                } else {
                    let range = cell.column..cell.column + cell.columns;
                    let between = spacing * (cell.columns - 1) as f64;
                    let have = columns[range.clone()].iter();
                    let (a, b) = have.fold((between, between), |(a, b), column| {
                        (a + column.least, b + column.most)
                    });
                    let count = cell.columns as f64;
                    for column in &mut columns[range] {
                        column.least += ((least - a) / count).max(0.0);
                        column.most += ((most - b) / count).max(0.0);
                        column.most = column.most.max(column.least);
                    }
                }
            }
        }
        columns
    }

    /// Columns as the first row states them; the others share what is left.
    pub fn fixed_columns(&self, sheet: &Sheet, room: f64) -> Vec<f64> {
        let mut widths: Vec<Option<f64>> = vec![None; sheet.columns];
        let mut shares = vec![false; sheet.columns];
        let is_share = |node: usize| {
            let own = &self.style(node).width.preferred;
            matches!(own, Length::Relative(_))
        };
        let specified = |node: usize, cell: bool| {
            let own = &self.style(node).width.preferred;
            let edges = if cell {
                self.inner(node, 0.0).across()
            } else {
                0.0
            };
            match own {
                Length::Relative(_) => own.px(Some(room)).map(|px| self.cut(px)),
                _ => self.definite_length(node, own, None, edges),
            }
        };
        for (column, node) in (0..sheet.columns).zip(&sheet.column_nodes) {
            widths[column] = specified(*node, false);
            shares[column] = is_share(*node);
        }
        for cell in sheet.cells.iter().filter(|cell| cell.row == 0) {
            let all = specified(cell.node, true);
            for column in cell.column..cell.column + cell.columns {
                if widths[column].is_none() {
                    widths[column] = all.map(|all| all / cell.columns as f64);
                    shares[column] = is_share(cell.node);
                }
            }
        }
        let used: f64 = widths.iter().flatten().sum();
        if used > room {
            // Shares share what widths in px leave, which make the table wider where they are
            // wider than it (Chromium 156).
            let of_shares = |wanted: bool| -> f64 {
                let columns = widths.iter().zip(&shares);
                let columns = columns.filter(|(_, share)| **share == wanted);
                columns.filter_map(|(width, _)| *width).sum()
            };
            let factor = (room - of_shares(false)).max(0.0) / of_shares(true).max(1e-9);
            let columns = widths.iter().zip(&shares);
            let column = |(width, share): (&Option<f64>, &bool)| match width {
                Some(width) if *share => self.cut(width * factor),
                other => other.unwrap_or(0.0),
            };
            return columns.map(column).collect();
        }
        let open = widths.iter().filter(|width| width.is_none()).count();
        let left = (room - used).max(0.0);
        if open > 0 {
            let each = self.cut(left / open as f64);
            widths.iter().map(|width| width.unwrap_or(each)).collect()
        } else {
            let factor = if used > 0.0 { 1.0 + left / used } else { 1.0 };
            let all = widths.iter().flatten();
            all.map(|width| self.cut(width * factor)).collect()
        }
    }

    /// The widths of columns that share `room`.
    pub fn shared(&self, columns: &[Column], room: f64) -> Vec<f64> {
        let least: f64 = columns.iter().map(|column| column.least).sum();
        let mut widths: Vec<f64> = columns.iter().map(|column| column.least).collect();
        let mut left = room - least;
        // Shares of the table first.
        for (width, column) in widths.iter_mut().zip(columns) {
            if let Some(share) = column.share {
                let more = (share * room - *width).clamp(0.0, left.max(0.0));
                *width += more;
                left -= more;
            }
        }
        let wants: Vec<f64> = columns
            .iter()
            .zip(&widths)
            .map(|(column, width)| {
                if column.share.is_some() {
                    0.0
                } else {
                    (column.most - width).max(0.0)
                }
            })
            .collect();
        let wanted: f64 = wants.iter().sum();
        if left < wanted - 1e-6 && wanted > 0.0 {
            for (width, wants) in widths.iter_mut().zip(&wants) {
                *width += self.cut((wants / wanted * left.max(0.0)).max(0.0));
            }
        } else {
            for (width, wants) in widths.iter_mut().zip(&wants) {
                *width += wants;
            }
            left -= wanted;
            // The rest goes by what columns like, to those without a stated width
            // first.
            let takes = |column: &Column| !column.fixed && column.share.is_none();
            let any = columns.iter().any(takes);
            let weight = |column: &Column| {
                if !any || takes(column) {
                    column.most
                } else {
                    0.0
                }
            };
            let total: f64 = columns.iter().map(weight).sum();
            let count = columns.len().max(1) as f64;
            for (width, column) in widths.iter_mut().zip(columns) {
                let part = if total > 0.0 {
                    weight(column) / total
                } else {
                    1.0 / count
                };
                *width += self.cut(left * part);
            }
        }
        let rest = room - widths.iter().sum::<f64>();
        if let Some(last) = widths.last_mut().filter(|_| rest > 0.0 && rest < 1.0) {
            *last += rest;
        }
        widths
    }
}
