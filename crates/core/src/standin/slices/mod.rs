//! The widths of a stand-in: the factors at which a local face sets the user's
//! own text as wide as the web font does, one for all letters or one for each of
//! several *slices*, groups of letters with a `unicode-range` of their own.
//!
//! One factor makes the text as long as in the web font, while single words stay
//! off by some per cent, because one face has wide round letters and the other
//! wide narrow ones. Slices give letters that differ alike a factor of their own.
//! They are sought on whole pieces of text as shaped, kerning included; a border
//! between slices breaks kerning and ligatures, which counts. Letters that join
//! or stack are never sliced apart, accented letters go with their base, and
//! digits that align stay together.

mod gram;
mod polish;
mod search;
mod solve;
mod terms;

use std::collections::HashMap;

use icu_segmenter::GraphemeClusterSegmenter;
use serde::Serialize;

use self::gram::Gram;
use self::polish::Polish;
use self::search::{Assignment, Search};
pub use self::solve::MOST_SLICES;
use self::solve::{BySlice, Looks};
use self::terms::Terms;
use tidy_lattice_glyphs::font::{CharacterSet, Face};
use tidy_lattice_layout::chromium;

use super::breaks::{BreakCount, Layouts, PieceWidths};
use super::ruler::Ruler;
use super::sample::TextSample;
use super::width::{Deviation, deviation};

/// How far the factor of a slice may be from that of all text: a third.
const FARTHEST: f64 = 1.0 / 3.0;

/// What different sizes of letters cost where nothing else is asked for, in em²;
/// see [`Looks::unevenness`].
const UNEVENNESS: f64 = 0.0002;

/// Numbers of slices that are tried where the number is left to the fit.
const TRIED: [usize; 6] = [1, 2, 3, 4, 6, 8];

/// How many points of layouts a rule more must save.
const A_RULE: f64 = 0.5;

/// How many points of layouts one per cent of spread must save.
const WORTH: f64 = 1.0;

/// How many slices.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Slices {
    /// This many, 1 to [`MOST_SLICES`].
    Exactly(usize),
    /// As many as gain more than they cost in looks.
    Auto,
}

/// What a fit makes small.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Minimise {
    /// Lines that break differently, at the widths in use.
    #[default]
    Lines,
    /// The mean error of words.
    Words,
}

/// How to fit.
#[derive(Debug, Clone, PartialEq)]
pub struct FitOptions {
    /// How many slices.
    pub slices: Slices,
    /// What is made small.
    pub minimise: Minimise,
    /// The most spread of letter sizes, in %; see [`WidthsOfStandIn::spread`].
    pub most_spread: Option<f64>,
    /// The most that a factor may be, in em: Firefox makes no line lower than
    /// the em, so a slice larger than ascent and descent together is a taller line.
    pub most_factor: Option<f64>,
    /// Whether figures must align, whatever the fonts do by default.
    pub digits_align: bool,
}

impl Default for FitOptions {
    fn default() -> Self {
        FitOptions {
            slices: Slices::Exactly(1),
            minimise: Minimise::Lines,
            most_spread: None,
            most_factor: None,
            digits_align: false,
        }
    }
}

/// Letters with a factor of their own.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Slice {
    /// `size-adjust` in %, to two decimals.
    pub size_adjust: f64,
    /// Its characters; `None` for the slice of all that no other slice has.
    #[serde(serialize_with = "as_css")]
    #[schemars(with = "Option<String>")]
    pub range: Option<CharacterSet>,
    /// Its share of the text's characters, in %.
    pub share: f64,
}

/// The widths of one local face as a stand-in.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct WidthsOfStandIn {
    /// The slices; the first one has no range.
    pub slices: Vec<Slice>,
    /// Pieces of text (words, or parts between places where a line may end),
    /// repeats included, that both faces can show.
    pub words: u64,
    /// Pieces that the web font can show and the local face cannot.
    pub words_left_out: u64,
    /// The local face as it is.
    pub before: Deviation,
    /// The stand-in.
    pub after: Deviation,
    /// Lines of the local face as it is; `None` where there is no running text.
    pub breaks_before: Option<BreakCount>,
    /// Lines of the stand-in.
    pub breaks_after: Option<BreakCount>,
    /// How uneven letters look: the standard deviation of their factors, weighted
    /// by how often each occurs, in % of the mean.
    pub spread: f64,
}

