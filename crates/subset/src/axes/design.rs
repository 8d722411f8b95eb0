//! The design space with its limits: `fvar` and `avar` (OpenType 1.9.1).

use super::AxisLimit;
use crate::CutError;
use crate::bytes::{Object, View};
use crate::tents::Span;

/// An axis as `fvar` has it.
#[derive(Debug, Clone, Copy)]
struct Axis {
    tag: [u8; 4],
    least: f64,
    default: f64,
    most: f64,
    /// Flags, and the number of its name.
    rest: [u8; 4],
}

impl Axis {
    /// The normalised coordinate of a value, before `avar`.
    fn normalised(&self, value: f64) -> f64 {
        let value = value.clamp(self.least, self.most);
        if value < self.default {
            (value - self.default) / (self.default - self.least)
        } else if value > self.default {
            (value - self.default) / (self.most - self.default)
        } else {
            0.0
        }
    }

    /// The value of a normalised coordinate.
    fn value(&self, normalised: f64) -> f64 {
        let side = if normalised < 0.0 {
            self.default - self.least
        } else {
            self.most - self.default
        };
        self.default + normalised * side
    }

    fn limited(&self, limit: &AxisLimit) -> Axis {
        Axis {
            least: limit.from,
            default: self.default.clamp(limit.from, limit.to),
            most: limit.to,
            ..*self
        }
    }
}

/// The nodes of a segment map: from the normalised coordinate to the one that counts.
type Segments = Vec<(f64, f64)>;

fn mapped(segments: &Segments, at: f64) -> f64 {
    let behind = segments.iter().position(|(from, _)| *from >= at);
    match behind {
        Some(0) => segments.first().map_or(at, |(from, to)| to + at - from),
        Some(behind) => {
            let ((from, to), (next, next_to)) = (segments[behind - 1], segments[behind]);
            if next > from {
                to + (next_to - to) * (at - from) / (next - from)
            } else {
                next_to
            }
        }
        None => segments.last().map_or(at, |(from, to)| to + at - from),
    }
}

/// The axes of a font and what is left of them.
pub(crate) struct Design {
    axes: Vec<Axis>,
    limited: Vec<Axis>,
    segments: Vec<Segments>,
    /// By axis, in coordinates that count.
    pub(crate) spans: Vec<Span>,
}

fn fixed(view: View<'_>, at: usize) -> Result<f64, CutError> {
    Ok(f64::from(view.u32(at)? as i32) / 65536.0)
}

fn to_fixed(value: f64) -> u32 {
    (value * 65536.0).round() as i32 as u32
}

/// In steps of 2.14 fixed-point numbers, as renderers have it.
fn stepped(value: f64) -> f64 {
    (value * 16384.0).round() / 16384.0
}

fn axes_of(fvar: View<'_>) -> Result<Vec<Axis>, CutError> {
    let (start, count, size) = (fvar.u16(4)?, fvar.u16(8)?, fvar.u16(10)?);
    let read = |index: usize| {
        let at = usize::from(start) + index * usize::from(size);
        let rest = fvar.tag(at + 16)?;
        let (least, default, most) = (
            fixed(fvar, at + 4)?,
            fixed(fvar, at + 8)?,
            fixed(fvar, at + 12)?,
        );
        Ok(Axis {
            tag: fvar.tag(at)?,
            // Renderers do the same with an axis whose ends contradict its default.
            least: least.min(default),
            default,
            most: most.max(default),
            rest,
        })
    };
    (0..usize::from(count)).map(read).collect()
}

fn segments_of(avar: View<'_>, axes: usize) -> Result<Vec<Segments>, CutError> {
    if avar.u16(0)? != 1 {
        return Err(CutError::NotSupported {
            what: "a variable font whose axes depend on each other (avar 2)",
        });
    }
    let number = |at| Ok::<_, CutError>(f64::from(avar.i16(at)?) / 16384.0);
    let mut at = 8;
    let mut all = Vec::new();
    for _ in 0..axes.min(usize::from(avar.u16(6)?)) {
        let count = usize::from(avar.u16(at)?);
        let nodes = (0..count).map(|node| {
            let at = at + 2 + node * 4;
            Ok((number(at)?, number(at + 2)?))
        });
        let mut nodes = nodes.collect::<Result<Segments, CutError>>()?;
        nodes.sort_by(|(one, _), (other, _)| one.total_cmp(other));
        all.push(nodes);
        at += 2 + count * 4;
    }
    all.resize(axes, Vec::new());
    Ok(all)
}

