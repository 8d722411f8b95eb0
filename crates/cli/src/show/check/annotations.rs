//! Workflow commands, a line a finding: continuous integration shows them beside the
//! lines of a change.

use std::fmt::Write as _;

use tidy_lattice_checks::Level;

use crate::results::Checked;

/// The commands.
pub fn annotations(checked: &Checked) -> String {
    let mut text = String::new();
    for finding in &checked.findings {
        let word = match finding.level {
            Level::Error => "error",
            Level::Warning => "warning",
            Level::Advice => "notice",
        };
        let place = &finding.place;
        let _ = writeln!(
            text,
            "::{word} file={},line={},col={},endLine={},endColumn={},title={}::{}",
            property(&place.file),
            place.line,
            place.column,
            place.end_line,
            place.end_column,
            finding.code,
            message(&format!("{}. {}", finding.what, finding.todo))
        );
    }
    text
}

fn message(text: &str) -> String {
    text.replace('%', "%25")
        .replace('\r', "%0D")
        .replace('\n', "%0A")
}

fn property(text: &str) -> String {
    message(text).replace(':', "%3A").replace(',', "%2C")
}