/// A range as `unicode-range` has it.
fn as_css<S: serde::Serializer>(range: &Option<CharacterSet>, to: S) -> Result<S::Ok, S::Error> {
    range.as_ref().map(CharacterSet::css).serialize(to)
}

impl WidthsOfStandIn {
    /// The mean factor, in %, weighted by how often each slice is used.
    pub fn mean_size_adjust(&self) -> f64 {
        let total: f64 = self.slices.iter().map(|slice| slice.share).sum();
        let sum: f64 = self.slices.iter().map(|s| s.size_adjust * s.share).sum();
        if total > 0.0 {
            sum / total
        } else {
            self.slices.first().map_or(100.0, |slice| slice.size_adjust)
        }
    }
}

/// A web font measured on a text, to fit local faces to.
pub struct Fitting<'a> {
    web: &'a Face,
    sample: &'a TextSample,
    widths: PieceWidths,
    shown: Vec<bool>,
    layouts: Layouts,
}

impl<'a> Fitting<'a> {
    /// Measures `sample` in `web`, its lines at `sizes` in columns of `columns`, both
    /// in px.
    pub fn new(web: &'a Face, sample: &'a TextSample, sizes: &[f32], columns: &[f64]) -> Self {
        let mut ruler = Ruler::new(web);
        let mut widths = PieceWidths {
            whole: Vec::new(),
            space: ruler.width(" "),
        };
        let mut shown = Vec::new();
        for (piece, _) in sample.pieces() {
            let width = ruler.piece(piece);
            shown.push(width.is_some());
            // What the web font lacks shows in another font before and after.
            widths.whole.push(width.unwrap_or_else(|| {
                piece.text.chars().count() as f64 * 0.5 + f64::from(u8::from(piece.spaced)) * 0.25
            }));
        }
        let layouts = Layouts::new(sample, &widths, sizes, columns);
        Fitting {
            web,
            sample,
            widths,
            shown,
            layouts,
        }
    }

    /// Pieces of the sample, repeats included.
    pub fn words(&self) -> u64 {
        self.sample.pieces().map(|(_, count)| count).sum()
    }

    /// Those of them that the web font can show.
    pub fn words_in_web_font(&self) -> u64 {
        let pieces = self.sample.pieces().zip(&self.shown);
        pieces
            .filter(|(_, shown)| **shown)
            .map(|((_, count), _)| count)
            .sum()
    }

    /// The characters of the sample.
    pub fn characters(&self) -> std::collections::BTreeSet<char> {
        let pieces = self.sample.pieces();
        pieces.flat_map(|(piece, _)| piece.text.chars()).collect()
    }

    /// Fits `local`; `None` where the two faces share no piece of the sample.
    pub fn fit(&self, local: &Face, options: &FitOptions) -> Option<WidthsOfStandIn> {
        let mut web_ruler = Ruler::new(self.web);
        let mut ruler = Ruler::new(local);
        let digits_align = options.digits_align || digits_align(&mut web_ruler);
        let terms = Terms::new(
            self.sample,
            &self.widths,
            &self.shown,
            &mut web_ruler,
            &mut ruler,
            digits_align,
        );
        let sum = |pick: fn(&terms::Row) -> f64| -> f64 {
            terms.rows.iter().map(|row| pick(row) * row.count).sum()
        };
        let web = sum(|row| row.web);
        let own = sum(|row| row.terms.iter().map(|term| term.width).sum());
        if web <= 0.0 || own <= 0.0 {
            return None;
        }
        let mean = web / own;
        let most = options.most_factor.unwrap_or(f64::INFINITY).max(mean);
        let looks = Looks {
            mean,
            bounds: (mean * (1.0 - FARTHEST), (mean * (1.0 + FARTHEST)).min(most)),
            unevenness: UNEVENNESS,
        };
        let mut faces = FaceFit {
            gram: Gram::new(&terms, &self.layouts),
            fitting: self,
            local,
            ruler,
            web_ruler,
            terms,
            options,
        };
        let before = faces.measured(&Assignment::single(faces.terms.groups.len()), &[1.0]);
        let fit = match options.slices {
            Slices::Exactly(slices) => faces.sliced(slices.clamp(1, MOST_SLICES), looks, true),
            Slices::Auto => faces.worthwhile(looks),
        };
        Some(WidthsOfStandIn {
            before: before.after,
            breaks_before: before.breaks_after,
            ..fit
        })
    }
}

