//! Longhands put to the box of an element: values computed.

use std::collections::HashMap;

use super::box_lengths::{intrinsic, line_width, measure, plain, ratio};
use super::box_shorthands::parts;
use super::boxes::{
    Align, Bidi, Blanks, BoxStyle, Display, LineBreak, OverflowWrap, Placement, Position, Side,
    Skipped, TablePart, Vertical, WordBreak,
};
use super::properties::Surroundings;
use super::style::TextStyle;
use super::tracks::{areas, line_end, tracks};
use crate::style::read::FontUnits;

/// Longhands of boxes, in the order in which they are put to a style.
pub(super) const LONGHANDS: [&str; 87] = [
    "appearance",
    "-webkit-line-clamp",
    "direction",
    "unicode-bidi",
    "visibility",
    "position",
    "top",
    "right",
    "bottom",
    "left",
    "margin-top",
    "margin-right",
    "margin-bottom",
    "margin-left",
    "padding-top",
    "padding-right",
    "padding-bottom",
    "padding-left",
    "border-top-style",
    "border-right-style",
    "border-bottom-style",
    "border-left-style",
    "border-top-width",
    "border-right-width",
    "border-bottom-width",
    "border-left-width",
    "width",
    "min-width",
    "max-width",
    "height",
    "min-height",
    "max-height",
    "box-sizing",
    "aspect-ratio",
    "content-visibility",
    "contain-intrinsic-width",
    "contain-intrinsic-height",
    "overflow-x",
    "overflow-y",
    "text-align",
    "text-align-last",
    "text-indent",
    "white-space-collapse",
    "text-wrap-mode",
    "text-wrap-style",
    "overflow-wrap",
    "word-break",
    "line-break",
    "hyphens",
    "tab-size",
    "vertical-align",
    "list-style-position",
    "border-collapse",
    "border-spacing",
    "table-layout",
    "caption-side",
    "column-gap",
    "row-gap",
    "flex-direction",
    "flex-wrap",
    "flex-grow",
    "flex-shrink",
    "flex-basis",
    "justify-content",
    "align-items",
    "align-self",
    "align-content",
    "justify-items",
    "justify-self",
    "order",
    "grid-template-columns",
    "grid-template-rows",
    "grid-template-areas",
    "grid-auto-flow",
    "grid-auto-rows",
    "grid-auto-columns",
    "grid-column-start",
    "grid-column-end",
    "grid-row-start",
    "grid-row-end",
    "float",
    "clear",
    "column-count",
    "column-width",
    "writing-mode",
    "transform",
    "zoom",
];

/// Those of them that are inherited.
const INHERITED: [&str; 18] = [
    "direction",
    "visibility",
    "text-align",
    "text-align-last",
    "text-indent",
    "white-space-collapse",
    "text-wrap-mode",
    "text-wrap-style",
    "overflow-wrap",
    "word-break",
    "line-break",
    "hyphens",
    "tab-size",
    "list-style-position",
    "border-collapse",
    "border-spacing",
    "caption-side",
    "writing-mode",
];

impl BoxStyle {
    /// What a child starts from: inherited values over initial ones.
    fn for_child(&self) -> Self {
        BoxStyle {
            visible: self.visible,
            align: self.align,
            indent: self.indent.clone(),
            blanks: self.blanks,
            wraps: self.wraps,
            balanced: self.balanced,
            overflow_wrap: self.overflow_wrap,
            word_break: self.word_break,
            line_break: self.line_break,
            soft_hyphens: self.soft_hyphens,
            tab_size: self.tab_size,
            rtl: self.rtl,
            marker_inside: self.marker_inside,
            spacing: self.spacing,
            collapse: self.collapse,
            caption_below: self.caption_below,
            in_font_units: self.in_font_units,
            ..BoxStyle::default()
        }
    }

