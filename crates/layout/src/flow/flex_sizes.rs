//! Sizes of items along a line of a flexible box (CSS Flexbox 1, §9.2, §9.7).

use tidy_lattice_documents::page::Length;

use super::boxes::Part;
use super::{Given, Layouter, Room};

/// An item on the way to its size.
pub(super) struct FlexItem {
    pub part: Part,
    /// The size along the line before anything gives or takes, margins apart.
    pub base: f64,
    pub least: f64,
    pub most: f64,
    pub margins: f64,
    pub size: f64,
    /// Padding and border along the line.
    pub edges: f64,
    /// How much it grows and shrinks.
    pub factors: (f64, f64),
}

impl FlexItem {
    /// The size before anything gives or takes, within its limits.
    pub fn hypothetical(&self) -> f64 {
        self.within(self.base)
    }

    /// The least goes before the most.
    fn within(&self, size: f64) -> f64 {
        size.min(self.most).max(self.least)
    }
}

/// The length of a line of items of these sizes, with margins and gaps.
pub(super) fn length_of(line: &[FlexItem], gap: f64, size: impl Fn(&FlexItem) -> f64) -> f64 {
    let gaps = gap * line.len().saturating_sub(1) as f64;
    let items = line.iter().map(|item| size(item) + item.margins);
    items.sum::<f64>() + gaps
}

impl Layouter<'_, '_> {
    /// An item of a row before anything gives or takes.
    pub fn flex_item(&self, owner: usize, part: Part, content: Room) -> FlexItem {
        match &part {
            Part::Block(node) | Part::Float(node) | Part::Out(node) => {
                let style = self.style(*node);
                let edges = self.inner(*node, content.width).across();
                let margins = self.margin(*node, content.width).across();
                let whole = Some(content.width);
                let basis = match &style.flex.basis {
                    Length::Auto => &style.width.preferred,
                    other => other,
                };
                let picture = !self.is_element(*node);
                let (least, most) = if picture {
                    let given = Given::default();
                    let width = self.atom_size(*node, Some(content), given).0;
                    (width, width)
                } else {
                    self.extent(*node)
                };
                let base = match basis {
                    Length::MinContent => least,
                    other => self
                        .definite_length(*node, other, whole, edges)
                        .unwrap_or(most),
                };
                // What an item needs is its least size, unless it says otherwise
                // (§4.5).
                let floor = match self.definite_length(*node, &style.width.min, whole, edges) {
                    Some(specified) => specified,
                    None if style.clips && !picture => edges,
                    None => match self.definite_length(*node, &style.width.preferred, whole, edges)
                    {
                        Some(width) => width.min(least),
                        None => least,
                    },
                };
                let ceiling = self.definite_length(*node, &style.width.max, whole, edges);
                let ceiling = ceiling.unwrap_or(f64::MAX);
                // A stated least goes before the most.
                let least = if style.width.min == Length::Auto {
                    floor.min(ceiling)
                } else {
                    floor
                };
                FlexItem {
                    base,
                    least,
                    most: ceiling,
                    margins,
                    size: base,
                    edges,
                    factors: (f64::from(style.flex.grow), f64::from(style.flex.shrink)),
                    part,
                }
            }
            Part::Inline(nodes) => {
                let (least, most) = self.inline_extent(owner, nodes);
                FlexItem {
                    base: most,
                    least,
                    most: f64::MAX,
                    margins: 0.0,
                    size: most,
                    edges: 0.0,
                    factors: (0.0, 1.0),
                    part,
                }
            }
        }
    }

    /// Gives and takes (§9.7).
    pub fn flex_sizes(&self, line: &mut [FlexItem], width: f64, gap: f64) {
        let outer = length_of(line, gap, |_| 0.0);
        let grows = length_of(line, gap, FlexItem::hypothetical) < width;
        let factor = |item: &FlexItem| {
            if grows {
                item.factors.0
            } else {
                // Padding and border do not shrink (§9.7).
                item.factors.1 * (item.base - item.edges).max(0.0)
            }
        };
        let mut frozen = vec![false; line.len()];
        for item in line.iter_mut() {
            item.size = item.base;
        }
        // Every turn freezes one at least.
        for _ in 0..=line.len() {
            let used: f64 = line
                .iter()
                .zip(&frozen)
                .map(|(item, frozen)| if *frozen { item.size } else { item.base })
                .sum();
            let free = width - outer - used;
            let total: f64 = line
                .iter()
                .zip(&frozen)
                .filter(|(_, frozen)| !**frozen)
                .map(|(item, _)| factor(item))
                .sum();
            let plain: f64 = line
                .iter()
                .zip(&frozen)
                .filter(|(_, frozen)| !**frozen)
                .map(|(item, _)| if grows { item.factors.0 } else { 1.0 })
                .sum();
            // Factors that sum up to less than one take a part of the room only.
            let free = if grows && plain < 1.0 {
                free * plain
            } else {
                free
            };
            let mut violation = 0.0;
            let mut wishes = Vec::with_capacity(line.len());
            for (item, frozen) in line.iter().zip(&frozen) {
                if *frozen {
                    wishes.push((item.size, 0.0));
                    continue;
                }
                let share = if total > 0.0 {
                    factor(item) / total
                } else {
                    0.0
                };
                let wish = item.base + free * share;
                let size = item.within(wish);
                violation += size - wish;
                wishes.push((size, size - wish));
            }
            let mut changed = false;
            for ((item, frozen), (size, off)) in line.iter_mut().zip(&mut frozen).zip(wishes) {
                if *frozen {
                    continue;
                }
                item.size = size;
                if violation == 0.0
                    || (violation > 0.0 && off > 0.0)
                    || (violation < 0.0 && off < 0.0)
                {
                    *frozen = true;
                    changed = true;
                }
            }
            if !changed || frozen.iter().all(|frozen| *frozen) {
                break;
            }
        }
        for item in line {
            item.size = self.cut(item.size);
        }
    }
}
