//! The factors of given slices that bring lines closest to the web font's
//! widths, as weighted least squares.

/// The most slices.
pub const MOST_SLICES: usize = 12;

/// A number for each slice.
pub type BySlice = [f64; MOST_SLICES];

/// What factors are held to.
#[derive(Debug, Clone, Copy)]
pub struct Looks {
    /// The factor at which all letters are as wide as in the web font together.
    pub mean: f64,
    /// The least and the most factor of slices with letters.
    pub bounds: (f64, f64),
    /// The same of slices with nothing but blanks.
    pub space_bounds: (f64, f64),
    /// What different sizes of letters cost beside errors of widths, in em²: the mean of
    /// their variance and of half the square of the difference of two that meet.
    pub unevenness: f64,
}

impl Looks {
    /// A factor within the bounds of a slice with this share of the letters.
    pub fn held(&self, factor: f64, letters: f64) -> f64 {
        // What is left of a share after letters have come and gone.
        let is_space = letters < 1e-9;
        let (least, most) = if is_space {
            self.space_bounds
        } else {
            self.bounds
        };
        factor.clamp(least.min(most), most)
    }
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
    /// The share of all letters by slice; blanks have no looks.
    pub letters: BySlice,
    /// The share of pairs of letters that meet, by the slices of the two; symmetric.
    pub meetings: [BySlice; MOST_SLICES],
}

/// Factors and what they cost.
#[derive(Debug, Clone, Copy)]
pub struct Solution {
    /// The factor of each slice.
    pub factors: BySlice,
    /// The mean square error of rows, with what unevenness costs.
    pub cost: f64,
}

/// What a slice without text is held to its mean with, so that it has one factor.
const HOLD: f64 = 1e-9;

impl Sums {
    /// The best factors of `slices` slices within the bounds of `looks`.
    pub fn solve(&self, slices: usize, looks: &Looks) -> Solution {
        let mut matrix = self.xx;
        let mut right = self.xw;
        let all: f64 = self.letters.iter().take(slices).sum();
        for slice in 0..slices {
            let share = self.letters[slice];
            let meetings = &self.meetings[slice];
            let others = meetings.iter().zip(&self.letters).take(slices);
            for (cell, (met, other)) in matrix[slice].iter_mut().zip(others) {
                let mean = share * other / all.max(1e-12);
                *cell -= looks.unevenness / 2.0 * (met + mean);
            }
            let met: f64 = meetings.iter().take(slices).sum();
            matrix[slice][slice] += looks.unevenness / 2.0 * (share + met) + HOLD;
            right[slice] += HOLD * looks.mean;
        }
        let mut fixed: [Option<f64>; MOST_SLICES] = [None; MOST_SLICES];
        let mut factors = cholesky(&matrix, &right, &fixed, slices);
        // Factors beyond the bounds are held there, and the others follow.
        for _ in 0..slices {
            let mut changed = false;
            let all = factors
                .iter()
                .zip(&mut fixed)
                .zip(&self.letters)
                .take(slices);
            for ((factor, fixed), letters) in all {
                let held = looks.held(*factor, *letters);
                if fixed.is_none() && held != *factor {
                    *fixed = Some(held);
                    changed = true;
                }
            }
            if !changed {
                break;
            }
            factors = cholesky(&matrix, &right, &fixed, slices);
        }
        let mut cost = self.ww;
        for (i, factor) in factors.iter().enumerate().take(slices) {
            let products = factors.iter().zip(&matrix[i]).take(slices);
            let sum: f64 = products.map(|(other, xx)| other * xx).sum();
            cost += factor * (sum - 2.0 * right[i]);
        }
        Solution { factors, cost }
    }

    /// The mean square error of rows at `factors`, in em².
    pub fn error(&self, factors: &BySlice, slices: usize) -> f64 {
        let mut error = self.ww;
        for (i, factor) in factors.iter().enumerate().take(slices) {
            let products = factors.iter().zip(&self.xx[i]).take(slices);
            let sum: f64 = products.map(|(other, xx)| other * xx).sum();
            error += factor * (sum - 2.0 * self.xw[i]);
        }
        error.max(0.0)
    }

    /// See [`spread`].
    pub fn spread(&self, factors: &BySlice, slices: usize) -> f64 {
        spread(&self.letters, factors, slices)
    }
}

/// The standard deviation of factors, weighted by the share of `letters` that have them,
/// in parts of their mean.
pub fn spread(letters: &BySlice, factors: &BySlice, slices: usize) -> f64 {
    let of = |each: &dyn Fn(f64) -> f64| -> f64 {
        let letters = letters.iter().zip(factors).take(slices);
        letters.map(|(share, factor)| share * each(*factor)).sum()
    };
    let all = of(&|_| 1.0);
    if all <= 0.0 {
        return 0.0;
    }
    let mean = of(&|factor| factor) / all;
    (of(&|factor| (factor - mean).powi(2)) / all).sqrt() / mean
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
