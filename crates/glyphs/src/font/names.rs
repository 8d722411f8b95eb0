//! The names of a face, from its `name` table (OpenType 1.9.1, name IDs).

use serde::{Deserialize, Serialize};
use skrifa::font::Font;
use skrifa::raw::types::NameId;

/// The longest name that is read, in characters; PostScript names end at 63.
const LONGEST: usize = 256;

/// What a face calls itself.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, schemars::JsonSchema)]
pub struct Names {
    /// The typographic family (name ID 16), else the family (ID 1).
    pub family: String,
    /// The typographic subfamily (ID 17), else the subfamily (ID 2), else the
    /// name of the position in a variable font.
    pub style: String,
    /// The full name (ID 4), which `local()` matches.
    pub full: Option<String>,
    /// The PostScript name (ID 6), which `local()` matches too.
    pub postscript: Option<String>,
}

impl Names {
    pub(super) fn read(font: &Font) -> Self {
        let first = |ids: &[NameId]| ids.iter().find_map(|id| text(font, *id));
        let postscript = text(font, NameId::POSTSCRIPT_NAME);
        let full = text(font, NameId::FULL_NAME);
        let family = first(&[NameId::TYPOGRAPHIC_FAMILY_NAME, NameId::FAMILY_NAME])
            .or_else(|| full.clone())
            .or_else(|| postscript.clone())
            .unwrap_or_else(|| "Unnamed".to_owned());
        let style = first(&[NameId::TYPOGRAPHIC_SUBFAMILY_NAME, NameId::SUBFAMILY_NAME])
            .unwrap_or_else(|| "Regular".to_owned());
        Names {
            family,
            style,
            full,
            postscript,
        }
    }

    /// Family and style for people, without a style that says nothing.
    pub fn label(&self) -> String {
        match self.style.as_str() {
            "Regular" | "" => self.family.clone(),
            style => format!("{} {style}", self.family),
        }
    }
}

/// The English, else the first, text of a name; nothing where it is blank.
/// Control characters have no place in a name and are dropped.
pub(super) fn text(font: &Font, id: NameId) -> Option<String> {
    longer_text(font, id, LONGEST)
}

/// The name with this number, of at most `longest` characters.
pub fn name_text(font: &Font, id: u16, longest: usize) -> Option<String> {
    longer_text(font, NameId::new(id), longest)
}

fn longer_text(font: &Font, id: NameId, longest: usize) -> Option<String> {
    let text: String = font
        .names()
        .get(id)?
        .english_or_first()?
        .name()
        .chars()
        .filter(|character| !character.is_control())
        .take(longest)
        .collect();
    let text = text.trim();
    (!text.is_empty()).then(|| text.to_owned())
}
