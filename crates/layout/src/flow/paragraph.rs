//! What stands in the lines of a box: its text with blanks collapsed, the edges of
//! the elements in it, and what is set like a letter.

use std::ops::Range;
use std::sync::Arc;

use icu_properties::CodePointMapData;
use icu_properties::props::EastAsianWidth;
use tidy_lattice_documents::page::{Bidi, FlowKind, Hyphens, WhiteSpaceCollapse};
use unicode_bidi::{BidiInfo, Level};

use super::Layouter;
use crate::Engine;
use crate::text::{BreakRules, Run, Span, is_blank, patterns, places, points};

/// Stands for what is set like a letter.
const ATOM: char = '\u{fffc}';

/// What stands in the lines of a box.
pub(super) struct Paragraph {
    /// The node whose lines these are.
    pub owner: usize,
    /// The text.
    pub text: Arc<str>,
    /// What it is made of, in order.
    pub items: Vec<Item>,
    /// The text in runs.
    pub runs: Vec<Run>,
    /// Where lines may or must end, in order; the end is the last.
    pub places: Vec<Place>,
    /// Bidirectional levels by byte; empty where all is from left to right.
    pub levels: Vec<Level>,
    /// Whether the direction of the whole is from right to left.
    pub rtl: bool,
    /// Floats in it: the byte of the text that each stands before.
    pub floats: Vec<(usize, usize)>,
    /// The same of what is out of flow, and would stand here.
    pub outs: Vec<(usize, usize)>,
}

impl Paragraph {
    /// The runs of a text that have any of `range`.
    pub fn runs_in(&self, item: &Item, range: &Range<usize>) -> &[Run] {
        let runs = &self.runs[item.runs.clone()];
        let first = runs.partition_point(|run| run.range.end <= range.start);
        let runs = &runs[first..];
        &runs[..runs.partition_point(|run| run.range.start < range.end)]
    }
}

/// A part of a paragraph.
#[derive(Debug, Clone)]
pub(super) struct Item {
    /// What it is.
    pub kind: ItemKind,
    /// The node.
    pub node: usize,
    /// Its part of the text, in bytes.
    pub range: Range<usize>,
    /// Of a text, its runs.
    pub runs: Range<usize>,
}

/// What a part is.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum ItemKind {
    /// Text.
    Text,
    /// A tabulator that is kept.
    Tab,
    /// The beginning of an element.
    Open,
    /// Its end.
    Close,
    /// What is set like a letter.
    Atom,
    /// The end of a line.
    Break,
}

/// Where a line may end.
#[derive(Debug, Clone, Copy)]
pub(super) struct Place {
    /// The byte that the next line starts at.
    pub at: usize,
    /// Where what shows ends: before the blanks that hang.
    pub end: usize,
    /// Whether the line must end.
    pub forced: bool,
    /// Whether a hyphen shows.
    pub hyphen: bool,
    /// How far the pen is at `end`, were all one line.
    pub pen: f64,
}

impl<'s, 'a> Layouter<'s, 'a> {
    /// The paragraph of these nodes in `owner`.
    pub fn paragraph(&self, owner: usize, nodes: &[usize]) -> Arc<Paragraph> {
        let key = nodes.first().copied().unwrap_or(owner);
        if let Some(known) = self.paragraphs.borrow().get(&key) {
            return known.clone();
        }
        let paragraph = Arc::new(self.collect(owner, nodes));
        self.paragraphs.borrow_mut().insert(key, paragraph.clone());
        paragraph
    }

    fn collect(&self, owner: usize, nodes: &[usize]) -> Paragraph {
        let mut text = Collector {
            layouter: self,
            text: String::new(),
            items: Vec::new(),
            blank: true,
            controls: false,
            floats: Vec::new(),
            outs: Vec::new(),
        };
        for node in nodes {
            text.node(*node);
        }
        self.trim(&mut text);
        let Collector {
            text,
            mut items,
            controls,
            floats,
            outs,
            ..
        } = text;
        let style = self.style(owner);
        let rtl = match style.bidi {
            Bidi::Plaintext => {
                unicode_bidi::get_base_direction(text.as_str()) == unicode_bidi::Direction::Rtl
            }
            _ => style.rtl,
        };
        let any_rtl = rtl || controls || !text.is_ascii();
        let mut levels = if any_rtl {
            let base = if rtl { Level::rtl() } else { Level::ltr() };
            BidiInfo::new(&text, Some(base)).levels
        } else {
            Vec::new()
        };
        if levels.iter().all(Level::is_ltr) {
            levels.clear();
        }
        items = split_at_levels(items, &levels);
        let spans = self.spans(&items, &levels);
        let runs = self.setter.runs(&text, &spans);
        let mut from = 0;
        for item in items.iter_mut().filter(|item| item.kind == ItemKind::Text) {
            while from < runs.len() && runs[from].range.end <= item.range.start {
                from += 1;
            }
            let count = runs[from..]
                .iter()
                .take_while(|run| run.range.start < item.range.end)
                .count();
            item.runs = from..from + count;
        }
        let mut paragraph = Paragraph {
            owner,
            text: Arc::from(text),
            items,
            runs,
            places: Vec::new(),
            levels,
            rtl,
            floats,
            outs,
        };
        paragraph.places = self.find_places(owner, &paragraph);
        paragraph
    }

