//! Widths of the columns of a table (CSS 2.2, §17.5.2; CSS Tables 3, §4).

use tidy_lattice_documents::page::Length;

use super::Layouter;
use super::table::{Cell, Sheet};

/// What a column asks for, in px.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct Column {
    pub least: f64,
    pub most: f64,
    /// Whether a width in px is specified, which is then the greatest.
    fixed: bool,
    /// A specified share of the table, 0 to 1.
    pub share: Option<f64>,
    /// Whether no cell starts in it: it is part of the one before it.
    merged: bool,
}

impl Column {
    /// Takes in what a cell in this column alone asks for.
    fn take(&mut self, cell: &Column) {
        self.least = self.least.max(cell.least);
        // Specified widths win over those of content.
        self.most = match (self.fixed, cell.fixed) {
            (true, false) => self.most.max(cell.least),
            (false, true) => self.least.max(cell.most),
            _ => self.most.max(cell.most),
        };
        self.most = self.most.max(self.least);
        self.fixed |= cell.fixed;
        self.share = match (self.share, cell.share) {
            (Some(one), Some(other)) => Some(one.max(other)),
            (one, other) => one.or(other),
        };
    }

    /// Its width where only the first `n` of these kinds are more than the least: shares of
    /// `room`, specified widths, all others (CSS Tables 3, §4.4).
    fn guess(&self, n: usize, room: f64) -> f64 {
        match self.share {
            _ if self.merged => 0.0,
            Some(share) if n > 0 => (share * room).max(self.least),
            None if n > 2 || n > 1 && self.fixed => self.most,
            _ => self.least,
        }
    }

    fn is_auto(&self) -> bool {
        !self.merged && !self.fixed && self.share.is_none()
    }
}

impl Layouter<'_, '_> {
    /// What the columns of a table ask for.
    pub fn columns_of(&self, sheet: &Sheet, spacing: f64) -> Vec<Column> {
        let column = |number: usize| Column {
            merged: sheet.is_merged(number),
            ..Column::default()
        };
        let mut columns: Vec<Column> = (0..sheet.columns).map(column).collect();
        for (column, node) in columns.iter_mut().zip(&sheet.column_nodes) {
            match &self.style(*node).width.preferred {
                Length::Px(px) => {
                    column.fixed = true;
                    column.most = self.cut(f64::from(*px));
                }
                length @ Length::Relative(_) => column.share = share_of(length),
                _ => {}
            }
        }
        for cell in sheet.cells.iter().filter(|cell| cell.columns == 1) {
            columns[cell.column].take(&self.cell_column(cell.node));
        }
        let mut spanning: Vec<&Cell> = (sheet.cells.iter())
            .filter(|cell| cell.columns > 1)
            .collect();
        spanning.sort_by_key(|cell| cell.columns);
        for cell in spanning {
            let range = cell.column..cell.column + cell.columns;
            self.step(cell.columns);
            self.spread(self.cell_column(cell.node), &mut columns[range], spacing);
        }
        // Together they are at most the whole.
        let mut left = 1.0;
        for share in columns
            .iter_mut()
            .filter_map(|column| column.share.as_mut())
        {
            *share = share.min(left);
            left -= *share;
        }
        columns
    }

    /// What a cell asks for.
    fn cell_column(&self, node: usize) -> Column {
        let width = &self.style(node).width;
        let edges = self.inner(node, 0.0).across();
        let specified = |length: &Length| self.definite_length(node, length, None, edges);
        let (mut least, mut most) = self.extent(node);
        if let Some(limit) = specified(&width.max) {
            (least, most) = (least.min(limit), most.min(limit));
        }
        if let Some(limit) = specified(&width.min) {
            least = least.max(limit);
        }
        let preferred = specified(&width.preferred);
        most = preferred.unwrap_or(most).max(least);
        Column {
            least,
            most,
            fixed: preferred.is_some(),
            share: share_of(&width.preferred),
            merged: false,
        }
    }

    /// Spreads what a cell asks for over the columns that it spans.
    fn spread(&self, cell: Column, columns: &mut [Column], spacing: f64) {
        let count = columns.iter().filter(|column| !column.merged).count();
        let gaps = spacing * count.saturating_sub(1) as f64;
        if let Some(share) = cell.share {
            let known: f64 = columns.iter().filter_map(|column| column.share).sum();
            let is_open = |column: &Column| column.share.is_none() && !column.merged;
            let open = columns.iter().filter(|column| is_open(column));
            let (count, all) = open.fold((0.0, 0.0), |(count, all), column| {
                (count + 1.0, all + column.most)
            });
            if share > known && count > 0.0 {
                for column in columns.iter_mut().filter(|column| is_open(column)) {
                    let part = if all > 0.0 {
                        column.most / all
                    } else {
                        1.0 / count
                    };
                    column.share = Some((share - known) * part);
                }
            }
        }
        let least = self.shared(columns, (cell.least - gaps).max(0.0), true);
        for (column, least) in columns.iter_mut().zip(least) {
            column.least = column.least.max(least);
            column.most = column.most.max(column.least);
        }
        let most = self.shared(columns, (cell.most - gaps).max(0.0), cell.fixed);
        for (column, most) in columns.iter_mut().zip(most) {
            column.most = column.most.max(most);
        }
    }

