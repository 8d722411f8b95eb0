//! Where items of a grid stand (CSS Grid 2, §8).

use tidy_lattice_documents::page::{Grid, GridLine, LineEnd, Tracks};

use super::boxes::Part;

/// The most rows or columns that items may be placed in.
const MOST_LINES: usize = 10_000;

/// How many cells are looked at before items fill holes no more.
const MOST_STEPS: usize = 1 << 22;

/// The most cells that all items take together.
const MOST_CELLS: usize = 1 << 22;

/// An item and the tracks that it takes.
pub(super) struct Placed {
    pub part: Part,
    pub column: usize,
    pub columns: usize,
    pub row: usize,
    pub rows: usize,
}

/// A grid with its stated tracks counted.
pub(super) struct Places<'g> {
    pub columns: usize,
    pub rows: usize,
    pub grid: &'g Grid,
    /// What an item states.
    pub style: &'g dyn Fn(usize) -> &'g Grid,
}

/// Where an item stands along one axis: the track where that is stated, and how many
/// it takes.
type Stretch = (Option<usize>, usize);

/// Cells that are taken. The major axis is the one along which the grid grows.
#[derive(Default)]
struct Cells {
    taken: Vec<Vec<bool>>,
    count: usize,
}

impl Cells {
    fn free(&self, major: usize, minor: usize, (deep, wide): (usize, usize)) -> bool {
        (major..major + deep).all(|major| {
            self.taken.get(major).is_none_or(|line| {
                let end = (minor + wide).min(line.len());
                line.get(minor..end)
                    .is_none_or(|cells| !cells.contains(&true))
            })
        })
    }

    fn take(&mut self, major: usize, minor: usize, (deep, wide): (usize, usize)) {
        self.count = self.count.saturating_add(deep.saturating_mul(wide));
        if self.count > MOST_CELLS {
            return;
        }
        if self.taken.len() < major + deep {
            self.taken.resize(major + deep, Vec::new());
        }
        for line in &mut self.taken[major..major + deep] {
            line.resize(line.len().max(minor + wide), false);
            line[minor..minor + wide].fill(true);
        }
    }
}