/// Whether the web font's figures are all equally wide, so that columns of them
/// align.
fn digits_align(ruler: &mut Ruler<'_>) -> bool {
    let zero = ruler.width("0");
    ruler.shows("0123456789")
        && ('1'..='9').all(|digit| (ruler.width(&digit.to_string()) - zero).abs() < 1e-6)
}

/// One local face being fitted.
struct FaceFit<'f, 'a> {
    fitting: &'f Fitting<'a>,
    local: &'f Face,
    ruler: Ruler<'f>,
    web_ruler: Ruler<'a>,
    terms: Terms,
    gram: Gram,
    options: &'f FitOptions,
}

impl FaceFit<'_, '_> {
    /// The fit with as many slices as gain more than they cost in looks.
    fn worthwhile(&mut self, looks: Looks) -> WidthsOfStandIn {
        let price = |fit: &WidthsOfStandIn| {
            // Without running text, words stand for lines: an error of 1 % breaks
            // about every tenth layout.
            let lines = fit.breaks_after.map(|breaks| breaks.share());
            let rules = fit.slices.len() as f64 * A_RULE;
            lines.unwrap_or(fit.after.word_mean * 10.0) + WORTH * fit.spread + rules
        };
        let mut best: Option<(usize, f64)> = None;
        for slices in TRIED {
            let price = price(&self.sliced(slices, looks, false));
            if best.is_none_or(|(_, least)| price < least) {
                best = Some((slices, price));
            }
        }
        self.sliced(best.map_or(1, |(slices, _)| slices), looks, true)
    }

    /// The fit with at most `slices` slices, their spread within the limit; lines
    /// are looked at one by one only to `polish` it.
    fn sliced(&mut self, slices: usize, mut looks: Looks, polish: bool) -> WidthsOfStandIn {
        let limit = self.options.most_spread.unwrap_or(f64::INFINITY);
        for _ in 0..8 {
            let fit = self.sliced_with(slices, looks, false);
            if fit.spread <= limit || slices == 1 {
                return if polish {
                    self.sliced_with(slices, looks, true)
                } else {
                    fit
                };
            }
            looks.unevenness *= 4.0;
        }
        self.sliced_with(1, looks, polish)
    }

    fn sliced_with(&mut self, slices: usize, looks: Looks, polish: bool) -> WidthsOfStandIn {
        let search = Search::new(&self.terms, &self.gram, looks);
        let (mut assignment, solution) = search.run(slices, polish);
        let sizes = self.fitting.layouts.sizes();
        let mut factors = solution.factors.map(|factor| meant(sizes, factor));
        if polish && self.options.minimise == Minimise::Lines && !self.fitting.layouts.is_empty() {
            let (terms, layouts) = (&self.terms, &self.fitting.layouts);
            let mut polish = Polish::new(terms, layouts, &self.fitting.widths, looks.bounds);
            (assignment, factors) = polish.run(&search, assignment, solution.factors);
        }
        self.measured(&assignment, &factors[..slices])
    }

