//! Which letters go into which slice.

use tidy_lattice_glyphs::text::Dice;

use super::Way;
use super::gram::Gram;
use super::solve::{BySlice, Looks, MOST_SLICES, Solution, Sums};
use super::terms::{REST, Terms};

/// A way to slice.
#[derive(Debug, Clone)]
pub struct Assignment {
    /// The slice of each group.
    pub slice_of: Vec<u8>,
    /// How many slices there are.
    pub slices: usize,
}

impl Assignment {
    /// Everything in one slice.
    pub fn single(groups: usize) -> Self {
        Assignment {
            slice_of: vec![0; groups],
            slices: 1,
        }
    }

    /// The slice of what is never sliced.
    pub fn rest(&self) -> usize {
        usize::from(self.slice_of[REST])
    }
}

/// Finds slices whose lines come closest to the web font's.
pub struct Search<'t> {
    terms: &'t Terms,
    gram: &'t Gram,
    /// Each group's share of the letters; none of the space.
    letters: Vec<f64>,
    /// For each group, the groups that it meets and how often, in parts of all meetings;
    /// with itself twice.
    meetings: Vec<Vec<(u16, f64)>>,
    looks: Looks,
}

/// An assignment with the sums that follow from it.
#[derive(Clone)]
pub struct State {
    assignment: Assignment,
    sums: Sums,
    /// For each term and slice, the sum of its products with the terms there.
    against: Vec<BySlice>,
}

/// A term that comes into a slice (1) or leaves it (-1).
type Change = (u32, usize, f64);

impl<'t> Search<'t> {
    /// A search with factors as `looks` holds them.
    pub fn new(terms: &'t Terms, gram: &'t Gram, looks: Looks) -> Self {
        let mut letters: Vec<f64> = terms.groups.iter().map(|group| group.count).collect();
        letters[terms.space] = 0.0;
        let all: f64 = letters.iter().sum::<f64>().max(1.0);
        letters.iter_mut().for_each(|count| *count /= all);
        let mut meetings = vec![Vec::new(); terms.groups.len()];
        let all: f64 = terms.meetings.values().sum::<f64>().max(1.0);
        let mut met: Vec<_> = terms.meetings.iter().collect();
        met.sort_by_key(|(groups, _)| **groups);
        for ((a, b), count) in met {
            let share = count / all / 2.0;
            meetings[usize::from(*a)].push((*b, share));
            meetings[usize::from(*b)].push((*a, share));
        }
        Search {
            terms,
            gram,
            letters,
            meetings,
            looks,
        }
    }

    /// The same search, with letters held to be even otherwise.
    pub fn with_looks(&mut self, looks: Looks) {
        self.looks = looks;
    }

    /// The best way found to make `slices` slices, after `shakes` shakes.
    pub fn run(&self, slices: usize, shakes: usize) -> (Assignment, Solution) {
        let mut best = self.descend(self.state(self.by_ratio(slices)));
        if slices == 1 {
            return (best.0.assignment, best.1);
        }
        // Blanks by themselves, as their size is free.
        let mut apart = self.by_ratio(slices - 1);
        apart.slices = slices;
        apart.slice_of[self.terms.space] = (slices - 1) as u8;
        let other = self.descend(self.state(apart));
        if other.1.cost < best.1.cost {
            best = other;
        }
        self.shaken(best, shakes)
    }

    /// As [`Search::run`], from a way that is known.
    pub fn run_from(&self, known: Assignment, shakes: usize) -> (Assignment, Solution) {
        let start = self.descend(self.state(known));
        self.shaken(start, shakes)
    }

    fn shaken(&self, mut best: (State, Solution), shakes: usize) -> (Assignment, Solution) {
        let slices = best.0.assignment.slices;
        let mut dice = Dice::new(0x9e37_79b9_7f4a_7c15);
        let groups: Vec<usize> = self.groups_in_use().collect();
        for _ in 0..shakes {
            let mut shaken = best.0.clone();
            for _ in 0..(groups.len() / 12).max(3) {
                let group = groups[dice.roll(groups.len())];
                self.commit(&mut shaken, group, dice.roll(slices) as u8);
            }
            let found = self.descend(shaken);
            if found.1.cost < best.1.cost * (1.0 - 1e-9) {
                best = found;
            }
        }
        (best.0.assignment, best.1)
    }

