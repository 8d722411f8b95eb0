//! What style rules ask of text: features, line heights, languages.

use cssparser::{Parser, Token};
use tidy_lattice_documents::page::LineHeight;
use tidy_lattice_documents::style::read::Sheet;

use crate::finding::Finding;
use crate::inputs::{Inputs, SheetInput};
use crate::raw::{RawBlock, RawDeclaration};

/// Text below this size is small, in px.
const SMALL: f32 = 12.0;

/// Features with a property of their own (CSS Fonts 4, §6).
const PROPERTIES: [(&str, &str); 22] = [
    ("kern", "font-kerning"),
    ("liga", "font-variant-ligatures"),
    ("clig", "font-variant-ligatures"),
    ("calt", "font-variant-ligatures"),
    ("dlig", "font-variant-ligatures"),
    ("hlig", "font-variant-ligatures"),
    ("tnum", "font-variant-numeric"),
    ("pnum", "font-variant-numeric"),
    ("lnum", "font-variant-numeric"),
    ("onum", "font-variant-numeric"),
    ("frac", "font-variant-numeric"),
    ("afrc", "font-variant-numeric"),
    ("zero", "font-variant-numeric"),
    ("ordn", "font-variant-numeric"),
    ("smcp", "font-variant-caps"),
    ("c2sc", "font-variant-caps"),
    ("pcap", "font-variant-caps"),
    ("unic", "font-variant-caps"),
    ("titl", "font-variant-caps"),
    ("sups", "font-variant-position"),
    ("subs", "font-variant-position"),
    ("swsh", "font-variant-alternates"),
];

pub fn check(inputs: &Inputs, findings: &mut Vec<Finding>) {
    for sheet in &inputs.sheets {
        for block in &sheet.raw.blocks {
            if sheet.is_font_face(block) {
                dropped(sheet, block, findings);
                continue;
            }
            settings(sheet, block, findings);
            ligatures(sheet, block, findings);
            line_height(inputs, sheet, block, findings);
        }
    }
    for asked in &inputs.features {
        let page = inputs
            .pages
            .iter()
            .find(|page| page.source.name == asked.place.0);
        let Some(page) = page else { continue };
        let span = page.source.line(asked.place.1);
        let what = match asked.fonts.as_slice() {
            [only] => format!(
                "this text asks for {}, and {only} has no such feature",
                asked.css
            ),
            fonts => format!(
                "this text asks for {}, and neither {} has such a feature",
                asked.css,
                fonts.join(" nor ")
            ),
        };
        findings.push(Finding::new("feature-lacking", &page.source, &span, what));
    }
    gaps(inputs, findings);
    for page in &inputs.pages {
        let (line, language) = &page.root;
        if language.as_ref().is_none_or(|tag| tag.trim().is_empty()) {
            let span = page.source.line(*line);
            let what = "the page does not say which language it is in".to_owned();
            findings.push(Finding::new("language-missing", &page.source, &span, what));
        }
    }
}

/// Characters that no font of their stack has.
fn gaps(inputs: &Inputs, findings: &mut Vec<Finding>) {
    /// How many clusters are named.
    const NAMED: usize = 6;
    for gap in &inputs.gaps {
        let mut shown: Vec<&str> = gap
            .clusters
            .iter()
            .take(NAMED)
            .map(String::as_str)
            .collect();
        if gap.clusters.len() > NAMED {
            shown.push("…");
        }
        let on = match gap.platforms.as_slice() {
            [] => String::new(),
            platforms => format!(" on {}", platforms.join(", ")),
        };
        let what = format!(
            "no font of the stack shows {} ({}, {} in all){on}",
            shown.join(" "),
            gap.group,
            gap.count
        );
        let (file, line, column) = &gap.place;
        let page = inputs.pages.iter().find(|page| page.source.name == *file);
        findings.push(match page {
            Some(page) => {
                let whole = page.source.line(*line);
                let text = &page.source.text[whole.clone()];
                // The first of them where it stands as it is, not as a reference.
                let first = gap.clusters.iter().filter_map(|cluster| {
                    let at = whole.start + text.find(cluster.as_str())?;
                    Some(at..at + cluster.len())
                });
                let span = first.min_by_key(|span| span.start).unwrap_or(whole);
                Finding::new("text-falls-through", &page.source, &span, what)
            }
            None => Finding::at("text-falls-through", (file, *line, *column), what),
        });
    }
}

