//! What computing the styles of one page may cost.
//!
//! Selectors, references and declarations multiply: a few kilobytes of `:is()` or of
//! custom properties ask for more steps than there is time for. Everything that
//! multiplies pays here, and ends where nothing is left.

use std::cell::Cell;

/// The most steps of a page. A step is an element that a selector looks at, or a byte
/// of a custom property that is copied; a declaration that is read costs
/// [`DECLARATION`] of them.
const MOST: u64 = 1 << 26;

/// What reading one declaration for one element costs, in steps.
pub(super) const DECLARATION: u64 = 8;

/// What is left of it.
#[derive(Debug)]
pub(super) struct Work {
    left: Cell<u64>,
}

impl Default for Work {
    fn default() -> Self {
        Work {
            left: Cell::new(MOST),
        }
    }
}

impl Work {
    /// Takes `steps` off; whether anything was left.
    pub fn pay(&self, steps: u64) -> bool {
        let left = self.left.get();
        self.left.set(left.saturating_sub(steps));
        left > 0
    }

    /// How many steps were taken.
    pub fn taken(&self) -> u64 {
        MOST - self.left.get()
    }

    /// Whether nothing is left.
    pub fn is_spent(&self) -> bool {
        self.left.get() == 0
    }
}
