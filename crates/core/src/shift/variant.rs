//! Other ways to serve the same page, to compare what moves.

use tidy_lattice_coverage::lattice::WebFace;
use tidy_lattice_documents::page::Flow;
use tidy_lattice_documents::style::read::FamilyName;

/// One change to the rules or stacks of a page.
#[derive(Debug, Clone, PartialEq)]
pub enum Change {
    /// No rule resizes or re-measures its face.
    NoAdjustment,
    /// No rule states line metrics.
    NoLineMetrics,
    /// All rules that load files say so.
    Display(String),
    /// This family comes right behind web fonts.
    Fallback(FamilyName),
    /// Families by these names come right behind the family, in this order.
    Behind(String, Vec<String>),
    /// Stacks that begin with the family become this one.
    Stack(String, Vec<FamilyName>),
}

/// The page with a change: its rules and its boxes.
pub fn changed(change: &Change, web: &[WebFace], flow: &Flow) -> (Vec<WebFace>, Flow) {
    let (mut web, mut flow) = (web.to_vec(), flow.clone());
    match change {
        Change::NoAdjustment | Change::NoLineMetrics => {
            for rule in &mut web {
                let face = &mut rule.placed.face;
                if *change == Change::NoAdjustment {
                    face.size_adjust = 1.0;
                }
                (face.ascent, face.descent, face.line_gap) = (None, None, None);
            }
        }
        Change::Display(display) => {
            for rule in &mut web {
                rule.placed.face.display = Some(display.clone());
            }
        }
        Change::Fallback(family) => {
            let loads = |name: &FamilyName| {
                let name = name.as_str().to_lowercase();
                web.iter().any(|rule| {
                    let declared_family = rule.placed.face.family.as_deref().unwrap_or_default();
                    declared_family.to_lowercase() == name && rule.files.iter().any(Option::is_some)
                })
            };
            with_families(&mut flow, |families| {
                let last = families.iter().rposition(loads)?;
                let mut changed: Vec<FamilyName> = families
                    .iter()
                    .filter(|known| *known != family)
                    .cloned()
                    .collect();
                let last = last.min(changed.len().saturating_sub(1));
                changed.insert(last + 1, family.clone());
                Some(changed)
            });
        }
        Change::Behind(of, names) => {
            with_families(&mut flow, |families| {
                let of = of.to_lowercase();
                let place = families
                    .iter()
                    .position(|known| known.as_str().to_lowercase() == of)?;
                let mut changed = families.to_vec();
                let more = names.iter().cloned().map(FamilyName::Named);
                changed.splice(place + 1..place + 1, more);
                Some(changed)
            });
        }
        Change::Stack(first, stack) => {
            let first = first.to_lowercase();
            with_families(&mut flow, |families| {
                let begins = families.first()?.as_str().to_lowercase() == first;
                begins.then(|| stack.clone())
            });
        }
    }
    (web, flow)
}

fn with_families(flow: &mut Flow, change: impl Fn(&[FamilyName]) -> Option<Vec<FamilyName>>) {
    for node in &mut flow.nodes {
        if let Some(families) = change(&node.text.families) {
            std::sync::Arc::make_mut(&mut node.text).families = families;
        }
    }
}