/// Descriptors that browsers drop.
fn dropped(sheet: &SheetInput, block: &RawBlock, findings: &mut Vec<Finding>) {
    for declaration in &block.declarations {
        if ![
            "src",
            "unicode-range",
            "font-weight",
            "font-style",
            "font-stretch",
        ]
        .contains(&declaration.name.as_str())
        {
            continue;
        }
        let (value, span) = declaration.value(&sheet.source.text);
        let css = format!("@font-face {{ {}: {value} }}", declaration.name);
        let valid = Sheet::read(&css).problems.is_empty();
        // An entry that IE alone knew is passed over in silence.
        let template = ["{{", "{%", "<%", "${", "@@"]
            .iter()
            .any(|mark| value.contains(mark));
        if !valid && !template && !value.contains("progid") {
            let what = format!("{value} is no value of {}", declaration.name);
            findings.push(Finding::new(
                "declaration-dropped",
                &sheet.source,
                &span,
                what,
            ));
        }
    }
}

fn last<'a>(block: &'a RawBlock, name: &str) -> Option<&'a RawDeclaration> {
    block
        .declarations
        .iter()
        .rev()
        .find(|declaration| declaration.name == name)
}

fn settings(sheet: &SheetInput, block: &RawBlock, findings: &mut Vec<Finding>) {
    let Some(declaration) = last(block, "font-feature-settings") else {
        return;
    };
    let (value, span) = declaration.value(&sheet.source.text);
    let tags: Vec<String> = value
        .split(['"', '\''])
        .filter(|part| part.len() == 4)
        .map(str::to_ascii_lowercase)
        .collect();
    let mut properties: Vec<&str> = Vec::new();
    for tag in &tags {
        let Some((_, property)) = PROPERTIES.iter().find(|(known, _)| known == tag) else {
            return;
        };
        if !properties.contains(property) {
            properties.push(property);
        }
    }
    if !properties.is_empty() {
        let what = format!("{} does the same", properties.join(" and "));
        findings.push(Finding::new(
            "feature-has-property",
            &sheet.source,
            &span,
            what,
        ));
    }
}

/// Whether a rule turns ligatures on by name.
fn asks_ligatures<'a>(sheet: &SheetInput, block: &'a RawBlock) -> Option<&'a RawDeclaration> {
    let text = &sheet.source.text;
    let variant = last(block, "font-variant-ligatures").filter(|declaration| {
        let value = declaration.value(text).0.to_ascii_lowercase();
        value.split_ascii_whitespace().any(|word| {
            [
                "common-ligatures",
                "discretionary-ligatures",
                "historical-ligatures",
            ]
            .contains(&word)
        })
    });
    variant.or_else(|| {
        last(block, "font-feature-settings").filter(|declaration| {
            let value = declaration.value(text).0.to_ascii_lowercase();
            ["liga", "dlig", "hlig"].iter().any(|tag| {
                let rest = value.split(tag).nth(1);
                rest.is_some_and(|rest| {
                    let rest = rest.trim_start_matches(['"', '\'', ' ']);
                    !rest.starts_with('0') && !rest.starts_with("off")
                })
            })
        })
    })
}

fn ligatures(sheet: &SheetInput, block: &RawBlock, findings: &mut Vec<Finding>) {
    let Some(asked) = asks_ligatures(sheet, block) else {
        return;
    };
    let text = &sheet.source.text;
    let span = asked.value(text).1;
    let spaced = last(block, "letter-spacing").map(|declaration| declaration.value(text).0);
    if let Some(spacing) = spaced
        && !["normal", "0", "0px", "0em", "inherit", "initial"].contains(&spacing)
        && !spacing.contains('(')
    {
        let what = format!("ligatures are asked for, and letter-spacing is {spacing}");
        findings.push(Finding::new(
            "ligatures-with-spacing",
            &sheet.source,
            &span,
            what,
        ));
    }
    let size = last(block, "font-size").and_then(|declaration| px(declaration.value(text).0));
    if size.is_some_and(|size| size > 0.0 && size < SMALL) {
        let what = format!(
            "ligatures are asked for in text of {} px",
            size.unwrap_or_default()
        );
        findings.push(Finding::new(
            "ligatures-on-small-text",
            &sheet.source,
            &span,
            what,
        ));
    }
}

