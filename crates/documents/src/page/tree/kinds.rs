//! What elements are: pictures and frames with a size of their own, form controls.

use super::Builder;
use crate::page::dom::NodeId;
use crate::page::flow::{Control, FlowKind, Natural};

/// The size of a frame or canvas that states none (CSS 2.2, §10.3.2), in px.
const FRAME: (f32, f32) = (300.0, 150.0);

/// Elements whose size is their own.
pub(super) fn is_replaced(tag: &str) -> bool {
    [
        "img", "svg", "canvas", "video", "iframe", "embed", "object", "meter", "progress", "math",
    ]
    .contains(&tag)
}

impl Builder<'_> {
    /// What an element is.
    pub(super) fn kind(&self, node: NodeId, tag: &str) -> FlowKind {
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
            tag if is_replaced(tag) => FlowKind::Replaced(self.natural(node, tag)),
            _ => FlowKind::Element(tag.to_owned()),
        }
    }

    /// What a picture or frame is in itself. Attributes that state its size count as
    /// style besides, see `page/hints.rs`.
    fn natural(&self, node: NodeId, tag: &str) -> Natural {
        let px = |name: &str| {
            let value = self
                .dom
                .attribute(node, name)?
                .trim()
                .trim_end_matches("px");
            value.parse::<f32>().ok().filter(|px| *px >= 0.0)
        };
        let stated = match (px("width"), px("height")) {
            (Some(width), Some(height)) => Natural::of(width, height).ratio,
            _ => None,
        };
        let ratio = |ratio| Natural {
            ratio,
            ..Natural::default()
        };
        match tag {
            "img" => {
                let url = self.dom.attribute(node, "src");
                match url.and_then(|url| self.picture_size(url)) {
                    Some((width, height)) => Natural::of(width, height),
                    None => ratio(stated),
                }
            }
            "svg" => {
                let numbers: Vec<f32> = self
                    .dom
                    .attribute(node, "viewBox")
                    .unwrap_or_default()
                    .split([' ', ','])
                    .filter_map(|number| number.parse().ok())
                    .collect();
                let own = match numbers.as_slice() {
                    [_, _, width, height] => Natural::of(*width, *height).ratio,
                    _ => stated,
                };
                Natural {
                    fills: own.is_some(),
                    ..ratio(own)
                }
            }
            "canvas" => Natural::of(
                px("width").unwrap_or(FRAME.0),
                px("height").unwrap_or(FRAME.1),
            ),
            "video" => Natural {
                ratio: stated,
                ..Natural::of(FRAME.0, FRAME.1)
            },
            "iframe" | "embed" | "object" => Natural {
                ratio: None,
                ..Natural::of(FRAME.0, FRAME.1)
            },
            _ => Natural::default(),
        }
    }

    /// The size of a picture that lies beside the page, in px.
    fn picture_size(&self, url: &str) -> Option<(f32, f32)> {
        let file = self.files.read(url, self.name, self.name).ok()?;
        let size = imagesize::blob_size(&file.bytes).ok()?;
        (size.width > 0 && size.height > 0).then_some((size.width as f32, size.height as f32))
    }
}
