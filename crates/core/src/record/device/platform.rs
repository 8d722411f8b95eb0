//! A platform of what a page found.

use std::collections::BTreeMap;

use tidy_lattice_coverage::platform::{
    Definition, FaceDefinition, FamilyDefinition, Likeness, OwnFamilies,
};
use tidy_lattice_glyphs::font::{Card, Engines, Face, Slope, writing_scripts};

use super::result::Measured;

/// The platform of the families that were measured. `cards` are their cards with the names
/// of their files, without `.card.json`.
pub fn definition(measured: &Measured, cards: &[(String, Card)]) -> Definition {
    let families: Vec<FamilyDefinition> = measured
        .families
        .iter()
        .filter_map(|family| {
            let of_family: Vec<&(String, Card)> = cards
                .iter()
                .filter(|(_, card)| card.names.family == family.name)
                .collect();
            let (_, first) = of_family.first()?;
            let scripts = Face::from_card(first.clone()).map(|face| writing_scripts(&face));
            Some(FamilyDefinition {
                name: family.name.clone(),
                class: first.class,
                scripts: scripts.unwrap_or_default(),
                since: None,
                until: None,
                note: (!family.by_name).then(|| {
                    "reached by local() only, not by font-family, in this browser".to_owned()
                }),
                cards_are: Some(Likeness::Itself),
                faces: of_family
                    .iter()
                    .map(|(name, card)| FaceDefinition {
                        weight: card.weight,
                        style: Some(card.slope).filter(|slope| *slope != Slope::Normal),
                        full: card
                            .names
                            .full
                            .clone()
                            .unwrap_or_else(|| card.names.label()),
                        postscript: card.names.postscript.clone(),
                        card: Some(name.clone()),
                    })
                    .collect(),
            })
        })
        .collect();
    let listed = |name: &String| families.iter().any(|family| family.name == *name);
    let generic: BTreeMap<String, String> = measured
        .generics
        .iter()
        .filter_map(|generic| {
            let family = generic.families.iter().find(|name| listed(name))?;
            Some((generic.keyword.clone(), family.clone()))
        })
        .collect();
    let browser = measured.browser.label();
    Definition {
        extends: None,
        title: match measured.browser.system.as_str() {
            "" => "A device".to_owned(),
            system => format!("A device with {system}"),
        },
        about: format!("Measured in {browser}: what was looked for and found there."),
        versions: Vec::new(),
        // The device may have other browsers than the one that measured.
        engines: match measured.browser.engine.as_str() {
            "WebKit" => Engines::ALL,
            _ => Engines::USUAL,
        },
        generic,
        generic_for: BTreeMap::new(),
        own: OwnFamilies::default(),
        alias: BTreeMap::new(),
        fonts: Vec::new(),
        families,
    }
}
