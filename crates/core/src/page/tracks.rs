//! Tracks of grids and the lines that items name (CSS Grid 2, §7.2, §8.3).

use super::box_shorthands::parts;
use super::boxes::Length;

/// The most tracks of a grid.
const MOST_TRACKS: usize = 1_000;

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
}

/// Where an item stands along one axis.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Line {
    /// The line that it starts at, from 1; negative ones count from the end.
    pub start: Option<i32>,
    /// The line that it ends at.
    pub end: Option<i32>,
    /// How many tracks it spans; 0 for one.
    pub span: u16,
}

/// Reads a track list; `None` where it holds what layout does not do.
pub(super) fn tracks(text: &str, measure: &dyn Fn(&str) -> Option<Length>) -> Option<Vec<Track>> {
    let mut tracks = Vec::new();
    if text == "none" {
        return Some(tracks);
    }
    for part in parts(text) {
        if part.starts_with('[') {
            // Names of lines; items that use them are told.
            continue;
        }
        if let Some(inside) = part
            .strip_prefix("repeat(")
            .and_then(|rest| rest.strip_suffix(')'))
        {
            let (count, list) = inside.split_once(',')?;
            let inner = self::tracks(list.trim(), measure)?;
            match count.trim() {
                "auto-fill" | "auto-fit" => {
                    let [only] = inner.as_slice() else {
                        return None;
                    };
                    tracks.push(Track {
                        repeats: Some(count.trim() == "auto-fit"),
                        ..only.clone()
                    });
                }
                number => {
                    let number: usize = number.parse().ok()?;
                    if number * inner.len() + tracks.len() > MOST_TRACKS {
                        return None;
                    }
                    for _ in 0..number {
                        tracks.extend(inner.iter().cloned());
                    }
                }
            }
            continue;
        }
        tracks.push(track(&part, measure)?);
    }
    (tracks.len() <= MOST_TRACKS).then_some(tracks)
}

fn track(part: &str, measure: &dyn Fn(&str) -> Option<Length>) -> Option<Track> {
    let pair = |min, max| Track {
        min,
        max,
        repeats: None,
    };
    if let Some(inside) = part
        .strip_prefix("minmax(")
        .and_then(|rest| rest.strip_suffix(')'))
    {
        let (min, max) = split_comma(inside)?;
        return Some(pair(size(min, measure)?, size(max, measure)?));
    }
    if part.starts_with("fit-content(") || part == "subgrid" {
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

/// Puts one end of an item's place.
pub(super) fn lines(line: &mut Line, text: &str, start: bool) {
    if let Some(span) = text.strip_prefix("span ") {
        line.span = span.trim().parse().unwrap_or(1);
        return;
    }
    let number = text.parse().ok();
    if start {
        line.start = number;
    } else {
        line.end = number;
    }
}
