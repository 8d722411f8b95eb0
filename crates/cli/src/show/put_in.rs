//! How a style sheet that was built from pages is put into them, for people.

use std::fmt::Write as _;
use std::path::Path;

use tidy_lattice_project::put_in::{Change, PutIn, Replaced};

use super::text::{FAINT, TITLE, count, paragraph, safe, styled};

/// The most declarations that are told one by one.
const MOST: usize = 12;

/// What was taken for what, and what to change; with `all` every declaration.
pub fn view(took: &[String], put_in: &PutIn, sheet: Option<&Path>, all: bool) -> String {
    let mut view = format!("\n{}\n\n", styled(TITLE, "The pages"));
    for line in took {
        view.push_str(&paragraph(&safe(line)));
    }
    let _ = write!(view, "\n{}\n\n", styled(TITLE, "To put it in"));
    let sheet = sheet.map_or_else(
        || "the style sheet (-o writes it to a file)".to_owned(),
        |sheet| safe(&sheet.display().to_string()),
    );
    view.push_str(&paragraph(&format!(
        "1. Link {sheet} in each page, after its other style sheets."
    )));
    if put_in.changes.is_empty() {
        view.push_str(&paragraph(
            "2. No declaration that names these fonts was found in the pages or their sheets; set \
             text in the custom properties of the sheet.",
        ));
    } else {
        let declarations = put_in.changes.len() as u64;
        view.push_str(&paragraph(&format!(
            "2. Change {}:",
            count(declarations, "declaration", "declarations")
        )));
        let most = if all { usize::MAX } else { MOST };
        for change in put_in.changes.iter().take(most) {
            view.push_str(&in_words(change));
        }
        if put_in.changes.len() > most {
            let more = put_in.changes.len() - most;
            let _ = writeln!(view, "     and {more} more; --all lists them");
        }
    }
    view.push_str(&replaced(&put_in.replaced, all));
    view
}

/// The rules that are not needed any more: links to the network, whole sheets, single rules.
fn replaced(replaced: &[Replaced], all: bool) -> String {
    if replaced.is_empty() {
        return String::new();
    }
    let mut lines: Vec<String> = Vec::new();
    for one in replaced {
        let line = match &one.in_place_of {
            Some(url) => format!("the links to {url}"),
            None if one.whole => format!("{}, all of it", one.file),
            None => {
                let rules: Vec<String> = one.lines.iter().map(u32::to_string).collect();
                let rules = match rules.as_slice() {
                    [line] => format!("line {line}"),
                    rules if rules.len() > MOST && !all => {
                        format!("{} rules from line {}", rules.len(), rules[0])
                    }
                    rules => format!("lines {}", rules.join(", ")),
                };
                format!("{}: the rules of {}, {rules}", one.file, one.family)
            }
        };
        if !lines.contains(&line) {
            lines.push(line);
        }
    }
    let mut view = paragraph("3. Take out what the new sheet has now:");
    for line in lines {
        let _ = writeln!(view, "     {}", safe(&line));
    }
    view
}

fn in_words(change: &Change) -> String {
    let place = format!("{}:{}:{}", change.file, change.line, change.column);
    format!(
        "     {}\n       {}\n       {} {}\n",
        styled(FAINT, &safe(&place)),
        safe(&change.now),
        styled(FAINT, "→"),
        safe(&change.then)
    )
}
