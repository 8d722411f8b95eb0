//! SARIF 2.1.0 (OASIS, "Static Analysis Results Interchange Format").

use std::collections::BTreeSet;

use serde_json::{Value, json};
use tidy_lattice_checks::{Finding, Level, catalogue};
use tidy_lattice_core::text::without_steering;

use crate::results::Checked;
use crate::show::json::pretty;

/// One run with its rules and results.
pub fn sarif(checked: &Checked) -> String {
    let used: BTreeSet<&str> = checked
        .findings
        .iter()
        .map(|finding| finding.code)
        .collect();
    let rules: Vec<Value> = catalogue::rules()
        .iter()
        .filter(|rule| used.contains(rule.code.as_str()))
        .map(|rule| {
            json!({
                "id": rule.code,
                "shortDescription": {"text": rule.title},
                "fullDescription": {"text": rule.why},
                "help": {"text": rule.todo},
                "defaultConfiguration": {"level": level(rule.level)},
            })
        })
        .collect();
    let results: Vec<Value> = checked.findings.iter().map(result).collect();
    pretty(&json!({
        "$schema": "https://json.schemastore.org/sarif-2.1.0.json",
        "version": "2.1.0",
        "runs": [{
            "tool": {"driver": {
                "name": "tidy-lattice",
                "version": env!("CARGO_PKG_VERSION"),
                "rules": rules,
            }},
            // Columns are counted in characters.
            "columnKind": "unicodeCodePoints",
            "results": results,
        }],
    }))
}

fn level(level: Level) -> &'static str {
    match level {
        Level::Error => "error",
        Level::Warning => "warning",
        Level::Advice => "note",
    }
}

fn result(finding: &Finding) -> Value {
    let place = &finding.place;
    let mut result = json!({
        "ruleId": finding.code,
        "level": level(finding.level),
        "message": {"text": without_steering(&format!(
            "{}. {} {}",
            finding.what, finding.why, finding.todo
        ))},
        "locations": [{"physicalLocation": {
            "artifactLocation": {"uri": uri(&place.file)},
            "region": {
                "startLine": place.line,
                "startColumn": place.column,
                "endLine": place.end_line,
                "endColumn": place.end_column,
            },
        }}],
    });
    if !finding.mend.is_empty() {
        let replacements: Vec<Value> = finding
            .mend
            .iter()
            .map(|edit| {
                json!({
                    "deletedRegion": {
                        "byteOffset": edit.start,
                        "byteLength": edit.end - edit.start,
                    },
                    "insertedContent": {"text": edit.text},
                })
            })
            .collect();
        result["fixes"] = json!([{
            "description": {"text": finding.todo},
            "artifactChanges": [{
                "artifactLocation": {"uri": uri(&finding.mend[0].file)},
                "replacements": replacements,
            }],
        }]);
    }
    result
}

/// The path as a relative URI.
fn uri(file: &str) -> String {
    tidy_lattice_core::style::url_path(&file.replace('\\', "/"))
}
