//! Lines made of what was filled into them: how high each is, and where its parts
//! stand (CSS 2.2, §10.8; CSS Inline 3, §3; UAX #9, L2).
//!
//! As Chromium does it in standards mode: every line starts from a strut of the
//! block's first available face; every element in the line adds a strut of its own;
//! faces that fill in for others count only where `line-height` is `normal`.

use std::iter::Peekable;
use std::ops::Range;
use std::slice;

use tidy_lattice_documents::page::{
    Align, Control, Display, FlowKind, LineHeight, Position, Vertical,
};
use unicode_bidi::Level;

use super::floats::Around;
use super::laid::{Laid, LaidLine, LaidPiece, LaidText};
use super::lines::{Filled, LineStart, Words};
use super::paragraph::{ItemKind, Paragraph};
use super::{Given, Layouter, Room};
use crate::{Engine, LineParts};

/// An element in a line, and what it adds to the height.
struct InLine {
    /// The node.
    node: usize,
    /// How far its baseline is below that of the line, in px.
    shift: f64,
    /// The extent of what is in it, around its baseline.
    above: f64,
    below: f64,
    /// Whether it stands at the top or the bottom of the line instead.
    edge: Option<Vertical>,
}

/// Ascent and descent of the font that Firefox sets bullets in, in em: what first lines
/// of list items in two fonts at 93 sizes have in common.
const BULLET: (f64, f64) = (0.8, 0.04);

/// How far `sub` is below and `super` above the baseline in Firefox 153, in em of the element
/// around.
const LOWERED: f64 = 0.2;
const RAISED: f64 = 0.34;

/// Where a line stands, in px from the corner of its box.
#[derive(Clone, Copy)]
struct LinePlace {
    top: f64,
    from: f64,
    width: f64,
    indent: f64,
    /// Whether it is the last before the end, or before a forced break.
    last: bool,
    /// Whether a bullet before it makes it higher.
    marked: bool,
}

/// Lines that are set one below the other, as far as they are.
struct Column<'a> {
    owner: usize,
    paragraph: &'a Paragraph,
    room: Room,
    /// Its left and right edge, in px from those that the floats count from.
    edges: (f64, f64),
    /// How high a line without text is, in px.
    strut: f64,
    /// How wide lines beside no float are at most, in px.
    most: f64,
    /// What the next line is indented by, in px.
    indent: f64,
    /// Where the next line stands, in px, and what it begins with.
    top: f64,
    start: LineStart,
    lines: Vec<LaidLine>,
    /// What is set like a letter, floats, and where what is out of the flow would stand.
    atoms: Vec<Laid>,
    /// The elements that a line before has begun.
    open: Vec<usize>,
    floats: Among<'a>,
    outs: Among<'a>,
}

/// What is out of the flow of a text: the byte it stands at, and its node.
type Among<'a> = Peekable<slice::Iter<'a, (usize, usize)>>;

/// A line beside floats.
struct Beside {
    line: Filled,
    /// What the next line begins with, and whether there is none.
    next: LineStart,
    end: bool,
    /// From where to where the floats leave room.
    band: (f64, f64),
    /// Floats that stand below the line, as they do not fit beside it.
    below: Vec<usize>,
}

/// What stands in a line: the number of its item, its width in px, and the element around
/// it, a number in the line's list of them.
type Standing = (usize, f64, usize);

/// The lines of a box, what is set like a letter in them, how high they are, and
/// their first and last baseline.
pub(super) type Lines = ((LaidText, Vec<Laid>), f64, (f64, f64));

