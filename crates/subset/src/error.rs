//! Why a font could not be cut, each with a way out.

/// Why a face was not cut. The messages name the place inside the file; the caller
/// knows the file's name and puts it in front.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum CutError {
    /// A table contradicts itself or ends early.
    #[error("its table '{table}' is damaged ({detail}); export or download the font again")]
    Damaged {
        /// The table's tag.
        table: &'static str,
        /// What is wrong with it.
        detail: String,
    },
    /// A table is missing without which there is nothing to cut.
    #[error("it has no '{table}' table; export the font again")]
    NoTable {
        /// The table's tag, or what is needed of several.
        table: &'static str,
    },
    /// The tables of the font ask for far more work than their size suggests.
    #[error(
        "its tables overlap or repeat each other so often that reading them would not end; \
         this is no font that a font editor writes"
    )]
    TooMuchWork,
    /// A table does not fit its offsets.
    #[error("its table '{table}' does not fit its 16-bit offsets once it is cut; keep it whole")]
    DoesNotFit {
        /// The table's tag.
        table: &'static str,
    },
    /// A limit is of an axis that the face does not have, or leads out of it.
    #[error("it has no axis for {asked}: there are {known}")]
    NoAxis {
        /// The limit.
        asked: String,
        /// Its axes.
        known: String,
    },
    /// The face has nothing of what is needed.
    #[error("it has none of the {wanted} characters that are needed; leave the face out")]
    NothingNeeded {
        /// How many characters were needed.
        wanted: u64,
    },
    /// The face is of a kind that cannot be cut yet.
    #[error("{what} cannot be cut; use the file as it is")]
    NotSupported {
        /// What the face is.
        what: &'static str,
    },
    /// What was cut does not show what the source shows: the font contradicts itself, or it
    /// is a fault of ours.
    #[error(
        "the cut face would not show “{text}” as the source does ({detail}); nothing is \
         written. Either the font is damaged, or this is a fault of the tool: use the file whole"
    )]
    ShowsOtherwise {
        /// The text.
        text: String,
        /// What differs.
        detail: String,
    },
}