    /// Columns as the first row states them; the others share what is left.
    pub fn fixed_columns(&self, sheet: &Sheet, room: f64) -> Vec<f64> {
        let mut widths: Vec<Option<f64>> = vec![None; sheet.columns];
        let mut shares = vec![false; sheet.columns];
        let is_share = |node: usize| {
            let preferred = &self.style(node).width.preferred;
            matches!(preferred, Length::Relative(_))
        };
        let specified = |node: usize, cell: bool| {
            let preferred = &self.style(node).width.preferred;
            let edges = if cell {
                self.inner(node, 0.0).across()
            } else {
                0.0
            };
            match preferred {
                Length::Relative(_) => preferred.px(Some(room)).map(|px| self.cut(px)),
                _ => self.definite_length(node, preferred, None, edges),
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

    /// The widths of columns that share `room`; specified ones get wider than specified only
    /// where `all_grow`.
    pub fn shared(&self, columns: &[Column], room: f64, all_grow: bool) -> Vec<f64> {
        let widths = |n: usize| -> Vec<f64> {
            let guesses = columns.iter().map(|column| column.guess(n, room));
            guesses.collect()
        };
        let sum = |n: usize| widths(n).iter().sum::<f64>();
        let Some(guess) = (0..4).find(|n| sum(*n) >= room - 1e-6) else {
            return self.widened(columns, widths(3), room, all_grow);
        };
        let high = widths(guess);
        if guess == 0 {
            return high;
        }
        let low = widths(guess - 1);
        let part = (room - sum(guess - 1)) / (sum(guess) - sum(guess - 1)).max(1e-9);
        let parts = low.iter().zip(&high).map(|(low, high)| (high - low) * part);
        let more: Vec<f64> = parts.collect();
        self.wider_by(low, &more, room)
    }

    /// Columns that are narrower together than `room`: what has no specified width takes the
    /// rest, else widths in px do, else shares.
    fn widened(&self, columns: &[Column], widths: Vec<f64>, room: f64, all_grow: bool) -> Vec<f64> {
        let weights = |weight: &dyn Fn(&Column) -> f64| -> Option<Vec<f64>> {
            let weights: Vec<f64> = columns.iter().map(weight).collect();
            (weights.iter().sum::<f64>() > 0.0).then_some(weights)
        };
        let when = |is: bool, weight: f64| if is { weight } else { 0.0 };
        let weights = weights(&|column| when(column.is_auto(), column.most))
            .or_else(|| weights(&|column| when(column.is_auto(), 1.0)))
            .or_else(|| {
                let is_fixed = |column: &Column| all_grow && column.fixed && column.share.is_none();
                weights(&|column| when(is_fixed(column), column.most))
            })
            .or_else(|| weights(&|column| when(all_grow, column.share.unwrap_or(0.0))));
        let Some(weights) = weights else {
            return widths;
        };
        let left = room - widths.iter().sum::<f64>();
        let all: f64 = weights.iter().sum();
        let more: Vec<f64> = weights.iter().map(|weight| left * weight / all).collect();
        self.wider_by(widths, &more, room)
    }

    /// Adds `more` to `widths` in whole units; the last one that gets any gets what is lost by
    /// that, too.
    fn wider_by(&self, mut widths: Vec<f64>, more: &[f64], room: f64) -> Vec<f64> {
        let mut last = None;
        for (number, (width, more)) in widths.iter_mut().zip(more).enumerate() {
            if *more > 0.0 {
                *width = self.cut(*width + more);
                last = Some(number);
            }
        }
        let rest = room - widths.iter().sum::<f64>();
        if let Some(last) = last {
            widths[last] += rest;
        }
        widths
    }
}

/// The share that a length in % is, 0 to 1; nothing of others, and of none.
fn share_of(length: &Length) -> Option<f64> {
    let share = match length {
        Length::Relative(_) => length.px(Some(1000.0)).unwrap_or(0.0) / 1000.0,
        _ => 0.0,
    };
    (share > 0.0).then_some(share)
}