impl Layouter<'_, '_> {
    /// Lays `nodes` out in lines of the content's width, beside floats, of which some
    /// may be among the nodes; nothing where nothing shows.
    pub fn lines_of(
        &self,
        owner: usize,
        nodes: &[usize],
        content: Room,
        around: &mut Around<'_>,
    ) -> Option<Lines> {
        let paragraph = self.paragraph(owner, nodes);
        if !self.has_lines(&paragraph) {
            return None;
        }
        let width = content.width;
        let room = Room {
            width,
            height: content.height,
        };
        for item in &paragraph.items {
            if item.kind == ItemKind::Atom {
                let laid = self.atom(item.node, room);
                self.atoms.borrow_mut().insert(item.node, laid);
            }
        }
        let style = self.style(owner);
        let indent = self.cut(style.indent.px(Some(width)).unwrap_or(0.0));
        let most = if style.balanced && paragraph.floats.is_empty() && around.floats.is_empty() {
            self.balanced(&paragraph, width, indent)
        } else {
            width
        };
        let (above, below) = self.strut(owner);
        let mut column = Column {
            owner,
            paragraph: &paragraph,
            room,
            edges: (around.x, around.x + width),
            strut: above + below,
            most,
            indent,
            top: 0.0,
            start: LineStart::default(),
            lines: Vec::new(),
            atoms: Vec::new(),
            open: Vec::new(),
            floats: paragraph.floats.iter().peekable(),
            outs: paragraph.outs.iter().peekable(),
        };
        while let Some(beside) = self.line_beside(&mut column, around) {
            self.put(&mut column, beside, around);
            column.indent = 0.0;
        }
        for (_, float) in column.floats {
            let laid = self.float(*float, room, (0.0, column.top), around);
            column.atoms.push(laid);
        }
        let lines = column.lines;
        let baselines = (
            lines.first().map_or(0.0, |line| line.baseline),
            lines.last().map_or(0.0, |line| line.baseline),
        );
        let text = LaidText {
            text: paragraph.text.clone(),
            lines,
            left: 0.0,
            width,
        };
        Some(((text, column.atoms), column.top, baselines))
    }

    /// The next line of a column, broken where the floats around leave room for it; nothing
    /// after the last.
    fn line_beside(&self, column: &mut Column<'_>, around: &mut Around<'_>) -> Option<Beside> {
        let (paragraph, start) = (column.paragraph, column.start);
        while let Some((_, float)) = column.floats.next_if(|(at, _)| *at <= start.byte) {
            let laid = self.float(*float, column.room, (0.0, column.top), around);
            column.atoms.push(laid);
        }
        // Lines that may end nowhere stand beside floats, whether they fit or not.
        let wraps = self.style(column.owner).wraps;
        let width = column.room.width;
        let (mut line, mut next, (mut from, mut to)) = loop {
            let y = around.y + column.top;
            let (from, to) = around.floats.band(y, column.strut, column.edges);
            let short = to - from + 1e-6 < width;
            let free = (if short { to - from } else { column.most }) - column.indent;
            let (line, next) = self.next_line(paragraph, start, free, Words::AsStyled)?;
            // Not a word fits beside the float.
            if short
                && wraps
                && line.width > free + 1e-6
                && let Some(bottom) = around.floats.next_bottom(y, column.strut)
            {
                column.top = bottom - around.y;
            } else {
                break (line, next, (from, to));
            }
        };
        // A float in the line stands beside it where it fits, else below.
        let mut below = Vec::new();
        let end = next.byte >= paragraph.text.len();
        while let Some((at, float)) = column.floats.next_if(|(at, _)| end || *at < next.byte) {
            let wide = self.float_width(*float, column.room);
            let before = self.width_before(paragraph, start, *at);
            if below.is_empty() && wide <= to - from - column.indent - before + 1e-6 {
                let laid = self.float(*float, column.room, (0.0, column.top), around);
                column.atoms.push(laid);
                let y = around.y + column.top;
                (from, to) = around.floats.band(y, column.strut, column.edges);
                let free = to - from - column.indent;
                if let Some(again) = self.next_line(paragraph, start, free, Words::AsStyled) {
                    (line, next) = again;
                }
            } else {
                below.push(*float);
            }
        }
        Some(Beside {
            line,
            next,
            end,
            band: (from, to),
            below,
        })
    }

