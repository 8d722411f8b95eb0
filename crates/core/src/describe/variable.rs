//! Variable fonts: axes, named positions, and what an `@font-face` rule may
//! declare (`fvar`, `avar`, OpenType 1.9.1; CSS Fonts 4, §4.4).

use serde::Serialize;
use skrifa::font::Font;

use tidy_lattice_glyphs::font::name_text;

/// The most positions that are told; `fvar` allows 65,535.
const MOST: usize = 1000;

/// The design space of a variable font.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Variable {
    /// The axes.
    pub axes: Vec<Axis>,
    /// The named positions.
    pub positions: Vec<Position>,
    /// Descriptors for the `@font-face` rule, such as `font-weight: 100 900`.
    pub descriptors: Vec<String>,
}

/// One axis.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Axis {
    /// The tag.
    pub tag: String,
    /// The name that the font gives it.
    pub name: Option<String>,
    /// The least value.
    pub min: f32,
    /// The value where nothing is asked for.
    pub default: f32,
    /// The greatest value.
    pub max: f32,
    /// Whether the font wants it hidden from users.
    pub hidden: bool,
    /// The CSS property that moves along it.
    pub css: String,
}

/// A named position.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Position {
    /// Its name.
    pub name: Option<String>,
    /// Its PostScript name, which `local()` matches.
    pub postscript: Option<String>,
    /// Its value on each axis, in the order of the axes.
    pub values: Vec<f32>,
}

impl Variable {
    /// The design space of `font`; `None` where it does not vary.
    pub(super) fn read(font: &Font) -> Option<Self> {
        let name = |id: u16| name_text(font, id, 200);
        let axes: Vec<Axis> = font
            .axes()
            .iter()
            .map(|axis| Axis {
                tag: axis.tag().to_string(),
                name: name(axis.name().to_u16()),
                min: axis.min_value(),
                default: axis.default_value(),
                max: axis.max_value(),
                hidden: axis.is_hidden(),
                css: css(&axis.tag().to_string()),
            })
            .collect();
        if axes.is_empty() {
            return None;
        }
        let positions = font
            .named_instances()
            .iter()
            .take(MOST)
            .map(|position| Position {
                name: name(position.subfamily_name().to_u16()),
                postscript: position.postscript_name().and_then(|id| name(id.to_u16())),
                values: position.user_coords().collect(),
            });
        Some(Variable {
            descriptors: axes.iter().filter_map(descriptor).collect(),
            positions: positions.collect(),
            axes,
        })
    }
}

/// The property for an axis (CSS Fonts 4, §7: registered axes).
fn css(tag: &str) -> String {
    match tag {
        "wght" => "font-weight".to_owned(),
        "wdth" => "font-stretch".to_owned(),
        "slnt" => "font-style: oblique".to_owned(),
        "ital" => "font-style: italic".to_owned(),
        "opsz" => "font-optical-sizing".to_owned(),
        _ => format!("font-variation-settings: \"{tag}\""),
    }
}

/// The descriptor whose range the axis sets.
fn descriptor(axis: &Axis) -> Option<String> {
    let Axis { min, max, .. } = axis;
    if min > max {
        return None;
    }
    match axis.tag.as_str() {
        // CSS counts weights from 1 to 1000.
        "wght" => Some(format!("font-weight: {} {}", min.max(1.0), max.min(1000.0))),
        "wdth" => Some(format!("font-stretch: {min}% {max}%")),
        // The axis leans to the left where positive, CSS to the right.
        "slnt" if *min != 0.0 || *max != 0.0 => {
            let (from, to) = (0.0 - max, 0.0 - min);
            Some(format!("font-style: oblique {from}deg {to}deg"))
        }
        _ => None,
    }
}
