//! The rules, a file a subject.

mod faces;
mod files;
mod loading;
mod names;
mod sources;
mod stacks;
mod text;

pub use files::import_url;

use std::collections::BTreeMap;

use crate::finding::Finding;
use crate::inputs::Inputs;
use crate::silence;

/// Everything that the rules find, file by file, from top to bottom; what comments
/// silence is left out.
pub fn check(inputs: &Inputs) -> Vec<Finding> {
    let mut findings = Vec::new();
    files::check(inputs, &mut findings);
    sources::check(inputs, &mut findings);
    faces::check(inputs, &mut findings);
    stacks::check(inputs, &mut findings);
    text::check(inputs, &mut findings);
    loading::check(inputs, &mut findings);
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
