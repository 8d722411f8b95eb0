//! Families for scripts and signs that a platform's own family does not have.

use std::cmp::Reverse;
use std::collections::{BTreeMap, BTreeSet};

use tidy_lattice_coverage::need::ClusterNeed;
use tidy_lattice_coverage::platform::{Device, Family, script_for_generics};
use tidy_lattice_documents::style::is_generic;
use tidy_lattice_glyphs::text::Group;

use super::super::Note;
use super::super::installed::best;
use super::order::{self, Entry, Wanted};
use super::shows::{share, shows};
use super::{DeviceStackRequest, LanguageNeed};

/// Scripts (ISO 15924) whose letters Chinese, Japanese and Korean share, though each draws
/// them in its own way.
const SHARED: [&str; 4] = ["Hans", "Hant", "Jpan", "Kore"];

/// The scripts (Unicode names) of these letters.
const OF_SHARED: [&str; 5] = ["Han", "Hiragana", "Katakana", "Hangul", "Bopomofo"];

/// Where a family shows more than this of a script, no other is named for the rest: a word of
/// two fonts is worse than a rare letter that the browser finds itself.
const ENOUGH: f64 = 0.5;

/// The families behind the `own` ones of the devices.
pub fn further<'n>(
    request: &DeviceStackRequest<'n>,
    families: &[String],
    notes: &mut Vec<Note>,
) -> Vec<Entry<'n>> {
    let left = left_to_language(request);
    if !left.is_empty() {
        notes.push(Note::remark(
            "by-language",
            format!(
                "{} share letters that each draws in its own way, so no family of this stack is \
                 named for them; browsers take one by the language that the page states (lang); \
                 to name it, build a stack for each and set it with :lang()",
                left.join(" and ")
            ),
        ));
    }
    let mut entries: Vec<Entry<'n>> = Vec::new();
    let mut not_declared: BTreeSet<&str> = BTreeSet::new();
    for need in request.needs {
        if (need.language.as_ref()).is_some_and(|language| left.contains(language)) {
            continue;
        }
        for (group, clusters) in groups(need) {
            let script = matches!(group, Group::Script(_));
            if group == Group::Emoji || !script && !need.of_text {
                continue;
            }
            // Which of the languages it is decides how these letters look.
            if OF_SHARED.contains(&group.label()) && shared_script(need).is_none() {
                let of_need = need.need.clusters.iter();
                let of_group = of_need.map(|cluster| cluster.group.label());
                not_declared.extend(of_group.filter(|label| *label == group.label()));
                continue;
            }
            for (number, device) in request.devices.iter().enumerate() {
                if is_unknown(device, &families[number]) && group.label() == "Latin" {
                    continue;
                }
                // What another platform was given is no reason to pass over this one's own.
                let here = entries.iter().filter(|entry| entry.is_for(number));
                let named = std::iter::once(families[number].as_str())
                    .chain(here.map(|entry| entry.family.as_str()));
                let has = |family: &str| share(device, family, &clusters) > ENOUGH;
                if named.into_iter().any(has) {
                    continue;
                }
                let found = found(request, need, device, &group, &clusters);
                if let Some(family) = found {
                    let wanted = Wanted {
                        device: number,
                        clusters: Some(clusters.clone()),
                    };
                    let why = format!("for {}", Group::in_sentence(group.label()));
                    order::add(&mut entries, &family.name, wanted, &why);
                }
            }
        }
    }
    if !not_declared.is_empty() {
        let scripts: Vec<&str> = not_declared.into_iter().collect();
        notes.push(Note::remark(
            "language-not-stated",
            format!(
                "no family is named for {}, as it is not known of the texts whether they are \
                 Chinese, Japanese or Korean; --language, or languages of the role, say it",
                scripts.join(", ")
            ),
        ));
    }
    entries
}

/// Whether a device's own is a generic family, and not known which that is there.
pub fn is_unknown(device: &Device<'_>, family: &str) -> bool {
    is_generic(family) && device.generic(family, None).is_none()
}

/// The languages among the wanted ones that no one stack can serve.
pub fn left_to_language(request: &DeviceStackRequest<'_>) -> Vec<String> {
    let needs = request
        .needs
        .iter()
        .filter(|need| shared_script(need).is_some());
    let scripts: BTreeSet<_> = needs.clone().filter_map(shared_script).collect();
    if scripts.len() < 2 {
        return Vec::new();
    }
    needs.filter_map(|need| need.language.clone()).collect()
}

fn shared_script(need: &LanguageNeed) -> Option<&'static str> {
    let script = script_for_generics(need.language.as_deref()?)?;
    SHARED.contains(&script).then_some(script)
}

/// The clusters of a need by group: scripts first, then by how much of the text they are.
fn groups(need: &LanguageNeed) -> Vec<(Group, Vec<&ClusterNeed>)> {
    let mut groups: BTreeMap<&Group, Vec<&ClusterNeed>> = BTreeMap::new();
    for cluster in &need.need.clusters {
        groups.entry(&cluster.group).or_default().push(cluster);
    }
    let groups = groups.into_iter();
    let mut groups: Vec<_> = groups.map(|(group, all)| (group.clone(), all)).collect();
    groups.sort_by_key(|(group, clusters)| {
        let count: u64 = clusters.iter().map(|cluster| cluster.count).sum();
        (!matches!(group, Group::Script(_)), Reverse(count))
    });
    groups
}

/// The family of a device for a group: of the class what it has for the language, then what it
/// was given for the script, then any that serves.
fn found<'d>(
    request: &DeviceStackRequest<'_>,
    need: &LanguageNeed,
    device: &Device<'d>,
    group: &Group,
    clusters: &[&ClusterNeed],
) -> Option<&'d Family> {
    let script = device.script_for(need.language.as_deref());
    let of_language = |keyword: &str| {
        let family = script.and_then(|script| device.generic(keyword, Some(script)))?;
        // Not the usual one, which the language changes nothing of.
        let usual = device.generic(keyword, None);
        usual
            .is_none_or(|usual| usual.name != family.name)
            .then_some(family)
    };
    let platform = device.platform();
    let of_script: Vec<&Family> = match group {
        Group::Script(name) => {
            let families = platform.own.scripts.get(name).into_iter().flatten();
            families
                .filter_map(|family| device.family(family))
                .collect()
        }
        _ => Vec::new(),
    };
    let alike = of_script
        .iter()
        .find(|family| family.class == request.class);
    let preferred = [
        request.class.generic().and_then(of_language),
        alike.copied(),
        of_language("sans-serif"),
        of_script.first().copied(),
    ];
    let mut preferred = preferred.into_iter().flatten();
    // Digits of an emoji font would show wherever nothing before it is installed.
    let emoji = device.generic("emoji", None).map(|family| &family.name);
    preferred
        .find(|family| shows(device, &family.name, clusters))
        .or_else(|| best(device, group, clusters, request.class))
        .filter(|family| Some(&family.name) != emoji)
}
