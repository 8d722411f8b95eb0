//! From lines that are close in width to lines that break alike.

use foldhash::HashMap;
use tidy_lattice_glyphs::text::Dice;

use super::pieces::Pieces;
use super::search::{Assignment, Search};
use super::solve::{BySlice, Looks, MOST_SLICES, spread};
use super::terms::Terms;
use super::{declared, effective, meant};
use crate::breaks::{Differing, Laid, Layouts, PieceWidths};

/// How many times lines are laid out at most, for factors and for letters.
const MOST_TRIES: (usize, usize) = (1_200, 900);

/// Changes of factors that are tried, largest first.
const STEPS: [f64; 5] = [0.006, 0.003, 0.0015, 0.0007, 0.0003];

/// How often all factors are moved at once, and how far at first.
const SHAKEN: usize = 1_500;
const WIDEST: f64 = 0.02;

/// How many factors are kept with what they come to.
const MOST_KNOWN: usize = 20_000;

/// How often letters, factors one by one, and all at once are gone through.
const ROUNDS: usize = 2;

/// Moves factors and letters as long as more layouts break as in the web font.
pub struct Polish<'t> {
    terms: &'t Terms,
    layouts: &'t Layouts,
    looks: Looks,
    /// The most spread of letters, in parts of their mean.
    limit: f64,
    /// Widths of all pieces at each size; those of the terms follow what is tried.
    laid: Laid,
    /// The row of the terms that each piece of the sample has, if any.
    row_of: Vec<Option<usize>>,
    /// What the factors that are tried come to at each size.
    at_sizes: Vec<BySlice>,
    /// The same of factors that were tried before, by their bits in %: they come again.
    known: HashMap<u64, Vec<f64>>,
    /// The most that the square of word errors may become for the sake of lines: other texts
    /// than these are set in the same words.
    words: f64,
}

/// How much worse words may become, in parts of the square of their errors.
const WORSE_WORDS: f64 = 1.3;

/// How good a way is: layouts that differ, then the square of word errors.
type Score = (Differing, f64);

impl<'t> Polish<'t> {
    /// Polishing on `layouts`; `base` are the piece widths where a piece is not
    /// among the terms.
    pub fn new(
        terms: &'t Terms,
        layouts: &'t Layouts,
        base: &PieceWidths,
        looks: Looks,
        limit: f64,
    ) -> Self {
        let mut row_of = vec![None; layouts.pieces()];
        for (at, row) in terms.rows.iter().enumerate() {
            row_of[row.piece] = Some(at);
        }
        Polish {
            terms,
            layouts,
            looks,
            limit,
            laid: layouts.laid(base),
            row_of,
            at_sizes: vec![[0.0; MOST_SLICES]; layouts.sizes().len()],
            known: HashMap::default(),
            words: f64::INFINITY,
        }
    }

    /// The one factor with which fewest layouts differ.
    pub fn one_factor(
        &mut self,
        assignment: Assignment,
        factors: BySlice,
    ) -> (Assignment, BySlice) {
        let sizes = self.layouts.sizes();
        let factors = factors.map(|factor| meant(sizes, factor));
        let best = self.factors(&assignment, factors, &[1.0; MOST_SLICES], MOST_TRIES.0);
        (assignment, best.0)
    }

    /// The slices and factors with which fewest layouts differ.
    pub fn run(
        &mut self,
        search: &Search<'_>,
        mut assignment: Assignment,
        factors: BySlice,
    ) -> (Assignment, BySlice) {
        // Sizes are cut, never rounded up, so they start a little larger.
        let sizes = self.layouts.sizes();
        let factors = factors.map(|factor| meant(sizes, factor));
        let letters = search.letters(&assignment);
        let pieces = self.pieces(&assignment);
        self.words = WORSE_WORDS * self.score(&pieces, &assignment, &factors, u64::MAX).1;
        let mut best = self.factors(&assignment, factors, &letters, MOST_TRIES.0);
        let groups: Vec<usize> = search.groups_in_use().collect();
        for _ in 0..ROUNDS {
            best = self.letters(search, &mut assignment, best, &groups);
            let letters = search.letters(&assignment);
            best = self.factors(&assignment, best.0, &letters, MOST_TRIES.0);
            best = self.shaken(&assignment, best, &letters);
        }
        (assignment, best.0)
    }

    /// The same with letters in other slices, each by itself.
    fn letters(
        &mut self,
        search: &Search<'_>,
        assignment: &mut Assignment,
        mut best: (BySlice, Score),
        groups: &[usize],
    ) -> (BySlice, Score) {
        let slices = assignment.slices;
        let mut tries = 0;
        let mut state = search.state(assignment.clone());
        let mut moved = true;
        while moved && tries < MOST_TRIES.1 {
            moved = false;
            for group in groups {
                let home = assignment.slice_of[*group];
                for slice in (0..slices as u8).filter(|slice| *slice != home) {
                    if tries >= MOST_TRIES.1 {
                        break;
                    }
                    tries += 1;
                    assignment.slice_of[*group] = slice;
                    let solved = search.solve_moved(&state, *group, slice).factors;
                    let sizes = self.layouts.sizes();
                    let solved = solved.map(|factor| meant(sizes, factor));
                    let letters = search.letters(assignment);
                    let pieces = self.pieces(assignment);
                    // With factors that suit words, and with those that suit lines.
                    let ways = [solved, best.0];
                    let even = ways
                        .into_iter()
                        .filter(|way| spread(&letters, way, slices) <= self.limit);
                    let even: Vec<BySlice> = even.collect();
                    let scored = even
                        .into_iter()
                        .map(|way| (way, self.score(&pieces, assignment, &way, best.1.0.cost)));
                    let found = scored.reduce(|one, other| {
                        if is_better(&other.1, &one.1) {
                            other
                        } else {
                            one
                        }
                    });
                    if let Some(found) = found.filter(|found| is_better(&found.1, &best.1)) {
                        search.commit(&mut state, *group, slice);
                        best = found;
                        moved = true;
                        break;
                    }
                    assignment.slice_of[*group] = home;
                }
            }
        }
        best
    }

