//! `check` for people; the forms for machines lie beside.

mod annotations;
mod excerpt;
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
use tidy_lattice_checks::{Finding, Level};

use self::excerpt::Marked;
use super::text::{BAD, FAINT, GOOD, TITLE, count, next_step, paragraph, safe, styled};
use crate::results::{Change, Checked};
use crate::screen;

/// The verdict, then the findings by file.
pub fn view(checked: &Checked) -> String {
    let mut view = verdict(checked);
    view.push_str(&most_often(checked));
    let mut file = "";
    let mut often: BTreeSet<&str> = BTreeSet::new();
    for finding in &checked.findings {
        if finding.place.file != file {
            file = &finding.place.file;
            let _ = write!(view, "\n{}\n", styled(TITLE, &safe(file)));
        }
        view.push_str(&one(finding, often.insert(finding.code)));
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

/// The rules with most findings, where there is more than a screenful.
fn most_often(checked: &Checked) -> String {
    /// From how many findings on.
    const MANY: usize = 8;
    /// How many rules are told.
    const TOLD: usize = 4;
    if checked.findings.len() < MANY {
        return String::new();
    }
    let mut rules: Vec<(&str, usize)> = Vec::new();
    for finding in &checked.findings {
        match rules.iter_mut().find(|(code, _)| *code == finding.code) {
            Some((_, times)) => *times += 1,
            None => rules.push((finding.code, 1)),
        }
    }
    // A stable sort: rules of as many findings stay in the order of the files.
    rules.sort_by_key(|(_, times)| std::cmp::Reverse(*times));
    let often = rules.iter().filter(|(_, times)| *times > 1).take(TOLD);
    let often: Vec<String> = often
        .map(|(code, times)| format!("{code} {times} times"))
        .collect();
    if often.is_empty() {
        return String::new();
    }
    let mut text = paragraph(&format!("Most often: {}.", often.join(", ")));
    text.push_str(&next_step(&format!(
        "`tidy-lattice explain {}` tells more of a rule.",
        rules[0].0
    )));
    text
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
        let room = screen::width().map(|width| width - MARGIN.len() - BAR);
        let part = Marked::of(excerpt, room);
        let _ = writeln!(text, "{MARGIN}│ {}", part.text);
        let under: String = std::iter::repeat_n('^', part.length).collect();
        let _ = writeln!(
            text,
            "{MARGIN}│ {}{}",
            " ".repeat(part.start),
            styled(style, &under)
        );
    }
    let mut say = |words: &str| match screen::width() {
        Some(width) => {
            let _ = writeln!(text, "{}", screen::wrap(words, width, MARGIN, MARGIN));
        }
        None => {
            let _ = writeln!(text, "{MARGIN}{words}");
        }
    };
    say(&sentence(&finding.what));
    if first {
        say(&format!("{} {}", finding.why, finding.todo));
    }
    text
}

/// What stands before the lines of a finding.
const MARGIN: &str = "         ";

/// How wide the bar beside a source line is, with its blank.
const BAR: usize = 2;

/// The words as a sentence. Paths, properties and the like stay as they are written.
fn sentence(words: &str) -> String {
    let words = safe(words);
    let first = words.split(' ').next().unwrap_or_default();
    if !first.chars().all(char::is_alphabetic) {
        return format!("{words}.");
    }
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

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::sentence;

    #[rstest]
    #[case("text asks for it", "Text asks for it.")]
    #[case(
        "node_modules/a.css: there is no such file",
        "node_modules/a.css: there is no such file."
    )]
    #[case("font-display is missing", "font-display is missing.")]
    #[case("0-17F is no range", "0-17F is no range.")]
    fn only_words_are_capitalised(#[case] words: &str, #[case] often: &str) {
        assert_eq!(sentence(words), often);
    }
}
