//! What is read: running text in fonts that are not made for it, and characters that are
//! hardly meant.

use std::collections::BTreeMap;
use std::sync::OnceLock;

use icu_properties::CodePointMapData;
use icu_properties::props::{GeneralCategory, Script};
use rayon::prelude::*;
use tidy_lattice_documents::page::PageText;
use tidy_lattice_documents::style::read::FamilyName;
use tidy_lattice_glyphs::font::{Class, Face, Sureness};

use super::classes::Classes;
use crate::finding::Finding;
use crate::inputs::{FaceRule, Inputs, PageInput, named_like_signs, writes_latin};

/// From so many characters on a text runs over lines, and is read rather than looked at.
const RUNNING: usize = 160;

/// Above this size a text is a display, in px.
const DISPLAY: f32 = 28.0;

/// Of a text with fewer small letters capitals alone may be meant.
const SMALL_LETTERS: usize = 12;

/// How many words or characters are named.
const NAMED: usize = 4;

/// A declared family, and what is found out of it where a text asks.
#[derive(Default)]
struct Declared<'a> {
    rules: Vec<&'a FaceRule>,
    display: OnceLock<bool>,
    capitals: OnceLock<bool>,
}

pub fn check(inputs: &Inputs, classes: &Classes, findings: &mut Vec<Finding>) {
    let mut faces: BTreeMap<String, Declared<'_>> = BTreeMap::new();
    for rule in &inputs.faces {
        let family = faces.entry(rule.family().to_lowercase()).or_default();
        family.rules.push(rule);
    }
    let of_pages: Vec<Vec<Finding>> = inputs
        .pages
        .par_iter()
        .map(|page| of_page(page, &faces, inputs.hosted, classes))
        .collect();
    findings.extend(of_pages.into_iter().flatten());
}

