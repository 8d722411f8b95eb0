//! Families that several platforms have, by how many.

use std::collections::BTreeMap;

use serde::Serialize;
use tidy_lattice_glyphs::font::{Class, Slope};

use super::{Device, Known, Platform};

/// A family that platforms have.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct CommonFamily {
    /// The name, as `font-family` takes it.
    pub name: String,
    /// The class.
    pub class: Class,
    /// The platforms that have it, or take another family for it, in their order.
    pub on: Vec<CommonOn>,
    /// The x-height of its upright face nearest to weight 400, in em; `None` where it is not
    /// measured anywhere.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub x_height: Option<f64>,
    /// How well it is known where it is known best.
    pub known: Known,
}

/// A platform that has a family.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct CommonOn {
    /// The platform's short name.
    pub platform: String,
    /// Its name for people.
    pub title: String,
    /// The first version of the system that ships it; `None` for all.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub since: Option<String>,
    /// The last version that ships it; `None` where it still does.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub until: Option<String>,
    /// The family that shows in its place.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub shows: Option<String>,
}

/// The families that two and more of `devices` have, those of most first, then by name; with
/// one device, all that it has.
pub fn common(devices: &[Device<'_>]) -> Vec<CommonFamily> {
    let least = devices.len().min(2);
    let mut names: BTreeMap<String, &str> = BTreeMap::new();
    for platform in devices.iter().map(Device::platform) {
        let families = platform.families.iter().map(|family| family.name.as_str());
        for name in families.chain(platform.aliases.keys().map(String::as_str)) {
            names.entry(name.to_lowercase()).or_insert(name);
        }
    }
    let found = names.into_values().filter_map(|name| of(name, devices));
    let mut found: Vec<CommonFamily> = found.filter(|family| family.on.len() >= least).collect();
    found.sort_by_key(|family| {
        (
            std::cmp::Reverse(family.on.len()),
            family.name.to_lowercase(),
        )
    });
    found
}

fn of(name: &str, devices: &[Device<'_>]) -> Option<CommonFamily> {
    let mut found: Option<CommonFamily> = None;
    for device in devices {
        let Some(family) = device.family(name) else {
            continue;
        };
        let platform: &Platform = device.platform();
        let other = !family.name.eq_ignore_ascii_case(name);
        let on = CommonOn {
            platform: platform.name.clone(),
            title: platform.title.clone(),
            since: family.since.clone(),
            until: family.until.clone(),
            shows: other.then(|| family.name.clone()),
        };
        let upright = family
            .faces
            .iter()
            .filter(|face| face.style == Slope::Normal);
        let plain = upright.min_by(|a, b| {
            (a.weight - 400.0)
                .abs()
                .total_cmp(&(b.weight - 400.0).abs())
        });
        let x_height = plain
            .filter(|_| !other)
            .and_then(|face| device.face(family, face)?.x_height());
        match &mut found {
            Some(known) => {
                known.on.push(on);
                known.x_height = known.x_height.or(x_height);
                if known.known == Known::ByName && !other {
                    known.known = family.known.clone();
                }
            }
            None => {
                found = Some(CommonFamily {
                    name: name.to_owned(),
                    class: family.class,
                    on: vec![on],
                    x_height,
                    known: if other {
                        Known::ByName
                    } else {
                        family.known.clone()
                    },
                });
            }
        }
    }
    found
}