    /// The fit with these slices, every width measured as it will be shaped.
    fn measured(&mut self, assignment: &Assignment, factors: &[f64]) -> WidthsOfStandIn {
        let sizes = self.fitting.layouts.sizes();
        let stated: Vec<f64> = factors.iter().map(|factor| stated(*factor)).collect();
        let factors: Vec<f64> = stated.iter().map(|size| size / 100.0).collect();
        let shares = self.shares(assignment);
        let base = base_slice(&self.terms, assignment, &shares);
        let slice_of = self.all_characters(assignment, &factors, base);
        let space = usize::from(assignment.slice_of[self.terms.space]);
        // What browsers make of the factors, at each size and on the mean.
        let at_sizes: Vec<Vec<f64>> = sizes
            .iter()
            .map(|size| {
                stated
                    .iter()
                    .map(|stated| effective(*size, *stated))
                    .collect()
            })
            .collect();
        let usual = |slice: usize| match at_sizes.len() {
            0 => factors[slice],
            sizes => at_sizes.iter().map(|at| at[slice]).sum::<f64>() / sizes as f64,
        };
        let usual: Vec<f64> = (0..factors.len()).map(usual).collect();
        let mut widths = vec![self.fitting.widths.clone(); sizes.len()];
        for (widths, at) in widths.iter_mut().zip(&at_sizes) {
            widths.space = self.terms.space_width * at[space];
        }
        let mut pairs = Vec::with_capacity(self.terms.rows.len());
        let mut words = 0;
        let pieces: Vec<_> = self.fitting.sample.pieces().collect();
        for row in &self.terms.rows {
            let piece = pieces[row.piece].0;
            let own = width_by_slice(
                &mut self.ruler,
                &piece.in_context(),
                piece.before.len(),
                |cluster| {
                    let mut characters = cluster.chars();
                    match (characters.next(), characters.next()) {
                        (Some(only), None) => slice_of.get(&only).copied().unwrap_or(base),
                        // Sequences are whole only in the slice without a range.
                        _ => base,
                    }
                },
            );
            let total = |factors: &[f64]| -> f64 {
                factors
                    .iter()
                    .zip(own)
                    .map(|(factor, own)| factor * own)
                    .sum()
            };
            for (widths, at) in widths.iter_mut().zip(&at_sizes) {
                widths.whole[row.piece] = total(at);
            }
            pairs.push((row.web, total(&usual), row.count as u64));
            words += row.count as u64;
        }
        let layouts = &self.fitting.layouts;
        let mut slices: Vec<Slice> = (0..factors.len())
            .map(|slice| Slice {
                size_adjust: stated[slice],
                range: (slice != base).then(|| {
                    let own = slice_of.iter().filter(|(_, of)| **of == slice);
                    CharacterSet::of(own.map(|(character, _)| u32::from(*character)))
                }),
                share: (shares[slice] * 10_000.0).round() / 100.0,
            })
            .collect();
        slices.swap(0, base);
        slices[1..].sort_by(|a, b| b.share.total_cmp(&a.share));
        slices.retain(|slice| slice.range.as_ref().is_none_or(|range| !range.is_empty()));
        WidthsOfStandIn {
            spread: spread(&self.terms, assignment, &factors),
            slices,
            words,
            words_left_out: self.fitting.words_in_web_font() - words,
            before: deviation(&pairs, 1.0),
            after: deviation(&pairs, 1.0),
            breaks_before: None,
            breaks_after: (!layouts.is_empty()).then(|| layouts.compare(&widths)),
        }
    }

    /// Each slice's share of the characters.
    fn shares(&self, assignment: &Assignment) -> Vec<f64> {
        let groups = &self.terms.groups;
        let total: f64 = groups.iter().map(|group| group.count).sum();
        let mut shares = vec![0.0; assignment.slices];
        for (group, slice) in groups.iter().zip(&assignment.slice_of) {
            shares[usize::from(*slice)] += group.count / total.max(1.0);
        }
        shares
    }

    /// The slice of every character but those of the base slice: of the text as
    /// sought, others of the same scripts with their base letter or by how wide
    /// they are.
    fn all_characters(
        &mut self,
        assignment: &Assignment,
        factors: &[f64],
        base: usize,
    ) -> HashMap<char, usize> {
        let mut slice_of: HashMap<char, usize> = HashMap::new();
        for (character, group) in &self.terms.group_of {
            slice_of.insert(*character, usize::from(assignment.slice_of[*group]));
        }
        if factors.len() > 1 {
            for character in unseen(&self.terms, self.fitting.web, self.local) {
                let leader = terms::leader(character, true);
                let slice = match slice_of.get(&leader) {
                    Some(slice) => *slice,
                    None => self.nearest(character, factors).unwrap_or(base),
                };
                slice_of.insert(character, slice);
            }
        }
        slice_of.retain(|_, slice| *slice != base);
        slice_of
    }

