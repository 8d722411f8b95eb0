//! Stacks of installed families, for people.

use std::fmt::Write as _;

use tidy_lattice_core::stack::of_devices::{DeviceStack, OnPlatform, SAME, Styles};
use tidy_lattice_core::text::Group;

use super::table::{lines, table};
use super::text::{BAD, FAINT, TITLE, paragraph, safe, styled};
use crate::screen;

/// The most languages that have a column of their own.
const MOST_COLUMNS: usize = 4;

/// Who shows what where; with `all` why each family is there, and every note.
pub fn view(stacks: &[DeviceStack], all: bool) -> String {
    let views: Vec<String> = stacks.iter().map(|stack| one(stack, all)).collect();
    views.join("\n")
}

fn one(stack: &DeviceStack, all: bool) -> String {
    let look = stack
        .like
        .as_ref()
        .map(|like| format!(", close to {}", safe(like)))
        .unwrap_or_default();
    let languages = match stack.languages.as_slice() {
        [] => String::new(),
        languages => format!(", for {}", safe(&languages.join(", "))),
    };
    let title = format!(
        "{}: installed {} families in the order of a stack{languages}{look}",
        safe(&stack.role),
        stack.class.label()
    );
    let mut view = format!("{}\n\n{}\n", styled(TITLE, &title), platforms(stack));
    if !stack.resized.is_empty() {
        view.push_str(&paragraph(&sizes(stack)));
        view.push('\n');
    }
    view.push_str(&paragraph(&format!(
        "font-family: {}",
        screen::families(&safe(&stack.font_family))
    )));
    if all {
        let _ = write!(view, "\n{}\n", entries(stack));
    }
    let notes = stack.notes.iter().filter(|note| all || note.finding);
    for note in notes {
        let (style, word) = if note.finding {
            (BAD, "finding:")
        } else {
            (FAINT, "note:")
        };
        view.push_str(&paragraph(&format!(
            "{} {}",
            styled(style, word),
            safe(&note.text)
        )));
    }
    let left = stack.notes.iter().filter(|note| !note.finding).count();
    if !all {
        let notes = super::count(left as u64, "note", "notes");
        view.push_str(&paragraph(&format!(
            "--all tells why each family is there, and {notes}."
        )));
    }
    view
}

/// A row for each platform: what shows each language, and in which weights.
fn platforms(stack: &DeviceStack) -> String {
    let mut languages: Vec<Option<&str>> = Vec::new();
    for served in stack.platforms.iter().flat_map(|on| &on.served) {
        let language = served.language.as_deref();
        if !languages.contains(&language) {
            languages.push(language);
        }
    }
    let together = stack.languages.len() > MOST_COLUMNS;
    let mut header = vec!["On"];
    if together {
        header.push("shown by");
    } else {
        let names = languages.iter();
        header.extend(names.map(|language| language.unwrap_or("the text")));
    }
    let of_main = match stack.languages.as_slice() {
        [main, _, ..] => format!("weights, {}", safe(main)),
        _ => "weights".to_owned(),
    };
    header.push(&of_main);
    let mut table = table(&header, &[]);
    for on in &stack.platforms {
        let mut row = vec![safe(&on.title)];
        if together {
            row.push(by_family(on, &stack.languages));
        } else {
            row.extend(languages.iter().map(|language| cell(on, *language)));
        }
        let styles = on.styles.as_ref();
        row.push(styles.map_or_else(|| "not known".to_owned(), weights));
        table.add_row(row);
    }
    let mut text = lines(&table);
    let mut served = stack.platforms.iter().flat_map(|on| &on.served);
    if served.any(|served| !served.certain) {
        text.push_str(&paragraph(&styled(
            FAINT,
            "*: known by name; taken to have what it is made for",
        )));
    }
    text
}

/// What each family is brought to.
fn sizes(stack: &DeviceStack) -> String {
    let sizes = stack.resized.iter().filter_map(|family| {
        let main = family.main()?;
        let off = match &main.words {
            Some(words) if words.word_mean >= SAME => {
                format!(", words differ by {:.1} %", words.word_mean)
            }
            _ => String::new(),
        };
        Some(format!(
            "{} at {:.2} %{off}",
            safe(&family.over),
            main.size_adjust
        ))
    });
    let lines = stack.resized.iter().flat_map(|family| &family.faces);
    let and_lines = if lines.into_iter().all(|face| face.lines.is_some()) {
        " and their lines as high"
    } else {
        ""
    };
    format!(
        "All as large{and_lines} as {}: {}.",
        stack.like.as_deref().map_or_else(String::new, safe),
        sizes.collect::<Vec<_>>().join("; ")
    )
}

