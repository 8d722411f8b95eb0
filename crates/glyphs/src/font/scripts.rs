//! Which scripts a face has letters of.

use std::collections::HashMap;
use std::sync::LazyLock;

use icu_properties::CodePointMapData;
use icu_properties::props::Script;
use serde::Serialize;

use super::{CharacterSet, Face};
use crate::text::script_name;

/// What a face has of a script or block.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct Share {
    /// The Unicode name.
    pub name: String,
    /// Characters of it that the face has.
    pub covered: u64,
    /// Characters of it that Unicode has assigned.
    pub assigned: u64,
}

/// Runs of code points by script.
struct Scripts {
    /// First and last code point, and the script's place in `all`.
    runs: Vec<(u32, u32, usize)>,
    /// The Unicode name of each script, and how many characters it has.
    all: Vec<(String, u64)>,
}

static SCRIPTS: LazyLock<Scripts> = LazyLock::new(|| {
    let mut known: HashMap<Script, usize> = HashMap::new();
    let (mut runs, mut all) = (Vec::new(), Vec::new());
    for run in CodePointMapData::<Script>::new().iter_ranges() {
        if run.value == Script::Unknown {
            continue;
        }
        let (start, end) = (*run.range.start(), *run.range.end());
        let place = *known.entry(run.value).or_insert_with(|| {
            all.push((script_name(run.value), 0));
            all.len() - 1
        });
        all[place].1 += u64::from(end - start) + 1;
        runs.push((start, end, place));
    }
    Scripts { runs, all }
});

/// Scripts that `face` has letters of, without what all scripts share; most
/// characters first.
pub fn writing_scripts(face: &Face) -> Vec<String> {
    let shares = scripts_of(&face.characters()).into_iter();
    let not_shared = shares.filter(|share| share.name != "Common" && share.name != "Inherited");
    not_shared.map(|share| share.name).collect()
}

/// By script, most characters first. Both sides are sorted, so one pass does.
pub fn scripts_of(characters: &CharacterSet) -> Vec<Share> {
    let mut covered = vec![0; SCRIPTS.all.len()];
    let mut run = 0;
    for (start, end) in characters.ranges() {
        run += SCRIPTS.runs[run..].partition_point(|(_, last, _)| last < start);
        for (from, to, script) in &SCRIPTS.runs[run..] {
            if from > end {
                break;
            }
            covered[*script] += u64::from((*to).min(*end) - (*from).max(*start)) + 1;
        }
    }
    let mut shares: Vec<Share> = covered
        .into_iter()
        .zip(&SCRIPTS.all)
        .filter(|(covered, _)| *covered > 0)
        .map(|(covered, (name, assigned))| Share {
            name: name.clone(),
            covered,
            assigned: *assigned,
        })
        .collect();
    shares.sort_by(|a, b| b.covered.cmp(&a.covered).then_with(|| a.name.cmp(&b.name)));
    shares
}
