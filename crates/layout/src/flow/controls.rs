//! What is set like a letter: inline blocks, pictures, form controls.
//!
//! Sizes of controls are Chromium's on Linux; they follow from its own style sheet
//! and were compared with it on the demo's pages.

use tidy_lattice_documents::page::{Control, FlowKind, Natural, Sign};

use super::laid::Laid;
use super::{Given, Layouter, Room};
use crate::Engine;

/// The size of what has none (CSS 2.2, §10.3.2), in px.
const REPLACED: (f64, f64) = (300.0, 150.0);

/// What is said of controls in other engines.
const CONTROLS: &str = "form controls, whose sizes are known of Chromium only";

/// How many zeros a file's name has room for, button included, and what the button is higher than
/// its line, in px.
const FILE: (f64, f64) = (34.0, 6.0);

/// The size of a bar with a knob, in px.
const SLIDER: (f64, f64) = (129.0, 16.0);

/// What is said of pictures that cannot be read here.
const MISSING: &str = "a picture that cannot be read here, laid out as browsers show a missing one";

/// Across and down, the sign for a picture that is missing, in px: in Chromium, in Firefox.
const SIGN: (f64, f64) = (16.0, 24.0);

/// The width of a box to tick, in px: in Chromium, and in Firefox on Linux.
const TICK: (f64, f64) = (13.0, 14.0);

/// How far above its padding the colour of a field for colours ends, on whose edge it stands.
const SWATCH: f64 = 4.0;

/// How wide a bar to scroll is, in px: in Chromium, and in Firefox on Linux.
const SCROLLBAR: (f64, f64) = (15.0, 12.0);

/// An average of letters that is more than so many times a zero is one of ideographs.
const WIDE: f64 = 1.7;

/// The room that the arrow of a list takes, in px.
const ARROW: f64 = 20.0;

/// The room that the triangle of `details` takes in its line, in em.
const DISCLOSURE: f64 = 1.06;

/// What is above and below the line of a list, in px.
const FRAME: f64 = 2.0;

impl Layouter<'_, '_> {
    /// Lays an atom out; its place is decided by its line.
    pub fn atom(&self, node: usize, room: Room) -> Laid {
        match &self.stage.flow.nodes[node].kind {
            FlowKind::Replaced(..) | FlowKind::Control(_) => {
                self.picture(node, Some(room), Given::default())
            }
            kind => {
                let button = matches!(kind, FlowKind::Element(tag) if tag == "button");
                if button && self.engine() != Engine::Chromium {
                    self.leave_out(node, CONTROLS);
                }
                let width = self.atom_block_width(node, room.width);
                let mut laid = self.block(node, room, Given::width(width), None);
                (laid.x, laid.y) = (0.0, 0.0);
                laid
            }
        }
    }

    /// Whether `node` is a box to tick as the browser draws it: whatever padding and border it is
    /// given, it has none.
    pub fn is_drawn_tick(&self, node: usize) -> bool {
        let is_tick = matches!(
            self.stage.flow.nodes[node].kind,
            FlowKind::Control(Control::Tick)
        );
        is_tick && !self.style(node).plain_control
    }

    /// Lays a picture or control out.
    pub fn picture(&self, node: usize, room: Option<Room>, given: Given) -> Laid {
        let (width, height) = self.atom_size(node, room, given);
        let baseline = self.control_baseline(node, height);
        Laid {
            node: Some(node),
            width,
            height,
            clips: baseline.is_none(),
            first_baseline: baseline,
            last_baseline: baseline,
            ..Laid::default()
        }
    }

    /// The width of the border box of a box that is as wide as its content.
    pub fn atom_block_width(&self, node: usize, room: f64) -> f64 {
        let extent = &self.style(node).width;
        let edges = self.inner(node, room).across();
        let all = (room - self.margin(node, room).across()).max(edges);
        let wish = match self.definite_length(node, &extent.preferred, Some(room), edges) {
            Some(width) => width,
            None => self.fit(node, all),
        };
        self.limited(node, extent, wish, room, all, edges)
    }

    /// The width of an atom with its margins.
    pub fn atom_width(&self, node: usize) -> f64 {
        let margin = self.margin(node, f64::from(self.stage.viewport.width));
        let known = self.atoms.borrow().get(&node).map(|atom| atom.width);
        let width = match (&self.stage.flow.nodes[node].kind, known) {
            (_, Some(width)) => width,
            (FlowKind::Replaced(..) | FlowKind::Control(_), _) => {
                self.atom_size(node, None, Given::default()).0
            }
            _ => self.extent(node).1,
        };
        width + margin.across()
    }

