//! Sizes of the tracks of a grid (CSS Grid 2, §12).

use tidy_lattice_documents::page::{Track, TrackSize};

/// The most tracks that fill a row by themselves.
const MOST_REPEATED: usize = 1_000;

/// What an item asks of the tracks that it takes, in px, margins included.
#[derive(Debug, Clone, Copy)]
pub(super) struct Contribution {
    pub start: usize,
    pub span: usize,
    pub least: f64,
    pub most: f64,
    /// What is needed where the content does not count: of items over several tracks
    /// that share what is left (§6.6).
    pub specified: f64,
}

/// How much room there is along an axis.
#[derive(Debug, Clone, Copy)]
pub(super) enum Axis {
    /// As little as will do.
    Least,
    /// As much as is liked.
    Free,
    /// So many px; whether `auto` tracks take what is left.
    Room { room: f64, stretches: bool },
}

/// The stated tracks with `auto-fill` and `auto-fit` counted out for `room` px
/// (§7.2.3.2); `items` are how many there are to place.
pub(super) fn expand(specified: &[Track], room: Option<f64>, gap: f64, items: usize) -> Vec<Track> {
    let mut tracks = Vec::with_capacity(specified.len());
    for track in specified {
        let Some(folds) = track.repeats else {
            tracks.push(track.clone());
            continue;
        };
        let fixed = |size: &TrackSize| match size {
            TrackSize::Fixed(length) => length.px(room),
            _ => None,
        };
        let step = fixed(&track.max)
            .or_else(|| fixed(&track.min))
            .unwrap_or(0.0);
        let others: f64 = specified
            .iter()
            .filter(|other| other.repeats.is_none())
            .map(|other| {
                fixed(&other.max)
                    .or_else(|| fixed(&other.min))
                    .unwrap_or(0.0)
                    + gap
            })
            .sum();
        let count = match room {
            Some(room) if step + gap > 0.0 => ((room - others + gap + 1e-6) / (step + gap))
                .floor()
                .max(1.0),
            _ => 1.0,
        };
        let mut count = (count as usize).min(MOST_REPEATED);
        if folds {
            // Tracks that stay empty fold up.
            count = count.min(items.max(1));
        }
        let one = Track {
            repeats: None,
            ..track.clone()
        };
        tracks.extend(std::iter::repeat_n(one, count));
    }
    tracks
}

/// A track on the way to its size.
#[derive(Debug, Clone, Copy)]
struct Sizing {
    base: f64,
    limit: f64,
}

/// The sizes of `tracks` that hold `items`, `gap` px apart.
pub(super) fn sizes(tracks: &[Track], items: &[Contribution], gap: f64, axis: Axis) -> Vec<f64> {
    let room = match axis {
        Axis::Room { room, .. } => Some(room),
        Axis::Least | Axis::Free => None,
    };
    let gaps = gap * tracks.len().saturating_sub(1) as f64;
    let tracks: Vec<Track> = tracks.iter().map(|track| settled(track, room)).collect();
    let mut sized = intrinsic(&tracks, items, gap, room);
    // Grow evenly up to the limits (§12.6).
    match axis {
        Axis::Least => {}
        Axis::Free => sized.iter_mut().for_each(|track| track.base = track.limit),
        Axis::Room { room, .. } => maximize(&mut sized, room - gaps),
    }
    let factor = |track: &Track| match track.max {
        TrackSize::Share(factor) => f64::from(factor),
        _ => 0.0,
    };
    let factors: Vec<f64> = tracks.iter().map(factor).collect();
    if factors.iter().any(|factor| *factor > 0.0) {
        let one = match axis {
            Axis::Least => 0.0,
            Axis::Free => free_share(&sized, &factors, items, gap),
            Axis::Room { room, .. } => share(&sized, &factors, room - gaps),
        };
        for (track, factor) in sized.iter_mut().zip(&factors) {
            track.base = track.base.max(one * factor);
        }
    }
    if let Axis::Room {
        room,
        stretches: true,
    } = axis
    {
        let left = room - gaps - sized.iter().map(|track| track.base).sum::<f64>();
        let autos = tracks.iter().filter(|track| track.max == TrackSize::Auto);
        let each = left / autos.count().max(1) as f64;
        if left > 0.0 {
            let all = sized.iter_mut().zip(&tracks);
            all.filter(|(_, track)| track.max == TrackSize::Auto)
                .for_each(|(track, _)| track.base += each);
        }
    }
    sized.iter().map(|track| track.base).collect()
}

/// A track whose percentages are settled; without room they are `auto`.
fn settled(track: &Track, room: Option<f64>) -> Track {
    let size = |size: &TrackSize| match size {
        TrackSize::Fixed(length) if length.px(room).is_none() => TrackSize::Auto,
        other => other.clone(),
    };
    Track {
        min: size(&track.min),
        max: size(&track.max),
        repeats: None,
    }
}

