//! JUnit's XML: a suite a file, a failed case a finding.

use std::fmt::Write as _;

use tidy_lattice_checks::Finding;
use tidy_lattice_core::text::without_steering;

use crate::results::Checked;

/// The report.
pub fn junit(checked: &Checked) -> String {
    let total = checked.findings.len();
    let mut xml = format!(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<!-- Made by tidy-lattice -->\n\
         <testsuites name=\"tidy-lattice check\" tests=\"{}\" failures=\"{total}\">\n",
        total.max(1)
    );
    if total == 0 {
        xml.push_str("  <testsuite name=\"fonts\" tests=\"1\" failures=\"0\">\n");
        xml.push_str("    <testcase name=\"no mistakes\" classname=\"fonts\"/>\n  </testsuite>\n");
    }
    for findings in checked
        .findings
        .chunk_by(|a, b| a.place.file == b.place.file)
    {
        let file = escaped(&findings[0].place.file);
        let count = findings.len();
        let _ = writeln!(
            xml,
            "  <testsuite name=\"{file}\" tests=\"{count}\" failures=\"{count}\">"
        );
        for finding in findings {
            xml.push_str(&case(finding, &file));
        }
        xml.push_str("  </testsuite>\n");
    }
    xml.push_str("</testsuites>\n");
    xml
}

fn case(finding: &Finding, file: &str) -> String {
    let place = &finding.place;
    let what = escaped(&finding.what);
    let more = escaped(&format!("{} {}", finding.why, finding.todo));
    format!(
        "    <testcase name=\"{}:{} {}\" classname=\"{file}\">\n      <failure type=\"{}\" \
         message=\"{what}\">{more}</failure>\n    </testcase>\n",
        place.line,
        place.column,
        finding.code,
        finding.level.label()
    )
}

/// The text within XML 1.0, which has no place for most control characters.
fn escaped(text: &str) -> String {
    let mut xml = String::with_capacity(text.len());
    for character in without_steering(text).chars() {
        match character {
            '&' => xml.push_str("&amp;"),
            '<' => xml.push_str("&lt;"),
            '>' => xml.push_str("&gt;"),
            '"' => xml.push_str("&quot;"),
            '\t' | '\n' | '\r' => xml.push(' '),
            c if c.is_control() || ('\u{fffe}'..='\u{ffff}').contains(&c) => xml.push('\u{fffd}'),
            c => xml.push(c),
        }
    }
    xml
}
