//! Lines filled, one after another, each as full as it gets (CSS Text 4, §5).

use std::ops::Range;

use icu_segmenter::GraphemeClusterSegmenter;
use tidy_lattice_documents::page::{FlowKind, OverflowWrap, TabSize, WordBreak};

use super::Layouter;
use super::paragraph::{Item, ItemKind, Paragraph};
use crate::engine::Engine;
use crate::text::is_blank;

/// A line before it is placed.
#[derive(Debug, Clone)]
pub(super) struct Filled {
    /// Its part of the text, without blanks at the end.
    pub range: Range<usize>,
    /// Where these blanks end: letters are kerned with what hangs behind them.
    pub hang: usize,
    /// The items that are in it, whole or in part.
    pub items: Range<usize>,
    /// Its width in px.
    pub width: f64,
    /// Whether the text made it end.
    pub forced: bool,
    /// Whether it ends in a hyphen that the text does not have, and how wide that
    /// is.
    pub hyphen: Option<f64>,
}

/// Where a line starts.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct LineStart {
    /// The byte of the text.
    pub byte: usize,
    /// The first item that is in it.
    item: usize,
    /// The first place behind its start.
    place: usize,
}

/// Which words may be broken that are too long for a line.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Words {
    /// Those whose style says so.
    AsStyled,
    /// Those that count for the least width (CSS Text 4, §6.2): not for `break-word`.
    Least,
}

/// The most lines that are balanced, in Chromium.
const MOST_BALANCED: usize = 6;

/// How far the pens of one long line may be from the widths of cut lines, in px:
/// kerning at the ends.
const NEAR: f64 = 3.0;

/// How far beyond twice a line's width places are looked at, in px.
const FAR: f64 = 1000.0;

/// How many clusters of such a word are looked at first.
const FEW: usize = 16;

/// How many clusters of a word that breaks anywhere are looked at for one line.
const LONGEST_LINE: usize = 4_096;

impl Layouter<'_, '_> {
    /// Fills lines of `width` px; the first is shorter by `indent`.
    pub fn fill(
        &self,
        paragraph: &Paragraph,
        width: f64,
        indent: f64,
        words: Words,
    ) -> Vec<Filled> {
        let mut lines = Vec::new();
        let mut place = LineStart::default();
        loop {
            let room = if lines.is_empty() {
                width - indent
            } else {
                width
            };
            match self.next_line(paragraph, place, room, words) {
                Some((line, next)) => {
                    lines.push(line);
                    place = next;
                }
                None => return lines,
            }
        }
    }

    /// The line of at most `room` px from `from` on, and where the next starts;
    /// nothing at the end. Every line takes at least one cluster.
    pub fn next_line(
        &self,
        paragraph: &Paragraph,
        from: LineStart,
        room: f64,
        words: Words,
    ) -> Option<(Filled, LineStart)> {
        let LineStart {
            byte,
            item,
            mut place,
        } = from;
        // Elements without text make a line where they have edges (CSS 2.2, §9.4.2).
        let all = paragraph.items.len();
        if paragraph.text.is_empty() && item < all && self.has_lines(paragraph) {
            let line = Filled {
                range: 0..0,
                hang: 0,
                items: 0..all,
                width: self.stretch(paragraph, 0..0, 0, 0..all),
                forced: false,
                hyphen: None,
            };
            let item = all;
            return Some((line, LineStart { byte, item, place }));
        }
        if place >= paragraph.places.len() || byte >= paragraph.text.len() {
            return None;
        }
        let (line, byte) = self.line(paragraph, (byte, item, place), room, words);
        while place < paragraph.places.len() && paragraph.places[place].at <= byte {
            place += 1;
        }
        let mut item = line.items.end;
        // What is cut goes on in the next line.
        while item > line.items.start
            && paragraph.items[item - 1].range.end > byte
            && paragraph.items[item - 1].kind == ItemKind::Text
        {
            item -= 1;
        }
        Some((line, LineStart { byte, item, place }))
    }

    /// The width of what stands in the line from `from` on before byte `at`.
    pub fn width_before(&self, paragraph: &Paragraph, from: LineStart, at: usize) -> f64 {
        let text = paragraph.text[from.byte..at].trim_end_matches(is_blank);
        let end = from.byte + text.len();
        let items = self.items_of(paragraph, from.item, at);
        self.stretch(paragraph, from.byte..end, at, items)
    }

