//! The way through a page: down the document, element by element, without recursion,
//! as pages nest as deep as they like.

use super::dom::{Dom, NodeId};

/// What looks at a page on the way.
pub(super) trait Walker {
    /// What is kept of an element while the way leads through it.
    type Level;

    /// A text in the innermost of `levels`.
    fn text(&mut self, text: &str, node: NodeId, level: &mut Self::Level);

    /// An element in the innermost of `levels`.
    fn enter(&mut self, node: NodeId, levels: &mut [Self::Level]) -> Way<Self::Level>;

    /// The way out of an element.
    fn leave(&mut self, level: Self::Level);
}

/// Where the way leads from an element.
pub(super) enum Way<L> {
    /// Through it.
    In(L),
    /// Past it.
    Past,
    /// Nowhere: enough was seen.
    End,
}

/// Leads `walker` through `dom`; `document` is kept of the document itself.
pub(super) fn walk<W: Walker>(dom: &Dom, document: W::Level, walker: &mut W) {
    let mut levels = vec![document];
    let mut next = vec![dom.children(dom.document()).next()];
    while let Some(place) = next.last_mut() {
        let Some(node) = *place else {
            next.pop();
            if let Some(level) = levels.pop() {
                walker.leave(level);
            }
            continue;
        };
        *place = dom.next(node);
        if let Some(text) = dom.text(node) {
            if let Some(level) = levels.last_mut() {
                walker.text(text, node, level);
            }
        } else if dom.tag(node).is_some() {
            match walker.enter(node, &mut levels) {
                Way::In(level) => {
                    levels.push(level);
                    next.push(dom.children(node).next());
                }
                Way::Past => {}
                Way::End => return,
            }
        }
    }
}

/// Numbers of list items (CSS Lists 3, §4).
#[derive(Debug, Clone, Copy)]
pub(super) struct ListNumbers(usize);

impl ListNumbers {
    /// Those of the items in `node`: what an ordered list starts to count from.
    pub fn of(dom: &Dom, node: NodeId) -> Self {
        let start = dom
            .attribute(node, "start")
            .and_then(|start| start.trim().parse().ok());
        ListNumbers(start.map_or(0, |start: usize| start.saturating_sub(1)))
    }

    /// The number of the item `node`, which comes next.
    pub fn next(&mut self, dom: &Dom, node: NodeId) -> usize {
        let declared = dom.attribute(node, "value");
        let declared = declared.and_then(|value| value.trim().parse().ok());
        self.0 = declared.unwrap_or(self.0 + 1);
        self.0
    }
}
