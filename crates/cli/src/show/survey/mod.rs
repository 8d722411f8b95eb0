//! `cover` of a project or of pages, for people: the verdict, the gaps, one lattice a stack,
//! and what else texts ask for and do not get.

mod asked;
mod gaps;
mod lattice;
mod lists;

use std::fmt::Write as _;

use tidy_lattice_core::lattice::survey::SurveyGap;
use tidy_lattice_core::style::read::FamilyName;

use self::asked::{cost, faces, features};
use self::gaps::{gaps, worst};
use self::lattice::{Rows, lattice, shows_all};
use super::GapLimit;
use super::text::{BAD, FAINT, GOOD, count, paragraph, safe, styled, thousands};
use crate::results::Covered;

pub use self::lists::lists;

/// Everything.
pub fn view(covered: &Covered, limit: GapLimit) -> String {
    let survey = &covered.survey;
    let mut view = verdict(covered);
    view.push_str(&worst(survey));
    if !survey.gaps.is_empty() {
        let _ = write!(view, "\n{}", gaps(survey, limit));
    }
    let mut complete = Vec::new();
    for (place, set) in survey.sets.iter().enumerate() {
        // The first has most text; of the others what is missing matters.
        let rows = match limit {
            GapLimit::All => Rows::All,
            GapLimit::Most(_) if place == 0 => Rows::First,
            GapLimit::Most(_) => Rows::WithGaps,
        };
        if rows == Rows::WithGaps && shows_all(set) {
            complete.push(set);
        } else {
            let _ = write!(view, "\n{}", lattice(set, survey.platforms.len(), rows));
        }
    }
    if !complete.is_empty() {
        let names = complete.iter();
        let names: Vec<String> = names.map(|set| safe(&set.roles.join(", "))).collect();
        let _ = write!(
            view,
            "\n{}",
            paragraph(&format!(
                "{} all of their texts: {}; --all lists them.",
                count(names.len() as u64, "more stack shows", "more stacks show"),
                names.join("; ")
            ))
        );
    }
    view.push_str(&paragraph(&styled(
        FAINT,
        "A cell: the share that the family serves, or (could serve, but an earlier one does).",
    )));
    for part in [
        left(&survey.left),
        features(&survey.features),
        faces(&survey.faces),
        cost(&survey.texts),
    ] {
        if !part.is_empty() {
            let _ = write!(view, "\n{part}");
        }
    }
    view
}

/// What the system shows by itself.
fn left(left: &[SurveyGap]) -> String {
    if left.is_empty() {
        return String::new();
    }
    let shown: Vec<String> = left
        .iter()
        .take(MOST_LEFT)
        .map(|gap| safe(&gap.cluster))
        .collect();
    let more = match left.len().saturating_sub(MOST_LEFT) {
        0 => String::new(),
        more => format!(" and {more} more"),
    };
    paragraph(&format!(
        "Left to the system, which has a font for these that no stack names: {}{more}",
        shown.join(" ")
    ))
}

/// The verdict, the largest lattice and the most frequent gaps.
pub fn brief(covered: &Covered) -> String {
    let survey = &covered.survey;
    let mut view = verdict(covered);
    if let Some(set) = survey.sets.first() {
        let _ = write!(
            view,
            "\n{}",
            lattice(set, survey.platforms.len(), Rows::First)
        );
    }
    let _ = write!(view, "\n{}", gaps(survey, GapLimit::Most(4)));
    view
}

/// How many clusters that the system shows are listed.
const MOST_LEFT: usize = 24;

fn verdict(covered: &Covered) -> String {
    let survey = &covered.survey;
    let whole = count(survey.clusters, "cluster", "clusters");
    let allowed = match survey.allowed_clusters {
        0 => String::new(),
        1 => " 1 more is missing, as the project allows.".to_owned(),
        some => format!(
            " {} more are missing, as the project allows.",
            thousands(some)
        ),
    };
    let text = if survey.gap_clusters == 0 && survey.open {
        format!(
            "Nothing falls through as far as is known: a style sheet on the network was not read \
             (--map names a copy).{allowed}"
        )
    } else if survey.gap_clusters == 0 {
        // The system has a font of its own for these, of whatever look.
        let left: u64 = survey.left.iter().map(|gap| gap.count).sum();
        match left {
            0 => format!("Every character shows: the stacks serve all {whole}.{allowed}"),
            left => format!(
                "Every character shows; of {whole} {} {} left to fonts that the system picks, \
                 somewhere.{allowed}",
                thousands(left),
                if left == 1 { "is" } else { "are" }
            ),
        }
    } else {
        let different = survey.gaps.iter().filter(|gap| !gap.allowed).count() as u64;
        format!(
            "{} of {whole} fall through or are drawn wrongly somewhere ({} different).{allowed}",
            thousands(survey.gap_clusters),
            thousands(different),
        )
    };
    let style = if survey.gap_clusters > covered.most_gaps {
        BAD
    } else {
        GOOD
    };
    let project = match covered.project.as_str() {
        "" => String::new(),
        title => format!("{}: ", safe(title)),
    };
    format!("{project}{}\n", styled(style, &text))
}

/// A stack as it is written.
fn stack_text(stack: &[FamilyName]) -> String {
    let names: Vec<String> = stack.iter().map(|family| safe(family.as_str())).collect();
    names.join(", ")
}