    /// The size of the border box of a picture or control (CSS 2.2, §10.3.2, §10.4,
    /// §10.6.2).
    pub fn atom_size(&self, node: usize, room: Option<Room>, given: Given) -> (f64, f64) {
        let inner = self.inner(node, room.map_or(0.0, |room| room.width));
        let style = self.style(node);
        let whole = room.map(|room| room.width);
        let tall = room.and_then(|room| room.height);
        let (across, down) = (inner.across(), inner.down());
        if let Given {
            width: Some(width),
            height: Some(height),
        } = given
        {
            return (width, height);
        }
        let width = given
            .width
            .or_else(|| self.definite_length(node, &style.width.preferred, whole, across));
        let height = given
            .height
            .or_else(|| self.definite_length(node, &style.height.preferred, tall, down));
        let natural = match &self.stage.flow.nodes[node].kind {
            FlowKind::Replaced(natural) => *natural,
            _ => Natural::default(),
        };
        let intrinsic = natural
            .ratio
            .filter(|_| style.ratio_yields || style.ratio.is_none());
        let ratio = intrinsic.or(style.ratio).map(f64::from);
        let by_width = |width: f64| ratio.map(|ratio| self.cut((width - across) / ratio) + down);
        let by_height = |height: f64| ratio.map(|ratio| self.cut((height - down) * ratio) + across);
        let most = (
            self.definite_length(node, &style.width.max, whole, across)
                .unwrap_or(f64::MAX),
            self.definite_length(node, &style.height.max, tall, down)
                .unwrap_or(f64::MAX),
        );
        let least = (
            self.definite_length(node, &style.width.min, whole, across)
                .unwrap_or(across),
            self.definite_length(node, &style.height.min, tall, down)
                .unwrap_or(down),
        );
        let wide = |width: f64| width.min(most.0).max(least.0);
        let high = |height: f64| height.min(most.1).max(least.1);
        match (width, height) {
            (Some(width), Some(height)) => (wide(width), high(height)),
            (Some(width), None) => {
                let width = wide(width);
                let height = by_width(width).unwrap_or_else(|| self.natural_size(node).1 + down);
                (width, high(height))
            }
            (None, Some(height)) => {
                let height = high(height);
                let width = by_height(height).unwrap_or_else(|| self.natural_size(node).0 + across);
                (wide(width), height)
            }
            (None, None) => {
                let (width, height) = if natural.fills {
                    let margins = self.margin(node, whole.unwrap_or(0.0)).across();
                    let width = whole.map_or(across, |whole| (whole - margins).max(across));
                    let intrinsic = || self.natural_size(node).1 + down;
                    (width, by_width(width).unwrap_or_else(intrinsic))
                } else {
                    let (width, height) = self.natural_size(node);
                    (width + across, height + down)
                };
                // Both give way together, where one must.
                let (less, more) = (wide(width), high(height));
                match (by_width(less), by_height(more)) {
                    (Some(by_width), _) if less < width && (more >= height || by_width <= more) => {
                        (less, high(by_width))
                    }
                    (_, Some(by_height)) if more < height => (wide(by_height), more),
                    (Some(by_width), _) if less > width => (less, high(by_width)),
                    (_, Some(by_height)) if more > height => (wide(by_height), more),
                    _ => (less, more),
                }
            }
        }
    }

    /// The size of the content of a picture or control that states none.
    fn natural_size(&self, node: usize) -> (f64, f64) {
        let inner = &self.stage.flow.nodes[node];
        match &inner.kind {
            FlowKind::Replaced(Natural {
                width: Some(width),
                height: Some(height),
                missing,
                ..
            }) => {
                if *missing {
                    self.unsupported(node, MISSING);
                }
                (self.cut(f64::from(*width)), self.cut(f64::from(*height)))
            }
            FlowKind::Replaced(_) => {
                self.unsupported(node, "a picture or frame whose size is not known");
                REPLACED
            }
            FlowKind::Control(Control::Sign(Sign::Missing)) => {
                self.unsupported(node, MISSING);
                // In Firefox no sign stands before a text.
                match self.engine() {
                    Engine::Firefox => (0.0, 0.0),
                    Engine::Chromium | Engine::Webkit => (SIGN.0, SIGN.0),
                }
            }
            FlowKind::Control(Control::Sign(sign)) => {
                let size = f64::from(self.faces(node).style().size);
                let width = match sign {
                    Sign::Bullet => self.first_parts(node).ascent,
                    Sign::Disclosure => size * DISCLOSURE,
                    Sign::Missing => 0.0,
                };
                (width, 0.0)
            }
            FlowKind::Control(control) => {
                if self.engine() != Engine::Chromium && *control != Control::Missing {
                    self.leave_out(node, CONTROLS);
                }
                let line = self.control_line(node);
                let plain = self.style(node).plain_control;
                let (arrow, frame) = if plain { (0.0, 0.0) } else { (ARROW, FRAME) };
                match control {
                    Control::Field(columns) => (self.field(node, *columns), line),
                    Control::Area(columns, rows) => {
                        (self.area(node, *columns), line * f64::from(*rows))
                    }
                    Control::Choice(options) => {
                        let widest = options
                            .iter()
                            .map(|option| self.width_of(node, option).ceil())
                            .fold(0.0, f64::max);
                        (widest + arrow, line + frame)
                    }
                    Control::File => {
                        let wide = self.width_of(node, "0") * FILE.0;
                        (wide.ceil(), line + FILE.1)
                    }
                    Control::Button(label) => (self.engine().up(self.width_of(node, label)), line),
                    // Nothing is drawn where the style says so.
                    Control::Tick if plain => (0.0, 0.0),
                    Control::Tick => (self.tick(), self.tick()),
                    Control::Slider => SLIDER,
                    // Its size is in the style sheet of the browser.
                    Control::Swatch => (0.0, 0.0),
                    Control::Missing => {
                        self.unsupported(node, MISSING);
                        let firefox = self.engine() == Engine::Firefox;
                        let sign = if firefox { SIGN.1 } else { SIGN.0 };
                        (sign, sign)
                    }
                    Control::Sign(_) => (0.0, 0.0),
                }
            }
            _ => (0.0, 0.0),
        }
    }

