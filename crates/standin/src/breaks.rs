//! Where lines break: paragraphs filled greedily at given widths, in the web font
//! and in something that stands in for it.

use std::ops::Range;

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
    /// What is set at each of them.
    set: Vec<Set>,
    layouts: Vec<Layout>,
    lines: Vec<(u32, u32)>,
    /// How much room each line has in the web font, and how much the next piece would lack,
    /// in em.
    rooms: Vec<(f64, f64)>,
}

/// What of a sample is set at one size.
struct Set {
    /// Paragraphs that follow each other, in running order.
    stretches: Vec<Range<usize>>,
    /// Their pieces, each once.
    pieces: Vec<u32>,
}

impl Set {
    fn new(order: &[u32], mut paragraphs: Vec<Range<usize>>) -> Self {
        paragraphs.sort_unstable_by_key(|paragraph| paragraph.start);
        let mut stretches: Vec<Range<usize>> = Vec::new();
        for paragraph in paragraphs {
            match stretches.last_mut() {
                Some(last) if last.end >= paragraph.start => {
                    last.end = last.end.max(paragraph.end);
                }
                _ => stretches.push(paragraph),
            }
        }
        let pieces = stretches.iter().flat_map(|stretch| &order[stretch.clone()]);
        let mut pieces: Vec<u32> = pieces.copied().collect();
        pieces.sort_unstable();
        pieces.dedup();
        Set { stretches, pieces }
    }
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
    lines: Range<usize>,
}

/// Where pieces end, had the text one line, in one font.
#[derive(Debug, Clone)]
struct Ends {
    /// In em, from 0 at the start of the first.
    ends: Vec<f64>,
    space: f64,
}

/// Widths of pieces at each size of [`Layouts`], and where they end with these. It is kept from
/// one try to the next, so that nothing is made anew.
pub struct Laid {
    sizes: Vec<LaidSize>,
}

struct LaidSize {
    widths: PieceWidths,
    ends: Ends,
    /// Whether they are those of this try.
    ready: bool,
}

/// How much room lines should have that end where they should, in parts of a line: engines
/// round letters otherwise.
const MARGIN: f64 = 0.001;

/// What a piece that just fits is over at least, in em.
const BARELY: f64 = 1e-6;

/// How much differs from the web font.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub struct Differing {
    /// What the layouts count of which any line ends elsewhere.
    pub cost: u64,
    /// How far their lines are from ending where they should, and others from doing so with
    /// room to spare, in parts of a line, by what they count.
    pub far: f64,
}

impl Differing {
    /// What is no way at all.
    pub const NEVER: Self = Differing {
        cost: u64::MAX,
        far: f64::INFINITY,
    };

    /// Whether it is better: less differs, or the same is closer to not differing.
    pub fn is_less(&self, other: &Self) -> bool {
        self.cost < other.cost || self.cost == other.cost && self.far < other.far - BARELY
    }
}

