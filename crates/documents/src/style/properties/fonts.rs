//! Longhands of fonts and of the texts set in them (CSS Fonts 4, CSS Inline 3, CSS Text 4).

use cssparser::{ParseError, Parser, Token};

use super::given::Given;
use super::{Longhand, row};
use crate::style::computed::{
    CaseChange, LineHeight, SizeOrigin, StyleValue, TextStyle, Transform,
};
use crate::style::parts;
use crate::style::read::{Quantity, families};
use crate::style::stretch_keyword;

/// The longhands that `font-variant` stands for, with their keywords in the order in which
/// they are told; of each group at most one stands in a value.
pub(super) const VARIANTS: [(&str, &[&[&str]]); 7] = [
    (
        "font-variant-ligatures",
        &[
            &["common-ligatures", "no-common-ligatures"],
            &["discretionary-ligatures", "no-discretionary-ligatures"],
            &["historical-ligatures", "no-historical-ligatures"],
            &["contextual", "no-contextual"],
        ],
    ),
    (
        "font-variant-caps",
        &[&[
            "small-caps",
            "all-small-caps",
            "petite-caps",
            "all-petite-caps",
            "unicase",
            "titling-caps",
        ]],
    ),
    (
        "font-variant-numeric",
        &[
            &["lining-nums", "oldstyle-nums"],
            &["proportional-nums", "tabular-nums"],
            &["diagonal-fractions", "stacked-fractions"],
            &["ordinal"],
            &["slashed-zero"],
        ],
    ),
    (
        "font-variant-east-asian",
        &[
            &[
                "jis78",
                "jis83",
                "jis90",
                "jis04",
                "simplified",
                "traditional",
            ],
            &["full-width", "proportional-width"],
            &["ruby"],
        ],
    ),
    ("font-variant-position", &[&["sub", "super"]]),
    ("font-variant-alternates", &[&["historical-forms"]]),
    ("font-variant-emoji", &[&["text", "emoji", "unicode"]]),
];

/// Functions of `font-variant-alternates`.
const ALTERNATES: [&str; 6] = [
    "stylistic",
    "styleset",
    "character-variant",
    "swash",
    "ornaments",
    "annotation",
];

/// Whether `word` is a keyword of the property `name`.
pub(super) fn variant_takes(name: &str, word: &str) -> bool {
    let known = VARIANTS.iter().find(|(known, _)| *known == name);
    known.is_some_and(|(_, groups)| groups.iter().any(|group| group.contains(&word)))
        || (name == "font-variant-alternates" && word.ends_with(')') && {
            let function = word.split('(').next().unwrap_or_default();
            ALTERNATES.contains(&function)
        })
}

/// One of the `font-variant-*` properties.
macro_rules! variant {
    ($place:literal) => {
        Longhand {
            name: VARIANTS[$place].0,
            inherited: true,
            initial: "normal",
            of_boxes: false,
            set: |to, given| set_variant(&mut to.text, &VARIANTS[$place], given),
            copy: |to, from| copy_variant(&mut to.text, VARIANTS[$place].0, &from.text),
        }
    };
}

pub(super) fn longhands() -> [Longhand; 25] {
    const AUTO_OR_NONE: [(&str, bool); 2] = [("auto", true), ("none", false)];
    [
        row!("font-family", true, "", false, text.families, |given| {
            // The initial value is the browser's own choice.
            if given.text.is_empty() {
                return Some(Vec::new());
            }
            families(given.text)
        }),
        Longhand {
            name: "font-size",
            inherited: true,
            initial: "medium",
            of_boxes: false,
            set: |to, given| size(&mut to.text, given),
            copy: |to, from| {
                (to.text.size, to.text.origin) = (from.text.size, from.text.origin);
            },
        },
        row!("font-weight", true, "normal", false, text.weight, weight),
        row!("font-style", true, "normal", false, text.style, slope),
        row!(
            "font-stretch",
            true,
            "normal",
            false,
            text.stretch,
            |given| {
                let percent = given.percentage();
                let percent = percent.filter(|percent| *percent >= 0.0);
                if given.lower == "auto" {
                    return None;
                }
                percent.or_else(|| stretch_keyword(given.lower))
            }
        ),
        row!("font-kerning", true, "auto", false, text.kerning, |given| {
            ["auto", "normal", "none"]
                .contains(&given.lower)
                .then(|| given.lower.to_owned())
        }),
        row!(
            "font-optical-sizing",
            true,
            "auto",
            false,
            text.optical,
            |given| { given.keyword(&AUTO_OR_NONE) }
        ),
        variant!(0),
        variant!(1),
        variant!(2),
        variant!(3),
        variant!(4),
        variant!(5),
        variant!(6),
        row!(
            "font-feature-settings",
            true,
            "normal",
            false,
            text.features,
            features
        ),
        row!(
            "font-variation-settings",
            true,
            "normal",
            false,
            text.variations,
            |given| { settings(given.text, |input| Ok(input.expect_number()?)) }
        ),
        row!(
            "font-synthesis-weight",
            true,
            "auto",
            false,
            text.fake_bold,
            |given| { given.keyword(&AUTO_OR_NONE) }
        ),
        row!(
            "font-synthesis-style",
            true,
            "auto",
            false,
            text.fake_italic,
            |given| { given.keyword(&AUTO_OR_NONE) }
        ),
        row!(
            "line-height",
            true,
            "normal",
            false,
            text.line_height,
            line_height
        ),
        row!(
            "letter-spacing",
            true,
            "normal",
            false,
            text.letter_spacing,
            spacing
        ),
        row!(
            "word-spacing",
            true,
            "normal",
            false,
            text.word_spacing,
            spacing
        ),
        row!(
            "text-transform",
            true,
            "none",
            false,
            text.transform,
            transform
        ),
        row!("quotes", true, "auto", false, text.quotes, |given| quotes(
            given.text
        )),
        row!(
            "list-style-type",
            true,
            "disc",
            false,
            text.list,
            counter_style
        ),
        Longhand {
            name: "content",
            inherited: false,
            initial: "normal",
            of_boxes: false,
            set: |to, given| {
                to.content = (given.lower != "normal").then(|| given.text.to_owned());
                Some(())
            },
            copy: |to, from| to.content.clone_from(from.content),
        },
    ]
}

