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
mod measure;
mod pieces;
mod polish;
mod search;
mod solve;
mod terms;

use foldhash::HashMap;

use serde::Serialize;

use self::gram::Gram;
pub use self::measure::Judged;
use self::measure::Measure;
use self::polish::Polish;
use self::search::{Assignment, Search};
pub use self::solve::MOST_SLICES;
use self::solve::{BySlice, Looks};
use self::terms::Terms;
use tidy_lattice_glyphs::font::{CharacterSet, Face};
use tidy_lattice_layout::chromium;

use super::breaks::{BreakCount, Column, Layouts, PieceWidths, all_columns};
use super::ruler::Ruler;
use super::sample::TextSample;
use super::width::Deviation;

/// How far the factor of a slice may be from that of all text: a third.
const FARTHEST: f64 = 1.0 / 3.0;

/// How far it may be where the spread is limited, in spreads: a rare letter that is much
/// larger than its neighbours adds little to the spread, and is seen.
const SPREADS: f64 = 4.0;

/// How far it may be however even letters must be, so that all can move together.
const TOGETHER: f64 = 0.05;

/// What different sizes of letters cost where nothing else is asked for, in em²;
/// see [`Looks::unevenness`].
const UNEVENNESS: f64 = 0.0002;

/// The price at which letters are as good as even, in em².
const UNEVEN_NEVER: f64 = 1e6;

/// How often the range of prices is halved to find the one that keeps to a limit.
const HALVINGS: usize = 12;

/// How often a found way is shaken and searched again: where it is only to tell what a
/// number of slices can give.
const SHAKES_TO_TELL: usize = 4;

/// The same where it will be used.
const SHAKES_TO_USE: usize = 20;

/// The same where its very lines will be read.
const SHAKES_TO_READ: usize = 100;

/// Numbers of slices that are tried where the number is left to the fit.
const TRIED: [usize; 6] = [1, 2, 3, 4, 6, 8];

/// How many points of lines a rule more must save.
const A_RULE: f64 = 0.25;

/// How many points of lines one per cent of spread must save.
const WORTH: f64 = 0.5;

/// The most spread of letters where the number of slices is left to the fit, in %.
pub const EVEN: f64 = 4.0;

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
    /// Whether the text is the very one that will be read, so that its lines are worth
    /// looking at one by one. What fits the lines of a drawn text best fits others no
    /// better.
    pub exact: bool,
}

