//! Which face shows each piece of a text, in order, and why each earlier one does
//! not.

use icu_segmenter::GraphemeClusterSegmenter;
use serde::Serialize;
use tidy_lattice_documents::style::matching::Faked;
use tidy_lattice_documents::style::read::FamilyName;
use tidy_lattice_glyphs::text::{Character, is_shown};
use unicode_bidi::BidiInfo;

use super::forms::Flaw;
use super::serving::{Judge, Passed, Presentation, Served};
use super::stack::{Absent, Candidate, Origin, Resolved};

/// The most characters of a piece that are described one by one, and of the
/// reasons.
const MOST_CHARACTERS: usize = 24;

/// A text on one device.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Trace {
    /// The stack, entry by entry.
    pub stack: Vec<TracedEntry>,
    /// The text in pieces, in the order in which it is stored.
    pub pieces: Vec<TracedPiece>,
    /// Clusters that show something.
    pub clusters: u64,
    /// Of these, those that are left to the browser.
    pub left: u64,
}

/// An entry of the stack.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct TracedEntry {
    /// The family or keyword.
    pub family: FamilyName,
    /// The installed family that a generic one stands for.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub stands_for: Option<String>,
    /// Its faces that the style picks.
    pub faces: Vec<TracedFace>,
    /// Why there are none.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub absent: Option<Absent>,
}

/// A face that the style picks.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct TracedFace {
    /// The face, as it names itself.
    pub name: String,
    /// Where it comes from.
    pub origin: Origin,
    /// Its `unicode-range`.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub range: Option<String>,
    /// Whether its characters are known; else only the scripts that it is made
    /// for.
    pub measured: bool,
    /// What the browser fakes with it.
    pub faked: Faked,
}

/// A piece that one face shows.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct TracedPiece {
    /// The text.
    pub text: String,
    /// Where it starts, in bytes of UTF-8 from 0.
    pub start: usize,
    /// Its characters; only the first 24.
    pub characters: Vec<Character>,
    /// Whether it runs from right to left.
    pub right_to_left: bool,
    /// Whether it is only blanks, which take their width from the first face
    /// that has a space.
    pub blank: bool,
    /// The face; nothing where the piece is left to the browser.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub font: Option<PieceFont>,
    /// What the face does wrong with it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub flaw: Option<Flaw>,
    /// A later family that does it right.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub better: Option<String>,
    /// Where the system has no font for the variant, the family that shows the
    /// base after all.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub base_by: Option<String>,
    /// The earlier faces and why they do not serve it.
    pub passed: Vec<PassedFace>,
}

/// The face that shows a piece.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct PieceFont {
    /// The entry of the stack, counted from 0.
    pub entry: usize,
    /// The family, as the stack names it.
    pub family: String,
    /// The face, as it names itself.
    pub name: String,
    /// Its PostScript name, by which browsers' tools call it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub postscript: Option<String>,
    /// Where it comes from.
    pub origin: Origin,
    /// What the browser fakes with it.
    pub faked: Faked,
    /// Whether that is known; false where the face is known by name only.
    pub certain: bool,
}

/// A face that does not serve a piece.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct PassedFace {
    /// The family, as the stack names it.
    pub family: String,
    /// The face, as it names itself.
    pub name: String,
    /// How many faces of the family there are, where it is in slices.
    #[serde(skip_serializing_if = "is_one")]
    pub slices: usize,
    /// Why.
    #[serde(flatten)]
    pub why: Passed,
}

fn is_one(count: &usize) -> bool {
    *count == 1
}

/// Traces `text` in a stack.
pub fn trace(text: &str, stack: &Resolved, presentation: Presentation) -> Trace {
    let mut judge = Judge::new(&stack.candidates).in_engines(stack.engines);
    let bidi = BidiInfo::new(text, None);
    let mut pieces: Vec<TracedPiece> = Vec::new();
    let (mut clusters, mut left) = (0, 0);
    let mut start = 0;
    let mut last: Option<(Option<usize>, bool)> = None;
    for end in GraphemeClusterSegmenter::new().segment_str(text).skip(1) {
        let cluster = &text[start..end];
        let place = start;
        start = end;
        let shows = cluster.chars().any(is_shown);
        let space = cluster.chars().any(char::is_whitespace);
        if !shows && !space {
            // Ignorable: it clings to whatever stands before.
            if let Some(piece) = pieces.last_mut() {
                piece.text.push_str(cluster);
            }
            continue;
        }
        let served = if shows {
            clusters += 1;
            let mut served = judge.serve(cluster, presentation);
            by_family(&mut served, stack);
            left += u64::from(served.by.is_none());
            served
        } else {
            blank(judge.serve_blank(cluster))
        };
        let rtl = bidi.levels.get(place).is_some_and(|level| level.is_rtl());
        let same = last == Some((served.by, !shows));
        last = Some((served.by, !shows));
        match pieces.last_mut() {
            Some(piece) if same && piece.right_to_left == rtl && joins(piece, &served, stack) => {
                piece.text.push_str(cluster);
                describe(piece, cluster);
                merge(&mut piece.passed, &served, stack);
            }
            _ => {
                let mut piece = piece(&served, stack, !shows, rtl);
                piece.start = place;
                piece.text.push_str(cluster);
                describe(&mut piece, cluster);
                merge(&mut piece.passed, &served, stack);
                pieces.push(piece);
            }
        }
    }
    Trace {
        stack: entries(stack),
        pieces,
        clusters,
        left,
    }
}

