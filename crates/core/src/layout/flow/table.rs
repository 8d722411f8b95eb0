//! Tables with automatic columns (CSS 2.2, §17.5; CSS Tables 3, §4).

use super::laid::Laid;
use super::{Layouter, Room};
use crate::page::{Display, Length, TablePart, Vertical};

/// The most columns and rows that a cell spans.
const MOST_SPANNED: usize = 1_000;

/// A cell and where it stands.
struct Cell {
    node: usize,
    row: usize,
    column: usize,
    rows: usize,
    columns: usize,
}

/// A table taken apart.
#[derive(Default)]
struct Sheet {
    captions: Vec<usize>,
    /// The rows with the groups that they are in.
    rows: Vec<(usize, Option<usize>)>,
    cells: Vec<Cell>,
    columns: usize,
}

/// What a column asks for, in px.
#[derive(Debug, Clone, Copy, Default)]
struct Column {
    least: f64,
    most: f64,
    /// Whether a width is stated.
    fixed: bool,
    /// A stated share of the table, 0 to 1.
    share: Option<f64>,
}

impl Layouter<'_, '_> {
    fn sheet(&self, node: usize) -> Sheet {
        let mut sheet = Sheet::default();
        for child in &self.stage.flow.nodes[node].children {
            match self.style(*child).display {
                Display::Table(TablePart::Caption) => sheet.captions.push(*child),
                Display::Table(TablePart::Group) => {
                    for row in &self.stage.flow.nodes[*child].children {
                        if self.style(*row).display == Display::Table(TablePart::Row) {
                            sheet.rows.push((*row, Some(*child)));
                        }
                    }
                }
                Display::Table(TablePart::Row) => sheet.rows.push((*child, None)),
                Display::Table(TablePart::Column) => {}
                _ if self.is_element(*child) => {
                    self.leave_out(*child, "a box between the rows of a table");
                }
                _ => {}
            }
        }
        // Columns that cells of earlier rows reach down into.
        let mut taken: Vec<usize> = Vec::new();
        for (number, (row, _)) in sheet.rows.iter().enumerate() {
            let mut column = 0;
            for node in &self.stage.flow.nodes[*row].children {
                if self.style(*node).display != Display::Table(TablePart::Cell) {
                    if self.is_element(*node) {
                        self.leave_out(*node, "a box between the cells of a table");
                    }
                    continue;
                }
                while taken.get(column).is_some_and(|until| *until > number) {
                    column += 1;
                }
                let (columns, rows) = self.stage.flow.nodes[*node].spans;
                let columns = (columns as usize).clamp(1, MOST_SPANNED);
                let rows = (rows as usize).clamp(1, (sheet.rows.len() - number).max(1));
                taken.resize(taken.len().max(column + columns), 0);
                taken[column..column + columns].fill(number + rows);
                sheet.cells.push(Cell {
                    node: *node,
                    row: number,
                    column,
                    rows,
                    columns,
                });
                column += columns;
            }
        }
        sheet.columns = taken.len();
        sheet
    }

    fn table_spacing(&self, node: usize) -> (f64, f64) {
        let style = self.style(node);
        if style.collapse {
            return (0.0, 0.0);
        }
        (
            self.cut(f64::from(style.spacing.0)),
            self.cut(f64::from(style.spacing.1)),
        )
    }

