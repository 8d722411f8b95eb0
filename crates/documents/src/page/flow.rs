//! A page as layout looks at it: boxes and texts in a tree, each with its style.

use std::sync::Arc;

use super::sheets::{PageProblem, PlacedFace};
use crate::style::computed::{BoxStyle, Display, Length, Sides, TextStyle};

/// A page, ready for layout.
#[derive(Debug, Clone)]
pub struct FlowPage {
    /// Its name, as the caller gave it.
    pub name: String,
    /// The tree.
    pub flow: Flow,
    /// The `@font-face` rules of its sheets, in order.
    pub faces: Vec<PlacedFace>,
    /// What could not be read.
    pub problems: Vec<PageProblem>,
    /// Whether the page is in quirks mode, where lines follow other rules.
    pub quirks: bool,
    /// How many steps its selectors and custom properties took.
    pub steps: u64,
}

/// Boxes and texts; the first is the root element, parents come before children.
#[derive(Debug, Clone, Default)]
pub struct Flow {
    /// The nodes.
    pub nodes: Vec<FlowNode>,
    /// What stands in form fields, which are as large with any text.
    pub in_fields: Vec<FieldText>,
    /// Whether the page is in quirks mode.
    pub quirks: bool,
    /// Whether a script on the page loads fonts by itself (CSS Font Loading 3), which is taken
    /// to be all of them.
    pub loads_fonts: bool,
}

/// A text in a form field: its value, else its placeholder.
#[derive(Debug, Clone)]
pub struct FieldText {
    /// The field, by its number among the nodes.
    pub node: usize,
    /// The text.
    pub text: String,
    /// Its style: that of the field, or of `::placeholder`.
    pub style: Arc<TextStyle>,
    /// Whether it is the placeholder.
    pub placeholder: bool,
}

/// An element, or a text in one.
#[derive(Debug, Clone)]
pub struct FlowNode {
    /// What it is.
    pub kind: FlowKind,
    /// The style of its text.
    pub text: Arc<TextStyle>,
    /// Its box; of a text that of its element.
    pub boxes: Arc<BoxStyle>,
    /// The language, as the page states it.
    pub language: Option<Arc<str>>,
    /// The place of the element among all elements of the page, in the order of
    /// the page, from 0; of a text that of the element that it stands in.
    pub element: usize,
    /// The element as a short selector.
    pub selector: Arc<str>,
    /// The line of the file, counted from 1.
    pub line: u32,
    /// Columns and rows that a cell of a table spans.
    pub spans: (u32, u32),
    /// The nodes in it.
    pub children: Vec<usize>,
}

/// What a node is.
#[derive(Debug, Clone, PartialEq)]
pub enum FlowKind {
    /// An element; its tag.
    Element(String),
    /// A text of the page, after `text-transform`, before blanks collapse; its
    /// place among the texts of its element, which pseudo-elements have none of.
    Text(String, Option<usize>),
    /// A marker outside of its list item; empty for a bullet, which is drawn.
    Marker(String),
    /// `<br>`.
    Break,
    /// A box of a size of its own: a picture, a frame.
    Replaced(Natural),
    /// A form control that is drawn by the browser.
    Control(Control),
}

/// What a picture or frame is in itself (CSS Images 3, §5.1).
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Natural {
    /// Its width in px.
    pub width: Option<f32>,
    /// Its height in px.
    pub height: Option<f32>,
    /// Width by height.
    pub ratio: Option<f32>,
    /// Whether it has no size, but is as wide as there is room.
    pub fills: bool,
    /// Whether it cannot be read here, and is as browsers show what is not there.
    pub missing: bool,
}

impl Natural {
    /// Of a size in px.
    pub(super) fn of(width: f32, height: f32) -> Self {
        Natural {
            width: Some(width),
            height: Some(height),
            ratio: (width > 0.0 && height > 0.0).then(|| width / height),
            fills: false,
            missing: false,
        }
    }
}

/// Form controls.
#[derive(Debug, Clone, PartialEq)]
pub enum Control {
    /// A line of text; its width in characters.
    Field(u32),
    /// Several lines; columns, rows.
    Area(u32, u32),
    /// A list that folds out; its options.
    Choice(Vec<String>),
    /// A button of an `input`; its label.
    Button(String),
    /// A button to choose a file, and room for its name.
    File,
    /// A box to tick.
    Tick,
    /// A bar with a knob on it.
    Slider,
    /// A field that shows a colour to choose.
    Swatch,
    /// The sign for a picture that cannot be had and has no text.
    Missing,
    /// What is drawn: the marker of a list item in its first line, a sign before the text of a
    /// picture that cannot be had.
    Sign(Sign),
}

/// What is drawn, not set.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Sign {
    /// A disc, a circle or a square.
    Bullet,
    /// The triangle of `details`.
    Disclosure,
    /// What stands before the text of a picture that cannot be had.
    Missing,
}

impl FlowNode {
    /// A node that stands in this one, of its element, with its language and place.
    pub(super) fn inside(
        &self,
        kind: FlowKind,
        text: Arc<TextStyle>,
        boxes: Arc<BoxStyle>,
    ) -> Self {
        FlowNode {
            kind,
            text,
            boxes,
            language: self.language.clone(),
            element: self.element,
            selector: self.selector.clone(),
            line: self.line,
            spans: (1, 1),
            children: Vec::new(),
        }
    }
}

impl Flow {
    /// One paragraph after another, as plain text has them, in a column of its own.
    pub fn of_paragraphs(
        paragraphs: &[String],
        style: &TextStyle,
        language: Option<&str>,
        rtl: bool,
    ) -> Self {
        let text = Arc::new(style.clone());
        let language: Option<Arc<str>> = language.map(Arc::from);
        let block = Arc::new(BoxStyle {
            display: Display::Block,
            rtl,
            ..BoxStyle::default()
        });
        let node =
            |kind, boxes: &Arc<BoxStyle>, element, selector: &str, line, children| FlowNode {
                kind,
                text: text.clone(),
                boxes: boxes.clone(),
                language: language.clone(),
                element,
                selector: Arc::from(selector),
                line,
                spans: (1, 1),
                children,
            };
        let count = paragraphs.len();
        let paragraph = Arc::new(BoxStyle {
            margin: Sides {
                top: Length::Px(style.size),
                bottom: Length::Px(style.size),
                ..block.margin.clone()
            },
            ..(*block).clone()
        });
        let root = FlowKind::Element("html".to_owned());
        let children = (0..count).map(|place| 1 + 2 * place).collect();
        let mut nodes = vec![node(root, &block, 0, "text", 1, children)];
        for (place, words) in paragraphs.iter().enumerate() {
            let number = nodes.len();
            let line = u32::try_from(place + 1).unwrap_or(u32::MAX);
            let element = FlowKind::Element("p".to_owned());
            let name = format!("paragraph {line}");
            nodes.push(node(
                element,
                &paragraph,
                place + 1,
                &name,
                line,
                vec![number + 1],
            ));
            let words = FlowKind::Text(words.clone(), Some(0));
            nodes.push(node(words, &paragraph, place + 1, &name, line, Vec::new()));
        }
        Flow {
            nodes,
            ..Flow::default()
        }
    }
}
