//! A page as a tree of elements and texts, each with its line in the file.
//!
//! Parsed by html5ever, so the tree is the one that browsers build (HTML, §13).

use std::borrow::Cow;
use std::cell::{Cell, RefCell};

use html5ever::interface::{ElemName, ElementFlags, NodeOrText, QuirksMode, TreeSink};
use html5ever::tendril::{StrTendril, TendrilSink as _};
use html5ever::{Attribute, LocalName, Namespace, ParseOpts, QualName, parse_document};

/// The number of a node.
pub type NodeId = usize;

/// How deep the tree may be. What is written deeper stands beside the deepest, as in
/// Chromium, so that whoever walks the tree needs no deeper stack.
const DEEPEST: u32 = 512;

/// How deep elements may be written: the parser looks through all open elements at
/// every tag, so a page of nothing but tags takes the square of its length.
const MOST_OPEN: u32 = 4096;

/// The most attributes of one tag; each is compared with all before it.
const MOST_ATTRIBUTES: usize = 4096;

/// How many bytes are parsed between two looks at the depth.
const STEP: usize = 16 * 1024;

/// The root of every tree.
const DOCUMENT: NodeId = 0;

/// A parsed page.
#[derive(Debug)]
pub struct Dom {
    nodes: Vec<Node>,
    quirks: bool,
    cut_at: Option<u32>,
    crowded_at: Option<u32>,
}

#[derive(Debug)]
struct Node {
    /// How deep it stands, and how deep it was written.
    depth: u32,
    written: u32,
    parent: Option<NodeId>,
    previous: Option<NodeId>,
    next: Option<NodeId>,
    first: Option<NodeId>,
    last: Option<NodeId>,
    line: u32,
    kind: Kind,
}

#[derive(Debug)]
enum Kind {
    Document,
    Element {
        name: QualName,
        attributes: Vec<(String, String)>,
    },
    Text(String),
    /// Comments and the like.
    Other,
}

impl Dom {
    /// Parses a page, with scripting as browsers have it.
    pub fn parse(html: &str) -> Self {
        let (html, crowded_at) = thinned(html);
        let builder = Builder {
            nodes: RefCell::new(vec![Node::new(Kind::Document, 1)]),
            line: Cell::new(1),
            quirks: Cell::new(false),
            cut_at: Cell::new(None),
        };
        let mut parser = parse_document(builder, ParseOpts::default());
        let mut rest = &*html;
        while !rest.is_empty() && parser.tokenizer.sink.sink.cut_at.get().is_none() {
            let mut end = rest.len().min(STEP);
            while !rest.is_char_boundary(end) {
                end += 1;
            }
            parser.process(rest[..end].into());
            rest = &rest[end..];
        }
        let mut dom = parser.finish();
        dom.crowded_at = crowded_at;
        dom.cut_below(DEEPEST);
        dom
    }

    /// What of the page is left out because there is too much of it: lines, with words.
    pub(super) fn left_out(&self) -> impl Iterator<Item = (u32, String)> {
        let cut = self.cut_at.map(|line| {
            let what = format!(
                "more than {MOST_OPEN} elements are open here; the rest of the page is left out"
            );
            (line, what)
        });
        let crowded = self.crowded_at.map(|line| {
            let what = format!(
                "a tag has more than {MOST_ATTRIBUTES} attributes; the others are left out"
            );
            (line, what)
        });
        cut.into_iter().chain(crowded)
    }

    /// Takes out what stands deeper than `depth`. Where tags are not closed in the
    /// order in which they were opened, the parser moves whole branches down.
    fn cut_below(&mut self, depth: u32) {
        let mut next = vec![(DOCUMENT, 0)];
        while let Some((node, at)) = next.pop() {
            if at >= depth {
                self.nodes[node].first = None;
                self.nodes[node].last = None;
            }
            next.extend(self.children(node).map(|child| (child, at + 1)));
        }
    }

    /// Whether the page is in quirks mode, where class names ignore case.
    pub fn quirks(&self) -> bool {
        self.quirks
    }

