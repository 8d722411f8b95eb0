//! Pictures: their own size, and what browsers show where one cannot be had.

use std::sync::Arc;

use quick_xml::Reader;
use quick_xml::events::Event;

use super::Builder;
use crate::page::cascade::Computed;
use crate::page::dom::NodeId;
use crate::page::flow::{Control, FlowKind, Natural, Sign};
use crate::style::computed::{BoxStyle, Display, Length, Side};

/// The size of a drawing that says nothing of its own (CSS Images 3, §5.1), in px.
const DRAWING: (f32, f32) = (300.0, 150.0);

/// The em of the outermost element of a drawing of its own, in px.
const EM: f32 = 16.0;

impl Builder<'_> {
    /// What an `img` is.
    pub(super) fn image(&self, node: NodeId, boxes: &mut Arc<BoxStyle>) -> FlowKind {
        let source = self.dom.attribute(node, "src").map(str::trim);
        let source = source.filter(|url| !url.is_empty());
        match source.and_then(|url| self.picture_size(url)) {
            Some(natural) => FlowKind::Replaced(natural),
            None => {
                let ratio = self.attribute_ratio(node);
                missing(
                    self.dom.attribute(node, "alt"),
                    source.is_some(),
                    ratio,
                    boxes,
                )
            }
        }
    }

    /// Adds the text of a picture that cannot be had, behind a sign that floats.
    pub(super) fn alternative(&mut self, node: NodeId, flow: usize, computed: &Computed) {
        let kind = &self.flow.nodes[flow].kind;
        if !matches!(kind, FlowKind::Element(tag) if tag == "img") {
            return;
        }
        let text = self.dom.attribute(node, "alt").unwrap_or_default();
        let boxes = BoxStyle {
            display: Display::Block,
            float: Some(Side::Left),
            ..BoxStyle::default()
        };
        let kind = FlowKind::Control(Control::Sign(Sign::Missing));
        let style = computed.style.clone();
        let sign = self.flow.nodes[flow].inside(kind, style, Arc::new(boxes));
        self.add(Some(flow), sign);
        self.set(text, None, self.dom.line(node), flow, computed);
    }

    /// The size of a picture that lies beside the page.
    fn picture_size(&self, url: &str) -> Option<Natural> {
        let file = self.files.read(url, self.name, self.name).ok()?;
        match imagesize::blob_size(&file.bytes) {
            Ok(size) if size.width > 0 && size.height > 0 => {
                Some(Natural::of(size.width as f32, size.height as f32))
            }
            Ok(_) => None,
            Err(_) => drawing_size(&file.bytes),
        }
    }
}

/// What stands in the place of a picture that cannot be had (HTML, §15.4.3): its text, a sign where
/// it has none, nothing where that is empty. A text is a box whose content is set like any other
/// ([`Builder::alternative`]). In a line a size counts only where there is no text and
/// both are stated.
/// A block keeps the ratio of its attributes.
fn missing(
    alternative: Option<&str>,
    has_source: bool,
    ratio: Option<f32>,
    boxes: &mut Arc<BoxStyle>,
) -> FlowKind {
    let text = alternative.unwrap_or_default();
    let both = boxes.width.preferred != Length::Auto && boxes.height.preferred != Length::Auto;
    let in_line = boxes.display == Display::Inline;
    if in_line && !(both && text.is_empty()) {
        let boxes = Arc::make_mut(boxes);
        (boxes.width.preferred, boxes.height.preferred) = (Length::Auto, Length::Auto);
    }
    if !text.is_empty() {
        return FlowKind::Element("img".to_owned());
    }
    if has_source && alternative.is_none() && !both {
        return FlowKind::Control(Control::Missing);
    }
    FlowKind::Replaced(Natural {
        fills: !in_line && boxes.display != Display::InlineBlock,
        missing: true,
        ratio: ratio.filter(|_| !in_line),
        ..Natural::of(0.0, 0.0)
    })
}

