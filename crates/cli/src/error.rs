//! Errors, the exit status of each, and the status of success.

use std::io;
use std::path::PathBuf;
use std::process::ExitCode;

use tidy_lattice_core::font::{CardError, FontError};
use tidy_lattice_core::platform::DefinitionError;
use tidy_lattice_core::stack::BuildError;
use tidy_lattice_core::text::TextError;

/// How a command that did its work ended.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Outcome {
    /// Nothing to report.
    Clean,
    /// There are findings.
    Findings,
}

impl Outcome {
    /// Findings where `found`.
    pub fn of(found: bool) -> Self {
        if found {
            Outcome::Findings
        } else {
            Outcome::Clean
        }
    }
}

impl From<Outcome> for ExitCode {
    fn from(outcome: Outcome) -> Self {
        match outcome {
            Outcome::Clean => ExitCode::SUCCESS,
            Outcome::Findings => ExitCode::from(1),
        }
    }
}

/// Why a command could not do its work. Each message says what, where and how
/// to go on.
#[derive(Debug, thiserror::Error)]
pub enum CliError {
    /// The arguments do not make sense together.
    #[error("{0}")]
    Usage(String),
    /// A font file cannot be used.
    #[error("{}: {error}", path.display())]
    Font {
        /// The file as named by the user.
        path: PathBuf,
        /// What is wrong with it.
        error: FontError,
    },
    /// A card cannot be used.
    #[error("{}: {error}", path.display())]
    Card {
        /// The file as named by the user.
        path: PathBuf,
        /// What is wrong with it.
        error: CardError,
    },
    /// A file defines no platform.
    #[error("{}: {error}", path.display())]
    Platform {
        /// The file as named by the user.
        path: PathBuf,
        /// What is wrong with it.
        error: DefinitionError,
    },
    /// A text file cannot be used.
    #[error("{}: {error}", path.display())]
    Text {
        /// The file as named by the user.
        path: PathBuf,
        /// What is wrong with it.
        error: TextError,
    },
    /// A file cannot be read.
    #[error("{}: {reason}", path.display())]
    Unreadable {
        /// The file as named by the user.
        path: PathBuf,
        /// What the system or we say.
        reason: String,
    },
    /// No stack can be built from what was given.
    #[error("{0}")]
    Build(#[from] BuildError),
    /// A browser cannot be driven.
    #[error(transparent)]
    Browser(#[from] tidy_lattice_browser::BrowserError),
    /// An output cannot be written.
    #[error("{}: {reason}", path.display())]
    Unwritable {
        /// The output.
        path: PathBuf,
        /// What the system or we say.
        reason: String,
    },
}

impl CliError {
    /// The message without the file's name in front.
    pub fn without_path(&self) -> String {
        match self {
            CliError::Font { error, .. } => error.to_string(),
            CliError::Card { error, .. } => error.to_string(),
            CliError::Platform { error, .. } => error.to_string(),
            CliError::Text { error, .. } => error.to_string(),
            CliError::Unreadable { reason, .. } | CliError::Unwritable { reason, .. } => {
                reason.clone()
            }
            CliError::Usage(_) | CliError::Build(_) | CliError::Browser(_) => self.to_string(),
        }
    }

    /// 2 for wrong usage, 3 for inputs, 4 for outputs, 5 for browsers.
    pub fn exit_code(&self) -> ExitCode {
        ExitCode::from(match self {
            CliError::Usage(_) => 2,
            CliError::Font { .. }
            | CliError::Card { .. }
            | CliError::Platform { .. }
            | CliError::Text { .. }
            | CliError::Unreadable { .. }
            | CliError::Build(_) => 3,
            CliError::Unwritable { .. } => 4,
            CliError::Browser(_) => 5,
        })
    }
}

/// What the system says, in words that help.
pub fn reason(error: &io::Error) -> String {
    match error.kind() {
        io::ErrorKind::NotFound => {
            "there is no such file; check the spelling and the folder".to_owned()
        }
        io::ErrorKind::PermissionDenied => "permission denied".to_owned(),
        io::ErrorKind::IsADirectory => "this is a folder; name the files in it".to_owned(),
        _ => error.to_string(),
    }
}
