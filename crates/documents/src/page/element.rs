//! Elements of a page as selectors look at them.

use std::ptr::NonNull;

use selectors::OpaqueElement;
use selectors::attr::{AttrSelectorOperation, CaseSensitivity, NamespaceConstraint};
use selectors::bloom::BloomFilter;
use selectors::matching::{ElementSelectorFlags, MatchingContext};

use super::dom::{Dom, NodeId};
use super::language;
use super::work::Work;
use crate::style::read::{Css, PseudoElement, SelectorText, StateClass};

const HTML: &str = "http://www.w3.org/1999/xhtml";

/// An element.
#[derive(Debug, Clone, Copy)]
pub(super) struct Element<'a> {
    pub dom: &'a Dom,
    pub node: NodeId,
    /// What every look at an element takes off.
    work: &'a Work,
}

impl<'a> Element<'a> {
    pub fn new(dom: &'a Dom, node: NodeId, work: &'a Work) -> Self {
        Element { dom, node, work }
    }

    fn at(self, node: NodeId) -> Self {
        Element { node, ..self }
    }

    fn tag(self) -> &'a str {
        self.dom.tag(self.node).unwrap_or_default()
    }

    fn attribute(self, name: &str) -> Option<&'a str> {
        self.dom.attribute(self.node, name)
    }
}

impl selectors::Element for Element<'_> {
    type Impl = Css;

    fn opaque(&self) -> OpaqueElement {
        // Only told apart, never followed: the number of the node, which is not 0
        // for elements, serves as well as an address.
        let address = std::num::NonZeroUsize::new(self.node).unwrap_or(std::num::NonZeroUsize::MIN);
        OpaqueElement::from_ptr(NonNull::without_provenance(address))
    }

    fn parent_element(&self) -> Option<Self> {
        if !self.work.pay(1) {
            return None;
        }
        let parent = self.dom.parent(self.node)?;
        self.dom.tag(parent).is_some().then(|| self.at(parent))
    }

    fn parent_node_is_shadow_root(&self) -> bool {
        false
    }

    fn containing_shadow_host(&self) -> Option<Self> {
        None
    }

    fn is_pseudo_element(&self) -> bool {
        false
    }

    fn prev_sibling_element(&self) -> Option<Self> {
        if !self.work.pay(1) {
            return None;
        }
        let sibling = self.dom.sibling_element(self.node, false);
        sibling.map(|node| self.at(node))
    }

    fn next_sibling_element(&self) -> Option<Self> {
        if !self.work.pay(1) {
            return None;
        }
        let sibling = self.dom.sibling_element(self.node, true);
        sibling.map(|node| self.at(node))
    }

    fn first_element_child(&self) -> Option<Self> {
        if !self.work.pay(1) {
            return None;
        }
        let mut children = self.dom.children(self.node);
        let first = children.find(|child| self.dom.tag(*child).is_some());
        first.map(|node| self.at(node))
    }

    fn is_html_element_in_html_document(&self) -> bool {
        self.dom.namespace(self.node) == Some(HTML)
    }

    fn has_local_name(&self, name: &str) -> bool {
        self.work.pay(1) && self.tag() == name
    }

    fn has_namespace(&self, namespace: &str) -> bool {
        self.dom.namespace(self.node) == Some(namespace)
    }

    fn is_same_type(&self, other: &Self) -> bool {
        self.tag() == other.tag()
            && self.dom.namespace(self.node) == other.dom.namespace(other.node)
    }

    fn attr_matches(
        &self,
        _: &NamespaceConstraint<&SelectorText>,
        name: &SelectorText,
        operation: &AttrSelectorOperation<&SelectorText>,
    ) -> bool {
        let value = self.attribute(&name.0);
        self.work.pay(1) && value.is_some_and(|value| operation.eval_str(value))
    }

    fn match_non_ts_pseudo_class(
        &self,
        class: &StateClass,
        _: &mut MatchingContext<'_, Css>,
    ) -> bool {
        if !self.work.pay(1) {
            return false;
        }
        match class {
            StateClass::Link => self.is_link(),
            StateClass::Lang(ranges) => {
                let language = language::of(self.dom, self.node).unwrap_or_default();
                ranges
                    .iter()
                    .any(|range| language::matches(&language, range))
            }
            StateClass::Dir { rtl } => language::right_to_left(self.dom, self.node) == *rtl,
            state => super::states::is_in(self.dom, self.node, state),
        }
    }

    fn match_pseudo_element(&self, _: &PseudoElement, _: &mut MatchingContext<'_, Css>) -> bool {
        false
    }

    fn apply_selector_flags(&self, _: ElementSelectorFlags) {}

    fn is_link(&self) -> bool {
        ["a", "area"].contains(&self.tag()) && self.attribute("href").is_some()
    }

    fn is_html_slot_element(&self) -> bool {
        false
    }

    fn has_id(&self, id: &SelectorText, case: CaseSensitivity) -> bool {
        let given = self.attribute("id").filter(|_| self.work.pay(1));
        given.is_some_and(|given| case.eq(given.as_bytes(), id.0.as_bytes()))
    }

    fn has_class(&self, name: &SelectorText, case: CaseSensitivity) -> bool {
        let classes = self.attribute("class").unwrap_or_default();
        // A long list costs as much as reading it.
        let steps = 1 + classes.len() as u64 / 64;
        let mut classes = classes.split_ascii_whitespace();
        self.work.pay(steps) && classes.any(|class| case.eq(class.as_bytes(), name.0.as_bytes()))
    }

    fn has_custom_state(&self, _: &SelectorText) -> bool {
        false
    }

    fn imported_part(&self, _: &SelectorText) -> Option<SelectorText> {
        None
    }

    fn is_part(&self, _: &SelectorText) -> bool {
        false
    }

    fn is_empty(&self) -> bool {
        self.dom.children(self.node).all(|child| {
            self.work.pay(1);
            self.dom.tag(child).is_none() && self.dom.text(child).is_none_or(str::is_empty)
        })
    }

    fn is_root(&self) -> bool {
        self.dom.parent(self.node) == Some(self.dom.document())
    }

    fn add_element_unique_hashes(&self, _: &mut BloomFilter) -> bool {
        false
    }
}
