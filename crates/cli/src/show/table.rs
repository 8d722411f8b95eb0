//! Tables for the terminal, as wide as it is.

use comfy_table::{CellAlignment, ContentArrangement, Table, presets};

use super::text::{TITLE, styled};

/// A table without lines, its header bold, the columns `right` aligned right.
pub fn table(header: &[&str], right: &[usize]) -> Table {
    let mut table = Table::new();
    table.load_style(presets::NOTHING);
    table.set_content_arrangement(ContentArrangement::Dynamic);
    table.set_header(header.iter().map(|title| styled(TITLE, title)));
    for index in right {
        if let Some(column) = table.column_mut(*index) {
            column.set_cell_alignment(CellAlignment::Right);
        }
    }
    table
}

/// The table as lines, indented by one, without blanks at their ends.
pub fn lines(table: &Table) -> String {
    let mut text = String::new();
    for line in table.lines() {
        text.push_str(line.trim_end());
        text.push('\n');
    }
    text
}