/// Of a family in slices one reason remains: of the slice whose range holds the
/// cluster, else that none does; none where another slice shows it.
fn by_family(served: &mut Served, stack: &Resolved) {
    let entry = |number: usize| stack.candidates[number].entry;
    let serving = served.by.map(entry);
    let mut kept: Vec<(usize, Passed)> = Vec::new();
    for (number, why) in std::mem::take(&mut served.passed) {
        if Some(entry(number)) == serving {
            continue;
        }
        match kept
            .last_mut()
            .filter(|(last, _)| entry(*last) == entry(number))
        {
            Some(last) => {
                if matches!(last.1, Passed::OutsideRange { .. }) {
                    *last = (number, why);
                }
            }
            None => kept.push((number, why)),
        }
    }
    served.passed = kept;
}

fn blank(by: Option<usize>) -> Served {
    Served {
        by,
        certain: true,
        flaw: None,
        better: None,
        base_by: None,
        passed: Vec::new(),
    }
}

fn describe(piece: &mut TracedPiece, cluster: &str) {
    let room = MOST_CHARACTERS.saturating_sub(piece.characters.len());
    piece
        .characters
        .extend(cluster.chars().take(room).map(Character::describe));
}

/// Whether a cluster goes on with `piece`: the same flaw, the same faces before.
fn joins(piece: &TracedPiece, served: &Served, stack: &Resolved) -> bool {
    let family = |number: Option<usize>| number.map(|n| stack.candidates[n].family.clone());
    piece.flaw == served.flaw
        && piece.better == family(served.better)
        && piece.base_by == family(served.base_by)
        && piece.passed.len() == served.passed.len()
        && piece
            .passed
            .iter()
            .zip(&served.passed)
            .all(|(known, (_, why))| {
                std::mem::discriminant(&known.why) == std::mem::discriminant(why)
            })
}

fn piece(served: &Served, stack: &Resolved, blank: bool, right_to_left: bool) -> TracedPiece {
    let family = |number: usize| stack.candidates[number].family.clone();
    TracedPiece {
        text: String::new(),
        start: 0,
        characters: Vec::new(),
        right_to_left,
        blank,
        font: served.by.map(|number| {
            let candidate = &stack.candidates[number];
            PieceFont {
                entry: candidate.entry,
                family: candidate.family.clone(),
                name: candidate.name.clone(),
                postscript: candidate.postscript.clone(),
                origin: candidate.origin.clone(),
                faked: candidate.faked,
                certain: served.certain,
            }
        }),
        flaw: served.flaw,
        better: served.better.map(family),
        base_by: served.base_by.filter(|_| served.by.is_none()).map(family),
        passed: Vec::new(),
    }
}

/// Adds the code points of another cluster to the reasons.
fn merge(passed: &mut Vec<PassedFace>, served: &Served, stack: &Resolved) {
    for (place, (number, why)) in served.passed.iter().enumerate() {
        let Some(known) = passed.get_mut(place) else {
            let candidate = &stack.candidates[*number];
            passed.push(PassedFace {
                family: candidate.family.clone(),
                name: candidate.name.clone(),
                slices: stack
                    .candidates
                    .iter()
                    .filter(|other| other.entry == candidate.entry)
                    .count(),
                why: why.clone(),
            });
            continue;
        };
        match (&mut known.why, why) {
            (
                Passed::Lacks { code_points },
                Passed::Lacks {
                    code_points: theirs,
                },
            )
            | (
                Passed::OutsideRange { code_points },
                Passed::OutsideRange {
                    code_points: theirs,
                },
            ) => {
                for point in theirs {
                    if code_points.len() < MOST_CHARACTERS && !code_points.contains(point) {
                        code_points.push(point.clone());
                    }
                }
            }
            _ => {}
        }
    }
}

fn entries(stack: &Resolved) -> Vec<TracedEntry> {
    let face = |candidate: &Candidate| TracedFace {
        name: candidate.name.clone(),
        origin: candidate.origin.clone(),
        range: candidate
            .range
            .as_ref()
            .map(tidy_lattice_glyphs::font::CharacterSet::css),
        measured: candidate.face.is_some(),
        faked: candidate.faked,
    };
    stack
        .entries
        .iter()
        .enumerate()
        .map(|(number, entry)| TracedEntry {
            family: entry.family.clone(),
            stands_for: entry.stands_for.clone(),
            faces: stack
                .candidates
                .iter()
                .filter(|candidate| candidate.entry == number)
                .map(face)
                .collect(),
            absent: entry.absent.clone(),
        })
        .collect()
}
