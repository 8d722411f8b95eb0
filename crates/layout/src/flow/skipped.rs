//! Boxes whose content is skipped (`content-visibility`, CSS Containment 2, §4): always, or while
//! they are far from what is seen.

use std::collections::HashSet;

use tidy_lattice_documents::page::Skipped;

use super::laid::Laid;
use super::{Given, Layouter, Room};

/// How far above and below the viewport a box counts as seen, in heights of the viewport: as
/// measured in Chromium.
const MARGIN: f64 = 1.5;

impl Layouter<'_, '_> {
    /// Whether the content of `node` is skipped.
    pub(super) fn is_skipped(&self, node: usize) -> bool {
        let is_block = self.is_element(node);
        is_block
            && match self.style(node).skipped {
                Skipped::Never => false,
                Skipped::Far => !self.near.contains(&node),
                Skipped::Always => true,
            }
    }

    /// A box whose content is skipped: as high as it says that its content is.
    pub(super) fn skipped(&self, node: usize, room: Room, given: Given) -> Laid {
        let inner = self.inner(node, room.width);
        let specified = self.definite_height(node, room, inner, given);
        let intrinsic = self.cut(f64::from(self.style(node).intrinsic.1)) + inner.down();
        let auto = || self.height_limited(node, room, inner, intrinsic);
        Laid {
            width: given.width.unwrap_or(room.width),
            height: specified.unwrap_or_else(auto),
            ..Laid::default()
        }
    }

    /// Takes note of the boxes in `laid` whose content is seen though it was skipped; whether
    /// there are any.
    pub(super) fn see_more(&self, laid: &Laid, near: &mut HashSet<usize>) -> bool {
        let height = f64::from(self.stage.viewport.height);
        let seen = -MARGIN * height..=(1.0 + MARGIN) * height;
        let known = near.len();
        let mut open = vec![(laid, 0.0)];
        while let Some((laid, above)) = open.pop() {
            let top = above + laid.y;
            if let Some(node) = laid.node
                && self.style(node).skipped == Skipped::Far
                && *seen.end() >= top
                && *seen.start() <= top + laid.height
            {
                near.insert(node);
            }
            open.extend(laid.children.iter().map(|child| (child, top)));
        }
        near.len() > known
    }
}
