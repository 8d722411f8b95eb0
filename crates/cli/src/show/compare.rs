//! `compare` for people: a column a face.

use std::fmt::Write as _;

use tidy_lattice_core::compare::{ComparedFace, Comparison};
use tidy_lattice_core::font::{LineSource, Slope};

use super::table::{lines, table};
use super::text::{
    BAD, FAINT, GOOD, TITLE, em, kilobytes, labelled, next_step, paragraph, safe, styled, thousands,
};
use crate::results::Compared;

/// How many features and languages a view lists.
const LISTED: usize = 14;

/// The view.
pub fn view(compared: &Compared, all: bool) -> String {
    let comparison = &compared.comparison;
    let names: Vec<String> = comparison
        .faces
        .iter()
        .map(|f| safe(&f.names.label()))
        .collect();
    let mut view = verdict(comparison);
    let mut rows = rows(comparison).into_iter();
    let mut header = vec![String::new()];
    header.extend(rows.next().map(|(_, cells)| cells).unwrap_or_default());
    let header: Vec<&str> = header.iter().map(String::as_str).collect();
    let mut facts = table(&header, &[]);
    for (title, cells) in rows {
        let cells = cells.iter().map(|cell| safe(cell));
        facts.add_row(std::iter::once(styled(FAINT, &title)).chain(cells));
    }
    view.push_str(&lines(&facts));
    let _ = writeln!(
        view,
        "{}",
        styled(
            FAINT,
            &format!(" Widths on {}, against {}.", compared.text, names[0])
        )
    );
    let cards: Vec<String> = comparison.faces.iter().filter_map(card_note).collect();
    if !cards.is_empty() {
        view.push('\n');
    }
    for note in cards {
        view.push_str(&labelled("Card", &note));
    }
    if !comparison.words.is_empty() && comparison.faces.len() > 1 {
        let _ = write!(view, "\n{}", words(comparison, &names));
    }
    let _ = write!(view, "\n{}", languages(comparison, &names, all));
    let _ = write!(view, "\n{}", features(comparison, &names, all));
    view
}

/// The face whose widths are closest to the first one's, and how far it is.
fn verdict(comparison: &Comparison) -> String {
    let Some((first, others)) = comparison.faces.split_first() else {
        return String::new();
    };
    let fits = others
        .iter()
        .filter_map(|face| Some((face, face.fit.as_ref()?)));
    let closest = fits.min_by(|a, b| a.1.after.word_mean.total_cmp(&b.1.after.word_mean));
    let Some((face, fit)) = closest else {
        return String::new();
    };
    let is = if others.len() > 1 {
        "is closest to"
    } else {
        "beside"
    };
    let size = match face.size_for_x_height {
        Some(100.0) => ", x as high".to_owned(),
        Some(size) => format!(", x as high at {size} % size"),
        None => String::new(),
    };
    let text = format!(
        "{} {is} {}: the text is {}, words {:.1} % off once sizes make up for that{size}.",
        safe(&face.names.label()),
        safe(&first.names.label()),
        longer(fit.before.text),
        fit.after.word_mean,
    );
    let mut view = paragraph(&styled(TITLE, &text));
    view.push_str(&next_step(
        "--picture both.png shows them; `tidy-lattice rank` looks for closer ones.",
    ));
    view + "\n"
}

/// `1.84 % longer`.
fn longer(percent: f64) -> String {
    let by = format!("{:.2}", percent.abs());
    match percent {
        _ if by == "0.00" => "as long".to_owned(),
        percent if percent > 0.0 => format!("{by} % longer"),
        _ => format!("{by} % shorter"),
    }
}

/// What a card cannot know.
fn card_note(face: &ComparedFace) -> Option<String> {
    if !face.card {
        return None;
    }
    let mut note = format!(
        "{} is known by its card, which has no outlines",
        safe(&face.names.label())
    );
    if let Some(other) = &face.measured_on {
        let _ = write!(
            note,
            "; it was made from {}, designed to the same widths, so characters, languages and \
             features are that one's",
            safe(other)
        );
    }
    if face.only_widths {
        note.push_str("; nothing but the widths of single letters is known");
    }
    if !face.unknown_widths.is_empty() {
        let _ = write!(
            note,
            "; widths in {} are not known",
            face.unknown_widths.join(", ")
        );
    }
    note.push('.');
    Some(note)
}

