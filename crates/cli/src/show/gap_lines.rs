//! Gaps as lines of a table, alike for all that counts them.

use std::fmt::Write as _;
use std::mem::discriminant;

use tidy_lattice_core::lattice::survey::SurveyGap;
use tidy_lattice_core::lattice::{Gap, GapCause};
use tidy_lattice_core::text::Character;

use super::GapLimit;
use super::cover::{cause, code_points, shown};
use super::grouping::grouped;
use super::text::{TITLE, count, safe, styled, thousands};

/// What each kind of gap tells.
pub trait OneGap {
    /// The cluster.
    fn cluster(&self) -> &str;
    /// Its characters.
    fn characters(&self) -> &[Character];
    /// The row of a lattice that it belongs to.
    fn group(&self) -> &str;
    /// Why it is one.
    fn cause(&self) -> &GapCause;
    /// How often it occurs.
    fn times(&self) -> u64;
    /// Whether it falls through the same fonts in the same places.
    fn falls_as(&self, other: &Self) -> bool;
}

/// Both kinds have these fields; they differ in what says where they fall through.
macro_rules! one_gap {
    ($kind:ty, $falls_as:expr) => {
        impl OneGap for $kind {
            fn cluster(&self) -> &str {
                &self.cluster
            }

            fn characters(&self) -> &[Character] {
                &self.characters
            }

            fn group(&self) -> &str {
                &self.group
            }

            fn cause(&self) -> &GapCause {
                &self.cause
            }

            fn times(&self) -> u64 {
                self.count
            }

            fn falls_as(&self, other: &Self) -> bool {
                let falls_as: fn(&Self, &Self) -> bool = $falls_as;
                falls_as(self, other)
            }
        }
    };
}

one_gap!(Gap, |_, _| true);
one_gap!(SurveyGap, |a, b| a.stack == b.stack
    && a.platforms == b.platforms);

/// Gaps as lines, most frequent first; many of one script and reason together unless all
/// are asked for.
pub fn gap_lines<'a, G: OneGap>(gaps: &[&'a G], limit: GapLimit) -> Vec<Vec<&'a G>> {
    if limit == GapLimit::All {
        return gaps.iter().map(|gap| vec![*gap]).collect();
    }
    let alike = |a: &G, b: &G| {
        a.group() == b.group()
            && discriminant(a.cause()) == discriminant(b.cause())
            && a.falls_as(b)
    };
    grouped(gaps, alike, G::times)
}

/// How often the gaps of a line occur.
pub fn times<G: OneGap>(line: &[&G]) -> u64 {
    line.iter().map(|gap| gap.times()).sum()
}

/// How many lines are listed.
pub fn listed(lines: usize, limit: GapLimit) -> usize {
    match limit {
        GapLimit::All => lines,
        GapLimit::Most(most) => most.min(lines),
    }
}

/// A line as cells: clusters, times, code points, what it is; `font` names the fonts of the
/// stack.
pub fn cells<G: OneGap>(line: &[&G], font: impl Fn(usize) -> String) -> [String; 4] {
    let first = line[0];
    let times = thousands(times(line));
    if let [gap] = line {
        return [
            shown(gap.cluster(), gap.characters()),
            times,
            code_points(gap.characters()),
            cause(gap.characters(), gap.cause(), font),
        ];
    }
    let some = line.iter().take(SHOWN);
    let some: Vec<String> = some
        .map(|gap| shown(gap.cluster(), gap.characters()))
        .collect();
    [
        format!("{} …", some.join(" ")),
        times,
        format!("{} different", line.len()),
        in_common(first, font),
    ]
}

/// How many of many clusters are shown.
const SHOWN: usize = 5;

/// What many gaps of a script have in common.
fn in_common<G: OneGap>(gap: &G, font: impl Fn(usize) -> String) -> String {
    let group = safe(gap.group());
    match gap.cause() {
        GapCause::Flawed {
            font: taker, flaw, ..
        } => {
            format!("{group}: {} has it, but {}", font(*taker), flaw.label())
        }
        GapCause::Unjoined { font: taker, .. } => {
            format!("{group}: {} draws it in pieces", font(*taker))
        }
        GapCause::Variation { font: base } => {
            format!("{group}: {} has other variants only", font(*base))
        }
        GapCause::Split { .. } => format!("{group}: no font has all of a cluster"),
        GapCause::Missing { .. } => format!("{group}: no font of the stack has it"),
    }
}

/// What stands below the first `listed` of `all` lines.
pub fn rest<G: OneGap>(all: &[Vec<&G>], listed: usize) -> String {
    let mut text = String::new();
    if listed < all.len() {
        let rest: u64 = all[listed..].iter().map(|line| times(line)).sum();
        let _ = writeln!(
            text,
            " and {} more, {} in all; {} lists each",
            thousands((all.len() - listed) as u64),
            count(rest, "cluster", "clusters"),
            styled(TITLE, "--all"),
        );
    } else if all.iter().any(|line| line.len() > 1) {
        let _ = writeln!(text, " {} lists each cluster", styled(TITLE, "--all"));
    }
    text
}
