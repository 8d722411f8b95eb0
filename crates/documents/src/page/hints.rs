//! Attributes of elements that set styles.

use super::dom::{Dom, NodeId};
use crate::style::read::Declaration;

/// Attributes that set styles (HTML, §15.3).
pub(super) fn hints(dom: &Dom, node: NodeId) -> Vec<Declaration> {
    let mut hints = Vec::new();
    let mut hint = |name: &str, value: &str| {
        hints.push(Declaration {
            name: name.to_owned(),
            value: value.to_owned(),
            important: false,
        });
    };
    if dom.tag(node) == Some("font") {
        if let Some(face) = dom.attribute(node, "face") {
            hint("font-family", face);
        }
        let sizes = [
            "x-small",
            "small",
            "medium",
            "large",
            "x-large",
            "xx-large",
            "xxx-large",
        ];
        if let Some(size) = dom.attribute(node, "size") {
            let number: i32 = size.trim().parse().unwrap_or(3);
            let relative = size.trim().starts_with(['+', '-']);
            let place = (if relative { 3 + number } else { number }).clamp(1, 7);
            if let Some(size) = usize::try_from(place - 1)
                .ok()
                .and_then(|place| sizes.get(place))
            {
                hint("font-size", size);
            }
        }
    }
    if dom.namespace(node) == Some("http://www.w3.org/2000/svg") {
        // Presentation attributes (SVG 2, §6.6).
        for (name, value) in dom.attributes(node) {
            if name.starts_with("font") || name == "letter-spacing" || name == "word-spacing" {
                hint(name, &with_unit(name, value));
            }
        }
    }
    if dom.tag(node) == Some("ol") || dom.tag(node) == Some("li") {
        let kind = match dom.attribute(node, "type") {
            Some("a") => Some("lower-alpha"),
            Some("A") => Some("upper-alpha"),
            Some("i") => Some("lower-roman"),
            Some("I") => Some("upper-roman"),
            Some("1") => Some("decimal"),
            _ => None,
        };
        if let Some(kind) = kind {
            hint("list-style-type", kind);
        }
    }
    boxes(dom, node, &mut hint);
    hints
}

/// Attributes that set boxes.
fn boxes(dom: &Dom, node: NodeId, hint: &mut impl FnMut(&str, &str)) {
    let tag = dom.tag(node).unwrap_or_default();
    let length = |name: &str| {
        let value = dom.attribute(node, name)?.trim();
        let percent = value.ends_with('%');
        let number = value.trim_end_matches('%').trim_end_matches("px");
        let number: f32 = number.parse().ok().filter(|number| *number >= 0.0)?;
        let unit = if percent { "%" } else { "px" };
        Some(format!("{number}{unit}"))
    };
    let sized = [
        "img", "video", "iframe", "embed", "object", "svg", "table", "td", "th", "col", "hr",
    ];
    if sized.contains(&tag) {
        for name in ["width", "height"] {
            // The height of a rule is its thickness.
            if let Some(length) = length(name).filter(|_| tag != "hr" || name == "width") {
                hint(name, &length);
            }
        }
    }
    let cells = ["td", "th", "tr", "thead", "tbody", "tfoot"];
    let aligned = ["p", "div", "h1", "h2", "h3", "h4", "h5", "h6"];
    if let Some(align) = dom.attribute(node, "align")
        && (cells.contains(&tag) || aligned.contains(&tag))
    {
        let align = align.to_ascii_lowercase();
        if ["left", "right", "center", "justify"].contains(&align.as_str()) {
            hint("text-align", &align);
        }
    }
    if let Some(align) = dom.attribute(node, "valign")
        && cells.contains(&tag)
    {
        hint("vertical-align", align);
    }
    if tag == "table" {
        if let Some(spacing) = length("cellspacing") {
            hint("border-spacing", &spacing);
        }
        if dom
            .attribute(node, "border")
            .is_some_and(|border| border != "0")
        {
            hint("border-style", "outset");
            hint(
                "border-width",
                &length("border").unwrap_or("1px".to_owned()),
            );
        }
    }
    if tag == "td" || tag == "th" {
        if dom.attribute(node, "nowrap").is_some() {
            hint("white-space", "nowrap");
        }
        let mut around = dom.parent(node);
        while let Some(table) = around.filter(|above| dom.tag(*above) != Some("table")) {
            around = dom.parent(table);
        }
        let of_table = |name: &str| around.and_then(|table| dom.attribute(table, name));
        if let Some(padding) = of_table("cellpadding")
            && let Ok(padding) = padding.trim().parse::<f32>()
        {
            hint("padding", &format!("{padding}px"));
        }
        if of_table("border").is_some_and(|border| border != "0") {
            hint("border", "1px inset");
        }
    }
}

/// SVG takes lengths without a unit.
fn with_unit(name: &str, value: &str) -> String {
    let length = ["font-size", "letter-spacing", "word-spacing"].contains(&name);
    if length && value.trim().parse::<f32>().is_ok() {
        format!("{}px", value.trim())
    } else {
        value.to_owned()
    }
}
