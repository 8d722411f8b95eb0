//! `explain` for people.

use std::fmt::Write as _;

use tidy_lattice_checks::catalogue::Rule;

use super::text::{BAD, FAINT, GOOD, TITLE, paragraph, styled};
use crate::glossary::Word;
use crate::results::Explained;
use crate::screen;

/// One rule or one word whole; of many a line each.
pub fn view(explained: &Explained) -> String {
    match (explained.rules.as_slice(), explained.words.as_slice()) {
        ([rule], []) => one_rule(rule),
        ([], [word]) => one_word(word),
        (rules, words) => format!(
            "{}\n{}\n{}\n{}",
            styled(TITLE, "Rules of `check`"),
            rule_list(rules),
            styled(TITLE, "Words"),
            word_list(words)
        ),
    }
}

fn rule_list(rules: &[Rule]) -> String {
    let codes = rules.iter().map(|rule| rule.code.len());
    let width = codes.max().unwrap_or_default();
    let mut text = String::new();
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
    text
}

fn word_list(words: &[Word]) -> String {
    let words: Vec<String> = words.iter().map(|word| screen::held(&word.word)).collect();
    paragraph(&words.join(", ")) + &paragraph("`tidy-lattice explain WORD` tells what one means.")
}

fn one_rule(rule: &Rule) -> String {
    let mut text = String::new();
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

fn one_word(word: &Word) -> String {
    let mut text = paragraph(&format!("{}: {}", styled(TITLE, &word.word), word.means));
    if let Some(source) = &word.source {
        text.push_str(&paragraph(&styled(FAINT, &format!("From: {source}."))));
    }
    if let Some(see) = &word.see {
        let see = format!("`tidy-lattice {see} --help` tells more.");
        text.push_str(&paragraph(&styled(FAINT, &see)));
    }
    text
}
