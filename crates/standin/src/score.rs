//! How candidates for line metrics compare.

use std::cmp::Ordering;

/// How good a candidate is.
#[derive(Debug, Clone, Copy, Default)]
pub struct Score {
    /// Named sizes at which a stand-in's lines differ.
    pub off_named: u32,
    /// Other sizes at which they do.
    pub off_others: u32,
    /// Named sizes at which the web font's own lines change.
    pub web_named: u32,
    /// Other sizes at which they do.
    pub web_others: u32,
    /// How far the values are from the font's own, in % of an em.
    pub moved: f64,
}

impl Score {
    /// Adds sizes (named, others) at which lines differ.
    pub fn add_off(&mut self, off: (u32, u32)) {
        self.off_named += off.0;
        self.off_others += off.1;
    }

    /// Whether no lines differ.
    pub fn is_even(&self) -> bool {
        self.off_named == 0 && self.off_others == 0
    }

    /// Less is better. A jump at a named size is worst. Of the rest, a jump at
    /// another size weighs as much as eight lasting changes there, and a lasting
    /// change of one px at a named size as much as two such jumps.
    pub fn rank(&self) -> (u32, u32) {
        let rest = 8 * self.off_others + 16 * self.web_named + self.web_others;
        (self.off_named, rest)
    }

    /// By rank, then by how little values were moved.
    pub fn compare(&self, other: &Score) -> Ordering {
        let by_rank = self.rank().cmp(&other.rank());
        by_rank.then(self.moved.total_cmp(&other.moved))
    }

    /// Both together.
    pub fn plus(self, other: Score) -> Score {
        Score {
            off_named: self.off_named + other.off_named,
            off_others: self.off_others + other.off_others,
            web_named: self.web_named + other.web_named,
            web_others: self.web_others + other.web_others,
            moved: self.moved + other.moved,
        }
    }
}
