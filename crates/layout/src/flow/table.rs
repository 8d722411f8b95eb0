//! Tables with automatic columns (CSS 2.2, §17.5; CSS Tables 3, §4).

use std::collections::HashMap;
use std::ops::Range;
use std::sync::Arc;

use tidy_lattice_documents::page::{Display, Length, TablePart, Vertical};

use super::laid::Laid;
use super::table_columns::Column;
use super::{Given, Layouter, Room};

/// The most columns and rows that a cell spans.
const MOST_SPANNED: usize = 1_000;

/// As wide as a table gets at most, in px (Chromium 156).
const WIDEST: f64 = 1_000_000.0;

/// The most columns of a table.
const MOST_COLUMNS: usize = 8_192;

/// A cell and where it stands.
pub(super) struct Cell {
    pub node: usize,
    pub row: usize,
    pub column: usize,
    pub rows: usize,
    pub columns: usize,
}

/// A row; one that no element asked for has no node.
#[derive(Default)]
pub(super) struct TableRow {
    pub node: Option<usize>,
    pub group: Option<usize>,
    cells: Vec<usize>,
}

/// A table taken apart.
#[derive(Default)]
pub(super) struct Sheet {
    captions: Vec<usize>,
    pub rows: Vec<TableRow>,
    pub cells: Vec<Cell>,
    pub columns: usize,
    /// Elements that stand for columns, in order.
    pub column_nodes: Vec<usize>,
    /// Of each column whether no cell starts in it, nor an element gives it a width: it is
    /// part of the one before (CSS Tables 3, §3.3). Empty where there is none.
    merged: Vec<bool>,
}

impl Sheet {
    /// Whether a column is part of the one before it.
    pub fn is_merged(&self, column: usize) -> bool {
        self.merged.get(column).copied().unwrap_or(false)
    }

    /// How many gaps there are between these columns.
    pub fn gaps(&self, columns: Range<usize>) -> f64 {
        let kept = columns.filter(|column| !self.is_merged(*column)).count();
        kept.saturating_sub(1) as f64
    }
}

/// Where the rows of a table are, in px from its top.
struct Rows<'r> {
    tops: &'r [f64],
    heights: &'r [f64],
    /// Their baselines, from their own tops.
    baselines: &'r [f64],
    /// The room between two.
    gap: f64,
}