    /// Places a line that was broken, and what stands in it and right below it.
    fn put(&self, column: &mut Column<'_>, beside: Beside, around: &mut Around<'_>) {
        let (owner, paragraph, start) = (column.owner, column.paragraph, column.start);
        let Beside { line, next, .. } = beside;
        let (from, to) = beside.band;
        let at = LinePlace {
            top: column.top,
            from: from - column.edges.0,
            width: to - from,
            indent: column.indent,
            last: line.forced || next.byte >= paragraph.text.len(),
            marked: column.lines.is_empty() && self.has_bullet(owner),
        };
        let mut stand = Vec::new();
        while let Some((byte, out)) = (column.outs).next_if(|(at, _)| beside.end || *at < next.byte)
        {
            let before = self.advance_to(paragraph, start, *byte).min(line.width);
            stand.push((*out, before, *byte <= start.byte));
        }
        let (open, atoms) = (&mut column.open, &mut column.atoms);
        // Atoms are taken when they are placed.
        let laid = self.place(owner, paragraph, &line, at, open, atoms);
        let left = at.from + self.line_left(owner, paragraph, at, line.width);
        atoms.extend(stand.into_iter().map(|(out, before, begins)| {
            let place = (left, before, line.width);
            self.mark_in_line((owner, out), &laid, place, begins, column.room.width)
        }));
        column.top += laid.height;
        column.lines.push(laid);
        for float in beside.below {
            let laid = self.float(float, column.room, (0.0, column.top), around);
            column.atoms.push(laid);
        }
        column.start = next;
    }

    /// How far from the edge of its place a line of this width starts, with its indent.
    fn line_left(&self, owner: usize, paragraph: &Paragraph, at: LinePlace, width: f64) -> f64 {
        let room = at.width - at.indent - width;
        let start = match (self.style(owner).align, paragraph.rtl) {
            (Align::Center, _) => self.cut(room / 2.0),
            (Align::Right, _) | (Align::Start | Align::Justify, true) | (Align::End, false) => room,
            _ => 0.0,
        };
        start + if paragraph.rtl { 0.0 } else { at.indent }
    }

    /// The width of a float's margin box.
    fn float_width(&self, node: usize, room: Room) -> f64 {
        let width = match &self.stage.flow.nodes[node].kind {
            FlowKind::Element(_) => self.atom_block_width(node, room.width),
            _ => self.atom_size(node, Some(room), Given::default()).0,
        };
        width + self.margin(node, room.width).across()
    }

    /// The height that a style gives its lines, in px, where its first face gives
    /// `parts`.
    pub fn line_height(&self, node: usize, parts: LineParts) -> f64 {
        let style = self.faces(node).style();
        match style.line_height {
            LineHeight::Normal => parts.normal,
            LineHeight::Number(number) => self.engine().multiplied(style.size, number),
            LineHeight::Px(px) => self.engine().line_of(f64::from(px)),
        }
    }

    /// What the first face of a node gives to lines.
    pub fn first_parts(&self, node: usize) -> LineParts {
        let faces = self.faces(node);
        match faces.primary_number() {
            Some(number) => faces.line_parts(self.engine(), number),
            None => LineParts::default(),
        }
    }

    /// The strut of a node's style: above and below the baseline.
    fn strut(&self, node: usize) -> (f64, f64) {
        let parts = self.first_parts(node);
        self.engine().leaded(parts, self.line_height(node, parts))
    }

