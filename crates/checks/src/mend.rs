//! Changes to files: only the bytes concerned.

use std::collections::BTreeMap;

use crate::finding::{Edit, Finding};

/// A file as it will be.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Mended {
    /// Its text.
    pub text: String,
    /// How many findings this mends.
    pub findings: usize,
}

/// The files that `findings` change, by name; `read` gives their texts as they are.
/// Findings whose changes overlap with earlier ones wait for another run.
pub fn mended(
    findings: &[Finding],
    read: impl Fn(&str) -> Option<String>,
) -> BTreeMap<String, Mended> {
    let mut taken: BTreeMap<&str, Vec<&Edit>> = BTreeMap::new();
    let mut counts: BTreeMap<&str, usize> = BTreeMap::new();
    for finding in findings.iter().filter(|finding| !finding.mend.is_empty()) {
        let free = finding.mend.iter().all(|edit| {
            let others = taken.get(edit.file.as_str()).into_iter().flatten();
            others.into_iter().all(|other| !overlap(edit, other))
        });
        // The same change serves two findings.
        let known = finding.mend.iter().all(|edit| {
            taken
                .get(edit.file.as_str())
                .is_some_and(|others| others.contains(&edit))
        });
        if !free && !known {
            continue;
        }
        *counts.entry(finding.place.file.as_str()).or_default() += 1;
        if !known {
            for edit in &finding.mend {
                taken.entry(edit.file.as_str()).or_default().push(edit);
            }
        }
    }
    taken
        .into_iter()
        .filter_map(|(file, mut edits)| {
            let mut text = read(file)?;
            // From the end, so that places before stay right.
            edits.sort_by_key(|edit| (std::cmp::Reverse(edit.start), std::cmp::Reverse(edit.end)));
            for edit in edits {
                text.get(edit.start..edit.end)?;
                text.replace_range(edit.start..edit.end, &edit.text);
            }
            let findings = counts.get(file).copied().unwrap_or_default();
            Some((file.to_owned(), Mended { text, findings }))
        })
        .collect()
}

fn overlap(a: &Edit, b: &Edit) -> bool {
    a.file == b.file
        && if a.start == a.end || b.start == b.end {
            a.start < b.end && b.start < a.end || (a.start, a.end) == (b.start, b.end)
        } else {
            a.start < b.end && b.start < a.end
        }
}
