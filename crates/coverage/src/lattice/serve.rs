//! The lattice of a text and a stack: for every cluster the first face that
//! serves it (CSS Fonts 4, §5.3), for every face its share, and the gaps.

use std::collections::HashMap;
use std::sync::Arc;

use serde::Serialize;
use tidy_lattice_glyphs::font::Face;
use tidy_lattice_glyphs::text::{Character, Group, is_shown};

use super::forms::Flaw;
use super::serving::{Judge, Passed, Presentation, Served, code_points};
use super::stack::Candidate;
use crate::need::{Need, Place};

/// The most characters of a cluster that are described: clusters have no end
/// by themselves, letters of natural languages have ten characters at most.
const MOST_CHARACTERS: usize = 64;

/// How a stack stands to a text.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Coverage {
    /// Clusters that show something, repeats included.
    pub clusters: u64,
    /// Distinct clusters among them.
    pub distinct: u64,
    /// What each face serves, in stack order.
    pub fonts: Vec<FontInStack>,
    /// Scripts and groups, most frequent first.
    pub rows: Vec<Row>,
    /// What no face of the stack serves, most frequent first.
    pub gaps: Vec<Gap>,
    /// How many clusters, repeats included, are gaps.
    pub gap_clusters: u64,
}

/// What one face of the stack does for the text.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct FontInStack {
    /// Family and style as the face names itself.
    pub name: String,
    /// Clusters that it serves, repeats included.
    pub serves: u64,
    /// Distinct clusters that it serves.
    pub serves_distinct: u64,
    /// Share of the text's clusters that it serves, 0 to 1.
    pub share: f64,
    /// Clusters that it could serve if it stood first.
    pub covers: u64,
    /// Distinct clusters that it could serve if it stood first.
    pub covers_distinct: u64,
}

/// One row of the lattice.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Row {
    /// The script's Unicode name, or the title of a group.
    pub group: String,
    /// Clusters of the row, repeats included.
    pub clusters: u64,
    /// Distinct clusters of the row.
    pub distinct: u64,
    /// Clusters of the row that no face serves.
    pub gaps: u64,
    /// One cell a face, in stack order.
    pub cells: Vec<Cell>,
}

/// The crossing of a row and a face; clusters with repeats.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct Cell {
    /// Clusters that the face could serve if it stood first.
    pub covers: u64,
    /// Clusters that it serves in this stack.
    pub serves: u64,
}

/// A cluster that falls through the stack.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Gap {
    /// The cluster as written.
    pub cluster: String,
    /// Its characters; only the first 64 of a longer cluster.
    pub characters: Vec<Character>,
    /// The row that it belongs to.
    pub group: String,
    /// How often it occurs.
    pub count: u64,
    /// Where it was first seen.
    pub first: Place,
    /// Why no face serves it.
    pub cause: GapCause,
}

/// Why a cluster falls through.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum GapCause {
    /// Some character of it is in no face of the stack.
    Missing {
        /// The code points that no face has.
        code_points: Vec<String>,
    },
    /// Every character is in some face, but no face has them all, so base and
    /// marks would be drawn from different fonts.
    Split {
        /// For each face that has a part of it: its number in the stack, from
        /// 0, and the code points it lacks.
        lacks: Vec<PartFace>,
    },
    /// An emoji sequence that the serving face draws as separate pictures.
    Unjoined {
        /// The face that draws it in pieces, by its number from 0.
        font: usize,
        /// A later face that would draw it as one.
        joined_by: Option<usize>,
    },
    /// The serving face has all characters, but not the forms that the script
    /// requires, or puts a dotted circle in.
    Flawed {
        /// The face, by its number from 0.
        font: usize,
        /// What it does wrong.
        flaw: Flaw,
        /// A later face that does it right.
        better: Option<usize>,
    },
    /// A variation sequence of which the stack has only the base. Browsers then
    /// look among the device's fonts before they show the base alone.
    Variation {
        /// The first face that has the base, by its number from 0.
        font: usize,
    },
}

/// A face that has a part of a cluster.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct PartFace {
    /// The face's number in the stack, from 0.
    pub font: usize,
    /// The code points that it lacks.
    pub code_points: Vec<String>,
}

/// Crosses `need` with `stack`, in the order in which a browser tries the
/// faces.
pub fn cover(need: &Need, stack: &[Face]) -> Coverage {
    let candidates: Vec<Candidate> = stack
        .iter()
        .enumerate()
        .map(|(entry, face)| Candidate::given(entry, Arc::new(face.clone())))
        .collect();
    cover_with(need, &candidates, Presentation::Normal)
}

