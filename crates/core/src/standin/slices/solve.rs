//! The factors of given slices that bring lines closest to the web font's
//! widths, as weighted least squares.

/// The most slices.
pub const MOST_SLICES: usize = 12;

/// A number for each slice.
pub type BySlice = [f64; MOST_SLICES];

/// What factors are held to.
#[derive(Debug, Clone, Copy)]
pub struct Looks {
    /// The factor that letters are even at.
    pub mean: f64,
    /// The least and the most factor.
    pub bounds: (f64, f64),
    /// What different sizes of letters cost beside errors of widths: the square
    /// of a letter's distance from the mean weighs this much, in em².
    pub unevenness: f64,
}

/// Sums over all rows, from which factors follow: with `x` the local width of a
/// row by slice and `w` its width in the web font, the means of `x xᵀ`, `x w` and
/// `w w`.
#[derive(Debug, Clone)]
pub struct Sums {
    /// The mean of `x xᵀ`.
    pub xx: [BySlice; MOST_SLICES],
    /// The mean of `x w`.
    pub xw: BySlice,
    /// The mean of `w w`.
    pub ww: f64,
    /// The share of all characters by slice.
    pub frequency: BySlice,
}

/// Factors and what they cost.
#[derive(Debug, Clone, Copy)]
pub struct Solution {
    /// The factor of each slice.
    pub factors: BySlice,
    /// The mean square error of rows, with what unevenness costs.
    pub cost: f64,
}

impl Sums {
    /// The best factors of `slices` slices within the bounds of `looks`.
    pub fn solve(&self, slices: usize, looks: &Looks) -> Solution {
        let mut matrix = self.xx;
        let mut right = self.xw;
        for slice in 0..slices {
            let even = looks.unevenness * self.frequency[slice].max(0.0) + 1e-9;
            matrix[slice][slice] += even;
            right[slice] += even * looks.mean;
        }
        let mut fixed: [Option<f64>; MOST_SLICES] = [None; MOST_SLICES];
        let mut factors = cholesky(&matrix, &right, &fixed, slices);
        // Factors beyond the bounds are held there, and the others follow.
        for _ in 0..slices {
            let mut changed = false;
            for (factor, fixed) in factors.iter().zip(&mut fixed).take(slices) {
                if fixed.is_none() && !(looks.bounds.0..=looks.bounds.1).contains(factor) {
                    *fixed = Some(factor.clamp(looks.bounds.0, looks.bounds.1));
                    changed = true;
                }
            }
            if !changed {
                break;
            }
            factors = cholesky(&matrix, &right, &fixed, slices);
        }
        Solution {
            factors,
            cost: self.cost(&factors, slices, looks),
        }
    }

    /// What `factors` cost.
    fn cost(&self, factors: &BySlice, slices: usize, looks: &Looks) -> f64 {
        let mut cost = self.ww;
        for (i, factor) in factors.iter().enumerate().take(slices) {
            let products = factors.iter().zip(&self.xx[i]).take(slices);
            let sum: f64 = products.map(|(other, xx)| other * xx).sum();
            cost += factor * (sum - 2.0 * self.xw[i]);
            let off = factor - looks.mean;
            cost += looks.unevenness * self.frequency[i].max(0.0) * off * off;
        }
        cost
    }
}

/// Solves `matrix × f = right` for the factors that are not fixed.
fn cholesky(
    matrix: &[BySlice; MOST_SLICES],
    right: &BySlice,
    fixed: &[Option<f64>; MOST_SLICES],
    slices: usize,
) -> BySlice {
    let mut free = [0; MOST_SLICES];
    let mut count = 0;
    let mut factors = [0.0; MOST_SLICES];
    for slice in 0..slices {
        match fixed[slice] {
            Some(factor) => factors[slice] = factor,
            None => {
                free[count] = slice;
                count += 1;
            }
        }
    }
    let mut lower = [[0.0; MOST_SLICES]; MOST_SLICES];
    let mut solved = [0.0; MOST_SLICES];
    for row in 0..count {
        let i = free[row];
        for column in 0..=row {
            let mut value = matrix[i][free[column]];
            let before = lower[row].iter().zip(&lower[column]).take(column);
            value -= before.map(|(a, b)| a * b).sum::<f64>();
            lower[row][column] = if row == column {
                value.max(1e-12).sqrt()
            } else {
                value / lower[column][column]
            };
        }
        let mut value = right[i];
        for k in 0..slices {
            value -= fixed[k].map_or(0.0, |fixed| matrix[i][k] * fixed);
        }
        for k in 0..row {
            value -= lower[row][k] * solved[k];
        }
        solved[row] = value / lower[row][row];
    }
    for row in (0..count).rev() {
        let mut value = solved[row];
        for k in row + 1..count {
            value -= lower[k][row] * factors[free[k]];
        }
        factors[free[row]] = value / lower[row][row];
    }
    factors
}
