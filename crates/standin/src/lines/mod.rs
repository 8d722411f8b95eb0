//! Line metrics that come out equal in whole pixels.
//!
//! Engines round: an override that looks exact still moves a line by 1 px
//! wherever the web font's own product with the size falls near .5. So the
//! values are searched. The web font's rule is *pinned*: it states its own line
//! metrics, moved by a little to where no product falls near a border; each
//! stand-in's overrides are then the values that agree with the pinned rule at
//! most sizes, found as the point that lies in most of the intervals that the
//! sizes allow. Candidates are judged with the line models of both engines
//! ([`chromium`], [`tidy_lattice_layout::firefox`]).

mod firefox;

use serde::Serialize;
use tidy_lattice_documents::style::Overrides;
use tidy_lattice_glyphs::font::LineMetrics;
use tidy_lattice_layout::chromium;
use tidy_lattice_layout::firefox::{AdjustedLines, Design};

use self::firefox::{FirefoxLines, Values};
use crate::score::Score;
use crate::sizes::{Sizes, largest_even_factor};

/// Where candidates for a pinned value lie, in % of an em.
#[derive(Debug, Clone, Copy)]
struct Reach {
    /// How far they may be from the font's own value.
    far: f64,
    /// How far they are from each other.
    step: f64,
    /// How many are tried together with those for the other values.
    kept: usize,
}

/// The usual reach: at most 0.24 px at 96 px.
const NEAR: Reach = Reach {
    far: 0.25,
    step: 0.005,
    kept: 24,
};
/// For faces that Firefox does not set evenly with a near descent, because
/// their underlines need different room.
const FAR: Reach = Reach {
    far: 2.0,
    step: 0.02,
    kept: 200,
};
/// What to fit: one web font, its stand-ins, the sizes that matter.
#[derive(Debug, Clone, PartialEq)]
pub struct LineRequest {
    /// The web font's own metrics.
    pub web: LineMetrics,
    /// What Firefox takes from the web font itself.
    pub web_design: Design,
    /// The stand-ins.
    pub stand_ins: Vec<ResizedFace>,
    /// The sizes in use, in px; they outweigh all others.
    pub sizes: Vec<f32>,
    /// Faces beside the web font whose lines follow it, without a say in how it
    /// is pinned.
    pub beside: Vec<ResizedFace>,
    /// Whether the web font's rule may state metrics too.
    pub pin: bool,
    /// How much taller than its own the web font's line may be pinned, in em.
    pub taller: f64,
}

/// A face that stands in at another size.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ResizedFace {
    /// `size-adjust` in %.
    pub size_adjust: f64,
    /// What Firefox takes from the face itself.
    pub design: Design,
}

/// The overrides found, and where they do not agree.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct LineFit {
    /// What the web font's own rule states; `None` where it is left alone.
    pub pinned: Option<Overrides>,
    /// Whether the line gap was folded, half into the ascent and half into the
    /// descent, because Firefox makes even lines only so.
    pub gap_folded: bool,
    /// Sizes in px at which the pinned rule changes the height of the web
    /// font's own lines in Chromium.
    pub web_lines_changed: Vec<f32>,
    /// How much taller than its own the web font's line is pinned, in em.
    pub taller: f64,
    /// One entry a stand-in, in the order of the request.
    pub stand_ins: Vec<StandInLines>,
    /// One entry a face beside the web font, in the order of the request; empty
    /// where it is not pinned.
    pub beside: Vec<StandInLines>,
}

/// The line metrics of one stand-in.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct StandInLines {
    /// What the stand-in's rule states.
    pub overrides: Overrides,
    /// Sizes in px at which its lines differ from the web font's in Chromium.
    pub off_in_chromium: Vec<f32>,
    /// The same in Firefox, with the sizes at which single precision decides;
    /// `None` where the web font is not pinned, as the two faces then go
    /// different ways there.
    pub off_in_firefox: Option<Vec<f32>>,
}

