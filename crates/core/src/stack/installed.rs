//! The plain installed families behind everything of our own: for platforms
//! without a stand-in, and for scripts, signs and emoji that no font of the stack
//! has.

use std::collections::BTreeMap;

use tidy_lattice_coverage::lattice::{Fit, fit};
use tidy_lattice_coverage::need::ClusterNeed;
use tidy_lattice_coverage::platform::{Device, Family, Known, Likeness};
use tidy_lattice_glyphs::font::{Class, Face, Slope};
use tidy_lattice_glyphs::shaping::Shaper;
use tidy_lattice_glyphs::text::Group;

use super::Note;
use super::extras::Extra;
use super::request::BuildRequest;
use super::result::{Entry, EntryKind, StandIn};

/// Collects families, each once, with the platforms that each serves.
#[derive(Default)]
struct Families {
    entries: Vec<Entry>,
}

impl Families {
    fn add(&mut self, family: &str, platform: Option<&str>, why: &str) {
        let known = self
            .entries
            .iter_mut()
            .find(|entry| entry.family.eq_ignore_ascii_case(family));
        let entry = match known {
            Some(entry) => entry,
            None => {
                self.entries.push(Entry {
                    family: family.to_owned(),
                    kind: EntryKind::Local,
                    why: why.to_owned(),
                    platforms: Vec::new(),
                });
                self.entries.last_mut().expect("one was just put in")
            }
        };
        if let Some(platform) = platform.filter(|p| {
            !entry
                .platforms
                .iter()
                .any(|known_platform| known_platform == p)
        }) {
            entry.platforms.push(platform.to_owned());
        }
    }
}

