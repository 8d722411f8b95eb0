//! How the terms of a text go together: sums of products over all its lines (or
//! words), so that the search need not look at the text again.

use foldhash::HashMap;

use super::terms::{Row, Terms};
use crate::breaks::Layouts;

/// The most pairs of groups whose kerning the search minds; those that matter
/// most come first.
const MOST_PAIRS: usize = 900;

/// The most lines that the sums are taken over.
const MOST_LINES: usize = 12_000;

/// How many words follow each other on a line, about, where only words are known:
/// an error that all words share adds up that often, errors that differ cancel
/// out.
const WORDS_A_LINE: f64 = 10.0;

/// Sums over the rows of a text.
pub struct Gram {
    /// The groups of each term; the same twice for a group by itself.
    pub groups: Vec<(u16, u16)>,
    /// For each group, the terms that it is part of.
    pub terms_of: Vec<Vec<u32>>,
    /// The mean products of any two terms, row by row.
    products: Vec<f64>,
    /// The mean products of terms and widths in the web font.
    pub with_web: Vec<f64>,
    /// The mean square of widths in the web font.
    pub web: f64,
    /// The mean width of a piece in the web font, in em.
    piece: f64,
}

impl Gram {
    /// The sums over the lines of `layouts`, else over the words.
    pub fn new(terms: &Terms, layouts: &Layouts) -> Self {
        let kept = kept_terms(&terms.rows);
        let index: HashMap<(u16, u16), u32> = kept.iter().copied().zip(0..).collect();
        let rows: Vec<Sparse> = terms
            .rows
            .iter()
            .map(|row| Sparse::of(row, &index))
            .collect();
        let mut terms_of = vec![Vec::new(); terms.groups.len()];
        for ((a, b), term) in kept.iter().zip(0..) {
            terms_of[usize::from(*a)].push(term);
            if a != b {
                terms_of[usize::from(*b)].push(term);
            }
        }
        let mut gram = Gram {
            products: vec![0.0; kept.len() * kept.len()],
            with_web: vec![0.0; kept.len()],
            groups: kept,
            terms_of,
            web: 0.0,
            piece: mean_piece(&terms.rows),
        };
        let lines = layouts.lines_by_piece(MOST_LINES);
        if lines.is_empty() {
            gram.add_words(terms, &rows);
        } else {
            let mut row_of = vec![None; layouts.pieces()];
            for (row, at) in terms.rows.iter().zip(0..) {
                row_of[row.piece] = Some(at);
            }
            gram.add_lines(&lines, &rows, &row_of);
        }
        gram
    }

    /// The share of lines that end elsewhere, about, where their widths are off by a mean
    /// square of `error` em². A line ends elsewhere where its error is larger than what is
    /// left of it, which is anything up to a piece; and so does the line before the first
    /// that begins elsewhere.
    pub fn broken(&self, error: f64) -> f64 {
        /// The mean of the absolute values of a normal distribution, in its deviations.
        const MEAN: f64 = 0.798;
        (2.0 * MEAN * error.sqrt() / self.piece.max(0.1)).min(1.0)
    }

    fn len(&self) -> usize {
        self.groups.len()
    }

    /// The mean product of two terms.
    pub fn product(&self, a: u32, b: u32) -> f64 {
        self.products[a as usize * self.len() + b as usize]
    }

    /// The mean products of a term with all.
    pub fn products_of(&self, term: u32) -> &[f64] {
        let start = term as usize * self.len();
        &self.products[start..start + self.len()]
    }

    fn add(&mut self, row: &[(u32, f64)], web: f64, weight: f64) {
        let len = self.len();
        for (a, width_a) in row {
            let products = &mut self.products[*a as usize * len..][..len];
            for (b, width_b) in row {
                products[*b as usize] += weight * width_a * width_b;
            }
            self.with_web[*a as usize] += weight * width_a * web;
        }
        self.web += weight * web * web;
    }

    fn add_words(&mut self, terms: &Terms, rows: &[Sparse]) {
        let total: f64 = terms.rows.iter().map(|row| row.count).sum();
        let mut mean = vec![0.0; self.len()];
        let mut mean_web = 0.0;
        for (row, sparse) in terms.rows.iter().zip(rows) {
            let weight = row.count / total;
            self.add(&sparse.terms, sparse.web, weight);
            for (term, width) in &sparse.terms {
                mean[*term as usize] += weight * width;
            }
            mean_web += weight * sparse.web;
        }
        let mean: Vec<(u32, f64)> = (0..).zip(mean).collect();
        self.add(&mean, mean_web, WORDS_A_LINE - 1.0);
    }

    fn add_lines(&mut self, lines: &[Vec<u32>], rows: &[Sparse], row_of: &[Option<usize>]) {
        let weight = 1.0 / lines.len() as f64;
        let mut sums = vec![0.0; self.len()];
        for line in lines {
            let mut touched = Vec::new();
            let mut web = 0.0;
            for row in line.iter().filter_map(|piece| row_of[*piece as usize]) {
                web += rows[row].web;
                for (term, width) in &rows[row].terms {
                    let sum = &mut sums[*term as usize];
                    if *sum == 0.0 {
                        touched.push(*term);
                    }
                    *sum += width;
                }
            }
            touched.sort_unstable();
            touched.dedup();
            let row: Vec<(u32, f64)> = touched
                .into_iter()
                .map(|term| (term, std::mem::take(&mut sums[term as usize])))
                .collect();
            self.add(&row, web, weight);
        }
    }
}

/// A row with the terms that the search minds.
struct Sparse {
    terms: Vec<(u32, f64)>,
    web: f64,
}

impl Sparse {
    fn of(row: &Row, index: &HashMap<(u16, u16), u32>) -> Self {
        let terms = row.terms.iter();
        Sparse {
            terms: terms
                .filter_map(|term| Some((*index.get(&term.groups)?, term.width)))
                .collect(),
            web: row.web,
        }
    }
}

/// The mean width of the pieces of running text, in em.
fn mean_piece(rows: &[Row]) -> f64 {
    let count: f64 = rows.iter().map(|row| row.count).sum();
    let width: f64 = rows.iter().map(|row| row.web * row.count).sum();
    width / count.max(1.0)
}

/// All groups by themselves, and the pairs that add most.
fn kept_terms(rows: &[Row]) -> Vec<(u16, u16)> {
    let mut weights: HashMap<(u16, u16), f64> = HashMap::default();
    for row in rows {
        for term in &row.terms {
            *weights.entry(term.groups).or_default() += term.width.abs() * row.count;
        }
    }
    let (mut single, mut pairs): (Vec<_>, Vec<_>) =
        weights.into_iter().partition(|((a, b), _)| a == b);
    pairs.sort_by(|a, b| b.1.total_cmp(&a.1).then(a.0.cmp(&b.0)));
    pairs.truncate(MOST_PAIRS);
    single.extend(pairs);
    let mut kept: Vec<(u16, u16)> = single.into_iter().map(|(groups, _)| groups).collect();
    kept.sort_unstable();
    kept
}
