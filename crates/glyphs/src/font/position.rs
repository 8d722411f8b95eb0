//! Picking one face: which font of a collection, at which position of a
//! variable font.

use skrifa::font::Font;

use super::{FontError, FontFile, names};

/// Which face of a file is meant.
///
/// Written behind a path as `#2` (the font's number in a collection, counted
/// from 0), `@Bold` (a named position of a variable font) or
/// `@wght=650,wdth=80` (values on its axes).
#[derive(Debug, Clone, Default, PartialEq, Eq, Hash)]
pub struct FacePick {
    /// The font's number in a collection, from 0.
    pub index: u32,
    /// The position in the design space; the default where there is none.
    pub position: Option<String>,
}

impl FacePick {
    /// Every font of `file`, each at its default position.
    pub fn every(file: &FontFile) -> Vec<Self> {
        let indices = 0..file.face_count();
        let pick = |index| FacePick {
            index,
            position: None,
        };
        indices.map(pick).collect()
    }

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

/// A font at a position of its design space.
pub(super) struct Placed {
    /// The font there.
    pub font: Font,
    /// The position's values by axis tag.
    pub values: Vec<(String, f32)>,
    /// The name of the position, where it has one.
    pub name: Option<String>,
    /// The PostScript name that the font declares for it.
    pub postscript: Option<String>,
}

/// Moves `font` to the position that `asked` describes.
pub(super) fn place(font: &Font, asked: &str) -> Result<Placed, FontError> {
    let (values, name, postscript) = if asked.contains('=') {
        (axis_values(font, asked)?, None, None)
    } else {
        named(font, asked)?
    };
    Ok(Placed {
        font: moved(font, &values),
        values,
        name,
        postscript,
    })
}

/// `font` at `values`.
pub(super) fn moved(font: &Font, values: &[(String, f32)]) -> Font {
    font.instance_builder()
        .variations(values.iter().map(|(tag, value)| (tag.as_str(), *value)))
        .build()
}

/// Those of `values` that `font` has an axis for, within its ends.
pub(super) fn within(font: &Font, values: &[(String, f32)]) -> Values {
    let placed = values.iter().filter_map(|(tag, value)| {
        let axis = font.axes().iter().find(|axis| axis.tag() == tag.as_str())?;
        let value = value.clamp(axis.min_value(), axis.max_value().max(axis.min_value()));
        Some((tag.clone(), value))
    });
    placed.collect()
}

/// Values by axis tag.
type Values = Vec<(String, f32)>;

/// The values in `wght=650,wdth=80`.
fn axis_values(font: &Font, asked: &str) -> Result<Values, FontError> {
    let wrong = || no_such_position(font, asked);
    let mut values = Vec::new();
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
        values.push((axis.tag().to_string(), value));
    }
    Ok(values)
}

/// The values, the name and the PostScript name of a named position.
fn named(font: &Font, asked: &str) -> Result<(Values, Option<String>, Option<String>), FontError> {
    let instance = font
        .named_instances()
        .iter()
        .find(|instance| {
            names::text(font, instance.subfamily_name())
                .is_some_and(|name| name.eq_ignore_ascii_case(asked.trim()))
        })
        .ok_or_else(|| no_such_position(font, asked))?;
    let values = instance
        .variations()
        .map(|variation| (variation.tag.to_string(), variation.value))
        .collect();
    let postscript = instance
        .postscript_name()
        .and_then(|id| names::text(font, id));
    Ok((
        values,
        names::text(font, instance.subfamily_name()),
        postscript,
    ))
}

/// The names of the named positions of `font`.
pub(super) fn position_names(font: &Font) -> Vec<String> {
    font.named_instances()
        .iter()
        .filter_map(|instance| names::text(font, instance.subfamily_name()))
        .collect()
}

fn no_such_position(font: &Font, asked: &str) -> FontError {
    FontError::NoSuchPosition {
        asked: asked.to_owned(),
        known: known_positions(font),
    }
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
    let named = position_names(font);
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
