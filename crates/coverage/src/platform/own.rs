//! The families that a platform was given for its own texts: those of its interface, of
//! running text, of code, and of each script.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use tidy_lattice_glyphs::font::Class;

/// What a platform sets its own texts in. Each is a family, or the keyword of a generic one
/// where style sheets do not reach the family by its name.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct OwnFamilies {
    /// Buttons, menus and forms.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub interface: Option<String>,
    /// Running text without serifs.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub sans: Option<String>,
    /// Running text with serifs.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub serif: Option<String>,
    /// Code.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub monospace: Option<String>,
    /// Families for a script (its Unicode name), the most usual first, of as many classes as
    /// there are.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub scripts: BTreeMap<String, Vec<String>>,
}

impl OwnFamilies {
    /// Whether nothing is said.
    pub fn is_empty(&self) -> bool {
        *self == OwnFamilies::default()
    }

    /// The family or keyword for running text of a class.
    pub fn of_class(&self, class: Class) -> Option<&str> {
        match class {
            Class::Sans => self.sans.as_deref(),
            Class::Serif => self.serif.as_deref(),
            Class::Monospace => self.monospace.as_deref(),
            _ => None,
        }
    }

    /// All that are named, with where: `own.serif`, `own.scripts.Arabic`.
    pub(super) fn all(&self) -> impl Iterator<Item = (String, &str)> {
        let plain = [
            ("interface", &self.interface),
            ("sans", &self.sans),
            ("serif", &self.serif),
            ("monospace", &self.monospace),
        ];
        let plain = plain
            .into_iter()
            .filter_map(|(key, family)| Some((format!("own.{key}"), family.as_deref()?)));
        let of_scripts = self.scripts.iter().flat_map(|(script, families)| {
            let families = families.iter();
            families.map(move |family| (format!("own.scripts.{script}"), family.as_str()))
        });
        plain.chain(of_scripts)
    }
}
