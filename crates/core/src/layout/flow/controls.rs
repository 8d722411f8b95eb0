//! What is set like a letter: inline blocks, pictures, form controls.
//!
//! Sizes of controls are Chromium's on Linux; they follow from its own style sheet
//! and were compared with it on the demo's pages.

use super::laid::Laid;
use super::{Layouter, Room};
use crate::layout::Engine;
use crate::page::{Control, FlowKind};

/// The size of a frame or canvas that states none (CSS 2.2, §10.3.2), in px.
const REPLACED: (f64, f64) = (300.0, 150.0);

/// What is said of controls in other engines.
const CONTROLS: &str = "form controls, whose sizes are known of Chromium only";

/// The width of a box to tick, in px.
const TICK: f64 = 13.0;

/// The room that the arrow of a list takes, in px.
const ARROW: f64 = 20.0;

/// What is above and below the line of a list, in px.
const FRAME: f64 = 2.0;

impl Layouter<'_, '_> {
    /// Lays an atom out; its place is decided by its line.
    pub fn atom(&self, node: usize, room: Room) -> Laid {
        match &self.stage.flow.nodes[node].kind {
            FlowKind::Replaced(..) | FlowKind::Control(_) => {
                let (width, height) = self.atom_size(node, Some(room));
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
            kind => {
                let button = matches!(kind, FlowKind::Element(tag) if tag == "button");
                if button && self.engine() != Engine::Chromium {
                    self.leave_out(node, CONTROLS);
                }
                let width = self.atom_block_width(node, room.width);
                let mut laid = self.block(node, room, Some(width));
                (laid.x, laid.y) = (0.0, 0.0);
                laid
            }
        }
    }

    fn atom_block_width(&self, node: usize, room: f64) -> f64 {
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
            (FlowKind::Replaced(..) | FlowKind::Control(_), _) => self.atom_size(node, None).0,
            _ => self.extent(node).1,
        };
        width + margin.across()
    }

    /// The size of the border box of a picture or control.
    pub fn atom_size(&self, node: usize, room: Option<Room>) -> (f64, f64) {
        let inner = self.inner(node, room.map_or(0.0, |room| room.width));
        let style = self.style(node);
        let whole = room.map(|room| room.width);
        let width = self.stated(node, &style.width.own, whole, inner.across());
        let height = room.and_then(|room| self.stated_height(node, room, inner));
        let (own, tall) = self.natural_size(node);
        let (own, tall) = (own + inner.across(), tall + inner.down());
        let ratio = if let FlowKind::Replaced(Some(w), Some(h)) = &self.stage.flow.nodes[node].kind
        {
            (*h > 0.0).then(|| f64::from(*w) / f64::from(*h))
        } else {
            style.ratio.map(f64::from)
        };
        let mut size = match (width, height, ratio) {
            (Some(width), Some(height), _) => (width, height),
            (Some(width), None, Some(ratio)) => {
                let content = (width - inner.across()) / ratio;
                (width, self.cut(content) + inner.down())
            }
            (None, Some(height), Some(ratio)) => {
                let content = (height - inner.down()) * ratio;
                (self.cut(content) + inner.across(), height)
            }
            (width, height, None) => (width.unwrap_or(own), height.unwrap_or(tall)),
            (None, None, Some(_)) => (own, tall),
        };
        let most = self.stated(node, &style.width.max, whole, inner.across());
        if let Some(most) = most.filter(|most| *most < size.0) {
            if let (Some(ratio), None) = (ratio, height) {
                size.1 = self.cut((most - inner.across()) / ratio) + inner.down();
            }
            size.0 = most;
        }
        let least = self.stated(node, &style.width.min, whole, inner.across());
        size.0 = least.map_or(size.0, |least| size.0.max(least));
        if let Some(room) = room {
            size.1 = self.height_limited(node, room, inner, size.1);
        }
        size
    }

    /// The size of the content of a picture or control that states none.
    fn natural_size(&self, node: usize) -> (f64, f64) {
        let inner = &self.stage.flow.nodes[node];
        match &inner.kind {
            FlowKind::Replaced(Some(width), Some(height)) => {
                (self.cut(f64::from(*width)), self.cut(f64::from(*height)))
            }
            FlowKind::Replaced(width, height) => {
                self.beyond(node, "a picture or frame that states no width and height");
                (
                    width.map_or(REPLACED.0, f64::from),
                    height.map_or(REPLACED.1, f64::from),
                )
            }
            FlowKind::Control(control) => {
                if self.engine() != Engine::Chromium {
                    self.leave_out(node, CONTROLS);
                }
                let line = self.control_line(node);
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
                        (widest + ARROW, line + FRAME)
                    }
                    Control::Button(label) => (self.engine().up(self.width_of(node, label)), line),
                    Control::Tick => (TICK, TICK),
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
        self.line_height(node, parts)
    }

    fn control_baseline(&self, node: usize, height: f64) -> Option<f64> {
        let inner = &self.stage.flow.nodes[node];
        let faces = self.faces(node);
        let edges = self.inner(node, 0.0);
        match &inner.kind {
            FlowKind::Control(Control::Tick) | FlowKind::Replaced(..) => None,
            FlowKind::Control(Control::Area(..)) => None,
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
