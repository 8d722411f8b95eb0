//! One lattice a stack: languages and scripts against the families, device by
//! device.

use std::collections::HashMap;

use rayon::prelude::*;
use serde::Serialize;
use tidy_lattice_documents::style::read::FamilyName;
use tidy_lattice_glyphs::text::Group;

use super::super::serve::Cell;
use super::super::stack::Origin;
use super::{Outcome, Survey, once};

/// A stack with all texts that are set in it.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct SetCoverage {
    /// The families, in order.
    pub stack: Vec<FamilyName>,
    /// What the texts are for.
    pub roles: Vec<String>,
    /// Their languages, as far as known.
    pub languages: Vec<String>,
    /// Clusters that show something, repeats included.
    pub clusters: u64,
    /// What devices make of it; those that do the same stand together.
    pub devices: Vec<SetDevice>,
}

/// A lattice on devices that do the same.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct SetDevice {
    /// The devices' short names; none where nothing is installed.
    pub platforms: Vec<String>,
    /// What each family of the stack does.
    pub fonts: Vec<EntryShare>,
    /// Languages and scripts, most frequent first.
    pub rows: Vec<SetRow>,
    /// Clusters that fall through or are drawn wrongly, repeats included.
    pub gaps: u64,
}

/// What one family of a stack does.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct EntryShare {
    /// The family or keyword.
    pub family: FamilyName,
    /// Its faces that texts use.
    pub faces: Vec<String>,
    /// Whether its files are loaded.
    pub web: bool,
    /// Why it gives no face; `None` where it gives some.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub absent: Option<String>,
    /// Clusters that it serves, repeats included.
    pub serves: u64,
    /// Distinct clusters that it serves.
    pub serves_distinct: u64,
    /// Of the clusters that it serves, those for which that is only likely, as
    /// the face is known by name.
    pub likely: u64,
}

/// One row of the lattice.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct SetRow {
    /// The language; `None` where it is not known.
    pub language: Option<String>,
    /// The script's Unicode name, or the title of a group.
    pub group: String,
    /// Clusters of the row, repeats included.
    pub clusters: u64,
    /// Distinct clusters of the row.
    pub distinct: u64,
    /// Clusters that fall through or are drawn wrongly.
    pub gaps: u64,
    /// One cell a family, in stack order.
    pub cells: Vec<Cell>,
}