/// The size of a drawing (SVG 2, §8.2 and §8.12): what its outermost element states, and the ratio
/// of its `viewBox`.
fn drawing_size(bytes: &[u8]) -> Option<Natural> {
    let mut reader = Reader::from_reader(bytes);
    let mut buffer = Vec::new();
    let root = loop {
        match reader.read_event_into(&mut buffer).ok()? {
            Event::Start(element) | Event::Empty(element) => break element.into_owned(),
            Event::Eof => return None,
            _ => buffer.clear(),
        }
    };
    if root.local_name().as_ref() != "svg" {
        return None;
    }
    let attribute = |name: &str| {
        let found = root.try_get_attribute(name).ok()??;
        Some(found.value.into_owned())
    };
    let (width, height) = (
        attribute("width").and_then(|value| px(&value)),
        attribute("height").and_then(|value| px(&value)),
    );
    let ratio = attribute("viewBox").and_then(|value| ratio(&value));
    let (width, height) = match (width, height, ratio) {
        (Some(width), None, Some(ratio)) => (Some(width), Some(width / ratio)),
        (None, Some(height), Some(ratio)) => (Some(height * ratio), Some(height)),
        (width, height, _) => (width, height),
    };
    Some(match (width, height, ratio) {
        (Some(width), Some(height), _) => Natural::of(width, height),
        (None, None, Some(ratio)) => Natural {
            ratio: Some(ratio),
            fills: true,
            ..Natural::default()
        },
        (width, height, _) => Natural {
            ratio: None,
            ..Natural::of(width.unwrap_or(DRAWING.0), height.unwrap_or(DRAWING.1))
        },
    })
}

/// Width by height of a `viewBox`.
pub(super) fn ratio(view_box: &str) -> Option<f32> {
    let numbers: Vec<f32> = view_box
        .split([' ', ',', '\t', '\n'])
        .filter(|part| !part.is_empty())
        .map_while(|part| part.parse().ok())
        .collect();
    match numbers.as_slice() {
        [_, _, width, height] => Natural::of(*width, *height).ratio,
        _ => None,
    }
}

/// A length of a drawing in px; nothing for a share, or what is no length.
fn px(value: &str) -> Option<f32> {
    const UNITS: [(&str, f32); 9] = [
        ("px", 1.0),
        ("pt", 4.0 / 3.0),
        ("pc", 16.0),
        ("mm", 96.0 / 25.4),
        ("cm", 96.0 / 2.54),
        ("in", 96.0),
        ("rem", EM),
        ("em", EM),
        ("ex", EM / 2.0),
    ];
    let value = value.trim().to_ascii_lowercase();
    let (number, scale) = UNITS
        .iter()
        .find_map(|(unit, scale)| Some((value.strip_suffix(unit)?, *scale)))
        .unwrap_or((&value, 1.0));
    let number: f32 = number.trim().parse().ok()?;
    (number.is_finite() && number >= 0.0).then_some(number * scale)
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::*;

    /// Sizes are those that Chromium gives an `img`; 0 for what follows from the room.
    #[rstest]
    #[case::both("width='50' height='30'", (50.0, 30.0), Some(5.0 / 3.0))]
    #[case::one_and_a_view("width='60' viewBox='0 0 40 20'", (60.0, 30.0), Some(2.0))]
    #[case::other_units("width='24mm' height='12pt'", (90.708_66, 16.0), Some(5.669_291))]
    #[case::a_share_is_none("width='2em' height='50%' viewBox='0,0 40,20'", (32.0, 16.0), Some(2.0))]
    #[case::a_view_alone("viewBox='0 0 40 20'", (0.0, 0.0), Some(2.0))]
    #[case::nothing("", (300.0, 150.0), None)]
    #[case::one("height='20'", (300.0, 20.0), None)]
    #[case::no_length("width='wide' height='-3'", (300.0, 150.0), None)]
    fn drawings(#[case] said: &str, #[case] size: (f32, f32), #[case] ratio: Option<f32>) {
        let file = format!("<?xml version='1.0'?><!-- a sign --><svg {said}><g/></svg>");
        let natural = drawing_size(file.as_bytes()).expect("a drawing");
        let given = [natural.width, natural.height, natural.ratio].map(Option::unwrap_or_default);
        let meant = [size.0, size.1, ratio.unwrap_or_default()];
        let apart = given
            .iter()
            .zip(meant)
            .map(|(given, meant)| (given - meant).abs());
        assert!(apart.fold(0.0, f32::max) < 0.001, "{natural:?}");
        assert_eq!(natural.fills, size.0 == 0.0);
    }

    #[rstest]
    #[case::a_page("<!doctype html><html><svg/></html>")]
    #[case::nothing("")]
    #[case::cut_off("<svg width='3")]
    fn other_files_are_no_drawings(#[case] file: &str) {
        assert_eq!(drawing_size(file.as_bytes()), None);
    }
}