    fn spans(&self, items: &[Item], levels: &[Level]) -> Vec<Span<'a, 's>> {
        let mut mark = 0;
        let mut spans = Vec::new();
        for item in items {
            match item.kind {
                ItemKind::Text => {
                    let node = &self.stage.flow.nodes[item.node];
                    spans.push(Span {
                        range: item.range.clone(),
                        faces: self.faces(item.node),
                        language: node.language.clone(),
                        rtl: levels
                            .get(item.range.start)
                            .is_some_and(|level| level.is_rtl()),
                        collapses: self.style(item.node).white_space_collapse
                            == WhiteSpaceCollapse::Collapse,
                        mark,
                    });
                }
                ItemKind::Open | ItemKind::Close => {
                    if self.edge(item) != 0.0 || !item.range.is_empty() {
                        mark += 1;
                    }
                }
                ItemKind::Tab | ItemKind::Atom | ItemKind::Break => mark += 1,
            }
        }
        spans
    }

    /// The width of an element's edge in px: margin, border and padding; those of
    /// percentages are of the viewport here, which is a guess.
    pub fn edge(&self, item: &Item) -> f64 {
        let whole = f64::from(self.stage.viewport.width);
        let (inner, margin) = (self.inner(item.node, whole), self.margin(item.node, whole));
        let start = (item.kind == ItemKind::Open) != self.style(item.node).rtl;
        if start {
            inner.left + margin.left
        } else {
            inner.right + margin.right
        }
    }