    /// The same with all factors moved at once, each a little at random: lines hang on many
    /// factors, and what mends one by one is done.
    fn shaken(
        &mut self,
        assignment: &Assignment,
        from: (BySlice, Score),
        letters: &BySlice,
    ) -> (BySlice, Score) {
        let pieces = self.pieces(assignment);
        let slices = assignment.slices;
        let mut dice = Dice::new(0x9e37_79b9_7f4a_7c15);
        // From -1 to 1.
        let mut random = || dice.roll(2001) as f64 / 1000.0 - 1.0;
        let mut best = from;
        for try_ in 0..SHAKEN {
            let far = WIDEST * (1.0 - try_ as f64 / SHAKEN as f64).powi(2) + STEPS[4];
            let mut tried = best.0;
            for (factor, letters) in tried.iter_mut().zip(letters).take(slices) {
                *factor = self.looks.held(*factor + far * random(), *letters);
            }
            if spread(letters, &tried, slices) > self.limit {
                continue;
            }
            let found = self.score(&pieces, assignment, &tried, best.1.0.cost);
            if found.0.is_less(&best.1.0) {
                best = (tried, found);
            }
        }
        best
    }

    fn pieces(&self, assignment: &Assignment) -> Pieces {
        Pieces::new(self.terms, &assignment.slice_of, assignment.slices)
    }

    /// Sets what factors come to at each size.
    fn set_sizes(&mut self, factors: &BySlice, slices: usize) {
        let sizes = self.layouts.sizes();
        if self.known.len() > MOST_KNOWN {
            self.known.clear();
        }
        for (slice, factor) in factors.iter().enumerate().take(slices) {
            let declared = declared(*factor);
            let known = self.known.entry(declared.to_bits());
            let at = known.or_insert_with(|| {
                sizes
                    .iter()
                    .map(|size| effective(*size, declared))
                    .collect()
            });
            for (all, one) in self.at_sizes.iter_mut().zip(at) {
                all[slice] = *one;
            }
        }
    }

    /// How good these factors are, counted no further than what is worse than `most`.
    fn score(
        &mut self,
        pieces: &Pieces,
        assignment: &Assignment,
        factors: &BySlice,
        most: u64,
    ) -> Score {
        self.set_sizes(factors, assignment.slices);
        let cost = self.at_sizes.iter().map(|at| pieces.error(at)).sum();
        if cost > self.words {
            return (Differing::NEVER, cost);
        }
        let space = usize::from(assignment.slice_of[self.terms.space]);
        let terms = self.terms;
        let at_sizes = &self.at_sizes;
        let row_of = &self.row_of;
        let widths = |size: usize, wanted: &[u32], widths: &mut PieceWidths| {
            let factors = &at_sizes[size];
            for piece in wanted {
                if let Some(row) = row_of[*piece as usize] {
                    widths.whole[*piece as usize] = pieces.width(row, factors);
                }
            }
            widths.space = factors[space] * terms.space_width;
        };
        let differing = self.layouts.differing(&mut self.laid, widths, most);
        (differing, cost)
    }

    /// The factors with which fewest layouts differ.
    fn factors(
        &mut self,
        assignment: &Assignment,
        mut factors: BySlice,
        letters: &BySlice,
        most: usize,
    ) -> (BySlice, Score) {
        let slices = assignment.slices;
        let pieces = self.pieces(assignment);
        let mut best = self.score(&pieces, assignment, &factors, u64::MAX);
        for step in STEPS {
            let mut tries = 0;
            let most = most / STEPS.len();
            let mut improved = true;
            while improved && tries < most {
                improved = false;
                for change in changes(slices, step, &pieces.all) {
                    let mut tried = factors;
                    let each = tried.iter_mut().zip(change).zip(letters).take(slices);
                    for ((factor, change), letters) in each {
                        *factor = self.looks.held(*factor + change, *letters);
                    }
                    if spread(letters, &tried, slices) > self.limit {
                        continue;
                    }
                    tries += 1;
                    let found = self.score(&pieces, assignment, &tried, best.0.cost);
                    if found.0.is_less(&best.0) {
                        (factors, best) = (tried, found);
                        improved = true;
                    }
                    if tries >= most {
                        break;
                    }
                }
            }
        }
        (factors, best)
    }
}

fn is_better(found: &Score, than: &Score) -> bool {
    found.0.is_less(&than.0) || found.0 == than.0 && found.1 < than.1
}

/// Each factor by itself, and each two against each other so that the text stays
/// as long.
fn changes(slices: usize, step: f64, means: &BySlice) -> Vec<BySlice> {
    let mut changes = Vec::new();
    for one in 0..slices {
        for sign in [1.0, -1.0] {
            let mut alone = [0.0; MOST_SLICES];
            alone[one] = sign * step / 4.0;
            changes.push(alone);
        }
        for other in (0..slices).filter(|other| *other != one) {
            let mut against = [0.0; MOST_SLICES];
            against[one] = step;
            against[other] = -step * means[one] / means[other].max(1e-9);
            if against[other].abs() < 0.05 {
                changes.push(against);
            }
        }
    }
    changes
}
