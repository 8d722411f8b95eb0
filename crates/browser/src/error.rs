//! What goes wrong with a browser.

use std::path::PathBuf;

/// Why a browser cannot be driven.
#[derive(Debug, thiserror::Error)]
pub enum BrowserError {
    /// There is no such program.
    #[error("{browser} cannot be driven: there is no {driver} on PATH; {remedy}")]
    NoDriver {
        /// The browser, for people.
        browser: &'static str,
        /// The program that was looked for.
        driver: String,
        /// A way out.
        remedy: String,
    },
    /// A program does not start.
    #[error("{program} does not start: {reason}")]
    NotStarted {
        /// The program.
        program: PathBuf,
        /// Why.
        reason: String,
    },
    /// The driver makes no session.
    #[error("{browser} gives no session: {reason}")]
    NoSession {
        /// The browser, for people.
        browser: &'static str,
        /// Why.
        reason: String,
    },
    /// The browser does not answer in time.
    #[error("{browser} did not answer within {seconds} s ({what}); give it longer with --timeout")]
    TimedOut {
        /// The browser, for people.
        browser: &'static str,
        /// What it was asked for.
        what: &'static str,
        /// How long it had.
        seconds: u64,
    },
    /// The browser, or its driver, is gone.
    #[error("{browser} is gone ({what}): {reason}")]
    Gone {
        /// The browser, for people.
        browser: &'static str,
        /// What it was asked for.
        what: &'static str,
        /// What was heard last.
        reason: String,
    },
    /// It answers something else than was asked for.
    #[error("{browser} answers otherwise than expected ({what}): {reason}")]
    Odd {
        /// The browser, for people.
        browser: &'static str,
        /// What it was asked for.
        what: &'static str,
        /// What it said.
        reason: String,
    },
    /// The server of files does not start, or a temporary folder cannot be made.
    #[error("{what} cannot be had on this machine: {reason}")]
    NoRoom {
        /// What.
        what: &'static str,
        /// Why.
        reason: std::io::Error,
    },
}
