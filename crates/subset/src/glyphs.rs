//! Which glyphs stay, and under which numbers.

/// A set of glyph ids, each below 65,536.
#[derive(Clone)]
pub(crate) struct GlyphSet {
    bits: Vec<u64>,
    len: usize,
}

impl GlyphSet {
    pub(crate) fn new() -> Self {
        GlyphSet {
            bits: vec![0; 1024],
            len: 0,
        }
    }

    pub(crate) fn contains(&self, glyph: u16) -> bool {
        self.bits[usize::from(glyph >> 6)] >> (glyph & 63) & 1 == 1
    }

    /// Whether the glyph was not in the set before.
    pub(crate) fn insert(&mut self, glyph: u16) -> bool {
        let new = !self.contains(glyph);
        self.bits[usize::from(glyph >> 6)] |= 1 << (glyph & 63);
        self.len += usize::from(new);
        new
    }

    pub(crate) fn len(&self) -> usize {
        self.len
    }

    pub(crate) fn iter(&self) -> impl Iterator<Item = u16> + '_ {
        self.bits.iter().enumerate().flat_map(|(word, bits)| {
            let mut bits = *bits;
            std::iter::from_fn(move || {
                (bits != 0).then(|| {
                    let bit = bits.trailing_zeros();
                    bits &= bits - 1;
                    (word as u32 * 64 + bit) as u16
                })
            })
        })
    }
}

impl FromIterator<u16> for GlyphSet {
    fn from_iter<I: IntoIterator<Item = u16>>(glyphs: I) -> Self {
        let mut set = GlyphSet::new();
        for glyph in glyphs {
            set.insert(glyph);
        }
        set
    }
}

/// The glyphs that stay, in the order of the source, which their new ids follow:
/// whatever was sorted stays so.
pub(crate) struct GlyphMap {
    new: Vec<u16>,
    old: Vec<u16>,
}

/// No glyph: 65,535 is never a glyph's id, as `maxp` counts glyphs in 16 bits.
const GONE: u16 = u16::MAX;

impl GlyphMap {
    pub(crate) fn of(kept: &GlyphSet) -> Self {
        let old: Vec<u16> = kept.iter().filter(|glyph| *glyph != GONE).collect();
        let mut new = vec![GONE; 1 << 16];
        for (id, glyph) in old.iter().enumerate() {
            new[usize::from(*glyph)] = id as u16;
        }
        GlyphMap { new, old }
    }

    /// The same ids, and only of glyphs in `set`.
    pub(crate) fn only(&self, set: &GlyphSet) -> Self {
        let mut new = self.new.clone();
        for glyph in self.old.iter().filter(|glyph| !set.contains(**glyph)) {
            new[usize::from(*glyph)] = GONE;
        }
        let old = self.old.iter().copied();
        GlyphMap {
            new,
            old: old.filter(|glyph| set.contains(*glyph)).collect(),
        }
    }

    /// The new id of a glyph of the source; `None` where it is gone.
    pub(crate) fn get(&self, old: u16) -> Option<u16> {
        Some(self.new[usize::from(old)]).filter(|new| *new != GONE)
    }

    /// The ids in the source, by new id.
    pub(crate) fn old(&self) -> &[u16] {
        &self.old
    }

    pub(crate) fn len(&self) -> usize {
        self.old.len()
    }
}
