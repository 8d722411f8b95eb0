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

/// A paragraph in a column.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Column {
    /// The paragraph, by its number in the sample.
    pub paragraph: usize,
    /// The size of its text, in px.
    pub size: f32,
    /// The width of the column, in px.
    pub width: f64,
    /// `letter-spacing`, in px.
    pub letter_spacing: f32,
    /// What it counts where any line ends elsewhere, and besides where there are more or
    /// fewer lines.
    pub weights: (u64, u64),
    /// How many lines it is known to have; it is left out where they are not these.
    pub lines: Option<usize>,
}

/// The paragraphs of `sample` at every size in columns of every width, both in px, a few
/// widths left out evenly where there would be too many.
pub fn all_columns(sample: &TextSample, sizes: &[f32], widths: &[f64]) -> Vec<Column> {
    let sizes = sizes.iter().filter(|size| **size > 0.0);
    let pairs: Vec<(f32, f64)> = sizes
        .flat_map(|size| widths.iter().map(move |width| (*size, *width)))
        .collect();
    let paragraphs = sample.paragraphs().len();
    let most = (MOST_LAYOUTS / paragraphs.max(1)).max(1);
    let step = pairs.len().div_ceil(most).max(1);
    let pairs = pairs.into_iter().step_by(step);
    let columns = pairs.flat_map(|(size, width)| {
        (0..paragraphs).map(move |paragraph| Column {
            paragraph,
            size,
            width,
            letter_spacing: 0.0,
            weights: (1, 0),
            lines: None,
        })
    });
    columns.collect()
}

/// The running text of a sample, laid out in the web font.
pub struct Layouts {
    /// Pieces in running order, paragraph by paragraph.
    order: Vec<u32>,
    /// How many distinct pieces the sample has.
    pieces: usize,
    /// Whether each of them has a space at its end.
    spaced: Vec<bool>,
    /// How many characters there are before each, and in all.
    characters: Vec<u32>,
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
    /// `letter-spacing`, in em.
    letter_spacing: f64,
    weights: (u64, u64),
    lines: std::ops::Range<usize>,
}

/// Where pieces end, had the text one line, in one font.
struct Ends<'l> {
    layouts: &'l Layouts,
    ends: Vec<f64>,
    space: f64,
}

impl Ends<'_> {
    /// Whether the pieces from `start` to before `end` fit in one line of `layout`.
    fn fits(&self, start: usize, end: usize, layout: &Layout) -> bool {
        let hanging = if self.layouts.spaced[end - 1] {
            self.space
        } else {
            0.0
        };
        let mut width = self.ends[end] - self.ends[start] - hanging;
        if layout.letter_spacing != 0.0 {
            let characters = self.layouts.characters[end] - self.layouts.characters[start];
            width += f64::from(characters) * layout.letter_spacing;
        }
        width <= layout.measure
    }

    /// Where the line that starts at `start` ends.
    fn fill(&self, start: usize, last: usize, layout: &Layout) -> usize {
        let mut end = start + 1;
        while end < last && self.fits(start, end + 1, layout) {
            end += 1;
        }
        end
    }
}