    /// One line of `owner`: how high it is and where what stands in it stands. Boxes of the
    /// line are moved to `atoms`; `open` holds the elements that go on in the next one.
    fn place(
        &self,
        owner: usize,
        paragraph: &Paragraph,
        line: &Filled,
        at: LinePlace,
        open: &mut Vec<usize>,
        atoms: &mut Vec<Laid>,
    ) -> LaidLine {
        let (mut levels, stand) = self.standing(owner, paragraph, line, at.marked, open);
        let (above, below) = extents(&mut levels);
        let baseline = at.top + above;
        let (left, stretch) = self.aligned(owner, paragraph, line, at);
        let text = &paragraph.text;
        let mut pieces = Vec::new();
        let mut x = left;
        for place in visual(paragraph, &stand) {
            let (number, mut px, inside) = stand[place];
            let item = &paragraph.items[number];
            let level = &levels[inside];
            let start = item.range.start.max(line.range.start);
            let end = item.range.end.min(line.range.end);
            if item.kind == ItemKind::Text && start < end {
                px += spaces(&text[start..end]) as f64 * stretch;
                if end == line.range.end {
                    px += line.hyphen.unwrap_or(0.0);
                }
                let parts = self.first_parts(item.node);
                pieces.push(LaidPiece {
                    node: item.node,
                    range: start..end,
                    x,
                    width: px,
                    top: baseline + level.shift - parts.ascent,
                    height: parts.ascent + parts.descent,
                });
            } else if item.kind == ItemKind::Atom
                && let Some(mut atom) = self.atoms.borrow_mut().remove(&item.node)
            {
                let margin = self.margin(item.node, at.width);
                atom.x = x + margin.left;
                atom.y = baseline + level.shift - level.above + margin.top;
                if self.style(item.node).position == Position::Relative {
                    let room = Room {
                        width: at.width,
                        height: None,
                    };
                    let (across, down) = self.moved(item.node, room);
                    atom.x += across;
                    atom.y += down;
                }
                atoms.push(atom);
            }
            x += px;
        }
        LaidLine {
            top: at.top,
            height: above + below,
            baseline,
            range: line.range.clone(),
            width: line.width,
            pieces,
        }
    }

    /// The elements that a line goes through, and what stands in it in the order of the text.
    fn standing(
        &self,
        owner: usize,
        paragraph: &Paragraph,
        line: &Filled,
        marked: bool,
        open: &mut Vec<usize>,
    ) -> (Vec<InLine>, Vec<Standing>) {
        let mut levels: Vec<InLine> = vec![self.level(owner, None)];
        if marked {
            levels.push(self.bullet(owner));
        }
        let mut within = vec![0];
        for node in open.iter() {
            let parent = *within.last().unwrap_or(&0);
            levels.push(self.level(*node, Some(&levels[parent])));
            within.push(levels.len() - 1);
        }
        let mut stand: Vec<Standing> = Vec::new();
        let mut pen = 0.0;
        for number in line.items.clone() {
            let item = &paragraph.items[number];
            let inside = *within.last().unwrap_or(&0);
            let mut level = inside;
            let px = match item.kind {
                ItemKind::Text => {
                    self.count_faces(paragraph, item, &line.range, &mut levels[inside]);
                    self.text_width(paragraph, item, &line.range, line.hang)
                }
                ItemKind::Open => {
                    open.push(item.node);
                    levels.push(self.level(item.node, Some(&levels[inside])));
                    within.push(levels.len() - 1);
                    self.edge(item)
                }
                ItemKind::Close => {
                    open.pop();
                    within.pop();
                    self.edge(item)
                }
                ItemKind::Atom => {
                    levels.push(self.atom_level(item.node, &levels[inside]));
                    level = levels.len() - 1;
                    self.atom_width(item.node)
                }
                _ if item.range.end <= line.range.end => self.item_width(paragraph, item, pen),
                _ => 0.0,
            };
            stand.push((number, px, level));
            pen += px;
        }
        (levels, stand)
    }

