//! A page as layout looks at it: the elements that make boxes, and the texts in
//! them, each with its style.

use std::rc::Rc;

use super::boxes::{BoxStyle, Display};
use super::cascade::{Cascade, Computed};
use super::dom::{Dom, NodeId};
use super::generated;
use super::language;
use super::sheets::{Files, Gathered, PageProblem, PlacedFace};
use super::style::TextStyle;
use super::texts::{HIDDEN, MOST_ELEMENTS, short_selector, too_many};
use super::transform::transformed;
use crate::style::read::{PseudoElement, Viewport};

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
}

/// Boxes and texts; the first is the root element, parents come before children.
#[derive(Debug, Clone, Default)]
pub struct Flow {
    /// The nodes.
    pub nodes: Vec<FlowNode>,
}

/// An element, or a text in one.
#[derive(Debug, Clone)]
pub struct FlowNode {
    /// What it is.
    pub kind: FlowKind,
    /// The style of its text.
    pub text: Rc<TextStyle>,
    /// Its box; of a text that of its element.
    pub boxes: Rc<BoxStyle>,
    /// The language, as the page states it.
    pub language: Option<Rc<str>>,
    /// The place of the element among all elements of the page, in the order of
    /// the page, from 0; of a text that of the element that it stands in.
    pub element: usize,
    /// The element as a short selector.
    pub selector: Rc<str>,
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
}

