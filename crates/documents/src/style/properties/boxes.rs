//! Longhands of boxes: what they are, where they stand and how large they are (CSS Display 3,
//! CSS Box 4, CSS Sizing 4, CSS Positioned Layout 3, CSS Tables 3, CSS Overflow 3).

use super::given::Given;
use super::lines::not_done;
use super::{Longhand, row};
use crate::style::computed::{Display, Outer, Position, Side, Skipped, TablePart};
use crate::style::parts;

/// Rows of four sides.
macro_rules! sides {
    ([$a:literal, $b:literal, $c:literal, $d:literal], $initial:literal,
        $first:ident.$second:ident, $read:expr) => {
        [
            row!($a, false, $initial, true, $first.$second.top, $read),
            row!($b, false, $initial, true, $first.$second.right, $read),
            row!($c, false, $initial, true, $first.$second.bottom, $read),
            row!($d, false, $initial, true, $first.$second.left, $read),
        ]
    };
}

pub(super) fn longhands() -> Vec<Longhand> {
    let mut all: Vec<Longhand> = kinds().into();
    all.extend(sides!(
        ["top", "right", "bottom", "left"],
        "auto",
        boxes.inset,
        |given| { given.length_or_auto(true) }
    ));
    all.extend(sides!(
        ["margin-top", "margin-right", "margin-bottom", "margin-left"],
        "0",
        boxes.margin,
        |given| given.length_or_auto(true)
    ));
    all.extend(sides!(
        [
            "padding-top",
            "padding-right",
            "padding-bottom",
            "padding-left"
        ],
        "0",
        boxes.padding,
        |given| given.length_or_percentage(false)
    ));
    all.extend(sides!(
        [
            "border-top-style",
            "border-right-style",
            "border-bottom-style",
            "border-left-style"
        ],
        "none",
        boxes.drawn,
        drawn
    ));
    all.extend(sides!(
        [
            "border-top-width",
            "border-right-width",
            "border-bottom-width",
            "border-left-width"
        ],
        "medium",
        boxes.border,
        |given| given.line_width()
    ));
    all.extend(sizes());
    all.extend(tables());
    all.extend(others());
    all
}

fn kinds() -> [Longhand; 6] {
    [
        row!(
            "appearance",
            false,
            "none",
            true,
            boxes.plain_control,
            appearance
        ),
        // Whoever asks for texts only wants to know of lists.
        Longhand {
            name: "display",
            inherited: false,
            initial: "inline",
            of_boxes: false,
            set: |to, given| {
                to.display = display(given)?;
                Some(())
            },
            copy: |to, from| to.display = from.display,
        },
        row!(
            "visibility",
            true,
            "visible",
            true,
            boxes.visible,
            |given| { given.keyword(&[("visible", true), ("hidden", false), ("collapse", false)]) }
        ),
        row!("position", false, "static", true, boxes.position, |given| {
            given.keyword(&[
                ("static", Position::Static),
                ("relative", Position::Relative),
                ("sticky", Position::Sticky),
                ("absolute", Position::Absolute),
                ("fixed", Position::Fixed),
            ])
        }),
        row!("float", false, "none", true, boxes.float, |given| {
            let (start, end) = if given.rtl {
                (Side::Right, Side::Left)
            } else {
                (Side::Left, Side::Right)
            };
            given.keyword(&[
                ("none", None),
                ("left", Some(Side::Left)),
                ("right", Some(Side::Right)),
                ("inline-start", Some(start)),
                ("inline-end", Some(end)),
            ])
        }),
        row!("clear", false, "none", true, boxes.clear, |given| {
            given.keyword(&[
                ("none", (false, false)),
                ("left", (true, false)),
                ("right", (false, true)),
                ("both", (true, true)),
                ("inline-start", (!given.rtl, given.rtl)),
                ("inline-end", (given.rtl, !given.rtl)),
            ])
        }),
    ]
}