    /// Where a line starts, and by how much each of its spaces is wider.
    fn aligned(
        &self,
        owner: usize,
        paragraph: &Paragraph,
        line: &Filled,
        at: LinePlace,
    ) -> (f64, f64) {
        let room = at.width - at.indent - line.width;
        let rtl = paragraph.rtl;
        let align = match self.style(owner).align {
            Align::Start if rtl => Align::Right,
            Align::Start => Align::Left,
            Align::End if rtl => Align::Left,
            Align::End => Align::Right,
            Align::Justify if at.last && rtl => Align::Right,
            Align::Justify if at.last => Align::Left,
            other => other,
        };
        let left = match align {
            // What sticks out sticks out at the end.
            _ if room < 0.0 && rtl => room,
            _ if room < 0.0 => 0.0,
            Align::Right => room,
            Align::Center => self.cut(room / 2.0),
            _ => 0.0,
        };
        let spaces = spaces(&paragraph.text[line.range.clone()]);
        let stretch = if align == Align::Justify && spaces > 0 {
            room.max(0.0) / spaces as f64
        } else {
            0.0
        };
        (at.from + left + if rtl { 0.0 } else { at.indent }, stretch)
    }

    /// Whether a bullet stands before the lines of `owner` that makes the first higher:
    /// in Firefox, where a line height is stated.
    fn has_bullet(&self, owner: usize) -> bool {
        let nodes = &self.stage.flow.nodes;
        let children = &nodes[owner].children;
        self.engine() == Engine::Firefox
            && self.faces(owner).style().line_height != LineHeight::Normal
            && children.iter().any(|child| match &nodes[*child].kind {
                FlowKind::Marker(text) => text.is_empty(),
                kind => matches!(kind, FlowKind::Control(Control::Sign(_))),
            })
    }

    /// A bullet in Firefox: set in a font of its own, in the line height of its item.
    fn bullet(&self, owner: usize) -> InLine {
        let size = f64::from(self.faces(owner).style().size);
        // Taken upwards as those of other fonts, in 1/64 px first.
        let whole = |em: f64| ((em * size * 64.0).round() / 64.0).ceil();
        let (ascent, descent) = (whole(BULLET.0), whole(BULLET.1));
        let parts = LineParts {
            ascent,
            descent,
            normal: ascent + descent,
        };
        let (above, below) = self.engine().leaded(parts, self.line_height(owner, parts));
        InLine {
            node: owner,
            shift: 0.0,
            above,
            below,
            edge: None,
        }
    }

    /// An element in a line, with its strut.
    fn level(&self, node: usize, parent: Option<&InLine>) -> InLine {
        let (above, below) = self.strut(node);
        let (shift, edge) = match parent {
            None => (0.0, None),
            Some(parent) => self.shift(node, parent, (above, below)),
        };
        InLine {
            node,
            shift,
            above,
            below,
            edge,
        }
    }

    /// How far `vertical-align` lowers an element of this extent.
    fn shift(
        &self,
        node: usize,
        parent: &InLine,
        (above, below): (f64, f64),
    ) -> (f64, Option<Vertical>) {
        let size = f64::from(self.faces(parent.node).style().size);
        let parts = self.first_parts(parent.node);
        let firefox = self.engine() == Engine::Firefox;
        let shift = match &self.style(node).vertical {
            Vertical::Baseline => 0.0,
            Vertical::Sub if firefox => self.cut(size * LOWERED),
            Vertical::Super if firefox => -self.cut(size * RAISED),
            Vertical::Sub => self.cut(size / 5.0 + 1.0),
            Vertical::Super => -self.cut(size / 3.0 + 1.0),
            Vertical::Middle => {
                let face = self.faces(parent.node).primary();
                let x_height = face.map_or(0.0, |typeface| {
                    let px = size * f64::from(typeface.adjusted.size);
                    let em = typeface.face.x_height().unwrap_or(0.5);
                    (em * px / 2.0 * 64.0).round() / 64.0
                });
                self.cut((above - below) / 2.0) - x_height
            }
            Vertical::TextTop => above - parts.ascent,
            Vertical::TextBottom => parts.descent - below,
            edge @ (Vertical::Top | Vertical::Bottom) => {
                return (parent.shift, Some(edge.clone()));
            }
            Vertical::By(length) => {
                let height = self.line_height(node, self.first_parts(node));
                -self.cut(length.px(Some(height)).unwrap_or(0.0))
            }
        };
        (parent.shift + shift, parent.edge.clone())
    }