    /// The node that holds all others.
    pub fn document(&self) -> NodeId {
        DOCUMENT
    }

    /// The line that a node starts in, counted from 1; of an element the line
    /// in which its tag ends.
    pub fn line(&self, node: NodeId) -> u32 {
        self.nodes[node].line
    }

    /// The text of a text node.
    pub fn text(&self, node: NodeId) -> Option<&str> {
        match &self.nodes[node].kind {
            Kind::Text(text) => Some(text),
            _ => None,
        }
    }

    /// The tag of an element, in lower case as HTML has it.
    pub fn tag(&self, node: NodeId) -> Option<&str> {
        match &self.nodes[node].kind {
            Kind::Element { name, .. } => Some(&name.local),
            _ => None,
        }
    }

    /// The namespace of an element.
    pub(super) fn namespace(&self, node: NodeId) -> Option<&str> {
        match &self.nodes[node].kind {
            Kind::Element { name, .. } => Some(&name.ns),
            _ => None,
        }
    }

    /// The attributes of an element, names in lower case.
    pub fn attributes(&self, node: NodeId) -> &[(String, String)] {
        match &self.nodes[node].kind {
            Kind::Element { attributes, .. } => attributes,
            _ => &[],
        }
    }

    /// One attribute of an element.
    pub fn attribute(&self, node: NodeId, name: &str) -> Option<&str> {
        let mut attributes = self.attributes(node).iter();
        let found = attributes.find(|(known, _)| known == name);
        found.map(|(_, value)| value.as_str())
    }

    /// The node that `node` stands in.
    pub fn parent(&self, node: NodeId) -> Option<NodeId> {
        self.nodes[node].parent
    }

    /// The node behind `node` in the same parent.
    pub fn next(&self, node: NodeId) -> Option<NodeId> {
        self.nodes[node].next
    }

    /// The nodes in `node`, in order.
    pub fn children(&self, node: NodeId) -> impl Iterator<Item = NodeId> + '_ {
        std::iter::successors(self.nodes[node].first, |child| self.nodes[*child].next)
    }

    /// The texts directly in `node`, joined.
    pub fn own_text(&self, node: NodeId) -> String {
        self.children(node)
            .filter_map(|child| self.text(child))
            .collect()
    }

    /// The nearest element before or behind `node`.
    pub(super) fn sibling_element(&self, node: NodeId, forward: bool) -> Option<NodeId> {
        let step = |node: NodeId| {
            let node = &self.nodes[node];
            if forward { node.next } else { node.previous }
        };
        std::iter::successors(step(node), |node| step(*node)).find(|node| self.tag(*node).is_some())
    }
}

impl Node {
    fn new(kind: Kind, line: u32) -> Self {
        Node {
            depth: 0,
            written: 0,
            parent: None,
            previous: None,
            next: None,
            first: None,
            last: None,
            line,
            kind,
        }
    }
}

/// What html5ever builds the tree with.
struct Builder {
    nodes: RefCell<Vec<Node>>,
    line: Cell<u32>,
    quirks: Cell<bool>,
    cut_at: Cell<Option<u32>>,
}

/// A name that does not borrow from the tree.
#[derive(Debug)]
struct OwnedName(QualName);

impl ElemName for OwnedName {
    fn ns(&self) -> &Namespace {
        &self.0.ns
    }

    fn local_name(&self) -> &LocalName {
        &self.0.local
    }
}

impl Builder {
    fn add(&self, kind: Kind) -> NodeId {
        let mut nodes = self.nodes.borrow_mut();
        nodes.push(Node::new(kind, self.line.get()));
        nodes.len() - 1
    }

    fn detach(&self, node: NodeId) {
        let mut nodes = self.nodes.borrow_mut();
        let (parent, previous, next) = {
            let node = &mut nodes[node];
            (node.parent.take(), node.previous.take(), node.next.take())
        };
        match previous {
            Some(previous) => nodes[previous].next = next,
            None => {
                if let Some(parent) = parent {
                    nodes[parent].first = next;
                }
            }
        }
        match next {
            Some(next) => nodes[next].previous = previous,
            None => {
                if let Some(parent) = parent {
                    nodes[parent].last = previous;
                }
            }
        }
    }

