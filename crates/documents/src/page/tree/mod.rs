//! Pages read for layout: down the document, every element with its box, every text
//! with its style.

mod kinds;
mod made;
mod pictures;
mod tables;

use std::sync::Arc;

use super::cascade::{Cascade, Computed};
use super::counters::Counters;
use super::dom::{Dom, NodeId};
use super::flow::{Flow, FlowKind, FlowNode, FlowPage};
use super::language;
use super::sheets::{Files, Gathered, PageProblem};
use super::texts::{HIDDEN, MOST_ELEMENTS, limits, short_selector, too_many};
use super::transform::transformed;
use super::walk::{ListNumbers, Walker, Way, walk};
use crate::style::computed::{BoxStyle, Display, Outer, Unsupported};
use crate::style::read::{PseudoElement, Viewport};

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
        counters: Counters::default(),
        name,
        files,
    };
    let document = Level {
        node: dom.document(),
        flow: None,
        computed: Computed::initial(),
        items: ListNumbers::of(&dom, dom.document()),
        texts: 0,
        counts: true,
    };
    walk(&dom, document, &mut builder);
    let limits = limits(&dom, &builder.cascade, name);
    builder.problems.extend(limits);
    builder.flow.quirks = dom.quirks();
    builder.flow.loads_fonts = loads_fonts(&dom);
    FlowPage {
        name: name.to_owned(),
        flow: builder.flow,
        faces: gathered.faces,
        problems: builder.problems,
        quirks: dom.quirks(),
        steps: builder.cascade.work.taken(),
    }
}

/// Whether a script on the page names `document.fonts` and loads of them.
fn loads_fonts(dom: &Dom) -> bool {
    let mut next = vec![dom.document()];
    while let Some(node) = next.pop() {
        if dom.tag(node) == Some("script") {
            let script = dom.own_text(node);
            if script.contains("document.fonts") && script.contains(".load(") {
                return true;
            }
        }
        next.extend(dom.children(node));
    }
    false
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
    counters: Counters,
    name: &'d str,
    files: &'d dyn Files,
}

/// An element on the way down.
struct Level {
    node: NodeId,
    /// Its number in the flow; nothing where it makes no box, nor does what is in
    /// it.
    flow: Option<usize>,
    computed: Computed,
    items: ListNumbers,
    /// How many texts it had.
    texts: usize,
    /// Whether what is in it is in the page at all: templates hold a page of
    /// their own.
    counts: bool,
}

impl Walker for Builder<'_> {
    type Level = Level;

    fn text(&mut self, text: &str, node: NodeId, level: &mut Level) {
        let place = level.texts;
        level.texts += 1;
        if let Some(flow) = level.flow {
            self.content(text, place, node, flow, &level.computed);
        }
    }

    fn enter(&mut self, node: NodeId, levels: &mut [Level]) -> Way<Level> {
        let top = levels.len() == 1;
        let Some(parent) = levels.last_mut() else {
            return Way::End;
        };
        let place = self.elements;
        self.elements += usize::from(parent.counts);
        if self.elements > MOST_ELEMENTS {
            self.problems.push(too_many(self.name, self.dom.line(node)));
            return Way::End;
        }
        let tag = self.dom.tag(node).unwrap_or_default();
        let counts = parent.counts && tag != "template";
        let shown = (top || parent.flow.is_some())
            && (kinds::is_replaced(tag) || !HIDDEN.contains(&tag))
            && !kinds::is_hidden_field(self.dom, node, tag)
            && !folded(self.dom, node, parent.node);
        let mut level = Level {
            node,
            flow: None,
            computed: parent.computed.clone(),
            items: ListNumbers::of(self.dom, node),
            texts: 0,
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
                self.counters.enter(Some(&computed.counters));
                let is_item = computed.display.1 == Outer::ListItem;
                let number = is_item.then(|| parent.items.next(self.dom, node));
                if let Some(number) = number {
                    self.counters.item(number);
                }
                let around = parent.flow;
                level.flow = Some(self.open(node, tag, around, &computed, place, number));
                level.computed = computed;
                if self.is_leaf(level.flow) {
                    // What is in a picture or control is not laid out, but counted.
                    level.flow = None;
                }
                return Way::In(level);
            }
        }
        self.counters.enter(None);
        Way::In(level)
    }

    fn leave(&mut self, level: Level) {
        if let Some(flow) = level.flow {
            self.fold(level.node, flow);
            self.letters.retain(|(block, _)| *block != flow);
            self.pseudo(level.node, PseudoElement::After, flow, &level.computed);
        }
        self.counters.leave();
    }
}

