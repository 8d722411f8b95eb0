//! A page as it was foretold beside the page as a browser lays it out.

use std::collections::{BTreeMap, BTreeSet, HashMap, HashSet};

use serde::Serialize;
use tidy_lattice_core::shift::{Foretold, ForetoldBlock, ForetoldElement, Rect};

use super::boxes::Boxes;
use super::difference::{Difference, Differs, Judged, px};
use super::{Measured, MeasuredBlock, ShownFont};

/// The most differences that are told.
const MOST_TOLD: usize = 2_000;

/// How two pages differ.
#[derive(Debug, Clone, Default, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Comparison {
    /// Blocks with lines that both have; of those that are a guess none count.
    pub blocks: usize,
    /// Blocks with text in faces that are not measured, or that the browser picks by
    /// itself; they are not compared, nor is what holds them.
    pub guessed: usize,
    /// Those with another number of lines.
    pub counts_off: usize,
    /// Lines of the blocks whose number of lines is equal.
    pub lines: usize,
    /// Lines of these with another text.
    pub breaks_off: usize,
    /// Lines of these with the same text whose width is off by more than 0.1 %, and
    /// more than a quarter px.
    pub widths_off: usize,
    /// How far the width of such a line is off at most, in %; lines below a quarter px
    /// apart count as equal.
    pub widest_off: f64,
    /// Elements whose number of lines is equal, with all that is in them.
    pub heights: usize,
    /// Those whose height is off by more than the tolerance.
    pub heights_off: usize,
    /// How far a height is off at most, in px.
    pub height_off: f64,
    /// Elements whose place and width are compared, each against what is around and before it.
    pub boxes: usize,
    /// Those that stand elsewhere, or are wider or narrower, by more than the tolerance.
    pub boxes_off: usize,
    /// Elements whose computed line height is compared.
    pub line_heights: usize,
    /// Those whose line height is another.
    pub line_heights_off: usize,
    /// Blocks whose fonts the browser tells.
    pub fonts: usize,
    /// Those that show in other fonts.
    pub fonts_off: usize,
    /// What differs, in the order of the page.
    pub differences: Vec<Difference>,
}

/// Elements whose lines are otherwise, so that their boxes are.
#[derive(Default)]
struct Off {
    /// Some block in them has another number of lines.
    uneven: Vec<usize>,
    /// Lines in them have another width, as what is around them may have, too.
    wider: Vec<usize>,
}

impl Comparison {
    /// Compares a page as foretold with the page as measured.
    pub fn of(foretold: &Foretold, measured: &Measured, judged: Judged) -> Self {
        // Scripts took these away.
        let gone: HashSet<usize> = measured.gone.iter().copied().collect();
        let mut comparison = Comparison::default();
        let off = comparison.blocks(foretold, measured, &gone, judged);
        comparison.elements(foretold, measured, &gone, &off, judged);
        comparison
    }

    /// Compares the lines of all blocks.
    fn blocks(
        &mut self,
        foretold: &Foretold,
        measured: &Measured,
        gone: &HashSet<usize>,
        judged: Judged,
    ) -> Off {
        let blocks: HashMap<usize, &MeasuredBlock> = measured
            .blocks
            .iter()
            .map(|block| (block.number, block))
            .collect();
        let names: HashMap<usize, (&str, u32)> = foretold
            .elements
            .iter()
            .map(|element| (element.number, (element.element.as_str(), element.line)))
            .collect();
        let mut off = Off::default();
        for block in &foretold.blocks {
            let named = names.get(&block.number).copied().unwrap_or(("?", 0));
            if block.guessed {
                self.guessed += 1;
                off.uneven.push(block.number);
                continue;
            }
            if gone.contains(&block.number) {
                off.uneven.push(block.number);
                continue;
            }
            let Some(other) = blocks.get(&block.number) else {
                self.tell(named, Differs::Missing, lines(block), "no lines".to_owned());
                off.uneven.push(block.number);
                continue;
            };
            self.blocks += 1;
            if block.lines.len() != other.lines.len() {
                self.counts_off += 1;
                off.uneven.push(block.number);
                let predicted = format!("{} lines", other.lines.len());
                self.tell(named, Differs::Lines, lines(block), predicted);
                continue;
            }
            let before = self.breaks_off + self.widths_off;
            self.lines(block, other, named, judged.widths);
            if self.breaks_off + self.widths_off > before {
                off.wider.push(block.number);
            }
        }
        off
    }

