//! How wide content is at least and at most (CSS Sizing 3, §5).

use tidy_lattice_documents::page::{Display, FlowKind, Length, TablePart};

use super::boxes::Part;
use super::laid::Laid;
use super::lines::Words;
use super::paragraph::ItemKind;
use super::{Given, Layouter};

impl Layouter<'_, '_> {
    /// The least and the greatest width that the border box of `node` likes to
    /// have, in px, unless it is stated.
    pub fn extent(&self, node: usize) -> (f64, f64) {
        if let Some(known) = self.extents.borrow().get(&node) {
            return *known;
        }
        self.step(1);
        // A box in itself cannot be; this ends what would never end otherwise.
        self.extents.borrow_mut().insert(node, (0.0, 0.0));
        let edges = self.inner(node, 0.0).across();
        let content = match (&self.stage.flow.nodes[node].kind, self.style(node).display) {
            (FlowKind::Replaced(..) | FlowKind::Control(_), _) => {
                let width = self.atom_size(node, None, Given::default()).0;
                (width - edges, width - edges)
            }
            (_, Display::Flex { .. }) => self.flex_extent(node),
            (_, Display::Grid { .. }) => self.grid_extent(node),
            (_, Display::Table(TablePart::Whole)) => {
                let (least, most) = self.table_extent(node);
                (least - edges, most - edges)
            }
            _ => self.pile_extent(node),
        };
        let extent = (content.0 + edges, content.1 + edges);
        self.extents.borrow_mut().insert(node, extent);
        extent
    }

    /// [`Layouter::extent`] with what is stated, and the margins.
    pub fn contribution(&self, node: usize) -> (f64, f64) {
        let style = self.style(node);
        let edges = self.inner(node, 0.0).across();
        let specified = |length: &Length| self.definite_length(node, length, None, edges);
        let (mut least, mut most) = match specified(&style.width.preferred) {
            Some(width) => (width, width),
            None => match style.width.preferred {
                Length::MinContent => (self.extent(node).0, self.extent(node).0),
                Length::MaxContent => (self.extent(node).1, self.extent(node).1),
                _ => self.extent(node),
            },
        };
        // What can be of any size gives way to percentages (CSS Sizing 3, §5.2.2).
        let gives_way =
            |length: &Length| matches!(length, Length::Relative(_)) && specified(length).is_none();
        let kind = &self.stage.flow.nodes[node].kind;
        if matches!(kind, FlowKind::Replaced(..) | FlowKind::Control(_))
            && (gives_way(&style.width.preferred) || gives_way(&style.width.max))
        {
            least = edges;
        }
        if let Some(limit) = specified(&style.width.max) {
            (least, most) = (least.min(limit), most.min(limit));
        }
        if let Some(limit) = specified(&style.width.min) {
            (least, most) = (least.max(limit), most.max(limit));
        }
        let margin = self.margin(node, 0.0).across();
        (least + margin, most + margin)
    }

    /// What a box needs whatever is in it, with its margins.
    pub fn specified_contribution(&self, node: usize) -> f64 {
        let style = self.style(node);
        let edges = self.inner(node, 0.0).across();
        let specified = |length: &Length| self.definite_length(node, length, None, edges);
        let specified_width = specified(&style.width.preferred)
            .unwrap_or(0.0)
            .min(specified(&style.width.max).unwrap_or(f64::MAX));
        let margin = self.margin(node, 0.0).across();
        (specified_width + margin).max(self.specified_min(node))
    }

    /// The stated least width of a box, at least its edges, with its margins.
    pub fn specified_min(&self, node: usize) -> f64 {
        let edges = self.inner(node, 0.0).across();
        let least = self.definite_length(node, &self.style(node).width.min, None, edges);
        least.unwrap_or(0.0).max(edges) + self.margin(node, 0.0).across()
    }

    fn pile_extent(&self, node: usize) -> (f64, f64) {
        let (mut least, mut most) = (0.0_f64, 0.0_f64);
        // Floats stand beside one another, and beside what comes next to them.
        let mut floats = 0.0;
        for part in self.parts(node) {
            let (a, b) = match part {
                Part::Block(child) => {
                    let (a, b) = self.contribution(child);
                    let beside = if self.keeps_to_itself(child)
                        && self.style(child).clear == (false, false)
                    {
                        floats
                    } else {
                        0.0
                    };
                    floats = 0.0;
                    (a, b + beside)
                }
                Part::Inline(nodes) => {
                    let (a, b) = self.inline_extent(node, &nodes);
                    let beside = std::mem::take(&mut floats);
                    (a, b + beside)
                }
                Part::Out(_) => continue,
                Part::Float(child) => {
                    let (a, b) = self.contribution(child);
                    if self.style(child).clear != (false, false) {
                        floats = 0.0;
                    }
                    floats += b;
                    (a, floats)
                }
            };
            least = least.max(a);
            most = most.max(b);
        }
        (least, most)
    }

    /// The widest that must stay together, and the widest line, were there no end to
    /// lines.
    pub fn inline_extent(&self, owner: usize, nodes: &[usize]) -> (f64, f64) {
        let paragraph = self.paragraph(owner, nodes);
        let indent = self
            .style(owner)
            .indent
            .px(None)
            .map_or(0.0, |px| self.cut(px));
        let atoms: Vec<(usize, (f64, f64))> = paragraph
            .items
            .iter()
            .filter(|item| item.kind == ItemKind::Atom)
            .map(|item| (item.node, self.contribution(item.node)))
            .collect();
        let widest = |room: f64, width: &dyn Fn((f64, f64)) -> f64| {
            for (atom, extent) in &atoms {
                let margin = self.margin(*atom, f64::from(self.stage.viewport.width));
                let known = Laid {
                    width: width(*extent) - margin.across(),
                    ..Laid::default()
                };
                self.atoms.borrow_mut().insert(*atom, known);
            }
            let lines = self.fill(&paragraph, room, indent, Words::Least);
            let widths = lines.iter().enumerate();
            let widths = widths.map(|(number, line)| match number {
                0 => line.width + indent,
                _ => line.width,
            });
            let widest = widths.fold(0.0, f64::max);
            // Whole units, so that the lines fit into them.
            let unit = self.engine().unit();
            ((widest / unit) - 1e-6).ceil() * unit
        };
        let mut least = widest(0.0, &|extent| extent.0);
        let mut most = widest(f64::MAX / 4.0, &|extent| extent.1);
        for (atom, _) in &atoms {
            self.atoms.borrow_mut().remove(atom);
        }
        for float in &paragraph.floats {
            let (a, b) = self.contribution(float.1);
            (least, most) = (least.max(a), most + b);
        }
        (least, most)
    }
}
