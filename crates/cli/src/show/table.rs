//! Tables for the terminal, as wide as it is; where columns do not fit, a block for each row.

use comfy_table::{CellAlignment, ColumnConstraint, ContentArrangement, Width, presets};
use textwrap::core::display_width;

use super::text::{FAINT, TITLE, styled};
use crate::screen;

/// A table without lines: a header, and rows of as many cells.
pub struct Table {
    header: Vec<String>,
    /// The columns that are aligned right.
    right: Vec<usize>,
    rows: Vec<Vec<String>>,
}

/// A table with `header`, the columns `right` aligned right.
pub fn table(header: &[&str], right: &[usize]) -> Table {
    Table {
        header: header.iter().map(|title| (*title).to_owned()).collect(),
        right: right.to_vec(),
        rows: Vec::new(),
    }
}

/// Whether the screen has room for the table's columns.
pub fn fits(table: &Table) -> bool {
    let fits = |width| table.columns(width, screen::names_are_whole()).is_some();
    screen::width().is_none_or(fits)
}

/// The table as lines, indented by one, without blanks at their ends.
pub fn lines(table: &Table) -> String {
    match screen::width() {
        Some(width) => table.fitted(width, screen::names_are_whole()),
        None => table.drawn(usize::MAX, None),
    }
}

/// Words longer than this are cut in their middle before columns become blocks; one after
/// another is tried.
const NAMES: [usize; 6] = [usize::MAX, 40, 34, 28, 24, 20];

/// Blanks beside each cell.
const BESIDE: usize = 2;

impl Table {
    /// One more row.
    pub fn add_row<Cells>(&mut self, cells: Cells)
    where
        Cells: IntoIterator,
        Cells::Item: Into<String>,
    {
        self.rows.push(cells.into_iter().map(Into::into).collect());
    }

    /// As columns where they fit, else as blocks.
    fn fitted(&self, width: usize, whole_names: bool) -> String {
        let columns = self.columns(width, whole_names);
        columns.unwrap_or_else(|| self.blocks(width))
    }

    /// As columns, where they fit.
    fn columns(&self, width: usize, whole_names: bool) -> Option<String> {
        let natural = self.widest(|cell| cell.lines().map(display_width).max().unwrap_or(0));
        if room(&natural) <= width {
            return Some(self.drawn(usize::MAX, None));
        }
        let names = if whole_names { &NAMES[..1] } else { &NAMES[..] };
        names.iter().find_map(|name| {
            let least = self.widest(|cell| {
                let cell = screen::cell(cell, *name);
                cell.split(' ').map(display_width).max().unwrap_or(0)
            });
            // Columns of a few letters read worse than blocks.
            let most_lines = 5 * self.rows.len() / 2 + 4;
            (room(&least) <= width)
                .then(|| self.drawn(*name, Some((width, &least))))
                .filter(|drawn| drawn.lines().count() <= most_lines)
        })
    }

    /// The largest measure of each column, its title included.
    fn widest(&self, measure: impl Fn(&str) -> usize) -> Vec<usize> {
        let mut widest: Vec<usize> = self.header.iter().map(|title| measure(title)).collect();
        for row in &self.rows {
            for (cell, most) in row.iter().zip(&mut widest) {
                *most = measure(cell).max(*most);
            }
        }
        widest
    }

    /// As columns; words longer than `name` are cut; within a width, no column narrower
    /// than its least.
    fn drawn(&self, name: usize, within: Option<(usize, &[usize])>) -> String {
        let mut table = comfy_table::Table::new();
        table.load_style(presets::NOTHING);
        table.set_header(self.header.iter().map(|title| styled(TITLE, title)));
        for row in &self.rows {
            table.add_row(row.iter().map(|cell| screen::cell(cell, name)));
        }
        match within {
            None => table.set_content_arrangement(ContentArrangement::Disabled),
            Some((width, _)) => table
                .set_content_arrangement(ContentArrangement::Dynamic)
                .set_width(u16::try_from(width + 1).unwrap_or(u16::MAX)),
        };
        for (place, column) in table.column_iter_mut().enumerate() {
            if self.right.contains(&place) {
                column.set_cell_alignment(CellAlignment::Right);
            }
            if let Some((_, least)) = within {
                let least = u16::try_from(least[place] + BESIDE).unwrap_or(u16::MAX);
                column.set_constraint(ColumnConstraint::LowerBoundary(Width::Fixed(least)));
            }
        }
        let mut text = String::new();
        for line in table.lines() {
            text.push_str(line.trim_end());
            text.push('\n');
        }
        text
    }

