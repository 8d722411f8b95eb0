//! Results on standard output, everything else on standard error.

use std::io::{self, Write as _};

use anstyle::{AnsiColor, Style};
use tidy_lattice_core::text::without_steering;
use tidy_lattice_project::reason;

use crate::error::CliError;

/// Prints a result. A reader that has gone away is no error.
pub fn print(text: &str) -> Result<(), CliError> {
    let text = without_steering(text);
    finish(anstream::stdout().lock().write_all(text.as_bytes()))
}

/// Prints a document as it is. Documents hold no styles, and looking for some
/// in megabytes takes longer than printing them.
pub fn print_document(text: &str) -> Result<(), CliError> {
    finish(io::stdout().lock().write_all(text.as_bytes()))
}

/// Prints what is not the result itself.
pub fn print_aside(text: &str) -> Result<(), CliError> {
    let text = without_steering(text);
    finish(anstream::stderr().lock().write_all(text.as_bytes()))
}

fn finish(written: io::Result<()>) -> Result<(), CliError> {
    match written.and_then(|()| io::stdout().flush()) {
        Err(error) if error.kind() != io::ErrorKind::BrokenPipe => Err(CliError::Unwritable {
            path: "standard output".into(),
            reason: reason(&error),
        }),
        _ => Ok(()),
    }
}

/// Says something that the user should know.
pub fn note(text: &str) {
    aside("note", AnsiColor::Cyan, text);
}

/// Says why the command could not do its work.
pub fn complain(error: &CliError) {
    aside("error", AnsiColor::Red, &error.to_string());
}

fn aside(word: &str, colour: AnsiColor, text: &str) {
    let style = Style::new().bold().fg_color(Some(colour.into()));
    let clean: String = without_steering(text)
        .chars()
        .map(|c| if c.is_control() { ' ' } else { c })
        .collect();
    // Nobody is left to be told where even this cannot be written.
    let _ = writeln!(anstream::stderr(), "{style}{word}:{style:#} {clean}");
}