impl Design {
    /// # Errors
    ///
    /// [`CutError::NoAxis`] where a limit is of no axis, or outside of it.
    pub(crate) fn read(
        fvar: View<'_>,
        avar: Option<View<'_>>,
        limits: &[AxisLimit],
    ) -> Result<Self, CutError> {
        let axes = axes_of(fvar)?;
        let segments = match avar {
            Some(avar) => segments_of(avar, axes.len())?,
            None => vec![Segments::new(); axes.len()],
        };
        let mut limited = axes.clone();
        for limit in limits {
            let axis = (axes.iter()).position(|axis| axis.tag == limit.tag);
            let holds = |axis: &Axis| axis.least <= limit.from && limit.to <= axis.most;
            match axis {
                Some(place) if holds(&axes[place]) => limited[place] = axes[place].limited(limit),
                _ => {
                    return Err(CutError::NoAxis {
                        asked: limit.to_string(),
                        known: (axes.iter())
                            .map(|axis| AxisLimit {
                                tag: axis.tag,
                                from: axis.least,
                                to: axis.most,
                            })
                            .map(|axis| axis.to_string())
                            .collect::<Vec<_>>()
                            .join(", "),
                    });
                }
            }
        }
        let spans = (axes.iter().zip(&limited).zip(&segments))
            .map(|((axis, limited), segments)| {
                let counts =
                    |value: f64| stepped(mapped(segments, stepped(axis.normalised(value))));
                Span {
                    from: counts(limited.least),
                    default: counts(limited.default),
                    to: counts(limited.most),
                }
            })
            .zip(axes.iter().zip(&limited))
            .map(|(span, (axis, limited))| {
                let same = axis.least == limited.least && axis.most == limited.most;
                if same { Span::WHOLE } else { span }
            })
            .collect();
        Ok(Design {
            axes,
            limited,
            segments,
            spans,
        })
    }

    /// The places of the axes that are left.
    fn left(&self) -> impl Iterator<Item = usize> + '_ {
        (0..self.axes.len()).filter(|place| !self.spans[*place].is_pinned())
    }

    /// How many axes are left.
    pub(crate) fn axes_left(&self) -> u16 {
        self.left().count() as u16
    }

    /// The value of an axis at the new default, where it was another before.
    pub(crate) fn new_default(&self, tag: [u8; 4]) -> Option<f64> {
        let place = self.axes.iter().position(|axis| axis.tag == tag)?;
        let default = self.limited[place].default;
        (default != self.axes[place].default).then_some(default)
    }

    /// `fvar` with the axes and the named positions that are left.
    pub(crate) fn fvar(&self, fvar: View<'_>) -> Result<Vec<u8>, CutError> {
        let (start, axes, axis_size) = (
            usize::from(fvar.u16(4)?),
            usize::from(fvar.u16(8)?),
            usize::from(fvar.u16(10)?),
        );
        let (count, size) = (usize::from(fvar.u16(12)?), usize::from(fvar.u16(14)?));
        let mut positions = Vec::new();
        for index in 0..count {
            fvar.spend(axes as u64)?;
            let at = start + axes * axis_size + index * size;
            let mut values = Vec::new();
            let mut holds = true;
            for (place, axis) in self.limited.iter().enumerate() {
                let value = fixed(fvar, at + 4 + place * 4)?;
                holds &= axis.least <= value && value <= axis.most;
                values.push(value);
            }
            if holds {
                // Its PostScript name is for font menus.
                positions.push((fvar.u16(at)?, values));
            }
        }
        let left: Vec<usize> = self.left().collect();
        let mut table = Object::new();
        table.u16(1).u16(0).u16(16).u16(2);
        table.count(left.len()).u16(20);
        table.count(positions.len()).count(4 + left.len() * 4);
        for place in &left {
            let axis = &self.limited[*place];
            table.raw(&axis.tag);
            table.u32(to_fixed(axis.least)).u32(to_fixed(axis.default));
            table.u32(to_fixed(axis.most)).raw(&axis.rest);
        }
        for (name, values) in positions {
            table.u16(name).u16(0);
            for place in &left {
                table.u32(to_fixed(values[*place]));
            }
        }
        table.pack("fvar")
    }

    /// `avar` for the axes that are left; `None` where it would change nothing.
    pub(crate) fn avar(&self) -> Result<Option<Vec<u8>>, CutError> {
        let maps: Vec<Vec<(i16, i16)>> = self.left().map(|place| self.map(place)).collect();
        if maps.iter().flatten().all(|(from, to)| from == to) {
            return Ok(None);
        }
        let mut table = Object::new();
        table.u16(1).u16(0).u16(0).count(maps.len());
        for nodes in maps {
            table.count(nodes.len());
            for (from, to) in nodes {
                table.i16(from).i16(to);
            }
        }
        table.pack("avar").map(Some)
    }

    /// The segment map of an axis, in its new coordinates.
    fn map(&self, place: usize) -> Vec<(i16, i16)> {
        let (axis, limited) = (&self.axes[place], &self.limited[place]);
        let (segments, span) = (&self.segments[place], &self.spans[place]);
        let fixed = |value: f64| (value * 16384.0).round() as i16;
        let mut nodes = vec![(-16384, -16384), (0, 0), (16384, 16384)];
        // The old default bends the way from values to coordinates, too.
        let old = segments.iter().copied();
        for (from, to) in old.chain([(0.0, mapped(segments, 0.0))]) {
            let value = axis.value(from);
            if limited.least < value && value < limited.most {
                let from = fixed(limited.normalised(value));
                nodes.push((from, fixed(span.moved(to))));
            }
        }
        nodes.sort_unstable();
        nodes.dedup_by_key(|(from, _)| *from);
        nodes
    }
}

#[cfg(test)]
mod tests;
