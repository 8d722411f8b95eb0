//! Tools for holding tidy-lattice's models against real browsers and real
//! fonts: a browser under WebDriver, a small server that can hold a font back,
//! and the font files of Debian's packages.
//!
//! The checks themselves are in `tests/`; they are ignored by a plain
//! `cargo test` and run by `.ci/run`, which installs what they need.

mod browser;
pub mod fonts;
mod server;

pub use browser::Browser;
pub use server::{HeldBack, Server};
pub use tidy_lattice_browser::Engine;

/// Each how manieth of its inputs a long check takes: every `many`th, the same in every run;
/// all where `TIDY_LATTICE_ALL` is set.
pub fn every(many: usize) -> usize {
    match std::env::var_os("TIDY_LATTICE_ALL") {
        Some(_) => 1,
        None => many,
    }
}
