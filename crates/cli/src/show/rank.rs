//! `rank` for people.

use std::fmt::Write as _;

use tidy_lattice_core::rank::{Part, Ranked};

use super::table::{lines, table};
use super::text::{FAINT, GOOD, TITLE, count, labelled, paragraph, safe, styled};
use crate::results::RankedFaces;

/// How many candidates are shown where not all are asked for.
const SHOWN: usize = 12;

/// Candidates in order, then those that cannot serve.
pub fn view(ranked: &RankedFaces, all: bool) -> String {
    let (good, rejected): (Vec<&Ranked>, Vec<&Ranked>) = ranked
        .candidates
        .iter()
        .partition(|candidate| !candidate.rejected);
    let mut view = format!(
        "{}\n\n",
        styled(
            TITLE,
            &format!(
                "{} for {} ({}), measured on {}",
                count(good.len() as u64, "fallback", "fallbacks"),
                safe(&ranked.web.label()),
                ranked.class.label(),
                safe(&ranked.text)
            )
        )
    );
    let shown = if all {
        good.len()
    } else {
        good.len().min(SHOWN)
    };
    if !good.is_empty() {
        if let Some(first) = good.first() {
            view.push_str(&paragraph(&format!(
                "{} is {}.",
                styled(GOOD, &safe(&first.names.label())),
                safe(&first.reason)
            )));
            view.push_str(&paragraph(&score(first)));
            view.push('\n');
        }
        view.push_str(&measurements(&good[..shown]));
        view.push('\n');
        for candidate in good.iter().take(shown).skip(1) {
            view.push_str(&labelled(
                &format!("{}.", candidate.place.unwrap_or_default()),
                &format!(
                    "{}: {}",
                    safe(&candidate.names.label()),
                    safe(&candidate.reason)
                ),
            ));
        }
        if shown < good.len() {
            let more = good.len() - shown;
            view.push_str(&paragraph(&styled(
                FAINT,
                &format!("{more} more; --all shows them"),
            )));
        }
    }
    if !rejected.is_empty() {
        let _ = write!(view, "\n{}\n", styled(TITLE, "Cannot serve"));
        let shown = if all {
            rejected.len()
        } else {
            rejected.len().min(SHOWN)
        };
        for candidate in &rejected[..shown] {
            view.push_str(&paragraph(&format!(
                "- {}: {}",
                safe(&candidate.names.label()),
                safe(&candidate.reason)
            )));
        }
        if shown < rejected.len() {
            let more = rejected.len() - shown;
            view.push_str(&paragraph(&styled(
                FAINT,
                &format!("{more} more; --all shows them"),
            )));
        }
    }
    view.push_str(&name_only(ranked, all));
    view
}

/// What nobody has measured, and how it can be.
fn name_only(ranked: &RankedFaces, all: bool) -> String {
    const NAMED: usize = 6;
    if ranked.name_only.is_empty() {
        return String::new();
    }
    let many = ranked.name_only.len();
    let named = if all { many } else { many.min(NAMED) };
    let mut names = ranked.name_only[..named].join(", ");
    if named < many {
        let _ = write!(names, " and {} more", many - named);
    }
    let text = format!(
        "{} of this class {} known by name only and not ranked: {}. The page of `tidy-lattice \
         record --page`, opened on such a device, measures them.",
        count(many as u64, "family", "families"),
        if many == 1 { "is" } else { "are" },
        safe(&names)
    );
    format!("\n{}", paragraph(&styled(FAINT, &text)))
}

fn measurements(good: &[&Ranked]) -> String {
    let mut table = table(
        &[
            "",
            "Face",
            "score",
            "words off",
            "breaks",
            "x-height",
            "fitted",
            "caps",
            "stems",
            "on",
        ],
        &[0, 2, 3, 4, 5, 6, 7, 8],
    );
    let ratio = |ratio: Option<f64>| {
        ratio.map_or("–".to_owned(), |ratio| format!("{:.0} %", ratio * 100.0))
    };
    for candidate in good {
        let widths = candidate.widths.as_ref();
        table.add_row([
            candidate
                .place
                .map_or(String::new(), |place| place.to_string()),
            format!(
                "{}{}",
                safe(&candidate.names.label()),
                if candidate.card { " (card)" } else { "" }
            ),
            format!("{:.1}", candidate.score),
            widths.map_or("–".to_owned(), |widths| {
                format!(
                    "{:.1} % ({:.1} %)",
                    widths.after.word_mean, widths.before.word_mean
                )
            }),
            widths
                .and_then(|widths| Some((widths.breaks_after?, widths.breaks_before?)))
                .map_or("–".to_owned(), |(after, before)| {
                    format!("{:.0} % ({:.0} %)", after.share(), before.share())
                }),
            ratio(candidate.x_height_ratio),
            ratio(candidate.x_height_ratio_fitted),
            ratio(candidate.cap_height_ratio_fitted),
            ratio(candidate.stem_ratio_fitted),
            safe(&candidate.platforms.join(", ")),
        ]);
    }
    let mut text = lines(&table);
    text.push_str(&paragraph(&styled(
        FAINT,
        "words off and breaks: once resized to the web font's widths (as they are); heights and \
         stems in % of the web font's, at equal size and fitted",
    )));
    text
}

/// The parts of a score.
fn score(first: &Ranked) -> String {
    let parts: Vec<String> = Part::ALL
        .into_iter()
        .filter_map(|part| {
            Some(format!(
                "{} {:.0}",
                part.name(),
                first.parts.get(part)? * 100.0
            ))
        })
        .collect();
    styled(
        FAINT,
        &format!("Its score of {:.1}: {}", first.score, parts.join(", ")),
    )
}