    /// How far the pen is at byte `at` of a line that starts at `from`, blanks before it
    /// included.
    pub fn advance_to(&self, paragraph: &Paragraph, from: LineStart, at: usize) -> f64 {
        let items = self.items_of(paragraph, from.item, at);
        self.stretch(paragraph, from.byte..at, at, items)
    }

    /// The least width, to the nearest px, at which no more lines are needed than at
    /// `width`: what `text-wrap: balance` fills lines to (CSS Text 4, §6.3).
    pub fn balanced(&self, paragraph: &Paragraph, width: f64, indent: f64) -> f64 {
        let count = self.fill(paragraph, width, indent, Words::AsStyled).len();
        let forced = paragraph.places.iter().filter(|place| place.forced).count();
        if !(2..=MOST_BALANCED).contains(&count) || forced > 1 {
            return width;
        }
        let fits = |width: f64| {
            let lines = self.fill(paragraph, width, indent, Words::AsStyled);
            lines.len() <= count && lines.iter().all(|line| line.width <= width + 1e-6)
        };
        let (mut less, mut more) = (width / 2.0, width);
        while more - less > 1.0 {
            let middle = self.cut(f64::midpoint(less, more));
            if fits(middle) {
                more = middle;
            } else {
                less = middle;
            }
        }
        more
    }

    fn line(
        &self,
        paragraph: &Paragraph,
        (start, item, first): (usize, usize, usize),
        room: f64,
        words: Words,
    ) -> (Filled, usize) {
        let places = &paragraph.places;
        let from = self.pen_at(paragraph, start, first);
        // What is that far beyond the line is none of it, whatever kerning does; looking on
        // to the end would take the square of a paragraph's length.
        let far = from + FAR + 2.0 * room.max(0.0);
        let last = (first..places.len())
            .find(|place| places[*place].forced || places[*place].pen > far)
            .unwrap_or(places.len() - 1);
        let candidates = &places[first..=last];
        self.step(candidates.len());
        let near = candidates.partition_point(|place| place.pen - from <= room + NEAR);
        let mut pick = first + near.saturating_sub(1).min(last - first);
        // Sums of units of layout are not exact where these are no powers of two.
        let room = room + 1e-6;
        if places[first].pen > far
            && self.may_break_words(paragraph, item, start, words)
            && let Some(cut) = self.cut_word(paragraph, start, item, places[first].end, room)
        {
            // A word that is that long needs not be measured to its end.
            return (self.cut_line(paragraph, start..cut, item), cut);
        }
        let fits = |pick: usize| self.width(paragraph, start, item, pick) <= room;
        while pick > first && !fits(pick) {
            pick -= 1;
        }
        while pick < last && fits(pick) && fits(pick + 1) {
            pick += 1;
        }
        let place = places[pick];
        let width = self.width(paragraph, start, item, pick);
        if width > room
            && pick == first
            && self.may_break_words(paragraph, item, start, words)
            && let Some(cut) = self.cut_word(paragraph, start, item, place.end, room)
        {
            return (self.cut_line(paragraph, start..cut, item), cut);
        }
        let items = self.items_of(paragraph, item, place.at);
        let line = Filled {
            range: start..place.end.max(start),
            hang: place.at,
            items,
            width,
            forced: place.forced,
            hyphen: place
                .hyphen
                .then(|| self.hyphen(paragraph, item, place.end)),
        };
        (line, place.at)
    }

    /// The line of a word that is cut, whose first item is `first`.
    fn cut_line(&self, paragraph: &Paragraph, range: Range<usize>, first: usize) -> Filled {
        let items = self.items_of(paragraph, first, range.end);
        Filled {
            width: self.stretch(paragraph, range.clone(), range.end, items.clone()),
            hang: range.end,
            range,
            items,
            forced: false,
            hyphen: None,
        }
    }