    /// Compares the boxes of all elements.
    fn elements(
        &mut self,
        foretold: &Foretold,
        measured: &Measured,
        gone: &HashSet<usize>,
        off: &Off,
        judged: Judged,
    ) {
        let holds_lines: HashSet<usize> =
            foretold.blocks.iter().map(|block| block.number).collect();
        let places: HashMap<usize, usize> = measured
            .elements
            .iter()
            .enumerate()
            .map(|(place, element)| (element.number, place))
            .collect();
        let mut boxes = Boxes::new(judged);
        for (place, element) in foretold.elements.iter().enumerate() {
            let named = (element.element.as_str(), element.line);
            if gone.contains(&element.number) {
                continue;
            }
            let Some(other) = places.get(&element.number) else {
                self.tell(
                    named,
                    Differs::Missing,
                    "a box".to_owned(),
                    "none".to_owned(),
                );
                continue;
            };
            let other = &measured.elements[*other];
            self.line_height(element, &other.line_height);
            // What is in an element comes right behind it and lies within it.
            let holds = |number: &usize| {
                foretold.elements[place..]
                    .iter()
                    .find(|inner| inner.number == *number)
                    .is_some_and(|inner| {
                        inner.number == element.number
                            || (inner.rect.y >= element.rect.y - 0.01
                                && inner.rect.bottom() <= element.rect.bottom() + 0.01)
                    })
            };
            let around = |rect: &Rect| {
                let inside = rect.within(element.rect);
                (inside.width - rect.width).abs() < 0.01
                    && (inside.height - rect.height).abs() < 0.01
                    && *rect != element.rect
            };
            if !judged.boxes && !holds_lines.contains(&element.number) {
                continue;
            }
            if off.uneven.iter().any(holds) || foretold.left_out.iter().any(around) {
                boxes.pass(element, other);
                continue;
            }
            self.heights += 1;
            let apart = (element.rect.height - other.height).abs();
            self.height_off = self.height_off.max(apart);
            if apart > judged.height_off {
                self.heights_off += 1;
                let (predicted, seen) = (element.rect.height, other.height);
                let (predicted, seen) =
                    (format!("{} px", px(predicted)), format!("{} px", px(seen)));
                self.tell(named, Differs::Height, predicted, seen);
            }
            if !judged.boxes || off.wider.iter().any(holds) {
                boxes.pass(element, other);
                continue;
            }
            self.boxes += 1;
            let apart = boxes.apart(element, other);
            self.boxes_off += usize::from(!apart.is_empty());
            for (what, predicted, seen) in apart {
                self.tell(named, what, predicted, seen);
            }
        }
    }

    fn line_height(&mut self, element: &ForetoldElement, seen: &str) {
        self.line_heights += 1;
        let px_of = |text: &str| text.parse::<f64>().ok();
        let measured = seen.strip_suffix("px").and_then(px_of);
        let same = match (element.line_height, measured) {
            (None, None) => seen == "normal",
            (Some(predicted), Some(seen)) => (predicted - seen).abs() < 0.05,
            _ => false,
        };
        if !same {
            self.line_heights_off += 1;
            let predicted = element
                .line_height
                .map_or("normal".to_owned(), |predicted| {
                    format!("{} px", px(predicted))
                });
            let named = (element.element.as_str(), element.line);
            self.tell(named, Differs::LineHeight, predicted, seen.to_owned());
        }
    }