/// Searches the overrides for `request`.
pub fn fit_lines(request: &LineRequest) -> LineFit {
    let sizes = Sizes::new(&request.sizes);
    if !request.pin {
        return unpinned(request, &sizes);
    }
    let web = request.web;
    let plain = [web.ascent, web.descent, web.line_gap];
    let half = web.line_gap / 2.0;
    let folded = [web.ascent + half, web.descent + half, 0.0];
    let room = room_lacking(request);
    // The line's parts, whether its gap is folded, and how much taller it is.
    let mut ways = vec![(plain, false, NEAR, 0.0), (folded, true, NEAR, 0.0)];
    // Without room for the em no descent helps; a little less than asked for does at
    // nearly all sizes, and what there is at the sizes in use does there.
    if room <= 0.01 || has_room_in_use(request) {
        ways.extend([(plain, false, FAR, 0.0), (folded, true, FAR, 0.0)]);
    }
    let more = room.min(request.taller);
    if more > 0.0 {
        let half = more / 2.0;
        let taller = [folded[0] + half, folded[1] + half, 0.0];
        ways.push((taller, web.line_gap > 0.0, NEAR, more));
        ways.push((taller, web.line_gap > 0.0, FAR, more));
    }
    let mut best: Option<(LineFit, Score)> = None;
    for (targets, gap_folded, reach, taller) in ways {
        if best.as_ref().is_some_and(|(_, score)| score.is_even()) {
            break;
        }
        if gap_folded && web.line_gap == 0.0 {
            continue;
        }
        let bar = best.as_ref().map(|(_, score)| *score);
        let found = pinned(request, &sizes, targets, gap_folded, reach, bar);
        if let Some((fit, score)) = found
            && bar.is_none_or(|bar| score.rank() < bar.rank())
        {
            best = Some((LineFit { taller, ..fit }, score));
        }
    }
    // Every part has at least the unmoved candidate.
    let mut fit = best.expect("the first way has no bar").0;
    if let Some(pinned) = fit.pinned {
        if fit.taller > 0.0 {
            let extent = (pinned.ascent + pinned.descent + pinned.line_gap) / 100.0;
            fit.taller = (extent - (web.ascent + web.descent + web.line_gap)).max(0.0);
        }
        fit.beside = follow(request, &sizes, &pinned);
    }
    fit
}

/// How much larger than it is Firefox may take the em of a line to be, in em: half a pixel at
/// 8 px, by which it is rounded up, and a little more.
pub const EM_ROUNDED_UP: f64 = 0.07;

/// How much taller the line must be so that Firefox, which makes no line lower
/// than the em, has room for the largest stand-in, in em.
fn room_lacking(request: &LineRequest) -> f64 {
    let web = request.web;
    let sizes = request
        .stand_ins
        .iter()
        .map(|face| face.size_adjust / 100.0);
    sizes.fold(0.0, f64::max) + EM_ROUNDED_UP - (web.ascent + web.descent + web.line_gap)
}

/// Whether Firefox has room for the largest stand-in at the sizes in use.
fn has_room_in_use(request: &LineRequest) -> bool {
    let web = request.web;
    let line = web.ascent + web.descent + web.line_gap;
    let most = largest_even_factor(line, &request.sizes);
    let mut faces = request.stand_ins.iter();
    faces.all(|face| face.size_adjust / 100.0 <= most)
}

/// The lines of the faces beside the web font, which is `pinned`.
fn follow(request: &LineRequest, sizes: &Sizes, pinned: &Overrides) -> Vec<StandInLines> {
    let web = AdjustedLines {
        design: request.web_design,
        size_adjust: 100.0,
        overrides: *pinned,
    };
    let value = |percent: f64, size_adjust: f64| {
        let goal: Vec<i32> = sizes
            .px
            .iter()
            .map(|size| chromium::overridden_part(chromium::used_size(*size, 100.0), percent))
            .collect();
        agreeing(sizes, &goal, size_adjust, percent / (size_adjust / 100.0))
    };
    let faces = request.beside.iter();
    faces
        .map(|face| {
            let overrides = Overrides {
                ascent: value(pinned.ascent, face.size_adjust),
                descent: value(pinned.descent, face.size_adjust),
                line_gap: value(pinned.line_gap, face.size_adjust),
            };
            beside(sizes, &web, face, overrides)
        })
        .collect()
}

