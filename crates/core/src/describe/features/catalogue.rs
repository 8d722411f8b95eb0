//! What each registered feature does, and how CSS asks for it.

use std::collections::HashMap;
use std::sync::LazyLock;

use serde::Serialize;

/// The table: tag, default, property, sentence.
const TABLE: &str = include_str!("../../../data/features.txt");

/// Whether a feature is on where a style sheet asks for nothing.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Default {
    /// On for all text.
    On,
    /// Off until asked for.
    Off,
    /// Applied by shapers where the script or the direction of the line needs
    /// it.
    ByScript,
}

/// A feature as the catalogue knows it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Known {
    /// What it does, in a sentence.
    pub does: String,
    /// Whether it is on by default.
    pub default: Default,
    /// The declaration that asks for it; `None` where text never asks itself.
    pub css: Option<String>,
}

static REGISTERED: LazyLock<HashMap<&str, Known>> = LazyLock::new(|| {
    let rows = TABLE.lines().filter(|line| !line.starts_with('#'));
    rows.filter_map(|line| {
        let columns: Vec<&str> = line.split(" | ").collect();
        let [tag, default, css, does] = columns.try_into().ok()?;
        let known = Known {
            does: does.to_owned(),
            default: match default {
                "yes" => Default::On,
                "no" => Default::Off,
                _ => Default::ByScript,
            },
            css: (css != "-").then(|| css.to_owned()),
        };
        Some((tag, known))
    })
    .collect()
});

/// What is known of the feature `tag`; unregistered ones are asked for by tag.
pub fn known(tag: &str) -> Known {
    if let Some(known) = REGISTERED.get(tag) {
        return known.clone();
    }
    numbered(tag).unwrap_or_else(|| Known {
        does: "Does something of the designer's own; OpenType does not register it.".to_owned(),
        default: Default::Off,
        css: Some(format!("font-feature-settings: \"{tag}\"")),
    })
}

/// `ss01` to `ss20` and `cv01` to `cv99`.
fn numbered(tag: &str) -> Option<Known> {
    let number: u8 = tag.get(2..)?.parse().ok()?;
    let does = match tag.get(..2)? {
        "ss" if (1..=20).contains(&number) => format!("Shows stylistic set {number}."),
        "cv" if (1..=99).contains(&number) => format!("Shows character variant {number}."),
        _ => return None,
    };
    Some(Known {
        does,
        default: Default::Off,
        css: Some(format!("font-feature-settings: \"{tag}\"")),
    })
}
