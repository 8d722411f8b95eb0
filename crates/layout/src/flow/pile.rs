//! Lines, blocks and floats put below one another in a box, with margins that collapse
//! (CSS 2.2, §8.3.1, §9.5).

use super::boxes::Part;
use super::floats::Around;
use super::laid::{Laid, Strut};
use super::{Layouter, Room};
use crate::Engine;

/// How far a box is filled, from its top down.
pub(super) struct Pile {
    /// The box.
    owner: usize,
    /// The room in it.
    content: Room,
    /// The left edge of its content, in px from its own.
    left: f64,
    /// Whether margins of what comes first go through its top.
    open_start: bool,
    /// The bottom of what is in it, in px from its top.
    pub bottom: f64,
    /// The margins behind that.
    pub strut: Strut,
    /// Whether there is anything in it but margins.
    pub any: bool,
}

impl Pile {
    /// An empty one, whose content starts at this corner of `owner`.
    pub fn new(owner: usize, content: Room, (left, top): (f64, f64), open_start: bool) -> Self {
        Self {
            owner,
            content,
            left,
            open_start,
            bottom: top,
            strut: Strut::default(),
            any: false,
        }
    }

    /// Whether margins still go through the top of the box.
    fn is_open(&self) -> bool {
        !self.any && self.open_start
    }

    /// How far down what has no margins of its own comes to stand.
    fn next_top(&self) -> f64 {
        let margins = if self.is_open() {
            0.0
        } else {
            self.strut.sum()
        };
        self.bottom + margins
    }
}

impl Layouter<'_, '_> {
    /// Puts `parts` below one another into `laid`.
    pub fn pile(
        &self,
        laid: &mut Laid,
        parts: Vec<Part>,
        pile: &mut Pile,
        around: &mut Around<'_>,
    ) {
        for part in parts {
            let corner = (pile.left, pile.next_top());
            match part {
                Part::Float(float) => {
                    let child = self.float(float, pile.content, corner, around);
                    laid.children.push(child);
                }
                Part::Out(child) => {
                    let mark = self.mark_in(pile.owner, child, corner, pile.content.width);
                    laid.children.push(mark);
                }
                Part::Inline(nodes) => self.pile_lines(laid, &nodes, pile, around),
                Part::Block(child) => self.pile_block(laid, child, pile, around),
            }
        }
        // Most boxes hold one, for which four have room at once.
        laid.children.shrink_to_fit();
    }

    /// Puts lines below what is there, where anything shows in them.
    fn pile_lines(
        &self,
        laid: &mut Laid,
        nodes: &[usize],
        pile: &mut Pile,
        around: &mut Around<'_>,
    ) {
        let (left, top) = (pile.left, pile.next_top());
        let mut beside = around.inside(left, top);
        let Some((mut text, height, baselines)) =
            self.lines_of(pile.owner, nodes, pile.content, &mut beside)
        else {
            return;
        };
        if pile.is_open() {
            laid.margin_start.join(pile.strut);
        }
        pile.strut = Strut::default();
        pile.any = true;
        for line in &mut text.0.lines {
            line.top += top;
            line.baseline += top;
            for piece in &mut line.pieces {
                piece.x += left;
                piece.top += top;
            }
        }
        for atom in &mut text.1 {
            atom.x += left;
            atom.y += top;
        }
        text.0.left = left;
        laid.first_baseline.get_or_insert(baselines.0 + top);
        laid.last_baseline = Some(baselines.1 + top);
        pile.bottom = top + height;
        laid.children.append(&mut text.1);
        self.put_text(laid, text.0);
    }

    /// Puts a block below what is there: its margins collapse with those before it, floats
    /// may push it down.
    fn pile_block(&self, laid: &mut Laid, child: usize, pile: &mut Pile, around: &mut Around<'_>) {
        let open = pile.is_open();
        let mut at = pile.bottom;
        let mut clears = false;
        let mut held = false;
        let cleared = around.floats.cleared(self.style(child).clear);
        if self.any_floats && !open {
            let mut here = pile.strut;
            here.join(self.leading(child, pile.content.width, around.floats));
            at += here.sum();
            // Chromium measures the room for the margins of an empty box
            // that clears floats from the top of the box around it.
            held = self.engine() == Engine::Chromium
                && cleared.is_some_and(|free| free > around.y + here.sum());
        }
        if let Some(free) = cleared.filter(|free| *free > around.y + at) {
            clears = true;
            at = free - around.y;
        }
        let (mut block, x, top) = self.beside(child, pile.content, (pile.left, at), around);
        // What stands beside a float may have had to go down; its margin
        // counts nevertheless.
        if top > at {
            clears = true;
            at = top;
            if open {
                pile.strut.join(block.margin_start);
            }
        }
        block.x = x;
        let empty = block.empty;
        if empty && !clears && !held {
            let mut above = pile.strut;
            above.join(block.above);
            block.y += pile.bottom + if open { 0.0 } else { above.sum() };
            pile.strut.join(block.margin_start);
            laid.children.push(block);
            return;
        }
        if clears || empty {
            if open {
                laid.margin_start.join(pile.strut);
            }
            pile.bottom = at;
        } else {
            pile.strut.join(block.margin_start);
            if open {
                laid.margin_start.join(pile.strut);
            } else {
                pile.bottom += pile.strut.sum();
            }
        }
        pile.any = true;
        pile.strut = block.margin_end;
        block.y += pile.bottom;
        if empty {
            // Its margins go through it, from where it was put (CSS 2.2, §8.3.1).
            pile.strut = block.margin_start;
            pile.bottom -= self.margin(child, pile.content.width).top;
        }
        if let Some(first) = block.first_baseline {
            laid.first_baseline.get_or_insert(first + pile.bottom);
        }
        if let Some(last) = block.last_baseline {
            laid.last_baseline = Some(last + pile.bottom);
        }
        pile.bottom += block.height;
        laid.children.push(block);
    }
}
