//! For each weight and style in use, the face that font matching picks, and what
//! is faked.

use serde::Serialize;
use tidy_lattice_documents::page::StyleValue;
use tidy_lattice_documents::style::matching::Faked;
use tidy_lattice_documents::style::read::Range;

use super::super::stack::{Candidate, Origin};
use super::{Outcome, Survey, once, platforms_of};

/// A face that texts use.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct FaceUse {
    /// The family, as stacks name it.
    pub family: String,
    /// The weight that texts ask for.
    pub weight: f32,
    /// The style that they ask for.
    pub style: StyleValue,
    /// The face that they get.
    pub face: String,
    /// The weights that it offers.
    pub offers: Range,
    /// Whether it is another weight than the one asked for.
    pub other_weight: bool,
    /// What the browser fakes with it.
    pub faked: Faked,
    /// Whether it is loaded, and from where.
    pub origin: Origin,
    /// What the texts are for.
    pub roles: Vec<String>,
    /// Clusters that it shows, repeats included.
    pub clusters: u64,
    /// The devices on which it is so.
    pub platforms: Vec<String>,
}

impl FaceUse {
    /// Whether a text gets something else than it asks for.
    pub fn differs(&self) -> bool {
        self.other_weight || self.faked.any()
    }
}

pub(super) fn gather(survey: &Survey, outcomes: &[Outcome<'_>], names: &[String]) -> Vec<FaceUse> {
    let mut uses: Vec<(FaceUse, Vec<usize>, usize)> = Vec::new();
    for outcome in outcomes {
        let style = &survey.styles[outcome.bucket.style];
        let mut counts = vec![0_u64; outcome.resolved.candidates.len()];
        for (cluster, judged) in outcome.bucket.need.clusters.iter().zip(&outcome.judged) {
            if let Some(number) = judged.by {
                counts[number] += cluster.count;
            }
        }
        let served = outcome
            .resolved
            .candidates
            .iter()
            .zip(counts)
            .filter(|(_, count)| *count > 0);
        for (candidate, count) in served {
            let same = |known: &FaceUse| {
                known.family == candidate.family
                    && known.weight == style.weight
                    && known.style == style.style
                    && known.face == candidate.name
            };
            let place = uses
                .iter()
                .position(|(known, ..)| same(known))
                .unwrap_or_else(|| {
                    let used = of(candidate, style.weight, style.style);
                    uses.push((used, Vec::new(), outcome.device));
                    uses.len() - 1
                });
            let (known, devices, first) = &mut uses[place];
            // Counted on one device, or the same text would count several times.
            known.clusters += if outcome.device == *first { count } else { 0 };
            once(&mut known.roles, outcome.bucket.role.clone());
            once(devices, outcome.device);
        }
    }
    let mut faces: Vec<FaceUse> = uses
        .into_iter()
        .map(|(mut used, devices, _)| {
            used.platforms = platforms_of(devices, names);
            used
        })
        .collect();
    faces.sort_by(|a, b| (b.differs().cmp(&a.differs())).then(b.clusters.cmp(&a.clusters)));
    faces
}

/// Whether a face offers another weight than the one asked for. Weights of installed families
/// are their makers', who count their regular as 300 or 350 at times.
fn is_other(candidate: &Candidate, weight: f32) -> bool {
    const NEAR: f32 = 100.0;
    let Range { from, to } = candidate.traits.weight;
    let near = candidate.origin == Origin::Installed;
    let off = (from - weight).max(weight - to);
    off > if near { NEAR } else { 0.0 }
}

fn of(candidate: &Candidate, weight: f32, style: StyleValue) -> FaceUse {
    let offers = candidate.traits.weight;
    FaceUse {
        family: candidate.family.clone(),
        weight,
        style,
        face: candidate.name.clone(),
        offers,
        other_weight: is_other(candidate, weight),
        faked: candidate.faked,
        origin: candidate.origin.clone(),
        roles: Vec::new(),
        clusters: 0,
        platforms: Vec::new(),
    }
}
