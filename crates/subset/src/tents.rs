//! How much a variation counts along an axis, and what is left of that where the axis ends
//! earlier (OpenType 1.9.1, "Font Variations Overview", "Algorithm for interpolation of
//! instance values").

use crate::CutError;

/// What is less is nothing: half a unit of a 2.14 fixed-point number.
const NOTHING: f64 = 1.0 / 32768.0;

/// Start, peak and end, in normalised coordinates.
pub(crate) type Tent = [f64; 3];

/// An axis in its old normalised coordinates: where it starts, where its default is, and
/// where it ends from now on. A pinned axis starts and ends at its default.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Span {
    pub(crate) from: f64,
    pub(crate) default: f64,
    pub(crate) to: f64,
}

impl Span {
    /// An axis that stays as it is.
    pub(crate) const WHOLE: Span = Span {
        from: -1.0,
        default: 0.0,
        to: 1.0,
    };

    pub(crate) fn is_pinned(&self) -> bool {
        self.from == self.to
    }

    /// The new coordinate of an old one.
    pub(crate) fn moved(&self, old: f64) -> f64 {
        let old = old.clamp(self.from, self.to);
        if old > self.default {
            (old - self.default) / (self.to - self.default)
        } else if old < self.default {
            (old - self.default) / (self.default - self.from)
        } else {
            0.0
        }
    }
}

/// Whether the axis has no say in the variation.
fn is_ignored([start, peak, end]: Tent) -> bool {
    peak == 0.0 || start > peak || peak > end || (start < 0.0 && end > 0.0)
}

/// How much a variation counts at `at`, 0 to 1.
pub(crate) fn scalar(tent: Tent, at: f64) -> f64 {
    let [start, peak, end] = tent;
    if is_ignored(tent) || at == peak {
        1.0
    } else if at <= start || at >= end {
        0.0
    } else if at < peak {
        (at - start) / (peak - start)
    } else {
        (end - at) / (end - peak)
    }
}

/// What a variation is along the limited axis: sums of tents in its new coordinates, each
/// with the part of the deltas that counts there; `None` counts everywhere.
///
/// # Errors
///
/// [`CutError::NotSupported`] where the variation jumps beside what is the default now.
pub(crate) fn limited(tent: Tent, span: &Span) -> Result<Vec<(Option<Tent>, f64)>, CutError> {
    if is_ignored(tent) {
        return Ok(vec![(None, 1.0)]);
    }
    let [start, peak, end] = tent;
    let at_default = scalar(tent, span.default);
    let mut parts = vec![(None, at_default)];
    for to in [span.to, span.from] {
        if to == span.default {
            continue;
        }
        let sign = (to - span.default).signum();
        // Outwards from the default, where the line of the tent bends.
        let mut bends: Vec<f64> = [start, peak, end]
            .into_iter()
            .filter(|bend| (bend - span.default) * sign > 0.0 && (to - bend) * sign > 0.0)
            .collect();
        bends.sort_by(|one, other| (one * sign).total_cmp(&(other * sign)));
        bends.dedup();
        bends.insert(0, span.default);
        bends.push(to);
        // A tent that starts or ends at its peak jumps there.
        let (inner, outer) = if sign > 0.0 {
            (start == peak, end == peak)
        } else {
            (end == peak, start == peak)
        };
        let slopes = at_default != 0.0 && bends.contains(&peak);
        if slopes && (inner && peak != span.default || outer && peak != to) {
            return Err(CutError::NotSupported {
                what: "a variable font whose outlines jump inside of these limits",
            });
        }
        for (number, bend) in bends.iter().enumerate().skip(1) {
            let part = scalar(tent, *bend) - at_default;
            let before = if inner && *bend == peak {
                *bend
            } else {
                bends[number - 1]
            };
            let behind = match bends.get(number + 1) {
                Some(behind) if !(outer && *bend == peak) => *behind,
                _ => *bend,
            };
            let mut made = [before, *bend, behind].map(|old| span.moved(old));
            if sign < 0.0 {
                made.reverse();
            }
            parts.push((Some(made), part));
        }
    }
    parts.retain(|(_, part)| part.abs() > NOTHING);
    Ok(parts)
}

/// The tents of a variation along the axes that are left.
pub(crate) type Region = Vec<[i16; 3]>;

/// A region on all axes, in 2.14 fixed-point numbers: on those that are left, the regions
/// that it falls into, each with its part of the deltas; `None` counts everywhere.
///
/// # Errors
///
/// As [`limited`]; [`CutError::TooMuchWork`] where it falls into hundreds.
pub(crate) fn limited_region(
    region: &[[i16; 3]],
    spans: &[Span],
) -> Result<Vec<(Option<Region>, f64)>, CutError> {
    /// No real font comes near.
    const MOST: usize = 256;
    let mut all: Vec<(Region, f64)> = vec![(Vec::new(), 1.0)];
    for (axis, span) in spans.iter().enumerate() {
        // What the region does not say of an axis does not depend on it.
        let tent = region.get(axis).copied().unwrap_or_default();
        let parts = if *span == Span::WHOLE {
            vec![(Some(tent), 1.0)]
        } else {
            let tent = tent.map(|value| f64::from(value) / 16384.0);
            let fixed = |value: f64| (value * 16384.0).round() as i16;
            let parts = limited(tent, span)?.into_iter();
            parts
                .map(|(tent, part)| (tent.map(|tent| tent.map(fixed)), part))
                .collect()
        };
        let mut next = Vec::new();
        for (known, whole) in &all {
            for (tent, part) in &parts {
                let mut region = known.clone();
                if !span.is_pinned() {
                    region.push(tent.unwrap_or_default());
                }
                next.push((region, whole * part));
            }
        }
        if next.len() > MOST {
            return Err(CutError::TooMuchWork);
        }
        all = next;
    }
    let nowhere = |region: &Region| region.iter().all(|[_, peak, _]| *peak == 0);
    Ok(all
        .into_iter()
        .map(|(region, part)| ((!nowhere(&region)).then_some(region), part))
        .collect())
}

#[cfg(test)]
mod tests;