fn size(to: &mut TextStyle, given: &Given<'_>) -> Option<()> {
    let parent = given.around.parent;
    if let Some(keyword) = SizeOrigin::keyword(given.lower) {
        to.origin = keyword;
        return Some(());
    }
    let relative = match parent.origin {
        SizeOrigin::Absolute => SizeOrigin::Absolute,
        _ => SizeOrigin::Relative,
    };
    // CSS Fonts 4, §2.5.2: a step of about 1.2.
    (to.size, to.origin) = match given.lower {
        "smaller" => (parent.size / 1.2, relative),
        "larger" => (parent.size * 1.2, relative),
        // For formulas in formulas.
        "math" => (parent.size, relative),
        lower => {
            let of_parent = Given {
                em: parent.size,
                ..*given
            };
            let px = of_parent.quantity(parent.size)?;
            let font_relative = ["em", "%", "ex", "ch", "cap", "ic", "lh"]
                .iter()
                .any(|unit| lower.contains(unit) && !lower.contains("rem"));
            let origin = if font_relative {
                relative
            } else {
                SizeOrigin::Absolute
            };
            match px {
                Quantity::Px(px) if px >= 0.0 || lower.contains('(') => (px.max(0.0), origin),
                // Without a unit only 0 is a length.
                Quantity::Number(0.0) if !lower.contains('(') => (0.0, SizeOrigin::Absolute),
                _ => return None,
            }
        }
    };
    Some(())
}

/// `font-weight`, 1 to 1000.
fn weight(given: &Given<'_>) -> Option<f32> {
    let parent = given.around.parent.weight;
    Some(match given.lower {
        "normal" => 400.0,
        "bold" => 700.0,
        "bolder" | "lighter" => relative_weight(given.lower == "bolder", parent),
        _ => {
            let number = given.number()?;
            if given.lower.contains('(') {
                number.clamp(1.0, 1000.0)
            } else {
                Some(number).filter(|weight| (1.0..=1000.0).contains(weight))?
            }
        }
    })
}

/// CSS Fonts 4, §2.2.1: `bolder` and `lighter` by the table.
fn relative_weight(bolder: bool, parent: f32) -> f32 {
    match (bolder, parent) {
        (true, weight) if weight < 350.0 => 400.0,
        (true, weight) if weight < 550.0 => 700.0,
        (true, weight) => weight.max(900.0),
        (false, weight) if weight < 100.0 => weight,
        (false, weight) if weight < 550.0 => 100.0,
        (false, weight) if weight < 750.0 => 400.0,
        (false, _) => 700.0,
    }
}

fn slope(given: &Given<'_>) -> Option<StyleValue> {
    match given.lower {
        "normal" => Some(StyleValue::Normal),
        "italic" => Some(StyleValue::Italic),
        "oblique" => Some(StyleValue::Oblique(14.0)),
        lower => {
            let angle = degrees(lower.strip_prefix("oblique ")?.trim())?;
            // `oblique 0deg` computes to `normal`.
            (-90.0..=90.0).contains(&angle).then_some(if angle == 0.0 {
                StyleValue::Normal
            } else {
                StyleValue::Oblique(angle)
            })
        }
    }
}

