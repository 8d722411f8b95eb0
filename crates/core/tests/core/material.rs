//! Fonts and texts for the tests.

use tidy_lattice_core::font::{Face, FacePick, FontError, FontFile, Limits};
use tidy_lattice_core::need::Need;
use tidy_lattice_core::text::Source;

/// A font of the demo project.
pub fn demo(path: &str) -> Face {
    face(tidy_lattice_demo::file(path).unwrap_or_else(|| panic!("no {path} in the demo")))
}

/// The default face of `bytes`.
pub fn face(bytes: &[u8]) -> Face {
    pick(bytes, &FacePick::default()).expect("a font")
}

/// A picked face of `bytes`.
pub fn pick(bytes: &[u8], pick: &FacePick) -> Result<Face, FontError> {
    Face::open(&FontFile::read(bytes.to_vec(), Limits::DEFAULT)?, pick)
}

/// A text that came from nowhere.
pub fn source(text: &str) -> Source {
    Source {
        name: "text".to_owned(),
        text: text.to_owned(),
    }
}

/// What `text` needs.
pub fn need(text: &str) -> Need {
    Need::gather(&[source(text)])
}

/// Pseudo-random numbers that are the same in every run.
pub struct Dice(pub u64);

impl Dice {
    /// A number below `bound`.
    pub fn roll(&mut self, bound: usize) -> usize {
        // Knuth's MMIX multiplier and increment.
        self.0 = self
            .0
            .wrapping_mul(6_364_136_223_846_793_005)
            .wrapping_add(1_442_695_040_888_963_407);
        ((self.0 >> 33) as usize) % bound
    }
}