    /// The slice whose factor is nearest to what `character` would need.
    fn nearest(&mut self, character: char, factors: &[f64]) -> Option<usize> {
        let text = character.to_string();
        let (web, local) = (self.web_ruler.width(&text), self.ruler.width(&text));
        if web <= 0.0 || local <= 0.0 {
            return None;
        }
        let ratio = web / local;
        (0..factors.len()).min_by(|a, b| {
            let off = |slice: usize| (factors[slice] - ratio).abs();
            off(*a).total_cmp(&off(*b))
        })
    }
}

/// The slice that needs no range: that of text that is never sliced, else the
/// one with most of the text.
fn base_slice(terms: &Terms, assignment: &Assignment, shares: &[f64]) -> usize {
    if terms.groups[terms::REST].count > 0.0 {
        return assignment.rest();
    }
    (0..shares.len())
        .max_by(|a, b| shares[*a].total_cmp(&shares[*b]))
        .unwrap_or(0)
}

/// Blocks of letters that other texts of the same script may have: Basic Latin to
/// Latin Extended-A, Greek, Cyrillic, Armenian, Georgian. More would make lists long.
const UNSEEN: [std::ops::RangeInclusive<u32>; 4] =
    [0x20..=0x17f, 0x370..=0x3ff, 0x400..=0x45f, 0x531..=0x10ff];

/// Letters that are not in the text, of its scripts, that both faces have.
fn unseen(terms: &Terms, web: &Face, local: &Face) -> Vec<char> {
    use icu_properties::CodePointMapData;
    use icu_properties::props::Script;
    let scripts = CodePointMapData::<Script>::new();
    let used: Vec<Script> = terms.group_of.keys().map(|c| scripts.get(*c)).collect();
    let mut found: Vec<char> = web
        .characters()
        .iter()
        .filter_map(char::from_u32)
        .filter(|c| UNSEEN.iter().any(|range| range.contains(&u32::from(*c))))
        .filter(|c| !terms.group_of.contains_key(c) && terms::may_slice(*c) && local.maps(*c))
        .filter(|c| used.contains(&scripts.get(*c)))
        .collect();
    found.sort_unstable();
    found
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

/// A factor as `size-adjust` states it, in % to two decimals.
fn stated(factor: f64) -> f64 {
    (factor * 10_000.0).round() / 100.0
}

/// What `size-adjust` in % comes to at a size in px: browsers cut sizes.
fn effective(size: f32, stated: f64) -> f64 {
    chromium::glyph_size(size, stated) / chromium::glyph_size(size, 100.0)
}

/// The factor to state so that what it comes to at `sizes` is nearest to `factor`.
fn meant(sizes: &[f32], factor: f64) -> f64 {
    /// Sizes are cut by less than 0.026 px: 0.33 % at 8 px.
    const STEPS: u32 = 33;
    if sizes.is_empty() || factor <= 0.0 {
        return factor;
    }
    let off = |tried: f64| -> f64 {
        let off = sizes
            .iter()
            .map(|size| effective(*size, stated(tried)) - factor);
        (off.sum::<f64>() / sizes.len() as f64).abs()
    };
    (0..=STEPS)
        .map(|step| factor + f64::from(step) / 10_000.0)
        .min_by(|a, b| off(*a).total_cmp(&off(*b)))
        .unwrap_or(factor)
}

fn spread(terms: &Terms, assignment: &Assignment, factors: &[f64]) -> f64 {
    // Nobody sees the size of a space.
    let shown = terms.groups.iter().zip(&assignment.slice_of).enumerate();
    let letters: Vec<(f64, f64)> = shown
        .filter(|(index, _)| *index != terms.space)
        .map(|(_, (group, slice))| (factors[usize::from(*slice)], group.count))
        .collect();
    let total: f64 = letters.iter().map(|(_, count)| count).sum();
    if total <= 0.0 {
        return 0.0;
    }
    let mean = letters.iter().map(|(f, count)| f * count).sum::<f64>() / total;
    let square: f64 = letters
        .iter()
        .map(|(f, c)| (f - mean) * (f - mean) * c)
        .sum();
    ((square / total).sqrt() / mean * 10_000.0).round() / 100.0
}