/// Where lines of `face` differ from those of `web`.
fn beside(
    sizes: &Sizes,
    web: &AdjustedLines,
    face: &ResizedFace,
    overrides: Overrides,
) -> StandInLines {
    let stand_in = AdjustedLines {
        design: face.design,
        size_adjust: face.size_adjust,
        overrides,
    };
    StandInLines {
        overrides,
        off_in_chromium: sizes.filter(|size| {
            chromium::overridden_line(size, 100.0, &web.overrides)
                != chromium::overridden_line(size, face.size_adjust, &overrides)
        }),
        off_in_firefox: Some(sizes.filter(|size| !web.agrees(&stand_in, size))),
    }
}

/// One value of the pinned rule and the stand-ins' values that go with it.
#[derive(Debug, Clone)]
struct Candidate {
    /// The pinned rule's value and each stand-in's.
    values: Values,
    /// How it does in Chromium.
    score: Score,
}

/// The best pinned rule near `targets` (ascent, descent, gap in em); `None` where none is
/// better than `bar`.
fn pinned(
    request: &LineRequest,
    sizes: &Sizes,
    targets: [f64; 3],
    gap_folded: bool,
    descent_reach: Reach,
    bar: Option<Score>,
) -> Option<(LineFit, Score)> {
    let natural = [
        request.web.ascent,
        request.web.descent,
        request.web.line_gap,
    ];
    let [ascents, descents, gaps] = [0, 1, 2].map(|part| {
        let natural = if gap_folded {
            targets[part]
        } else {
            natural[part]
        };
        let reach = if part == 1 { descent_reach } else { NEAR };
        candidates(sizes, targets[part], natural, &request.stand_ins, reach)
    });
    let gaps = &gaps[..gaps.len().min(4)];
    let lines = FirefoxLines::new(request, sizes);
    let mut hard = Vec::new();
    let mut few_descents = descents.as_slice();
    let kept: Vec<Candidate>;
    if descents.len() > NEAR.kept {
        // A wide choice of descents is first tried with few ascents; the best of
        // them are then tried with all.
        let few = &ascents[..ascents.len().min(4)];
        let most = NEAR.kept / 2;
        let mut ranked: Vec<(Score, &Candidate)> = Vec::new();
        for descent in &descents {
            let last = ranked.get(most - 1).map(|(score, _)| *score);
            let bar = [bar, last].into_iter().flatten().min_by(Score::compare);
            let parts = [few, std::slice::from_ref(descent), gaps];
            if let Some((_, score)) = best_parts(request, sizes, &lines, parts, bar, &mut hard) {
                ranked.push((score, descent));
                ranked.sort_by(|a, b| a.0.compare(&b.0));
                ranked.truncate(most);
            }
        }
        kept = ranked
            .into_iter()
            .map(|(_, descent)| descent.clone())
            .collect();
        few_descents = &kept;
    }
    let parts = [ascents.as_slice(), few_descents, gaps];
    let (parts, score) = best_parts(request, sizes, &lines, parts, bar, &mut hard)?;
    Some((together(request, sizes, gap_folded, parts), score))
}