/// The facts: a title, and a cell for each face. The first row has the names.
pub fn rows(comparison: &Comparison) -> Vec<(String, Vec<String>)> {
    let first = comparison.faces.first();
    let row = |title: &str, cell: &dyn Fn(&ComparedFace) -> String| {
        (
            title.to_owned(),
            comparison.faces.iter().map(cell).collect(),
        )
    };
    let is_first = |f: &ComparedFace| first.is_some_and(|first| std::ptr::eq(first, f));
    let height = |height: Option<f64>| height.map_or_else(|| "not known".to_owned(), em);
    vec![
        row("Face", &|f| f.names.label()),
        row("class", &|f| {
            format!("{}, {}", f.class.label(), slope(f.slope))
        }),
        row("weight, width", &|f| format!("{}, {} %", f.weight, f.width)),
        row("x-height", &|f| {
            let size = f.size_for_x_height.filter(|size| *size != 100.0);
            let size = size.map_or_else(String::new, |size| format!(", equal at {size} % size"));
            format!("{}{size}", height(f.x_height))
        }),
        row("cap height", &|f| height(f.cap_height)),
        row("ascent, descent, gap", &|f| {
            if f.line.source == LineSource::NotKnown {
                return "not known".to_owned();
            }
            format!(
                "{:.3} / {:.3} / {:.3} em",
                f.line.ascent, f.line.descent, f.line.line_gap
            )
        }),
        row("line", &|f| {
            if f.line.source == LineSource::NotKnown {
                return "not known".to_owned();
            }
            em(f.line.ascent + f.line.descent + f.line.line_gap)
        }),
        row("text width", &|f| {
            let Some(fit) = &f.fit else {
                return "shares no word".to_owned();
            };
            if is_first(f) {
                return format!("{} em", f.text_width);
            }
            format!(
                "{:+.2} %, equal at {} % size",
                fit.before.text, fit.size_adjust
            )
        }),
        row("words off after scaling", &|f| match &f.fit {
            _ if is_first(f) => "the reference".to_owned(),
            Some(fit) => format!(
                "{} % mean, 95 % within {} %",
                fit.after.word_mean, fit.after.word_p95
            ),
            None => String::new(),
        }),
        row("characters", &|f| thousands(f.characters)),
        row("languages written", &|f| thousands(f.languages)),
        row("features", &|f| {
            f.features.map_or_else(|| "not known".to_owned(), thousands)
        }),
        row("bytes", &|f| match &f.bytes {
            Some(bytes) => {
                let woff2 = bytes.woff2.map_or_else(String::new, |woff2| {
                    let about = if woff2.estimated { "about " } else { "" };
                    format!(", {about}{} KB as WOFF2", kilobytes(woff2.bytes))
                });
                format!("{} KB{woff2}", kilobytes(bytes.file))
            }
            None => "installed, nothing to load".to_owned(),
        }),
    ]
}

fn slope(slope: Slope) -> &'static str {
    match slope {
        Slope::Normal => "upright",
        Slope::Italic => "italic",
        Slope::Oblique => "oblique",
    }
}

/// Words that end elsewhere even when the text as a whole is equally long.
fn words(comparison: &Comparison, names: &[String]) -> String {
    let mut header = vec!["Word after scaling"];
    header.extend(names.iter().skip(1).map(String::as_str));
    let right: Vec<usize> = (1..names.len()).collect();
    let mut table = table(&header, &right);
    for word in &comparison.words {
        let cells = word.wider.iter().skip(1).map(|wider| match wider {
            Some(wider) => format!("{wider:+.1} %"),
            None => "lacks it".to_owned(),
        });
        table.add_row(std::iter::once(safe(&word.word)).chain(cells));
    }
    lines(&table)
}

fn languages(comparison: &Comparison, names: &[String], all: bool) -> String {
    if comparison.languages.is_empty() {
        return labelled("Languages", "all faces write the same");
    }
    let mut header = vec!["Language"];
    header.extend(names.iter().map(String::as_str));
    let mut table = table(&header, &[]);
    let mut rows: Vec<_> = comparison.languages.iter().collect();
    rows.sort_by_key(|row| super::describe::asked_often(&row.tag));
    let shown = if all {
        rows.len()
    } else {
        LISTED.min(rows.len())
    };
    for row in &rows[..shown] {
        let cells = row.verdicts.iter().map(|verdict| {
            let style = if verdict.writes() { GOOD } else { BAD };
            styled(style, verdict.label())
        });
        table.add_row(std::iter::once(row.name.clone()).chain(cells));
    }
    more(lines(&table), rows.len() - shown)
}

fn features(comparison: &Comparison, names: &[String], all: bool) -> String {
    if comparison.features.is_empty() {
        return labelled("Features", "all faces have the same");
    }
    let mut header = vec!["Feature", "does"];
    header.extend(names.iter().map(String::as_str));
    let mut table = table(&header, &[]);
    let rows = &comparison.features;
    let shown = if all {
        rows.len()
    } else {
        LISTED.min(rows.len())
    };
    for row in &rows[..shown] {
        let cells = row.has.iter().map(|has| {
            has.map_or("not known", |has| if has { "yes" } else { "-" })
                .to_owned()
        });
        table.add_row([row.tag.clone(), row.does.clone()].into_iter().chain(cells));
    }
    more(lines(&table), rows.len() - shown)
}

fn more(mut text: String, rest: usize) -> String {
    if rest > 0 {
        let _ = writeln!(
            text,
            " and {rest} more; {} lists them",
            styled(TITLE, "--all")
        );
    }
    text
}