    /// The best factors after `group` has moved to `slice`.
    pub fn solve_moved(&self, state: &State, group: usize, slice: u8) -> Solution {
        let mut changes = Vec::new();
        self.changes(state, group, slice, &mut changes);
        let sums = self.moved(state, group, slice, &changes);
        sums.solve(state.assignment.slices, &self.looks)
    }

    /// The best factors of an assignment.
    pub fn solve(&self, assignment: &Assignment) -> Solution {
        let state = self.state(assignment.clone());
        state.sums.solve(assignment.slices, &self.looks)
    }

    /// What comes of an assignment with the factors of `solution`.
    pub fn way(&self, assignment: Assignment, solution: Solution, looks: Looks) -> Way {
        let slices = assignment.slices;
        let sums = self.state(assignment.clone()).sums;
        Way {
            error: sums.error(&solution.factors, slices),
            spread: sums.spread(&solution.factors, slices),
            factors: solution.factors,
            assignment,
            looks,
        }
    }

    /// The share of the letters in each slice.
    pub fn letters(&self, assignment: &Assignment) -> BySlice {
        let mut letters = [0.0; MOST_SLICES];
        for (share, slice) in self.letters.iter().zip(&assignment.slice_of) {
            letters[usize::from(*slice)] += share;
        }
        letters
    }