    /// How far the pen is where a line starts.
    fn pen_at(&self, paragraph: &Paragraph, start: usize, first: usize) -> f64 {
        if start == 0 {
            return 0.0;
        }
        match first.checked_sub(1).map(|before| paragraph.places[before]) {
            Some(before) if before.at == start => {
                // The blanks at the end of the line before are behind its pen.
                before.pen + self.plain_width(paragraph, before.end..start)
            }
            _ => {
                let before = first.checked_sub(1).map(|before| paragraph.places[before]);
                let (at, pen) = before.map_or((0, 0.0), |place| (place.end, place.pen));
                pen + self.plain_width(paragraph, at..start)
            }
        }
    }

    fn plain_width(&self, paragraph: &Paragraph, range: Range<usize>) -> f64 {
        let first = paragraph
            .runs
            .partition_point(|run| run.range.end <= range.start);
        paragraph.runs[first..]
            .iter()
            .take_while(|run| run.range.start < range.end)
            .map(|run| run.pen(range.end) - run.pen(range.start))
            .sum()
    }

    /// The width of the line from `start` to the place `pick`.
    fn width(&self, paragraph: &Paragraph, start: usize, item: usize, pick: usize) -> f64 {
        let place = paragraph.places[pick];
        let items = self.items_of(paragraph, item, place.at);
        let hyphen = if place.hyphen {
            self.hyphen(paragraph, item, place.end)
        } else {
            0.0
        };
        let range = start..place.end.max(start);
        self.stretch(paragraph, range, place.at, items) + hyphen
    }

    /// The items of a line from `first` on that ends before byte `at`.
    pub fn items_of(&self, paragraph: &Paragraph, first: usize, at: usize) -> Range<usize> {
        let items = &paragraph.items[first..];
        let end = paragraph.text.len();
        let inside = |item: &&Item| match item.kind {
            ItemKind::Close => item.range.end <= at,
            ItemKind::Open => item.range.start < at || at == end,
            _ => item.range.start < at,
        };
        let count = items.iter().take_while(inside).count();
        self.step(count);
        first..first + count
    }

    /// The width of `range` where these items are in it, and blanks hang up to `hang`.
    fn stretch(
        &self,
        paragraph: &Paragraph,
        range: Range<usize>,
        hang: usize,
        items: Range<usize>,
    ) -> f64 {
        let mut width = 0.0;
        for item in &paragraph.items[items] {
            width += match item.kind {
                ItemKind::Text => self.text_width(paragraph, item, &range, hang),
                _ if item.range.end <= range.end.max(range.start) || item.range.is_empty() => {
                    self.item_width(paragraph, item, width)
                }
                _ => 0.0,
            };
        }
        width
    }

    /// The width of what of a text is in `range`, behind which blanks hang up to
    /// `hang`.
    pub fn text_width(
        &self,
        paragraph: &Paragraph,
        item: &Item,
        range: &Range<usize>,
        hang: usize,
    ) -> f64 {
        let start = item.range.start.max(range.start);
        let end = item.range.end.min(range.end);
        if start >= end {
            return 0.0;
        }
        let line = range.start..hang.max(range.end);
        let hang = item.range.end.min(hang).max(end);
        let runs = paragraph.runs_in(item, &(start..hang));
        self.step(runs.len());
        let px = runs
            .iter()
            .map(|run| run.width_in_line(start..hang, &line) - run.width(end..hang));
        self.engine().up(px.sum())
    }

    /// The width of what is no text, `before` px behind the start of the line.
    pub fn item_width(&self, _: &Paragraph, item: &Item, before: f64) -> f64 {
        match item.kind {
            ItemKind::Open | ItemKind::Close => self.edge(item),
            ItemKind::Atom => self.atom_width(item.node),
            ItemKind::Tab => {
                let blank = self.width_of(item.node, " ");
                let stop = match self.style(item.node).tab_size {
                    TabSize::Spaces(count) => blank * f64::from(count),
                    TabSize::Px(px) => f64::from(px),
                };
                if stop <= 0.0 {
                    return 0.0;
                }
                // Browsers pass over a stop that is too near: Firefox by half an advance of “0”
                // (CSS Text 3, §4.2), Chromium by half a blank.
                let next = if self.engine() == Engine::Firefox {
                    let nearest = self.width_of(item.node, "0") / 2.0;
                    ((before + nearest) / stop).ceil() * stop
                } else {
                    let next = ((before / stop).floor() + 1.0) * stop;
                    if next - before < blank / 2.0 {
                        next + stop
                    } else {
                        next
                    }
                };
                next - before
            }
            ItemKind::Text | ItemKind::Break => 0.0,
        }
    }