impl Natural {
    fn of(width: f32, height: f32) -> Self {
        Natural {
            width: Some(width),
            height: Some(height),
            ratio: (width > 0.0 && height > 0.0).then(|| width / height),
            fills: false,
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
    /// A box to tick.
    Tick,
    /// The drawn marker of a list item, in its first line.
    Sign(Sign),
}

/// Markers that are drawn, not set.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Sign {
    /// A disc, a circle or a square.
    Bullet,
    /// The triangle of `details`.
    Disclosure,
}

/// Reads a page called `name` for layout; files that it names come from `files`.
pub fn read_flow(html: &str, name: &str, files: &dyn Files, viewport: Viewport) -> FlowPage {
    let dom = Dom::parse(html);
    let mut gathered = Gathered::new(dom.quirks());
    gathered.page(&dom, name, files, viewport);
    let cascade = Cascade::new(gathered.rules, viewport, dom.quirks(), true);
    let mut builder = Builder {
        dom: &dom,
        cascade,
        root: super::MEDIUM,
        flow: Flow::default(),
        problems: gathered.problems,
        elements: 0,
        letters: Vec::new(),
        name,
        files,
    };
    builder.walk();
    FlowPage {
        name: name.to_owned(),
        flow: builder.flow,
        faces: gathered.faces,
        problems: builder.problems,
        quirks: dom.quirks(),
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
        let text = Rc::new(style.clone());
        let language: Option<Rc<str>> = language.map(Rc::from);
        let block = Rc::new(BoxStyle {
            display: Display::Block,
            rtl,
            ..BoxStyle::default()
        });
        let node = |kind, boxes: &Rc<BoxStyle>, element, selector: &str, line, children| FlowNode {
            kind,
            text: text.clone(),
            boxes: boxes.clone(),
            language: language.clone(),
            element,
            selector: Rc::from(selector),
            line,
            spans: (1, 1),
            children,
        };
        let count = paragraphs.len();
        let paragraph = Rc::new(BoxStyle {
            margin: super::boxes::Sides {
                top: super::boxes::Length::Px(style.size),
                bottom: super::boxes::Length::Px(style.size),
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
        Flow { nodes }
    }
}

struct Builder<'d> {
    dom: &'d Dom,
    cascade: Cascade,
    root: f32,
    flow: Flow,
    problems: Vec<PageProblem>,
    /// How many elements came so far.
    elements: usize,
    /// Blocks whose first letter has a style of its own, and has not come yet.
    letters: Vec<(usize, NodeId)>,
    name: &'d str,
    files: &'d dyn Files,
}

/// An element on the way down.
struct Level {
    next: Option<NodeId>,
    node: NodeId,
    /// Its number in the flow; nothing where it makes no box, nor does what is in
    /// it.
    flow: Option<usize>,
    computed: Computed,
    /// The number of the last list item in it.
    items: usize,
    /// How many texts it had.
    texts: usize,
    /// The place of the element.
    element: usize,
    /// Whether what is in it is in the page at all: templates hold a page of
    /// their own.
    counts: bool,
}

impl Builder<'_> {
    fn walk(&mut self) {
        let document = self.dom.document();
        let mut levels = vec![Level {
            next: self.dom.children(document).next(),
            node: document,
            flow: None,
            computed: Computed::initial(),
            items: 0,
            texts: 0,
            element: 0,
            counts: true,
        }];
        while let Some(level) = levels.last_mut() {
            let Some(node) = level.next else {
                if let Some(level) = levels.pop() {
                    self.leave(&level);
                }
                continue;
            };
            level.next = self.dom.next(node);
            if let Some(text) = self.dom.text(node) {
                let place = level.texts;
                level.texts += 1;
                if let Some(flow) = level.flow {
                    let (computed, element) = (level.computed.clone(), level.element);
                    self.text(
                        text,
                        Some(place),
                        node,
                        level.node,
                        flow,
                        &computed,
                        element,
                    );
                }
                continue;
            }
            if self.dom.tag(node).is_some() && !self.element(node, &mut levels) {
                return;
            }
        }
    }

    /// Goes into an element; false where there are too many.
    fn element(&mut self, node: NodeId, levels: &mut Vec<Level>) -> bool {
        let Some(parent) = levels.last_mut() else {
            return false;
        };
        let place = self.elements;
        self.elements += usize::from(parent.counts);
        if self.elements > MOST_ELEMENTS {
            self.problems.push(too_many(self.name, self.dom.line(node)));
            return false;
        }
        let tag = self.dom.tag(node).unwrap_or_default();
        let top = levels.len() == 1;
        let last = levels.len() - 1;
        let parent = &mut levels[last];
        let counts = parent.counts && tag != "template";
        let shown = (top || parent.flow.is_some())
            && (is_replaced(tag) || !HIDDEN.contains(&tag))
            && !folded(self.dom, node, parent.node);
        let mut level = Level {
            next: self.dom.children(node).next(),
            node,
            flow: None,
            computed: parent.computed.clone(),
            items: first_number(self.dom, node),
            texts: 0,
            element: place,
            counts,
        };
        if shown {
            let computed = self
                .cascade
                .compute(self.dom, node, None, &parent.computed, self.root);
            if top {
                self.root = computed.style.size;
            }
            if computed.boxes.display != Display::None {
                let number = if computed.display == "list-item" {
                    let stated = self.dom.attribute(node, "value");
                    let stated = stated.and_then(|value| value.trim().parse().ok());
                    parent.items = stated.unwrap_or(parent.items + 1);
                    Some(parent.items)
                } else {
                    None
                };
                let around = parent.flow;
                level.flow = Some(self.enter(node, tag, around, &computed, place, number));
                level.computed = computed;
                if self.is_leaf(level.flow) {
                    // What is in a picture or control is not laid out, but counted.
                    level.flow = None;
                }
            }
        }
        levels.push(level);
        true
    }

    fn is_leaf(&self, flow: Option<usize>) -> bool {
        flow.is_some_and(|flow| {
            matches!(
                self.flow.nodes[flow].kind,
                FlowKind::Replaced(..) | FlowKind::Control(_) | FlowKind::Break
            )
        })
    }

    fn add(&mut self, around: Option<usize>, node: FlowNode) -> usize {
        let number = self.flow.nodes.len();
        self.flow.nodes.push(node);
        if let Some(around) = around {
            self.flow.nodes[around].children.push(number);
        }
        number
    }

    /// Adds the node of an element, with what stands before its content.
    fn enter(
        &mut self,
        node: NodeId,
        tag: &str,
        around: Option<usize>,
        computed: &Computed,
        element: usize,
        number: Option<usize>,
    ) -> usize {
        let language: Option<Rc<str>> = language::of(self.dom, node).map(Rc::from);
        let selector: Rc<str> = Rc::from(short_selector(self.dom, node));
        let mut boxes = computed.boxes.clone();
        if self.cascade.has(self.dom, node, PseudoElement::FirstLine) {
            Rc::make_mut(&mut boxes)
                .beyond
                .push("::first-line".to_owned());
        }
        if tag == "button" && boxes.display == Display::Inline {
            // Buttons are boxes whatever their style says (HTML, §15.5.2).
            Rc::make_mut(&mut boxes).display = Display::InlineBlock;
        }
        if let Some(around) = around {
            self.as_item(around, &mut boxes);
        }
        let kind = self.kind(node, tag);
        let flow = self.add(
            around,
            FlowNode {
                kind,
                text: computed.style.clone(),
                boxes,
                language,
                element,
                selector,
                line: self.dom.line(node),
                spans: (self.spanned(node, "colspan"), self.spanned(node, "rowspan")),
                children: Vec::new(),
            },
        );
        let contains = !matches!(computed.boxes.display, Display::Inline | Display::Contents);
        if contains && self.cascade.has(self.dom, node, PseudoElement::FirstLetter) {
            self.letters.push((flow, node));
        }
        if let Some(number) = number {
            self.marker(node, flow, computed, number, element);
        }
        self.pseudo(node, PseudoElement::Before, flow, computed, element);
        flow
    }

    /// Items of flexible boxes and grids are blocks (CSS Display 3, §2.7).
    fn as_item(&self, around: usize, boxes: &mut Rc<BoxStyle>) {
        let container = matches!(
            self.flow.nodes[around].boxes.display,
            Display::Flex { .. } | Display::Grid { .. }
        );
        if container && matches!(boxes.display, Display::Inline | Display::InlineBlock) {
            Rc::make_mut(boxes).display = Display::Block;
        }
    }

    fn leave(&mut self, level: &Level) {
        if let Some(flow) = level.flow {
            self.letters.retain(|(block, _)| *block != flow);
            let computed = level.computed.clone();
            self.pseudo(
                level.node,
                PseudoElement::After,
                flow,
                &computed,
                level.element,
            );
        }
    }

    #[allow(clippy::too_many_arguments)]
    fn text(
        &mut self,
        text: &str,
        place: Option<usize>,
        node: NodeId,
        element_node: NodeId,
        flow: usize,
        computed: &Computed,
        element: usize,
    ) {
        let letter = generated::first_letter(text);
        let mut text = text;
        if let (Some((_, block)), Some(letter), Some(_)) = (self.letters.last(), letter, place) {
            let block = *block;
            self.letters.clear();
            let pseudo = Some(PseudoElement::FirstLetter);
            let made = self
                .cascade
                .compute(self.dom, block, pseudo, computed, self.root);
            let around = &self.flow.nodes[flow];
            let inside = FlowNode {
                kind: FlowKind::Element("::first-letter".to_owned()),
                text: made.style.clone(),
                boxes: made.boxes.clone(),
                language: around.language.clone(),
                element,
                selector: Rc::from(format!("{}::first-letter", around.selector)),
                line: around.line,
                spans: (1, 1),
                children: Vec::new(),
            };
            let inside = self.add(Some(flow), inside);
            self.text(
                &text[letter.clone()],
                place,
                node,
                element_node,
                inside,
                &made,
                element,
            );
            text = &text[letter.end..];
        }
        if text.is_empty() {
            return;
        }
        let around = &self.flow.nodes[flow];
        let (language, selector) = (around.language.clone(), around.selector.clone());
        let shown = transformed(text, computed.style.transform, language.as_deref()).into_owned();
        debug_assert!(self.dom.tag(element_node).is_some());
        let line = self.dom.line(node);
        self.add(
            Some(flow),
            FlowNode {
                kind: FlowKind::Text(shown, place),
                text: computed.style.clone(),
                boxes: computed.boxes.clone(),
                language,
                element,
                selector,
                line,
                spans: (1, 1),
                children: Vec::new(),
            },
        );
    }

    fn marker(
        &mut self,
        node: NodeId,
        flow: usize,
        computed: &Computed,
        number: usize,
        element: usize,
    ) {
        let own = self.cascade.has(self.dom, node, PseudoElement::Marker);
        let computed = if own {
            let pseudo = Some(PseudoElement::Marker);
            self.cascade
                .compute(self.dom, node, pseudo, computed, self.root)
        } else {
            computed.clone()
        };
        let text = match &computed.content {
            Some(content) => Some(generated::content(content, self.dom, node, &computed.style)),
            None => generated::marker(&computed.style, number).map(|text| format!("{text} ")),
        };
        if text.is_none() && self.flow.nodes[flow].boxes.marker_inside {
            self.sign(flow, &computed, element);
        }
        let bullet = ["disc", "circle", "square"].contains(&computed.style.list.trim());
        let text = match text {
            // Drawn bullets have no text.
            None if bullet && !self.flow.nodes[flow].boxes.marker_inside => String::new(),
            Some(text) if !text.is_empty() => text,
            _ => return,
        };
        if self.flow.nodes[flow].boxes.marker_inside {
            self.text(&text, None, node, node, flow, &computed, element);
            return;
        }
        let around = &self.flow.nodes[flow];
        let (language, selector) = (around.language.clone(), around.selector.clone());
        let line = around.line;
        self.add(
            Some(flow),
            FlowNode {
                kind: FlowKind::Marker(text),
                text: computed.style.clone(),
                boxes: computed.boxes.clone(),
                language,
                element,
                selector,
                line,
                spans: (1, 1),
                children: Vec::new(),
            },
        );
    }

    /// A drawn marker in the first line of its item.
    fn sign(&mut self, flow: usize, computed: &Computed, element: usize) {
        let sign = match computed.style.list.trim() {
            "disc" | "circle" | "square" => Sign::Bullet,
            list if list.starts_with("disclosure-") => Sign::Disclosure,
            _ => return,
        };
        let around = &self.flow.nodes[flow];
        let node = FlowNode {
            kind: FlowKind::Control(Control::Sign(sign)),
            text: computed.style.clone(),
            boxes: Rc::new(BoxStyle::default()),
            language: around.language.clone(),
            element,
            selector: around.selector.clone(),
            line: around.line,
            spans: (1, 1),
            children: Vec::new(),
        };
        self.add(Some(flow), node);
    }

    fn pseudo(
        &mut self,
        node: NodeId,
        pseudo: PseudoElement,
        flow: usize,
        parent: &Computed,
        element: usize,
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
        let text = generated::content(content, self.dom, node, &made.style);
        let around = &self.flow.nodes[flow];
        let (language, line) = (around.language.clone(), around.line);
        let suffix = if pseudo == PseudoElement::Before {
            "::before"
        } else {
            "::after"
        };
        let selector: Rc<str> = Rc::from(format!("{}{suffix}", around.selector));
        let mut boxes = made.boxes.clone();
        self.as_item(flow, &mut boxes);
        let inside = self.add(
            Some(flow),
            FlowNode {
                kind: FlowKind::Element(suffix.to_owned()),
                text: made.style.clone(),
                boxes,
                language,
                element,
                selector,
                line,
                spans: (1, 1),
                children: Vec::new(),
            },
        );
        self.text(&text, None, node, node, inside, &made, element);
    }

    /// What a picture or frame is in itself. Attributes that state its size count as
    /// style besides, see [`super::hints`].
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
        let file = self.files.read(url, self.name).ok()?;
        let size = imagesize::blob_size(&file.bytes).ok()?;
        (size.width > 0 && size.height > 0).then_some((size.width as f32, size.height as f32))
    }

    fn spanned(&self, node: NodeId, name: &str) -> u32 {
        let stated = self.dom.attribute(node, name);
        stated
            .and_then(|value| value.trim().parse().ok())
            .unwrap_or(1)
    }

    fn kind(&self, node: NodeId, tag: &str) -> FlowKind {
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
}

/// The size of a frame or canvas that states none (CSS 2.2, §10.3.2), in px.
const FRAME: (f32, f32) = (300.0, 150.0);

/// Elements whose size is their own.
fn is_replaced(tag: &str) -> bool {
    [
        "img", "svg", "canvas", "video", "iframe", "embed", "object", "meter", "progress", "math",
    ]
    .contains(&tag)
}

/// Whether `node` is in a `details` that is closed, and not its summary.
fn folded(dom: &Dom, node: NodeId, parent: NodeId) -> bool {
    dom.tag(parent) == Some("details")
        && dom.attribute(parent, "open").is_none()
        && dom.tag(node) != Some("summary")
}

/// What an ordered list starts to count from, less one.
fn first_number(dom: &Dom, node: NodeId) -> usize {
    let start = dom
        .attribute(node, "start")
        .and_then(|start| start.trim().parse().ok());
    start.map_or(0, |start: usize| start.saturating_sub(1))
}
