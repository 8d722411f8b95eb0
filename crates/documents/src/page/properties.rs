//! Declarations put to a style: shorthands taken apart, values computed.

use cssparser::{ParseError, Parser, Token};

use super::style::{CaseChange, LineHeight, SizeOrigin, StyleValue, TextStyle, Transform};
use crate::style::read::{LengthContext, Quantity, Viewport, families, length};
use crate::style::stretch_keyword;

/// Where a declaration is computed.
#[derive(Debug, Clone, Copy)]
pub(super) struct Surroundings<'a> {
    /// The style of the parent element.
    pub parent: &'a TextStyle,
    /// The font size of the root element, in px.
    pub root: f32,
    /// The viewport.
    pub viewport: Viewport,
}

/// The order in which longhands are put to a style: what others are relative to
/// comes first.
pub(super) const LONGHANDS: [&str; 27] = [
    "font-family",
    "font-size",
    "font-weight",
    "font-style",
    "font-stretch",
    "font-kerning",
    "font-optical-sizing",
    "font-variant-ligatures",
    "font-variant-caps",
    "font-variant-numeric",
    "font-variant-east-asian",
    "font-variant-position",
    "font-variant-alternates",
    "font-variant-emoji",
    "font-feature-settings",
    "font-variation-settings",
    "font-synthesis-weight",
    "font-synthesis-style",
    "line-height",
    "letter-spacing",
    "word-spacing",
    "text-transform",
    "quotes",
    "list-style-type",
    // Not inherited, and not part of the style.
    "content",
    "display",
    "visibility",
];

const VARIANTS: [&str; 7] = [
    "font-variant-ligatures",
    "font-variant-caps",
    "font-variant-numeric",
    "font-variant-east-asian",
    "font-variant-position",
    "font-variant-alternates",
    "font-variant-emoji",
];

/// A declaration as longhands; `None` where it is no valid shorthand.
pub(super) fn longhands(name: &str, value: &str) -> Option<Vec<(&'static str, String)>> {
    let wide = is_wide(value);
    match name {
        "font" if wide => {
            let all = LONGHANDS.iter().filter(|name| name.starts_with("font-"));
            let all = all.chain(["line-height"].iter());
            Some(all.map(|name| (*name, value.to_owned())).collect())
        }
        "font" => font(value),
        "font-variant" if wide => Some(
            VARIANTS
                .iter()
                .map(|name| (*name, value.to_owned()))
                .collect(),
        ),
        "font-variant" => variant(value),
        "font-synthesis" => Some(synthesis(value)),
        "list-style" if wide => Some(vec![("list-style-type", value.to_owned())]),
        "list-style" => {
            let words = value.split_whitespace();
            let kind = words
                .into_iter()
                .find(|word| !["inside", "outside"].contains(word) && !word.starts_with("url("));
            Some(vec![("list-style-type", kind.unwrap_or("disc").to_owned())])
        }
        "font-width" => Some(vec![("font-stretch", value.to_owned())]),
        "all" if wide => Some(
            LONGHANDS
                .iter()
                .map(|name| (*name, value.to_owned()))
                .collect(),
        ),
        _ => {
            let known = LONGHANDS.iter().find(|known| **known == name)?;
            Some(vec![(known, value.to_owned())])
        }
    }
}

/// Whether a value is a keyword that all properties take.
pub(super) fn is_wide(value: &str) -> bool {
    ["inherit", "initial", "unset", "revert", "revert-layer"]
        .contains(&value.to_ascii_lowercase().as_str())
}