/// The families that show a language, with what the later ones are for.
fn cell(on: &OnPlatform, language: Option<&str>) -> String {
    let served = on.served.iter();
    let mut families: Vec<(String, Vec<&str>, bool)> = Vec::new();
    for served in served.filter(|one| one.language.as_deref() == language) {
        let name = safe(&served.family);
        let groups = served.groups.iter().map(String::as_str);
        match families.iter_mut().find(|(known, ..)| *known == name) {
            Some((_, known, certain)) => {
                known.extend(groups);
                *certain &= served.certain;
            }
            None => families.push((name, groups.collect(), served.certain)),
        }
    }
    let mut cells: Vec<String> = Vec::new();
    for (number, (name, groups, certain)) in families.iter_mut().enumerate() {
        groups.sort_unstable();
        groups.dedup();
        let star = if *certain { "" } else { "*" };
        cells.push(match number {
            0 => format!("{name}{star}"),
            _ => {
                let groups: Vec<String> = groups
                    .iter()
                    .map(|group| Group::in_sentence(group))
                    .collect();
                format!("{name}{star} ({})", groups.join(", "))
            }
        });
    }
    cells.extend(left(on, language));
    cells.join("; ")
}

/// What is left to the browser of a language.
fn left(on: &OnPlatform, language: Option<&str>) -> Option<String> {
    let left = on.unserved.iter().filter(|one| one.by_system.is_none());
    let left = left.filter(|one| one.language.as_deref() == language);
    let left: Vec<String> = left.map(|one| Group::in_sentence(&one.group)).collect();
    let what = format!("left to the browser ({})", left.join(", "));
    (!left.is_empty()).then(|| styled(BAD, &what))
}

/// The families of many languages: of each those that it is the main one of.
fn by_family(on: &OnPlatform, languages: &[String]) -> String {
    let mut families: Vec<(String, Vec<&str>)> = Vec::new();
    for language in languages {
        let served = on.served.iter();
        let main = served
            .filter(|one| one.language.as_ref() == Some(language))
            .max_by_key(|one| one.clusters);
        let left = on.unserved.iter();
        let left = left.filter(|one| one.language.as_ref() == Some(language));
        let left: u64 = left.map(|one| one.clusters).sum();
        let name = match main.filter(|main| main.clusters > left) {
            Some(one) if one.certain => safe(&one.family),
            Some(one) => format!("{}*", safe(&one.family)),
            None => styled(BAD, "left to the browser"),
        };
        match families.iter_mut().find(|(known, _)| *known == name) {
            Some((_, languages)) => languages.push(language),
            None => families.push((name, vec![language])),
        }
    }
    let families = families.iter();
    let families = families.map(|(name, languages)| format!("{} {name}", languages.join(", ")));
    families.collect::<Vec<_>>().join("; ")
}

fn weights(styles: &Styles) -> String {
    if styles.weights.is_empty() {
        return "not known".to_owned();
    }
    let weights: Vec<String> = styles.weights.iter().map(f32::to_string).collect();
    match styles.italic {
        Some(true) => format!("{}, italic", weights.join(", ")),
        _ => weights.join(", "),
    }
}

fn entries(stack: &DeviceStack) -> String {
    let mut table = table(&["", "Family", "why", "on"], &[0]);
    for (place, entry) in stack.stack.iter().enumerate() {
        table.add_row([
            (place + 1).to_string(),
            safe(&entry.family),
            safe(&entry.why),
            safe(&entry.platforms.join(", ")),
        ]);
    }
    lines(&table)
}

/// The stacks alone.
pub fn plain(stacks: &[DeviceStack]) -> String {
    let mut text = String::new();
    for stack in stacks {
        let title = format!("{}, installed families", safe(&stack.role));
        let _ = write!(
            text,
            "{}\n\nfont-family: {};\n\n",
            styled(TITLE, &title),
            screen::families(&stack.plain())
        );
    }
    text
}
