//! `describe` for people: one face on a page, several as a table.

mod families;
mod overview;
mod page;
mod tables;

use tidy_lattice_core::describe::Description;

use super::text::unreadable;
use crate::results::Described;

/// Languages that views name first: those that most sites are written in.
pub const OFTEN_ASKED: [&str; 34] = [
    "en", "es", "fr", "de", "pt", "it", "nl", "pl", "tr", "vi", "id", "cs", "sv", "da", "nb", "fi",
    "hu", "ro", "hr", "el", "ru", "uk", "bg", "sr", "ar", "fa", "ur", "he", "hi", "bn", "th", "ja",
    "ko", "zh",
];

/// The place of a language among those that people ask for most.
pub fn asked_often(tag: &str) -> usize {
    let place = OFTEN_ASKED.iter().position(|often| *often == tag);
    place.unwrap_or(usize::MAX)
}

/// The view: a page for a single face that was looked at in full, a table else.
pub fn view(described: &Described, all: bool) -> String {
    let mut view = families::view(&described.families);
    view += &match described.faces.as_slice() {
        [face] if face.description.shaping.is_some() => page::page(face, all),
        faces if all => faces
            .iter()
            .map(|face| page::page(face, true) + "\n")
            .collect(),
        faces => overview::overview(faces),
    };
    view.push_str(&unreadable(&described.unreadable));
    view
}

fn weight(description: &Description) -> String {
    let axis = description
        .variable
        .iter()
        .flat_map(|variable| &variable.axes);
    let axis = axis.into_iter().find(|axis| axis.tag == "wght");
    axis.map_or_else(
        || description.identity.weight.to_string(),
        |axis| format!("{} to {}", axis.min, axis.max),
    )
}