    /// Groups that the text has.
    pub fn groups_in_use(&self) -> impl Iterator<Item = usize> + '_ {
        let groups = self.terms.groups.iter().enumerate();
        groups
            .filter(|(_, group)| group.count > 0.0)
            .map(|(group, _)| group)
    }

    /// Groups cut into slices by how much wider the web font sets them, so that
    /// each slice has about as many characters of the text as any other.
    fn by_ratio(&self, slices: usize) -> Assignment {
        let groups = &self.terms.groups;
        let mut order: Vec<usize> = (0..groups.len()).collect();
        order.sort_by(|a, b| groups[*a].ratio.total_cmp(&groups[*b].ratio).then(a.cmp(b)));
        let mut slice_of = vec![0; groups.len()];
        let characters: f64 = groups.iter().map(|group| group.count).sum();
        let mut before = 0.0;
        for group in order {
            let middle = before + groups[group].count / 2.0;
            let slice = (middle / characters.max(1.0) * slices as f64) as usize;
            slice_of[group] = slice.min(slices - 1) as u8;
            before += groups[group].count;
        }
        Assignment { slice_of, slices }
    }

    /// The sums that follow from `assignment`.
    pub fn state(&self, assignment: Assignment) -> State {
        let mut state = State {
            sums: Sums {
                xx: [[0.0; MOST_SLICES]; MOST_SLICES],
                xw: [0.0; MOST_SLICES],
                ww: self.gram.web,
                letters: [0.0; MOST_SLICES],
                meetings: [[0.0; MOST_SLICES]; MOST_SLICES],
            },
            against: vec![[0.0; MOST_SLICES]; self.gram.groups.len()],
            assignment,
        };
        let slice_of = &state.assignment.slice_of;
        let changes: Vec<Change> = (0..)
            .zip(&self.gram.groups)
            .filter_map(|(term, groups)| Some((term, together(slice_of, *groups)?, 1.0)))
            .collect();
        for (group, slice) in slice_of.iter().enumerate() {
            let slice = usize::from(*slice);
            state.sums.letters[slice] += self.letters[group];
            for (other, share) in &self.meetings[group] {
                let other = usize::from(slice_of[usize::from(*other)]);
                state.sums.meetings[slice][other] += share;
            }
        }
        for change in changes {
            let sums = self.changed(&state, &[change]);
            state.sums = sums;
            self.note(&mut state.against, change);
        }
        state
    }

    /// The sums of `state` after `changes`.
    fn changed(&self, state: &State, changes: &[Change]) -> Sums {
        let mut sums = state.sums.clone();
        let slices = state.assignment.slices;
        for (index, (term, slice, sign)) in changes.iter().enumerate() {
            let against = &state.against[*term as usize];
            for (other, product) in against.iter().enumerate().take(slices) {
                sums.xx[*slice][other] += sign * product;
                sums.xx[other][*slice] += sign * product;
            }
            sums.xw[*slice] += sign * self.gram.with_web[*term as usize];
            sums.xx[*slice][*slice] += self.gram.product(*term, *term);
            for (other, at, other_sign) in &changes[..index] {
                let product = sign * other_sign * self.gram.product(*term, *other);
                sums.xx[*slice][*at] += product;
                sums.xx[*at][*slice] += product;
            }
        }
        sums
    }

    fn note(&self, against: &mut [BySlice], (term, slice, sign): Change) {
        for (against, product) in against.iter_mut().zip(self.gram.products_of(term)) {
            against[slice] += sign * product;
        }
    }

    /// What changes when `group` moves to `slice`.
    fn changes(&self, state: &State, group: usize, slice: u8, changes: &mut Vec<Change>) {
        changes.clear();
        let slice_of = &state.assignment.slice_of;
        let home = slice_of[group];
        for term in &self.gram.terms_of[group] {
            let (a, b) = self.gram.groups[*term as usize];
            if a == b {
                changes.push((*term, usize::from(home), -1.0));
                changes.push((*term, usize::from(slice), 1.0));
                continue;
            }
            let other = slice_of[usize::from(if usize::from(a) == group { b } else { a })];
            if other == home {
                changes.push((*term, usize::from(home), -1.0));
            } else if other == slice {
                changes.push((*term, usize::from(slice), 1.0));
            }
        }
    }

    /// Moves `group` to `slice`.
    pub fn commit(&self, state: &mut State, group: usize, slice: u8) {
        let home = state.assignment.slice_of[group];
        if home == slice {
            return;
        }
        let mut changes = Vec::new();
        self.changes(state, group, slice, &mut changes);
        state.sums = self.moved(state, group, slice, &changes);
        for change in changes {
            self.note(&mut state.against, change);
        }
        state.assignment.slice_of[group] = slice;
    }

    fn moved(&self, state: &State, group: usize, slice: u8, changes: &[Change]) -> Sums {
        let mut sums = self.changed(state, changes);
        let slice_of = &state.assignment.slice_of;
        let (home, slice) = (usize::from(slice_of[group]), usize::from(slice));
        sums.letters[home] -= self.letters[group];
        sums.letters[slice] += self.letters[group];
        for (other, share) in &self.meetings[group] {
            if usize::from(*other) == group {
                sums.meetings[home][home] -= share;
                sums.meetings[slice][slice] += share;
                continue;
            }
            let other = usize::from(slice_of[usize::from(*other)]);
            sums.meetings[home][other] -= share;
            sums.meetings[other][home] -= share;
            sums.meetings[slice][other] += share;
            sums.meetings[other][slice] += share;
        }
        sums
    }

    /// Moves one group at a time as long as that helps.
    fn descend(&self, mut state: State) -> (State, Solution) {
        let slices = state.assignment.slices;
        let mut best = state.sums.solve(slices, &self.looks);
        let mut changes = Vec::new();
        for _ in 0..20 {
            let mut moved = false;
            for group in self.groups_in_use() {
                let home = state.assignment.slice_of[group];
                let mut better: Option<(u8, Solution)> = None;
                for slice in (0..slices as u8).filter(|slice| *slice != home) {
                    self.changes(&state, group, slice, &mut changes);
                    let sums = self.moved(&state, group, slice, &changes);
                    let solution = sums.solve(slices, &self.looks);
                    let bar = better.as_ref().map_or(best.cost, |(_, s)| s.cost);
                    if solution.cost < bar * (1.0 - 1e-9) {
                        better = Some((slice, solution));
                    }
                }
                if let Some((slice, solution)) = better {
                    self.commit(&mut state, group, slice);
                    best = solution;
                    moved = true;
                }
            }
            if !moved {
                break;
            }
        }
        (state, best)
    }
}

/// The slice that both groups are in.
fn together(slice_of: &[u8], (a, b): (u16, u16)) -> Option<usize> {
    let (a, b) = (slice_of[usize::from(a)], slice_of[usize::from(b)]);
    (a == b).then_some(usize::from(a))
}
