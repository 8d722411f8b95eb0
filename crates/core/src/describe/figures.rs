//! What people ask first of a face's features: which letters and signs it joins, and
//! what its figures look like.

use serde::Serialize;
use tidy_lattice_glyphs::font::{Face, Outlines};
use tidy_lattice_glyphs::shaping::{ShapeSettings, Shaper};

use super::FeatureDescription;

/// Letters that collide, and signs of programs that fonts join.
const TRIED: [&str; 22] = [
    "fi", "fl", "ff", "ffi", "ffl", "ft", "tt", "Th", "st", "ct", "=>", "->", "<-", "!=", "==",
    "===", "<=", ">=", "|>", "::", "//", "www",
];

/// The features that browsers apply to ligatures where a style sheet asks for nothing.
const COMMON: [&str; 4] = ["liga", "clig", "calt", "rlig"];

/// Ligatures that a style sheet has to ask for.
const ON_REQUEST: [&str; 2] = ["dlig", "hlig"];

/// Kinds of figures, the feature and the value of `font-variant-numeric` or
/// `font-variant-position` that asks for them.
const KINDS: [(&str, &str, &str); 9] = [
    ("tabular", "tnum", "tabular-nums"),
    ("proportional", "pnum", "proportional-nums"),
    ("lining", "lnum", "lining-nums"),
    ("old-style", "onum", "oldstyle-nums"),
    ("fractions", "frac", "diagonal-fractions"),
    ("slashed zero", "zero", "slashed-zero"),
    ("ordinals", "ordn", "ordinal"),
    ("superscript", "sups", "super"),
    ("subscript", "subs", "sub"),
];

/// The frequent letters and signs that a face joins.
#[derive(Debug, Clone, Default, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Joined {
    /// Those that are drawn otherwise than letter by letter where nothing is asked for.
    pub by_default: Vec<String>,
    /// Those that `discretionary-ligatures` or `historical-ligatures` join besides.
    pub on_request: Vec<String>,
}

/// The figures of a face.
#[derive(Debug, Clone, Default, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Figures {
    /// Whether all stand on one width where nothing is asked for; `None` without figures.
    pub tabular: Option<bool>,
    /// Whether they have ascenders and descenders; `None` without outlines of figures.
    pub old_style: Option<bool>,
    /// What else there is, and the CSS value that asks for it.
    pub on_request: Vec<OtherFigures>,
}

/// Figures that a style sheet has to ask for.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct OtherFigures {
    /// What they are called, such as `tabular`.
    pub name: String,
    /// The value of `font-variant-numeric`, for superscript and subscript of
    /// `font-variant-position`.
    pub css: String,
}

impl Joined {
    /// Shapes what people try first.
    pub(super) fn read(face: &Face) -> Self {
        let mut shaper = Shaper::new(face);
        let off: Vec<(&str, u32)> = COMMON.iter().map(|tag| (*tag, 0)).collect();
        let asked: Vec<(&str, u32)> = ON_REQUEST.iter().map(|tag| (*tag, 1)).collect();
        let mut glyphs = |text: &str, features: &[(&str, u32)]| -> Vec<u32> {
            let settings = ShapeSettings {
                features,
                ..ShapeSettings::default()
            };
            let placed = shaper.glyphs(text, settings).into_iter();
            placed.map(|glyph| glyph.glyph).collect()
        };
        let mut joined = Joined::default();
        for text in TRIED {
            if !text.chars().all(|c| face.maps(c)) {
                continue;
            }
            let plain = glyphs(text, &off);
            let usual = glyphs(text, &[]);
            if usual != plain {
                joined.by_default.push(text.to_owned());
            } else if glyphs(text, &asked) != usual {
                joined.on_request.push(text.to_owned());
            }
        }
        joined
    }
}

impl Figures {
    /// Measures the figures 0 to 9.
    pub(super) fn read(face: &Face, features: &[FeatureDescription]) -> Self {
        if !('0'..='9').all(|figure| face.maps(figure)) {
            return Figures::default();
        }
        let mut shaper = Shaper::new(face);
        let mut units = |figure: char| shaper.units(figure.encode_utf8(&mut [0; 4]));
        let first = units('0');
        let tabular = ('1'..='9').all(|figure| units(figure) == first);
        let old_style = Outlines::of(face).and_then(|outlines| {
            let boxes = ['3', '4', '5', '7', '9'].map(|figure| outlines.letter_box(figure));
            let zero = outlines.letter_box('0')?;
            // A lining figure stands on the baseline, but for the overshoot of its curves.
            let descends = |bounds: &kurbo::Rect| bounds.y0 < zero.y0 - 0.1 * zero.height();
            let descending = boxes.iter().flatten().filter(|one| descends(one)).count();
            Some(descending >= 3)
        });
        let on_request = KINDS
            .iter()
            .filter(|(name, tag, _)| {
                let there = features.iter().any(|feature| feature.tag == *tag);
                let already = match *name {
                    "tabular" => tabular,
                    "proportional" => !tabular,
                    "old-style" => old_style == Some(true),
                    "lining" => old_style == Some(false),
                    _ => false,
                };
                there && !already
            })
            .map(|(name, _, css)| OtherFigures {
                name: (*name).to_owned(),
                css: (*css).to_owned(),
            })
            .collect();
        Figures {
            tabular: Some(tabular),
            old_style,
            on_request,
        }
    }
}