    /// Computes the box of an element whose declarations came down to `values`.
    pub(super) fn compute(
        values: &HashMap<&'static str, String>,
        parent: &BoxStyle,
        style: &TextStyle,
        around: Surroundings<'_>,
        root: bool,
    ) -> Self {
        let mut boxes = parent.for_child();
        if let Some(display) = values.get("display") {
            boxes.display = display_of(display);
            boxes.inline_table = display.trim().eq_ignore_ascii_case("inline-table");
            // With lines clamped it is a block (CSS Overflow 4, §5.2).
            let lines = values.get("-webkit-line-clamp");
            boxes.most_lines = lines.and_then(|lines| lines.trim().parse().ok());
            if boxes.most_lines.is_some() && display.trim().eq_ignore_ascii_case("-webkit-box") {
                boxes.display = Display::FlowRoot;
            }
        }
        boxes.in_font_units |= values.values().any(|value| FontUnits::are_in(value));
        let initial = BoxStyle::default();
        for name in LONGHANDS {
            let Some(value) = values.get(name) else {
                continue;
            };
            let lower = value.trim().to_ascii_lowercase();
            match lower.as_str() {
                "unset" | "revert-layer" if INHERITED.contains(&name) => {}
                "inherit" => boxes.copy(name, parent),
                "unset" | "initial" | "revert-layer" => boxes.copy(name, &initial),
                _ => {
                    let _ = boxes.put(name, &lower, style, around);
                }
            }
        }
        // Floats and what is out of flow are blocks (CSS Display 3, §2.7).
        if boxes.position.is_out() {
            boxes.float = None;
            boxes.from_line = boxes.inline_table
                || matches!(
                    boxes.display,
                    Display::Inline
                        | Display::InlineBlock
                        | Display::Flex { inline: true }
                        | Display::Grid { inline: true }
                );
        }
        if root || boxes.position.is_out() || boxes.float.is_some() {
            boxes.display = match boxes.display {
                Display::Inline | Display::InlineBlock => Display::Block,
                Display::Flex { .. } => Display::Flex { inline: false },
                Display::Grid { .. } => Display::Grid { inline: false },
                other => other,
            };
        }
        for (width, drawn) in [
            (&mut boxes.border.top, values.get("border-top-style")),
            (&mut boxes.border.right, values.get("border-right-style")),
            (&mut boxes.border.bottom, values.get("border-bottom-style")),
            (&mut boxes.border.left, values.get("border-left-style")),
        ] {
            let drawn = drawn.map(|style| style.to_ascii_lowercase());
            match drawn.as_deref() {
                None | Some("none" | "hidden" | "initial" | "unset") => *width = 0.0,
                // `medium` where no width is stated.
                Some(_) if *width < 0.0 => *width = 3.0,
                Some(_) => {}
            }
        }
        boxes
    }

