//! Names that properties had before, and that browsers still take.

/// Names of old that browsers take for those of today (Compatibility Standard, §3.1; those of
/// logical sides as in Chromium and Safari); and logical sizes, since lines are horizontal here.
const ALIASES: [(&str, &str); 59] = [
    ("-moz-appearance", "appearance"),
    ("-webkit-align-content", "align-content"),
    ("-webkit-align-items", "align-items"),
    ("-webkit-align-self", "align-self"),
    ("-webkit-appearance", "appearance"),
    ("-webkit-border-after", "border-block-end"),
    ("-webkit-border-after-width", "border-block-end-width"),
    ("-webkit-border-before", "border-block-start"),
    ("-webkit-border-before-width", "border-block-start-width"),
    ("-webkit-border-end", "border-inline-end"),
    ("-webkit-border-end-width", "border-inline-end-width"),
    ("-webkit-border-start", "border-inline-start"),
    ("-webkit-border-start-width", "border-inline-start-width"),
    ("-webkit-box-sizing", "box-sizing"),
    ("-webkit-column-count", "column-count"),
    ("-webkit-column-gap", "column-gap"),
    ("-webkit-column-width", "column-width"),
    ("-webkit-columns", "columns"),
    ("-webkit-flex", "flex"),
    ("-webkit-flex-basis", "flex-basis"),
    ("-webkit-flex-direction", "flex-direction"),
    ("-webkit-flex-flow", "flex-flow"),
    ("-webkit-flex-grow", "flex-grow"),
    ("-webkit-flex-shrink", "flex-shrink"),
    ("-webkit-flex-wrap", "flex-wrap"),
    ("-webkit-font-feature-settings", "font-feature-settings"),
    ("-webkit-hyphens", "hyphens"),
    ("-webkit-justify-content", "justify-content"),
    ("-webkit-line-break", "line-break"),
    ("-webkit-logical-height", "height"),
    ("-webkit-logical-width", "width"),
    ("-webkit-margin-after", "margin-block-end"),
    ("-webkit-margin-before", "margin-block-start"),
    ("-webkit-margin-end", "margin-inline-end"),
    ("-webkit-margin-start", "margin-inline-start"),
    ("-webkit-max-logical-height", "max-height"),
    ("-webkit-max-logical-width", "max-width"),
    ("-webkit-min-logical-height", "min-height"),
    ("-webkit-min-logical-width", "min-width"),
    ("-webkit-order", "order"),
    ("-webkit-padding-after", "padding-block-end"),
    ("-webkit-padding-before", "padding-block-start"),
    ("-webkit-padding-end", "padding-inline-end"),
    ("-webkit-padding-start", "padding-inline-start"),
    ("-webkit-transform", "transform"),
    ("-webkit-writing-mode", "writing-mode"),
    ("block-size", "height"),
    ("contain-intrinsic-block-size", "contain-intrinsic-height"),
    ("contain-intrinsic-inline-size", "contain-intrinsic-width"),
    ("font-width", "font-stretch"),
    ("grid-column-gap", "column-gap"),
    ("grid-gap", "gap"),
    ("grid-row-gap", "row-gap"),
    ("inline-size", "width"),
    ("max-block-size", "max-height"),
    ("max-inline-size", "max-width"),
    ("min-block-size", "min-height"),
    ("min-inline-size", "min-width"),
    ("word-wrap", "overflow-wrap"),
];

/// The name of today of what is called `lower`, in lower case.
pub(super) fn of_today(lower: &str) -> &str {
    match ALIASES.binary_search_by_key(&lower, |(alias, _)| alias) {
        Ok(place) => ALIASES[place].1,
        Err(_) => lower,
    }
}

#[cfg(test)]
mod tests {
    use super::ALIASES;
    use crate::style::properties::known;

    #[test]
    fn names_are_in_order_and_lead_somewhere() {
        assert!(ALIASES.is_sorted());
        for (alias, name) in ALIASES {
            assert_eq!(known(alias), Some(name), "{alias}");
        }
    }

    #[test]
    fn case_does_not_matter_and_the_unknown_is_none() {
        assert_eq!(known("Font-Family"), Some("font-family"));
        assert_eq!(known("-WEBKIT-Padding-Start"), Some("padding-inline-start"));
        assert_eq!(known("background"), None);
    }
}
