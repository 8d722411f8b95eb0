//! Platforms: sets of families that a kind of device has installed, with its
//! generic families.
//!
//! A platform is defined in a TOML file ([`Definition`]): which families, since
//! and until which version of the system, their class, scripts and faces. Names
//! are public knowledge; numbers are not recalled but measured, and stand on
//! cards. What a card is to a face is said by [`Likeness`]; a face without a card
//! is known by name only.
//!
//! The built-in catalogue lies in `data/catalogue/` of this crate and is embedded;
//! `scripts/measure-catalogue` makes its cards.

mod builtin;
mod by_language;
mod common;
mod definition;
mod device;
mod find;
mod merge;
mod own;
mod same_metrics;

pub use builtin::{card as builtin_card, file_names, files, platforms};
pub use by_language::{SCRIPTS, is_language_tag, script_for_generics};
pub use common::{CommonFamily, CommonOn, common};
pub use definition::{
    Definition, DefinitionError, FaceDefinition, FamilyDefinition, InstalledFace, Likeness,
};
pub use device::{Device, Measure};
pub use find::{Found, Looked, as_face, find};
pub use own::OwnFamilies;
pub use same_metrics::SAME_METRICS;

use std::collections::BTreeMap;

use serde::Serialize;

use tidy_lattice_glyphs::font::{Class, Engines};

/// A platform as it is shown and used.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Platform {
    /// The short name, by which commands know it.
    pub name: String,
    /// The name for people.
    pub title: String,
    /// What it covers, in a sentence.
    pub about: String,
    /// Versions of the system that it tells apart, oldest first.
    pub versions: Vec<String>,
    /// The engines of its browsers.
    pub engines: Engines,
    /// Families that generic families stand for, by their CSS keywords.
    pub generic: BTreeMap<String, String>,
    /// Those that texts in some scripts get in their place, by the script (ISO 15924).
    #[serde(skip_serializing_if = "BTreeMap::is_empty")]
    pub generic_for: BTreeMap<String, BTreeMap<String, String>>,
    /// Both in an engine that has its own, by its name.
    #[serde(skip_serializing_if = "BTreeMap::is_empty")]
    pub generic_in: BTreeMap<String, GenericFamilies>,
    /// The families of its own texts.
    #[serde(skip_serializing_if = "OwnFamilies::is_empty")]
    pub own: OwnFamilies,
    /// Other names that it takes for its families.
    #[serde(skip_serializing_if = "BTreeMap::is_empty")]
    pub aliases: BTreeMap<String, String>,
    /// The installed families, by name.
    pub families: Vec<Family>,
}

/// What generic families stand for, by their CSS keywords.
#[derive(Debug, Clone, Default, PartialEq, Serialize, schemars::JsonSchema)]
pub struct GenericFamilies {
    /// In all texts but those below.
    pub generic: BTreeMap<String, String>,
    /// In texts of some scripts, by the script (ISO 15924).
    #[serde(skip_serializing_if = "BTreeMap::is_empty")]
    pub generic_for: BTreeMap<String, BTreeMap<String, String>>,
}

/// A family of a platform.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Family {
    /// The name, as `font-family` takes it.
    pub name: String,
    /// The class.
    pub class: Class,
    /// Scripts that it is made for (Unicode names).
    pub scripts: Vec<String>,
    /// The first version of the system that ships it; `None` for all.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub since: Option<String>,
    /// The last version that ships it; `None` where it still does.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub until: Option<String>,
    /// What else must be known.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
    /// How well it is known.
    pub known: Known,
    /// The faces whose names are known.
    pub faces: Vec<PlatformFace>,
}

/// A face of a family.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct PlatformFace {
    /// The weight on the scale of `font-weight`.
    pub weight: f32,
    /// The width on the scale of `font-stretch`, in %.
    #[serde(skip_serializing_if = "is_normal_width")]
    pub stretch: f32,
    /// `normal`, `italic` or `oblique`.
    pub style: tidy_lattice_glyphs::font::Slope,
    /// The full name, which `local()` matches.
    pub full: String,
    /// The PostScript name, which `local()` matches too.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub postscript: Option<String>,
    /// The card that its measurements stand on; `None` where it is known by
    /// name only.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub card: Option<String>,
    /// What the card is to this face, where that is something else than to the family's
    /// others.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub card_is: Option<Likeness>,
}

fn is_normal_width(stretch: &f32) -> bool {
    *stretch == 100.0
}

/// How well a family is known.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case", tag = "how")]
pub enum Known {
    /// Class, scripts and names only; no numbers.
    ByName,
    /// Some faces have cards.
    Measured {
        /// What the cards are to the faces.
        likeness: Likeness,
        /// The family that was measured.
        family: String,
        /// Where it came from: the package and its version, the browser, else the file.
        from: String,
        /// Whether it was measured in a browser, which does not tell all.
        in_browser: bool,
    },
}

impl Known {
    /// The degree in one word: `file`, `browser`, `twin`, `widths` or `name`.
    pub fn word(&self) -> &'static str {
        match self {
            Known::ByName => "name",
            Known::Measured {
                likeness,
                in_browser,
                ..
            } => match (likeness, in_browser) {
                (Likeness::Itself, true) => "browser",
                (Likeness::Itself, false) => "file",
                (Likeness::SameMetrics, _) => "twin",
                (Likeness::SameWidths | Likeness::WidthsAlone, _) => "widths",
            },
        }
    }

    /// The degree in words.
    pub fn label(&self) -> String {
        match self {
            Known::ByName => "by name only".to_owned(),
            Known::Measured {
                likeness,
                family,
                from,
                in_browser,
            } => match likeness {
                Likeness::Itself if *in_browser => format!("measured in {from}"),
                Likeness::Itself => "measured".to_owned(),
                Likeness::SameMetrics => format!("measured on {family} (same metrics)"),
                Likeness::SameWidths => format!("widths measured on {family}"),
                Likeness::WidthsAlone => format!("widths alone, from {from}"),
            },
        }
    }
}

impl Platform {
    /// Whether `version` of the system ships `family`, as far as the order of
    /// [`Platform::versions`] tells.
    pub fn ships(&self, family: &Family, version: &str) -> bool {
        let place = |version: &str| self.versions.iter().position(|known| known == version);
        let Some(asked) = place(version) else {
            return true;
        };
        let since = family.since.as_deref().and_then(place).unwrap_or(0);
        let until = family.until.as_deref().and_then(place);
        asked >= since && until.is_none_or(|until| asked <= until)
    }

    /// The families that its generic ones and its own texts are set in: those of most
    /// stacks. Each once, in the order of their names.
    pub fn usual(&self) -> Vec<&Family> {
        let of_roles = [
            &self.own.interface,
            &self.own.sans,
            &self.own.serif,
            &self.own.monospace,
        ];
        let of_roles = of_roles.into_iter().flatten();
        let names: Vec<&String> = self.generic.values().chain(of_roles).collect();
        let families = self.families.iter();
        families
            .filter(|family| names.contains(&&family.name))
            .collect()
    }

    /// Families of which some face is measured.
    pub fn measured(&self) -> impl Iterator<Item = &Family> {
        let families = self.families.iter();
        families.filter(|family| family.known != Known::ByName)
    }
}