    fn copy(&mut self, name: &str, from: &BoxStyle) {
        match name {
            "direction" => self.rtl = from.rtl,
            "unicode-bidi" => self.bidi = from.bidi,
            "visibility" => self.visible = from.visible,
            "position" => self.position = from.position,
            "top" => self.inset.top = from.inset.top.clone(),
            "right" => self.inset.right = from.inset.right.clone(),
            "bottom" => self.inset.bottom = from.inset.bottom.clone(),
            "left" => self.inset.left = from.inset.left.clone(),
            "margin-top" => self.margin.top = from.margin.top.clone(),
            "margin-right" => self.margin.right = from.margin.right.clone(),
            "margin-bottom" => self.margin.bottom = from.margin.bottom.clone(),
            "margin-left" => self.margin.left = from.margin.left.clone(),
            "padding-top" => self.padding.top = from.padding.top.clone(),
            "padding-right" => self.padding.right = from.padding.right.clone(),
            "padding-bottom" => self.padding.bottom = from.padding.bottom.clone(),
            "padding-left" => self.padding.left = from.padding.left.clone(),
            "border-top-width" => self.border.top = from.border.top,
            "border-right-width" => self.border.right = from.border.right,
            "border-bottom-width" => self.border.bottom = from.border.bottom,
            "border-left-width" => self.border.left = from.border.left,
            "width" => self.width.own = from.width.own.clone(),
            "min-width" => self.width.min = from.width.min.clone(),
            "max-width" => self.width.max = from.width.max.clone(),
            "height" => self.height.own = from.height.own.clone(),
            "min-height" => self.height.min = from.height.min.clone(),
            "max-height" => self.height.max = from.height.max.clone(),
            "box-sizing" => self.border_box = from.border_box,
            "aspect-ratio" => {
                (self.ratio, self.ratio_yields) = (from.ratio, from.ratio_yields);
            }
            "content-visibility" => self.skipped = from.skipped,
            "contain-intrinsic-width" => self.intrinsic.0 = from.intrinsic.0,
            "contain-intrinsic-height" => self.intrinsic.1 = from.intrinsic.1,
            "overflow-x" | "overflow-y" => self.clips = from.clips,
            "text-align" => self.align = from.align,
            "text-indent" => self.indent = from.indent.clone(),
            "white-space-collapse" => self.blanks = from.blanks,
            "text-wrap-mode" => self.wraps = from.wraps,
            "text-wrap-style" => self.balanced = from.balanced,
            "float" => self.float = from.float,
            "clear" => self.clear = from.clear,
            "align-content" => self.flex.align_content = from.flex.align_content,
            "grid-auto-columns" => {
                self.grid.auto_columns = from.grid.auto_columns.clone();
            }
            "grid-auto-rows" => self.grid.auto_rows = from.grid.auto_rows.clone(),
            "grid-template-areas" => self.grid.areas = from.grid.areas.clone(),
            "grid-auto-flow" => {
                (self.grid.by_columns, self.grid.dense) = (from.grid.by_columns, from.grid.dense);
            }
            "overflow-wrap" => self.overflow_wrap = from.overflow_wrap,
            "word-break" => self.word_break = from.word_break,
            "line-break" => self.line_break = from.line_break,
            "hyphens" => self.soft_hyphens = from.soft_hyphens,
            "tab-size" => self.tab_size = from.tab_size,
            "vertical-align" => self.vertical = from.vertical.clone(),
            "list-style-position" => self.marker_inside = from.marker_inside,
            "border-collapse" => self.collapse = from.collapse,
            "border-spacing" => self.spacing = from.spacing,
            "table-layout" => self.fixed_table = from.fixed_table,
            "caption-side" => self.caption_below = from.caption_below,
            "column-gap" => self.gap.0 = from.gap.0.clone(),
            "row-gap" => self.gap.1 = from.gap.1.clone(),
            "flex-direction" => {
                (self.flex.column, self.flex.reverse) = (from.flex.column, from.flex.reverse);
            }
            "flex-wrap" => self.flex.wraps = from.flex.wraps,
            "flex-grow" => self.flex.grow = from.flex.grow,
            "flex-shrink" => self.flex.shrink = from.flex.shrink,
            "flex-basis" => self.flex.basis = from.flex.basis.clone(),
            "justify-content" => self.flex.justify = from.flex.justify,
            "align-items" => self.flex.align_items = from.flex.align_items,
            "align-self" => self.flex.align_self = from.flex.align_self,
            "justify-items" => self.flex.justify_items = from.flex.justify_items,
            "justify-self" => self.flex.justify_self = from.flex.justify_self,
            "order" => self.flex.order = from.flex.order,
            "grid-template-columns" => self.grid.columns = from.grid.columns.clone(),
            "grid-template-rows" => self.grid.rows = from.grid.rows.clone(),
            "grid-column-start" | "grid-column-end" => self.grid.column = from.grid.column.clone(),
            "grid-row-start" | "grid-row-end" => self.grid.row = from.grid.row.clone(),
            _ => {}
        }
    }