fn sizes() -> [Longhand; 14] {
    [
        row!(
            "width",
            false,
            "auto",
            true,
            boxes.width.preferred,
            |given| given.size("auto")
        ),
        row!("min-width", false, "auto", true, boxes.width.min, |given| {
            given.size("auto")
        }),
        row!("max-width", false, "none", true, boxes.width.max, |given| {
            given.size("none")
        }),
        row!(
            "height",
            false,
            "auto",
            true,
            boxes.height.preferred,
            |given| { given.size("auto") }
        ),
        row!(
            "min-height",
            false,
            "auto",
            true,
            boxes.height.min,
            |given| given.size("auto")
        ),
        row!(
            "max-height",
            false,
            "none",
            true,
            boxes.height.max,
            |given| given.size("none")
        ),
        row!(
            "box-sizing",
            false,
            "content-box",
            true,
            boxes.border_box,
            |given| { given.keyword(&[("content-box", false), ("border-box", true)]) }
        ),
        Longhand {
            name: "aspect-ratio",
            inherited: false,
            initial: "auto",
            of_boxes: true,
            set: |to, given| {
                (to.boxes.ratio, to.boxes.ratio_yields) = ratio(given)?;
                Some(())
            },
            copy: |to, from| {
                let from = &from.boxes;
                (to.boxes.ratio, to.boxes.ratio_yields) = (from.ratio, from.ratio_yields);
            },
        },
        row!(
            "content-visibility",
            false,
            "visible",
            true,
            boxes.skipped,
            |given| {
                given.keyword(&[
                    ("visible", Skipped::Never),
                    ("auto", Skipped::Far),
                    ("hidden", Skipped::Always),
                ])
            }
        ),
        row!(
            "contain-intrinsic-width",
            false,
            "none",
            true,
            boxes.intrinsic.0,
            intrinsic
        ),
        row!(
            "contain-intrinsic-height",
            false,
            "none",
            true,
            boxes.intrinsic.1,
            intrinsic
        ),
        row!(
            "overflow-x",
            false,
            "visible",
            true,
            boxes.overflows.0,
            overflows
        ),
        row!(
            "overflow-y",
            false,
            "visible",
            true,
            boxes.overflows.1,
            overflows
        ),
        Longhand {
            set: |to, given| {
                let number = match given.number() {
                    _ if given.lower == "normal" => 1.0,
                    Some(number) => number,
                    None => given.percentage()? / 100.0,
                };
                if number < 0.0 && !given.lower.contains('(') {
                    return None;
                }
                // 0 counts as 1 (CSS Viewport 1, §5).
                to.boxes
                    .note_unsupported(number == 1.0 || number <= 0.0, "zoom", given.lower);
                Some(())
            },
            ..not_done("zoom", false, "1")
        },
    ]
}

fn tables() -> [Longhand; 4] {
    [
        row!(
            "border-collapse",
            true,
            "separate",
            true,
            boxes.collapse,
            |given| { given.keyword(&[("separate", false), ("collapse", true)]) }
        ),
        row!("border-spacing", true, "0", true, boxes.spacing, |given| {
            let words = parts(given.lower);
            let one = |word: &String| given.part(word).px();
            match words.as_slice() {
                [both] => one(both).map(|px| (px, px)),
                [columns, rows] => one(columns).zip(one(rows)),
                _ => None,
            }
        }),
        row!(
            "table-layout",
            false,
            "auto",
            true,
            boxes.fixed_table,
            |given| { given.keyword(&[("auto", false), ("fixed", true)]) }
        ),
        row!(
            "caption-side",
            true,
            "top",
            true,
            boxes.caption_below,
            |given| { given.keyword(&[("top", false), ("bottom", true)]) }
        ),
    ]
}

/// What layout does not do.
fn others() -> [Longhand; 3] {
    [
        Longhand {
            set: |to, given| {
                if given.lower != "auto" && given.count().is_none() {
                    return None;
                }
                to.boxes
                    .note_unsupported(given.lower == "auto", "column-count", given.lower);
                Some(())
            },
            ..not_done("column-count", false, "auto")
        },
        Longhand {
            set: |to, given| {
                if given.lower != "auto" {
                    given.px()?;
                }
                to.boxes
                    .note_unsupported(given.lower == "auto", "column-width", given.lower);
                Some(())
            },
            ..not_done("column-width", false, "auto")
        },
        Longhand {
            set: |to, given| {
                let functions = [
                    "matrix",
                    "translate",
                    "scale",
                    "rotate",
                    "skew",
                    "perspective",
                ];
                let is_one = functions.iter().any(|name| given.lower.starts_with(name));
                if given.lower != "none" && !(is_one && given.lower.ends_with(')')) {
                    return None;
                }
                to.boxes
                    .note_unsupported(given.lower == "none", "transform", given.lower);
                Some(())
            },
            ..not_done("transform", false, "none")
        },
    ]
}

/// Whether a control is drawn plainly; names of controls count as `auto` (CSS UI 4, §8.1).
fn appearance(given: &Given<'_>) -> Option<bool> {
    const NATIVE: [&str; 12] = [
        "auto",
        "base-select",
        "button",
        "checkbox",
        "listbox",
        "menulist",
        "menulist-button",
        "meter",
        "progress-bar",
        "radio",
        "searchfield",
        "textarea",
    ];
    let native = NATIVE.contains(&given.lower) || given.lower == "textfield";
    (native || given.lower == "none").then_some(given.lower == "none")
}

