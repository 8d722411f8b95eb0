//! Whether a sheet that we wrote reads back as what was meant.

use tidy_lattice_documents::style::FontFaceRule;
use tidy_lattice_documents::style::read::{FontFace, Rule, Sheet};

/// What of `rules` a CSS parser reads otherwise in `css`, one sentence each.
pub fn misread(css: &str, rules: &[FontFaceRule]) -> Vec<String> {
    let sheet = Sheet::read(css);
    let mut faults: Vec<String> = sheet
        .problems
        .iter()
        .map(|problem| format!("line {}: {}", problem.line, problem.what))
        .collect();
    let read: Vec<&FontFace> = sheet
        .items
        .iter()
        .filter_map(|item| match &item.rule {
            Rule::FontFace(face) => Some(face.as_ref()),
            _ => None,
        })
        .collect();
    if read.len() != rules.len() {
        faults.push(format!(
            "{} rules were written, {} are read",
            rules.len(),
            read.len()
        ));
    }
    for (rule, read) in rules.iter().zip(read) {
        let same = |percent: f64, factor: f32| (percent / 100.0 - f64::from(factor)).abs() < 1e-6;
        let overrides = |percent: fn(&tidy_lattice_documents::style::Overrides) -> f64,
                         factor: Option<f32>| {
            match (&rule.overrides, factor) {
                (Some(overrides), Some(factor)) => same(percent(overrides), factor),
                (None, None) => true,
                _ => false,
            }
        };
        let agrees = [
            (
                "font-family",
                read.family.as_deref() == Some(rule.family.as_str()),
            ),
            ("src", read.sources.len() == rule.sources.len()),
            (
                "font-weight",
                (read.weight.from, read.weight.to) == rule.weight,
            ),
            ("unicode-range", read.range == rule.unicode_range),
            ("font-display", read.display == rule.display),
            (
                "size-adjust",
                same(rule.size_adjust.unwrap_or(100.0), read.size_adjust),
            ),
            ("ascent-override", overrides(|o| o.ascent, read.ascent)),
            ("descent-override", overrides(|o| o.descent, read.descent)),
            (
                "line-gap-override",
                overrides(|o| o.line_gap, read.line_gap),
            ),
        ];
        for (descriptor, _) in agrees.iter().filter(|(_, agrees)| !agrees) {
            faults.push(format!(
                "{} of {:?} reads otherwise",
                descriptor, rule.family
            ));
        }
    }
    faults
}