fn of_page(
    page: &PageInput,
    faces: &BTreeMap<String, Declared<'_>>,
    hosted: bool,
    classes: &Classes,
) -> Vec<Finding> {
    let mut findings = Vec::new();
    let mut found: Vec<(&'static str, String)> = Vec::new();
    for text in &page.page.texts {
        odd_characters(page, text, (faces, hosted), &mut found, &mut findings);
        mixed_letters(page, text, &mut found, &mut findings);
        let style = &page.page.styles[text.style];
        let Some(FamilyName::Named(name)) = style.families.first() else {
            continue;
        };
        let lower = name.to_lowercase();
        let Some(family) = faces.get(&lower) else {
            continue;
        };
        let rules = &family.rules;
        let long = text.text.chars().count() >= RUNNING && style.size < DISPLAY;
        let small = text.text.chars().filter(|c| c.is_lowercase()).count();
        let capitals =
            small >= SMALL_LETTERS && *family.capitals.get_or_init(|| has_capitals_alone(rules));
        let display = || {
            let judged = || is_for_display(rules, classes);
            *family.display.get_or_init(judged)
        };
        let (code, what) = if long && display() {
            let what = format!("a text of several lines is set in {name}, a display face");
            ("display-face-to-read", what)
        } else if capitals {
            let what = format!(
                "{name} has capitals alone, and this text has small letters, which show as \
                 capitals or in another font"
            );
            ("capitals-only-face", what)
        } else {
            continue;
        };
        if !found.contains(&(code, lower.clone())) {
            found.push((code, lower));
            let span = page.source.line(text.line);
            findings.push(Finding::new(code, &page.source, &span, what));
        }
    }
    findings
}

/// Whether a family is made to be looked at: letters as written by hand, or ornaments.
fn is_for_display(rules: &[&FaceRule], classes: &Classes) -> bool {
    let mut fonts = rules.iter().filter_map(|rule| rule.font());
    let first = fonts.find(|face| writes_latin(face));
    first.is_some_and(|face| match classes.of(face) {
        // Letters that join have no serifs, which speaks against no script.
        (Class::Script, _) => true,
        (Class::Decorative, sureness) => sureness != Sureness::Unsure,
        _ => false,
    })
}

/// Whether the small letters of a family are capitals, or are not there.
fn has_capitals_alone(rules: &[&FaceRule]) -> bool {
    let glyph = |face: &Face, c: char| face.font().and_then(|font| font.charmap().map_unicode(c));
    let alone = |face: &Face| {
        face.maps('A')
            && face.maps('R')
            && "aegnr".chars().all(|c| {
                let small = glyph(face, c);
                small.is_none() || small == glyph(face, c.to_ascii_uppercase())
            })
    };
    let fonts: Vec<&Face> = (rules.iter().filter_map(|rule| rule.font()))
        .map(|font| &**font)
        .collect();
    fonts.iter().any(|face| alone(face)) && fonts.iter().all(|face| alone(face) || !face.maps('a'))
}

/// Characters that stand for a mistake: what decoders put in place of bytes that they could
/// not read, a byte order mark within a text, code points that are no characters, and private
/// ones that no font of the stack has.
fn odd_characters(
    page: &PageInput,
    text: &PageText,
    (faces, hosted): (&BTreeMap<String, Declared<'_>>, bool),
    found: &mut Vec<(&'static str, String)>,
    findings: &mut Vec<Finding>,
) {
    let categories = CodePointMapData::<GeneralCategory>::new();
    for character in text.text.chars().filter(|c| !c.is_ascii()) {
        let why = match (character, categories.get(character)) {
            ('\u{fffd}', _) => "stands where bytes could not be read",
            ('\u{feff}', _) => "is a byte order mark within the text",
            (_, GeneralCategory::Unassigned) => "is no character",
            (_, GeneralCategory::PrivateUse) => {
                let style = &page.page.styles[text.style];
                let mut families = style.families.iter();
                let may_have = families.any(|family| {
                    let declared = faces.get(&family.as_str().to_lowercase());
                    let rules = declared.map(|family| &family.rules);
                    // What cannot be read may have it, and a font of signs that is declared
                    // where nobody looked.
                    named_like_signs(family.as_str())
                        || rules
                            .into_iter()
                            .flatten()
                            .any(|rule| rule.font().is_none_or(|font| font.maps(character)))
                });
                if may_have || hosted || found.iter().any(|(code, _)| *code == "character-private")
                {
                    continue;
                }
                found.push(("character-private", String::new()));
                "means something in one font only, and no font of the stack has it"
            }
            _ => continue,
        };
        let name = format!("U+{:04X}", u32::from(character));
        if found.contains(&("character-odd", name.clone())) {
            continue;
        }
        found.push(("character-odd", name.clone()));
        let span = page.source.line(text.line);
        findings.push(Finding::new(
            "character-odd",
            &page.source,
            &span,
            format!("{name} {why}"),
        ));
    }
}

/// Latin letters and lookalikes of another script in one word (UTS #39, §5.1 "single
/// script").
fn mixed_letters(
    page: &PageInput,
    text: &PageText,
    found: &mut Vec<(&'static str, String)>,
    findings: &mut Vec<Finding>,
) {
    /// Letters of Cyrillic and Greek that look like Latin ones.
    const LOOKALIKES: &str = "аеорсухіјѕԁһԛԝАВЕКМНОРСТУХІЈЅοαενικτυΑΒΕΖΗΙΚΜΝΟΡΤΥΧ";
    if text.text.is_ascii() {
        return;
    }
    let scripts = CodePointMapData::<Script>::new();
    let is_latin = |c: char| scripts.get(c) == Script::Latin;
    let words = text.text.split(|c: char| !c.is_alphabetic());
    let mixed: Vec<&str> = words
        .filter(|word| {
            let others = || word.chars().filter(|c| !is_latin(*c));
            word.chars().filter(|c| is_latin(*c)).count() >= 2
                && others().next().is_some()
                && others().all(|c| LOOKALIKES.contains(c))
        })
        .take(NAMED)
        .collect();
    let Some(first) = mixed.first() else { return };
    if found.contains(&("letters-mixed", (*first).to_owned())) {
        return;
    }
    found.push(("letters-mixed", (*first).to_owned()));
    let points: Vec<String> = first
        .chars()
        .filter(|c| !is_latin(*c))
        .map(|c| format!("{c} U+{:04X}", u32::from(c)))
        .collect();
    let what = format!(
        "{} has Latin letters and others that look like them: {}",
        mixed.join(", "),
        points.join(", ")
    );
    let span = page.source.line(text.line);
    findings.push(Finding::new("letters-mixed", &page.source, &span, what));
}