    /// The item that byte `at` is in.
    fn style_at<'p>(&self, items: &'p [Item], at: usize) -> Option<&'p Item> {
        let place = items.partition_point(|item| item.range.end <= at);
        items.get(place).filter(|item| item.range.contains(&at))
    }

    /// The innermost node that both of these are in, or are.
    fn around_both(&self, one: usize, other: usize) -> usize {
        // Parents come before their children.
        let (mut one, mut other) = (one, other);
        while one != other {
            let later = one.max(other);
            let Some(parent) = self.parents[later] else {
                return later;
            };
            (one, other) = (one.min(other), parent);
        }
        one
    }

    /// The faces that the texts of a paragraph are set in, by PostScript name.
    pub fn fonts(&self, paragraph: &Paragraph) -> Vec<(usize, &str)> {
        // A blank at the start or the end collapses to nothing (CSS Text 4, §4.1.2).
        let text = &paragraph.text;
        let goes = |item: &Item, range: &Range<usize>| {
            let of_blanks = |part: &str| part.chars().all(is_blank);
            self.style(item.node).white_space_collapse == WhiteSpaceCollapse::Collapse
                && of_blanks(&text[range.clone()])
                && (of_blanks(&text[range.start..]) || of_blanks(&text[..range.end]))
        };
        let texts = paragraph.items.iter();
        texts
            .filter(|item| item.kind == ItemKind::Text)
            .flat_map(|item| {
                let faces = self.faces(item.node);
                paragraph.runs[item.runs.clone()]
                    .iter()
                    .filter(move |run| !goes(item, &run.range))
                    .filter_map(|run| Some((item.node, faces.postscript(run.face?)?)))
            })
            .collect()
    }

    /// How many characters of a paragraph are set in what is not measured, or only in width
    /// where its lines count, or in what its style does not ask for.
    pub fn guessed(&self, paragraph: &Paragraph) -> usize {
        let texts = paragraph.items.iter();
        texts
            .filter(|item| item.kind == ItemKind::Text)
            .map(|item| {
                let faces = self.faces(item.node);
                paragraph.runs[item.runs.clone()]
                    .iter()
                    .map(|run| {
                        let start = run.range.start.max(item.range.start);
                        let end = run.range.end.min(item.range.end);
                        let text = &paragraph.text[start..end];
                        let asked = run.face.filter(|face| faces.is_asked(*face));
                        let shown = text
                            .chars()
                            .filter(|c| tidy_lattice_glyphs::text::is_shown(*c));
                        let lines = run.face.is_none_or(|face| faces.knows_lines(face));
                        shown
                            .filter(|c| {
                                !lines
                                    || !asked.is_some_and(|face| {
                                        faces.has(face, *c) || !(self.stage.installed)(*c)
                                    })
                            })
                            .count()
                    })
                    .sum::<usize>()
            })
            .sum()
    }

    fn find_places(&self, owner: usize, paragraph: &Paragraph) -> Vec<Place> {
        let text = &paragraph.text;
        let items = &paragraph.items;
        let style = self.style(owner);
        let rules = BreakRules {
            engine: self.engine(),
            language: self.stage.flow.nodes[owner].language.as_deref(),
            word: style.word_break,
            line: style.line_break,
        };
        // Each with whether a hyphen is put there.
        let plain = places(text, rules).into_iter().map(|at| (at, false));
        let parting = self.parting(paragraph).into_iter().map(|at| (at, true));
        let mut allowed: Vec<(usize, bool)> = plain.chain(parting).collect();
        allowed.sort_unstable();
        allowed.dedup_by_key(|(at, _)| *at);
        let mut forced: Vec<usize> = items
            .iter()
            .filter(|item| item.kind == ItemKind::Break)
            .map(|item| item.range.end)
            .collect();
        forced.push(text.len());
        forced.dedup();
        let mut found: Vec<Place> = Vec::with_capacity(allowed.len() + 1);
        let mut next_forced = forced.into_iter().peekable();
        let mut put = |at: usize, forced: bool, parts: bool| {
            let last = text[..at].chars().next_back().unwrap_or(' ');
            let before = at - last.len_utf8().min(at);
            if !forced && let Some(item) = self.style_at(items, before) {
                let style = self.style(item.node);
                // Between two elements it is that around both which decides (CSS Text 4, §5.1), but
                // for blanks; in Chromium the first may allow it, too.
                let wraps = if is_blank(last) {
                    style.wraps
                } else {
                    let behind = self.style_at(items, at).unwrap_or(item);
                    let around = self.style(self.around_both(item.node, behind.node));
                    around.wraps || style.wraps && self.engine() != Engine::Firefox
                };
                if !wraps || (last == '\u{ad}' && style.hyphens == Hyphens::None) {
                    return;
                }
            }
            let mut end = at;
            while let Some(last) = text[..end].chars().next_back().filter(|c| is_blank(*c)) {
                let before = end - last.len_utf8();
                let style = self
                    .style_at(items, before)
                    .map(|item| self.style(item.node));
                let hangs = last == '\n'
                    || style.is_none_or(|style| match style.white_space_collapse {
                        WhiteSpaceCollapse::Collapse | WhiteSpaceCollapse::PreserveBreaks => true,
                        WhiteSpaceCollapse::Preserve => style.wraps,
                        WhiteSpaceCollapse::BreakSpaces => false,
                    });
                if !hangs {
                    break;
                }
                end = before;
            }
            found.push(Place {
                at,
                end,
                forced,
                hyphen: !forced && (parts || last == '\u{ad}'),
                pen: 0.0,
            });
        };
        for (at, parts) in allowed {
            while let Some(forced) = next_forced.next_if(|forced| *forced <= at) {
                put(forced, true, false);
            }
            put(at, false, parts);
        }
        next_forced.for_each(|forced| put(forced, true, false));
        found.dedup_by(|later, earlier| {
            let same = later.at == earlier.at;
            earlier.forced |= same && later.forced;
            same
        });
        self.pens(paragraph, &mut found);
        found
    }

    /// Takes away the blank at the end of a paragraph, which browsers do before letters are
    /// kerned with it; Firefox kerns words by themselves.
    fn trim(&self, collected: &mut Collector<'_, 's, 'a>) {
        let Collector {
            text,
            items,
            floats,
            outs,
            ..
        } = collected;
        let collapses = |item: &Item| {
            let style = self.style(item.node).white_space_collapse;
            matches!(
                style,
                WhiteSpaceCollapse::Collapse | WhiteSpaceCollapse::PreserveBreaks
            )
        };
        let end = text.len();
        let last = (items.iter().rev()).find(|item| !item.range.is_empty());
        let is_text = last.is_some_and(|item| {
            item.kind == ItemKind::Text && item.range.end == end && collapses(item)
        });
        if self.engine() == Engine::Firefox || !is_text || !text.ends_with(' ') || end == 1 {
            return;
        }
        text.pop();
        let end = end - 1;
        for item in items {
            item.range = item.range.start.min(end)..item.range.end.min(end);
        }
        // What stands behind the blank stands at the end now.
        for (at, _) in floats.iter_mut().chain(outs) {
            *at = (*at).min(end);
        }
    }

    /// Where words may be parted, in bytes. Only Firefox has the same patterns everywhere.
    fn parting(&self, paragraph: &Paragraph) -> Vec<usize> {
        let mut found = Vec::new();
        if self.engine() != Engine::Firefox {
            return found;
        }
        for item in &paragraph.items {
            let style = self.style(item.node);
            if item.kind != ItemKind::Text || style.hyphens != Hyphens::Auto {
                continue;
            }
            let language = self.stage.flow.nodes[item.node].language.as_deref();
            if let Some(language) = patterns(language) {
                let start = item.range.start;
                let of_item = points(&paragraph.text[item.range.clone()], language);
                found.extend(of_item.into_iter().map(|at| start + at));
            }
        }
        found
    }

    /// How far the pen is at each place.
    fn pens(&self, paragraph: &Paragraph, places: &mut [Place]) {
        let mut pen = 0.0;
        let mut next = 0;
        for item in &paragraph.items {
            if item.kind == ItemKind::Text {
                for run in &paragraph.runs[item.runs.clone()] {
                    let (start, end) = (
                        run.range.start.max(item.range.start),
                        run.range.end.min(item.range.end),
                    );
                    let from = run.pen(start);
                    while next < places.len() && places[next].end <= end {
                        places[next].pen = pen + (run.pen(places[next].end) - from).max(0.0);
                        next += 1;
                    }
                    pen += run.pen(end) - from;
                }
            } else {
                pen += self.item_width(paragraph, item, 0.0);
            }
            while next < places.len() && places[next].end <= item.range.end {
                places[next].pen = pen;
                next += 1;
            }
        }
        for place in &mut places[next..] {
            place.pen = pen;
        }
    }
}

