//! Tracks of grids, the names of their lines and areas, and the lines that items
//! name (CSS Grid 2, §7.2, §7.3, §8.3).

use std::sync::Arc;

use cssparser::Parser;

use super::boxes::Length;
use crate::style::parts;

/// The most tracks of a grid.
const MOST_TRACKS: usize = 1_000;

/// The most areas that have names.
const MOST_AREAS: usize = 10_000;

/// The tracks of an axis.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Tracks {
    /// The tracks, in order.
    pub tracks: Vec<Track>,
    /// Names of lines, with how many tracks are before them.
    pub names: Vec<(Arc<str>, usize)>,
}

/// A track's size.
#[derive(Debug, Clone, PartialEq)]
pub struct Track {
    /// The least.
    pub min: TrackSize,
    /// The most.
    pub max: TrackSize,
    /// Of `repeat(auto-fill, …)` and `auto-fit`: as many as fit; whether empty
    /// ones fold up.
    pub repeats: Option<bool>,
}

/// One end of a track's size.
#[derive(Debug, Clone, PartialEq)]
pub enum TrackSize {
    /// A length.
    Fixed(Length),
    /// A share of the room that is left.
    Share(f32),
    /// What the content needs at least.
    MinContent,
    /// What the content would like.
    MaxContent,
    /// Between the two.
    Auto,
    /// What the content would like, but not more than this.
    FitContent(Length),
}

/// Where an item stands along one axis.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Line {
    /// Where it starts.
    pub start: LineEnd,
    /// Where it ends.
    pub end: LineEnd,
}

/// One end of an item along an axis.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub enum LineEnd {
    /// `auto`.
    #[default]
    Auto,
    /// The number of a line, from 1; negative ones count from the end.
    Number(i32),
    /// So many tracks from the other end.
    Span(u16),
    /// The name of a line or an area.
    Name(Arc<str>),
}

impl Track {
    /// A track as its content has it.
    pub const AUTO: Track = Track {
        min: TrackSize::Auto,
        max: TrackSize::Auto,
        repeats: None,
    };
}

/// Reads a track list; `None` where it holds what layout does not do.
pub(in crate::style) fn tracks(
    text: &str,
    measure: &dyn Fn(&str) -> Option<Length>,
) -> Option<Tracks> {
    let mut list = Tracks::default();
    if text == "none" {
        return Some(list);
    }
    for part in parts(text) {
        if let Some(inside) = part.strip_prefix('[') {
            let at = list.tracks.len();
            let names = inside.trim_end_matches(']').split_whitespace();
            list.names.extend(names.map(|name| (Arc::from(name), at)));
            continue;
        }
        if let Some(inside) = part
            .strip_prefix("repeat(")
            .and_then(|rest| rest.strip_suffix(')'))
        {
            let (count, inner) = inside.split_once(',')?;
            let inner = tracks(inner.trim(), measure)?;
            if inner.tracks.is_empty() || inner.tracks.iter().any(|track| track.repeats.is_some()) {
                return None;
            }
            match count.trim() {
                "auto-fill" | "auto-fit" => {
                    let [only] = inner.tracks.as_slice() else {
                        return None;
                    };
                    // One end must be a length (§7.2.3.2).
                    if ![&only.min, &only.max]
                        .iter()
                        .any(|end| matches!(end, TrackSize::Fixed(_)))
                    {
                        return None;
                    }
                    list.tracks.push(Track {
                        repeats: Some(count.trim() == "auto-fit"),
                        ..only.clone()
                    });
                }
                number => {
                    let number: usize = number.parse().ok().filter(|number| *number > 0)?;
                    if number.checked_mul(inner.tracks.len())? + list.tracks.len() > MOST_TRACKS
                        || number.checked_mul(inner.names.len())? > MOST_TRACKS
                    {
                        return None;
                    }
                    for _ in 0..number {
                        let at = list.tracks.len();
                        let names = inner.names.iter();
                        list.names
                            .extend(names.map(|(name, line)| (name.clone(), line + at)));
                        list.tracks.extend(inner.tracks.iter().cloned());
                    }
                }
            }
            continue;
        }
        list.tracks.push(track(&part, measure)?);
    }
    (list.tracks.len() <= MOST_TRACKS).then_some(list)
}

fn track(part: &str, measure: &dyn Fn(&str) -> Option<Length>) -> Option<Track> {
    let pair = |min, max| Track {
        min,
        max,
        repeats: None,
    };
    let inside = |name: &str| part.strip_prefix(name)?.strip_suffix(')');
    if let Some(inside) = inside("minmax(") {
        let (min, max) = split_comma(inside)?;
        let min = size(min, measure).filter(|min| !matches!(min, TrackSize::Share(_)))?;
        return Some(pair(min, size(max, measure)?));
    }
    if let Some(inside) = inside("fit-content(") {
        let most = TrackSize::FitContent(measure(inside.trim())?);
        return Some(pair(TrackSize::Auto, most));
    }
    if part == "subgrid" {
        return None;
    }
    let size = size(part, measure)?;
    Some(match size {
        // A share alone is at least as wide as its content (§7.2.4).
        TrackSize::Share(_) => pair(TrackSize::Auto, size),
        _ => pair(size.clone(), size),
    })
}

/// The two sides of the comma outside of brackets.
fn split_comma(text: &str) -> Option<(&str, &str)> {
    let mut depth = 0;
    let place = text.char_indices().find(|(_, c)| {
        match c {
            '(' => depth += 1,
            ')' => depth -= 1,
            _ => {}
        }
        *c == ',' && depth == 0
    })?;
    Some((text[..place.0].trim(), text[place.0 + 1..].trim()))
}

fn size(text: &str, measure: &dyn Fn(&str) -> Option<Length>) -> Option<TrackSize> {
    if let Some(share) = text.strip_suffix("fr") {
        return Some(TrackSize::Share(share.parse().ok()?));
    }
    Some(match measure(text)? {
        Length::Auto => TrackSize::Auto,
        Length::MinContent => TrackSize::MinContent,
        Length::MaxContent => TrackSize::MaxContent,
        Length::FitContent => return None,
        length => TrackSize::Fixed(length),
    })
}

/// Reads `grid-template-areas`: rows of names, `.` for none; `None` where it is wrong.
pub(in crate::style) fn areas(text: &str) -> Option<Vec<Vec<Arc<str>>>> {
    if text == "none" {
        return Some(Vec::new());
    }
    let mut rows: Vec<Vec<Arc<str>>> = Vec::new();
    let mut input = Parser::new(text);
    while !input.is_exhausted() {
        let row = input.expect_string_cloned().ok()?;
        rows.push(row.split_whitespace().map(Arc::from).collect());
    }
    let width = rows.first()?.len();
    let even = width > 0 && rows.iter().all(|row| row.len() == width);
    (even && rows.len() * width <= MOST_AREAS).then_some(rows)
}