    /// What is set like a letter: its margin box stands on its baseline.
    fn atom_level(&self, node: usize, parent: &InLine) -> InLine {
        let atoms = self.atoms.borrow();
        let margin = self.margin(node, 0.0);
        let (height, baseline) = atoms.get(&node).map_or((0.0, None), |atom| {
            // A block that clips stands on its edge (CSS 2.2, §10.8.1).
            let of_items = matches!(
                self.style(node).display,
                Display::Flex { .. } | Display::Grid { .. }
            );
            let baseline = atom.last_baseline.filter(|_| !atom.clips || of_items);
            (atom.height, baseline)
        });
        let below = match baseline {
            Some(baseline) => height - baseline + margin.bottom,
            // The margin stands on the baseline too.
            None => 0.0,
        };
        let above = height + margin.down() - below;
        let (shift, edge) = self.shift(node, parent, (above, below));
        InLine {
            node,
            shift,
            above,
            below,
            edge,
        }
    }

    /// Adds the faces that fill in for the first, where they count.
    fn count_faces(
        &self,
        paragraph: &Paragraph,
        item: &super::paragraph::Item,
        range: &Range<usize>,
        level: &mut InLine,
    ) {
        let faces = self.faces(item.node);
        if faces.style().line_height != LineHeight::Normal {
            return;
        }
        let runs = paragraph.runs_in(item, range);
        self.step(runs.len());
        for run in runs {
            if let Some(number) = run.face
                && faces.primary_number() != Some(number)
            {
                let parts = faces.line_parts(self.engine(), number);
                let (above, below) = self.engine().leaded(parts, parts.normal);
                level.above = level.above.max(above);
                level.below = level.below.max(below);
            }
        }
    }
}

/// How far the line reaches above and below its baseline; what stands at its top or
/// bottom comes last.
fn extents(levels: &mut [InLine]) -> (f64, f64) {
    let (mut above, mut below) = (f64::NEG_INFINITY, f64::NEG_INFINITY);
    for level in levels.iter().filter(|level| level.edge.is_none()) {
        above = above.max(level.above - level.shift);
        below = below.max(level.below + level.shift);
    }
    for level in levels.iter_mut() {
        let height = level.above + level.below;
        match level.edge {
            Some(Vertical::Top) => {
                below = below.max(height - above);
                level.shift = level.above - above;
            }
            Some(_) => {
                above = above.max(height - below);
                level.shift = below - level.below;
            }
            None => {}
        }
    }
    (above.max(0.0), below)
}

fn spaces(text: &str) -> usize {
    text.chars().filter(|c| *c == ' ').count()
}

/// What stands in a line, from left to right.
fn visual(paragraph: &Paragraph, stand: &[Standing]) -> Vec<usize> {
    let mut order: Vec<usize> = (0..stand.len()).collect();
    if paragraph.levels.is_empty() {
        return order;
    }
    let base = if paragraph.rtl {
        Level::rtl()
    } else {
        Level::ltr()
    };
    let levels: Vec<u8> = stand
        .iter()
        .map(|(number, ..)| {
            let at = paragraph.items[*number].range.start;
            // The end of an element is where its last letter is.
            let at = match paragraph.items[*number].kind {
                ItemKind::Close => at.saturating_sub(1),
                _ => at,
            };
            paragraph.levels.get(at).unwrap_or(&base).number()
        })
        .collect();
    let highest = levels.iter().copied().max().unwrap_or(0);
    for level in (1..=highest).rev() {
        let mut start = 0;
        while start < order.len() {
            if levels[order[start]] < level {
                start += 1;
                continue;
            }
            let mut end = start;
            while end < order.len() && levels[order[end]] >= level {
                end += 1;
            }
            order[start..end].reverse();
            start = end;
        }
    }
    order
}