    /// Puts a longhand; `None` where its value is invalid.
    fn put(
        &mut self,
        name: &'static str,
        lower: &str,
        style: &TextStyle,
        around: Surroundings<'_>,
    ) -> Option<()> {
        let read = |negative: bool| measure(lower, style, around, negative);
        match name {
            "appearance" => self.plain_control = lower == "none",
            // Looked at with `display`.
            "-webkit-line-clamp" => {}
            "direction" => self.rtl = lower == "rtl",
            "unicode-bidi" => {
                self.bidi = match lower {
                    "embed" => Bidi::Embed,
                    "isolate" => Bidi::Isolate,
                    "bidi-override" | "isolate-override" => Bidi::Override,
                    "plaintext" => Bidi::Plaintext,
                    _ => Bidi::Normal,
                }
            }
            "visibility" => self.visible = lower == "visible",
            "position" => {
                self.position = match lower {
                    "static" => Position::Static,
                    "relative" => Position::Relative,
                    "sticky" => Position::Sticky,
                    "absolute" => Position::Absolute,
                    "fixed" => Position::Fixed,
                    _ => return None,
                };
            }
            "top" => self.inset.top = read(true)?,
            "right" => self.inset.right = read(true)?,
            "bottom" => self.inset.bottom = read(true)?,
            "left" => self.inset.left = read(true)?,
            "margin-top" => self.margin.top = read(true)?,
            "margin-right" => self.margin.right = read(true)?,
            "margin-bottom" => self.margin.bottom = read(true)?,
            "margin-left" => self.margin.left = read(true)?,
            "padding-top" => self.padding.top = read(false)?,
            "padding-right" => self.padding.right = read(false)?,
            "padding-bottom" => self.padding.bottom = read(false)?,
            "padding-left" => self.padding.left = read(false)?,
            // Which styles draw a border is looked at in the end; until a width is
            // stated it is that of `medium`.
            "border-top-style" => self.border.top = -1.0,
            "border-right-style" => self.border.right = -1.0,
            "border-bottom-style" => self.border.bottom = -1.0,
            "border-left-style" => self.border.left = -1.0,
            "border-top-width" => self.border.top = line_width(lower, style, around)?,
            "border-right-width" => self.border.right = line_width(lower, style, around)?,
            "border-bottom-width" => self.border.bottom = line_width(lower, style, around)?,
            "border-left-width" => self.border.left = line_width(lower, style, around)?,
            "width" => self.width.own = read(false)?,
            "min-width" => self.width.min = read(false)?,
            "max-width" => self.width.max = read(false)?,
            "height" => self.height.own = read(false)?,
            "min-height" => self.height.min = read(false)?,
            "max-height" => self.height.max = read(false)?,
            "box-sizing" => self.border_box = lower == "border-box",
            "aspect-ratio" => {
                self.ratio = ratio(lower);
                self.ratio_yields = lower.contains("auto");
            }
            "content-visibility" => {
                self.skipped = match lower {
                    "visible" => Skipped::Never,
                    "auto" => Skipped::Far,
                    "hidden" => Skipped::Always,
                    _ => return None,
                };
            }
            "contain-intrinsic-width" => self.intrinsic.0 = intrinsic(lower, style, around)?,
            "contain-intrinsic-height" => self.intrinsic.1 = intrinsic(lower, style, around)?,
            "overflow-x" | "overflow-y" => self.clips |= lower != "visible",
            "text-align" => {
                self.align = match lower {
                    "start" => Align::Start,
                    "end" => Align::End,
                    "left" | "-webkit-left" => Align::Left,
                    "right" | "-webkit-right" => Align::Right,
                    "center" | "-webkit-center" => Align::Center,
                    "justify" => Align::Justify,
                    _ => return None,
                };
            }
            "text-indent" => {
                self.indent = measure(&parts(lower).first()?.clone(), style, around, true)?;
            }
            "white-space-collapse" => {
                self.blanks = match lower {
                    "collapse" => Blanks::Collapse,
                    "preserve" => Blanks::Preserve,
                    "preserve-breaks" => Blanks::PreserveBreaks,
                    "break-spaces" => Blanks::BreakSpaces,
                    _ => return None,
                };
            }
            "text-wrap-mode" => self.wraps = lower != "nowrap",
            "overflow-wrap" => {
                self.overflow_wrap = match lower {
                    "normal" => OverflowWrap::Normal,
                    "break-word" => OverflowWrap::BreakWord,
                    "anywhere" => OverflowWrap::Anywhere,
                    _ => return None,
                };
            }
            "word-break" => {
                self.word_break = match lower {
                    "normal" | "auto-phrase" => WordBreak::Normal,
                    "break-all" => WordBreak::BreakAll,
                    "keep-all" => WordBreak::KeepAll,
                    "break-word" => {
                        self.overflow_wrap = OverflowWrap::Anywhere;
                        WordBreak::Normal
                    }
                    _ => return None,
                };
            }
            "line-break" => {
                self.line_break = match lower {
                    "auto" => LineBreak::Auto,
                    "loose" => LineBreak::Loose,
                    "normal" => LineBreak::Normal,
                    "strict" => LineBreak::Strict,
                    "anywhere" => LineBreak::Anywhere,
                    _ => return None,
                };
            }
            "hyphens" => {
                self.soft_hyphens = lower != "none";
                if lower == "auto" {
                    self.beyond.push("hyphens: auto".to_owned());
                }
            }
            "tab-size" => self.tab_size = lower.parse().ok()?,
            "vertical-align" => self.vertical = vertical(lower, style, around)?,
            "list-style-position" => self.marker_inside = lower == "inside",
            "border-collapse" => self.collapse = lower == "collapse",
            "border-spacing" => {
                let mut both = parts(lower).into_iter();
                let first = plain(&both.next()?, style, around)?;
                let second = match both.next() {
                    Some(text) => plain(&text, style, around)?,
                    None => first,
                };
                self.spacing = (first, second);
            }
            "table-layout" => self.fixed_table = lower == "fixed",
            "caption-side" => self.caption_below = lower == "bottom",
            "column-gap" => self.gap.0 = read(false)?,
            "row-gap" => self.gap.1 = read(false)?,
            "flex-direction" => {
                self.flex.column = lower.starts_with("column");
                self.flex.reverse = lower.ends_with("-reverse");
            }
            "flex-wrap" => self.flex.wraps = lower != "nowrap",
            "flex-grow" => self.flex.grow = lower.parse().ok()?,
            "flex-shrink" => self.flex.shrink = lower.parse().ok()?,
            "flex-basis" => self.flex.basis = read(false)?,
            "justify-content" => self.flex.justify = placement(lower),
            "align-items" => self.flex.align_items = placement(lower),
            "align-self" => {
                self.flex.align_self = (lower != "auto").then(|| placement(lower));
            }
            "justify-items" => self.flex.justify_items = placement(lower),
            "justify-self" => {
                self.flex.justify_self = (lower != "auto").then(|| placement(lower));
            }
            "order" => self.flex.order = lower.parse().ok()?,
            "grid-template-columns" | "grid-template-rows" => {
                let Some(read) = tracks(lower, &|text: &str| measure(text, style, around, false))
                else {
                    self.beyond.push(format!("{name}: {lower}"));
                    return None;
                };
                if name == "grid-template-columns" {
                    self.grid.columns = read;
                } else {
                    self.grid.rows = read;
                }
            }
            "grid-auto-columns" | "grid-auto-rows" => {
                let read = tracks(lower, &|text: &str| measure(text, style, around, false))?;
                if name == "grid-auto-columns" {
                    self.grid.auto_columns = read.tracks;
                } else {
                    self.grid.auto_rows = read.tracks;
                }
            }
            "grid-template-areas" => self.grid.areas = areas(lower)?,
            "grid-auto-flow" => {
                self.grid.by_columns = lower.contains("column");
                self.grid.dense = lower.contains("dense");
            }
            "grid-column-start" => self.grid.column.start = line_end(lower),
            "grid-column-end" => self.grid.column.end = line_end(lower),
            "grid-row-start" => self.grid.row.start = line_end(lower),
            "grid-row-end" => self.grid.row.end = line_end(lower),
            "align-content" => self.flex.align_content = placement(lower),
            "float" => {
                let (start, end) = if self.rtl {
                    (Side::Right, Side::Left)
                } else {
                    (Side::Left, Side::Right)
                };
                self.float = match lower {
                    "left" => Some(Side::Left),
                    "right" => Some(Side::Right),
                    "inline-start" => Some(start),
                    "inline-end" => Some(end),
                    _ => None,
                };
            }
            "clear" => {
                self.clear = match lower {
                    "left" => (true, false),
                    "right" => (false, true),
                    "both" => (true, true),
                    "inline-start" => (!self.rtl, self.rtl),
                    "inline-end" => (self.rtl, !self.rtl),
                    _ => (false, false),
                };
            }
            "text-wrap-style" if ["auto", "stable", "balance"].contains(&lower) => {
                self.balanced = lower == "balance";
            }
            _ => self.note_beyond(name, lower),
        }
        Some(())
    }