/// The installed families, in order.
pub fn installed(
    request: &BuildRequest<'_>,
    class: Class,
    stand_ins: &[StandIn],
    extras: &[&Extra<'_>],
    notes: &mut Vec<Note>,
) -> Vec<Entry> {
    let mut families = Families::default();
    for stand_in in stand_ins {
        for over in &stand_in.over {
            let why = "as it is, where its stand-in does not work";
            families.add(over, None, why);
            for device in request.devices {
                if device.family(over).is_some() {
                    families.add(over, Some(&device.platform().title), why);
                }
            }
        }
    }
    for device in request.devices {
        let served = stand_ins.iter().any(|stand_in| {
            let over = stand_in.over.iter();
            over.into_iter().any(|name| device.family(name).is_some())
        });
        let plain = class
            .generic()
            .and_then(|generic| device.generic(generic, None));
        if let Some(family) = plain.filter(|family| !served && family.class == class) {
            families.add(
                &family.name,
                Some(&device.platform().title),
                "closest in class there, known by name only",
            );
        }
    }
    for (group, clusters) in lacked(request, extras) {
        add_for_group(
            request,
            &mut families,
            &group,
            &clusters,
            class,
            extras,
            notes,
        );
    }
    families.entries
}

/// Clusters of the texts that neither the web font nor a sign font shows, by
/// group, most frequent first.
fn lacked<'n>(
    request: &BuildRequest<'n>,
    extras: &[&Extra<'_>],
) -> Vec<(Group, Vec<&'n ClusterNeed>)> {
    let web = request.web[0].faces[0];
    let mut shaper = Shaper::new(web);
    let mut groups: BTreeMap<&Group, Vec<&ClusterNeed>> = BTreeMap::new();
    for cluster in &request.need.clusters {
        let first = cluster.text.chars().next().map_or(0, u32::from);
        let signed = extras
            .iter()
            .any(|extra| extra.font.scaled_by.is_empty() && extra.font.range.contains(first));
        if !signed && fit(web, &mut shaper, &cluster.text) != Fit::Whole {
            groups.entry(&cluster.group).or_default().push(cluster);
        }
    }
    let mut groups: Vec<(Group, Vec<&ClusterNeed>)> = groups
        .into_iter()
        .map(|(group, clusters)| (group.clone(), clusters))
        .collect();
    let count = |clusters: &[&ClusterNeed]| clusters.iter().map(|c| c.count).sum::<u64>();
    groups.sort_by_key(|(_, clusters)| std::cmp::Reverse(count(clusters)));
    groups
}

fn add_for_group(
    request: &BuildRequest<'_>,
    families: &mut Families,
    group: &Group,
    clusters: &[&ClusterNeed],
    class: Class,
    extras: &[&Extra<'_>],
    notes: &mut Vec<Note>,
) {
    // What no web font of the stack shows.
    let mut shapers: Vec<(&Extra<'_>, Shaper<'_>)> = extras
        .iter()
        .map(|extra| (*extra, Shaper::new(extra.face)))
        .collect();
    let mut kept: Vec<(&Face, Shaper<'_>)> = request
        .kept
        .iter()
        .map(|kept| (kept.face, Shaper::new(kept.face)))
        .collect();
    let remaining: Vec<&ClusterNeed> = clusters
        .iter()
        .filter(|cluster| {
            !shapers
                .iter_mut()
                .any(|(extra, shaper)| fit(extra.face, shaper, &cluster.text) == Fit::Whole)
                && !kept
                    .iter_mut()
                    .any(|(face, shaper)| fit(face, shaper, &cluster.text) == Fit::Whole)
        })
        .copied()
        .collect();
    let (mut bare, mut remote) = (Vec::new(), Vec::new());
    for device in request.devices {
        let title = device.platform().title.as_str();
        let has = |wanted: &[&ClusterNeed], families: &Families| {
            let mut entries = families.entries.iter();
            entries.any(|entry| {
                let family = device.family(&entry.family);
                family.is_some_and(|family| serves(device, family, group, wanted))
            })
        };
        if has(clusters, families) {
            continue;
        }
        let found = best(device, group, clusters, class)
            .or_else(|| best(device, group, &remaining, class).filter(|_| !remaining.is_empty()));
        match found {
            Some(family) => {
                let why = format!("for {}", Group::in_sentence(group.label()));
                families.add(&family.name, Some(title), &why);
            }
            None if remaining.is_empty() => remote.push(title),
            None if has(&remaining, families) => {}
            None => bare.push(title),
        }
    }
    let words = Group::in_sentence(group.label());
    if !bare.is_empty() || (request.devices.is_empty() && !remaining.is_empty()) {
        let place = if request.devices.is_empty() {
            "no font of the stack".to_owned()
        } else if bare.len() == request.devices.len() {
            "no font of the stack, on any platform,".to_owned()
        } else {
            format!("no font that is known on {}", bare.join(", "))
        };
        let example: Vec<char> = remaining
            .iter()
            .filter_map(|c| c.text.chars().next())
            .take(2)
            .collect();
        let total: u64 = remaining.iter().map(|cluster| cluster.count).sum();
        notes.push(Note::finding(
            "unserved",
            format!(
                "{place} shows {words} ({total} in the texts, such as {}); what the browser finds \
                 will show; add a font for it",
                super::extras::characters(&example)
            ),
        ));
    }
    if !remote.is_empty() {
        let fonts: Vec<&str> = extras
            .iter()
            .filter(|extra| extra.font.serves.iter().any(|label| label == group.label()))
            .map(|extra| extra.font.family.as_str())
            .chain(request.kept.iter().map(|kept| kept.name.as_str()))
            .collect();
        notes.push(Note::remark(
            "remote-only",
            format!(
                "on {} only {} shows {words}, so until it has loaded, or where it does not, what \
                 the browser finds will show",
                remote.join(", "),
                fonts.join(", ")
            ),
        ));
    }
}

/// Whether the face shows every one of `clusters`.
fn shows_all(face: &Face, clusters: &[&ClusterNeed]) -> bool {
    let mut shaper = Shaper::new(face);
    let mut all = clusters.iter();
    all.all(|cluster| fit(face, &mut shaper, &cluster.text) == Fit::Whole)
}

/// Whether another family was measured in its place.
fn is_twin(family: &Family) -> bool {
    matches!(&family.known, Known::Measured { likeness, .. } if *likeness != Likeness::Itself)
}

/// Whether `family` is made for the group, or known to show it.
fn serves(device: &Device<'_>, family: &Family, group: &Group, clusters: &[&ClusterNeed]) -> bool {
    let measured = family
        .faces
        .iter()
        .find_map(|face| device.face(family, face));
    match (measured, group) {
        // What was measured in its place tells its widths; its letters may be others.
        (Some(_), Group::Script(script)) if is_twin(family) && family.scripts.contains(script) => {
            true
        }
        (Some(face), _) => shows_all(&face, clusters),
        (None, Group::Script(script)) => family.scripts.contains(script),
        (None, _) => false,
    }
}

/// The family of `device` for a group: measured to show it before made for it, of
/// the web font's class before others, the platform's own before those, and what has a regular
/// face before what is bold or black alone.
pub(super) fn best<'d>(
    device: &Device<'d>,
    group: &Group,
    clusters: &[&ClusterNeed],
    class: Class,
) -> Option<&'d Family> {
    if *group == Group::Emoji
        && let Some(family) = device.generic("emoji", None)
    {
        return Some(family);
    }
    let families = device.platform().families.iter();
    families
        .filter(|family| serves(device, family, group, clusters))
        .min_by_key(|family| {
            let made_for = match group {
                Group::Script(script) => family.scripts.contains(script),
                _ => family.class == Class::Symbol,
            };
            let roles = &device.platform().own;
            let of_script = match group {
                Group::Script(script) => roles.scripts.get(script).and_then(|families| {
                    let mut families = families.iter();
                    families.position(|roles| family.name.eq_ignore_ascii_case(roles))
                }),
                _ => None,
            };
            let of_class = roles
                .of_class(class)
                .is_some_and(|roles| family.name.eq_ignore_ascii_case(roles));
            let mut faces = family.faces.iter();
            let regular = faces.any(|face| face.weight == 400.0 && face.style == Slope::Normal);
            (
                !made_for,
                family.class != class,
                of_script.unwrap_or(usize::MAX),
                !of_class,
                !regular,
            )
        })
}
