//! What style sheets put into a page: content before and after elements, markers of
//! list items, first letters of their own.

use std::sync::Arc;

use super::Builder;
use crate::page::cascade::Computed;
use crate::page::dom::NodeId;
use crate::page::flow::{Control, FlowKind, FlowNode, Sign};
use crate::page::generated;
use crate::style::computed::{BoxStyle, Display};
use crate::style::read::PseudoElement;

impl Builder<'_> {
    /// The content before or after an element.
    pub(super) fn pseudo(
        &mut self,
        node: NodeId,
        pseudo: PseudoElement,
        flow: usize,
        parent: &Computed,
    ) {
        if !self.cascade.has(self.dom, node, pseudo) {
            return;
        }
        let made = self
            .cascade
            .compute(self.dom, node, Some(pseudo), parent, self.root);
        let Some(content) = &made.content else {
            return;
        };
        if made.boxes.display == Display::None || ["none", "normal"].contains(&content.as_str()) {
            return;
        }
        self.counters.pass(&made.counters);
        let text = generated::content(content, self.dom, node, &made.style, &self.counters);
        let suffix = if pseudo == PseudoElement::Before {
            "::before"
        } else {
            "::after"
        };
        let mut boxes = made.boxes.clone();
        self.as_item(flow, &mut boxes);
        let inside = self.pseudo_element(flow, suffix, &made, boxes);
        self.set(&text, None, self.dom.line(node), inside, &made);
    }

    fn pseudo_element(
        &mut self,
        flow: usize,
        suffix: &str,
        made: &Computed,
        boxes: Arc<BoxStyle>,
    ) -> usize {
        let around = &self.flow.nodes[flow];
        let kind = FlowKind::Element(suffix.to_owned());
        let node = FlowNode {
            selector: Arc::from(format!("{}{suffix}", around.selector)),
            ..around.inside(kind, made.style.clone(), boxes)
        };
        self.add(Some(flow), node)
    }

    /// Adds the first letter of `text` where a block around it has a style for it, and
    /// gives what is left.
    pub(super) fn letter<'t>(
        &mut self,
        text: &'t str,
        (place, line): (usize, u32),
        flow: usize,
        computed: &Computed,
    ) -> &'t str {
        let Some((_, block)) = self.letters.last() else {
            return text;
        };
        let Some(letter) = generated::first_letter(text) else {
            return text;
        };
        let pseudo = Some(PseudoElement::FirstLetter);
        let made = self
            .cascade
            .compute(self.dom, *block, pseudo, computed, self.root);
        self.letters.clear();
        let inside = self.pseudo_element(flow, "::first-letter", &made, made.boxes.clone());
        self.set(&text[letter.clone()], Some(place), line, inside, &made);
        &text[letter.end..]
    }

    /// The marker of a list item.
    pub(super) fn marker(&mut self, node: NodeId, flow: usize, computed: &Computed, number: usize) {
        let has_styles = self.cascade.has(self.dom, node, PseudoElement::Marker);
        let computed = if has_styles {
            let pseudo = Some(PseudoElement::Marker);
            self.cascade
                .compute(self.dom, node, pseudo, computed, self.root)
        } else {
            computed.clone()
        };
        let text = match &computed.content {
            Some(content) => {
                let (style, counters) = (&computed.style, &self.counters);
                Some(generated::content(content, self.dom, node, style, counters))
            }
            None => generated::marker(&computed.style, number).map(|text| format!("{text} ")),
        };
        let sign = match computed.style.list.trim() {
            "disc" | "circle" | "square" => Some(Sign::Bullet),
            list if list.starts_with("disclosure-") => Some(Sign::Disclosure),
            _ => None,
        };
        let around = &self.flow.nodes[flow];
        let inside = around.boxes.marker_inside;
        let line = around.line;
        let (kind, boxes) = match (text, sign) {
            (Some(text), _) if text.is_empty() => return,
            (Some(text), _) if inside => {
                self.set(&text, None, line, flow, &computed);
                return;
            }
            (Some(text), _) => (FlowKind::Marker(text), computed.boxes.clone()),
            (None, Some(sign)) if inside => {
                let kind = FlowKind::Control(Control::Sign(sign));
                (kind, Arc::new(BoxStyle::default()))
            }
            // Bullets are drawn, and have no text.
            (None, Some(Sign::Bullet)) => (FlowKind::Marker(String::new()), computed.boxes.clone()),
            (None, _) => return,
        };
        let node = around.inside(kind, computed.style.clone(), boxes);
        self.add(Some(flow), node);
    }
}
