//! What an element does to counters (CSS Lists 3, §4).

/// Counters by name, each with the number that is declared for it.
pub(crate) type Numbered = Vec<(String, i32)>;

/// `counter-reset`, `counter-increment` and `counter-set`.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub(crate) struct CounterChanges {
    /// Counters that start anew, each from this number.
    pub reset: Numbered,
    /// Counters that go on, each by this number.
    pub increment: Numbered,
    /// Counters that are put to this number.
    pub set: Numbered,
}
