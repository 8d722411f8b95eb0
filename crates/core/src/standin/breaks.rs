//! Where lines break: paragraphs filled greedily at given widths, in the web font
//! and in something that stands in for it.

use serde::Serialize;
use tidy_lattice_layout::chromium;

use super::sample::TextSample;

/// Boxes are laid out in 1/64 px; a line that is over by less still fits.
const SLACK: f64 = 1.0 / 64.0;

/// The most layouts (paragraphs times widths) that are looked at.
const MOST_LAYOUTS: usize = 60_000;

/// How many paragraph layouts break differently from the web font's.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct BreakCount {
    /// Paragraphs times widths.
    pub layouts: u64,
    /// Those with another number of lines.
    pub line_count_differs: u64,
    /// Those of which any line ends elsewhere.
    pub any_break_differs: u64,
    /// Lines of the web font's layouts.
    pub lines: u64,
    /// Those of them that the other font does not have, with the same beginning
    /// and the same end.
    pub lines_broken: u64,
}

impl BreakCount {
    /// Layouts with a break elsewhere, in %.
    pub fn share(&self) -> f64 {
        if self.layouts == 0 {
            return 0.0;
        }
        (self.any_break_differs as f64 / self.layouts as f64 * 10_000.0).round() / 100.0
    }
}

/// Widths of the pieces of a sample in one font, in em, with the space that
/// hangs at the end of a line.
#[derive(Debug, Clone, Default)]
pub struct PieceWidths {
    /// Each piece with its space.
    pub whole: Vec<f64>,
    /// The space alone.
    pub space: f64,
}

/// The running text of a sample, laid out in the web font.
pub struct Layouts {
    /// Pieces in running order, paragraph by paragraph.
    order: Vec<u32>,
    /// How many distinct pieces the sample has.
    pieces: usize,
    /// Whether each of them has a space at its end.
    spaced: Vec<bool>,
    /// The sizes, in px.
    sizes: Vec<f32>,
    layouts: Vec<Layout>,
    lines: Vec<(u32, u32)>,
}

/// A paragraph at one size and width; its lines are a stretch of
/// [`Layouts::lines`].
struct Layout {
    size: usize,
    /// The width of the column, in em.
    measure: f64,
    lines: std::ops::Range<usize>,
}

impl Layouts {
    /// Lays the paragraphs of `sample` out in the web font at every size in columns
    /// of every width, both in px.
    pub fn new(sample: &TextSample, web: &PieceWidths, sizes: &[f32], widths: &[f64]) -> Self {
        let pieces: Vec<bool> = sample.pieces().map(|(piece, _)| piece.spaced).collect();
        let mut layouts = Layouts {
            order: Vec::new(),
            pieces: pieces.len(),
            spaced: Vec::new(),
            sizes: sizes.iter().copied().filter(|size| *size > 0.0).collect(),
            layouts: Vec::new(),
            lines: Vec::new(),
        };
        let mut paragraphs = Vec::new();
        for paragraph in sample.paragraphs() {
            let start = layouts.order.len();
            layouts.order.extend(paragraph);
            let spaced = paragraph.iter().map(|piece| pieces[*piece as usize]);
            layouts.spaced.extend(spaced);
            paragraphs.push(start..layouts.order.len());
        }
        let ends = layouts.ends(web);
        let columns: Vec<(usize, f64)> = (0..layouts.sizes.len())
            .flat_map(|size| widths.iter().map(move |width| (size, *width)))
            .collect();
        // Where there are too many, columns are left out evenly.
        let most = (MOST_LAYOUTS / paragraphs.len().max(1)).max(1);
        let step = columns.len().div_ceil(most).max(1);
        for (size, width) in columns.into_iter().step_by(step) {
            let px = chromium::glyph_size(layouts.sizes[size], 100.0);
            let measure = (width + SLACK) / px;
            for paragraph in paragraphs.iter().filter(|paragraph| !paragraph.is_empty()) {
                let first = layouts.lines.len();
                let mut start = paragraph.start;
                while start < paragraph.end {
                    let end = layouts.fill(&ends, web.space, start, paragraph.end, measure);
                    layouts.lines.push((start as u32, end as u32));
                    start = end;
                }
                layouts.layouts.push(Layout {
                    size,
                    measure,
                    lines: first..layouts.lines.len(),
                });
            }
        }
        layouts
    }

