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

/// The width of a box to tick, in px.
const TICK: f64 = 13.0;

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
        let own = match self.stated(node, &extent.own, Some(room), edges) {
            Some(width) => width,
            None => self.fit(node, all),
        };
        self.limited(node, extent, own, room, all, edges)
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
            .or_else(|| self.stated(node, &style.width.own, whole, across));
        let height = given
            .height
            .or_else(|| self.stated(node, &style.height.own, tall, down));
        let natural = match &self.stage.flow.nodes[node].kind {
            FlowKind::Replaced(natural) => *natural,
            _ => Natural::default(),
        };
        let own = natural
            .ratio
            .filter(|_| style.ratio_yields || style.ratio.is_none());
        let ratio = own.or(style.ratio).map(f64::from);
        let by_width = |width: f64| ratio.map(|ratio| self.cut((width - across) / ratio) + down);
        let by_height = |height: f64| ratio.map(|ratio| self.cut((height - down) * ratio) + across);
        let most = (
            self.stated(node, &style.width.max, whole, across)
                .unwrap_or(f64::MAX),
            self.stated(node, &style.height.max, tall, down)
                .unwrap_or(f64::MAX),
        );
        let least = (
            self.stated(node, &style.width.min, whole, across)
                .unwrap_or(across),
            self.stated(node, &style.height.min, tall, down)
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
                    (width, by_width(width).unwrap_or(down))
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
                ..
            }) => (self.cut(f64::from(*width)), self.cut(f64::from(*height))),
            FlowKind::Replaced(_) => {
                self.beyond(node, "a picture or frame whose size is not known");
                REPLACED
            }
            FlowKind::Control(Control::Sign(sign)) => {
                let size = f64::from(self.faces(node).style().size);
                let width = match sign {
                    Sign::Bullet => self.first_parts(node).ascent,
                    Sign::Disclosure => size * DISCLOSURE,
                };
                (width, 0.0)
            }
            FlowKind::Control(control) => {
                if self.engine() != Engine::Chromium {
                    self.leave_out(node, CONTROLS);
                }
                let line = self.control_line(node);
                let plain = self.style(node).plain_control;
                let (arrow, frame) = if plain { (0.0, 0.0) } else { (ARROW, FRAME) };
                match control {
                    Control::Field(columns) => (self.columns(node, *columns), line),
                    Control::Area(columns, rows) => {
                        (self.columns(node, *columns), line * f64::from(*rows))
                    }
                    Control::Choice(options) => {
                        let widest = options
                            .iter()
                            .map(|option| self.width_of(node, option).ceil())
                            .fold(0.0, f64::max);
                        (widest + arrow, line + frame)
                    }
                    Control::Button(label) => (self.engine().up(self.width_of(node, label)), line),
                    Control::Tick => (TICK, TICK),
                    Control::Sign(_) => (0.0, 0.0),
                }
            }
            _ => (0.0, 0.0),
        }
    }

    /// The width of so many columns: the average width of the face's letters
    /// (OS/2 `xAvgCharWidth`) in whole px, times their number.
    fn columns(&self, node: usize, columns: u32) -> f64 {
        let faces = self.faces(node);
        let average = faces.primary().map_or(0.5, |typeface| {
            typeface.face.average_width().unwrap_or(0.5) * f64::from(typeface.adjusted.size)
        });
        let px = average * f64::from(faces.style().size);
        (px * f64::from(columns)).ceil()
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
            FlowKind::Control(Control::Choice(_)) => parts.ascent + parts.descent,
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
            FlowKind::Control(Control::Tick) => Some(height),
            FlowKind::Control(Control::Area(..)) => None,
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