/// The `font` shorthand (CSS Fonts 4, §2.7).
fn font(value: &str) -> Option<Vec<(&'static str, String)>> {
    let mut set: Vec<(&'static str, String)> = LONGHANDS
        .iter()
        .filter(|name| {
            name.starts_with("font-") && **name != "font-size" && **name != "font-family"
        })
        .filter(|name| !name.starts_with("font-synthesis"))
        .map(|name| (*name, initial(name).to_owned()))
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

fn variant(value: &str) -> Option<Vec<(&'static str, String)>> {
    let mut set: Vec<(&'static str, String)> = VARIANTS
        .iter()
        .map(|name| (*name, "normal".to_owned()))
        .collect();
    if value.eq_ignore_ascii_case("none") {
        set[0].1 = "none".to_owned();
        return Some(set);
    }
    for word in value.split_whitespace().filter(|word| *word != "normal") {
        let word = word.to_ascii_lowercase();
        let place = VARIANTS
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

/// Whether `word` is a keyword of the property `name`.
fn variant_takes(name: &str, word: &str) -> bool {
    variant_words(name).contains(&word)
        || (name == "font-variant-alternates" && (word.contains('(') || word.ends_with(')')))
}

/// The keywords of a property, in the order in which they are told.
fn variant_words(name: &str) -> &'static [&'static str] {
    match name {
        "font-variant-ligatures" => &[
            "common-ligatures",
            "no-common-ligatures",
            "discretionary-ligatures",
            "no-discretionary-ligatures",
            "historical-ligatures",
            "no-historical-ligatures",
            "contextual",
            "no-contextual",
        ],
        "font-variant-caps" => &[
            "small-caps",
            "all-small-caps",
            "petite-caps",
            "all-petite-caps",
            "unicase",
            "titling-caps",
        ],
        "font-variant-numeric" => &[
            "lining-nums",
            "oldstyle-nums",
            "proportional-nums",
            "tabular-nums",
            "diagonal-fractions",
            "stacked-fractions",
            "ordinal",
            "slashed-zero",
        ],
        "font-variant-east-asian" => &[
            "jis78",
            "jis83",
            "jis90",
            "jis04",
            "simplified",
            "traditional",
            "full-width",
            "proportional-width",
            "ruby",
        ],
        "font-variant-position" => &["sub", "super"],
        "font-variant-emoji" => &["text", "emoji", "unicode"],
        "font-variant-alternates" => &["historical-forms"],
        _ => &[],
    }
}

fn synthesis(value: &str) -> Vec<(&'static str, String)> {
    let wide = is_wide(value);
    ["weight", "style"]
        .iter()
        .zip(["font-synthesis-weight", "font-synthesis-style"])
        .map(|(word, name)| {
            let on = value.split_whitespace().any(|known| known == *word);
            let value = match (wide, on) {
                (true, _) => value,
                (_, true) => "auto",
                (_, false) => "none",
            };
            (name, value.to_owned())
        })
        .collect()
}

/// The initial value of a longhand.
pub(super) fn initial(name: &str) -> &'static str {
    match name {
        "font-size" => "medium",
        "font-kerning"
        | "font-optical-sizing"
        | "font-synthesis-weight"
        | "font-synthesis-style"
        | "quotes" => "auto",
        "text-transform" => "none",
        "list-style-type" => "disc",
        "display" => "inline",
        "visibility" => "visible",
        // Of `font-family` the initial value is the browser's own choice.
        "font-family" => "",
        _ => "normal",
    }
}

/// Puts a longhand to `style`; `None` where its value is invalid.
pub(super) fn apply(
    style: &mut TextStyle,
    name: &str,
    value: &str,
    around: Surroundings<'_>,
) -> Option<()> {
    let lower = value.to_ascii_lowercase();
    let parent = around.parent;
    match name {
        "font-family" if value.is_empty() => style.families = Vec::new(),
        "font-family" => style.families = families(value)?,
        "font-size" => size(style, &lower, around)?,
        "font-weight" => style.weight = weight(&lower, parent.weight)?,
        "font-style" => style.style = slope(&lower)?,
        "font-stretch" => {
            let percent = lower
                .strip_suffix('%')
                .and_then(|number| number.trim().parse().ok());
            style.stretch = percent.or_else(|| stretch_keyword(&lower))?;
        }
        "font-optical-sizing" => {
            style.optical = match lower.as_str() {
                "auto" => true,
                "none" => false,
                _ => return None,
            };
        }
        "font-kerning" => {
            if !["auto", "normal", "none"].contains(&lower.as_str()) {
                return None;
            }
            style.kerning = lower;
        }
        "font-feature-settings" => {
            style.features = settings(value, |input| {
                if input
                    .try_parse(|input| input.expect_ident_matching("off"))
                    .is_ok()
                {
                    return Ok(0);
                }
                if input
                    .try_parse(|input| input.expect_ident_matching("on"))
                    .is_ok()
                {
                    return Ok(1);
                }
                match input.try_parse(|input| input.expect_integer()) {
                    Ok(value) => u32::try_from(value).map_err(|_| ParseError::custom(())),
                    Err(_) => Ok(1),
                }
            })?;
        }
        "font-variation-settings" => {
            style.variations = settings(value, |input| Ok(input.expect_number()?))?;
        }
        "font-synthesis-weight" => style.fake_bold = on_or_off(&lower)?,
        "font-synthesis-style" => style.fake_italic = on_or_off(&lower)?,
        "line-height" => {
            style.line_height = if lower == "normal" {
                LineHeight::Normal
            } else {
                match quantity(&lower, style.size, style.size, around)? {
                    Quantity::Number(number) if number >= 0.0 => LineHeight::Number(number),
                    Quantity::Px(px) if px >= 0.0 => LineHeight::Px(px),
                    _ => return None,
                }
            };
        }
        "letter-spacing" => style.letter_spacing = spacing(&lower, style.size, around)?,
        "word-spacing" => style.word_spacing = spacing(&lower, style.size, around)?,
        "text-transform" => style.transform = transform(&lower)?,
        "quotes" => style.quotes = quotes(value)?,
        "list-style-type" => value.clone_into(&mut style.list),
        name if VARIANTS.contains(&name) => {
            let mut words: Vec<String> = lower.split_whitespace().map(str::to_owned).collect();
            let known = variant_words(name);
            words.sort_by_key(|word| known.iter().position(|known| known == word));
            let plain = ["normal", "none"].contains(&lower.as_str());
            if !plain && !words.iter().all(|word| variant_takes(name, word)) {
                return None;
            }
            style.variants.retain(|(known, _)| known != name);
            if lower != "normal" {
                style.variants.push((name.to_owned(), words));
                style.variants.sort();
            }
        }
        _ => {}
    }
    Some(())
}

/// Takes a longhand over from `from`.
pub(super) fn copy(style: &mut TextStyle, name: &str, from: &TextStyle) {
    match name {
        "font-family" => style.families.clone_from(&from.families),
        "font-size" => (style.size, style.origin) = (from.size, from.origin),
        "font-weight" => style.weight = from.weight,
        "font-style" => style.style = from.style,
        "font-stretch" => style.stretch = from.stretch,
        "font-optical-sizing" => style.optical = from.optical,
        "font-kerning" => style.kerning.clone_from(&from.kerning),
        "font-feature-settings" => style.features.clone_from(&from.features),
        "font-variation-settings" => style.variations.clone_from(&from.variations),
        "font-synthesis-weight" => style.fake_bold = from.fake_bold,
        "font-synthesis-style" => style.fake_italic = from.fake_italic,
        "line-height" => style.line_height = from.line_height,
        "letter-spacing" => style.letter_spacing = from.letter_spacing,
        "word-spacing" => style.word_spacing = from.word_spacing,
        "text-transform" => style.transform = from.transform,
        "quotes" => style.quotes.clone_from(&from.quotes),
        "list-style-type" => style.list.clone_from(&from.list),
        name if VARIANTS.contains(&name) => {
            style.variants.retain(|(known, _)| known != name);
            let theirs = from.variants.iter().filter(|(known, _)| known == name);
            style.variants.extend(theirs.cloned());
            style.variants.sort();
        }
        _ => {}
    }
}

fn quantity(text: &str, em: f32, percent: f32, around: Surroundings<'_>) -> Option<Quantity> {
    let context = LengthContext {
        em,
        rem: around.root,
        percent,
        viewport: around.viewport,
        font: None,
    };
    let mut input = Parser::new(text);
    let quantity = length(&mut input, &context).ok()?;
    input.is_exhausted().then_some(quantity)
}

fn size(style: &mut TextStyle, lower: &str, around: Surroundings<'_>) -> Option<()> {
    let parent = around.parent;
    if let Some(keyword) = SizeOrigin::keyword(lower) {
        style.origin = keyword;
        return Some(());
    }
    let relative = match parent.origin {
        SizeOrigin::Absolute => SizeOrigin::Absolute,
        _ => SizeOrigin::Relative,
    };
    // CSS Fonts 4, §2.5.2: a step of about 1.2.
    match lower {
        "smaller" => (style.size, style.origin) = (parent.size / 1.2, relative),
        "larger" => (style.size, style.origin) = (parent.size * 1.2, relative),
        _ => {
            let Quantity::Px(px) = quantity(lower, parent.size, parent.size, around)? else {
                // Without a unit only 0 is a length.
                return (lower == "0").then(|| {
                    (style.size, style.origin) = (0.0, SizeOrigin::Absolute);
                });
            };
            if px < 0.0 {
                return None;
            }
            let font_relative = ["em", "%", "ex", "ch", "cap", "ic", "lh"]
                .iter()
                .any(|unit| lower.contains(unit) && !lower.contains("rem"));
            (style.size, style.origin) = (
                px,
                if font_relative {
                    relative
                } else {
                    SizeOrigin::Absolute
                },
            );
        }
    }
    Some(())
}

/// CSS Fonts 4, §2.2.1: `bolder` and `lighter` by the table.
fn weight(lower: &str, parent: f32) -> Option<f32> {
    Some(match lower {
        "normal" => 400.0,
        "bold" => 700.0,
        "bolder" => match parent {
            weight if weight < 350.0 => 400.0,
            weight if weight < 550.0 => 700.0,
            weight if weight < 900.0 => 900.0,
            weight => weight,
        },
        "lighter" => match parent {
            weight if weight < 100.0 => weight,
            weight if weight < 550.0 => 100.0,
            weight if weight < 750.0 => 400.0,
            _ => 700.0,
        },
        number => number
            .parse()
            .ok()
            .filter(|weight| (1.0..=1000.0).contains(weight))?,
    })
}

fn slope(lower: &str) -> Option<StyleValue> {
    match lower {
        "normal" => Some(StyleValue::Normal),
        "italic" => Some(StyleValue::Italic),
        "oblique" => Some(StyleValue::Oblique(14.0)),
        _ => {
            let angle = lower.strip_prefix("oblique ")?.trim().strip_suffix("deg")?;
            let angle: f32 = angle.parse().ok()?;
            // `oblique 0deg` computes to `normal`.
            Some(if angle == 0.0 {
                StyleValue::Normal
            } else {
                StyleValue::Oblique(angle)
            })
        }
    }
}

fn settings<T>(
    value: &str,
    one: impl Fn(&mut Parser<'_>) -> Result<T, ParseError<()>>,
) -> Option<Vec<(String, T)>> {
    if value.eq_ignore_ascii_case("normal") {
        return Some(Vec::new());
    }
    let mut input = Parser::new(value);
    let list = input
        .parse_comma_separated(|input| {
            let tag = input.expect_string_cloned()?.to_string();
            if tag.len() != 4 || !tag.bytes().all(|byte| (0x20..0x7f).contains(&byte)) {
                return Err(ParseError::custom(()));
            }
            Ok((tag, one(input)?))
        })
        .ok()?;
    // CSS Fonts 4, §6.12: sorted, and of each tag the last.
    let mut settled: Vec<(String, T)> = Vec::with_capacity(list.len());
    for (tag, value) in list {
        settled.retain(|(known, _)| *known != tag);
        settled.push((tag, value));
    }
    settled.sort_by(|(a, _), (b, _)| a.cmp(b));
    Some(settled)
}

fn on_or_off(lower: &str) -> Option<bool> {
    match lower {
        "auto" => Some(true),
        "none" => Some(false),
        _ => None,
    }
}

fn spacing(lower: &str, em: f32, around: Surroundings<'_>) -> Option<f32> {
    if lower == "normal" {
        return Some(0.0);
    }
    match quantity(lower, em, em, around)? {
        Quantity::Px(px) => Some(px),
        Quantity::Number(0.0) => Some(0.0),
        Quantity::Number(_) => None,
    }
}

fn transform(lower: &str) -> Option<Transform> {
    let mut transform = Transform::default();
    for word in lower.split_whitespace() {
        match word {
            "none" => {}
            "uppercase" => transform.case = Some(CaseChange::Uppercase),
            "lowercase" => transform.case = Some(CaseChange::Lowercase),
            "capitalize" => transform.case = Some(CaseChange::Capitalize),
            "full-width" => transform.full_width = true,
            "full-size-kana" => transform.full_size_kana = true,
            _ => return None,
        }
    }
    Some(transform)
}

/// Pairs of opening and closing marks; an empty list for `none`, nothing for
/// `auto`.
fn quotes(value: &str) -> Option<Option<Vec<(String, String)>>> {
    match value.to_ascii_lowercase().as_str() {
        "auto" => return Some(None),
        "none" => return Some(Some(Vec::new())),
        _ => {}
    }
    let mut input = Parser::new(value);
    let mut pairs = Vec::new();
    while !input.is_exhausted() {
        let open = input.expect_string_cloned().ok()?.to_string();
        pairs.push((open, input.expect_string_cloned().ok()?.to_string()));
    }
    Some(Some(pairs))
}
