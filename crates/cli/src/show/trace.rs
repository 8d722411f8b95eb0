//! `trace` for people.

use std::fmt::Write as _;

use tidy_lattice_core::lattice::{Origin, Passed, PassedFace, TracedEntry, TracedPiece};
use tidy_lattice_core::style::matching::Faked;

use super::table::{lines, table};
use super::text::{BAD, FAINT, GOOD, TITLE, count, safe, styled};
use crate::results::{PlatformTrace, Traced};

/// Code points that are listed for a reason before the rest is counted.
const MOST_POINTS: usize = 6;

/// Platforms that show the same are told once.
pub fn view(traced: &Traced) -> String {
    let mut groups: Vec<(Vec<&PlatformTrace>, &PlatformTrace)> = Vec::new();
    for platform in &traced.platforms {
        let same = groups
            .iter_mut()
            .find(|(_, first)| shown(first) == shown(platform));
        match same {
            Some((members, _)) => members.push(platform),
            None => groups.push((vec![platform], platform)),
        }
    }
    let mut view = verdict(traced, groups.len());
    for (members, first) in &groups {
        let titles: Vec<&str> = members
            .iter()
            .filter_map(|one| one.title.as_deref())
            .collect();
        if !titles.is_empty() {
            let _ = write!(view, "\n{}\n", styled(TITLE, &titles.join(", ")));
        } else {
            view.push('\n');
        }
        view.push_str(&pieces(first));
        view.push_str(&absent(first));
    }
    view
}

/// What of a trace decides whether two platforms show the same.
fn shown(platform: &PlatformTrace) -> impl PartialEq + use<'_> {
    let pieces: Vec<_> = platform
        .trace
        .pieces
        .iter()
        .map(|piece| (&piece.text, &piece.font, piece.flaw))
        .collect();
    let stack: Vec<_> = platform
        .trace
        .stack
        .iter()
        .map(|entry| &entry.absent)
        .collect();
    (pieces, stack)
}

fn verdict(traced: &Traced, groups: usize) -> String {
    let worst = traced
        .platforms
        .iter()
        .max_by_key(|platform| platform.trace.left);
    let Some(worst) = worst else {
        return String::new();
    };
    let all = count(worst.trace.clusters, "cluster", "clusters");
    let when = if traced.before_load {
        " while web fonts load"
    } else {
        ""
    };
    let flaws = traced.platforms.iter().any(|platform| {
        platform
            .trace
            .pieces
            .iter()
            .any(|piece| piece.flaw.is_some())
    });
    let text = if worst.trace.left > 0 {
        let left = traced
            .platforms
            .iter()
            .filter(|platform| platform.trace.left > 0);
        let on = match (left.count(), traced.platforms.len()) {
            (_, 1) => String::new(),
            (some, all) if some == all => " on every platform".to_owned(),
            (some, all) => format!(" on {some} of {all} platforms"),
        };
        let least = traced.platforms.iter().map(|platform| platform.trace.left);
        let same = least.min() == Some(worst.trace.left);
        let up_to = if same { "" } else { "Up to " };
        let are = if worst.trace.left == 1 { "is" } else { "are" };
        styled(
            BAD,
            &format!(
                "{up_to}{} of {all} {are} left to the browser{on}{when}.",
                worst.trace.left
            ),
        )
    } else if flaws {
        styled(
            BAD,
            &format!("The stack has all {all}{when}, but some are drawn wrongly."),
        )
    } else {
        styled(
            GOOD,
            &format!("A font of the stack shows each of {all}{when}."),
        )
    };
    let spread = if groups > 1 {
        format!(" Platforms show it in {groups} ways.")
    } else {
        String::new()
    };
    format!("{text}{spread}\n")
}

fn pieces(platform: &PlatformTrace) -> String {
    let mut table = table(&["Piece", "shown by", "why not an earlier one"], &[]);
    for piece in folded(&platform.trace.pieces) {
        let direction = if piece.right_to_left {
            " (right to left)"
        } else {
            ""
        };
        table.add_row([
            format!("{}{direction}", quoted(&piece.text)),
            server(&piece),
            reasons(&piece.passed),
        ]);
    }
    lines(&table)
}

