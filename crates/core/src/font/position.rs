//! Picking one face: which font of a collection, at which position of a
//! variable font.

use skrifa::font::Font;
use skrifa::raw::types::NameId;

use super::{FontError, names};

/// Which face of a file is meant.
///
/// Written behind a path as `#2` (the font's number in a collection, counted
/// from 0), `@Bold` (a named position of a variable font) or
/// `@wght=650,wdth=80` (values on its axes).
#[derive(Debug, Clone, Default, PartialEq)]
pub struct FacePick {
    /// The font's number in a collection, from 0.
    pub index: u32,
    /// The position in the design space; the default where there is none.
    pub position: Option<String>,
}

impl FacePick {
    /// Splits `text` into a path and a pick. A `#` counts only before digits
    /// at the end, an `@` only where something follows it.
    pub fn split(text: &str) -> (&str, FacePick) {
        let (rest, position) = match text.rsplit_once('@') {
            Some((rest, position))
                if !rest.is_empty() && !position.is_empty() && !position.contains(['/', '\\']) =>
            {
                (rest, Some(position.to_owned()))
            }
            _ => (text, None),
        };
        match rest.rsplit_once('#') {
            Some((path, digits)) if !path.is_empty() => match digits.parse() {
                Ok(index) => (path, FacePick { index, position }),
                Err(_) => (rest, FacePick { index: 0, position }),
            },
            _ => (rest, FacePick { index: 0, position }),
        }
    }
}

/// Moves `font` to the position that `asked` describes and returns it with the
/// position's values by axis tag.
pub(super) fn place(font: &Font, asked: &str) -> Result<(Font, Vec<(String, f32)>), FontError> {
    let wrong = || FontError::NoSuchPosition {
        asked: asked.to_owned(),
        known: known_positions(font),
    };
    let settings = if asked.contains('=') {
        let mut settings = Vec::new();
        for part in asked.split(',') {
            let (tag, value) = part.split_once('=').ok_or_else(wrong)?;
            let value: f32 = value.trim().parse().map_err(|_| wrong())?;
            let axis = font
                .axes()
                .iter()
                .find(|axis| axis.tag() == tag.trim())
                .ok_or_else(wrong)?;
            if !(axis.min_value()..=axis.max_value()).contains(&value) {
                return Err(wrong());
            }
            settings.push((axis.tag().to_string(), value));
        }
        settings
    } else {
        let instance = font
            .named_instances()
            .iter()
            .find(|instance| {
                names::text(font, instance.subfamily_name())
                    .is_some_and(|name| name.eq_ignore_ascii_case(asked.trim()))
            })
            .ok_or_else(wrong)?;
        instance
            .variations()
            .map(|variation| (variation.tag.to_string(), variation.value))
            .collect()
    };
    let placed = font
        .instance_builder()
        .variations(settings.iter().map(|(tag, value)| (tag.as_str(), *value)))
        .build();
    Ok((placed, settings))
}

/// What the user could have asked for.
fn known_positions(font: &Font) -> String {
    if font.axes().is_empty() {
        return "the font is not variable".to_owned();
    }
    let axes: Vec<String> = font
        .axes()
        .iter()
        .map(|axis| {
            format!(
                "{} {} to {}",
                axis.tag(),
                axis.min_value(),
                axis.max_value()
            )
        })
        .collect();
    let named: Vec<String> = font
        .named_instances()
        .iter()
        .filter_map(|instance| names::text(font, instance.subfamily_name()))
        .collect();
    if named.is_empty() {
        format!("its axes are {}", axes.join(", "))
    } else {
        format!(
            "its axes are {}; its named positions are {}",
            axes.join(", "),
            named.join(", ")
        )
    }
}

/// The name of the position whose PostScript name and style a variable font
/// declares for exactly these values, if it is a named one.
pub(super) fn postscript_name(font: &Font, asked: &str) -> Option<String> {
    let instance = font.named_instances().iter().find(|instance| {
        names::text(font, instance.subfamily_name())
            .is_some_and(|name| name.eq_ignore_ascii_case(asked.trim()))
    })?;
    let id: NameId = instance.postscript_name()?;
    names::text(font, id)
}
