//! The texts of a page, with their styles.

use std::collections::HashMap;
use std::sync::Arc;

use serde::Serialize;

use super::cascade::{Cascade, Computed};
use super::counters::Counters;
use super::dom::{Dom, NodeId};
use super::generated;
use super::language;
use super::sheets::{Files, Gathered, PageProblem, PlacedFace};
use super::transform::transformed;
use super::walk::{ListNumbers, Walker, Way, walk};
use crate::style::computed::{Display, Outer, TextStyle};
use crate::style::read::{PseudoElement, Viewport};

/// A page, read.
#[derive(Debug, Clone)]
pub struct Page {
    /// Its name, as the caller gave it.
    pub name: String,
    /// Everything that shows, in the order of the page.
    pub texts: Vec<PageText>,
    /// The styles that texts have.
    pub styles: Vec<TextStyle>,
    /// The `@font-face` rules of its sheets, in order.
    pub faces: Vec<PlacedFace>,
    /// What could not be read.
    pub problems: Vec<PageProblem>,
}

/// One text of a page.
#[derive(Debug, Clone, PartialEq)]
pub struct PageText {
    /// What shows, after `text-transform`.
    pub text: String,
    /// The line of the file that it starts in, counted from 1.
    pub line: u32,
    /// Its style, by its number in [`Page::styles`].
    pub style: usize,
    /// Its language, as the page states it.
    pub language: Option<String>,
    /// The element, as a short selector.
    pub element: String,
    /// The tags around it, from the root, as far as roles are judged by them.
    pub role: &'static str,
    /// What kind of text it is.
    pub origin: TextOrigin,
    /// The node of the tree; of other kinds of text than content their element.
    pub node: NodeId,
}

/// What kind of text it is.
#[derive(
    Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, schemars::JsonSchema,
)]
#[serde(rename_all = "kebab-case")]
pub enum TextOrigin {
    /// Text of the page.
    Content,
    /// `::before` or `::after`.
    Generated,
    /// A list marker.
    Marker,
    /// `placeholder`.
    Placeholder,
    /// The value of a form field, or the label of an option.
    Value,
    /// `alt`.
    Alternative,
    /// `title`, in a tooltip.
    Title,
}

/// Elements whose content never shows.
pub(super) const HIDDEN: [&str; 11] = [
    "script", "style", "template", "head", "noscript", "noembed", "noframes", "iframe", "object",
    "audio", "video",
];

/// The most elements of a page that are looked at.
pub(super) const MOST_ELEMENTS: usize = 200_000;

/// How many styles are kept at hand.
const RECENT: usize = 16;

/// Reads a page called `name`; files that it names come from `files`.
pub fn read(html: &str, name: &str, files: &dyn Files, viewport: Viewport) -> (Page, Dom) {
    let dom = Dom::parse(html);
    let mut gathered = Gathered::new(dom.quirks());
    gathered.page(&dom, name, files, viewport);
    let cascade = Cascade::new(gathered.rules, viewport, dom.quirks(), false);
    let mut reader = Reader {
        dom: &dom,
        cascade,
        root: super::MEDIUM,
        page: Page {
            name: name.to_owned(),
            texts: Vec::new(),
            styles: Vec::new(),
            faces: gathered.faces,
            problems: gathered.problems,
        },
        known: HashMap::new(),
        recent: Vec::new(),
        elements: 0,
        counters: Counters::default(),
    };
    let document = Level {
        node: dom.document(),
        computed: Computed::initial(),
        items: ListNumbers::of(&dom, dom.document()),
    };
    walk(&dom, document, &mut reader);
    let limits = limits(&dom, &reader.cascade, name);
    reader.page.problems.extend(limits);
    (reader.page, dom)
}

/// What is said of a page of which something was left out because it asks for too much.
pub(super) fn limits(dom: &Dom, cascade: &Cascade, page: &str) -> Vec<PageProblem> {
    let spent = cascade.work.is_spent().then(|| {
        let what = "its selectors and custom properties take too many steps on its elements; the \
                    styles of later elements are left out";
        (1, what.to_owned())
    });
    let problem = |(line, what)| PageProblem {
        file: page.to_owned(),
        line,
        what,
        unread: None,
    };
    dom.left_out().chain(spent).map(problem).collect()
}

/// What is said of a page with too many elements.
pub(super) fn too_many(page: &str, line: u32) -> PageProblem {
    PageProblem {
        file: page.to_owned(),
        line,
        what: format!("the page has more than {MOST_ELEMENTS} elements; the rest is left out"),
        unread: None,
    }
}