/// The best of all ways to put one candidate for each part (ascent, descent, gap)
/// together; `None` where none is better than `bar`. `hard` as in [`scored`].
fn best_parts<'c>(
    request: &LineRequest,
    sizes: &Sizes,
    lines: &FirefoxLines,
    [ascents, descents, gaps]: [&'c [Candidate]; 3],
    mut bar: Option<Score>,
    hard: &mut Vec<(usize, usize)>,
) -> Option<([&'c Candidate; 3], Score)> {
    let mut best = None;
    for gap in gaps {
        for (ascent, descent) in ascents
            .iter()
            .flat_map(|ascent| descents.iter().map(move |descent| (ascent, descent)))
        {
            let parts = [ascent, descent, gap];
            if let Some(score) = scored(request, sizes, lines, parts, bar.as_ref(), hard) {
                bar = Some(score);
                best = Some((parts, score));
            }
        }
    }
    best
}

/// How good one candidate for each part is; `None` where that is no better than `bar`.
/// `hard` are the stand-ins and sizes, by number, to be looked at first.
fn scored(
    request: &LineRequest,
    sizes: &Sizes,
    lines: &FirefoxLines,
    parts: [&Candidate; 3],
    bar: Option<&Score>,
    hard: &mut Vec<(usize, usize)>,
) -> Option<Score> {
    let [ascent, descent, gap] = parts;
    let mut score = ascent.score.plus(descent.score).plus(gap.score);
    let better = |score: &Score| bar.is_none_or(|bar| score.compare(bar).is_lt());
    // What follows can only add to what is off, so it need not be finished.
    (score.web_named, score.web_others) = (0, 0);
    if !better(&score) {
        return None;
    }
    let pinned = pinned_by(parts);
    (score.web_named, score.web_others) =
        sizes.count(|index| web_line_changes(request, &pinned, sizes.px[index]));
    if !better(&score) {
        return None;
    }
    let values = parts.map(|part| &part.values);
    let mut score_of_hard = score;
    for (index, size) in &*hard {
        if !lines.agree(values, *index, *size) {
            score_of_hard.add_off(sizes.one(*size));
        }
    }
    if !better(&score_of_hard) {
        return None;
    }
    for index in 0..request.stand_ins.len() {
        for size in 0..sizes.px.len() {
            if lines.agree(values, index, size) {
                continue;
            }
            score.add_off(sizes.one(size));
            if !better(&score) {
                note_hard(hard, (index, size));
                return None;
            }
        }
    }
    Some(score)
}

/// Keeps the stand-ins and sizes at which lines were off last: those are looked at first,
/// as most candidates fail there.
fn note_hard(hard: &mut Vec<(usize, usize)>, place: (usize, usize)) {
    /// How many are kept.
    const KEPT: usize = 12;
    hard.retain(|known| *known != place);
    hard.insert(0, place);
    hard.truncate(KEPT);
}

/// What the web font's rule states with one candidate for each part.
fn pinned_by([ascent, descent, gap]: [&Candidate; 3]) -> Overrides {
    Overrides {
        ascent: ascent.values.percent[0],
        descent: descent.values.percent[0],
        line_gap: gap.values.percent[0],
    }
}

/// What a stand-in's rule states with one candidate for each part.
fn overrides_of([ascent, descent, gap]: [&Candidate; 3], stand_in: usize) -> Overrides {
    Overrides {
        ascent: ascent.values.percent[stand_in + 1],
        descent: descent.values.percent[stand_in + 1],
        line_gap: gap.values.percent[stand_in + 1],
    }
}

/// Whether the pinned rule changes the height of the web font's own lines in Chromium.
fn web_line_changes(request: &LineRequest, pinned: &Overrides, size: f32) -> bool {
    chromium::overridden_line(size, 100.0, pinned).height()
        != chromium::natural_line(size, &request.web).height()
}

/// Puts one candidate for each part together and lists the sizes that are off.
fn together(
    request: &LineRequest,
    sizes: &Sizes,
    gap_folded: bool,
    parts: [&Candidate; 3],
) -> LineFit {
    let pinned = pinned_by(parts);
    let web = AdjustedLines {
        design: request.web_design,
        size_adjust: 100.0,
        overrides: pinned,
    };
    let stand_ins = request
        .stand_ins
        .iter()
        .enumerate()
        .map(|(index, face)| beside(sizes, &web, face, overrides_of(parts, index)))
        .collect();
    LineFit {
        pinned: Some(pinned),
        gap_folded,
        web_lines_changed: sizes.filter(|size| web_line_changes(request, &pinned, size)),
        taller: 0.0,
        stand_ins,
        beside: Vec::new(),
    }
}

/// Candidates for one part around `target` em, best in Chromium first; `own`
/// is the font's own value in em.
fn candidates(
    sizes: &Sizes,
    target: f64,
    natural: f64,
    faces: &[ResizedFace],
    reach: Reach,
) -> Vec<Candidate> {
    let centre = decimals(target * 100.0, 3);
    let far = (reach.far / reach.step) as i32;
    let steps = if target == 0.0 { 0..=0 } else { -far..=far };
    let mut found: Vec<Candidate> = steps
        .map(|step| decimals(centre + f64::from(step) * reach.step, 3))
        .filter(|pinned| *pinned >= 0.0)
        .map(|pinned| {
            let goal: Vec<i32> = sizes
                .px
                .iter()
                .map(|size| chromium::overridden_part(chromium::used_size(*size, 100.0), pinned))
                .collect();
            let web_lines = sizes.count(|i| {
                goal[i] != chromium::natural_part(chromium::used_size(sizes.px[i], 100.0), natural)
            });
            let mut score = Score {
                web_named: web_lines.0,
                web_others: web_lines.1,
                moved: (pinned - target * 100.0).abs(),
                ..Score::default()
            };
            let mut values = vec![pinned];
            values.extend(faces.iter().map(|ResizedFace { size_adjust, .. }| {
                let value = agreeing(sizes, &goal, *size_adjust, pinned / (size_adjust / 100.0));
                score.add_off(
                    sizes.count(|i| stand_in_part(sizes.px[i], *size_adjust, value) != goal[i]),
                );
                value
            }));
            Candidate {
                values: Values::new(values),
                score,
            }
        })
        .collect();
    found.sort_by(|a, b| a.score.compare(&b.score));
    found.truncate(reach.kept);
    found
}

fn stand_in_part(size: f32, size_adjust: f64, percent: f64) -> i32 {
    chromium::overridden_part(chromium::used_size(size, size_adjust), percent)
}

/// The override in % whose product rounds to `goal` px at most sizes; where
/// several do, the nearest to `ideal`.
fn agreeing(sizes: &Sizes, goal: &[i32], size_adjust: f64, ideal: f64) -> f64 {
    let ideal = decimals(ideal, 4);
    let all_agree =
        (0..goal.len()).all(|i| stand_in_part(sizes.px[i], size_adjust, ideal) == goal[i]);
    if all_agree || ideal == 0.0 {
        return ideal;
    }
    // Each size allows an interval of overrides. At each border the weight of
    // the intervals that hold there changes.
    let mut borders: Vec<(f64, bool, u64)> = Vec::with_capacity(goal.len() * 2);
    for (index, goal) in goal.iter().enumerate() {
        let used = f64::from(chromium::used_size(sizes.px[index], size_adjust));
        if used <= 0.0 {
            continue;
        }
        let weight = sizes.weight(index);
        borders.push(((f64::from(*goal) - 0.5) / used * 100.0, true, weight));
        borders.push(((f64::from(*goal) + 0.5) / used * 100.0, false, weight));
    }
    borders.sort_by(|a, b| a.0.total_cmp(&b.0).then(a.1.cmp(&b.1)));
    let mut weight = 0;
    let mut best: (u64, f64, f64) = (0, f64::INFINITY, ideal);
    for pair in borders.windows(2) {
        let (from, opens, by) = pair[0];
        if opens {
            weight += by;
        } else {
            weight -= by;
        }
        let to = pair[1].0;
        // Stay clear of the borders, where single precision decides.
        let clear = 2e-5;
        if to - from < 2.0 * clear {
            continue;
        }
        let value = decimals(ideal.clamp(from + clear, to - clear), 5);
        let distance = (value - ideal).abs();
        if (std::cmp::Reverse(weight), distance) < (std::cmp::Reverse(best.0), best.1) {
            best = (weight, distance, value);
        }
    }
    best.2.max(0.0)
}

/// Stand-ins for a web font whose rule states nothing: only Chromium's lines
/// can be met.
fn unpinned(request: &LineRequest, sizes: &Sizes) -> LineFit {
    let web = request.web;
    let stand_ins = request
        .stand_ins
        .iter()
        .map(|ResizedFace { size_adjust, .. }| {
            let [ascent, descent, line_gap] = [web.ascent, web.descent, web.line_gap].map(|em| {
                let goal: Vec<i32> = sizes
                    .px
                    .iter()
                    .map(|size| chromium::natural_part(chromium::used_size(*size, 100.0), em))
                    .collect();
                agreeing(sizes, &goal, *size_adjust, em * 10_000.0 / size_adjust)
            });
            let overrides = Overrides {
                ascent,
                descent,
                line_gap,
            };
            StandInLines {
                overrides,
                off_in_chromium: sizes.filter(|size| {
                    chromium::natural_line(size, &web)
                        != chromium::overridden_line(size, *size_adjust, &overrides)
                }),
                off_in_firefox: None,
            }
        })
        .collect();
    LineFit {
        pinned: None,
        gap_folded: false,
        web_lines_changed: Vec::new(),
        taller: 0.0,
        stand_ins,
        beside: Vec::new(),
    }
}

fn decimals(value: f64, places: i32) -> f64 {
    let scale = 10f64.powi(places);
    (value * scale).round() / scale
}