/// What a box is, and how it stands among others (CSS Display 3, §2).
fn display(given: &Given<'_>) -> Option<(Display, Outer)> {
    let table = |part| Some((Display::Table(part), Outer::Block));
    let block = |display| Some((display, Outer::Block));
    let inline = |display| Some((display, Outer::Inline));
    match given.lower {
        "none" => block(Display::None),
        "contents" => block(Display::Contents),
        "-webkit-box" => Some((Display::Flex { inline: false }, Outer::Legacy)),
        "-webkit-inline-box" => Some((Display::Flex { inline: true }, Outer::Legacy)),
        "-webkit-flex" => block(Display::Flex { inline: false }),
        "-webkit-inline-flex" => inline(Display::Flex { inline: true }),
        "inline-block" => inline(Display::InlineBlock),
        "inline-flex" => inline(Display::Flex { inline: true }),
        "inline-grid" => inline(Display::Grid { inline: true }),
        "inline-table" => Some((Display::Table(TablePart::Whole), Outer::Inline)),
        "table-row-group" | "table-header-group" | "table-footer-group" => table(TablePart::Group),
        "table-row" => table(TablePart::Row),
        "table-cell" => table(TablePart::Cell),
        "table-caption" => table(TablePart::Caption),
        "table-column" | "table-column-group" => table(TablePart::Column),
        "ruby-text" | "math" | "block math" | "inline math" => inline(Display::Inline),
        lower => by_two_words(lower),
    }
}

/// The outer and the inner word of `display`, in any order, with `list-item` or without.
fn by_two_words(lower: &str) -> Option<(Display, Outer)> {
    let (mut outer, mut inner, mut item) = (None, None, false);
    for word in lower.split_whitespace() {
        let place = match word {
            "block" | "inline" => &mut outer,
            "flow" | "flow-root" | "flex" | "grid" | "table" | "ruby" => &mut inner,
            "list-item" if !item => {
                item = true;
                continue;
            }
            _ => return None,
        };
        if place.replace(word).is_some() {
            return None;
        }
    }
    if item && matches!(inner, Some("flex" | "grid" | "table" | "ruby")) {
        return None;
    }
    let inline = match (outer, inner) {
        (Some(outer), _) => outer == "inline",
        (None, Some("ruby")) => true,
        (None, None) if !item => return None,
        (None, _) => false,
    };
    let display = match inner {
        None | Some("flow" | "ruby") if inline => Display::Inline,
        None | Some("flow" | "ruby") => Display::Block,
        Some("flow-root") if inline => Display::InlineBlock,
        Some("flow-root") => Display::FlowRoot,
        Some("flex") => Display::Flex { inline },
        Some("grid") => Display::Grid { inline },
        _ => Display::Table(TablePart::Whole),
    };
    Some((
        display,
        match (item, inline) {
            (true, _) => Outer::ListItem,
            (_, true) => Outer::Inline,
            (_, false) => Outer::Block,
        },
    ))
}

/// Whether a border of this style has a width.
fn drawn(given: &Given<'_>) -> Option<bool> {
    const DRAWN: [&str; 8] = [
        "dotted", "dashed", "solid", "double", "groove", "ridge", "inset", "outset",
    ];
    let drawn = DRAWN.contains(&given.lower);
    (drawn || ["none", "hidden"].contains(&given.lower)).then_some(drawn)
}

/// Width by height; and whether a natural ratio goes before it (CSS Sizing 4, §5.1).
fn ratio(given: &Given<'_>) -> Option<(Option<f32>, bool)> {
    if given.lower == "auto" {
        return Some((None, true));
    }
    let stripped = given.lower.strip_prefix("auto ");
    let stripped = stripped.or_else(|| given.lower.strip_suffix(" auto"));
    let numbers = stripped.unwrap_or(given.lower);
    let (width, height) = numbers.split_once('/').unwrap_or((numbers, "1"));
    let number = |text: &str| given.part(text.trim()).positive_number();
    let ratio = number(width)? / number(height)?;
    // With 0 it is none.
    let ratio = (ratio.is_finite() && ratio > 0.0).then_some(ratio);
    Some((ratio, stripped.is_some()))
}

/// A size that stands for that of skipped content, in px: `none` or a length, with `auto` before
/// it or not (CSS Sizing 4, §6.1).
fn intrinsic(given: &Given<'_>) -> Option<f32> {
    match given
        .lower
        .strip_prefix("auto ")
        .unwrap_or(given.lower)
        .trim()
    {
        "none" => Some(0.0),
        word => given.part(word).px(),
    }
}

fn overflows(given: &Given<'_>) -> Option<bool> {
    given.keyword(&[
        ("visible", true),
        ("hidden", false),
        ("clip", false),
        ("scroll", false),
        ("auto", false),
        ("overlay", false),
    ])
}