struct Reader<'d> {
    dom: &'d Dom,
    cascade: Cascade,
    /// The root element's font size in px.
    root: f32,
    page: Page,
    /// Numbers of styles by what they print as.
    known: HashMap<String, usize>,
    /// The last few styles with their numbers.
    recent: Vec<(Arc<TextStyle>, usize)>,
    /// How many elements came so far.
    elements: usize,
    counters: Counters,
}

/// An element on the way down.
struct Level {
    node: NodeId,
    computed: Computed,
    items: ListNumbers,
}

impl Walker for Reader<'_> {
    type Level = Level;

    fn text(&mut self, text: &str, node: NodeId, level: &mut Level) {
        self.content(text, node, level.node, &level.computed);
    }

    fn enter(&mut self, node: NodeId, levels: &mut [Level]) -> Way<Level> {
        let tag = self.dom.tag(node).unwrap_or_default();
        if HIDDEN.contains(&tag) {
            return Way::Past;
        }
        self.elements += 1;
        if self.elements > MOST_ELEMENTS {
            let problem = too_many(&self.page.name, self.dom.line(node));
            self.page.problems.push(problem);
            return Way::End;
        }
        let top = levels.len() == 1;
        let Some(parent) = levels.last_mut() else {
            return Way::End;
        };
        let computed = self
            .cascade
            .compute(self.dom, node, None, &parent.computed, self.root);
        if top {
            self.root = computed.style.size;
        }
        let number =
            (computed.display.1 == Outer::ListItem).then(|| parent.items.next(self.dom, node));
        let has_box = computed.display.0 != Display::None;
        self.counters.enter(has_box.then_some(&computed.counters));
        if let Some(number) = number {
            self.counters.item(number);
        }
        self.before(node, &computed, number);
        Way::In(Level {
            node,
            computed,
            items: ListNumbers::of(self.dom, node),
        })
    }

    fn leave(&mut self, level: Level) {
        if self.dom.tag(level.node).is_some() {
            self.generated(level.node, PseudoElement::After, &level.computed);
        }
        self.counters.leave();
    }
}

