//! Stand-ins against the web fonts that they stand for.

use std::collections::BTreeMap;

use super::faces::value_span;
use crate::finding::Finding;
use crate::inputs::{Inputs, LinesOff};

pub fn check(inputs: &Inputs, findings: &mut Vec<Finding>) {
    let mut rules: BTreeMap<&(String, u32), Vec<&LinesOff>> = BTreeMap::new();
    for off in &inputs.lines_off {
        rules.entry(&off.rule).or_default().push(off);
    }
    for (key, offs) in rules {
        let rule = inputs.faces.iter().find(|rule| rule.key(inputs) == *key);
        let (Some(rule), Some(first)) = (rule, offs.first()) else {
            continue;
        };
        let (sheet, block) = rule.block(inputs);
        let (span, _) = value_span(sheet, block, "font-family");
        let more = match offs.len() - 1 {
            0 => String::new(),
            1 => " (and at one more size)".to_owned(),
            more => format!(" (and at {more} more sizes)"),
        };
        let what = format!(
            "at {} px its lines are {} px high, and those of {} {} px, on {}{more}",
            first.size,
            first.gets,
            first.family,
            first.wanted,
            first.platforms.join(", ")
        );
        findings.push(Finding::new(
            "stand-in-lines-differ",
            &sheet.source,
            &span,
            what,
        ));
    }
}
