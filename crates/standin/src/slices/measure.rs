//! Slices held against a text: every width as it will be shaped.

use foldhash::HashMap;

use icu_segmenter::GraphemeClusterSegmenter;

use super::solve::{BySlice, MOST_SLICES};
use super::{Fitting, effective};
use crate::breaks::BreakCount;
use crate::ruler::Ruler;
use crate::width::{Deviation, deviation};

/// What slices come to on a text.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Judged {
    /// Pieces, repeats included, that both faces can show.
    pub words: u64,
    /// Widths of words.
    pub deviation: Deviation,
    /// Lines; `None` where there is no running text.
    pub breaks: Option<BreakCount>,
}

/// Slices to be held against the text of a fitting.
pub struct Measure<'m, 'a> {
    /// The web font on its text.
    pub fitting: &'m Fitting<'a>,
    /// `size-adjust` of each slice, in %.
    pub declared: &'m [f64],
    /// The slice of every character but those of the base slice.
    pub slice_of: &'m HashMap<char, usize>,
    /// The slice of all others.
    pub base: usize,
    /// The width of each piece in the local face at its own size, in em, where all of it is in
    /// one slice and that is known.
    pub whole: Option<Vec<f64>>,
}

impl Measure<'_, '_> {
    /// What comes of `pieces`, by their numbers, in the face of `ruler`; others keep
    /// their widths.
    pub fn pieces(&self, pieces: &[usize], ruler: &mut Ruler<'_>) -> Judged {
        let fitting = self.fitting;
        let sizes = fitting.layouts.sizes();
        let slices = self.declared.len();
        let slice_of = |cluster: &str| {
            let mut characters = cluster.chars();
            match (characters.next(), characters.next()) {
                (Some(only), None) => self.slice_of.get(&only).copied().unwrap_or(self.base),
                // Sequences are whole only in the slice without a range.
                _ => self.base,
            }
        };
        // What browsers make of the factors, at each size and on the mean.
        let at_sizes: Vec<BySlice> = sizes
            .iter()
            .map(|size| self.factors(|declared| effective(*size, declared)))
            .collect();
        let usual = if at_sizes.is_empty() {
            self.factors(|declared| declared / 100.0)
        } else {
            let mut usual = [0.0; MOST_SLICES];
            for at in &at_sizes {
                for (usual, factor) in usual.iter_mut().zip(at) {
                    *usual += factor / at_sizes.len() as f64;
                }
            }
            usual
        };
        let space = ruler.width(" ");
        let mut widths = vec![fitting.widths.clone(); sizes.len()];
        for (widths, at) in widths.iter_mut().zip(&at_sizes) {
            widths.space = space * at[slice_of(" ")];
        }
        let known: Vec<_> = fitting.sample.pieces().collect();
        let mut pairs = Vec::with_capacity(pieces.len());
        let mut words = 0;
        for (place, index) in pieces.iter().enumerate() {
            let (piece, count) = known[*index];
            let unscaled = match &self.whole {
                Some(whole) => {
                    let mut unscaled = [0.0; MOST_SLICES];
                    unscaled[self.base] = whole[place];
                    unscaled
                }
                None => width_by_slice(ruler, &piece.in_context(), piece.before.len(), slice_of),
            };
            let total = |factors: &BySlice| -> f64 {
                let products = factors.iter().zip(unscaled).take(slices);
                products.map(|(factor, unscaled)| factor * unscaled).sum()
            };
            for (widths, at) in widths.iter_mut().zip(&at_sizes) {
                widths.whole[*index] = total(at);
            }
            pairs.push((fitting.widths.whole[*index], total(&usual), count));
            words += count;
        }
        let layouts = &fitting.layouts;
        Judged {
            words,
            deviation: deviation(&pairs, 1.0),
            breaks: (!layouts.is_empty()).then(|| layouts.compare(&widths)),
        }
    }

    fn factors(&self, of: impl Fn(f64) -> f64) -> BySlice {
        let mut factors = [0.0; MOST_SLICES];
        for (factor, declared) in factors.iter_mut().zip(self.declared) {
            *factor = of(*declared);
        }
        factors
    }
}

/// The width of `text` but for its first `context` bytes in the local face at its
/// own size, by slice; each run of a slice is shaped by itself.
fn width_by_slice(
    ruler: &mut Ruler<'_>,
    text: &str,
    context: usize,
    slice_of: impl Fn(&str) -> usize,
) -> BySlice {
    let mut widths = [0.0; MOST_SLICES];
    let mut run: Option<(usize, usize)> = None;
    let mut start = 0;
    let mut ends: Vec<usize> = GraphemeClusterSegmenter::new()
        .segment_str(text)
        .skip(1)
        .collect();
    ends.push(text.len() + 1);
    for end in ends {
        let slice = text.get(start..end).map(&slice_of);
        match (run, slice) {
            (Some((of, _)), Some(slice)) if of == slice => {}
            (before, slice) => {
                if let Some((of, from)) = before {
                    widths[of] += ruler.width(&text[from..start]);
                }
                run = slice.map(|slice| (slice, start));
            }
        }
        start = end.min(text.len());
    }
    let before = &text[..context];
    widths[slice_of(before)] -= ruler.width(before);
    widths
}
