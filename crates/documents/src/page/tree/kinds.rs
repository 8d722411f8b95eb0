//! What elements are: pictures and frames with a size of their own, form controls.

use std::sync::Arc;

use super::{Builder, pictures};
use crate::page::cascade::Computed;
use crate::page::dom::{Dom, NodeId};
use crate::page::flow::{Control, FieldText, FlowKind, Natural};
use crate::style::computed::BoxStyle;
use crate::style::read::PseudoElement;

/// The size of a frame or canvas that states none (CSS 2.2, §10.3.2), in px.
const FRAME: (f32, f32) = (300.0, 150.0);

/// Fields whose text the browser makes up, in its own language.
const MADE_UP: [&str; 5] = ["date", "time", "datetime-local", "month", "week"];

/// What stands for each letter of a password (HTML, §15.5.6).
const MASK: &str = "\u{2022}";

/// More of them look alike.
const MOST_MASKED: usize = 100;

/// Elements whose size is their own.
pub(super) fn is_replaced(tag: &str) -> bool {
    [
        "img", "svg", "canvas", "video", "iframe", "embed", "object", "meter", "progress", "math",
    ]
    .contains(&tag)
}

/// Whether an element is a form field that is never shown, whatever its style says.
pub(super) fn is_hidden_field(dom: &Dom, node: NodeId, tag: &str) -> bool {
    let kind = || dom.attribute(node, "type");
    tag == "input" && kind().is_some_and(|kind| kind.eq_ignore_ascii_case("hidden"))
}

impl Builder<'_> {
    /// What an element is.
    pub(super) fn kind(&self, node: NodeId, tag: &str, boxes: &mut Arc<BoxStyle>) -> FlowKind {
        let attribute = |name: &str| self.dom.attribute(node, name);
        let number = |name: &str, other: u32| {
            attribute(name)
                .and_then(|value| value.trim().parse::<u32>().ok())
                .filter(|value| (1..=1_000).contains(value))
                .unwrap_or(other)
        };
        match tag {
            "br" => FlowKind::Break,
            "input" => {
                let kind = attribute("type").unwrap_or_default().to_ascii_lowercase();
                let value = |other: &str| attribute("value").unwrap_or(other).to_owned();
                FlowKind::Control(match kind.as_str() {
                    "checkbox" | "radio" => Control::Tick,
                    "range" => Control::Slider,
                    "color" => Control::Swatch,
                    "file" => Control::File,
                    "submit" => Control::Button(value("Submit")),
                    "reset" => Control::Button(value("Reset")),
                    "button" => Control::Button(value("")),
                    _ => Control::Field(number("size", 20)),
                })
            }
            "textarea" => FlowKind::Control(Control::Area(number("cols", 20), number("rows", 2))),
            "select" => {
                let mut options = Vec::new();
                let mut next = self.dom.children(node).next();
                while let Some(option) = next {
                    if self.dom.tag(option) == Some("option") && options.len() < 1_000 {
                        let text = self.dom.own_text(option);
                        options.push(text.split_whitespace().collect::<Vec<_>>().join(" "));
                    }
                    next = self.dom.next(option);
                }
                FlowKind::Control(Control::Choice(options))
            }
            "img" => self.image(node, boxes),
            tag if is_replaced(tag) => FlowKind::Replaced(self.natural(node, tag)),
            _ => FlowKind::Element(tag.to_owned()),
        }
    }

    /// Notes what a form field shows: its value, else its placeholder.
    pub(super) fn in_field(&mut self, node: NodeId, flow: usize, computed: &Computed) {
        let attribute = |name: &str| self.dom.attribute(node, name).unwrap_or_default();
        let value = match &self.flow.nodes[flow].kind {
            FlowKind::Control(Control::Field(_)) => {
                let value = attribute("value");
                let kind = attribute("type").to_ascii_lowercase();
                if MADE_UP.contains(&kind.as_str()) {
                    return;
                }
                if kind == "password" {
                    MASK.repeat(value.chars().count().min(MOST_MASKED))
                } else {
                    value.to_owned()
                }
            }
            FlowKind::Control(Control::Area(..)) => self.dom.own_text(node),
            _ => return,
        };
        if !value.is_empty() {
            self.flow.in_fields.push(FieldText {
                node: flow,
                text: value,
                style: computed.style.clone(),
                placeholder: false,
            });
            return;
        }
        let placeholder = attribute("placeholder").to_owned();
        if placeholder.is_empty() {
            return;
        }
        let pseudo = PseudoElement::Placeholder;
        let style = if self.cascade.has(self.dom, node, pseudo) {
            let made = self
                .cascade
                .compute(self.dom, node, Some(pseudo), computed, self.root);
            made.style
        } else {
            computed.style.clone()
        };
        self.flow.in_fields.push(FieldText {
            node: flow,
            text: placeholder,
            style,
            placeholder: true,
        });
    }

    /// A size that an attribute states, in px.
    fn attribute_px(&self, node: NodeId, name: &str) -> Option<f32> {
        let value = self.dom.attribute(node, name)?.trim();
        let px = value.trim_end_matches("px").parse::<f32>().ok();
        px.filter(|px| *px >= 0.0)
    }

    /// Width by height as attributes state them.
    pub(super) fn attribute_ratio(&self, node: NodeId) -> Option<f32> {
        let (width, height) = (
            self.attribute_px(node, "width")?,
            self.attribute_px(node, "height")?,
        );
        Natural::of(width, height).ratio
    }

    /// What a picture or frame is in itself. Attributes that state its size count as
    /// style besides, see `page/hints.rs`.
    fn natural(&self, node: NodeId, tag: &str) -> Natural {
        let px = |name: &str| self.attribute_px(node, name);
        let declared = self.attribute_ratio(node);
        let ratio = |ratio| Natural {
            ratio,
            ..Natural::default()
        };
        match tag {
            "svg" => {
                let view_box = self.dom.attribute(node, "viewBox");
                let intrinsic = view_box.and_then(pictures::ratio).or(declared);
                Natural {
                    fills: intrinsic.is_some(),
                    ..ratio(intrinsic)
                }
            }
            "canvas" => Natural::of(
                px("width").unwrap_or(FRAME.0),
                px("height").unwrap_or(FRAME.1),
            ),
            "video" => Natural {
                ratio: declared,
                ..Natural::of(FRAME.0, FRAME.1)
            },
            "iframe" | "embed" | "object" => Natural {
                ratio: None,
                ..Natural::of(FRAME.0, FRAME.1)
            },
            _ => Natural::default(),
        }
    }
}
