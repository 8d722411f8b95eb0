//! Widths of pieces by slice, with given slices.

use super::solve::{BySlice, MOST_SLICES};
use super::terms::{Row, Terms};

/// How wide each piece is in the local face, by slice, and what the squares of errors of all
/// add up from, so that factors are judged without looking at pieces.
pub struct Pieces {
    /// Local widths of each row of the terms by slice, in em.
    pub rows: Vec<BySlice>,
    /// Sums of `count x xᵀ`, `count x w` and `count w²`, with `x` the local widths of a piece
    /// and `w` its width in the web font, in em².
    xx: [BySlice; MOST_SLICES],
    xw: BySlice,
    ww: f64,
    /// Local widths of all pieces by slice, in em.
    pub all: BySlice,
    slices: usize,
}

impl Pieces {
    /// The pieces of `terms` with each group in its slice of `slices`.
    pub fn new(terms: &Terms, slice_of: &[u8], slices: usize) -> Self {
        let mut pieces = Pieces {
            rows: Vec::with_capacity(terms.rows.len()),
            xx: [[0.0; MOST_SLICES]; MOST_SLICES],
            xw: [0.0; MOST_SLICES],
            ww: 0.0,
            all: [0.0; MOST_SLICES],
            slices,
        };
        for row in &terms.rows {
            let x = by_slice(row, slice_of);
            for one in 0..slices {
                let counted = row.count * x[one];
                for (sum, other) in pieces.xx[one].iter_mut().zip(&x).take(slices) {
                    *sum += counted * other;
                }
                pieces.xw[one] += counted * row.web;
                pieces.all[one] += counted;
            }
            pieces.ww += row.count * row.web * row.web;
            pieces.rows.push(x);
        }
        pieces
    }

    /// How wide a row is with these factors, in em.
    pub fn width(&self, row: usize, factors: &BySlice) -> f64 {
        let products = factors.iter().zip(&self.rows[row]).take(self.slices);
        products.map(|(factor, x)| factor * x).sum()
    }

    /// The sum of the squares of errors of all pieces with these factors, in em².
    pub fn error(&self, factors: &BySlice) -> f64 {
        let mut error = self.ww;
        for one in 0..self.slices {
            let products = factors.iter().zip(&self.xx[one]).take(self.slices);
            let sum: f64 = products.map(|(factor, xx)| factor * xx).sum();
            error += factors[one] * (sum - 2.0 * self.xw[one]);
        }
        error.max(0.0)
    }
}

/// Local widths of a piece by slice.
fn by_slice(row: &Row, slice_of: &[u8]) -> BySlice {
    let mut x = [0.0; MOST_SLICES];
    for term in &row.terms {
        let a = slice_of[usize::from(term.groups.0)];
        if a == slice_of[usize::from(term.groups.1)] {
            x[usize::from(a)] += term.width;
        }
    }
    x
}

#[cfg(test)]
mod tests {
    use foldhash::HashMap;

    use super::*;
    use crate::slices::terms::{Group, Term};

    fn terms() -> Terms {
        let term = |a, b, width| Term {
            groups: (a, b),
            width,
        };
        let row = |piece, count, web, terms| Row {
            piece,
            count,
            web,
            terms,
        };
        Terms {
            groups: vec![Group::default(); 3],
            rows: vec![
                row(
                    0,
                    2.0,
                    1.5,
                    vec![term(0, 0, 1.0), term(1, 1, 0.5), term(0, 1, -0.1)],
                ),
                row(1, 3.0, 0.7, vec![term(2, 2, 0.6), term(1, 2, -0.05)]),
            ],
            space: 0,
            space_width: 0.25,
            group_of: HashMap::default(),
            meetings: HashMap::default(),
        }
    }

    #[test]
    fn pairs_count_where_both_letters_are_in_one_slice() {
        let factors = {
            let mut factors = [0.0; MOST_SLICES];
            factors[..2].copy_from_slice(&[1.1, 0.9]);
            factors
        };
        let pieces = Pieces::new(&terms(), &[0, 1, 1], 2);
        let widths = [pieces.width(0, &factors), pieces.width(1, &factors)];
        // 1.1 × 1 + 0.9 × 0.5, and 0.9 × (0.6 - 0.05).
        let expected = [1.55, 0.495];
        for (width, expected) in widths.iter().zip(expected) {
            assert!((width - expected).abs() < 1e-12, "{widths:?}");
        }
        let error = 2.0 * (1.55_f64 - 1.5).powi(2) + 3.0 * (0.495_f64 - 0.7).powi(2);
        assert!((pieces.error(&factors) - error).abs() < 1e-12);
        let all = [2.0, 2.0 * 0.5 + 3.0 * 0.55];
        for (slice, expected) in pieces.all.iter().zip(all) {
            assert!((slice - expected).abs() < 1e-12, "{:?}", pieces.all);
        }
        // The pair of the first two adds once they are together.
        let together = Pieces::new(&terms(), &[0, 0, 1], 2);
        assert!((together.width(0, &factors) - 1.1 * 1.4).abs() < 1e-12);
    }
}