/// An angle in degrees (CSS Values 4, §7.1).
fn degrees(lower: &str) -> Option<f32> {
    let units = [
        ("grad", 0.9),
        ("deg", 1.0),
        ("rad", 180.0 / std::f32::consts::PI),
        ("turn", 360.0),
    ];
    let (number, factor) = units
        .iter()
        .find_map(|(unit, factor)| Some((lower.strip_suffix(unit)?, factor)))?;
    Some(number.parse::<f32>().ok()? * factor)
}

fn set_variant(
    to: &mut TextStyle,
    (name, groups): &(&'static str, &[&[&str]]),
    given: &Given<'_>,
) -> Option<()> {
    let lower = given.lower;
    let mut words = parts(lower);
    let is_none = lower == "none" && *name == "font-variant-ligatures";
    if lower != "normal" && !is_none {
        let group = |word: &str| groups.iter().position(|group| group.contains(&word));
        let mut used: Vec<Option<usize>> = words.iter().map(|word| group(word)).collect();
        let alone = words.iter().all(|word| variant_takes(name, word));
        used.retain(Option::is_some);
        let count = used.len();
        used.sort_unstable();
        used.dedup();
        if !alone || used.len() < count || words.is_empty() {
            return None;
        }
    }
    let order: Vec<&str> = groups
        .iter()
        .flat_map(|group| group.iter().copied())
        .collect();
    words.sort_by_key(|word| order.iter().position(|known| known == word));
    to.variants.retain(|(known, _)| known != name);
    if lower != "normal" {
        to.variants.push(((*name).to_owned(), words));
        to.variants.sort();
    }
    Some(())
}

fn copy_variant(to: &mut TextStyle, name: &str, from: &TextStyle) {
    to.variants.retain(|(known, _)| known != name);
    let theirs = from.variants.iter().filter(|(known, _)| known == name);
    to.variants.extend(theirs.cloned());
    to.variants.sort();
}

fn features(given: &Given<'_>) -> Option<Vec<(String, u32)>> {
    let word = |input: &mut Parser<'_>, word: &str| {
        let expected = input.try_parse(|input| input.expect_ident_matching(word));
        expected.is_ok()
    };
    settings(given.text, |input| {
        if word(input, "off") {
            return Ok(0);
        }
        if word(input, "on") {
            return Ok(1);
        }
        match input.try_parse(|input| input.expect_integer()) {
            // Whatever is not 0 turns it on.
            Ok(value) => Ok(value.unsigned_abs()),
            Err(_) => Ok(1),
        }
    })
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

fn line_height(given: &Given<'_>) -> Option<LineHeight> {
    if given.lower == "normal" {
        return Some(LineHeight::Normal);
    }
    let computed = given.lower.contains('(');
    match given.quantity(given.em)? {
        Quantity::Number(number) if number >= 0.0 || computed => {
            Some(LineHeight::Number(number.max(0.0)))
        }
        Quantity::Px(px) if px >= 0.0 || computed => Some(LineHeight::Px(px.max(0.0))),
        _ => None,
    }
}

/// `letter-spacing` and `word-spacing` in px.
fn spacing(given: &Given<'_>) -> Option<f32> {
    if given.lower == "normal" {
        return Some(0.0);
    }
    match given.quantity(given.em)? {
        Quantity::Px(px) => Some(px),
        Quantity::Number(0.0) if !given.lower.contains('(') => Some(0.0),
        Quantity::Number(_) => None,
    }
}

fn transform(given: &Given<'_>) -> Option<Transform> {
    let mut transform = Transform::default();
    if given.lower == "none" {
        return Some(transform);
    }
    for word in given.lower.split_whitespace() {
        let case = match word {
            "uppercase" => CaseChange::Uppercase,
            "lowercase" => CaseChange::Lowercase,
            "capitalize" => CaseChange::Capitalize,
            // Only single letters of formulas change.
            "math-auto" if given.lower == word => continue,
            "full-width" if !transform.full_width => {
                transform.full_width = true;
                continue;
            }
            "full-size-kana" if !transform.full_size_kana => {
                transform.full_size_kana = true;
                continue;
            }
            _ => return None,
        };
        if transform.case.replace(case).is_some() {
            return None;
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
    if input.is_exhausted() {
        return None;
    }
    while !input.is_exhausted() {
        let open = input.expect_string_cloned().ok()?.to_string();
        pairs.push((open, input.expect_string_cloned().ok()?.to_string()));
    }
    Some(Some(pairs))
}

/// `list-style-type`: a name of a counter style, a string, or `none`.
fn counter_style(given: &Given<'_>) -> Option<String> {
    let mut input = Parser::new(given.text);
    let one = matches!(input.next().ok()?, Token::Ident(_) | Token::QuotedString(_));
    let symbols = given.inside("symbols").is_some();
    ((one && input.is_exhausted()) || symbols).then(|| given.text.to_owned())
}