    fn columns_of(&self, sheet: &Sheet, spacing: f64) -> Vec<Column> {
        let mut columns = vec![Column::default(); sheet.columns];
        for spanning in [false, true] {
            for cell in sheet
                .cells
                .iter()
                .filter(|cell| (cell.columns > 1) == spanning)
            {
                let (least, most) = self.contribution(cell.node);
                let own = &self.style(cell.node).width.own;
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

    /// The least and greatest width of a table's border box.
    pub fn table_extent(&self, node: usize) -> (f64, f64) {
        let sheet = self.sheet(node);
        let spacing = self.table_spacing(node).0;
        let edges = self.inner(node, 0.0).across();
        let gaps = if sheet.columns == 0 {
            0.0
        } else {
            spacing * (sheet.columns + 1) as f64
        };
        let columns = self.columns_of(&sheet, spacing);
        let sum = |of: fn(&Column) -> f64| columns.iter().map(of).sum::<f64>() + gaps + edges;
        let mut least = sum(|column| column.least);
        for caption in &sheet.captions {
            least = least.max(self.contribution(*caption).0);
        }
        (least, sum(|column| column.most).max(least))
    }

    /// Lays out a table whose border box is `width` px wide.
    pub fn table(&self, node: usize, room: Room, width: f64) -> Laid {
        let style = self.style(node);
        if style.collapse {
            self.beyond(
                node,
                "border-collapse: collapse (borders are taken as apart)",
            );
        }
        if style.fixed_table {
            self.beyond(node, "table-layout: fixed");
        }
        let sheet = self.sheet(node);
        let (across, down) = self.table_spacing(node);
        let inner = self.inner(node, room.width);
        let least = self.table_extent(node).0;
        let width = width.max(least);
        let gaps = across * (sheet.columns + 1) as f64;
        let columns = self.columns_of(&sheet, across);
        let widths = self.shared(&columns, (width - inner.across() - gaps).max(0.0));
        let mut lefts = Vec::with_capacity(widths.len());
        let mut x = inner.left + across;
        for width in &widths {
            lefts.push(x);
            x += width + across;
        }
        // Cells at their own height first.
        let mut cells: Vec<Laid> = Vec::with_capacity(sheet.cells.len());
        let mut heights: Vec<f64> = sheet
            .rows
            .iter()
            .map(|(row, _)| {
                let own = &self.style(*row).height.own;
                own.px(None).map_or(0.0, |px| self.cut(px))
            })
            .collect();
        let mut baselines = vec![0.0_f64; sheet.rows.len()];
        for cell in &sheet.cells {
            let range = cell.column..cell.column + cell.columns;
            let wide = widths[range].iter().sum::<f64>() + across * (cell.columns - 1) as f64;
            let content = Room {
                width: wide,
                height: None,
            };
            let laid = self.block(cell.node, content, Some(wide));
            if cell.rows == 1 {
                heights[cell.row] = heights[cell.row].max(laid.height);
                if self.on_baseline(cell.node) {
                    let baseline = laid.first_baseline.unwrap_or(laid.height);
                    baselines[cell.row] = baselines[cell.row].max(baseline);
                }
            }
            cells.push(laid);
        }
        for (cell, laid) in sheet.cells.iter().zip(&cells) {
            if cell.rows == 1 && self.on_baseline(cell.node) {
                let baseline = laid.first_baseline.unwrap_or(laid.height);
                let tall = laid.height + baselines[cell.row] - baseline;
                heights[cell.row] = heights[cell.row].max(tall);
            }
        }
        for (cell, laid) in sheet
            .cells
            .iter()
            .zip(&cells)
            .filter(|(cell, _)| cell.rows > 1)
        {
            let range = cell.row..cell.row + cell.rows;
            let have = heights[range.clone()].iter().sum::<f64>() + down * (cell.rows - 1) as f64;
            let more = ((laid.height - have) / cell.rows as f64).max(0.0);
            heights[range]
                .iter_mut()
                .for_each(|height| *height += self.cut(more));
        }
        let mut laid = Laid {
            width,
            ..Laid::default()
        };
        let mut y = 0.0;
        let (below, above): (Vec<usize>, Vec<usize>) = sheet
            .captions
            .iter()
            .partition(|caption| self.style(**caption).caption_below);
        y = self.captions(&mut laid, &above, width, y);
        y += inner.top;
        if !sheet.rows.is_empty() {
            y += down;
        }
        let mut tops = Vec::with_capacity(heights.len());
        for height in &heights {
            tops.push(y);
            y += height + down;
        }
        for (cell, mut child) in sheet.cells.iter().zip(cells) {
            let range = cell.row..cell.row + cell.rows;
            let tall = heights[range].iter().sum::<f64>() + down * (cell.rows - 1) as f64;
            let room = tall - child.height;
            let lower = match self.style(cell.node).vertical {
                Vertical::Top => 0.0,
                Vertical::Bottom => room,
                Vertical::Middle => self.cut(room / 2.0),
                _ if cell.rows == 1 => {
                    baselines[cell.row] - child.first_baseline.unwrap_or(child.height)
                }
                _ => 0.0,
            };
            child.x = lefts[cell.column];
            child.y = tops[cell.row];
            child.height = tall;
            lowered(&mut child, lower);
            laid.children.push(child);
        }
        // Rows and groups are boxes too: they move as a whole.
        for (number, (row, group)) in sheet.rows.iter().enumerate() {
            let (x, wide) = (
                inner.left + across,
                (width - inner.across() - 2.0 * across).max(0.0),
            );
            for node in [Some(*row), *group].into_iter().flatten() {
                let known = laid
                    .children
                    .iter_mut()
                    .find(|child| child.node == Some(node));
                match known {
                    Some(known) => known.height = tops[number] + heights[number] - known.y,
                    None => laid.children.push(Laid {
                        node: Some(node),
                        x,
                        y: tops[number],
                        width: wide,
                        height: heights[number],
                        ..Laid::default()
                    }),
                }
            }
        }
        laid.first_baseline = tops.first().map(|top| top + baselines[0]);
        y += inner.bottom;
        let stated = self.stated_height(node, room, inner);
        y = stated.map_or(y, |stated| y.max(stated));
        laid.height = self.captions(&mut laid, &below, width, y);
        laid
    }

    fn captions(&self, laid: &mut Laid, captions: &[usize], width: f64, y: f64) -> f64 {
        let mut y = y;
        for caption in captions {
            let room = Room {
                width,
                height: None,
            };
            let mut box_ = self.block(*caption, room, None);
            let margin = self.margin(*caption, width);
            box_.y = y + margin.top;
            y = box_.y + box_.height + margin.bottom;
            laid.children.push(box_);
        }
        y
    }

    fn on_baseline(&self, cell: usize) -> bool {
        !matches!(
            self.style(cell).vertical,
            Vertical::Top | Vertical::Bottom | Vertical::Middle
        )
    }

    /// The widths of columns that share `room`.
    fn shared(&self, columns: &[Column], room: f64) -> Vec<f64> {
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

/// Moves what is in a box down.
fn lowered(laid: &mut Laid, by: f64) {
    if by == 0.0 {
        return;
    }
    for child in &mut laid.children {
        child.y += by;
        if child.node.is_none() {
            child.y -= by;
            lowered_text(child, by);
        }
    }
    lowered_text(laid, by);
}

fn lowered_text(laid: &mut Laid, by: f64) {
    if let Some(text) = &mut laid.text {
        for line in &mut text.lines {
            line.top += by;
            line.baseline += by;
            for piece in &mut line.pieces {
                piece.top += by;
            }
        }
    }
}