pub(super) fn gather(
    survey: &Survey,
    outcomes: &[Outcome<'_>],
    names: &[String],
) -> Vec<SetCoverage> {
    let mut stacks: Vec<(&[FamilyName], Vec<&Outcome<'_>>)> = Vec::new();
    let mut places: HashMap<&[FamilyName], usize> = HashMap::new();
    for outcome in outcomes {
        let stack = survey.styles[outcome.bucket.style].families.as_slice();
        let place = *places.entry(stack).or_insert_with(|| {
            stacks.push((stack, Vec::new()));
            stacks.len() - 1
        });
        stacks[place].1.push(outcome);
    }
    let mut sets: Vec<SetCoverage> = stacks
        .into_par_iter()
        .map(|(stack, ours)| set(&ours, names, stack))
        .collect();
    sets.sort_by_key(|set| std::cmp::Reverse(set.clusters));
    sets
}

/// The lattice of one stack, of the texts that are set in it.
fn set(ours: &[&Outcome<'_>], names: &[String], stack: &[FamilyName]) -> SetCoverage {
    let (mut roles, mut languages) = (Vec::new(), Vec::new());
    let mut devices: Vec<SetDevice> = Vec::new();
    let mut numbers: Vec<usize> = ours.iter().map(|outcome| outcome.device).collect();
    numbers.sort_unstable();
    numbers.dedup();
    for outcome in ours {
        once(&mut roles, outcome.bucket.role.clone());
        if let Some(language) = &outcome.bucket.language {
            once(&mut languages, language.clone());
        }
    }
    languages.sort();
    for number in numbers {
        let here: Vec<&Outcome<'_>> = ours
            .iter()
            .copied()
            .filter(|outcome| outcome.device == number)
            .collect();
        let mut device = on_device(&here, stack);
        let name = names.get(number).cloned();
        let same = devices
            .iter_mut()
            .find(|known| known.rows == device.rows && known.fonts == device.fonts);
        match same {
            Some(known) => known.platforms.extend(name),
            None => {
                device.platforms.extend(name);
                devices.push(device);
            }
        }
    }
    let first = ours.first().map_or(0, |outcome| outcome.device);
    SetCoverage {
        stack: stack.to_vec(),
        roles,
        languages,
        clusters: ours
            .iter()
            .filter(|outcome| outcome.device == first)
            .map(|outcome| outcome.bucket.need.total)
            .sum(),
        devices,
    }
}

fn on_device(outcomes: &[&Outcome<'_>], stack: &[FamilyName]) -> SetDevice {
    let mut fonts: Vec<EntryShare> = stack
        .iter()
        .map(|family| EntryShare {
            family: family.clone(),
            faces: Vec::new(),
            web: false,
            absent: None,
            serves: 0,
            serves_distinct: 0,
            likely: 0,
        })
        .collect();
    let mut rows: HashMap<(Option<&str>, &Group), SetRow> = HashMap::new();
    let mut seen: HashMap<(usize, &str), ()> = HashMap::new();
    let mut row_seen: HashMap<(Option<&str>, &str), ()> = HashMap::new();
    let mut gaps = 0;
    for outcome in outcomes {
        for (entry, share) in outcome.resolved.entries.iter().zip(&mut fonts) {
            share.absent = entry
                .absent
                .as_ref()
                .map(super::super::stack::Absent::label);
        }
        let candidates = &outcome.resolved.candidates;
        let language = outcome.bucket.language.as_deref();
        for (cluster, judged) in outcome.bucket.need.clusters.iter().zip(&outcome.judged) {
            let row = rows
                .entry((language, &cluster.group))
                .or_insert_with(|| SetRow {
                    language: language.map(str::to_owned),
                    group: cluster.group.label().to_owned(),
                    clusters: 0,
                    distinct: 0,
                    gaps: 0,
                    cells: vec![Cell::default(); stack.len()],
                });
            row.clusters += cluster.count;
            row.distinct += u64::from(row_seen.insert((language, &cluster.text), ()).is_none());
            let mut counted = Vec::new();
            for number in &judged.could {
                let entry = candidates[*number].entry;
                if !counted.contains(&entry) {
                    counted.push(entry);
                    row.cells[entry].covers += cluster.count;
                }
            }
            match (judged.by, &judged.cause) {
                (Some(number), None) => {
                    let candidate = &candidates[number];
                    let share = &mut fonts[candidate.entry];
                    row.cells[candidate.entry].serves += cluster.count;
                    share.serves += cluster.count;
                    share.likely += if judged.certain { 0 } else { cluster.count };
                    let new = seen.insert((candidate.entry, &cluster.text), ()).is_none();
                    share.serves_distinct += u64::from(new);
                    share.web |= matches!(candidate.origin, Origin::Web { .. });
                    once(&mut share.faces, candidate.name.clone());
                }
                _ => {
                    row.gaps += cluster.count;
                    gaps += cluster.count;
                }
            }
        }
        for candidate in candidates {
            fonts[candidate.entry].web |= matches!(candidate.origin, Origin::Web { .. });
        }
    }
    let mut rows: Vec<SetRow> = rows.into_values().collect();
    rows.sort_by(|a, b| {
        (b.clusters.cmp(&a.clusters))
            .then_with(|| a.language.cmp(&b.language))
            .then_with(|| a.group.cmp(&b.group))
    });
    SetDevice {
        platforms: Vec::new(),
        fonts,
        rows,
        gaps,
    }
}
