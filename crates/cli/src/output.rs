//! Results on standard output, everything else on standard error.

use std::collections::BTreeSet;
use std::io::{self, Write as _};
use std::sync::{Mutex, PoisonError};

use anstyle::{AnsiColor, Style};
use tidy_lattice_core::text::without_steering;
use tidy_lattice_project::reason;

use crate::error::CliError;
use crate::screen;

/// What is held back of results.
static HELD: Mutex<Option<String>> = Mutex::new(None);

/// Does `work`, and holds back the results that it prints.
pub fn hold<T>(work: impl FnOnce() -> T) -> (T, String) {
    let held = || HELD.lock().unwrap_or_else(PoisonError::into_inner);
    *held() = Some(String::new());
    let result = work();
    let text = held().take().unwrap_or_default();
    (result, text)
}

/// Prints an answer: JSON as it is, a view for people as wide as their screen.
pub fn answer(json: bool, text: &str) -> Result<(), CliError> {
    if json { print(text) } else { view(text) }
}

/// Prints a view for people, as wide as their screen.
pub fn view(text: &str) -> Result<(), CliError> {
    print(&screen::fit(text))
}

/// Prints a result as it is. A reader that has gone away is no error.
pub fn print(text: &str) -> Result<(), CliError> {
    let text = without_steering(text);
    if let Some(held) = HELD.lock().unwrap_or_else(PoisonError::into_inner).as_mut() {
        held.push_str(&text);
        return Ok(());
    }
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

/// What was said already.
static SAID: Mutex<BTreeSet<String>> = Mutex::new(BTreeSet::new());

/// From now on, what was said may be said again.
pub fn say_again() {
    SAID.lock().unwrap_or_else(PoisonError::into_inner).clear();
}

/// Says something that the user should know, once.
pub fn note(text: &str) {
    let mut said = SAID.lock().unwrap_or_else(PoisonError::into_inner);
    if !said.insert(text.to_owned()) {
        return;
    }
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
