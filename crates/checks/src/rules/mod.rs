//! The rules, a file a subject.

mod faces;
mod files;
mod loading;
mod names;
mod sources;
mod stacks;
mod text;

pub use files::import_url;

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
    findings
}