    /// The width and height of a box to tick.
    fn tick(&self) -> f64 {
        match self.engine() {
            Engine::Firefox => TICK.1,
            Engine::Chromium | Engine::Webkit => TICK.0,
        }
    }

    /// The width of a field of so many columns.
    fn field(&self, node: usize, columns: u32) -> f64 {
        let (letter, more) = self.letter_widths(node);
        let width = letter * f64::from(columns) + more;
        match self.engine() {
            Engine::Firefox => width,
            Engine::Chromium | Engine::Webkit => width.ceil(),
        }
    }

    /// The width of an area of so many columns, with its bar to scroll.
    fn area(&self, node: usize, columns: u32) -> f64 {
        let (letter, more) = self.letter_widths(node);
        let width = letter * f64::from(columns);
        match self.engine() {
            Engine::Firefox => width + more + SCROLLBAR.1,
            Engine::Chromium | Engine::Webkit => (width + SCROLLBAR.0).ceil(),
        }
    }

    /// The width of a letter in the first face of a control, and what a field has besides, in px.
    ///
    /// In Chromium a letter is of average width (OS/2 `xAvgCharWidth`), in whole px where that is
    /// more, and one of them the widest of the face; where the average is that of ideographs, a
    /// zero counts. In Firefox it is of average width in whole px, or a zero where that is wider,
    /// and a field has room for the widest advance, or for two letters, less 4 px.
    fn letter_widths(&self, node: usize) -> (f64, f64) {
        let faces = self.faces(node);
        let size = f64::from(faces.style().size);
        let zero = || f64::from(faces.units(self.stage.shapers).ch);
        let Some(typeface) = faces.primary() else {
            return (zero(), 0.0);
        };
        let size = f64::from(typeface.adjusted.size) * size;
        if self.engine() == Engine::Firefox {
            let letter = faces.average_in_firefox(self.stage.shapers);
            let widest = typeface.face.widest_advance().unwrap_or_default() * size;
            let more = (widest.round().min(letter * 2.0) - 4.0).max(0.0).round();
            return (letter, if widest - letter > 1.0 { more } else { 0.0 });
        }
        // Fonts are scaled to sizes in 1/64 px.
        let px = (size * 64.0).trunc() / 64.0;
        let average = typeface.face.average_width().map(|em| em * px);
        let Some(average) = average.filter(|average| *average <= zero() * WIDE) else {
            return (zero(), 0.0);
        };
        let letter = average.max(average.round());
        let widest = typeface.face.widest().map_or(0.0, |em| (em * px).round());
        (letter, if widest > 0.0 { widest - letter } else { 0.0 })
    }

    /// The height of a line in a control.
    fn control_line(&self, node: usize) -> f64 {
        let faces = self.faces(node);
        let parts = faces
            .primary_number()
            .map(|number| faces.line_parts(self.engine(), number))
            .unwrap_or_default();
        match &self.stage.flow.nodes[node].kind {
            // Whatever `line-height` says, and without the gap.
            FlowKind::Control(Control::Choice(_) | Control::File) => parts.ascent + parts.descent,
            // A line of a field is no lower than a normal one (HTML, §15.5.11).
            FlowKind::Control(Control::Field(_)) => self.line_height(node, parts).max(parts.normal),
            _ => self.line_height(node, parts),
        }
    }

    fn control_baseline(&self, node: usize, height: f64) -> Option<f64> {
        let inner = &self.stage.flow.nodes[node];
        let faces = self.faces(node);
        let edges = self.inner(node, 0.0);
        match &inner.kind {
            FlowKind::Replaced(..) => None,
            // It stands on its edge, not on its margin.
            FlowKind::Control(Control::Tick) if self.style(node).plain_control => None,
            FlowKind::Control(Control::Tick | Control::Slider) => Some(height),
            FlowKind::Control(Control::Swatch) => Some(height - edges.bottom - SWATCH),
            FlowKind::Control(Control::Area(..)) => None,
            FlowKind::Control(Control::Missing) => None,
            FlowKind::Control(Control::Sign(_)) => Some(0.0),
            FlowKind::Control(_) => {
                let parts = faces
                    .primary_number()
                    .map(|number| faces.line_parts(self.engine(), number))
                    .unwrap_or_default();
                let line = self.control_line(node);
                let (above, _) = self.engine().leaded(parts, line);
                let room = height - edges.down() - line;
                Some(edges.top + self.cut(room / 2.0) + above)
            }
            _ => None,
        }
    }
}