    /// Notes what layout does not do; values that change nothing are none.
    fn note_beyond(&mut self, name: &str, lower: &str) {
        let plain = match name {
            "transform" => "none",
            "column-count" | "column-width" | "text-align-last" => "auto",
            "zoom" => "normal",
            "writing-mode" => "horizontal-tb",
            _ => "",
        };
        let harmless = lower == plain || (name == "zoom" && lower == "1");
        if !harmless {
            self.beyond.push(format!("{name}: {lower}"));
        }
    }
}

fn display_of(value: &str) -> Display {
    match value.trim().to_ascii_lowercase().as_str() {
        "none" => Display::None,
        "contents" => Display::Contents,
        "block" | "list-item" | "block flow" => Display::Block,
        "flow-root" | "block flow-root" => Display::FlowRoot,
        "inline-block" => Display::InlineBlock,
        "flex" | "-webkit-box" | "-webkit-flex" => Display::Flex { inline: false },
        "inline-flex" => Display::Flex { inline: true },
        "grid" => Display::Grid { inline: false },
        "inline-grid" => Display::Grid { inline: true },
        "table" | "inline-table" => Display::Table(TablePart::Whole),
        "table-row-group" | "table-header-group" | "table-footer-group" => {
            Display::Table(TablePart::Group)
        }
        "table-row" => Display::Table(TablePart::Row),
        "table-cell" => Display::Table(TablePart::Cell),
        "table-caption" => Display::Table(TablePart::Caption),
        "table-column" | "table-column-group" => Display::Table(TablePart::Column),
        _ => Display::Inline,
    }
}