impl Layouter<'_, '_> {
    /// The rows and cells of a table.
    pub fn sheet(&self, node: usize) -> Arc<Sheet> {
        if let Some(known) = self.sheets.borrow().get(&node) {
            return known.clone();
        }
        let mut sheet = Sheet::default();
        self.rows_in(node, None, &mut sheet);
        self.order_groups(&mut sheet);
        // Columns that cells of earlier rows reach down into.
        let mut taken: Vec<usize> = Vec::new();
        let count = sheet.rows.len();
        for (number, row) in sheet.rows.iter().enumerate() {
            let mut column = 0;
            for node in &row.cells {
                while taken.get(column).is_some_and(|until| *until > number) {
                    column += 1;
                }
                let (columns, rows) = self.stage.flow.nodes[*node].spans;
                let columns = (columns as usize).clamp(1, MOST_SPANNED);
                let rows = (rows as usize).clamp(1, (count - number).max(1));
                if column + columns > MOST_COLUMNS {
                    self.leave_out(*node, "more than 8,192 columns of a table");
                    break;
                }
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
        if !self.is_fixed_table(node) {
            let mut merged = vec![true; sheet.columns];
            let starts = sheet.cells.iter().map(|cell| cell.column);
            let sized = sheet.column_nodes.iter().take(sheet.columns).enumerate();
            let sized = sized.filter(|(_, node)| self.is_sized(**node));
            for column in starts.chain(sized.map(|(column, _)| column)) {
                merged[column] = false;
            }
            sheet.merged = merged;
        }
        let sheet = Arc::new(sheet);
        self.sheets.borrow_mut().insert(node, sheet.clone());
        sheet
    }

    /// Puts the first head before all rows and the first foot behind them, wherever they stand
    /// (CSS 2.2, §17.2).
    fn order_groups(&self, sheet: &mut Sheet) {
        let first = |tag: &str| {
            let mut groups = sheet.rows.iter().filter_map(|row| row.group);
            groups.find(|group| self.is_group(*group, tag))
        };
        let (head, foot) = (first("thead"), first("tfoot"));
        if head.is_none() && foot.is_none() {
            return;
        }
        sheet.rows.sort_by_key(|row| match row.group {
            Some(group) if Some(group) == head => 0,
            Some(group) if Some(group) == foot => 2,
            _ => 1,
        });
    }

    fn rows_in(&self, node: usize, group: Option<usize>, sheet: &mut Sheet) {
        // Cells outside of a row make one (CSS Tables 3, §2.2.1).
        let mut loose = TableRow {
            group,
            ..TableRow::default()
        };
        for child in &self.stage.flow.nodes[node].children {
            let child = *child;
            let display = self.style(child).display;
            if display == Display::Table(TablePart::Cell) && self.is_element(child) {
                loose.cells.push(child);
                continue;
            }
            if !loose.cells.is_empty() && self.is_element(child) {
                sheet.rows.push(std::mem::take(&mut loose));
                loose.group = group;
            }
            match display {
                Display::Table(TablePart::Caption) => sheet.captions.push(child),
                Display::Table(TablePart::Group) if group.is_none() => {
                    self.rows_in(child, Some(child), sheet);
                }
                Display::Table(TablePart::Row) => {
                    let mut row = TableRow {
                        node: Some(child),
                        group,
                        cells: Vec::new(),
                    };
                    for cell in &self.stage.flow.nodes[child].children {
                        if self.style(*cell).display == Display::Table(TablePart::Cell) {
                            row.cells.push(*cell);
                        } else if self.is_element(*cell) {
                            self.leave_out(*cell, "a box between the cells of a table");
                        }
                    }
                    sheet.rows.push(row);
                }
                Display::Table(TablePart::Column) => {
                    let inside = &self.stage.flow.nodes[child].children;
                    let columns: Vec<usize> = inside
                        .iter()
                        .copied()
                        .filter(|inner| {
                            self.style(*inner).display == Display::Table(TablePart::Column)
                                && self.is_element(*inner)
                        })
                        .collect();
                    if columns.is_empty() {
                        sheet.column_nodes.push(child);
                    } else {
                        sheet.column_nodes.extend(columns);
                    }
                }
                _ if self.is_element(child) => {
                    self.leave_out(child, "a box between the rows of a table");
                }
                _ => {}
            }
        }
        if !loose.cells.is_empty() {
            sheet.rows.push(loose);
        }
    }

    /// Whether columns are as wide as the first row has them; not where the table is
    /// as wide as its content (CSS 2.2, §17.5.2.1).
    fn is_fixed_table(&self, node: usize) -> bool {
        let style = self.style(node);
        style.fixed_table && style.width.preferred != Length::Auto
    }

    /// Whether the element of a column states its width.
    fn is_sized(&self, node: usize) -> bool {
        let width = &self.style(node).width.preferred;
        matches!(width, Length::Px(_) | Length::Relative(_))
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

    /// The least and greatest width of a table's border box.
    pub fn table_extent(&self, node: usize) -> (f64, f64) {
        let sheet = self.sheet(node);
        let spacing = self.table_spacing(node).0;
        let edges = self.inner(node, 0.0).across();
        let gaps = if sheet.columns == 0 {
            0.0
        } else {
            spacing * (sheet.gaps(0..sheet.columns) + 2.0)
        };
        if self.is_fixed_table(node) {
            // The width is stated, whatever is in it.
            return (gaps + edges, gaps + edges);
        }
        let columns = self.columns_of(&sheet, spacing);
        let mut least = columns.iter().map(|column| column.least).sum::<f64>() + gaps + edges;
        let mut most: f64 = columns.iter().map(|column| column.most).sum();
        if self.has_shares(node) {
            most = most.max(self.cut(width_for_shares(&columns)));
        }
        most += gaps + edges;
        for caption in &sheet.captions {
            least = least.max(self.contribution(*caption).0);
        }
        (least, most.max(least))
    }

    /// Whether shares of columns make a table of automatic width wider: not where it decides
    /// over the width of what is around it (Chromium 156).
    fn has_shares(&self, node: usize) -> bool {
        let mut inner = node;
        while let Some(outer) = self.parents[inner] {
            let style = self.style(outer);
            match style.display {
                _ if style.width.preferred != Length::Auto => return true,
                Display::Table(TablePart::Cell) | Display::Flex { .. } | Display::Grid { .. } => {
                    return false;
                }
                _ => inner = outer,
            }
        }
        true
    }

    /// Lays out a table whose border box is `width` px wide, and as tall as is given.
    pub fn table(&self, node: usize, room: Room, width: f64, given: Given) -> Laid {
        let sheet = self.sheet(node);
        let (across, down) = self.table_spacing(node);
        let inner = self.inner(node, room.width);
        let gaps = across * (sheet.gaps(0..sheet.columns) + 2.0);
        let fixed = self.is_fixed_table(node);
        let width = if fixed {
            width
        } else {
            width.max(self.table_extent(node).0)
        };
        let free = (width - inner.across() - gaps).max(0.0);
        let widths = if fixed {
            self.fixed_columns(&sheet, free)
        } else {
            self.shared(&self.columns_of(&sheet, across), free, true)
        };
        let all: f64 = widths.iter().sum();
        let width = if fixed && all > free + 1.0 {
            all + inner.across() + gaps
        } else {
            width
        };
        let mut lefts = Vec::with_capacity(widths.len());
        let mut x = inner.left + across;
        for (column, width) in widths.iter().enumerate() {
            lefts.push(x);
            if !sheet.is_merged(column) {
                x += width + across;
            }
        }
        let cells = self.cells_at_their_height(&sheet, &widths, across);
        self.step(sheet.rows.len());
        let (mut heights, baselines) = self.row_heights(&sheet, &cells, down);
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
        let specified = given
            .height
            .or_else(|| self.specified_height(node, room, inner));
        let specified = specified.unwrap_or(0.0).max(self.least(node, room, inner));
        let top = y;
        if !sheet.rows.is_empty() {
            let gaps = down * (heights.len() + 1) as f64;
            self.fill_rows(&sheet, &mut heights, specified - inner.down() - gaps);
        }
        y += inner.top;
        if !sheet.rows.is_empty() {
            y += down;
        }
        let mut tops = Vec::with_capacity(heights.len());
        for height in &heights {
            tops.push(y);
            y += height + down;
        }
        let rows = Rows {
            tops: &tops,
            heights: &heights,
            baselines: &baselines,
            gap: down,
        };
        self.put_cells(
            &mut laid,
            &sheet,
            cells,
            (&lefts, self.style(node).rtl),
            &rows,
        );
        let wide = (width - inner.across() - 2.0 * across).max(0.0);
        put_rows(&mut laid, &sheet, (inner.left + across, wide), &rows);
        // Without a cell on the baseline it is where the lowest content ends
        // (CSS 2.2, §17.5.3).
        let lowest = sheet.cells.iter().filter(|cell| cell.row == 0).map(|cell| {
            let inner = self.inner(cell.node, width);
            heights[0] - inner.bottom
        });
        let baseline = match baselines.first() {
            Some(baseline) if *baseline > 0.0 => *baseline,
            _ => lowest.fold(0.0, f64::max),
        };
        laid.first_baseline = tops.first().map(|top| top + baseline);
        laid.last_baseline = laid.first_baseline;
        y += inner.bottom;
        y = y.max(top + specified);
        laid.height = self.captions(&mut laid, &below, width, y);
        laid
    }

    /// Puts cells where their columns, from the right where `rtl`, and rows are, and what is in them where
    /// `vertical-align` has it.
    fn put_cells(
        &self,
        laid: &mut Laid,
        sheet: &Sheet,
        cells: Vec<Laid>,
        (lefts, rtl): (&[f64], bool),
        rows: &Rows<'_>,
    ) {
        for (cell, mut child) in sheet.cells.iter().zip(cells) {
            let range = cell.row..cell.row + cell.rows;
            let gaps = rows.gap * (cell.rows - 1) as f64;
            let tall = rows.heights[range].iter().sum::<f64>() + gaps;
            let room = tall - child.height;
            let lower = match self.style(cell.node).vertical {
                Vertical::Top => 0.0,
                Vertical::Bottom => room,
                Vertical::Middle => self.cut(room / 2.0),
                _ if cell.rows == 1 => {
                    rows.baselines[cell.row] - child.first_baseline.unwrap_or(child.height)
                }
                _ => 0.0,
            };
            child.x = lefts[cell.column];
            if rtl {
                child.x = laid.width - child.x - child.width;
            }
            child.y = rows.tops[cell.row];
            child.height = tall;
            lowered(&mut child, lower);
            laid.children.push(child);
        }
    }

    fn captions(&self, laid: &mut Laid, captions: &[usize], width: f64, y: f64) -> f64 {
        let mut y = y;
        for caption in captions {
            let room = Room {
                width,
                height: None,
            };
            let mut box_ = self.block(*caption, room, Given::default(), None);
            let margin = self.margin(*caption, width);
            box_.y = y + margin.top;
            y = box_.y + box_.height + margin.bottom;
            laid.children.push(box_);
        }
        y
    }

    pub(super) fn on_baseline(&self, cell: usize) -> bool {
        !matches!(
            self.style(cell).vertical,
            Vertical::Top | Vertical::Bottom | Vertical::Middle
        )
    }
}

/// Rows and their groups are boxes too: they move as a whole. `left` and `wide` are those
/// of all rows.
fn put_rows(laid: &mut Laid, sheet: &Sheet, (left, wide): (f64, f64), rows: &Rows<'_>) {
    let mut placed: HashMap<usize, usize> = HashMap::new();
    for (number, row) in sheet.rows.iter().enumerate() {
        let (top, height) = (rows.tops[number], rows.heights[number]);
        for node in [row.node, row.group].into_iter().flatten() {
            if let Some(place) = placed.get(&node) {
                let known = &mut laid.children[*place];
                known.height = top + height - known.y;
                continue;
            }
            placed.insert(node, laid.children.len());
            laid.children.push(Laid {
                node: Some(node),
                x: left,
                y: top,
                width: wide,
                height,
                ..Laid::default()
            });
        }
    }
}

/// How wide columns must be together for the shares that some ask for, in px.
fn width_for_shares(columns: &[Column]) -> f64 {
    let shares: f64 = columns.iter().filter_map(|column| column.share).sum();
    let of_share = |column: &Column| Some(column.most / column.share?);
    let widest = columns.iter().filter_map(of_share).fold(0.0, f64::max);
    let others = columns.iter().filter(|column| column.share.is_none());
    let others: f64 = others.map(|column| column.most).sum();
    if shares <= 0.0 || others <= 0.0 {
        widest
    } else if shares >= 1.0 - 1e-9 {
        WIDEST
    } else {
        widest.max(others / (1.0 - shares))
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
