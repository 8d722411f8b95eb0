//! Longhands of grids (CSS Grid 2).

use super::given::{CONTENT_SIZES, Given};
use super::{Longhand, Style, row};
use crate::style::computed::{Length, LineEnd, Track, Tracks, areas, tracks};
use crate::style::parts;

pub(super) fn longhands() -> [Longhand; 10] {
    [
        Longhand {
            name: "grid-template-columns",
            inherited: false,
            initial: "none",
            of_boxes: true,
            set: |to, given| {
                let read = template(to, given, "grid-template-columns")?;
                to.boxes.grid.columns = read;
                Some(())
            },
            copy: |to, from| to.boxes.grid.columns.clone_from(&from.boxes.grid.columns),
        },
        Longhand {
            name: "grid-template-rows",
            inherited: false,
            initial: "none",
            of_boxes: true,
            set: |to, given| {
                let read = template(to, given, "grid-template-rows")?;
                to.boxes.grid.rows = read;
                Some(())
            },
            copy: |to, from| to.boxes.grid.rows.clone_from(&from.boxes.grid.rows),
        },
        row!(
            "grid-auto-columns",
            false,
            "auto",
            true,
            boxes.grid.auto_columns,
            auto_tracks
        ),
        row!(
            "grid-auto-rows",
            false,
            "auto",
            true,
            boxes.grid.auto_rows,
            auto_tracks
        ),
        row!(
            "grid-template-areas",
            false,
            "none",
            true,
            boxes.grid.areas,
            |given| { areas(given.lower) }
        ),
        Longhand {
            name: "grid-auto-flow",
            inherited: false,
            initial: "row",
            of_boxes: true,
            set: |to, given| {
                let grid = &mut to.boxes.grid;
                (grid.by_columns, grid.dense) = given.keyword(&[
                    ("row", (false, false)),
                    ("column", (true, false)),
                    ("dense", (false, true)),
                    ("row dense", (false, true)),
                    ("dense row", (false, true)),
                    ("column dense", (true, true)),
                    ("dense column", (true, true)),
                ])?;
                Some(())
            },
            copy: |to, from| {
                let from = &from.boxes.grid;
                let to = &mut to.boxes.grid;
                (to.by_columns, to.dense) = (from.by_columns, from.dense);
            },
        },
        row!(
            "grid-column-start",
            false,
            "auto",
            true,
            boxes.grid.column.start,
            end
        ),
        row!(
            "grid-column-end",
            false,
            "auto",
            true,
            boxes.grid.column.end,
            end
        ),
        row!(
            "grid-row-start",
            false,
            "auto",
            true,
            boxes.grid.row.start,
            end
        ),
        row!("grid-row-end", false, "auto", true, boxes.grid.row.end, end),
    ]
}

/// The size of a track.
fn size(given: &Given<'_>, text: &str) -> Option<Length> {
    let given = given.part(text);
    let keyword = given.keyword(&[("auto", Length::Auto)]);
    keyword.or_else(|| given.length_or(&CONTENT_SIZES[..2]))
}

/// The tracks of an axis. What is valid and not done is noted, and no tracks are taken.
fn template(to: &mut Style, given: &Given<'_>, name: &'static str) -> Option<Tracks> {
    let read = tracks(given.lower, &|text| size(given, text));
    if read.is_none() && given.lower.starts_with("subgrid") {
        to.boxes.note_unsupported(false, name, given.lower);
        return Some(Tracks::default());
    }
    read.filter(|read| given.lower == "none" || !read.tracks.is_empty())
}

fn auto_tracks(given: &Given<'_>) -> Option<Vec<Track>> {
    if given.lower == "auto" {
        return Some(Vec::new());
    }
    let other = |part: &String| part.starts_with('[') || part.starts_with("repeat(");
    if given.lower == "none" || parts(given.lower).iter().any(other) {
        return None;
    }
    Some(tracks(given.lower, &|text| size(given, text))?.tracks)
}

/// One end of an item's place: `auto`, a number other than 0, a name, `span` with one or both
/// (CSS Grid 2, §8.3). Of a name with a number the number comes first.
pub(super) fn end(given: &Given<'_>) -> Option<LineEnd> {
    if given.lower == "auto" {
        return Some(LineEnd::Auto);
    }
    let words = parts(given.lower);
    let spans = words.iter().filter(|word| *word == "span").count();
    let at_an_end = |word: Option<&String>| word.is_some_and(|word| word == "span");
    if spans > 1 || spans == 1 && !at_an_end(words.first()) && !at_an_end(words.last()) {
        return None;
    }
    let (mut number, mut name) = (None, None);
    for word in words.iter().filter(|word| *word != "span") {
        let begins = |c: char| c.is_alphabetic() || !c.is_ascii() || matches!(c, '_' | '-' | '\\');
        let again = match given.part(word).integer() {
            Some(0) => return None,
            Some(given_number) => number.replace(given_number).is_some(),
            None if word.starts_with(begins) && !word.contains('(') && word != "auto" => {
                name.replace(word.as_str()).is_some()
            }
            None => return None,
        };
        if again {
            return None;
        }
    }
    Some(match (spans, number, name) {
        (0, Some(number), None) => LineEnd::Number(number),
        (0, None | Some(1), Some(name)) => LineEnd::Name(name.into()),
        (0, Some(number), Some(name)) => LineEnd::Name(format!("{number} {name}").into()),
        (1, Some(number), _) => LineEnd::Span(u16::try_from(number).ok()?),
        (1, None, Some(_)) => LineEnd::Span(1),
        _ => return None,
    })
}
