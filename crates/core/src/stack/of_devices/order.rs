//! The order of entries: what a platform was given for something comes before what another
//! platform was given for it and this one has, too.

use super::shows::shows;
use tidy_lattice_coverage::need::ClusterNeed;
use tidy_lattice_coverage::platform::Device;
use tidy_lattice_documents::style::is_generic;

/// What an entry is wanted for.
#[derive(Clone)]
pub struct Wanted<'n> {
    /// On which device, by number.
    pub device: usize,
    /// For which clusters; `None` for the main text.
    pub clusters: Option<Vec<&'n ClusterNeed>>,
}

/// An entry, and what it is wanted for.
pub struct Entry<'n> {
    /// The family or keyword.
    pub family: String,
    /// Why it is there.
    pub why: String,
    /// On which devices, for what.
    pub wanted: Vec<Wanted<'n>>,
}

impl Entry<'_> {
    /// Whether a device, by number, wants it.
    pub fn is_for(&self, device: usize) -> bool {
        self.wanted.iter().any(|wanted| wanted.device == device)
    }
}

/// Adds `family`, once.
pub fn add<'n>(entries: &mut Vec<Entry<'n>>, family: &str, wanted: Wanted<'n>, why: &str) {
    let known = entries
        .iter_mut()
        .find(|entry| entry.family.eq_ignore_ascii_case(family));
    match known {
        Some(entry) => entry.wanted.push(wanted),
        None => entries.push(Entry {
            family: family.to_owned(),
            why: why.to_owned(),
            wanted: vec![wanted],
        }),
    }
}

/// The entries in an order in which none takes from another what that is wanted for, as far
/// as there is one; else as they came.
pub fn ordered<'n>(mut entries: Vec<Entry<'n>>, devices: &[Device<'_>]) -> Vec<Entry<'n>> {
    let mut placed = Vec::with_capacity(entries.len());
    while !entries.is_empty() {
        let free = (0..entries.len()).find(|number| {
            let mut others = entries.iter().enumerate();
            !others.any(|(other, entry)| {
                other != *number && takes_from(&entries[*number], entry, devices)
            })
        });
        placed.push(entries.remove(free.unwrap_or(0)));
    }
    placed
}

/// Whether `entry`, put first, would show what `other` is wanted for.
fn takes_from(entry: &Entry<'_>, other: &Entry<'_>, devices: &[Device<'_>]) -> bool {
    other.wanted.iter().any(|wanted| {
        let device = &devices[wanted.device];
        match &wanted.clusters {
            None if is_generic(&entry.family) => device.generic(&entry.family, None).is_some(),
            None => device.family(&entry.family).is_some(),
            Some(clusters) => shows(device, &entry.family, clusters),
        }
    })
}