/// [`cover`] with faces that may have ranges, or be known by name only.
pub fn cover_with(need: &Need, stack: &[Candidate], presentation: Presentation) -> Coverage {
    let mut judge = Judge::new(stack);
    let mut fonts: Vec<FontInStack> = stack.iter().map(FontInStack::of).collect();
    let mut rows: HashMap<&Group, Row> = HashMap::new();
    let mut gaps = Vec::new();
    for cluster in &need.clusters {
        let row = rows
            .entry(&cluster.group)
            .or_insert_with(|| Row::empty(&cluster.group, stack.len()));
        row.clusters += cluster.count;
        row.distinct += 1;
        for (font, share) in fonts.iter_mut().enumerate() {
            if judge.could_serve(font, &cluster.text) {
                row.cells[font].covers += cluster.count;
                share.covers += cluster.count;
                share.covers_distinct += 1;
            }
        }
        let served = judge.serve_briefly(&cluster.text, presentation);
        match cause(&served, &cluster.text) {
            None => {
                let font = served.by.unwrap_or_default();
                row.cells[font].serves += cluster.count;
                fonts[font].serves += cluster.count;
                fonts[font].serves_distinct += 1;
            }
            Some(cause) => {
                row.gaps += cluster.count;
                gaps.push(Gap {
                    cluster: cluster.text.clone(),
                    characters: described(&cluster.text),
                    group: cluster.group.label().to_owned(),
                    count: cluster.count,
                    first: cluster.first.clone(),
                    cause,
                });
            }
        }
    }
    for font in &mut fonts {
        font.share = if need.total == 0 {
            0.0
        } else {
            font.serves as f64 / need.total as f64
        };
    }
    let mut rows: Vec<Row> = rows.into_values().collect();
    rows.sort_by(|a, b| {
        b.clusters
            .cmp(&a.clusters)
            .then_with(|| a.group.cmp(&b.group))
    });
    // A stable sort: equally frequent gaps stay in the order of the text.
    gaps.sort_by_key(|gap| std::cmp::Reverse(gap.count));
    Coverage {
        clusters: need.total,
        distinct: need.clusters.len() as u64,
        fonts,
        rows,
        gap_clusters: gaps.iter().map(|gap| gap.count).sum(),
        gaps,
    }
}

/// The characters of a cluster, one by one; only the first 64.
pub(super) fn described(cluster: &str) -> Vec<Character> {
    cluster
        .chars()
        .take(MOST_CHARACTERS)
        .map(Character::describe)
        .collect()
}

/// Why a cluster is a gap; `None` where a face shows it as it should be.
pub(super) fn cause(served: &Served, cluster: &str) -> Option<GapCause> {
    match (served.by, served.flaw) {
        (Some(_), None) => None,
        (Some(font), Some(Flaw::Unjoined)) => Some(GapCause::Unjoined {
            font,
            joined_by: served.better,
        }),
        (Some(font), Some(flaw)) => Some(GapCause::Flawed {
            font,
            flaw,
            better: served.better,
        }),
        (None, _) => Some(match served.base_by {
            Some(font) => GapCause::Variation { font },
            None => missing_or_split(served, cluster),
        }),
    }
}

fn missing_or_split(served: &Served, cluster: &str) -> GapCause {
    let lacks: Vec<(usize, &Vec<String>)> = served
        .passed
        .iter()
        .filter_map(|(font, why)| match why {
            Passed::Lacks { code_points } | Passed::OutsideRange { code_points } => {
                Some((*font, code_points))
            }
            _ => None,
        })
        .collect();
    // What every face lacks is missing from the stack; without faces all is.
    let all = || {
        let shown: Vec<char> = cluster.chars().filter(|c| is_shown(*c)).collect();
        code_points(&shown)
    };
    let missing: Vec<String> = lacks.first().map_or_else(all, |(_, first)| {
        first
            .iter()
            .filter(|point| lacks.iter().all(|(_, lacking)| lacking.contains(point)))
            .cloned()
            .collect()
    });
    if missing.is_empty() && !lacks.is_empty() {
        GapCause::Split {
            lacks: lacks
                .into_iter()
                .map(|(font, lacking)| PartFace {
                    font,
                    code_points: lacking.clone(),
                })
                .collect(),
        }
    } else {
        GapCause::Missing {
            code_points: missing,
        }
    }
}

impl FontInStack {
    fn of(candidate: &Candidate) -> Self {
        FontInStack {
            name: candidate.name.clone(),
            serves: 0,
            serves_distinct: 0,
            share: 0.0,
            covers: 0,
            covers_distinct: 0,
        }
    }
}

impl Row {
    fn empty(group: &Group, fonts: usize) -> Self {
        Row {
            group: group.label().to_owned(),
            clusters: 0,
            distinct: 0,
            gaps: 0,
            cells: vec![Cell::default(); fonts],
        }
    }
}