    /// Compares the fonts of blocks, where the browser tells them: those that it shows
    /// against those foretold. Blocks that are a guess do not count.
    pub fn compare_fonts(&mut self, foretold: &Foretold, shown: &BTreeMap<usize, Vec<ShownFont>>) {
        for block in foretold.blocks.iter().filter(|block| !block.guessed) {
            let shown = shown.get(&block.number).filter(|_| !block.fonts.is_empty());
            let Some(fonts) = shown else {
                continue;
            };
            self.fonts += 1;
            let seen: BTreeSet<&str> = fonts.iter().map(|font| font.postscript.as_str()).collect();
            let predicted: BTreeSet<&str> = block.fonts.iter().map(String::as_str).collect();
            if seen != predicted {
                self.fonts_off += 1;
                let list =
                    |names: BTreeSet<&str>| names.into_iter().collect::<Vec<&str>>().join(", ");
                let element = foretold
                    .elements
                    .iter()
                    .find(|element| element.number == block.number);
                let named = element.map_or(("?", 0), |one| (one.element.as_str(), one.line));
                let (predicted, seen) = (list(predicted), list(seen));
                self.tell(named, Differs::Fonts, predicted, seen);
            }
        }
    }

    fn lines(
        &mut self,
        block: &ForetoldBlock,
        other: &MeasuredBlock,
        named: (&str, u32),
        widths: bool,
    ) {
        for (line, seen) in block.lines.iter().zip(&other.lines) {
            self.lines += 1;
            if plain(&line.text) != plain(&seen.text) {
                self.breaks_off += 1;
                self.tell(named, Differs::Break, line.text.clone(), seen.text.clone());
                continue;
            }
            let apart = (line.width - seen.width).abs();
            if widths && line.exact && apart > 0.25 {
                let off = apart / seen.width.max(1.0) * 100.0;
                self.widest_off = self.widest_off.max(off);
                if off > 0.1 {
                    self.widths_off += 1;
                    let predicted = format!("{} px of “{}”", px(line.width), line.text);
                    self.tell(
                        named,
                        Differs::Width,
                        predicted,
                        format!("{} px", px(seen.width)),
                    );
                }
            }
        }
    }

    fn tell(&mut self, named: (&str, u32), what: Differs, foretold: String, measured: String) {
        if self.differences.len() < MOST_TOLD {
            self.differences.push(Difference {
                element: named.0.to_owned(),
                line: named.1,
                what,
                foretold,
                measured,
            });
        }
    }

    /// Adds the counts of `other`.
    pub fn add(&mut self, other: &Comparison) {
        self.blocks += other.blocks;
        self.guessed += other.guessed;
        self.counts_off += other.counts_off;
        self.lines += other.lines;
        self.breaks_off += other.breaks_off;
        self.widths_off += other.widths_off;
        self.widest_off = self.widest_off.max(other.widest_off);
        self.heights += other.heights;
        self.heights_off += other.heights_off;
        self.height_off = self.height_off.max(other.height_off);
        self.boxes += other.boxes;
        self.boxes_off += other.boxes_off;
        self.line_heights += other.line_heights;
        self.line_heights_off += other.line_heights_off;
        self.fonts += other.fonts;
        self.fonts_off += other.fonts_off;
        self.differences.extend(other.differences.iter().cloned());
    }
}

fn lines(block: &ForetoldBlock) -> String {
    format!("{} lines", block.lines.len())
}

/// A text as pages have it and as `text-transform` leaves it are alike.
fn plain(text: &str) -> String {
    text.chars()
        .filter(|c| !c.is_whitespace() && !matches!(c, '\u{ad}' | '\u{200b}' | '\u{fffc}'))
        .flat_map(char::to_lowercase)
        // What Turkish makes of i and I.
        .filter(|c| *c != '\u{307}')
        .map(|c| if c == 'ı' { 'i' } else { c })
        .collect()
}
