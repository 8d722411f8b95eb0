//! Longhands of flexible boxes, and of alignment and gaps in them and in grids (CSS Flexbox 1,
//! CSS Box Alignment 3).

use super::given::{CONTENT_SIZES, Given};
use super::{Longhand, row};
use crate::style::computed::{FlexWrap, Length, Placement};

const POSITIONS: [(&str, Placement); 5] = [
    ("center", Placement::Center),
    ("start", Placement::Start),
    ("end", Placement::End),
    ("flex-start", Placement::Start),
    ("flex-end", Placement::End),
];

const SELF_POSITIONS: [(&str, Placement); 2] = [
    ("self-start", Placement::Start),
    ("self-end", Placement::End),
];

const EDGES: [(&str, Placement); 2] = [("left", Placement::Start), ("right", Placement::End)];

const DISTRIBUTIONS: [(&str, Placement); 4] = [
    ("space-between", Placement::SpaceBetween),
    ("space-around", Placement::SpaceAround),
    ("space-evenly", Placement::SpaceEvenly),
    ("stretch", Placement::Stretch),
];

/// What a property of alignment takes besides positions.
#[derive(Clone, Copy, Default)]
struct Takes {
    distributions: bool,
    baselines: bool,
    of_itself: bool,
    edges: bool,
    anchor: bool,
}

impl Takes {
    const CONTENT: Takes = Takes {
        distributions: true,
        baselines: false,
        of_itself: false,
        edges: false,
        anchor: false,
    };
    const ITEMS: Takes = Takes {
        distributions: false,
        baselines: true,
        of_itself: true,
        edges: false,
        anchor: false,
    };

    fn read(self, given: &Given<'_>) -> Option<Placement> {
        let lower = given.lower;
        let words: Vec<&str> = lower.split_whitespace().collect();
        match words.as_slice() {
            ["normal"] => Some(Placement::Stretch),
            ["stretch"] if self.of_itself => Some(Placement::Stretch),
            ["baseline"] | ["first", "baseline"] if self.baselines => Some(Placement::Baseline),
            // As its fallback has it (CSS Box Alignment 3, §4.2).
            ["last", "baseline"] if self.of_itself => Some(Placement::End),
            ["anchor-center"] if self.anchor => Some(Placement::Center),
            [word] if self.distributions && given.part(word).keyword(&DISTRIBUTIONS).is_some() => {
                given.keyword(&DISTRIBUTIONS)
            }
            [word] | ["safe" | "unsafe", word] => {
                let word = given.part(word);
                let self_position = || self.of_itself.then(|| word.keyword(&SELF_POSITIONS))?;
                let edge = || self.edges.then(|| word.keyword(&EDGES))?;
                word.keyword(&POSITIONS)
                    .or_else(self_position)
                    .or_else(edge)
            }
            _ => None,
        }
    }

    /// The same of an item, `auto` for what its container says.
    fn read_self(self, given: &Given<'_>) -> Option<Option<Placement>> {
        if given.lower == "auto" {
            return Some(None);
        }
        let takes = Takes {
            anchor: true,
            ..self
        };
        takes.read(given).map(Some)
    }
}

pub(super) fn longhands() -> [Longhand; 14] {
    const NORMAL: [(&str, Length); 1] = [("normal", Length::Auto)];
    [
        Longhand {
            name: "flex-direction",
            inherited: false,
            initial: "row",
            of_boxes: true,
            set: |to, given| {
                (to.boxes.flex.column, to.boxes.flex.reverse) = given.keyword(&[
                    ("row", (false, false)),
                    ("row-reverse", (false, true)),
                    ("column", (true, false)),
                    ("column-reverse", (true, true)),
                ])?;
                Some(())
            },
            copy: |to, from| {
                let from = &from.boxes.flex;
                (to.boxes.flex.column, to.boxes.flex.reverse) = (from.column, from.reverse);
            },
        },
        Longhand {
            name: "flex-wrap",
            inherited: false,
            initial: "nowrap",
            of_boxes: true,
            set: |to, given| {
                to.boxes.flex.wrap = given.keyword(&[
                    ("nowrap", FlexWrap::Nowrap),
                    ("wrap", FlexWrap::Wrap),
                    ("wrap-reverse", FlexWrap::WrapReverse),
                    ("balance", FlexWrap::Wrap),
                ])?;
                to.boxes
                    .note_unsupported(given.lower != "balance", "flex-wrap", given.lower);
                Some(())
            },
            copy: |to, from| to.boxes.flex.wrap = from.boxes.flex.wrap,
        },
        row!("flex-grow", false, "0", true, boxes.flex.grow, |given| {
            given.positive_number()
        }),
        row!(
            "flex-shrink",
            false,
            "1",
            true,
            boxes.flex.shrink,
            |given| given.positive_number()
        ),
        row!(
            "flex-basis",
            false,
            "auto",
            true,
            boxes.flex.basis,
            |given| {
                given
                    .keyword(&[("auto", Length::Auto), ("content", Length::Auto)])
                    .or_else(|| given.length_or(&CONTENT_SIZES[..4]))
            }
        ),
        row!("order", false, "0", true, boxes.flex.order, |given| given
            .integer()),
        row!(
            "justify-content",
            false,
            "normal",
            true,
            boxes.flex.justify,
            |given| {
                let takes = Takes {
                    edges: true,
                    ..Takes::CONTENT
                };
                takes.read(given)
            }
        ),
        row!(
            "align-content",
            false,
            "normal",
            true,
            boxes.flex.align_content,
            |given| {
                let takes = Takes {
                    baselines: true,
                    ..Takes::CONTENT
                };
                takes.read(given)
            }
        ),
        row!(
            "align-items",
            false,
            "normal",
            true,
            boxes.flex.align_items,
            |given| { Takes::ITEMS.read(given) }
        ),
        row!(
            "align-self",
            false,
            "auto",
            true,
            boxes.flex.align_self,
            |given| { Takes::ITEMS.read_self(given) }
        ),
        row!(
            "justify-items",
            false,
            "normal",
            true,
            boxes.flex.justify_items,
            |given| {
                // For those inside only (CSS Box Alignment 3, §6.1).
                let rest = given.lower.strip_prefix("legacy");
                let rest = rest
                    .or_else(|| given.lower.strip_suffix("legacy"))
                    .map(str::trim);
                if rest.is_some_and(|rest| !["", "left", "right", "center"].contains(&rest)) {
                    return None;
                }
                let rest = rest.map(|rest| if rest.is_empty() { "normal" } else { rest });
                let takes = Takes {
                    edges: true,
                    ..Takes::ITEMS
                };
                takes.read(&given.part(rest.unwrap_or(given.lower)))
            }
        ),
        row!(
            "justify-self",
            false,
            "auto",
            true,
            boxes.flex.justify_self,
            |given| {
                let takes = Takes {
                    edges: true,
                    ..Takes::ITEMS
                };
                takes.read_self(given)
            }
        ),
        row!("column-gap", false, "normal", true, boxes.gap.0, |given| {
            given.length_or(&NORMAL)
        }),
        row!("row-gap", false, "normal", true, boxes.gap.1, |given| given
            .length_or(&NORMAL)),
    ]
}
