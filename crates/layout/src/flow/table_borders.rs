//! Borders of tables that collapse (CSS 2.2, §17.6.2): of all that meet at an edge the
//! widest counts; one half of it belongs to the cell on either side.

use super::Layouter;
use super::boxes::Edges;
use super::table::Sheet;

/// The most edges between cells that are looked at.
const MOST_EDGES: usize = 1 << 22;

impl Layouter<'_, '_> {
    /// Halves of the borders around a table and its cells, by node.
    pub fn collapsed_borders(&self, table: usize) {
        let sheet = self.sheet(table);
        if (sheet.rows.len() + 1).saturating_mul(sheet.columns + 1) > MOST_EDGES {
            self.unsupported(table, "borders that collapse in a very large table");
            let border = self.computed_border(table);
            self.collapsed.borrow_mut().insert(table, border);
            return;
        }
        let edges = Meeting::of(self, table, &sheet);
        let mut known = self.collapsed.borrow_mut();
        let half = |widths: &mut dyn Iterator<Item = f64>| widths.fold(0.0, f64::max) / 2.0;
        for cell in &sheet.cells {
            let (columns, rows) = (
                cell.column..cell.column + cell.columns,
                cell.row..cell.row + cell.rows,
            );
            let borders = Edges {
                top: half(&mut columns.clone().map(|column| edges.flat(cell.row, column))),
                bottom: half(&mut columns.map(|column| edges.flat(rows.end, column))),
                left: half(&mut rows.clone().map(|row| edges.upright(row, cell.column))),
                right: half(
                    &mut rows
                        .clone()
                        .map(|row| edges.upright(row, cell.column + cell.columns)),
                ),
            };
            known.insert(cell.node, borders);
        }
        let (rows, columns) = (sheet.rows.len(), sheet.columns);
        let border = Edges {
            top: half(&mut (0..columns).map(|column| edges.flat(0, column))),
            bottom: half(&mut (0..columns).map(|column| edges.flat(rows, column))),
            left: half(&mut (0..rows).map(|row| edges.upright(row, 0))),
            right: half(&mut (0..rows).map(|row| edges.upright(row, columns))),
        };
        known.insert(table, border);
    }
}

/// The widest borders at every edge between two cells, in px.
struct Meeting {
    columns: usize,
    /// By line between rows, then column.
    flat: Vec<f64>,
    /// By row, then line between columns.
    upright: Vec<f64>,
}

impl Meeting {
    fn of(layouter: &Layouter<'_, '_>, table: usize, sheet: &Sheet) -> Self {
        let (rows, columns) = (sheet.rows.len(), sheet.columns);
        let mut edges = Meeting {
            columns,
            flat: vec![0.0; (rows + 1) * columns],
            upright: vec![0.0; rows * (columns + 1)],
        };
        for cell in &sheet.cells {
            let border = layouter.computed_border(cell.node);
            for column in cell.column..cell.column + cell.columns {
                edges.meet_flat(cell.row, column, border.top);
                edges.meet_flat(cell.row + cell.rows, column, border.bottom);
            }
            for row in cell.row..cell.row + cell.rows {
                edges.meet_upright(row, cell.column, border.left);
                edges.meet_upright(row, cell.column + cell.columns, border.right);
            }
        }
        // What a cell reaches across has no edge.
        let mut cut = vec![false; (rows + 1) * columns];
        for cell in &sheet.cells {
            for line in cell.row + 1..cell.row + cell.rows {
                cut[line * columns + cell.column..line * columns + cell.column + cell.columns]
                    .fill(true);
            }
        }
        for (number, row) in sheet.rows.iter().enumerate() {
            let first = number == 0 || sheet.rows[number - 1].group != row.group;
            let last = sheet
                .rows
                .get(number + 1)
                .is_none_or(|next| next.group != row.group);
            let group = row.group.map(|group| (group, first, last));
            let of_row = row.node.map(|node| (node, true, true));
            for (node, first, last) in of_row.into_iter().chain(group) {
                let border = layouter.computed_border(node);
                for column in 0..columns {
                    if first && !cut[number * columns + column] {
                        edges.meet_flat(number, column, border.top);
                    }
                    if last && !cut[(number + 1) * columns + column] {
                        edges.meet_flat(number + 1, column, border.bottom);
                    }
                }
                edges.meet_upright(number, 0, border.left);
                edges.meet_upright(number, columns, border.right);
            }
        }
        let border = layouter.computed_border(table);
        for column in 0..columns {
            edges.meet_flat(0, column, border.top);
            edges.meet_flat(rows, column, border.bottom);
        }
        for row in 0..rows {
            edges.meet_upright(row, 0, border.left);
            edges.meet_upright(row, columns, border.right);
        }
        edges
    }

    fn flat(&self, line: usize, column: usize) -> f64 {
        let edge = self.flat.get(line * self.columns + column);
        edge.copied().unwrap_or(0.0)
    }

    fn upright(&self, row: usize, line: usize) -> f64 {
        let edge = self.upright.get(row * (self.columns + 1) + line);
        edge.copied().unwrap_or(0.0)
    }

    fn meet_flat(&mut self, line: usize, column: usize, width: f64) {
        if let Some(edge) = self.flat.get_mut(line * self.columns + column) {
            *edge = edge.max(width);
        }
    }

    fn meet_upright(&mut self, row: usize, line: usize, width: f64) {
        if let Some(edge) = self.upright.get_mut(row * (self.columns + 1) + line) {
            *edge = edge.max(width);
        }
    }
}
