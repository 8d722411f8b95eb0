//! `check` and `explain` for people; the forms for machines lie beside.

mod annotations;
mod junit;
mod markdown;
mod sarif;

pub use annotations::annotations;
pub use junit::junit;
pub use markdown::markdown;
pub use sarif::sarif;

use std::collections::BTreeSet;
use std::fmt::Write as _;

use similar::TextDiff;
use tidy_lattice_checks::catalogue::Rule;
use tidy_lattice_checks::{Finding, Level};

use super::text::{BAD, FAINT, GOOD, TITLE, count, paragraph, safe, styled};
use crate::results::{Change, Checked};

/// The verdict, then the findings by file.
pub fn view(checked: &Checked) -> String {
    let mut view = verdict(checked);
    let mut file = "";
    let mut told: BTreeSet<&str> = BTreeSet::new();
    for finding in &checked.findings {
        if finding.place.file != file {
            file = &finding.place.file;
            let _ = write!(view, "\n{}\n", styled(TITLE, &safe(file)));
        }
        view.push_str(&one(finding, told.insert(finding.code)));
    }
    view
}

/// The verdict and the first findings, a line each.
pub fn brief(checked: &Checked) -> String {
    /// How many are told.
    const TOLD: usize = 10;
    let mut view = verdict(checked);
    for finding in checked.findings.iter().take(TOLD) {
        let place = format!("{}:{}", finding.place.file, finding.place.line);
        let _ = writeln!(view, " {:<25} {}", safe(&place), sentence(&finding.what));
    }
    let rest = checked.findings.len().saturating_sub(TOLD);
    if rest > 0 {
        let _ = writeln!(view, " and {rest} more");
    }
    view
}

fn verdict(checked: &Checked) -> String {
    let looked = format!(
        "{}, {}, {}",
        count(checked.pages as u64, "page", "pages"),
        count(checked.sheets as u64, "style sheet", "style sheets"),
        count(checked.faces as u64, "@font-face rule", "@font-face rules")
    );
    let found = checked.errors + checked.warnings;
    let mut verdict = if found == 0 {
        styled(GOOD, &format!("No mistakes in {looked}."))
    } else {
        let text = format!(
            "{} and {} in {looked}.",
            count(checked.errors as u64, "error", "errors"),
            count(checked.warnings as u64, "warning", "warnings")
        );
        styled(BAD, &text)
    };
    if checked.mendable > 0 {
        let _ = write!(
            verdict,
            " {} can be mended: --diff shows how, --fix does it.",
            checked.mendable
        );
    }
    verdict.push('\n');
    let mut more = Vec::new();
    if checked.advice > 0 && checked.findings.iter().all(|one| one.level > Level::Advice) {
        let pieces = count(checked.advice as u64, "piece", "pieces");
        more.push(format!("{pieces} of advice: --level advice"));
    }
    if checked.allowed > 0 {
        more.push(format!("{} allowed in the project file", checked.allowed));
    }
    if checked.known > 0 {
        more.push(format!("{} known from the baseline", checked.known));
    }
    if !more.is_empty() {
        let _ = writeln!(
            verdict,
            "{}",
            styled(FAINT, &format!("({})", more.join("; ")))
        );
    }
    verdict
}

/// A finding; why and what to do are told with the first of a kind.
fn one(finding: &Finding, first: bool) -> String {
    let style = match finding.level {
        Level::Error => BAD,
        Level::Warning => TITLE,
        Level::Advice => FAINT,
    };
    let place = format!("{}:{}", finding.place.line, finding.place.column);
    let mut text = format!(
        " {place:>7} {} {}\n",
        styled(style, &format!("{:<7}", finding.level.label())),
        styled(FAINT, finding.code)
    );
    if let Some(excerpt) = &finding.excerpt {
        let line: String = excerpt
            .text
            .chars()
            .map(|c| if c.is_control() { ' ' } else { c })
            .collect();
        let _ = writeln!(text, "         │ {line}");
        let under: String = std::iter::repeat_n('^', excerpt.length).collect();
        let _ = writeln!(
            text,
            "         │ {}{}",
            " ".repeat(excerpt.start),
            styled(style, &under)
        );
    }
    let mut say = |words: &str| {
        for line in paragraph(words).lines() {
            let _ = writeln!(text, "         {}", line.trim_start());
        }
    };
    say(&sentence(&finding.what));
    if first {
        say(&format!("{} {}", finding.why, finding.todo));
    }
    text
}

/// The words as a sentence.
fn sentence(words: &str) -> String {
    let words = safe(words);
    let mut letters = words.chars();
    let first = letters.next().map(|first| first.to_uppercase().to_string());
    format!("{}{}.", first.unwrap_or_default(), letters.as_str())
}

/// What would be changed, as a unified diff.
pub fn diff(changes: &[Change]) -> String {
    let mut text = String::new();
    for change in changes {
        let diff = TextDiff::from_lines(&change.before, &change.after);
        let mut unified = diff.unified_diff();
        let name = safe(&change.name);
        let _ = write!(text, "{}", unified.header(&name, &name));
    }
    if text.is_empty() {
        text.push_str("Nothing can be mended.\n");
    }
    text
}

/// Rules with their reasons; of many a line each.
pub fn explained(rules: &[Rule]) -> String {
    let mut text = String::new();
    let [rule] = rules else {
        let width = rules
            .iter()
            .map(|rule| rule.code.len())
            .max()
            .unwrap_or_default();
        for rule in rules {
            let mended = if rule.mended { " (--fix)" } else { "" };
            let _ = writeln!(
                text,
                " {:<width$}  {:<7}  {}{}",
                rule.code,
                rule.level.label(),
                rule.title,
                styled(FAINT, mended)
            );
        }
        return text;
    };
    let _ = writeln!(
        text,
        "{}: {} ({})\n",
        styled(TITLE, &rule.code),
        rule.title,
        rule.level.label()
    );
    text.push_str(&paragraph(&format!("{} {}", rule.why, rule.todo)));
    for (title, style, example) in [("Wrong", BAD, &rule.wrong), ("Right", GOOD, &rule.right)] {
        if !example.is_empty() {
            let _ = writeln!(text, "\n{}", styled(style, title));
            for line in example.trim().lines() {
                let _ = writeln!(text, "    {line}");
            }
        }
    }
    if rule.mended {
        text.push_str("\n`check --fix` mends it where it is plain how.\n");
    }
    text
}
