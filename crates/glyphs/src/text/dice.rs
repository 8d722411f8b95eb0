//! Numbers that look random and are the same in every run.

/// Numbers from a seed (splitmix64).
#[derive(Debug, Clone)]
pub struct Dice(u64);

impl Dice {
    /// Dice that roll the same for the same seed.
    pub fn new(seed: u64) -> Self {
        Dice(seed)
    }

    /// A number from 0 to below `sides`; 0 where there are none.
    pub fn roll(&mut self, sides: usize) -> usize {
        self.0 = self.0.wrapping_add(0x9e37_79b9_7f4a_7c15);
        let mut z = self.0;
        z = (z ^ (z >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
        z = (z ^ (z >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
        ((z ^ (z >> 31)) % sides.max(1) as u64) as usize
    }
}
