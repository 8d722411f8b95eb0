//! Why something that a project names cannot be had.

use std::io;
use std::path::PathBuf;

use tidy_lattice_core::font::{CardError, FontError};
use tidy_lattice_core::platform::DefinitionError;
use tidy_lattice_core::stack::BuildError;
use tidy_lattice_core::text::TextError;

/// Why something cannot be had. Each message says what, where and how to go on.
#[derive(Debug, thiserror::Error)]
#[non_exhaustive]
pub enum ProjectError {
    /// What is asked for does not make sense.
    #[error("{0}")]
    Usage(String),
    /// A font file cannot be used.
    #[error("{}: {error}", path.display())]
    Font {
        /// The file as it was named.
        path: PathBuf,
        /// What is wrong with it.
        error: FontError,
    },
    /// A card cannot be used.
    #[error("{}: {error}", path.display())]
    Card {
        /// The file as it was named.
        path: PathBuf,
        /// What is wrong with it.
        error: CardError,
    },
    /// A file defines no platform.
    #[error("{}: {error}", path.display())]
    Platform {
        /// The file as it was named.
        path: PathBuf,
        /// What is wrong with it.
        error: DefinitionError,
    },
    /// A text file cannot be used.
    #[error("{}: {error}", path.display())]
    Text {
        /// The file as it was named.
        path: PathBuf,
        /// What is wrong with it.
        error: TextError,
    },
    /// A file cannot be read.
    #[error("{}: {reason}", path.display())]
    Unreadable {
        /// The file as it was named.
        path: PathBuf,
        /// What the system or we say.
        reason: String,
    },
    /// No stack can be built from what was given.
    #[error("{0}")]
    Build(#[from] BuildError),
}

impl ProjectError {
    /// The message without the file's name in front.
    pub fn without_path(&self) -> String {
        match self {
            ProjectError::Font { error, .. } => error.to_string(),
            ProjectError::Card { error, .. } => error.to_string(),
            ProjectError::Platform { error, .. } => error.to_string(),
            ProjectError::Text { error, .. } => error.to_string(),
            ProjectError::Unreadable { reason, .. } => reason.clone(),
            ProjectError::Usage(_) | ProjectError::Build(_) => self.to_string(),
        }
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
