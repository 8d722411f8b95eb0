//! What texts ask for and do not get: features, weights and styles; and what they load.

use std::fmt::Write as _;

use tidy_lattice_core::lattice::survey::{FaceUse, FeatureLack, TextCost};
use tidy_lattice_core::page::StyleValue;

use crate::show::text::{TITLE, count, kilobytes, paragraph, safe, styled};
use crate::show::trace::fakes;

/// Lines of the smaller parts.
const MOST_LINES: usize = 8;

/// Features that no font has.
pub fn features(lacks: &[FeatureLack]) -> String {
    if lacks.is_empty() {
        return String::new();
    }
    let mut text = format!("{}\n", styled(TITLE, "Features asked for and not there"));
    for lack in lacks.iter().take(MOST_LINES) {
        let lost = if lack.lost_in_fallback {
            " (a fallback steps in)"
        } else {
            ""
        };
        let line = format!(
            "{} asks for {} ({}), but {} has none: {}, first in {}:{}{lost}",
            safe(&lack.asked_in),
            lack.feature,
            safe(&lack.asked_by),
            safe(&lack.font),
            count(lack.clusters, "cluster", "clusters"),
            safe(&lack.first.source),
            lack.first.line,
        );
        text.push_str(&paragraph(&line));
    }
    more(&mut text, lacks.len());
    text
}

/// Weights and styles that are shown by others.
pub fn faces(uses: &[FaceUse]) -> String {
    let differing: Vec<&FaceUse> = uses.iter().filter(|used| used.differs()).collect();
    if differing.is_empty() {
        return String::new();
    }
    let mut text = format!(
        "{}\n",
        styled(TITLE, "Weights and styles that are not there")
    );
    for used in differing.iter().take(MOST_LINES) {
        let slope = match used.style {
            StyleValue::Normal => "",
            StyleValue::Italic => " italic",
            StyleValue::Oblique(_) => " oblique",
        };
        let mut becomes = Vec::new();
        if used.other_weight {
            becomes.push(format!("weight {}", range(used)));
        }
        becomes.extend(fakes(used.faked).map(str::to_owned));
        let line = format!(
            "{} {}{slope} ({}) is shown by {}: {}",
            safe(&used.family),
            used.weight,
            safe(&used.roles.join(", ")),
            safe(&used.face),
            becomes.join(", "),
        );
        text.push_str(&paragraph(&line));
    }
    more(&mut text, differing.len());
    text
}

fn range(used: &FaceUse) -> String {
    if used.offers.from == used.offers.to {
        used.offers.from.to_string()
    } else {
        format!("{} to {}", used.offers.from, used.offers.to)
    }
}

/// The fonts of each text.
pub fn cost(texts: &[TextCost]) -> String {
    if texts.is_empty() {
        return String::new();
    }
    let mut text = format!("{}\n", styled(TITLE, "Fonts that each text touches"));
    for cost in texts.iter().take(MOST_LINES) {
        let files = match cost.files {
            0 => "none loaded".to_owned(),
            files => format!(
                "{} loaded, {} KiB",
                count(files as u64, "file", "files"),
                kilobytes(cost.bytes)
            ),
        };
        let few: Vec<String> = cost
            .fonts
            .iter()
            .filter(|font| !font.only_for.is_empty())
            .map(|font| {
                format!(
                    "{} only for {}",
                    safe(&font.name),
                    safe(&font.only_for.join(" "))
                )
            })
            .collect();
        let few = if few.is_empty() {
            String::new()
        } else {
            format!("; {}", few.join("; "))
        };
        // A font in slices is one font in several files.
        let mut names: Vec<&str> = cost.fonts.iter().map(|font| font.name.as_str()).collect();
        names.sort_unstable();
        names.dedup();
        let line = format!(
            "{}: {} ({files}){few}",
            safe(&cost.source),
            count(names.len() as u64, "font", "fonts"),
        );
        text.push_str(&paragraph(&line));
    }
    more(&mut text, texts.len());
    text
}

fn more(text: &mut String, all: usize) {
    if all > MOST_LINES {
        let _ = writeln!(text, " and {} more (--json has all)", all - MOST_LINES);
    }
}