    /// Puts `node` into `parent`, before `before` or at the end.
    fn attach(&self, parent: NodeId, node: NodeId, before: Option<NodeId>) {
        self.detach(node);
        let mut nodes = self.nodes.borrow_mut();
        let written = nodes[parent].written + 1;
        if written > MOST_OPEN && self.cut_at.get().is_none() {
            self.cut_at.set(Some(self.line.get()));
        }
        let parent = if before.is_none() && nodes[parent].depth >= DEEPEST {
            nodes[parent].parent.unwrap_or(DOCUMENT)
        } else {
            parent
        };
        let previous = match before {
            Some(before) => nodes[before].previous,
            None => nodes[parent].last,
        };
        nodes[node].depth = nodes[parent].depth + 1;
        nodes[node].written = written;
        nodes[node].parent = Some(parent);
        nodes[node].previous = previous;
        nodes[node].next = before;
        match previous {
            Some(previous) => nodes[previous].next = Some(node),
            None => nodes[parent].first = Some(node),
        }
        match before {
            Some(before) => nodes[before].previous = Some(node),
            None => nodes[parent].last = Some(node),
        }
    }

    fn insert(&self, parent: NodeId, child: NodeOrText<NodeId>, before: Option<NodeId>) {
        match child {
            NodeOrText::AppendNode(node) => self.attach(parent, node, before),
            NodeOrText::AppendText(text) => {
                let neighbour = {
                    let nodes = self.nodes.borrow();
                    match before {
                        Some(before) => nodes[before].previous,
                        None => nodes[parent].last,
                    }
                };
                if let Some(neighbour) = neighbour
                    && let Kind::Text(known) = &mut self.nodes.borrow_mut()[neighbour].kind
                {
                    known.push_str(&text);
                    return;
                }
                // The tokenizer has counted the line breaks of the text already.
                let breaks = text.bytes().filter(|byte| *byte == b'\n').count();
                let node = self.add(Kind::Text(text.to_string()));
                let line = self.line.get();
                self.nodes.borrow_mut()[node].line = line
                    .saturating_sub(u32::try_from(breaks).unwrap_or(0))
                    .max(1);
                self.attach(parent, node, before);
            }
        }
    }

    fn parent_of(&self, node: NodeId) -> Option<NodeId> {
        self.nodes.borrow()[node].parent
    }
}

impl TreeSink for Builder {
    type Handle = NodeId;
    type Output = Dom;
    type ElemName<'a> = OwnedName;

    fn finish(self) -> Dom {
        Dom {
            nodes: self.nodes.into_inner(),
            quirks: self.quirks.get(),
            cut_at: self.cut_at.get(),
            crowded_at: None,
        }
    }

    fn parse_error(&self, _: Cow<'static, str>) {}

    fn get_document(&self) -> NodeId {
        DOCUMENT
    }

    fn elem_name<'a>(&'a self, target: &'a NodeId) -> OwnedName {
        match &self.nodes.borrow()[*target].kind {
            Kind::Element { name, .. } => OwnedName(name.clone()),
            // html5ever asks elements only.
            _ => OwnedName(QualName::new(
                None,
                Namespace::default(),
                LocalName::default(),
            )),
        }
    }

    fn create_element(&self, name: QualName, attrs: Vec<Attribute>, _: ElementFlags) -> NodeId {
        let attributes = attrs.iter().map(named).collect();
        self.add(Kind::Element { name, attributes })
    }

    fn create_comment(&self, _: StrTendril) -> NodeId {
        self.add(Kind::Other)
    }

    fn create_pi(&self, _: StrTendril, _: StrTendril) -> NodeId {
        self.add(Kind::Other)
    }

    fn append(&self, parent: &NodeId, child: NodeOrText<NodeId>) {
        self.insert(*parent, child, None);
    }

    fn append_based_on_parent_node(
        &self,
        element: &NodeId,
        previous: &NodeId,
        child: NodeOrText<NodeId>,
    ) {
        if self.parent_of(*element).is_some() {
            self.append_before_sibling(element, child);
        } else {
            self.append(previous, child);
        }
    }

