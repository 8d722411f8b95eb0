//! `size-adjust`: the factor at which a local face sets the user's own text as
//! wide as the web font does.
//!
//! The factor is the ratio of the two faces' widths over the words of the text,
//! each shaped between spaces, with kerning and ligatures, and counted as often as
//! it occurs. A mean over all glyphs would give rare letters the weight
//! of frequent ones and is off by several per cent.

use serde::Serialize;
use tidy_lattice_glyphs::font::Face;

use super::ruler::Ruler;
use super::sample::TextSample;

/// How far word widths are from the web font's, in % of the web font's.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Deviation {
    /// The text as a whole; positive where it is wider than in the web font.
    pub text: f64,
    /// The mean of the words' deviations without their signs.
    pub word_mean: f64,
    /// The deviation, without its sign, that 95 % of the words stay within.
    pub word_p95: f64,
}

/// The width fit of one local face.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct WidthFit {
    /// `size-adjust` in %, to two decimals.
    pub size_adjust: f64,
    /// Words, repeats included, that both faces can show and that were fitted.
    pub words: u64,
    /// Words, repeats included, that the web font can show and the local face
    /// cannot; they were left out.
    pub words_left_out: u64,
    /// The local face as it is.
    pub before: Deviation,
    /// The stand-in.
    pub after: Deviation,
}

/// Fits local faces to one web font on one sample of text.
pub struct WidthFitter<'a> {
    sample: &'a TextSample,
    /// Widths of the sample's words in the web font, in em, where it has them.
    web_widths: Vec<Option<f64>>,
}

impl<'a> WidthFitter<'a> {
    /// Measures `sample` in `web`.
    pub fn new(web: &'a Face, sample: &'a TextSample) -> Self {
        let mut ruler = Ruler::new(web);
        let web_widths = sample
            .words()
            .iter()
            .map(|(word, _)| ruler.word(word))
            .collect();
        WidthFitter { sample, web_widths }
    }

    /// Words of the sample, repeats included.
    pub fn words(&self) -> u64 {
        self.sample.total()
    }

    /// Those of them that the web font can show.
    pub fn words_in_web_font(&self) -> u64 {
        let shown = self.sample.words().iter().zip(&self.web_widths);
        shown
            .filter(|(_, width)| width.is_some())
            .map(|((_, count), _)| count)
            .sum()
    }

    /// Fits `local`; `None` where the two faces share no word of the sample.
    pub fn fit(&self, local: &Face) -> Option<WidthFit> {
        let mut ruler = Ruler::new(local);
        let mut pairs: Vec<(f64, f64, u64)> = Vec::new();
        let mut words_left_out = 0;
        for ((word, count), web) in self.sample.words().iter().zip(&self.web_widths) {
            let Some(web) = web else { continue };
            match ruler.word(word) {
                Some(local) => pairs.push((*web, local, *count)),
                None => words_left_out += count,
            }
        }
        let sum = |pick: fn(&(f64, f64, u64)) -> f64| -> f64 {
            pairs.iter().map(|pair| pick(pair) * pair.2 as f64).sum()
        };
        let (web_sum, local_sum) = (sum(|pair| pair.0), sum(|pair| pair.1));
        if web_sum <= 0.0 || local_sum <= 0.0 {
            return None;
        }
        let size_adjust = (web_sum / local_sum * 10_000.0).round() / 100.0;
        Some(WidthFit {
            size_adjust,
            words: pairs.iter().map(|pair| pair.2).sum(),
            words_left_out,
            before: deviation(&pairs, 1.0),
            after: deviation(&pairs, size_adjust / 100.0),
        })
    }
}

/// How far the second widths of `pairs`, times `factor`, are from the first.
pub(super) fn deviation(pairs: &[(f64, f64, u64)], factor: f64) -> Deviation {
    let percent = |share: f64| (share * 10_000.0).round() / 100.0;
    let (mut web_sum, mut local_sum, mut total, mut words) = (0.0, 0.0, 0.0, 0);
    let mut by_word: Vec<(f64, u64)> = Vec::with_capacity(pairs.len());
    for (web, local, count) in pairs {
        let off = (local * factor / web - 1.0).abs();
        web_sum += web * *count as f64;
        local_sum += local * factor * *count as f64;
        total += off * *count as f64;
        words += count;
        by_word.push((off, *count));
    }
    by_word.sort_by(|a, b| a.0.total_cmp(&b.0));
    let mut left = words - words / 20;
    let p95 = by_word.iter().find(|(_, count)| {
        left = left.saturating_sub(*count);
        left == 0
    });
    Deviation {
        text: percent(local_sum / web_sum - 1.0),
        word_mean: percent(total / words as f64),
        word_p95: percent(p95.map_or(0.0, |(off, _)| *off)),
    }
}