/// Blanks belong to the piece before them for a reader.
fn folded(pieces: &[TracedPiece]) -> Vec<TracedPiece> {
    let mut folded: Vec<TracedPiece> = Vec::new();
    for piece in pieces {
        match folded.last_mut() {
            Some(last) if piece.blank => last.text.push_str(&piece.text),
            Some(last)
                if !last.blank
                    && (&last.font, last.flaw, &last.passed, last.right_to_left)
                        == (&piece.font, piece.flaw, &piece.passed, piece.right_to_left) =>
            {
                last.text.push_str(&piece.text);
            }
            Some(last) if last.blank => {
                let text = format!("{}{}", last.text, piece.text);
                *last = TracedPiece {
                    text,
                    ..piece.clone()
                };
            }
            _ => folded.push(piece.clone()),
        }
    }
    folded
}

/// The text in marks that keep its direction to itself; code points where
/// nothing of it can be printed.
fn quoted(text: &str) -> String {
    const LONGEST: usize = 40;
    let text = text.replace(['\n', '\r', '\t'], " ");
    let shown: String = text.chars().take(LONGEST).collect();
    let rest = if text.chars().count() > LONGEST {
        "…"
    } else {
        ""
    };
    format!("{}{rest}", safe(shown.trim_end()))
}

fn server(piece: &TracedPiece) -> String {
    let Some(font) = &piece.font else {
        let base = match &piece.base_by {
            Some(family) => format!(", else its base in {}", safe(family)),
            None => String::new(),
        };
        return styled(BAD, &format!("left to the browser{base}"));
    };
    let mut text = match &font.origin {
        Origin::Web { .. } | Origin::Given => safe(&font.name),
        Origin::Local { name, .. } => format!("{} (local {})", safe(&font.family), safe(name)),
        Origin::Installed if font.family == font.name => safe(&font.name),
        Origin::Installed => format!("{} ({})", safe(&font.name), safe(&font.family)),
    };
    if !font.certain {
        text.push_str(", probably");
    }
    if let Some(faked) = fakes(font.faked) {
        let _ = write!(text, ", {faked}");
    }
    if let Some(flaw) = piece.flaw {
        let _ = write!(text, ", {}", styled(BAD, &flaw.label()));
        if let Some(better) = &piece.better {
            let _ = write!(text, " (not so in {})", safe(better));
        }
    }
    text
}

/// `faked bold`, where anything is.
pub fn fakes(faked: Faked) -> Option<&'static str> {
    match (faked.bold, faked.italic) {
        (true, true) => Some("faked bold and italic"),
        (true, false) => Some("faked bold"),
        (false, true) => Some("faked italic"),
        (false, false) => None,
    }
}

fn reasons(passed: &[PassedFace]) -> String {
    if passed.is_empty() {
        return styled(FAINT, "·");
    }
    let words: Vec<String> = passed
        .iter()
        .map(|one| format!("{} {}", safe(&one.name), reason(one)))
        .collect();
    words.join("; ")
}

fn reason(passed: &PassedFace) -> String {
    match &passed.why {
        Passed::OutsideRange { .. } if passed.slices > 1 => {
            format!(
                "has no slice for it among {} (unicode-range)",
                passed.slices
            )
        }
        Passed::Lacks { code_points } if passed.slices > 1 => {
            format!("lacks {} in the slice that is for it", points(code_points))
        }
        Passed::Lacks { code_points } => format!("lacks {}", points(code_points)),
        Passed::OutsideRange { code_points } => {
            format!("is not for {} (unicode-range)", points(code_points))
        }
        Passed::WrongVariant => "has only the other variant".to_owned(),
        Passed::NotMadeForIt => "is not known to have it".to_owned(),
    }
}

fn points(code_points: &[String]) -> String {
    let listed = code_points
        .iter()
        .take(MOST_POINTS)
        .cloned()
        .collect::<Vec<_>>()
        .join(" ");
    match code_points.len().saturating_sub(MOST_POINTS) {
        0 => listed,
        more => format!("{listed} and {more} more"),
    }
}

/// Entries of the stack that give no font.
fn absent(platform: &PlatformTrace) -> String {
    let mut text = String::new();
    let absent = |entry: &TracedEntry| {
        let why = entry.absent.as_ref()?;
        Some(format!(
            " {}: {}",
            safe(entry.family.as_str()),
            safe(&why.label())
        ))
    };
    for line in platform.trace.stack.iter().filter_map(absent) {
        let _ = writeln!(text, "{}", styled(FAINT, &line));
    }
    text
}
