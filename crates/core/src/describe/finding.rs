//! What is wrong with a font, or must be known before it is used.

use serde::Serialize;

/// Something that a user should know, with a stable code.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct Finding {
    /// The stable code, such as `font-table-broken`.
    pub code: &'static str,
    /// Whether it is a fault, not only a fact to know.
    pub fault: bool,
    /// What, where, why it matters and what to do, in a sentence.
    pub text: String,
}

impl Finding {
    /// A fact to know.
    pub(super) fn fact(code: &'static str, text: impl Into<String>) -> Self {
        Finding {
            code,
            fault: false,
            text: text.into(),
        }
    }

    /// Something that is wrong.
    pub(super) fn fault(code: &'static str, text: impl Into<String>) -> Self {
        Finding {
            code,
            fault: true,
            text: text.into(),
        }
    }
}