impl Ends {
    /// Sets those of some stretches of `order`, each as if it began a line.
    fn set(&mut self, order: &[u32], stretches: &[Range<usize>], widths: &PieceWidths) {
        for stretch in stretches {
            let mut end = 0.0;
            self.ends[stretch.start] = end;
            for at in stretch.clone() {
                end += widths.whole[order[at] as usize];
                self.ends[at + 1] = end;
            }
        }
        self.space = widths.space;
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
            set: Vec::new(),
            layouts: Vec::new(),
            lines: Vec::new(),
            rooms: Vec::new(),
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
        let mut rooms: Vec<(f64, f64)> = Vec::new();
        let mut sizes: Vec<f32> = Vec::new();
        let mut set: Vec<Vec<Range<usize>>> = Vec::new();
        for column in columns {
            let Some(paragraph) = paragraphs.get(column.paragraph).filter(|p| !p.is_empty()) else {
                continue;
            };
            let size = sizes.iter().position(|size| *size == column.size);
            let size = size.unwrap_or_else(|| {
                sizes.push(column.size);
                set.push(Vec::new());
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
                let end = layouts.fill(&ends, start, paragraph.end, &layout);
                lines.push((start as u32, end as u32));
                let lacks = if end < paragraph.end {
                    -layouts.room(&ends, start, end + 1, &layout)
                } else {
                    f64::INFINITY
                };
                rooms.push((layouts.room(&ends, start, end, &layout), lacks));
                start = end;
            }
            layout.lines.end = lines.len();
            // What is laid out otherwise on its page is not known well enough.
            if column
                .lines
                .is_some_and(|known| known != layout.lines.len())
            {
                lines.truncate(first);
                rooms.truncate(first);
                continue;
            }
            laid.push(layout);
            set[size].push(paragraph.clone());
        }
        // What counts most comes first: it tells soonest that a way is worse than another.
        laid.sort_by_key(|layout| std::cmp::Reverse(layout.weights));
        (layouts.layouts, layouts.lines, layouts.sizes) = (laid, lines, sizes);
        layouts.rooms = rooms;
        let set = set.into_iter();
        layouts.set = set.map(|set| Set::new(&layouts.order, set)).collect();
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
    fn ends(&self, widths: &PieceWidths) -> Ends {
        let mut ends = Ends {
            ends: vec![0.0; self.order.len() + 1],
            space: 0.0,
        };
        let all = 0..self.order.len();
        ends.set(&self.order, std::slice::from_ref(&all), widths);
        ends
    }

    /// Widths at each size, those of `base` at first.
    pub fn laid(&self, base: &PieceWidths) -> Laid {
        let size = |_: &f32| LaidSize {
            widths: base.clone(),
            ends: self.ends(base),
            ready: false,
        };
        Laid {
            sizes: self.sizes.iter().map(size).collect(),
        }
    }

    /// What the layouts count of which any line ends elsewhere, and how far their lines are
    /// from ending where they should. As soon as it is more than `most`, nothing further is
    /// counted. `widths` sets the space and the widths of the pieces that it is given at a size,
    /// by its number; it is asked when a layout of that size is looked at.
    pub fn differing(
        &self,
        laid: &mut Laid,
        mut widths: impl FnMut(usize, &[u32], &mut PieceWidths),
        most: u64,
    ) -> Differing {
        for size in &mut laid.sizes {
            size.ready = false;
        }
        let mut sum = Differing::default();
        for layout in &self.layouts {
            let size = &mut laid.sizes[layout.size];
            if !size.ready {
                let set = &self.set[layout.size];
                widths(layout.size, &set.pieces, &mut size.widths);
                size.ends.set(&self.order, &set.stretches, &size.widths);
                size.ready = true;
            }
            let one = self.differs(layout, &size.ends);
            sum.cost += one.cost;
            sum.far += one.far;
            if sum.cost > most {
                break;
            }
        }
        sum
    }

    /// What a layout counts if any of its lines ends elsewhere, and how far they are.
    fn differs(&self, layout: &Layout, ends: &Ends) -> Differing {
        let lines = &self.lines[layout.lines.clone()];
        let last = lines.last().map_or(0, |line| line.1);
        let (mut far, mut near) = (0.0, 0.0);
        let margin = layout.measure * MARGIN;
        let rooms = &self.rooms[layout.lines.clone()];
        for ((start, end), (own_in_web, lacks_in_web)) in lines.iter().zip(rooms) {
            let (from, to) = (*start as usize, *end as usize);
            let room = |to| self.room(ends, from, to, layout);
            let (room_here, next) = (room(to), if *end < last { room(to + 1) } else { -1.0 });
            if to > from + 1 && room_here < 0.0 {
                far -= room_here;
            } else if next >= 0.0 {
                far += next + BARELY;
            } else {
                let alone = to == from + 1;
                // No more room than in the web font.
                let enough = margin.min(*own_in_web);
                near += if alone {
                    0.0
                } else {
                    (enough - room_here).max(0.0)
                };
                near += (margin.min(*lacks_in_web) + next).max(0.0);
            }
        }
        let (any, count) = layout.weights;
        let cost = if far == 0.0 {
            0
        } else if count == 0 || self.count(layout, ends) == lines.len() {
            any
        } else {
            any + count
        };
        let (far, near) = (far * cost as f64, near * any as f64);
        Differing {
            cost,
            far: (far + near) / layout.measure,
        }
    }

    /// Whether the pieces from `start` to before `end` fit in one line of `layout`.
    fn fits(&self, ends: &Ends, start: usize, end: usize, layout: &Layout) -> bool {
        self.room(ends, start, end, layout) >= 0.0
    }

    /// How much room a line of `layout` has left with the pieces from `start` to before
    /// `end`, in em; less than 0 where they do not fit.
    fn room(&self, ends: &Ends, start: usize, end: usize, layout: &Layout) -> f64 {
        let hanging = if self.spaced[end - 1] {
            ends.space
        } else {
            0.0
        };
        let mut width = ends.ends[end] - ends.ends[start] - hanging;
        if layout.letter_spacing != 0.0 {
            let characters = self.characters[end] - self.characters[start];
            width += f64::from(characters) * layout.letter_spacing;
        }
        layout.measure - width
    }

    /// Where the line that starts at `start` ends.
    fn fill(&self, ends: &Ends, start: usize, last: usize, layout: &Layout) -> usize {
        let mut end = start + 1;
        while end < last && self.fits(ends, start, end + 1, layout) {
            end += 1;
        }
        end
    }

    /// How many lines a layout has in another font.
    fn count(&self, layout: &Layout, ends: &Ends) -> usize {
        let lines = &self.lines[layout.lines.clone()];
        let (mut start, last) = (lines[0].0 as usize, lines[lines.len() - 1].1 as usize);
        let mut count = 0;
        while start < last {
            start = self.fill(ends, start, last, layout);
            count += 1;
        }
        count
    }

    /// All that differs with `widths`, one for each size.
    pub fn compare(&self, widths: &[PieceWidths]) -> BreakCount {
        let ends: Vec<Ends> = widths.iter().map(|widths| self.ends(widths)).collect();
        let mut count = BreakCount::default();
        for layout in &self.layouts {
            let lines = &self.lines[layout.lines.clone()];
            let (first, last) = (lines[0].0 as usize, lines[lines.len() - 1].1 as usize);
            let mut other = Vec::with_capacity(lines.len());
            let mut start = first;
            while start < last {
                let end = self.fill(&ends[layout.size], start, last, layout);
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

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::*;

    /// Three paragraphs of three words that are 2 em wide with their space, in columns of 80 px
    /// at 20 px: 4 em, so that two words fit with the space that hangs.
    fn layouts() -> (Layouts, PieceWidths) {
        let texts = ["one two six", "ten won few", "old new sea"];
        let sample = TextSample::of_texts(texts.into_iter().map(|text| (text, 1)));
        let widths = PieceWidths {
            whole: vec![2.0; sample.pieces().count()],
            space: 0.25,
        };
        let columns: Vec<Column> = (0..3)
            .map(|paragraph| Column {
                paragraph,
                size: 20.0,
                width: 80.0,
                letter_spacing: 0.0,
                weights: (1 + paragraph as u64, 10),
                lines: None,
            })
            .collect();
        (Layouts::new(&sample, &widths, &columns), widths)
    }

    /// With these widths at each size.
    fn differing(layouts: &Layouts, widths: &PieceWidths, most: u64) -> Differing {
        // What was tried before leaves nothing behind.
        let mut laid = layouts.laid(&PieceWidths {
            whole: vec![1.0; widths.whole.len()],
            space: 0.0,
        });
        layouts.differing(&mut laid, |_, _, _| {}, u64::MAX);
        layouts.differing(&mut laid, |_, _, set| set.clone_from(widths), most)
    }

    #[rstest]
    #[case::the_same(2.0, 0, 0.0)]
    #[case::a_little_narrower(1.9, 0, 0.0)]
    // Lines of one word: 2 + 2.3 - 0.25 is 0.05 more than there is room for, the second way too.
    #[case::wider(2.3, 6 + 30, 0.35)]
    // All in one line: 3 times 1.4 less 0.25 leave 0.05.
    #[case::narrower(1.4, 6 + 30, 0.05)]
    fn lines_that_end_elsewhere_count_with_how_far(
        #[case] width: f64,
        #[case] cost: u64,
        #[case] far: f64,
    ) {
        let (layouts, web) = layouts();
        let widths = PieceWidths {
            whole: vec![width; web.whole.len()],
            ..web
        };
        let found = differing(&layouts, &widths, u64::MAX);
        assert_eq!(found.cost, cost);
        // In parts of a line of 4 em, by what each counts.
        let expected = far / 4.0 * cost as f64;
        assert!((found.far - expected).abs() < 0.02, "{found:?} {expected}");
    }

    #[test]
    fn what_is_worse_is_not_counted_to_its_end() {
        let (layouts, web) = layouts();
        let widths = PieceWidths {
            whole: vec![3.0; web.whole.len()],
            ..web
        };
        // The paragraph that counts most comes first.
        let found = differing(&layouts, &widths, 12);
        assert_eq!(found.cost, 13);
        assert_eq!(differing(&layouts, &widths, u64::MAX).cost, 36);
    }

    /// The first and the third paragraph at one size, the second at another: each size is asked
    /// for its own pieces alone, and what is not set at it has no say.
    #[test]
    fn sizes_are_asked_for_what_is_set_at_them() {
        let (_, web) = layouts();
        let texts = ["one two six", "ten won few", "old new sea"];
        let sample = TextSample::of_texts(texts.into_iter().map(|text| (text, 1)));
        let columns = [20.0_f32, 10.0, 20.0].into_iter().enumerate();
        let columns: Vec<Column> = columns
            .map(|(paragraph, size)| Column {
                paragraph,
                size,
                width: 4.0 * f64::from(size),
                letter_spacing: 0.0,
                weights: (1, 10),
                lines: None,
            })
            .collect();
        let layouts = Layouts::new(&sample, &web, &columns);
        let mut asked = Vec::new();
        let mut laid = layouts.laid(&PieceWidths {
            whole: vec![9.0; web.whole.len()],
            space: 0.0,
        });
        let found = layouts.differing(
            &mut laid,
            |size, pieces, widths| {
                asked.push((layouts.sizes()[size], pieces.to_vec()));
                // Too wide at the second size alone.
                let width = if layouts.sizes()[size] == 10.0 {
                    3.0
                } else {
                    2.0
                };
                for piece in pieces {
                    widths.whole[*piece as usize] = width;
                }
                widths.space = web.space;
            },
            u64::MAX,
        );
        assert_eq!(
            found.cost, 11,
            "the second paragraph, by lines and by their count"
        );
        asked.sort_by(|one, other| one.0.total_cmp(&other.0));
        assert_eq!(
            asked,
            [(10.0, vec![3, 4, 5]), (20.0, vec![0, 1, 2, 6, 7, 8])]
        );
    }

    #[rstest]
    #[case::less_differs((1, 9.0), (2, 0.0), true)]
    #[case::the_same_is_closer((2, 0.5), (2, 0.6), true)]
    #[case::the_same((2, 0.5), (2, 0.5), false)]
    #[case::more_differs((3, 0.1), (2, 0.6), false)]
    fn what_differs_comes_before_how_far(
        #[case] one: (u64, f64),
        #[case] other: (u64, f64),
        #[case] less: bool,
    ) {
        let of = |(cost, far)| Differing { cost, far };
        assert_eq!(of(one).is_less(&of(other)), less);
    }
}
