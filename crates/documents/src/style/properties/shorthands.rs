//! Shorthands taken apart into longhands; what is relative to the direction becomes a side
//! (CSS Logical 1, §4).

use cssparser::{ParseError, Parser, Token};

use super::fonts::{VARIANTS, variant_takes};
use super::{Id, all, is_wide};
use crate::style::parts;
use crate::style::read::families;
use crate::style::stretch_keyword;

/// Longhands with what they are set to.
type Set = Vec<(&'static str, String)>;

/// A side of a box.
#[derive(Debug, Clone, Copy)]
enum Edge {
    Top,
    Right,
    Bottom,
    Left,
    /// Where lines start.
    Start,
    /// Where lines end.
    End,
}

impl Edge {
    /// The place of the side in the order top, right, bottom, left.
    fn place(self, rtl: bool) -> usize {
        match self {
            Edge::Top => 0,
            Edge::Right => 1,
            Edge::Bottom => 2,
            Edge::Left => 3,
            Edge::Start => {
                if rtl {
                    1
                } else {
                    3
                }
            }
            Edge::End => {
                if rtl {
                    3
                } else {
                    1
                }
            }
        }
    }
}

/// How a shorthand is taken apart.
enum Kind {
    /// One to four values for the sides.
    Sides([&'static str; 4]),
    /// One or two values for two of the sides.
    TwoSides([&'static str; 4], Edge, Edge),
    /// The side that one of the direction's words stands for.
    OneSide([&'static str; 4], Edge),
    /// Style and width of borders.
    Borders(&'static [Edge]),
    /// One or two values; one counts for both.
    Two([&'static str; 2]),
    /// What it covers, and its own syntax.
    Own(&'static [&'static str], fn(&str) -> Option<Set>),
    /// Everything but the direction; only keywords that all properties take.
    All,
}

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
const VARIANT_NAMES: [&str; 7] = [
    VARIANTS[0].0,
    VARIANTS[1].0,
    VARIANTS[2].0,
    VARIANTS[3].0,
    VARIANTS[4].0,
    VARIANTS[5].0,
    VARIANTS[6].0,
];
/// What `font` sets or resets (CSS Fonts 4, §2.7).
const FONT: [&str; 17] = [
    "font-style",
    "font-weight",
    "font-stretch",
    "font-size",
    "line-height",
    "font-family",
    "font-kerning",
    "font-optical-sizing",
    "font-feature-settings",
    "font-variation-settings",
    VARIANTS[0].0,
    VARIANTS[1].0,
    VARIANTS[2].0,
    VARIANTS[3].0,
    VARIANTS[4].0,
    VARIANTS[5].0,
    VARIANTS[6].0,
];
const TEMPLATE: [&str; 3] = [
    "grid-template-rows",
    "grid-template-columns",
    "grid-template-areas",
];
const GRID: [&str; 6] = [
    "grid-template-rows",
    "grid-template-columns",
    "grid-template-areas",
    "grid-auto-flow",
    "grid-auto-rows",
    "grid-auto-columns",
];

/// All shorthands, by name.
const SHORTHANDS: [(&str, Kind); 67] = {
    use Edge::{Bottom, End, Left, Right, Start, Top};
    use Kind::{All, Borders, OneSide, Own, Sides, Two, TwoSides};
    [
        ("all", All),
        ("border", Borders(&[Top, Right, Bottom, Left])),
        ("border-block", Borders(&[Top, Bottom])),
        ("border-block-end", Borders(&[Bottom])),
        ("border-block-end-style", OneSide(STYLE, Bottom)),
        ("border-block-end-width", OneSide(WIDTH, Bottom)),
        ("border-block-start", Borders(&[Top])),
        ("border-block-start-style", OneSide(STYLE, Top)),
        ("border-block-start-width", OneSide(WIDTH, Top)),
        ("border-block-style", TwoSides(STYLE, Top, Bottom)),
        ("border-block-width", TwoSides(WIDTH, Top, Bottom)),
        ("border-bottom", Borders(&[Bottom])),
        ("border-inline", Borders(&[Left, Right])),
        ("border-inline-end", Borders(&[End])),
        ("border-inline-end-style", OneSide(STYLE, End)),
        ("border-inline-end-width", OneSide(WIDTH, End)),
        ("border-inline-start", Borders(&[Start])),
        ("border-inline-start-style", OneSide(STYLE, Start)),
        ("border-inline-start-width", OneSide(WIDTH, Start)),
        ("border-inline-style", TwoSides(STYLE, Start, End)),
        ("border-inline-width", TwoSides(WIDTH, Start, End)),
        ("border-left", Borders(&[Left])),
        ("border-right", Borders(&[Right])),
        ("border-style", Sides(STYLE)),
        ("border-top", Borders(&[Top])),
        ("border-width", Sides(WIDTH)),
        ("columns", Own(&["column-width", "column-count"], columns)),
        (
            "contain-intrinsic-size",
            Own(
                &["contain-intrinsic-width", "contain-intrinsic-height"],
                intrinsic,
            ),
        ),
        (
            "flex",
            Own(&["flex-grow", "flex-shrink", "flex-basis"], flex),
        ),
        (
            "flex-flow",
            Own(&["flex-direction", "flex-wrap"], flex_flow),
        ),
        ("font", Own(&FONT, font)),
        (
            "font-synthesis",
            Own(
                &["font-synthesis-weight", "font-synthesis-style"],
                synthesis,
            ),
        ),
        ("font-variant", Own(&VARIANT_NAMES, variant)),
        ("gap", Two(["row-gap", "column-gap"])),
        ("grid", Own(&GRID, grid)),
        (
            "grid-area",
            Own(
                &[
                    "grid-row-start",
                    "grid-column-start",
                    "grid-row-end",
                    "grid-column-end",
                ],
                area,
            ),
        ),
        (
            "grid-column",
            Own(&["grid-column-start", "grid-column-end"], |value| {
                placed(value, "grid-column-start", "grid-column-end")
            }),
        ),
        (
            "grid-row",
            Own(&["grid-row-start", "grid-row-end"], |value| {
                placed(value, "grid-row-start", "grid-row-end")
            }),
        ),
        ("grid-template", Own(&TEMPLATE, template)),
        ("inset", Sides(INSET)),
        ("inset-block", TwoSides(INSET, Top, Bottom)),
        ("inset-block-end", OneSide(INSET, Bottom)),
        ("inset-block-start", OneSide(INSET, Top)),
        ("inset-inline", TwoSides(INSET, Start, End)),
        ("inset-inline-end", OneSide(INSET, End)),
        ("inset-inline-start", OneSide(INSET, Start)),
        (
            "list-style",
            Own(&["list-style-type", "list-style-position"], list_style),
        ),
        ("margin", Sides(MARGIN)),
        ("margin-block", TwoSides(MARGIN, Top, Bottom)),
        ("margin-block-end", OneSide(MARGIN, Bottom)),
        ("margin-block-start", OneSide(MARGIN, Top)),
        ("margin-inline", TwoSides(MARGIN, Start, End)),
        ("margin-inline-end", OneSide(MARGIN, End)),
        ("margin-inline-start", OneSide(MARGIN, Start)),
        ("overflow", Two(["overflow-x", "overflow-y"])),
        ("padding", Sides(PADDING)),
        ("padding-block", TwoSides(PADDING, Top, Bottom)),
        ("padding-block-end", OneSide(PADDING, Bottom)),
        ("padding-block-start", OneSide(PADDING, Top)),
        ("padding-inline", TwoSides(PADDING, Start, End)),
        ("padding-inline-end", OneSide(PADDING, End)),
        ("padding-inline-start", OneSide(PADDING, Start)),
        (
            "place-content",
            Own(&["align-content", "justify-content"], |value| {
                place(value, "align-content", "justify-content")
            }),
        ),
        (
            "place-items",
            Own(&["align-items", "justify-items"], |value| {
                place(value, "align-items", "justify-items")
            }),
        ),
        (
            "place-self",
            Own(&["align-self", "justify-self"], |value| {
                place(value, "align-self", "justify-self")
            }),
        ),
        (
            "text-wrap",
            Own(&["text-wrap-mode", "text-wrap-style"], text_wrap),
        ),
        (
            "white-space",
            Own(&["white-space-collapse", "text-wrap-mode"], white_space),
        ),
    ]
};

fn find(name: &str) -> Option<&'static (&'static str, Kind)> {
    static ALL: &[(&str, Kind)] = &SHORTHANDS;
    let place = ALL.binary_search_by_key(&name, |(known, _)| known).ok()?;
    Some(&ALL[place])
}

/// The shorthand called `name`.
pub(super) fn known(name: &str) -> Option<&'static str> {
    find(name).map(|(name, _)| *name)
}

/// A declaration as longhands; `None` where there is no such property, or where the value
/// is no valid one of a shorthand. Values of longhands are not looked at.
pub(crate) fn split(name: &str, value: &str, rtl: bool) -> Option<Vec<(Id, String)>> {
    if let Some(id) = Id::of(name) {
        return Some(vec![(id, value.to_owned())]);
    }
    let (_, kind) = find(name)?;
    let set = if is_wide(value) {
        let covered = covers(kind, rtl).into_iter();
        covered.map(|name| (name, value.to_owned())).collect()
    } else {
        apart(kind, value, rtl)?
    };
    set.into_iter()
        .map(|(name, value)| Some((Id::of(name)?, value)))
        .collect()
}

/// The longhands that a shorthand stands for.
fn covers(kind: &Kind, rtl: bool) -> Vec<&'static str> {
    match kind {
        Kind::Sides(names) => names.to_vec(),
        Kind::TwoSides(names, one, other) => {
            vec![names[one.place(rtl)], names[other.place(rtl)]]
        }
        Kind::OneSide(names, edge) => vec![names[edge.place(rtl)]],
        Kind::Borders(edges) => edges
            .iter()
            .flat_map(|edge| [STYLE[edge.place(rtl)], WIDTH[edge.place(rtl)]])
            .collect(),
        Kind::Two(names) => names.to_vec(),
        Kind::Own(names, _) => names.to_vec(),
        Kind::All => all()
            .map(|id| id.longhand().name)
            .filter(|name| !["direction", "unicode-bidi"].contains(name))
            .collect(),
    }
}

fn apart(kind: &Kind, value: &str, rtl: bool) -> Option<Set> {
    let two = |names: [&'static str; 2]| match parts(value).as_slice() {
        [both] => Some(vec![(names[0], both.clone()), (names[1], both.clone())]),
        [one, other] => Some(vec![(names[0], one.clone()), (names[1], other.clone())]),
        _ => None,
    };
    match kind {
        Kind::Sides(names) => four(value, *names),
        Kind::TwoSides(names, one, other) => two([names[one.place(rtl)], names[other.place(rtl)]]),
        Kind::OneSide(names, edge) => Some(vec![(names[edge.place(rtl)], value.to_owned())]),
        Kind::Borders(edges) => {
            let sides: Vec<usize> = edges.iter().map(|edge| edge.place(rtl)).collect();
            borders(value, &sides)
        }
        Kind::Two(names) => two(*names),
        Kind::Own(_, read) => read(value),
        Kind::All => None,
    }
}

/// The `font` shorthand (CSS Fonts 4, §2.7).
fn font(value: &str) -> Option<Set> {
    let mut set: Set = FONT
        .iter()
        .filter(|name| !["font-size", "font-family"].contains(name))
        .filter_map(|name| Some((*name, Id::of(name)?.longhand().initial.to_owned())))
        .collect();
    let mut put = |name: &'static str, value: String| {
        set.retain(|(known, _)| *known != name);
        set.push((name, value));
    };
    let system = [
        "caption",
        "icon",
        "menu",
        "message-box",
        "small-caption",
        "status-bar",
    ];
    if system.contains(&value.to_ascii_lowercase().as_str()) {
        put("font-size", "13.3333px".to_owned());
        put("font-family", "system-ui".to_owned());
        put("line-height", "normal".to_owned());
        return Some(set);
    }
    let mut input = Parser::new(value);
    loop {
        let start = input.position();
        let state = input.state();
        let name = match input.next().ok()?.clone() {
            Token::Ident(word) => match word.to_ascii_lowercase().as_str() {
                "normal" => continue,
                "italic" => "font-style",
                "oblique" => {
                    let angle = |input: &mut Parser<'_>| match input.next()? {
                        Token::Dimension { .. } => Ok(()),
                        _ => Err(ParseError::<()>::custom(())),
                    };
                    let _ = input.try_parse(angle);
                    "font-style"
                }
                "bold" | "bolder" | "lighter" => "font-weight",
                "small-caps" => "font-variant-caps",
                word if stretch_keyword(word).is_some() => "font-stretch",
                _ => {
                    input.reset(&state);
                    break;
                }
            },
            // A size of 0 needs no unit, and no weight is below 1.
            Token::Number { value, .. } if value >= 1.0 => "font-weight",
            _ => {
                input.reset(&state);
                break;
            }
        };
        put(name, input.slice_from(start).trim().to_owned());
    }
    let start = input.position();
    input.next().ok()?;
    if matches!(input.slice_from(start).trim().chars().last(), Some('(')) {
        // A function: its block belongs to the size.
        input
            .parse_nested_block(|input| {
                while input.next().is_ok() {}
                Ok::<_, ParseError<()>>(())
            })
            .ok()?;
    }
    put("font-size", input.slice_from(start).trim().to_owned());
    let height = if input.try_parse(|input| input.expect_delim('/')).is_ok() {
        let start = input.position();
        let token = input.next().ok()?.clone();
        if matches!(token, Token::Function(_)) {
            input
                .parse_nested_block(|input| {
                    while input.next().is_ok() {}
                    Ok::<_, ParseError<()>>(())
                })
                .ok()?;
        }
        input.slice_from(start).trim().to_owned()
    } else {
        "normal".to_owned()
    };
    put("line-height", height);
    let start = input.position();
    while input.next().is_ok() {}
    let list = input.slice_from(start).trim().to_owned();
    families(&list)?;
    put("font-family", list);
    Some(set)
}

fn variant(value: &str) -> Option<Set> {
    let mut set: Set = VARIANT_NAMES
        .iter()
        .map(|name| (*name, "normal".to_owned()))
        .collect();
    if value.eq_ignore_ascii_case("none") {
        set[0].1 = "none".to_owned();
        return Some(set);
    }
    for word in value.split_whitespace().filter(|word| *word != "normal") {
        let word = word.to_ascii_lowercase();
        let place = VARIANT_NAMES
            .iter()
            .position(|name| variant_takes(name, &word))?;
        let known = &mut set[place].1;
        *known = if known == "normal" {
            word
        } else {
            format!("{known} {word}")
        };
    }
    Some(set)
}

/// `font-synthesis`: what is named may be made up.
fn synthesis(value: &str) -> Option<Set> {
    let words = parts(value);
    let known = ["weight", "style", "small-caps", "position"];
    let alone = words.as_slice() == ["none"];
    if words.is_empty() || !alone && !words.iter().all(|word| known.contains(&word.as_str())) {
        return None;
    }
    let may = |word: &str| {
        if words.iter().any(|before| before == word) {
            "auto"
        } else {
            "none"
        }
    };
    Some(vec![
        ("font-synthesis-weight", may("weight").to_owned()),
        ("font-synthesis-style", may("style").to_owned()),
    ])
}

fn four(value: &str, names: [&'static str; 4]) -> Option<Set> {
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

/// Style and width of some sides; colours are not looked at.
fn borders(value: &str, sides: &[usize]) -> Option<Set> {
    let words = parts(value);
    if words.is_empty() || words.len() > 3 {
        return None;
    }
    let (mut style, mut width, mut colours) = (None, None, 0);
    for word in &words {
        let is_width = ["thin", "medium", "thick"].contains(&word.as_str())
            || word.starts_with(|c: char| c.is_ascii_digit() || matches!(c, '.' | '+' | '-'))
            || ["calc(", "min(", "max(", "clamp("]
                .iter()
                .any(|name| word.starts_with(name));
        let place = if BORDER_STYLES.contains(&word.as_str()) {
            &mut style
        } else if is_width {
            &mut width
        } else {
            colours += 1;
            continue;
        };
        if place.replace(word.clone()).is_some() {
            return None;
        }
    }
    if colours > 1 {
        return None;
    }
    let (style, width) = (
        style.unwrap_or_else(|| "none".to_owned()),
        width.unwrap_or_else(|| "medium".to_owned()),
    );
    let set = sides
        .iter()
        .flat_map(|side| [(STYLE[*side], style.clone()), (WIDTH[*side], width.clone())]);
    Some(set.collect())
}

/// The width and height of `contain-intrinsic-size`: a size each, with `auto` before it or not;
/// one counts for both (CSS Sizing 4, §6.1).
fn intrinsic(value: &str) -> Option<Set> {
    let mut sizes: Vec<String> = Vec::new();
    let mut remembered = false;
    for part in parts(value) {
        if part == "auto" && !remembered {
            remembered = true;
            continue;
        }
        sizes.push(part);
        remembered = false;
    }
    let (width, height) = match sizes.as_slice() {
        [both] if !remembered => (both, both),
        [width, height] if !remembered => (width, height),
        _ => return None,
    };
    Some(vec![
        ("contain-intrinsic-width", width.clone()),
        ("contain-intrinsic-height", height.clone()),
    ])
}

/// `columns`: a width and a number, in any order.
fn columns(value: &str) -> Option<Set> {
    let (mut width, mut count) = (None, None);
    for word in parts(value) {
        let place = match word.as_str() {
            "auto" => continue,
            number if number.parse::<i32>().is_ok() => &mut count,
            _ => &mut width,
        };
        if place.replace(word).is_some() {
            return None;
        }
    }
    let auto = || "auto".to_owned();
    Some(vec![
        ("column-width", width.unwrap_or_else(auto)),
        ("column-count", count.unwrap_or_else(auto)),
    ])
}

/// The `flex-flow` shorthand (CSS Flexbox 1, §5.3).
fn flex_flow(value: &str) -> Option<Set> {
    let words = parts(value);
    let (wraps, directions): (Vec<_>, Vec<_>) =
        words.into_iter().partition(|word| word.contains("wrap"));
    if wraps.len() > 1 || directions.len() > 1 {
        return None;
    }
    let or =
        |words: Vec<String>, initial: &str| words.into_iter().next().unwrap_or(initial.to_owned());
    Some(vec![
        ("flex-direction", or(directions, "row")),
        ("flex-wrap", or(wraps, "nowrap")),
    ])
}

/// `place-content` and its like: alignment along one axis and the other.
fn place(value: &str, align: &'static str, justify: &'static str) -> Option<Set> {
    let mut values: Vec<String> = Vec::new();
    let mut before = String::new();
    for word in parts(value) {
        before.push_str(&word);
        if ["safe", "unsafe", "first", "last", "legacy"].contains(&word.as_str()) {
            before.push(' ');
        } else {
            values.push(std::mem::take(&mut before));
        }
    }
    let (one, other) = match values.as_slice() {
        [both] if justify == "justify-content" && both.ends_with("baseline") => {
            (both.clone(), "start".to_owned())
        }
        [both] => (both.clone(), both.clone()),
        [one, other] => (one.clone(), other.clone()),
        _ => return None,
    };
    before
        .is_empty()
        .then(|| vec![(align, one), (justify, other)])
}

/// `list-style`: type and position; pictures are not looked at.
fn list_style(value: &str) -> Option<Set> {
    let (mut kind, mut position) = (None, None);
    for word in written_parts(value) {
        let lower = word.to_ascii_lowercase();
        let picture = ["url(", "image", "linear-gradient("];
        if picture.iter().any(|name| lower.starts_with(name)) {
            continue;
        }
        let place = if ["inside", "outside"].contains(&lower.as_str()) {
            &mut position
        } else {
            &mut kind
        };
        let again = place.replace(word).is_some();
        // `none` may stand for the type and for the picture.
        if again && lower != "none" {
            return None;
        }
    }
    Some(vec![
        ("list-style-type", kind.unwrap_or_else(|| "disc".to_owned())),
        (
            "list-style-position",
            position.unwrap_or_else(|| "outside".to_owned()),
        ),
    ])
}

/// The parts of a value as they are written.
fn written_parts(value: &str) -> Vec<String> {
    let mut input = Parser::new(value);
    let mut parts = Vec::new();
    loop {
        input.skip_whitespace();
        let start = input.position();
        match input.next() {
            Ok(Token::Function(_)) => {
                let _ = input.parse_nested_block(|input| {
                    while input.next().is_ok() {}
                    Ok::<_, ParseError<()>>(())
                });
            }
            Ok(_) => {}
            Err(_) => return parts,
        }
        parts.push(input.slice_from(start).trim().to_owned());
    }
}

fn white_space(value: &str) -> Option<Set> {
    let (collapse, wrap) = match value.to_ascii_lowercase().as_str() {
        "normal" => ("collapse", "wrap"),
        "nowrap" => ("collapse", "nowrap"),
        "pre" => ("preserve", "nowrap"),
        "pre-wrap" => ("preserve", "wrap"),
        "pre-line" => ("preserve-breaks", "wrap"),
        "break-spaces" => ("break-spaces", "wrap"),
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

fn text_wrap(value: &str) -> Option<Set> {
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
fn flex(value: &str) -> Option<Set> {
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

fn placed(value: &str, start: &'static str, end: &'static str) -> Option<Set> {
    let mut ends = value.split('/').map(|end| end.trim().to_ascii_lowercase());
    let first = ends.next()?;
    let second = ends.next().unwrap_or_else(|| other_end(&first));
    Some(vec![(start, first), (end, second)])
}

/// The end that goes with one that is stated alone: a name stands for both (CSS Grid
/// 2, §8.4).
fn other_end(end: &str) -> String {
    let name = |c: char| c.is_alphabetic() || !c.is_ascii() || matches!(c, '_' | '-');
    let is_name = end.starts_with(name) && !end.contains(char::is_whitespace) && end != "auto";
    if is_name && end.parse::<i32>().is_err() {
        end.to_owned()
    } else {
        "auto".to_owned()
    }
}

/// `grid-area`.
fn area(value: &str) -> Option<Set> {
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
    (ends.len() <= 4).then(|| {
        vec![
            ("grid-row-start", end(0, 0)),
            ("grid-column-start", end(1, 0)),
            ("grid-row-end", end(2, 0)),
            ("grid-column-end", end(3, 1)),
        ]
    })
}

/// `grid-template`: rows and columns, or areas with the heights of their rows.
fn template(value: &str) -> Option<Set> {
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

/// The `grid` shorthand (CSS Grid 2, §7.8): a template, or tracks made as they are needed.
fn grid(value: &str) -> Option<Set> {
    let auto = |name: &'static str| (name, "auto".to_owned());
    let none = |name: &'static str| (name, "none".to_owned());
    let Some((rows, columns)) = value
        .split_once('/')
        .filter(|_| value.contains("auto-flow"))
    else {
        let mut set = template(value)?;
        set.extend([
            ("grid-auto-flow", "row".to_owned()),
            auto("grid-auto-rows"),
            auto("grid-auto-columns"),
        ]);
        return Some(set);
    };
    // The side with `auto-flow` says how tracks are made, the other one which there are.
    let by_columns = columns.contains("auto-flow");
    let (made, declared) = if by_columns {
        (columns, rows)
    } else {
        (rows, columns)
    };
    let dense = made.split_whitespace().any(|word| word == "dense");
    let sizes: Vec<String> = parts(made)
        .into_iter()
        .filter(|word| !["auto-flow", "dense"].contains(&word.as_str()))
        .collect();
    let sizes = if sizes.is_empty() {
        "auto".to_owned()
    } else {
        sizes.join(" ")
    };
    let direction = if by_columns { "column" } else { "row" };
    let flow = format!("{direction}{}", if dense { " dense" } else { "" });
    let declared = declared.trim().to_owned();
    let mut set = vec![none("grid-template-areas"), ("grid-auto-flow", flow)];
    set.extend(if by_columns {
        [
            ("grid-template-rows", declared),
            none("grid-template-columns"),
            auto("grid-auto-rows"),
            ("grid-auto-columns", sizes),
        ]
    } else {
        [
            none("grid-template-rows"),
            ("grid-template-columns", declared),
            ("grid-auto-rows", sizes),
            auto("grid-auto-columns"),
        ]
    });
    Some(set)
}

#[cfg(test)]
mod tests {
    use super::SHORTHANDS;

    #[test]
    fn names_are_in_order() {
        assert!(SHORTHANDS.is_sorted_by_key(|(name, _)| *name));
    }
}
