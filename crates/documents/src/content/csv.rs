//! Tables of texts: every cell, or the columns that a heading names by language.

use csv::{ReaderBuilder, StringRecord};

use super::{ContentError, FormatReader, Message, Reading, Sink, show, utf8};
use crate::content::is_language;
use crate::content::message::Syntax;

pub(super) static CSV: FormatReader = FormatReader {
    name: "csv",
    label: "CSV",
    endings: &["csv"],
    read: |bytes, reading, sink| read(utf8(bytes)?, b',', reading, sink),
};

pub(super) static TSV: FormatReader = FormatReader {
    name: "tsv",
    label: "tab-separated values",
    endings: &["tsv", "tab"],
    read: |bytes, reading, sink| read(utf8(bytes)?, b'\t', reading, sink),
};

/// Headings of columns that hold no text to show.
const SILENT: [&str; 11] = [
    "key",
    "id",
    "identifier",
    "context",
    "comment",
    "comments",
    "note",
    "notes",
    "description",
    "name",
    "type",
];

fn read(
    text: &str,
    delimiter: u8,
    reading: Reading<'_>,
    sink: &mut Sink<'_>,
) -> Result<(), ContentError> {
    let mut table = ReaderBuilder::new()
        .delimiter(delimiter)
        .has_headers(false)
        .flexible(true)
        .from_reader(text.as_bytes());
    let mut record = StringRecord::new();
    let mut columns: Option<Vec<Column>> = None;
    loop {
        let more = table.read_record(&mut record).map_err(|error| {
            let line = error.position().map_or(1, csv::Position::line);
            ContentError::Malformed {
                line: u32::try_from(line).unwrap_or(u32::MAX),
                format: "CSV",
                reason: error.to_string(),
            }
        })?;
        if !more {
            return Ok(());
        }
        let line = record.position().map_or(1, csv::Position::line);
        let line = u32::try_from(line).unwrap_or(u32::MAX);
        let columns = match &columns {
            Some(columns) => columns,
            None => {
                let heading = Column::heading(&record);
                let known = columns.insert(heading.clone().unwrap_or_default());
                if heading.is_some() {
                    continue;
                }
                known
            }
        };
        for (number, cell) in record.iter().enumerate() {
            let column = columns.get(number);
            if cell.is_empty() || column.is_some_and(|column| column.silent) {
                continue;
            }
            let language = column.and_then(|column| column.language.as_deref());
            show(
                &Message {
                    text: cell,
                    syntax: Syntax::Any,
                    line,
                    column: 1,
                    language: language.or(reading.language),
                },
                sink,
            );
        }
    }
}

#[derive(Debug, Clone, Default)]
struct Column {
    language: Option<String>,
    silent: bool,
}

impl Column {
    /// The columns that the first row names; `None` where it is no heading.
    fn heading(record: &StringRecord) -> Option<Vec<Column>> {
        let cells: Vec<String> = record
            .iter()
            .map(|cell| cell.trim().to_lowercase())
            .collect();
        let silent = |cell: &String| SILENT.contains(&cell.as_str()) || cell.is_empty();
        let languages = cells.iter().filter(|cell| is_language(cell)).count();
        if languages == 0 && !silent(cells.first()?) {
            return None;
        }
        Some(
            cells
                .iter()
                .map(|cell| Column {
                    language: is_language(cell).then(|| cell.clone()),
                    silent: silent(cell),
                })
                .collect(),
        )
    }
}