impl Reader<'_> {
    fn content(&mut self, text: &str, node: NodeId, element: NodeId, computed: &Computed) {
        if text.trim().is_empty() {
            return;
        }
        let line = self.dom.line(node);
        self.add(
            text,
            line,
            element,
            &computed.style,
            TextOrigin::Content,
            node,
        );
        let letter = self.pseudo(element, PseudoElement::FirstLetter, computed);
        if let Some(letter) = letter {
            let first: String = text.trim_start().chars().take(2).collect();
            self.add(
                &first,
                line,
                element,
                &letter.style,
                TextOrigin::Content,
                element,
            );
        }
    }

    /// Texts that stand before the content of an element, or in its attributes.
    fn before(&mut self, node: NodeId, computed: &Computed, number: Option<usize>) {
        let line = self.dom.line(node);
        if let Some(number) = number {
            let style = match self.pseudo(node, PseudoElement::Marker, computed) {
                Some(marker) => {
                    if let Some(content) = &marker.content {
                        let (style, counters) = (&marker.style, &self.counters);
                        let text = generated::content(content, self.dom, node, style, counters);
                        self.add(&text, line, node, &marker.style, TextOrigin::Marker, node);
                    }
                    marker
                }
                None => computed.clone(),
            };
            if style.content.is_none()
                && let Some(text) = generated::marker(&style.style, number)
            {
                self.add(&text, line, node, &style.style, TextOrigin::Marker, node);
            }
        }
        self.generated(node, PseudoElement::Before, computed);
        let attribute = |name: &str| self.dom.attribute(node, name).map(str::to_owned);
        let tag = self.dom.tag(node).unwrap_or_default();
        let kind = attribute("type").unwrap_or_default().to_ascii_lowercase();
        let mut texts: Vec<(TextOrigin, Option<String>)> =
            vec![(TextOrigin::Title, attribute("title"))];
        match tag {
            "input" => {
                let silent = [
                    "hidden", "checkbox", "radio", "range", "color", "file", "password",
                ];
                if kind == "image" {
                    texts.push((TextOrigin::Alternative, attribute("alt")));
                } else if !silent.contains(&kind.as_str()) {
                    texts.push((TextOrigin::Value, attribute("value")));
                }
            }
            "img" | "area" => texts.push((TextOrigin::Alternative, attribute("alt"))),
            "option" | "optgroup" => texts.push((TextOrigin::Value, attribute("label"))),
            _ => {}
        }
        for (origin, text) in texts {
            if let Some(text) = text {
                self.add(&text, line, node, &computed.style, origin, node);
            }
        }
        if ["input", "textarea"].contains(&tag)
            && let Some(text) = self.dom.attribute(node, "placeholder")
        {
            let style = self
                .pseudo(node, PseudoElement::Placeholder, computed)
                .unwrap_or_else(|| computed.clone());
            let text = text.to_owned();
            self.add(
                &text,
                line,
                node,
                &style.style,
                TextOrigin::Placeholder,
                node,
            );
        }
    }

    fn generated(&mut self, node: NodeId, pseudo: PseudoElement, computed: &Computed) {
        let Some(made) = self.pseudo(node, pseudo, computed) else {
            return;
        };
        if let Some(content) = &made.content {
            if !["none", "normal"].contains(&content.as_str()) {
                self.counters.pass(&made.counters);
            }
            let text = generated::content(content, self.dom, node, &made.style, &self.counters);
            let line = self.dom.line(node);
            self.add(&text, line, node, &made.style, TextOrigin::Generated, node);
        }
    }

    /// The style of a pseudo-element; `None` where no rule is about it.
    fn pseudo(&self, node: NodeId, pseudo: PseudoElement, parent: &Computed) -> Option<Computed> {
        if !self.cascade.has(self.dom, node, pseudo) {
            return None;
        }
        Some(
            self.cascade
                .compute(self.dom, node, Some(pseudo), parent, self.root),
        )
    }

    fn add(
        &mut self,
        text: &str,
        line: u32,
        element: NodeId,
        style: &Arc<TextStyle>,
        origin: TextOrigin,
        node: NodeId,
    ) {
        if text.trim().is_empty() {
            return;
        }
        let language = language::of(self.dom, element);
        let transform = match origin {
            // Attributes are shown as they are.
            TextOrigin::Title | TextOrigin::Alternative => super::Transform::default(),
            _ => style.transform,
        };
        let text = transformed(text, transform, language.as_deref()).into_owned();
        let style = self.style(style);
        self.page.texts.push(PageText {
            text,
            line,
            style,
            language,
            element: short_selector(self.dom, element),
            role: role(self.dom, element),
            origin,
            node,
        });
    }

    fn style(&mut self, style: &Arc<TextStyle>) -> usize {
        // Neighbours often have one style, and printing it takes long.
        let recent = self
            .recent
            .iter()
            .find(|(known, _)| Arc::ptr_eq(known, style) || known == style);
        if let Some((_, number)) = recent {
            return *number;
        }
        let printed = format!("{style:?}");
        let next = self.page.styles.len();
        let number = *self.known.entry(printed).or_insert(next);
        if number == next {
            self.page.styles.push((**style).clone());
        }
        if self.recent.len() >= RECENT {
            self.recent.remove(0);
        }
        self.recent.push((Arc::clone(style), number));
        number
    }
}

/// `h2.fares`, as people name elements; one without a name of its own behind
/// the nearest that has one: `table.timetable td`.
pub(super) fn short_selector(dom: &Dom, node: NodeId) -> String {
    let full_name = named(dom, node);
    let plain = full_name == dom.tag(node).unwrap_or_default();
    let mut around = dom.parent(node).filter(|_| plain);
    while let Some(node) = around {
        let name = named(dom, node);
        if name.contains(['#', '.']) {
            return format!("{name} {full_name}");
        }
        around = dom.parent(node);
    }
    full_name
}

fn named(dom: &Dom, node: NodeId) -> String {
    let mut text = dom.tag(node).unwrap_or_default().to_owned();
    if let Some(id) = dom.attribute(node, "id").filter(|id| !id.is_empty()) {
        text.push('#');
        text.push_str(id);
    }
    let classes = dom.attribute(node, "class").unwrap_or_default();
    for class in classes.split_ascii_whitespace() {
        text.push('.');
        text.push_str(class);
    }
    text
}

/// What a text is for, judged by the elements around it.
fn role(dom: &Dom, node: NodeId) -> &'static str {
    let mut around = Some(node);
    while let Some(node) = around {
        match dom.tag(node) {
            Some("h1" | "h2" | "h3" | "h4" | "h5" | "h6" | "legend") => return "headings",
            Some("code" | "pre" | "kbd" | "samp" | "tt") => return "code",
            Some("button" | "input" | "select" | "textarea" | "label" | "option") => {
                return "forms";
            }
            Some("nav") => return "navigation",
            Some("small" | "footer" | "figcaption") => return "small print",
            Some("table") => return "tables",
            _ => around = dom.parent(node),
        }
    }
    "running text"
}