impl Default for FitOptions {
    fn default() -> Self {
        FitOptions {
            slices: Slices::Exactly(1),
            minimise: Minimise::Lines,
            most_spread: None,
            most_factor: None,
            exact: true,
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
        Self::in_columns(web, sample, &all_columns(sample, sizes, columns))
    }

    /// Measures `sample` in `web`, its lines in `columns`.
    pub fn in_columns(web: &'a Face, sample: &'a TextSample, columns: &[Column]) -> Self {
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
        let layouts = Layouts::new(sample, &widths, columns);
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

    /// The pieces of the sample, and how often each occurs.
    pub fn texts(&self) -> impl Iterator<Item = (&str, u64)> {
        let pieces = self.sample.pieces();
        pieces.map(|(piece, count)| (piece.text.as_str(), count))
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
        let (sample, widths, shown) = (self.sample, &self.widths, &self.shown);
        let terms = match options.slices {
            Slices::Exactly(0 | 1) => Terms::whole(sample, widths, shown, &mut ruler),
            _ => Terms::new(sample, widths, shown, &mut web_ruler, &mut ruler),
        };
        let sum = |pick: fn(&terms::Row) -> f64| -> f64 {
            terms.rows.iter().map(|row| pick(row) * row.count).sum()
        };
        let web = sum(|row| row.web);
        let width = sum(|row| row.terms.iter().map(|term| term.width).sum());
        if web <= 0.0 || width <= 0.0 {
            return None;
        }
        let mean = web / width;
        let most = options.most_factor.unwrap_or(f64::INFINITY).max(mean);
        let within = |reach: f64| (mean * (1.0 - reach), (mean * (1.0 + reach)).min(most));
        let looks = Looks {
            mean,
            bounds: within(reach_of(options)),
            space_bounds: within(FARTHEST),
            unevenness: UNEVENNESS,
        };
        let mut faces = FaceFit {
            fitting: self,
            local,
            ruler,
            web_ruler,
            terms,
            options: options.clone(),
        };
        let before = faces.measured(&Assignment::single(faces.terms.groups.len()), &[1.0]);
        let fit = match options.slices {
            Slices::Exactly(slices) => faces.sliced(slices.clamp(1, MOST_SLICES), looks),
            Slices::Auto => faces.worthwhile(looks),
        };
        Some(WidthsOfStandIn {
            before: before.after,
            breaks_before: before.breaks_after,
            ..fit
        })
    }

    /// How `slices` of `local`, fitted on another text, do on this one.
    pub fn judge(&self, local: &Face, slices: &[Slice]) -> Option<Judged> {
        let base = slices.iter().position(|slice| slice.range.is_none())?;
        let declared: Vec<f64> = slices.iter().map(|slice| slice.size_adjust).collect();
        let mut slice_of = HashMap::default();
        for (index, slice) in slices.iter().enumerate() {
            let points = slice.range.iter().flat_map(|range| range.iter());
            slice_of.extend(points.filter_map(char::from_u32).map(|c| (c, index)));
        }
        let mut ruler = Ruler::new(local);
        let pieces = self.sample.pieces().zip(&self.shown).enumerate();
        let pieces: Vec<usize> = pieces
            .filter(|(_, ((piece, _), shown))| **shown && ruler.shows(&piece.text))
            .map(|(index, _)| index)
            .collect();
        let measure = Measure {
            fitting: self,
            declared: &declared,
            slice_of: &slice_of,
            base,
            whole: None,
        };
        (!pieces.is_empty()).then(|| measure.pieces(&pieces, &mut ruler))
    }
}

/// How far the factor of letters may be from that of all text, in parts of it.
fn reach_of(options: &FitOptions) -> f64 {
    let limit = options.most_spread.or(match options.slices {
        Slices::Auto => Some(EVEN),
        Slices::Exactly(_) => None,
    });
    limit.map_or(FARTHEST, |limit| {
        (SPREADS * limit / 100.0).clamp(TOGETHER, FARTHEST)
    })
}

/// A way to slice, and what comes of it.
struct Way {
    assignment: Assignment,
    factors: BySlice,
    /// The mean square error of lines, in em².
    error: f64,
    /// The spread of letters, in parts of the mean.
    spread: f64,
    looks: Looks,
}

/// One local face being fitted.
struct FaceFit<'f, 'a> {
    fitting: &'f Fitting<'a>,
    local: &'f Face,
    ruler: Ruler<'f>,
    web_ruler: Ruler<'a>,
    terms: Terms,
    options: FitOptions,
}

impl FaceFit<'_, '_> {
    /// The fit with as many slices as gain more than they cost.
    fn worthwhile(&mut self, looks: Looks) -> WidthsOfStandIn {
        let options = FitOptions {
            most_spread: Some(self.options.most_spread.unwrap_or(EVEN)),
            ..self.options.clone()
        };
        self.options = options;
        let gram = Gram::new(&self.terms, &self.fitting.layouts);
        let mut search = Search::new(&self.terms, &gram, looks);
        let mut best: Option<(f64, Way)> = None;
        for slices in TRIED {
            let way = self.within_limit(&mut search, slices, looks);
            let lines = gram.broken(way.error) * 100.0;
            let price = lines + WORTH * way.spread * 100.0 + slices as f64 * A_RULE;
            if best.as_ref().is_none_or(|(least, _)| price < *least) {
                best = Some((price, way));
            }
        }
        let way = best.expect("several are tried").1;
        self.finished(way, Some(&gram))
    }

    /// The fit with at most `slices` slices, their spread within the limit.
    fn sliced(&mut self, slices: usize, looks: Looks) -> WidthsOfStandIn {
        if slices == 1 {
            let way = Way {
                assignment: Assignment::single(self.terms.groups.len()),
                factors: [looks.mean; MOST_SLICES],
                error: 0.0,
                spread: 0.0,
                looks,
            };
            return self.finished(way, None);
        }
        let gram = Gram::new(&self.terms, &self.fitting.layouts);
        let mut search = Search::new(&self.terms, &gram, looks);
        let way = self.within_limit(&mut search, slices, looks);
        self.finished(way, Some(&gram))
    }

    /// The most spread, in parts of the mean; a little less than asked for, as factors are
    /// rounded.
    fn limit(&self) -> f64 {
        let limit = self.options.most_spread.unwrap_or(f64::INFINITY);
        limit / 100.0 * 0.995
    }

    /// A way with at most `slices` slices and a spread within the limit, searched for
    /// quickly. Where letters may be less even than is best, the price of unevenness is
    /// halved and doubled until they are just as uneven as they may be.
    fn within_limit(&self, search: &mut Search<'_>, slices: usize, looks: Looks) -> Way {
        let limit = self.limit();
        search.with_looks(looks);
        let (assignment, solution) = search.run(slices, SHAKES_TO_TELL);
        let mut free = search.way(assignment, solution, looks);
        if slices == 1 || free.spread <= limit {
            return free;
        }
        let (mut low, mut high) = (looks.unevenness.ln(), UNEVEN_NEVER.ln());
        let mut held = None;
        for _ in 0..HALVINGS {
            let middle = (low + high) / 2.0;
            let looks = Looks {
                unevenness: middle.exp(),
                ..looks
            };
            search.with_looks(looks);
            let (assignment, solution) = search.run_from(free.assignment.clone(), 0);
            let way = search.way(assignment, solution, looks);
            if way.spread <= limit {
                held = Some(way);
                high = middle;
            } else {
                free = way;
                low = middle;
            }
        }
        held.unwrap_or_else(|| {
            let looks = Looks {
                unevenness: UNEVEN_NEVER,
                ..looks
            };
            search.with_looks(looks);
            let (assignment, solution) = search.run_from(free.assignment, 0);
            search.way(assignment, solution, looks)
        })
    }

    /// `way` searched further, its lines looked at one by one, and measured.
    fn finished(&mut self, way: Way, gram: Option<&Gram>) -> WidthsOfStandIn {
        let limit = self.limit();
        let slices = way.assignment.slices;
        let mut best = way;
        let exact = self.options.exact;
        let mut search = gram.map(|gram| Search::new(&self.terms, gram, best.looks));
        if let (Some(search), true) = (&mut search, slices > 1) {
            let shakes = if exact { SHAKES_TO_READ } else { SHAKES_TO_USE };
            let (assignment, solution) = search.run_from(best.assignment.clone(), shakes);
            let mut found = search.way(assignment, solution, best.looks);
            // What is shaken may have become less even than it may be.
            let mut looks = best.looks;
            while found.spread > limit && looks.unevenness < UNEVEN_NEVER {
                looks.unevenness *= 1.05;
                search.with_looks(looks);
                let solution = search.solve(&found.assignment);
                found = search.way(found.assignment, solution, looks);
            }
            if found.error < best.error && found.spread <= limit {
                best = found;
            }
        }
        let sizes = self.fitting.layouts.sizes();
        let mut factors = best.factors.map(|factor| meant(sizes, factor));
        if let Some(search) = &search {
            // What browsers cut is made up for, unless that makes letters less even than
            // they may be.
            let letters = search.letters(&best.assignment);
            if solve::spread(&letters, &factors, slices) > limit {
                factors = best.factors;
            }
        }
        let mut assignment = best.assignment;
        let by_line = self.options.minimise == Minimise::Lines && (exact || slices == 1);
        if by_line && !self.fitting.layouts.is_empty() {
            let (terms, layouts) = (&self.terms, &self.fitting.layouts);
            let base = &self.fitting.widths;
            // It goes right up to the limit, and each of its factors is rounded.
            let mut polish = Polish::new(terms, layouts, base, best.looks, limit * 0.99);
            (assignment, factors) = match &search {
                Some(search) if slices > 1 => polish.run(search, assignment, best.factors),
                _ => polish.one_factor(assignment, best.factors),
            };
        }
        let (assignment, factors) = joined(assignment, &factors[..slices]);
        self.measured(&assignment, &factors)
    }

    /// The fit with these slices, every width measured as it will be shaped.
    fn measured(&mut self, assignment: &Assignment, factors: &[f64]) -> WidthsOfStandIn {
        let sizes = self.fitting.layouts.sizes();
        let declared = factors.iter().map(|factor| declared(*factor));
        let declared: Vec<f64> = declared.map(|size| least(sizes, size)).collect();
        let factors: Vec<f64> = declared.iter().map(|size| size / 100.0).collect();
        let shares = self.shares(assignment);
        let base = base_slice(&self.terms, assignment, &shares);
        let slice_of = self.all_characters(assignment, &factors, base);
        let rows = self.terms.rows.iter();
        let pieces: Vec<usize> = rows.map(|row| row.piece).collect();
        let measured = Measure {
            fitting: self.fitting,
            declared: &declared,
            slice_of: &slice_of,
            base,
            whole: self.terms.whole_widths(),
        }
        .pieces(&pieces, &mut self.ruler);
        let mut slices: Vec<Slice> = (0..factors.len())
            .map(|slice| Slice {
                size_adjust: declared[slice],
                range: (slice != base).then(|| {
                    let of_slice = slice_of.iter().filter(|(_, of)| **of == slice);
                    CharacterSet::of(of_slice.map(|(character, _)| u32::from(*character)))
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
            words: measured.words,
            words_left_out: self.fitting.words_in_web_font() - measured.words,
            before: measured.deviation,
            after: measured.deviation,
            breaks_before: None,
            breaks_after: measured.breaks,
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
        let mut slice_of: HashMap<char, usize> = HashMap::default();
        for (character, group) in &self.terms.group_of {
            slice_of.insert(*character, usize::from(assignment.slice_of[*group]));
        }
        if factors.len() > 1 {
            for character in unseen(&self.terms, self.fitting.web, self.local) {
                let leader = terms::leader(character);
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

/// The same with slices of equal size as one.
fn joined(mut assignment: Assignment, factors: &[f64]) -> (Assignment, Vec<f64>) {
    let mut kept: Vec<f64> = Vec::new();
    let mut place = Vec::new();
    for factor in factors {
        let known = kept
            .iter()
            .position(|known| declared(*known) == declared(*factor));
        place.push(known.unwrap_or(kept.len()) as u8);
        if known.is_none() {
            kept.push(*factor);
        }
    }
    for slice in &mut assignment.slice_of {
        *slice = place[usize::from(*slice)];
    }
    assignment.slices = kept.len();
    (assignment, kept)
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

/// A factor as `size-adjust` states it, in % to two decimals.
fn declared(factor: f64) -> f64 {
    (factor * 10_000.0).round() / 100.0
}

/// What `size-adjust` in % comes to at a size in px: browsers cut sizes.
fn effective(size: f32, declared: f64) -> f64 {
    chromium::glyph_size(size, declared) / chromium::glyph_size(size, 100.0)
}

/// The least `size-adjust` in % that comes to the same as `declared` at all `sizes`: engines
/// that do not cut sizes then set text as wide as those that do.
fn least(sizes: &[f32], declared: f64) -> f64 {
    if sizes.is_empty() {
        return declared;
    }
    let same = |tried: f64| {
        let mut sizes = sizes.iter();
        sizes
            .all(|size| chromium::glyph_size(*size, tried) == chromium::glyph_size(*size, declared))
    };
    let hundredth = |value: f64| (value * 100.0).round() / 100.0;
    let mut tried = hundredth(declared - 0.01);
    while tried > 0.0 && same(tried) {
        tried = hundredth(tried - 0.01);
    }
    hundredth(tried + 0.01)
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
            .map(|size| effective(*size, declared(tried)) - factor);
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

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_least_size_that_comes_to_the_same_is_stated() {
        for declared in [97.43, 104.9, 88.12, 100.0, 62.5] {
            let least_size = least(&[16.0, 26.0], declared);
            assert!(
                least_size <= declared && least_size > declared - 0.11,
                "{declared}: {least_size}"
            );
            for size in [16.0, 26.0] {
                assert_eq!(
                    chromium::glyph_size(size, least_size),
                    chromium::glyph_size(size, declared),
                    "{declared} at {size}"
                );
            }
            let less = (least_size * 100.0 - 1.0).round() / 100.0;
            let same = [16.0, 26.0].into_iter().all(|size| {
                chromium::glyph_size(size, less) == chromium::glyph_size(size, declared)
            });
            assert!(!same, "{declared}: {less} would do");
        }
        assert_eq!(least(&[16.0], 100.0), 100.0);
        assert_eq!(least(&[], 97.43), 97.43);
    }
}
