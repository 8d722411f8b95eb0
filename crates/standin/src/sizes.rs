//! The sizes that lines are held to.

/// How much more a size counts that the user named.
const NAMED_WEIGHT: u64 = 10_000;

/// 8 to 96 px in half-pixel steps: the sizes that every fit is held to.
pub fn half_pixel_sizes() -> impl Iterator<Item = f32> {
    (16..=192).map(|half| half as f32 / 2.0)
}

/// The largest factor at which a line of `line` em becomes no higher in Firefox, which makes
/// none lower than the em in whole px, at the `sizes` in px.
pub fn largest_even_factor(line: f64, sizes: &[f32]) -> f64 {
    /// Below a half, which is rounded up.
    const ROUNDED_DOWN: f64 = 0.49;
    let sizes = sizes.iter().map(|size| f64::from(*size));
    sizes
        .map(|size| ((line * size).floor() + ROUNDED_DOWN) / size)
        .fold(f64::INFINITY, f64::min)
}

/// The sizes that count, each once, and which of them the user named.
pub struct Sizes {
    /// The sizes in px, ascending.
    pub px: Vec<f32>,
    named: Vec<bool>,
}

impl Sizes {
    /// The half-pixel sizes and the `named` ones.
    pub fn new(named: &[f32]) -> Self {
        let mut px: Vec<f32> = half_pixel_sizes().chain(named.iter().copied()).collect();
        px.sort_by(f32::total_cmp);
        px.dedup();
        let named = px.iter().map(|size| named.contains(size)).collect();
        Sizes { px, named }
    }

    /// What agreement at a size, by its index, is worth.
    pub fn weight(&self, index: usize) -> u64 {
        if self.named[index] { NAMED_WEIGHT } else { 1 }
    }

    /// The sizes at which `differs` holds.
    pub fn filter(&self, differs: impl Fn(f32) -> bool) -> Vec<f32> {
        self.px
            .iter()
            .copied()
            .filter(|size| differs(*size))
            .collect()
    }

    /// A size, by its index, as named (1, 0) or other (0, 1).
    pub fn one(&self, index: usize) -> (u32, u32) {
        if self.named[index] { (1, 0) } else { (0, 1) }
    }

    /// How many named and how many other sizes `differs` holds at.
    pub fn count(&self, differs: impl Fn(usize) -> bool) -> (u32, u32) {
        let mut count = (0, 0);
        for index in (0..self.px.len()).filter(|index| differs(*index)) {
            if self.named[index] {
                count.0 += 1;
            } else {
                count.1 += 1;
            }
        }
        count
    }
}
