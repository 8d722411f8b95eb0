//! `unicode-range` of rules against each other and against the texts of pages.

use std::collections::{BTreeMap, BTreeSet};

use tidy_lattice_documents::style::read::FamilyName;
use tidy_lattice_glyphs::font::CharacterSet;

use super::faces::value_span;
use crate::finding::Finding;
use crate::inputs::{FaceRule, Inputs};

/// How many characters are named.
const NAMED: usize = 6;

pub fn check(inputs: &Inputs, findings: &mut Vec<Finding>) {
    never_shown(inputs, findings);
    left_out(inputs, findings);
}

/// The characters that a rule offers: those of its font within its range.
fn offered(rule: &FaceRule) -> Option<CharacterSet> {
    let (font, range) = (rule.font()?, rule.face.range.as_ref()?);
    let points = font.characters();
    let within = points.iter().filter(|point| range.contains(*point));
    Some(CharacterSet::of(within))
}

/// Rules whose characters later rules of the same face all have: the later one counts (CSS
/// Fonts 4, §5.3), so the earlier file is never shown.
fn never_shown(inputs: &Inputs, findings: &mut Vec<Finding>) {
    let offers: Vec<Option<CharacterSet>> = inputs.faces.iter().map(offered).collect();
    let mut faces: BTreeMap<_, Vec<usize>> = BTreeMap::new();
    for (number, rule) in inputs.faces.iter().enumerate() {
        let key = (rule.sheet, rule.family().to_lowercase());
        faces.entry(key).or_default().push(number);
    }
    for rules in faces.values() {
        for (place, number) in rules.iter().enumerate() {
            let rule = &inputs.faces[*number];
            let Some(points) = offers[*number].as_ref().filter(|points| !points.is_empty()) else {
                continue;
            };
            let hides = rules[place + 1..].iter().find(|later| {
                let (a, b) = (&rule.face, &inputs.faces[**later].face);
                // Two rules with one range are told as that.
                (a.weight, a.style, a.stretch) == (b.weight, b.style, b.stretch)
                    && a.range != b.range
                    && offers[**later]
                        .as_ref()
                        .is_some_and(|other| points.iter().all(|point| other.contains(point)))
            });
            let Some(later) = hides else { continue };
            let (sheet, block) = rule.block(inputs);
            let (_, other) = inputs.faces[*later].block(inputs);
            let line = sheet.source.position(other.prelude.start).0;
            let (span, _) = value_span(sheet, block, "unicode-range");
            let what = format!(
                "the rule in line {line} has all characters of this one in its range, and stands \
                 later, so this file is never shown"
            );
            findings.push(Finding::new("range-hidden", &sheet.source, &span, what));
        }
    }
}

/// Characters of texts that the files of their first family have and its ranges leave out.
fn left_out(inputs: &Inputs, findings: &mut Vec<Finding>) {
    let mut families: BTreeMap<String, Vec<&FaceRule>> = BTreeMap::new();
    for rule in &inputs.faces {
        let family = rule.family().to_lowercase();
        families.entry(family).or_default().push(rule);
    }
    families.retain(|_, rules| {
        let known = |rule: &&FaceRule| rule.font().is_some();
        rules.iter().all(known) && rules.iter().all(|rule| !rule.is_signs())
    });
    let mut lacked: BTreeMap<&str, BTreeSet<char>> = BTreeMap::new();
    for page in &inputs.pages {
        for text in &page.page.texts {
            let first = page.page.styles[text.style].families.first();
            let Some(FamilyName::Named(name)) = first else {
                continue;
            };
            let Some((family, rules)) = families.get_key_value(&name.to_lowercase()) else {
                continue;
            };
            let outside = text.text.chars().filter(|c| {
                let admitted = rules.iter().any(|rule| rule.face.admits(*c));
                !c.is_whitespace() && !admitted
            });
            let has = |c: &char| {
                let mut fonts = rules.iter().filter_map(|rule| rule.font());
                fonts.any(|font| font.maps(*c))
            };
            let lacked_here: Vec<char> = outside.filter(has).collect();
            if !lacked_here.is_empty() {
                lacked.entry(family).or_default().extend(lacked_here);
            }
        }
    }
    for (family, characters) in lacked {
        let has = |rule: &&&FaceRule| {
            let mut lacked = characters.iter();
            lacked.any(|c| rule.font().is_some_and(|font| font.maps(*c)))
        };
        let Some(rule) = families[family].iter().find(has) else {
            continue;
        };
        let (sheet, block) = rule.block(inputs);
        let (span, _) = value_span(sheet, block, "unicode-range");
        let mut named: Vec<String> = characters
            .iter()
            .take(NAMED)
            .map(|c| format!("{c} U+{:04X}", u32::from(*c)))
            .collect();
        if characters.len() > NAMED {
            named.push("…".to_owned());
        }
        let what = format!(
            "texts need {} of {:?}, which its files have and its ranges leave out",
            named.join(", "),
            rule.family()
        );
        findings.push(Finding::new("range-leaves-out", &sheet.source, &span, what));
    }
}