/// Sizes by what is in the tracks (§12.4, §12.5).
fn intrinsic(tracks: &[Track], items: &[Contribution], gap: f64, room: Option<f64>) -> Vec<Sizing> {
    let px = |size: &TrackSize| match size {
        TrackSize::Fixed(length) => length.px(room).map(|px| px.max(0.0)),
        _ => None,
    };
    let mut sized: Vec<Sizing> = tracks
        .iter()
        .map(|track| Sizing {
            base: px(&track.min).unwrap_or(0.0),
            limit: px(&track.max).unwrap_or(f64::INFINITY),
        })
        .collect();
    let grows = |track: &Track| !matches!(track.min, TrackSize::Fixed(_) | TrackSize::Share(_));
    let is_flexible = |track: &Track| matches!(track.max, TrackSize::Share(_));
    let mut liked = vec![0.0_f64; tracks.len()];
    for item in items.iter().filter(|item| item.span == 1) {
        let (Some(track), Some(sizing)) = (tracks.get(item.start), sized.get_mut(item.start))
        else {
            continue;
        };
        if grows(track) {
            let needs = if track.min == TrackSize::MaxContent {
                item.most
            } else {
                item.least
            };
            // What is needed is no more than a stated most.
            let most = px(&track.max).unwrap_or(f64::INFINITY);
            let needs = if track.min == TrackSize::Auto {
                needs.min(most)
            } else {
                needs
            };
            sizing.base = sizing.base.max(needs);
        }
        let likes = match &track.max {
            TrackSize::MinContent => item.least,
            TrackSize::FitContent(length) => {
                let most = length.px(room).unwrap_or(f64::INFINITY);
                item.most.min(most.max(item.least))
            }
            _ => item.most,
        };
        liked[item.start] = liked[item.start].max(likes);
    }
    for ((track, sizing), liked) in tracks.iter().zip(&mut sized).zip(&liked) {
        if !matches!(track.max, TrackSize::Fixed(_) | TrackSize::Share(_)) {
            sizing.limit = *liked;
        }
        sizing.limit = sizing.limit.max(sizing.base);
    }
    let mut spanning: Vec<&Contribution> = items.iter().filter(|item| item.span > 1).collect();
    spanning.sort_by_key(|item| item.span);
    for item in spanning {
        let range = item.start.min(tracks.len())..(item.start + item.span).min(tracks.len());
        let flexible = tracks[range.clone()].iter().any(is_flexible);
        let between = gap * range.len().saturating_sub(1) as f64;
        let takes: Vec<usize> = range
            .clone()
            .filter(|number| {
                let track = &tracks[*number];
                grows(track) && (!flexible || is_flexible(track))
            })
            .collect();
        if takes.is_empty() {
            continue;
        }
        let have: f64 = sized[range.clone()].iter().map(|track| track.base).sum();
        let needs = if flexible { item.specified } else { item.least };
        let each = ((needs - between - have) / takes.len() as f64).max(0.0);
        let held: f64 = sized[range].iter().map(|track| track.limit).sum();
        let more = ((item.most - between - held) / takes.len() as f64).max(0.0);
        for number in takes {
            sized[number].base += each;
            if more.is_finite() {
                sized[number].limit += more;
            }
            sized[number].limit = sized[number].limit.max(sized[number].base);
        }
    }
    for (track, sizing) in tracks.iter().zip(&mut sized) {
        if is_flexible(track) {
            sizing.limit = sizing.base;
        }
    }
    sized
}

fn maximize(sized: &mut [Sizing], room: f64) {
    let mut free = room - sized.iter().map(|track| track.base).sum::<f64>();
    for _ in 0..sized.len() {
        let open = |track: &Sizing| track.base + 1e-9 < track.limit;
        let count = sized.iter().filter(|track| open(track)).count();
        if count == 0 || free <= 1e-6 {
            break;
        }
        let each = free / count as f64;
        for track in sized.iter_mut().filter(|track| open(track)) {
            let more = each.min(track.limit - track.base);
            track.base += more;
            free -= more;
        }
    }
}

/// What one `fr` comes to in `room` px (§12.7.1).
fn share(sized: &[Sizing], factors: &[f64], room: f64) -> f64 {
    let mut shares: Vec<bool> = factors.iter().map(|factor| *factor > 0.0).collect();
    // A share is never less than what its track needs.
    for _ in 0..=sized.len() {
        let sum = |wanted: bool, of: &dyn Fn(usize) -> f64| -> f64 {
            let tracks = (0..sized.len()).filter(|track| shares[*track] == wanted);
            tracks.map(of).sum()
        };
        let fixed = sum(false, &|track| sized[track].base);
        let total = sum(true, &|track| factors[track]);
        let one = (room - fixed).max(0.0) / total.max(1.0);
        let short = (0..sized.len())
            .find(|track| shares[*track] && factors[*track] * one + 1e-9 < sized[*track].base);
        match short {
            Some(short) => shares[short] = false,
            None => return one,
        }
    }
    0.0
}

/// What one `fr` comes to where there is no end of room: as much as makes every
/// content fit.
fn free_share(sized: &[Sizing], factors: &[f64], items: &[Contribution], gap: f64) -> f64 {
    let share = sized
        .iter()
        .zip(factors)
        .filter(|(_, factor)| **factor > 0.0);
    let mut one = share
        .map(|(track, factor)| track.base / factor.max(1.0))
        .fold(0.0, f64::max);
    for item in items {
        let range = item.start.min(sized.len())..(item.start + item.span).min(sized.len());
        let total: f64 = factors[range.clone()].iter().sum();
        if total <= 0.0 {
            continue;
        }
        let fixed: f64 = range
            .clone()
            .filter(|track| factors[*track] == 0.0)
            .map(|track| sized[track].base)
            .sum();
        let between = gap * range.len().saturating_sub(1) as f64;
        one = one.max((item.most - between - fixed) / total.max(1.0));
    }
    one
}
