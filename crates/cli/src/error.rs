//! Errors, the exit status of each, and the status of success.

use std::path::PathBuf;
use std::process::ExitCode;

use tidy_lattice_core::stack::BuildError;
use tidy_lattice_project::ProjectError;

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
    /// Something that was named cannot be had.
    #[error(transparent)]
    Input(#[from] ProjectError),
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

impl From<BuildError> for CliError {
    fn from(error: BuildError) -> Self {
        CliError::Input(error.into())
    }
}

impl CliError {
    /// 2 for wrong usage, 3 for inputs, 4 for outputs, 5 for browsers.
    pub fn exit_code(&self) -> ExitCode {
        ExitCode::from(match self {
            CliError::Usage(_) | CliError::Input(ProjectError::Usage(_)) => 2,
            CliError::Input(_) => 3,
            CliError::Unwritable { .. } => 4,
            CliError::Browser(_) => 5,
        })
    }
}