    /// The sizes, in px.
    pub fn sizes(&self) -> &[f32] {
        &self.sizes
    }

    /// Whether there is running text.
    pub fn is_empty(&self) -> bool {
        self.layouts.is_empty()
    }

    /// How many distinct pieces the sample has.
    pub fn pieces(&self) -> usize {
        self.pieces
    }

    /// Lines of the web font as lists of pieces, at most `most` of them, taken
    /// evenly from all; the word that did not fit belongs to them, as it must
    /// not fit with other widths either. Last lines are left out, and so all
    /// where no paragraph has two lines.
    pub fn lines_by_piece(&self, most: usize) -> Vec<Vec<u32>> {
        let ends = |line: &(u32, u32)| line.1 as usize;
        let broken: Vec<&(u32, u32)> = self
            .layouts
            .iter()
            .flat_map(|layout| {
                let lines = &self.lines[layout.lines.clone()];
                &lines[..lines.len().saturating_sub(1)]
            })
            .collect();
        let step = broken.len().div_ceil(most.max(1)).max(1);
        let picked = broken.into_iter().step_by(step);
        picked
            .map(|line| {
                self.order[line.0 as usize..(ends(line) + 1).min(self.order.len())].to_vec()
            })
            .collect()
    }

    /// Where each piece ends, had the text one line.
    fn ends(&self, widths: &PieceWidths) -> Vec<f64> {
        let mut ends = Vec::with_capacity(self.order.len() + 1);
        let mut end = 0.0;
        ends.push(end);
        for piece in &self.order {
            end += widths.whole[*piece as usize];
            ends.push(end);
        }
        ends
    }

    /// Whether the pieces from `start` to before `end` fit in one line.
    fn fits(&self, ends: &[f64], space: f64, start: usize, end: usize, measure: f64) -> bool {
        let hanging = if self.spaced[end - 1] { space } else { 0.0 };
        ends[end] - ends[start] - hanging <= measure
    }

    /// Where the line that starts at `start` ends.
    fn fill(&self, ends: &[f64], space: f64, start: usize, last: usize, measure: f64) -> usize {
        let mut end = start + 1;
        while end < last && self.fits(ends, space, start, end + 1, measure) {
            end += 1;
        }
        end
    }

    /// How many layouts have any line that `widths`, one for each size, break
    /// elsewhere.
    pub fn differing(&self, widths: &[PieceWidths]) -> u64 {
        let ends: Vec<Vec<f64>> = widths.iter().map(|widths| self.ends(widths)).collect();
        let differs = |layout: &&Layout| {
            let (ends, space) = (&ends[layout.size], widths[layout.size].space);
            let lines = &self.lines[layout.lines.clone()];
            let last = lines.last().map_or(0, |line| line.1);
            lines.iter().any(|(start, end)| {
                let (from, to) = (*start as usize, *end as usize);
                let fits = |to| self.fits(ends, space, from, to, layout.measure);
                (to > from + 1 && !fits(to)) || (*end < last && fits(to + 1))
            })
        };
        self.layouts.iter().filter(differs).count() as u64
    }

    /// All that differs with `widths`, one for each size.
    pub fn compare(&self, widths: &[PieceWidths]) -> BreakCount {
        let ends: Vec<Vec<f64>> = widths.iter().map(|widths| self.ends(widths)).collect();
        let mut count = BreakCount::default();
        for layout in &self.layouts {
            let lines = &self.lines[layout.lines.clone()];
            let (first, last) = (lines[0].0 as usize, lines[lines.len() - 1].1 as usize);
            let mut other = Vec::with_capacity(lines.len());
            let mut start = first;
            while start < last {
                let (ends, space) = (&ends[layout.size], widths[layout.size].space);
                let end = self.fill(ends, space, start, last, layout.measure);
                other.push((start as u32, end as u32));
                start = end;
            }
            count.layouts += 1;
            count.lines += lines.len() as u64;
            count.line_count_differs += u64::from(other.len() != lines.len());
            count.any_break_differs += u64::from(other != lines);
            let kept = lines
                .iter()
                .filter(|line| other.binary_search(line).is_ok());
            count.lines_broken += (lines.len() - kept.count()) as u64;
        }
        count
    }
}