/// Texts cut where the direction changes.
fn split_at_levels(items: Vec<Item>, levels: &[Level]) -> Vec<Item> {
    if levels.is_empty() {
        return items;
    }
    let mut split = Vec::with_capacity(items.len());
    for item in items {
        if item.kind != ItemKind::Text {
            split.push(item);
            continue;
        }
        let mut start = item.range.start;
        for at in item.range.clone() {
            if levels[at] != levels[start] {
                split.push(Item {
                    range: start..at,
                    ..item.clone()
                });
                start = at;
            }
        }
        split.push(Item {
            range: start..item.range.end,
            ..item.clone()
        });
    }
    split
}

struct Collector<'c, 's, 'a> {
    layouter: &'c Layouter<'s, 'a>,
    text: String,
    items: Vec<Item>,
    /// Whether a blank that collapses comes to nothing here.
    blank: bool,
    /// Whether there are characters that set directions.
    controls: bool,
    floats: Vec<(usize, usize)>,
    outs: Vec<(usize, usize)>,
}

impl Collector<'_, '_, '_> {
    fn push(&mut self, kind: ItemKind, node: usize, start: usize) {
        self.items.push(Item {
            kind,
            node,
            range: start..self.text.len(),
            runs: 0..0,
        });
    }

    fn node(&mut self, node: usize) {
        let inner = &self.layouter.stage.flow.nodes[node];
        let letter = matches!(&inner.kind, FlowKind::Element(tag) if tag == "::first-letter");
        if letter && self.layouter.engine() != Engine::Chromium {
            // Firefox makes its box as high as the letter.
            let owner = self.layouter.parents[node].unwrap_or(node);
            self.layouter.leave_out(owner, "::first-letter");
        }
        if self.layouter.is_out(node) {
            if self.layouter.stands_where_it_is(node) {
                self.outs.push((self.text.len(), node));
            }
            return;
        }
        if self.layouter.floats(node) {
            self.floats.push((self.text.len(), node));
            return;
        }
        match &inner.kind {
            FlowKind::Text(text, _) => self.text(node, text, inner.boxes.white_space_collapse),
            FlowKind::Break => {
                let start = self.text.len();
                self.text.push('\n');
                self.push(ItemKind::Break, node, start);
                self.blank = true;
            }
            FlowKind::Marker(_) => {}
            FlowKind::Element(_)
                if inner.boxes.display == tidy_lattice_documents::page::Display::Inline =>
            {
                self.layouter.note(node);
                let rtl = inner.boxes.rtl;
                let (open, close) = match inner.boxes.bidi {
                    Bidi::Normal => ("", ""),
                    Bidi::Isolate if rtl => ("\u{2067}", "\u{2069}"),
                    Bidi::Isolate => ("\u{2066}", "\u{2069}"),
                    Bidi::Plaintext => ("\u{2068}", "\u{2069}"),
                    Bidi::Embed if rtl => ("\u{202b}", "\u{202c}"),
                    Bidi::Embed => ("\u{202a}", "\u{202c}"),
                    Bidi::Override if rtl => ("\u{2068}\u{202e}", "\u{202c}\u{2069}"),
                    Bidi::Override => ("\u{2068}\u{202d}", "\u{202c}\u{2069}"),
                };
                self.controls |= !open.is_empty();
                let start = self.text.len();
                self.text.push_str(open);
                self.push(ItemKind::Open, node, start);
                if matches!(&inner.kind, FlowKind::Element(tag) if tag == "wbr") {
                    self.text(node, "\u{200b}", WhiteSpaceCollapse::Preserve);
                }
                for child in inner.children.clone() {
                    self.node(child);
                }
                let start = self.text.len();
                self.text.push_str(close);
                self.push(ItemKind::Close, node, start);
            }
            FlowKind::Element(_)
                if inner.boxes.display == tidy_lattice_documents::page::Display::Contents =>
            {
                for child in inner.children.clone() {
                    self.node(child);
                }
            }
            _ => {
                let start = self.text.len();
                self.text.push(ATOM);
                self.push(ItemKind::Atom, node, start);
                self.blank = false;
            }
        }
    }

    fn text(&mut self, node: usize, text: &str, white_space_collapse: WhiteSpaceCollapse) {
        let mut start = self.text.len();
        let widths = CodePointMapData::<EastAsianWidth>::new();
        let wide = |c: char| {
            matches!(
                widths.get(c),
                EastAsianWidth::Fullwidth | EastAsianWidth::Halfwidth | EastAsianWidth::Wide
            ) && !('\u{1100}'..='\u{11ff}').contains(&c)
                && !('\u{ac00}'..='\u{d7ff}').contains(&c)
        };
        let mut characters = text.chars().peekable();
        while let Some(character) = characters.next() {
            let blank = matches!(character, ' ' | '\t' | '\n' | '\r' | '\u{c}');
            if !blank {
                self.text.push(character);
                self.blank = false;
                continue;
            }
            let line_end = character == '\n';
            match white_space_collapse {
                WhiteSpaceCollapse::Collapse => {
                    let mut broken = line_end;
                    while let Some(next) =
                        characters.next_if(|c| matches!(c, ' ' | '\t' | '\n' | '\r' | '\u{c}'))
                    {
                        broken |= next == '\n';
                    }
                    // A line break between wide letters leaves no blank (CSS Text
                    // 4, §3.1.2).
                    let before = self.text.chars().next_back().is_some_and(wide);
                    let behind = characters.peek().copied().is_some_and(wide);
                    if !(self.blank || (broken && before && behind)) {
                        self.text.push(' ');
                        self.blank = true;
                    }
                }
                _ if line_end => {
                    if start < self.text.len() {
                        self.push(ItemKind::Text, node, start);
                    }
                    let at = self.text.len();
                    self.text.push('\n');
                    self.push(ItemKind::Break, node, at);
                    start = self.text.len();
                    self.blank = true;
                }
                WhiteSpaceCollapse::PreserveBreaks => {
                    if !self.blank {
                        self.text.push(' ');
                        self.blank = true;
                    }
                }
                _ if character == '\t' => {
                    if start < self.text.len() {
                        self.push(ItemKind::Text, node, start);
                    }
                    let at = self.text.len();
                    self.text.push('\t');
                    self.push(ItemKind::Tab, node, at);
                    start = self.text.len();
                    self.blank = false;
                }
                _ => {
                    self.text.push(' ');
                    self.blank = false;
                }
            }
        }
        if start < self.text.len() {
            self.push(ItemKind::Text, node, start);
        }
    }
}
