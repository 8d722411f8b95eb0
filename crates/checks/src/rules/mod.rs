//! The rules, a file a subject.

mod classes;
mod faces;
mod files;
mod loading;
mod names;
mod ranges;
mod reading;
mod sources;
mod stacks;
mod stand_ins;
mod text;

pub use files::import_url;
pub use names::{Entry, Kind, Stack};

use std::collections::BTreeMap;

use rayon::prelude::*;

use self::classes::Classes;
use crate::finding::Finding;
use crate::inputs::Inputs;
use crate::silence;

/// Everything that the rules find, file by file, from top to bottom; what comments
/// silence is left out.
pub fn check(inputs: &Inputs) -> Vec<Finding> {
    type Rules = fn(&Inputs, &Classes, &mut Vec<Finding>);
    const ALL: [Rules; 9] = [
        |inputs, _, findings| files::check(inputs, findings),
        |inputs, _, findings| sources::check(inputs, findings),
        |inputs, _, findings| faces::check(inputs, findings),
        |inputs, _, findings| ranges::check(inputs, findings),
        stacks::check,
        |inputs, _, findings| stand_ins::check(inputs, findings),
        |inputs, _, findings| text::check(inputs, findings),
        reading::check,
        |inputs, _, findings| loading::check(inputs, findings),
    ];
    let classes = Classes::default();
    let of_rules: Vec<Vec<Finding>> = ALL
        .par_iter()
        .map(|rules| {
            let mut findings = Vec::new();
            rules(inputs, &classes, &mut findings);
            findings
        })
        .collect();
    let mut findings: Vec<Finding> = of_rules.into_iter().flatten().collect();
    silence::apply(&mut findings, &inputs.sheets);
    findings.sort_by(|a, b| (&a.place, a.code).cmp(&(&b.place, b.code)));
    findings.dedup_by(|a, b| (&a.place, a.code, &a.what) == (&b.place, b.code, &b.what));
    fold(findings)
}

/// What stands in many files in the same words, as what a generator puts into each page,
/// is told once, with all its mends.
fn fold(findings: Vec<Finding>) -> Vec<Finding> {
    /// So many are told one by one.
    const FEW: usize = 3;
    let key = |one: &Finding| {
        let line = one.excerpt.as_ref().map(|excerpt| excerpt.text.clone());
        (one.code, one.what.clone(), line)
    };
    let mut counts: BTreeMap<_, usize> = BTreeMap::new();
    for finding in &findings {
        *counts.entry(key(finding)).or_default() += 1;
    }
    let mut folded: Vec<Finding> = Vec::new();
    let mut places: BTreeMap<_, usize> = BTreeMap::new();
    for finding in findings {
        let key = key(&finding);
        let count = counts[&key];
        if count <= FEW {
            folded.push(finding);
        } else if let Some(first) = places.get(&key) {
            let first: &mut Finding = &mut folded[*first];
            first.mend.extend(finding.mend);
        } else {
            places.insert(key, folded.len());
            let what = format!("{} (and at {} more places)", finding.what, count - 1);
            folded.push(Finding { what, ..finding });
        }
    }
    folded
}
