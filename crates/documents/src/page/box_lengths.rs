//! Lengths, sizes and ratios of boxes, as sheets write them.

use std::sync::Arc;

use cssparser::Parser;

use super::boxes::{Length, Relative};
use super::properties::Surroundings;
use super::style::TextStyle;
use crate::style::read::{FontUnits, LengthContext, Quantity, length};

pub(super) fn ratio(lower: &str) -> Option<f32> {
    let (width, height) = lower.split_once('/').unwrap_or((lower, "1"));
    let number = |text: &str| {
        text.trim()
            .trim_matches(['a', 'u', 't', 'o'])
            .trim()
            .parse::<f32>()
    };
    let ratio = number(width).ok()? / number(height).ok()?;
    (ratio.is_finite() && ratio > 0.0).then_some(ratio)
}

fn context(style: &TextStyle, around: Surroundings<'_>) -> LengthContext {
    LengthContext {
        em: style.size,
        rem: around.root,
        percent: 0.0,
        viewport: around.viewport,
        font: None,
    }
}

/// A length, a percentage, or a keyword for one.
pub(super) fn measure(
    lower: &str,
    style: &TextStyle,
    around: Surroundings<'_>,
    negative: bool,
) -> Option<Length> {
    match lower {
        "auto" | "none" | "normal" | "content" => return Some(Length::Auto),
        "min-content" => return Some(Length::MinContent),
        "max-content" => return Some(Length::MaxContent),
        "fit-content" => return Some(Length::FitContent),
        "stretch" | "-webkit-fill-available" => return Some(Length::Auto),
        _ => {}
    }
    let context = context(style, around);
    let mut input = Parser::new(lower);
    let value = length(&mut input, &context).ok()?;
    if !input.is_exhausted() {
        return None;
    }
    if lower.contains('%') || FontUnits::are_in(lower) {
        return Some(Length::Relative(Arc::new(Relative {
            text: lower.to_owned(),
            em: context.em,
            rem: context.rem,
            viewport: context.viewport,
            font: None,
        })));
    }
    match value {
        Quantity::Px(px) if px >= 0.0 || negative => Some(Length::Px(px)),
        // Without a unit only 0 is a length.
        Quantity::Number(0.0) => Some(Length::Px(0.0)),
        _ => None,
    }
}

pub(super) fn plain(lower: &str, style: &TextStyle, around: Surroundings<'_>) -> Option<f32> {
    match measure(lower, style, around, false)? {
        Length::Px(px) => Some(px),
        _ => None,
    }
}

/// A size that stands for that of skipped content, in px: `none` or a length, with `auto` before it
/// or not (CSS Box Sizing 4, §6.1).
pub(super) fn intrinsic(lower: &str, style: &TextStyle, around: Surroundings<'_>) -> Option<f32> {
    match lower.strip_prefix("auto ").unwrap_or(lower).trim() {
        "none" => Some(0.0),
        own => plain(own, style, around),
    }
}

/// Widths of lines are cut to whole px, but stay at least one (CSS Backgrounds 3,
/// §3.3, as engines snap them).
pub(super) fn line_width(lower: &str, style: &TextStyle, around: Surroundings<'_>) -> Option<f32> {
    let px = match lower {
        "thin" => 1.0,
        "medium" => 3.0,
        "thick" => 5.0,
        _ => plain(lower, style, around)?,
    };
    Some(if px > 0.0 { px.floor().max(1.0) } else { 0.0 })
}