impl Builder<'_> {
    fn is_leaf(&self, flow: Option<usize>) -> bool {
        flow.is_some_and(|flow| {
            matches!(
                self.flow.nodes[flow].kind,
                FlowKind::Replaced(..) | FlowKind::Control(_) | FlowKind::Break
            )
        })
    }

    /// Adds a node in another one, or in a cell that it needs there. Parents come before what
    /// is in them.
    fn add(&mut self, around: Option<usize>, node: FlowNode) -> usize {
        let around = around.map(|around| self.place_in(around, &node));
        let number = self.flow.nodes.len();
        self.flow.nodes.push(node);
        if let Some(around) = around {
            self.flow.nodes[around].children.push(number);
        }
        number
    }

    /// Adds the node of an element, with what stands before its content.
    fn open(
        &mut self,
        node: NodeId,
        tag: &str,
        around: Option<usize>,
        computed: &Computed,
        element: usize,
        number: Option<usize>,
    ) -> usize {
        let language: Option<Arc<str>> = language::of(self.dom, node).map(Arc::from);
        let selector: Arc<str> = Arc::from(short_selector(self.dom, node));
        let mut boxes = computed.boxes.clone();
        if self.cascade.has(self.dom, node, PseudoElement::FirstLine) {
            Arc::make_mut(&mut boxes).unsupported.push(Unsupported {
                property: "::first-line",
                value: String::new(),
            });
        }
        if tag == "button" && boxes.display == Display::Inline {
            // Buttons are boxes whatever their style says (HTML, §15.5.2).
            Arc::make_mut(&mut boxes).display = Display::InlineBlock;
        }
        if let Some(around) = around {
            self.as_item(around, &mut boxes);
        }
        let kind = self.kind(node, tag, &mut boxes);
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
        self.in_field(node, flow, computed);
        self.alternative(node, flow, computed);
        let contains = !matches!(computed.boxes.display, Display::Inline | Display::Contents);
        if contains && self.cascade.has(self.dom, node, PseudoElement::FirstLetter) {
            self.letters.push((flow, node));
        }
        if let Some(number) = number {
            self.marker(node, flow, computed, number);
        }
        self.pseudo(node, PseudoElement::Before, flow, computed);
        flow
    }

    /// Adds the box of what a closed `details` hides: nothing is in it, but margins do not
    /// collapse with it (HTML, §15.5.4).
    fn fold(&mut self, node: NodeId, flow: usize) {
        if !is_closed(self.dom, node) {
            return;
        }
        let boxes = BoxStyle {
            display: Display::FlowRoot,
            ..BoxStyle::default()
        };
        let around = &self.flow.nodes[flow];
        let kind = FlowKind::Element("::details-content".to_owned());
        let hidden = around.inside(kind, around.text.clone(), Arc::new(boxes));
        self.add(Some(flow), hidden);
    }

    /// Items of flexible boxes and grids are blocks (CSS Display 3, §2.7).
    fn as_item(&self, around: usize, boxes: &mut Arc<BoxStyle>) {
        let container = matches!(
            self.flow.nodes[around].boxes.display,
            Display::Flex { .. } | Display::Grid { .. }
        );
        if container && matches!(boxes.display, Display::Inline | Display::InlineBlock) {
            Arc::make_mut(boxes).display = Display::Block;
        }
    }

    /// Adds a text of the page in the node `flow`; its first letter apart where that
    /// has a style of its own.
    fn content(
        &mut self,
        text: &str,
        place: usize,
        node: NodeId,
        flow: usize,
        computed: &Computed,
    ) {
        let line = self.dom.line(node);
        let rest = self.letter(text, (place, line), flow, computed);
        self.set(rest, Some(place), line, flow, computed);
    }

    /// Adds a text that stands in line `line` of the file.
    fn set(
        &mut self,
        text: &str,
        place: Option<usize>,
        line: u32,
        flow: usize,
        computed: &Computed,
    ) {
        if text.is_empty() {
            return;
        }
        let around = &self.flow.nodes[flow];
        let language = around.language.as_deref();
        let shown = transformed(text, computed.style.transform, language).into_owned();
        let kind = FlowKind::Text(shown, place);
        let node = FlowNode {
            line,
            ..around.inside(kind, computed.style.clone(), computed.boxes.clone())
        };
        self.add(Some(flow), node);
    }

    fn spanned(&self, node: NodeId, name: &str) -> u32 {
        let declared = self.dom.attribute(node, name);
        declared
            .and_then(|value| value.trim().parse().ok())
            .unwrap_or(1)
    }
}

/// Whether `node` is a `details` that is closed.
fn is_closed(dom: &Dom, node: NodeId) -> bool {
    dom.tag(node) == Some("details") && dom.attribute(node, "open").is_none()
}

/// Whether `node` is in a `details` that is closed, and not its summary.
fn folded(dom: &Dom, node: NodeId, parent: NodeId) -> bool {
    is_closed(dom, parent) && dom.tag(node) != Some("summary")
}