    fn append_doctype_to_document(&self, _: StrTendril, _: StrTendril, _: StrTendril) {}

    fn get_template_contents(&self, target: &NodeId) -> NodeId {
        *target
    }

    fn same_node(&self, x: &NodeId, y: &NodeId) -> bool {
        x == y
    }

    fn set_quirks_mode(&self, mode: QuirksMode) {
        self.quirks.set(mode == QuirksMode::Quirks);
    }

    fn append_before_sibling(&self, sibling: &NodeId, new: NodeOrText<NodeId>) {
        if let Some(parent) = self.parent_of(*sibling) {
            self.insert(parent, new, Some(*sibling));
        }
    }

    fn add_attrs_if_missing(&self, target: &NodeId, attrs: Vec<Attribute>) {
        if let Kind::Element { attributes, .. } = &mut self.nodes.borrow_mut()[*target].kind {
            for (name, value) in attrs.iter().map(named) {
                if !attributes.iter().any(|(known, _)| *known == name) {
                    attributes.push((name, value));
                }
            }
        }
    }

    fn remove_from_parent(&self, target: &NodeId) {
        self.detach(*target);
    }

    fn reparent_children(&self, node: &NodeId, new_parent: &NodeId) {
        loop {
            let child = self.nodes.borrow()[*node].first;
            match child {
                Some(child) => self.attach(*new_parent, child, None),
                None => return,
            }
        }
    }

    fn set_current_line(&self, line: u64) {
        self.line.set(u32::try_from(line).unwrap_or(u32::MAX));
    }
}

/// The page without the attributes of a tag that are too many, each replaced by blanks,
/// and the line of the first such tag. Comments and scripts are taken for tags, too:
/// nothing of them shows.
fn thinned(html: &str) -> (Cow<'_, str>, Option<u32>) {
    let bytes = html.as_bytes();
    let mut found = None;
    let mut thin: Option<Vec<u8>> = None;
    let mut at = 0;
    while let Some(start) = bytes[at..].iter().position(|byte| *byte == b'<') {
        at += start + 1;
        if !bytes.get(at).is_some_and(u8::is_ascii_alphabetic) {
            continue;
        }
        // An attribute may begin behind a blank, a slash and a quoted value; what quotes
        // begin is a value only right behind `=` (HTML, §13.2.5.33 to 39).
        let (mut count, mut quote, mut apart, mut value) = (0, None, false, false);
        let mut cut = None;
        while let Some(byte) = bytes.get(at) {
            match (quote, byte) {
                (Some(open), byte) => {
                    if open == *byte {
                        (quote, apart) = (None, true);
                    }
                }
                (None, b'>') => break,
                (None, b'"' | b'\'') if value => (quote, value) = (Some(*byte), false),
                (None, byte) if byte.is_ascii_whitespace() => apart = true,
                (None, byte) => {
                    count += usize::from(apart && *byte != b'=');
                    apart = *byte == b'/';
                    value = *byte == b'=';
                }
            }
            if count > MOST_ATTRIBUTES && cut.is_none() {
                cut = Some(at);
            }
            at += 1;
        }
        if let Some(cut) = cut {
            let thin = thin.get_or_insert_with(|| bytes.to_vec());
            for byte in &mut thin[cut..at] {
                if *byte != b'\n' {
                    *byte = b' ';
                }
            }
            let breaks = || bytes[..cut].iter().filter(|byte| **byte == b'\n').count();
            found = found.or_else(|| u32::try_from(breaks() + 1).ok());
        }
    }
    let thin = thin.and_then(|thin| String::from_utf8(thin).ok());
    (thin.map_or(Cow::Borrowed(html), Cow::Owned), found)
}

fn named(attribute: &Attribute) -> (String, String) {
    let name = match &attribute.name.prefix {
        Some(prefix) => format!("{prefix}:{}", attribute.name.local),
        None => attribute.name.local.to_string(),
    };
    (name, attribute.value.to_string())
}
