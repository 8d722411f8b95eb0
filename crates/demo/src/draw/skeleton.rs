//! The letters as pen strokes, from `data/skeletons.txt`.

use std::collections::BTreeMap;

use kurbo::BezPath;

/// What a skeleton's heights refer to.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Kind {
    /// Capitals and figures.
    Capital,
    /// Small letters.
    Small,
    /// Marks above, placed by the letter's top.
    MarkAbove,
    /// Marks below, placed by the baseline.
    MarkBelow,
}

/// One letter's strokes in nominal units.
#[derive(Debug, Clone)]
pub struct Skeleton {
    /// What the heights refer to.
    pub kind: Kind,
    /// The width between the outermost strokes, in nominal units.
    pub width: f64,
    /// The strokes.
    pub strokes: BezPath,
}

/// All skeletons by character.
pub type Skeletons = BTreeMap<char, Skeleton>;

/// Reads the skeletons.
///
/// # Panics
///
/// Where a line of the data is wrong: the data is part of this crate.
pub fn read() -> Skeletons {
    let mut skeletons = Skeletons::new();
    for line in include_str!("../../data/skeletons.txt").lines() {
        if line.is_empty() || line.starts_with('#') {
            continue;
        }
        let mut fields = line.splitn(4, ' ');
        let mut field = || {
            fields
                .next()
                .unwrap_or_else(|| panic!("too few fields: {line}"))
        };
        let character = character(field());
        let kind = match field() {
            "c" => Kind::Capital,
            "l" => Kind::Small,
            "m" => Kind::MarkAbove,
            "b" => Kind::MarkBelow,
            other => panic!("unknown kind {other}: {line}"),
        };
        let width = field()
            .parse()
            .unwrap_or_else(|_| panic!("no width: {line}"));
        let strokes = BezPath::from_svg(field()).unwrap_or_else(|error| panic!("{error}: {line}"));
        let skeleton = Skeleton {
            kind,
            width,
            strokes,
        };
        let before = skeletons.insert(character, skeleton);
        assert!(before.is_none(), "drawn twice: {line}");
    }
    skeletons
}

fn character(field: &str) -> char {
    let mut characters = field.chars();
    match (characters.next(), characters.next()) {
        (Some(only), None) => only,
        _ => field
            .strip_prefix("U+")
            .and_then(|digits| u32::from_str_radix(digits, 16).ok())
            .and_then(char::from_u32)
            .unwrap_or_else(|| panic!("no character: {field}")),
    }
}