/// A size in px, as far as it stands by itself; a root of 16 px is taken for granted.
fn px(value: &str) -> Option<f32> {
    let mut input = Parser::new(value);
    let size = match input.next().ok()? {
        Token::Dimension { value, unit, .. } => match unit.to_ascii_lowercase().as_str() {
            "px" => *value,
            "pt" => *value * 4.0 / 3.0,
            "rem" => *value * 16.0,
            _ => return None,
        },
        _ => return None,
    };
    input.is_exhausted().then_some(size)
}

/// Elements whose text runs over lines.
const READ: [&str; 16] = [
    "body",
    "html",
    "p",
    "blockquote",
    "article",
    "main",
    "section",
    "h1",
    "h2",
    "h3",
    "h4",
    "h5",
    "h6",
    "td",
    "dd",
    "figcaption",
];

/// Whether several words of a page stand in lines of this height.
fn has_words(inputs: &Inputs, factor: f32) -> bool {
    inputs.pages.iter().any(|page| {
        page.page.texts.iter().any(|text| {
            let height = page.page.styles[text.style].line_height;
            let same =
                matches!(height, LineHeight::Number(number) if (number - factor).abs() < 0.001);
            same && text.text.split_whitespace().nth(1).is_some()
        })
    })
}

fn line_height(inputs: &Inputs, sheet: &SheetInput, block: &RawBlock, findings: &mut Vec<Finding>) {
    let Some(declaration) = last(block, "line-height") else {
        return;
    };
    let (value, span) = declaration.value(&sheet.source.text);
    let mut input = Parser::new(value);
    let (factor, fixed) = match input.next() {
        Ok(Token::Number { value, .. }) => (*value, false),
        Ok(Token::Percentage { unit_value, .. }) => (*unit_value, false),
        Ok(Token::Dimension { value, unit, .. }) if unit.eq_ignore_ascii_case("em") => {
            (*value, false)
        }
        Ok(Token::Dimension { unit, .. }) if !unit.eq_ignore_ascii_case("rem") => (1.0, true),
        _ => return,
    };
    // Zero is a trick for raised letters, and rules of icons set boxes, not lines.
    let prelude = sheet.text(&block.prelude).to_ascii_lowercase();
    let is_signs = [
        "icon", "fa-", ".fa", "::before", "::after", ":before", ":after", "glyph", "sup", "sub",
    ]
    .iter()
    .any(|word| prelude.contains(word));
    // A box of a stated height, or a sign beside text, is no line of text.
    let is_box = ["height", "vertical-align"]
        .iter()
        .any(|name| last(block, name).is_some());
    // Lists, buttons and the like have one line; what is read has several.
    let is_read = READ.iter().any(|tag| {
        let mut words = prelude.split([' ', ',', '>', '+', '~', '\n']);
        words.any(|word| word == *tag)
    });
    // Where the size is fixed, too, its lines go with it.
    let sized =
        last(block, "font-size").is_some_and(|size| px(size.value(&sheet.source.text).0).is_some());
    if fixed && is_read && !is_box && !is_signs && !sized && input.is_exhausted() {
        let what = format!("lines stay at {value}, whatever size the reader sets");
        findings.push(Finding::new(
            "line-height-fixed",
            &sheet.source,
            &span,
            what,
        ));
        return;
    }
    let is_read = is_read || has_words(inputs, factor);
    if input.is_exhausted() && !is_box && is_read && factor > 0.0 && factor < 1.0 && !is_signs {
        let what = format!("lines of {value} overlap: they are lower than their letters");
        findings.push(Finding::new(
            "line-height-below-one",
            &sheet.source,
            &span,
            what,
        ));
    }
}
