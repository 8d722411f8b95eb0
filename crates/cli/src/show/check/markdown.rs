//! Markdown for a pull request: a table a file, within what such comments may hold.

use std::fmt::Write as _;

use tidy_lattice_checks::Level;
use tidy_lattice_core::text::without_steering;

use crate::results::Checked;
use crate::show::text::count;

/// The longest comment, in characters; services take 65,536.
const LONGEST: usize = 60_000;

/// The report.
pub fn markdown(checked: &Checked) -> String {
    let found = checked.errors + checked.warnings;
    let mut text = String::from("<!-- Made by tidy-lattice -->\n");
    if found == 0 {
        text.push_str("**Fonts: no mistakes.**\n");
    } else {
        let _ = writeln!(
            text,
            "**Fonts: {}, {}.**",
            count(checked.errors as u64, "error", "errors"),
            count(checked.warnings as u64, "warning", "warnings")
        );
    }
    let mut listed = 0;
    let mut length = text.chars().count();
    'files: for findings in checked
        .findings
        .chunk_by(|a, b| a.place.file == b.place.file)
    {
        let mut part = format!(
            "\n### {}\n\n| Line | | What | What to do |\n| --: | --- | --- | --- |\n",
            cell(&findings[0].place.file)
        );
        for finding in findings {
            let mark = match finding.level {
                Level::Error => "**error**",
                Level::Warning => "warning",
                Level::Advice => "advice",
            };
            let row = format!(
                "| {} | {mark} | {} (`{}`) | {} |\n",
                finding.place.line,
                cell(&finding.what),
                finding.code,
                cell(&finding.todo)
            );
            if length + part.chars().count() + row.chars().count() > LONGEST - 200 {
                text.push_str(&part);
                break 'files;
            }
            part.push_str(&row);
            listed += 1;
        }
        length += part.chars().count();
        text.push_str(&part);
    }
    let rest = checked.findings.len() - listed;
    if rest > 0 {
        let _ = writeln!(text, "\nAnd {rest} more; `tidy-lattice check` lists them.");
    }
    text
}

/// The text within a cell.
fn cell(text: &str) -> String {
    without_steering(text)
        .chars()
        .flat_map(|c| match c {
            '|' | '<' | '*' | '_' | '`' | '[' => vec!['\\', c],
            c if c.is_control() => vec![' '],
            c => vec![c],
        })
        .collect()
}