impl Layouts {
    /// Lays the paragraphs of `sample` out in the web font, in `columns`.
    pub fn new(sample: &TextSample, web: &PieceWidths, columns: &[Column]) -> Self {
        let pieces: Vec<(bool, u32)> = sample
            .pieces()
            .map(|(piece, _)| {
                let letters = piece.text.chars().count() as u32;
                (piece.spaced, letters + u32::from(piece.spaced))
            })
            .collect();
        let mut layouts = Layouts {
            order: Vec::new(),
            pieces: pieces.len(),
            spaced: Vec::new(),
            characters: vec![0],
            sizes: Vec::new(),
            layouts: Vec::new(),
            lines: Vec::new(),
        };
        let mut paragraphs = Vec::new();
        let mut characters = 0;
        for paragraph in sample.paragraphs() {
            let start = layouts.order.len();
            for piece in paragraph {
                let (spaced, letters) = pieces[*piece as usize];
                layouts.order.push(*piece);
                layouts.spaced.push(spaced);
                characters += letters;
                layouts.characters.push(characters);
            }
            paragraphs.push(start..layouts.order.len());
        }
        let ends = layouts.ends(web);
        let mut laid: Vec<Layout> = Vec::new();
        let mut lines: Vec<(u32, u32)> = Vec::new();
        let mut sizes: Vec<f32> = Vec::new();
        for column in columns {
            let Some(paragraph) = paragraphs.get(column.paragraph).filter(|p| !p.is_empty()) else {
                continue;
            };
            let size = sizes.iter().position(|size| *size == column.size);
            let size = size.unwrap_or_else(|| {
                sizes.push(column.size);
                sizes.len() - 1
            });
            let px = chromium::glyph_size(column.size, 100.0);
            let first = lines.len();
            let mut layout = Layout {
                size,
                measure: (column.width + SLACK) / px,
                letter_spacing: f64::from(column.letter_spacing) / px,
                weights: column.weights,
                lines: first..first,
            };
            let mut start = paragraph.start;
            while start < paragraph.end {
                let end = ends.fill(start, paragraph.end, &layout);
                lines.push((start as u32, end as u32));
                start = end;
            }
            layout.lines.end = lines.len();
            // What is laid out otherwise on its page is not known well enough.
            if column
                .lines
                .is_some_and(|known| known != layout.lines.len())
            {
                lines.truncate(first);
                continue;
            }
            laid.push(layout);
        }
        (layouts.layouts, layouts.lines, layouts.sizes) = (laid, lines, sizes);
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
    fn ends(&self, widths: &PieceWidths) -> Ends<'_> {
        let mut ends = Vec::with_capacity(self.order.len() + 1);
        let mut end = 0.0;
        ends.push(end);
        for piece in &self.order {
            end += widths.whole[*piece as usize];
            ends.push(end);
        }
        Ends {
            layouts: self,
            ends,
            space: widths.space,
        }
    }

    /// What the layouts count of which any line ends elsewhere with `widths`, one for each
    /// size.
    pub fn differing(&self, widths: &[PieceWidths]) -> u64 {
        let ends: Vec<Ends<'_>> = widths.iter().map(|widths| self.ends(widths)).collect();
        let cost = |layout: &Layout| {
            let ends = &ends[layout.size];
            let lines = &self.lines[layout.lines.clone()];
            let last = lines.last().map_or(0, |line| line.1);
            let differs = lines.iter().any(|(start, end)| {
                let (from, to) = (*start as usize, *end as usize);
                let fits = |to| ends.fits(from, to, layout);
                (to > from + 1 && !fits(to)) || (*end < last && fits(to + 1))
            });
            let (any, count) = layout.weights;
            if !differs {
                0
            } else if count == 0 || self.count(layout, ends) == lines.len() {
                any
            } else {
                any + count
            }
        };
        self.layouts.iter().map(cost).sum()
    }

    /// How many lines a layout has in another font.
    fn count(&self, layout: &Layout, ends: &Ends<'_>) -> usize {
        let lines = &self.lines[layout.lines.clone()];
        let (mut start, last) = (lines[0].0 as usize, lines[lines.len() - 1].1 as usize);
        let mut count = 0;
        while start < last {
            start = ends.fill(start, last, layout);
            count += 1;
        }
        count
    }

    /// All that differs with `widths`, one for each size.
    pub fn compare(&self, widths: &[PieceWidths]) -> BreakCount {
        let ends: Vec<Ends<'_>> = widths.iter().map(|widths| self.ends(widths)).collect();
        let mut count = BreakCount::default();
        for layout in &self.layouts {
            let lines = &self.lines[layout.lines.clone()];
            let (first, last) = (lines[0].0 as usize, lines[lines.len() - 1].1 as usize);
            let mut other = Vec::with_capacity(lines.len());
            let mut start = first;
            while start < last {
                let end = ends[layout.size].fill(start, last, layout);
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
