//! Sets of characters as ranges, written as `unicode-range` writes them (CSS
//! Fonts 4, §4.5).

use std::fmt::Write as _;

/// Sorted, disjoint ranges of code points, both ends included.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct CharacterSet {
    ranges: Vec<(u32, u32)>,
}

impl CharacterSet {
    /// The set of `code_points`, which may come in any order and repeat.
    pub fn of(code_points: impl IntoIterator<Item = u32>) -> Self {
        let mut ranges: Vec<(u32, u32)> = Vec::new();
        let mut stray = Vec::new();
        for point in code_points {
            match ranges.last_mut() {
                Some((_, end)) if point == *end + 1 => *end = point,
                Some((start, end)) if (*start..=*end).contains(&point) => {}
                Some((_, end)) if point < *end => stray.push(point),
                _ => ranges.push((point, point)),
            }
        }
        ranges.extend(stray.into_iter().map(|point| (point, point)));
        Self::of_ranges(ranges)
    }

    /// The set of ranges, both ends included, in any order.
    pub fn of_ranges(ranges: impl IntoIterator<Item = (u32, u32)>) -> Self {
        let mut ranges: Vec<(u32, u32)> = ranges.into_iter().collect();
        ranges.sort_unstable();
        let mut merged: Vec<(u32, u32)> = Vec::with_capacity(ranges.len());
        for (start, end) in ranges {
            match merged.last_mut() {
                Some((_, last)) if start <= last.saturating_add(1) => *last = (*last).max(end),
                _ => merged.push((start, end)),
            }
        }
        CharacterSet { ranges: merged }
    }

    /// Reads `U+20-7E, U+A0`; `None` where it is not of that form, ranges
    /// descend, or a code point lies beyond U+10FFFF.
    pub fn parse(text: &str) -> Option<Self> {
        let mut ranges: Vec<(u32, u32)> = Vec::new();
        for part in text
            .split(',')
            .map(str::trim)
            .filter(|part| !part.is_empty())
        {
            let part = part
                .strip_prefix("U+")
                .or_else(|| part.strip_prefix("u+"))?;
            let (start, end) = part.split_once('-').unwrap_or((part, part));
            let start = u32::from_str_radix(start, 16).ok()?;
            let end = u32::from_str_radix(end, 16).ok()?;
            if start > end || end > 0x10_ffff || ranges.last().is_some_and(|last| start <= last.1) {
                return None;
            }
            ranges.push((start, end));
        }
        Some(CharacterSet { ranges })
    }

    /// The set as `unicode-range` writes it.
    pub fn css(&self) -> String {
        let mut text = String::new();
        for (index, (start, end)) in self.ranges.iter().enumerate() {
            let between = if index == 0 { "" } else { ", " };
            let _ = if start == end {
                write!(text, "{between}U+{start:X}")
            } else {
                write!(text, "{between}U+{start:X}-{end:X}")
            };
        }
        text
    }

    /// The ranges, in order.
    pub fn ranges(&self) -> &[(u32, u32)] {
        &self.ranges
    }

    /// How many code points there are.
    pub fn len(&self) -> u64 {
        self.ranges
            .iter()
            .map(|(start, end)| u64::from(end - start) + 1)
            .sum()
    }

    /// Whether there are none.
    pub fn is_empty(&self) -> bool {
        self.ranges.is_empty()
    }

    /// Whether `point` is among them.
    pub fn contains(&self, point: u32) -> bool {
        self.position(point).is_some()
    }

    /// Which range `point` is in.
    fn position(&self, point: u32) -> Option<usize> {
        let after = self.ranges.partition_point(|(start, _)| *start <= point);
        let index = after.checked_sub(1)?;
        (point <= self.ranges[index].1).then_some(index)
    }

    /// How many code points come before `point`, which must be in the set.
    pub fn rank(&self, point: u32) -> Option<usize> {
        let index = self.position(point)?;
        let before: u64 = self.ranges[..index]
            .iter()
            .map(|(start, end)| u64::from(end - start) + 1)
            .sum();
        Some(before as usize + (point - self.ranges[index].0) as usize)
    }

    /// The code points, in order.
    pub fn iter(&self) -> impl Iterator<Item = u32> + '_ {
        self.ranges.iter().flat_map(|(start, end)| *start..=*end)
    }

    /// How many code points of the range `start` to `end` are in the set.
    pub fn count_in(&self, start: u32, end: u32) -> u64 {
        let first = self.ranges.partition_point(|(_, last)| *last < start);
        self.ranges[first..]
            .iter()
            .take_while(|(from, _)| *from <= end)
            .map(|(from, to)| u64::from((*to).min(end) - (*from).max(start)) + 1)
            .sum()
    }
}