fn placement(lower: &str) -> Placement {
    match lower
        .trim_start_matches("safe ")
        .trim_start_matches("first ")
    {
        "start" | "flex-start" | "left" | "self-start" => Placement::Start,
        "end" | "flex-end" | "right" | "self-end" => Placement::End,
        "center" => Placement::Center,
        "baseline" => Placement::Baseline,
        "space-between" => Placement::SpaceBetween,
        "space-around" => Placement::SpaceAround,
        "space-evenly" => Placement::SpaceEvenly,
        _ => Placement::Stretch,
    }
}

fn vertical(lower: &str, style: &TextStyle, around: Surroundings<'_>) -> Option<Vertical> {
    Some(match lower {
        "baseline" => Vertical::Baseline,
        "sub" => Vertical::Sub,
        "super" => Vertical::Super,
        "middle" => Vertical::Middle,
        "text-top" => Vertical::TextTop,
        "text-bottom" => Vertical::TextBottom,
        "top" => Vertical::Top,
        "bottom" => Vertical::Bottom,
        _ => Vertical::By(measure(lower, style, around, true)?),
    })
}

/// Whether a value of a longhand can be computed at all; what cannot is dropped
/// before the cascade looks at it.
pub(super) fn valid(
    name: &'static str,
    value: &str,
    style: &TextStyle,
    around: Surroundings<'_>,
) -> bool {
    let lower = value.trim().to_ascii_lowercase();
    BoxStyle::default()
        .put(name, &lower, style, around)
        .is_some()
}
