//! Findings that are meant to be so: a comment in the sheet, with a reason.
//!
//! `/* tidy-lattice: allow CODE, because … */` silences the rule CODE in the rule or
//! declaration that follows, or on its own line.

use crate::finding::Finding;
use crate::inputs::SheetInput;

/// A comment that silences rules.
struct Silence {
    codes: Vec<String>,
    line: u32,
    /// The line that the next statement starts in.
    next: u32,
}

/// Takes out the findings that comments of their files silence; how many there were.
pub fn apply(findings: &mut Vec<Finding>, sheets: &[SheetInput]) -> usize {
    let before = findings.len();
    for sheet in sheets {
        let silences = silences(sheet);
        if silences.is_empty() {
            continue;
        }
        findings.retain(|finding| {
            let here = finding.place.file == sheet.source.name;
            let silenced = silences.iter().any(|silence| {
                let lines = silence.line..=silence.next;
                silence.codes.iter().any(|code| code == finding.code)
                    && lines.contains(&finding.place.line)
            });
            !(here && silenced)
        });
    }
    before - findings.len()
}

fn silences(sheet: &SheetInput) -> Vec<Silence> {
    let text = &sheet.source.text;
    let comments = text.match_indices("tidy-lattice: allow ");
    comments
        .filter_map(|(at, word)| {
            let rest = &text[at + word.len()..];
            let end = rest.find("*/")?;
            let codes = rest[..end].split(", because").next().unwrap_or_default();
            let codes = codes.split([' ', ',']).filter(|code| !code.is_empty());
            let behind = at + word.len() + end + 2;
            let next = text[behind..]
                .find(|c: char| !c.is_whitespace())
                .unwrap_or(0);
            Some(Silence {
                codes: codes.map(str::to_owned).collect(),
                line: sheet.source.position(at).0,
                next: sheet.source.position(behind + next).0,
            })
        })
        .collect()
}