    /// The width of a hyphen behind byte `at` in a line whose first item is `first`.
    fn hyphen(&self, paragraph: &Paragraph, first: usize, at: usize) -> f64 {
        let ends_there = |item: &Item| item.kind == ItemKind::Text && item.range.end >= at;
        let Some(item) = self.first_item(paragraph, first, ends_there) else {
            return 0.0;
        };
        let faces = self.faces(item.node);
        let primary = faces.primary_number();
        let has = primary.is_some_and(|primary| faces.has(primary, '\u{2010}'));
        let sign = if has { "\u{2010}" } else { "-" };
        self.engine().up(self.width_of(item.node, sign))
    }

    /// The width of `text` in the style of `node`.
    pub fn width_of(&self, node: usize, text: &str) -> f64 {
        let span = crate::text::Span {
            range: 0..text.len(),
            faces: self.faces(node),
            language: self.stage.flow.nodes[node].language.clone(),
            rtl: false,
            collapses: false,
            mark: 0,
        };
        let runs = self.setter.runs(text, &[span]);
        runs.iter().map(|run| run.width(0..text.len())).sum()
    }

    /// The first item from `first` on of which this is true.
    fn first_item<'p>(
        &self,
        paragraph: &'p Paragraph,
        first: usize,
        is: impl Fn(&Item) -> bool,
    ) -> Option<&'p Item> {
        let items = &paragraph.items[first..];
        let place = items.iter().position(is);
        self.step(place.unwrap_or(items.len()));
        place.map(|place| &items[place])
    }

    /// Whether the word at byte `at`, in a line whose first item is `first`, may be broken.
    fn may_break_words(
        &self,
        paragraph: &Paragraph,
        first: usize,
        at: usize,
        words: Words,
    ) -> bool {
        let goes_on = |item: &Item| item.kind == ItemKind::Text && item.range.end > at;
        let item = self.first_item(paragraph, first, goes_on);
        item.is_some_and(|item| {
            let style = self.style(item.node);
            style.wraps
                && (style.word_break == WordBreak::BreakAll
                    || match style.overflow_wrap {
                        OverflowWrap::Normal => false,
                        OverflowWrap::BreakWord => words == Words::AsStyled,
                        OverflowWrap::Anywhere => true,
                    })
        })
    }

    /// Where a word that is too long ends, one cluster in at least; nothing where
    /// it has no second.
    fn cut_word(
        &self,
        paragraph: &Paragraph,
        start: usize,
        item: usize,
        end: usize,
        room: f64,
    ) -> Option<usize> {
        let word = &paragraph.text[start..end];
        let clusters = GraphemeClusterSegmenter::new();
        let mut clusters = clusters
            .segment_str(word)
            .filter(|at| *at > 0 && *at < word.len())
            .take(LONGEST_LINE)
            .map(|at| start + at);
        let fits = |cut: &usize| {
            let items = self.items_of(paragraph, item, *cut);
            self.stretch(paragraph, start..*cut, *cut, items) <= room
        };
        // Twice as many each time, as most words are much longer than a line.
        let mut ends: Vec<usize> = Vec::new();
        loop {
            let known = ends.len();
            ends.extend(clusters.by_ref().take(known.max(FEW)));
            if ends.len() == known || ends.last().is_none_or(|last| !fits(last)) {
                let count = ends.partition_point(fits);
                return ends.get(count.saturating_sub(1)).copied();
            }
        }
    }

    /// Whether a paragraph has anything that makes a line.
    pub fn has_lines(&self, paragraph: &Paragraph) -> bool {
        !paragraph.text.is_empty()
            || paragraph.items.iter().any(|item| {
                matches!(item.kind, ItemKind::Open | ItemKind::Close) && self.edge(item) != 0.0
            })
    }

    /// Whether a node is text that a page brings.
    pub fn is_text(&self, node: usize) -> bool {
        matches!(self.stage.flow.nodes[node].kind, FlowKind::Text(..))
    }
}