impl Places<'_> {
    /// Places the items (§8.5).
    pub fn of(&self, parts: Vec<Part>) -> Vec<Placed> {
        let by_columns = self.grid.by_columns;
        let stretches: Vec<(Stretch, Stretch)> = parts
            .iter()
            .map(|part| {
                let (column, row) = match part {
                    Part::Block(item) | Part::Float(item) | Part::Out(item) => {
                        let style = (self.style)(*item);
                        (
                            self.stretch(&style.column, &self.grid.columns, self.columns, false),
                            self.stretch(&style.row, &self.grid.rows, self.rows, true),
                        )
                    }
                    Part::Inline(_) => ((None, 1), (None, 1)),
                };
                // Major axis first.
                if by_columns {
                    (column, row)
                } else {
                    (row, column)
                }
            })
            .collect();
        let specified = if by_columns { self.rows } else { self.columns };
        let ends = stretches
            .iter()
            .map(|(_, (at, span))| at.unwrap_or(0) + span);
        let count = ends.max().unwrap_or(1).max(specified).max(1);
        let mut cells = Cells::default();
        let mut found: Vec<Option<(usize, usize)>> = vec![None; parts.len()];
        for (place, ((major, deep), (minor, wide))) in found.iter_mut().zip(&stretches) {
            if let (Some(major), Some(minor)) = (major, minor) {
                cells.take(*major, *minor, (*deep, *wide));
                *place = Some((*major, *minor));
            }
        }
        for (place, ((major, deep), (minor, wide))) in found.iter_mut().zip(&stretches) {
            if let (Some(major), None) = (major, minor) {
                let last = count.saturating_sub(*wide);
                let minor = (0..=last).find(|minor| cells.free(*major, *minor, (*deep, *wide)));
                let minor = minor.unwrap_or(0);
                cells.take(*major, minor, (*deep, *wide));
                *place = Some((*major, minor));
            }
        }
        let mut cursor = (0, 0);
        let mut steps = 0;
        for (place, ((_, deep), (minor, wide))) in found.iter_mut().zip(&stretches) {
            if place.is_some() {
                continue;
            }
            if self.grid.dense && steps < MOST_STEPS {
                cursor = (0, 0);
            }
            let at = match minor {
                Some(minor) => {
                    let mut major = cursor.0 + usize::from(*minor < cursor.1);
                    while major < MOST_LINES && !cells.free(major, *minor, (*deep, *wide)) {
                        major += 1;
                        steps += 1;
                    }
                    (major, *minor)
                }
                None => {
                    let (mut major, mut minor) = cursor;
                    while major < MOST_LINES {
                        steps += wide.min(&count);
                        if minor + wide > count {
                            (major, minor) = (major + 1, 0);
                        } else if cells.free(major, minor, (*deep, *wide)) {
                            break;
                        } else {
                            minor += 1;
                        }
                    }
                    (major, minor)
                }
            };
            cells.take(at.0, at.1, (*deep, *wide));
            cursor = at;
            *place = Some(at);
        }
        let all = parts.into_iter().zip(found).zip(stretches);
        all.map(|((part, found), ((_, deep), (_, wide)))| {
            let (major, minor) = found.unwrap_or_default();
            let ((row, rows), (column, columns)) = if by_columns {
                ((minor, wide), (major, deep))
            } else {
                ((major, deep), (minor, wide))
            };
            Placed {
                part,
                column,
                columns,
                row,
                rows,
            }
        })
        .collect()
    }

    fn stretch(&self, line: &GridLine, tracks: &Tracks, count: usize, rows: bool) -> Stretch {
        let start = self.line(&line.start, tracks, count, (rows, true));
        let end = self.line(&line.end, tracks, count, (rows, false));
        let spans = |end: &LineEnd| match end {
            LineEnd::Span(span) => usize::from(*span).min(MOST_LINES),
            _ => 1,
        };
        match (start, end) {
            (Some(start), Some(end)) => (Some(start.min(end)), start.abs_diff(end).max(1)),
            (Some(start), None) => (Some(start), spans(&line.end)),
            (None, Some(end)) => {
                let span = spans(&line.start).min(end.max(1));
                (Some(end.saturating_sub(span)), span)
            }
            (None, None) => (None, spans(&line.start).max(spans(&line.end))),
        }
    }

    /// How many tracks are before a line (§8.3); nothing where it is not stated.
    fn line(
        &self,
        end: &LineEnd,
        tracks: &Tracks,
        count: usize,
        (rows, start): (bool, bool),
    ) -> Option<usize> {
        let line = match end {
            LineEnd::Auto | LineEnd::Span(_) => return None,
            LineEnd::Number(number) if *number < 0 => {
                let back = usize::try_from(number.unsigned_abs()).unwrap_or(usize::MAX);
                (count + 1).saturating_sub(back)
            }
            LineEnd::Number(number) => usize::try_from(*number).unwrap_or(1).saturating_sub(1),
            LineEnd::Name(name) => {
                let area = self.area(name, rows);
                let suffixed = format!("{name}-{}", if start { "start" } else { "end" });
                let named = |wanted: &str| {
                    let line = tracks.names.iter().find(|(known, _)| **known == *wanted);
                    line.map(|(_, line)| *line)
                };
                let edge = name
                    .strip_suffix("-start")
                    .and_then(|area| self.area(area, rows).map(|(first, _)| first))
                    .or_else(|| {
                        let area = name.strip_suffix("-end")?;
                        self.area(area, rows).map(|(_, last)| last)
                    });
                area.map(|(first, last)| if start { first } else { last })
                    .or_else(|| named(&suffixed))
                    .or_else(|| named(name))
                    .or(edge)?
            }
        };
        Some(line.min(MOST_LINES))
    }

    /// The lines that a named area starts and ends at.
    fn area(&self, name: &str, rows: bool) -> Option<(usize, usize)> {
        let (mut first, mut last) = (usize::MAX, 0);
        for (row, cells) in self.grid.areas.iter().enumerate() {
            for (column, cell) in cells.iter().enumerate() {
                if **cell == *name {
                    let at = if rows { row } else { column };
                    first = first.min(at);
                    last = last.max(at + 1);
                }
            }
        }
        (last > 0).then_some((first, last))
    }
}
