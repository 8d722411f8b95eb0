//! The style of a text, as it is told and as the browser computes it.

use serde::Deserialize;
use tidy_lattice_core::page::{LineHeight, Page, StyleValue, TextStyle};
use tidy_lattice_core::style::read::families;

/// What the browser computes for a text node.
#[derive(Debug, Deserialize)]
pub struct Computed {
    pub text: String,
    pub family: String,
    pub size: String,
    pub weight: String,
    pub style: String,
    pub height: String,
    pub spacing: String,
    pub numeric: String,
    pub caps: String,
    pub features: String,
    pub transform: String,
    pub language: String,
}

/// Collects all text nodes that are not in elements whose content never shows.
pub const COLLECT: &str = r"
    const walker = document.createTreeWalker(document.documentElement, NodeFilter.SHOW_TEXT);
    const hidden = 'head, script, style, template, noscript';
    const found = [];
    while (walker.nextNode()) {
        const node = walker.currentNode;
        if (!node.data.trim() || node.parentElement.closest(hidden)) continue;
        const style = getComputedStyle(node.parentElement);
        found.push({
            text: node.data, family: style.fontFamily, size: style.fontSize,
            weight: style.fontWeight, style: style.fontStyle, height: style.lineHeight,
            spacing: style.letterSpacing, numeric: style.fontVariantNumeric,
            caps: style.fontVariantCaps, features: style.fontFeatureSettings,
            transform: style.textTransform,
            language: node.parentElement.closest('[lang]')?.lang ?? '',
        });
    }
    return found;";

/// What of a text's style is otherwise than computed.
pub fn differences(
    page: &Page,
    style: usize,
    computed: &Computed,
) -> impl Iterator<Item = String> + use<> {
    let style = &page.styles[style];
    let told = [
        (
            "size",
            format!("{}", style.size),
            px(&computed.size).to_string(),
        ),
        ("weight", style.weight.to_string(), computed.weight.clone()),
        ("style", slope(style), computed.style.clone()),
        ("line height", line(style), computed.height.clone()),
        ("letter-spacing", spacing(style), computed.spacing.clone()),
        (
            "numeric",
            variant(style, "font-variant-numeric"),
            computed.numeric.clone(),
        ),
        (
            "caps",
            variant(style, "font-variant-caps"),
            computed.caps.clone(),
        ),
        ("features", features(style), computed.features.clone()),
        ("transform", transform(style), computed.transform.clone()),
        (
            "family",
            format!("{:?}", style.families),
            // Nothing is Chromium's standard font.
            match families(&computed.family) {
                Some(list) if computed.family != "\"Times New Roman\"" => format!("{list:?}"),
                _ => "[]".to_owned(),
            },
        ),
    ];
    let told: Vec<String> = told
        .into_iter()
        .filter(|(_, ours, theirs)| !same(ours, theirs))
        .map(|(what, ours, theirs)| format!("{what} said {ours}, computed {theirs}"))
        .collect();
    told.into_iter()
}

/// Equal, or numbers that differ by less than browsers print.
fn same(ours: &str, theirs: &str) -> bool {
    let number = |text: &str| text.trim_end_matches("px").parse::<f32>().ok();
    match (number(ours), number(theirs)) {
        (Some(ours), Some(theirs)) => (ours - theirs).abs() < 0.001,
        _ => ours == theirs,
    }
}

fn px(text: &str) -> f32 {
    text.trim_end_matches("px").parse().unwrap_or(f32::NAN)
}

fn slope(style: &TextStyle) -> String {
    match style.style {
        StyleValue::Normal => "normal".to_owned(),
        StyleValue::Italic => "italic".to_owned(),
        StyleValue::Oblique(angle) => format!("oblique {angle}deg"),
    }
}

fn line(style: &TextStyle) -> String {
    match style.line_height {
        LineHeight::Normal => "normal".to_owned(),
        LineHeight::Number(number) => format!("{}px", number * style.size),
        LineHeight::Px(px) => format!("{px}px"),
    }
}

fn spacing(style: &TextStyle) -> String {
    if style.letter_spacing == 0.0 {
        "normal".to_owned()
    } else {
        format!("{}px", style.letter_spacing)
    }
}

fn variant(style: &TextStyle, property: &str) -> String {
    let found = style.variants.iter().find(|(known, _)| known == property);
    found.map_or_else(|| "normal".to_owned(), |(_, words)| words.join(" "))
}

fn features(style: &TextStyle) -> String {
    if style.features.is_empty() {
        return "normal".to_owned();
    }
    let list: Vec<String> = style
        .features
        .iter()
        .map(|(tag, value)| match value {
            1 => format!("\"{tag}\""),
            value => format!("\"{tag}\" {value}"),
        })
        .collect();
    list.join(", ")
}

fn transform(style: &TextStyle) -> String {
    use tidy_lattice_core::page::CaseChange;
    match style.transform.case {
        None => "none",
        Some(CaseChange::Uppercase) => "uppercase",
        Some(CaseChange::Lowercase) => "lowercase",
        Some(CaseChange::Capitalize) => "capitalize",
    }
    .to_owned()
}
