//! Shorthands of boxes taken apart into longhands; what is relative to the direction
//! becomes a side (CSS Logical 1, §4).

use super::box_values::LONGHANDS;

/// A declaration as longhands; `None` where it is about no box, or invalid as a
/// shorthand. What is relative to the direction becomes a side by `rtl`.
pub(super) fn longhands(name: &str, value: &str, rtl: bool) -> Option<Vec<(&'static str, String)>> {
    let (start, end) = if rtl { (1, 3) } else { (3, 1) };
    let sides = |family: [&'static str; 4]| four(value, family);
    let pair = |first: &'static str, second: &'static str| -> Option<Vec<(&'static str, String)>> {
        let parts = parts(value);
        let two = parts.get(1).or(parts.first())?.clone();
        Some(vec![(first, parts.first()?.clone()), (second, two)])
    };
    let one = |name: &'static str| Some(vec![(name, value.to_owned())]);
    const MARGIN: [&str; 4] = ["margin-top", "margin-right", "margin-bottom", "margin-left"];
    const PADDING: [&str; 4] = [
        "padding-top",
        "padding-right",
        "padding-bottom",
        "padding-left",
    ];
    const WIDTH: [&str; 4] = [
        "border-top-width",
        "border-right-width",
        "border-bottom-width",
        "border-left-width",
    ];
    const STYLE: [&str; 4] = [
        "border-top-style",
        "border-right-style",
        "border-bottom-style",
        "border-left-style",
    ];
    const INSET: [&str; 4] = ["top", "right", "bottom", "left"];
    match name {
        "margin" => sides(MARGIN),
        "padding" => sides(PADDING),
        "border-width" => sides(WIDTH),
        "border-style" => sides(STYLE),
        "inset" => sides(INSET),
        "margin-block" => pair(MARGIN[0], MARGIN[2]),
        "margin-inline" => pair(MARGIN[start], MARGIN[end]),
        "padding-block" => pair(PADDING[0], PADDING[2]),
        "padding-inline" => pair(PADDING[start], PADDING[end]),
        "margin-block-start" => one(MARGIN[0]),
        "margin-block-end" => one(MARGIN[2]),
        "margin-inline-start" => one(MARGIN[start]),
        "margin-inline-end" => one(MARGIN[end]),
        "padding-block-start" => one(PADDING[0]),
        "padding-block-end" => one(PADDING[2]),
        "padding-inline-start" => one(PADDING[start]),
        "padding-inline-end" => one(PADDING[end]),
        "border-block-width" => pair(WIDTH[0], WIDTH[2]),
        "border-inline-width" => pair(WIDTH[start], WIDTH[end]),
        "border-block-start-width" => one(WIDTH[0]),
        "border-block-end-width" => one(WIDTH[2]),
        "border-inline-start-width" => one(WIDTH[start]),
        "border-inline-end-width" => one(WIDTH[end]),
        "inline-size" => one("width"),
        "block-size" => one("height"),
        "min-inline-size" => one("min-width"),
        "max-inline-size" => one("max-width"),
        "min-block-size" => one("min-height"),
        "max-block-size" => one("max-height"),
        "word-wrap" => one("overflow-wrap"),
        "contain-intrinsic-inline-size" => one("contain-intrinsic-width"),
        "contain-intrinsic-block-size" => one("contain-intrinsic-height"),
        "contain-intrinsic-size" => {
            let (width, height) = two_sizes(value)?;
            Some(vec![
                ("contain-intrinsic-width", width),
                ("contain-intrinsic-height", height),
            ])
        }
        "gap" | "grid-gap" => {
            let parts = parts(value);
            let rows = parts.first()?.clone();
            let columns = parts.get(1).unwrap_or(&rows).clone();
            Some(vec![("row-gap", rows), ("column-gap", columns)])
        }
        "overflow" => {
            let parts = parts(value);
            let second = parts.get(1).or(parts.first())?.clone();
            Some(vec![
                ("overflow-x", parts.first()?.clone()),
                ("overflow-y", second),
            ])
        }
        "border" => borders(value, &[0, 1, 2, 3]),
        "border-top" | "border-block-start" => borders(value, &[0]),
        "border-right" => borders(value, &[1]),
        "border-bottom" | "border-block-end" => borders(value, &[2]),
        "border-left" => borders(value, &[3]),
        "border-inline-start" => borders(value, &[start]),
        "border-inline-end" => borders(value, &[end]),
        "border-block" => borders(value, &[0, 2]),
        "border-inline" => borders(value, &[1, 3]),
        "white-space" => white_space(value),
        "text-wrap" => text_wrap(value),
        "list-style" => {
            let inside = parts(value).iter().any(|word| word == "inside");
            let position = if inside { "inside" } else { "outside" };
            Some(vec![("list-style-position", position.to_owned())])
        }
        "flex" => flex(value),
        "flex-flow" => {
            let words = parts(value);
            let wraps = |word: &&String| word.contains("wrap");
            let direction = words.iter().find(|word| !wraps(word));
            Some(vec![
                (
                    "flex-direction",
                    direction.map_or("row", String::as_str).to_owned(),
                ),
                (
                    "flex-wrap",
                    words
                        .iter()
                        .find(wraps)
                        .map_or("nowrap", String::as_str)
                        .to_owned(),
                ),
            ])
        }
        "place-content" => pair("align-content", "justify-content"),
        "place-items" => pair("align-items", "justify-items"),
        "place-self" => pair("align-self", "justify-self"),
        "grid-column" => placed(value, "grid-column-start", "grid-column-end"),
        "grid-row" => placed(value, "grid-row-start", "grid-row-end"),
        "-webkit-appearance" | "-moz-appearance" => one("appearance"),
        "grid-area" => Some(area(value)),
        "grid" if value.contains("auto-flow") => one("grid-auto-flow"),
        "grid-template" | "grid" => template(value),
        "columns" => Some(vec![("column-count", value.to_owned())]),
        "all" => Some(
            LONGHANDS
                .iter()
                .filter(|name| !["direction", "unicode-bidi"].contains(name))
                .map(|name| (*name, value.to_owned()))
                .collect(),
        ),
        _ => {
            let known = LONGHANDS.iter().find(|known| **known == name)?;
            Some(vec![(known, value.to_owned())])
        }
    }
}

/// The parts of a value, split at blanks outside of brackets.
pub(super) fn parts(value: &str) -> Vec<String> {
    let mut parts = Vec::new();
    let (mut depth, mut part) = (0_usize, String::new());
    for character in value.chars() {
        match character {
            '(' | '[' => depth += 1,
            ')' | ']' => depth = depth.saturating_sub(1),
            _ => {}
        }
        if character.is_whitespace() && depth == 0 {
            if !part.is_empty() {
                parts.push(std::mem::take(&mut part));
            }
        } else {
            part.extend(character.to_lowercase());
        }
    }
    if !part.is_empty() {
        parts.push(part);
    }
    parts
}

fn four(value: &str, names: [&'static str; 4]) -> Option<Vec<(&'static str, String)>> {
    let parts = parts(value);
    if parts.is_empty() || parts.len() > 4 {
        return None;
    }
    let pick = [0, 1, 2, 3].map(|side: usize| {
        let place = match (side, parts.len()) {
            (0, _) | (_, 1) => 0,
            (3, 4) => 3,
            (1 | 3, _) => 1,
            (_, length) => {
                if length > 2 {
                    2
                } else {
                    0
                }
            }
        };
        parts[place].clone()
    });
    Some(names.into_iter().zip(pick).collect())
}

const BORDER_STYLES: [&str; 10] = [
    "none", "hidden", "dotted", "dashed", "solid", "double", "groove", "ridge", "inset", "outset",
];

fn borders(value: &str, sides: &[usize]) -> Option<Vec<(&'static str, String)>> {
    const NAMES: [(&str, &str); 4] = [
        ("border-top-style", "border-top-width"),
        ("border-right-style", "border-right-width"),
        ("border-bottom-style", "border-bottom-width"),
        ("border-left-style", "border-left-width"),
    ];
    let words = parts(value);
    let style = words
        .iter()
        .find(|word| BORDER_STYLES.contains(&word.as_str()));
    let width = words.iter().find(|word| {
        ["thin", "medium", "thick"].contains(&word.as_str())
            || word.starts_with(|c: char| c.is_ascii_digit() || c == '.')
            || word.starts_with("calc(")
    });
    let mut set = Vec::new();
    for side in sides {
        let (style_name, width_name) = NAMES[*side];
        set.push((style_name, style.map_or("none", String::as_str).to_owned()));
        set.push((
            width_name,
            width.map_or("medium", String::as_str).to_owned(),
        ));
    }
    Some(set)
}

/// The width and height of `contain-intrinsic-size`: a size each, with `auto` before it or not;
/// one counts for both (CSS Box Sizing 4, §6.1).
fn two_sizes(value: &str) -> Option<(String, String)> {
    let mut sizes: Vec<String> = Vec::new();
    let mut remembered = false;
    for part in parts(value) {
        if part.eq_ignore_ascii_case("auto") && !remembered {
            remembered = true;
            continue;
        }
        sizes.push(part);
        remembered = false;
    }
    match sizes.as_slice() {
        [both] if !remembered => Some((both.clone(), both.clone())),
        [width, height] if !remembered => Some((width.clone(), height.clone())),
        _ => None,
    }
}

fn white_space(value: &str) -> Option<Vec<(&'static str, String)>> {
    let (collapse, wrap) = match value.to_ascii_lowercase().as_str() {
        "normal" => ("collapse", "wrap"),
        "nowrap" => ("collapse", "nowrap"),
        "pre" => ("preserve", "nowrap"),
        "pre-wrap" => ("preserve", "wrap"),
        "pre-line" => ("preserve-breaks", "wrap"),
        "break-spaces" => ("break-spaces", "wrap"),
        wide if super::properties::is_wide(wide) => (value, value),
        other => {
            // Values of the longhands, in any order (CSS Text 4, §3).
            let words = parts(other);
            let collapse = words.iter().find(|word| {
                ["collapse", "preserve", "preserve-breaks", "break-spaces"].contains(&word.as_str())
            });
            let wrap = words
                .iter()
                .find(|word| ["wrap", "nowrap"].contains(&word.as_str()));
            if collapse.is_none() && wrap.is_none() {
                return None;
            }
            return Some(vec![
                (
                    "white-space-collapse",
                    collapse.map_or("collapse", String::as_str).to_owned(),
                ),
                (
                    "text-wrap-mode",
                    wrap.map_or("wrap", String::as_str).to_owned(),
                ),
            ]);
        }
    };
    Some(vec![
        ("white-space-collapse", collapse.to_owned()),
        ("text-wrap-mode", wrap.to_owned()),
    ])
}

fn text_wrap(value: &str) -> Option<Vec<(&'static str, String)>> {
    if super::properties::is_wide(value) {
        return Some(vec![
            ("text-wrap-mode", value.to_owned()),
            ("text-wrap-style", value.to_owned()),
        ]);
    }
    let words = parts(value);
    let mode = words
        .iter()
        .find(|word| ["wrap", "nowrap"].contains(&word.as_str()));
    let style = words
        .iter()
        .find(|word| ["auto", "balance", "pretty", "stable"].contains(&word.as_str()));
    Some(vec![
        (
            "text-wrap-mode",
            mode.map_or("wrap", String::as_str).to_owned(),
        ),
        (
            "text-wrap-style",
            style.map_or("auto", String::as_str).to_owned(),
        ),
    ])
}

/// The `flex` shorthand (CSS Flexbox 1, §7.1).
fn flex(value: &str) -> Option<Vec<(&'static str, String)>> {
    let set = |grow: &str, shrink: &str, basis: &str| {
        Some(vec![
            ("flex-grow", grow.to_owned()),
            ("flex-shrink", shrink.to_owned()),
            ("flex-basis", basis.to_owned()),
        ])
    };
    match value.to_ascii_lowercase().as_str() {
        "none" => return set("0", "0", "auto"),
        "auto" => return set("1", "1", "auto"),
        "initial" => return set("0", "1", "auto"),
        wide if super::properties::is_wide(wide) => return set(value, value, value),
        _ => {}
    }
    let words = parts(value);
    let number = |word: &String| word.parse::<f32>().is_ok();
    let numbers: Vec<&String> = words.iter().filter(|word| number(word)).collect();
    let basis = words.iter().find(|word| !number(word));
    set(
        numbers.first().map_or("1", |word| word.as_str()),
        numbers.get(1).map_or("1", |word| word.as_str()),
        basis.map_or("0px", String::as_str),
    )
}

fn placed(
    value: &str,
    start: &'static str,
    end: &'static str,
) -> Option<Vec<(&'static str, String)>> {
    let mut ends = value.split('/').map(|end| end.trim().to_ascii_lowercase());
    let first = ends.next()?;
    let second = ends.next().unwrap_or_else(|| other_end(&first));
    Some(vec![(start, first), (end, second)])
}

/// The end that goes with one that is stated alone: a name stands for both (CSS Grid
/// 2, §8.4).
fn other_end(end: &str) -> String {
    match super::tracks::line_end(end) {
        super::tracks::LineEnd::Name(_) => end.to_owned(),
        _ => "auto".to_owned(),
    }
}

/// `grid-area`.
fn area(value: &str) -> Vec<(&'static str, String)> {
    let ends: Vec<String> = value
        .split('/')
        .map(|end| end.trim().to_ascii_lowercase())
        .collect();
    let end = |number: usize, from: usize| match ends.get(number) {
        Some(end) => end.clone(),
        None => other_end(
            ends.get(from)
                .or(ends.first())
                .map_or("auto", String::as_str),
        ),
    };
    vec![
        ("grid-row-start", end(0, 0)),
        ("grid-column-start", end(1, 0)),
        ("grid-row-end", end(2, 0)),
        ("grid-column-end", end(3, 1)),
    ]
}

/// `grid-template`: rows and columns, or areas with the heights of their rows.
fn template(value: &str) -> Option<Vec<(&'static str, String)>> {
    let (rows, columns) = value.split_once('/').unwrap_or((value, "none"));
    let columns = columns.trim().to_owned();
    let mut areas = String::new();
    let mut sizes = Vec::new();
    let mut sized = true;
    let mut rest = rows.trim();
    while let Some(at) = rest.find(['"', '\'']) {
        let quote = &rest[at..=at];
        let end = at + 1 + rest[at + 1..].find(quote)?;
        for part in parts(&rest[..at]) {
            sized |= !part.starts_with('[');
            sizes.push(part);
        }
        if !sized {
            sizes.push("auto".to_owned());
        }
        areas.push('"');
        areas.push_str(&rest[at + 1..end]);
        areas.push('"');
        sized = false;
        rest = &rest[end + 1..];
    }
    if areas.is_empty() {
        return Some(vec![
            ("grid-template-rows", rows.trim().to_owned()),
            ("grid-template-columns", columns),
            ("grid-template-areas", "none".to_owned()),
        ]);
    }
    let last = parts(rest);
    if last.iter().all(|part| part.starts_with('[')) {
        sizes.push("auto".to_owned());
    }
    sizes.extend(last);
    Some(vec![
        ("grid-template-areas", areas),
        ("grid-template-rows", sizes.join(" ")),
        ("grid-template-columns", columns),
    ])
}