    /// A block for each row: what it is about, and its values below.
    fn blocks(&self, width: usize) -> String {
        let numbered = self.header.first().is_some_and(String::is_empty);
        let mut firsts: Vec<&String> = self.rows.iter().filter_map(|row| row.first()).collect();
        let all = firsts.len();
        firsts.sort_unstable();
        firsts.dedup();
        // A title that several rows share is told with what sets them apart.
        let titles = if numbered || firsts.len() < all { 2 } else { 1 };
        let between = if numbered { " " } else { ", " };
        let mut text = String::new();
        for row in &self.rows {
            let (title, values) = row.split_at(titles.min(row.len()));
            let title = styled(TITLE, &title.join(between));
            text.push_str(&screen::wrap(&title, width, " ", "   "));
            text.push('\n');
            let pairs = self.header[titles.min(row.len())..].iter().zip(values);
            let pairs = pairs.filter(|(_, value)| !NOTHING.contains(&plain(value).as_str()));
            let pairs: Vec<String> = pairs
                .map(|(label, value)| {
                    let pair = match label.as_str() {
                        "" => value.clone(),
                        label => format!("{} {value}", styled(FAINT, &format!("{label}:"))),
                    };
                    // Short values stay beside their labels.
                    if display_width(&pair) <= width / 2 {
                        screen::held(&pair)
                    } else {
                        pair
                    }
                })
                .collect();
            if !pairs.is_empty() {
                text.push_str(&screen::wrap(&pairs.join("  "), width, "   ", "     "));
                text.push('\n');
            }
        }
        text
    }
}

/// Values that say that there is none.
const NOTHING: [&str; 4] = ["", "·", "–", "-"];

/// How wide columns are together; the last blank of a line is not printed.
fn room(columns: &[usize]) -> usize {
    columns
        .iter()
        .map(|column| column.saturating_add(BESIDE))
        .sum::<usize>()
        .saturating_sub(1)
}

/// A cell without styles.
fn plain(cell: &str) -> String {
    anstream::adapter::strip_str(cell).to_string()
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::*;

    fn fonts() -> Table {
        let mut table = table(&["File", "family", "size-adjust", "characters"], &[3]);
        table.add_row([
            "fonts/SkerrymarkSans-Regular.ttf",
            "Skerrymark Sans",
            "101.5 %",
            "400",
        ]);
        table.add_row([
            "fonts/FerrygateMono-Regular.ttf",
            "Ferrygate Mono",
            "·",
            "8",
        ]);
        table
    }

    #[rstest]
    #[case::wide(90, true)]
    #[case::cut(66, true)]
    #[case::narrow(46, false)]
    fn no_line_is_wider_than_the_screen(#[case] width: usize, #[case] columns: bool) {
        let text = fonts().fitted(width, false);
        assert!(
            text.lines().all(|line| display_width(line) <= width),
            "{text}"
        );
        assert_eq!(text.starts_with(" \u{1b}[1mFile"), columns, "{text}");
        let plain = plain(&text);
        for word in ["size-adjust", "characters", "Ferrygate", "101.5"] {
            assert!(plain.contains(word), "{word} is broken: {plain}");
        }
    }

    #[test]
    fn blocks_leave_out_what_there_is_not() {
        let text = plain(&fonts().fitted(40, false)).replace('\u{2007}', " ");
        assert_eq!(
            text,
            " fonts/SkerrymarkSans-Regular.ttf\n   family: Skerrymark Sans\n     \
             size-adjust: 101.5 %\n     characters: 400\n \
             fonts/FerrygateMono-Regular.ttf\n   family: Ferrygate Mono  characters: 8\n"
        );
    }

    #[test]
    fn rows_of_one_title_are_told_apart() {
        let mut table = table(&["Window", "Platform", "what moves in it and how far"], &[]);
        table.add_row(["phone", "Tidetab", "a list of things"]);
        table.add_row(["phone", "Quay kiosk", "nothing"]);
        let text = plain(&table.blocks(40));
        assert!(text.contains(" phone, Tidetab\n") && text.contains(" phone, Quay kiosk\n"));
    }
}
