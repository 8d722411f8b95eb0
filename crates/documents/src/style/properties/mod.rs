//! The one table of properties: of each longhand its name, initial value, whether it is
//! inherited, how its values are read and which are invalid; of each shorthand what it
//! stands for.

mod aliases;
mod boxes;
mod counters;
mod flex;
mod fonts;
mod given;
mod grid;
mod lines;
mod shorthands;
#[cfg(test)]
mod tests;

use std::collections::HashMap;
use std::sync::LazyLock;

pub(crate) use given::{Given, Surroundings};
pub(crate) use shorthands::split;

use super::computed::{BoxStyle, CounterChanges, Display, Outer, TextStyle};

/// What an element computes to.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Style {
    /// What fonts and texts need.
    pub text: TextStyle,
    /// What boxes need, but for `display`.
    pub boxes: BoxStyle,
    /// `display`.
    pub display: (Display, Outer),
    /// `content`; `None` for `normal`.
    pub content: Option<String>,
    /// What happens to counters.
    pub counters: CounterChanges,
}

/// The same of a parent.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Parent<'a> {
    /// What fonts and texts need.
    pub text: &'a TextStyle,
    /// What boxes need.
    pub boxes: &'a BoxStyle,
    /// `display`.
    pub display: (Display, Outer),
    /// `content`.
    pub content: &'a Option<String>,
    /// What happens to counters.
    pub counters: &'a CounterChanges,
}

/// A longhand property.
pub(crate) struct Longhand {
    /// Its name.
    pub name: &'static str,
    /// Whether elements have their parent's value where nothing is declared.
    pub inherited: bool,
    /// Its initial value, as it is written.
    pub initial: &'static str,
    /// Whether it is about boxes, which not everybody asks for.
    pub of_boxes: bool,
    /// Reads a value and puts it to the style; `None`, and nothing put, where it is invalid.
    pub set: fn(&mut Style, &Given<'_>) -> Option<()>,
    /// Takes the value of the parent.
    pub copy: fn(&mut Style, &Parent<'_>),
}

/// Puts a row into a table: name, inherited or not, initial value, the field that holds the
/// value, and how it is read.
macro_rules! row {
    ($name:literal, $inherited:expr, $initial:literal, $of_boxes:expr,
        $($field:tt).+, $read:expr) => {
        $crate::style::properties::Longhand {
            name: $name,
            inherited: $inherited,
            initial: $initial,
            of_boxes: $of_boxes,
            set: |to, given| {
                let read: fn(&$crate::style::properties::Given<'_>) -> Option<_> = $read;
                to.$($field).+ = read(given)?;
                Some(())
            },
            copy: |to, from| to.$($field).+.clone_from(&from.$($field).+),
        }
    };
}
pub(in crate::style::properties) use row;

/// Where a longhand stands in the table.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub(crate) struct Id(usize);

/// All longhands, in the order in which they are put to a style: what others are relative to
/// comes first.
static LONGHANDS: LazyLock<Vec<Longhand>> = LazyLock::new(|| {
    let mut all = Vec::new();
    all.extend(fonts::longhands());
    all.extend(counters::longhands());
    all.extend(lines::longhands());
    all.extend(boxes::longhands());
    all.extend(flex::longhands());
    all.extend(grid::longhands());
    all
});

static BY_NAME: LazyLock<HashMap<&str, Id>> = LazyLock::new(|| {
    let places = LONGHANDS.iter().enumerate();
    places.map(|(at, one)| (one.name, Id(at))).collect()
});

impl Id {
    /// The longhand of this name.
    pub fn of(name: &str) -> Option<Self> {
        BY_NAME.get(name).copied()
    }

    /// What the table says of it.
    pub fn longhand(self) -> &'static Longhand {
        &LONGHANDS[self.0]
    }

    /// Where it stands, from 0.
    pub fn place(self) -> usize {
        self.0
    }
}

/// All longhands, in order.
pub(crate) fn all() -> impl ExactSizeIterator<Item = Id> {
    (0..LONGHANDS.len()).map(Id)
}

/// What a child starts from: inherited values over initial ones.
pub(crate) fn for_child(parent: &Parent<'_>, boxes: bool) -> Style {
    let mut style = Style {
        text: parent.text.clone(),
        boxes: BoxStyle::undeclared(),
        display: (Display::Inline, Outer::Inline),
        content: None,
        counters: CounterChanges::default(),
    };
    if boxes {
        style.boxes.in_font_units = parent.boxes.in_font_units;
        for longhand in LONGHANDS.iter().filter(|one| one.of_boxes && one.inherited) {
            (longhand.copy)(&mut style, parent);
        }
    }
    style
}

/// Whether a value is a keyword that all properties take (CSS Cascade 5, §7.3).
pub(crate) fn is_wide(value: &str) -> bool {
    ["inherit", "initial", "unset", "revert", "revert-layer"]
        .iter()
        .any(|wide| value.eq_ignore_ascii_case(wide))
}

/// The property that a sheet means by `name`; nothing where it does not matter here.
pub(crate) fn known(name: &str) -> Option<&'static str> {
    let lower = name.to_ascii_lowercase();
    let of_today = aliases::of_today(&lower);
    match Id::of(of_today) {
        Some(id) => Some(id.longhand().name),
        None => shorthands::known(of_today),
    }
}
