//! The computation behind `tidy-lattice`: which font of a stack shows each
//! piece of a text, and how a locally installed fallback must be resized and
//! re-measured so that nothing moves when the web font arrives.
//!
//! There is no terminal, no argument parsing and no file access in here: bytes
//! and strings come in, plain serde-able structs go out. Each room answers one
//! question, and rests on the libraries below, which are re-exported:
//!
//! | library | rooms |
//! |---|---|
//! | this one | [`describe`], [`record`], [`compare`], [`rank`], [`stack`], [`shift`], [`trim`], [`forecast`] |
//! | `tidy-lattice-standin` | [`standin`] |
//! | `tidy-lattice-subset` | the subsetter, as `trim::subset` |
//! | `tidy-lattice-layout` | [`layout`] |
//! | `tidy-lattice-coverage` | [`need`], [`platform`], [`lattice`] |
//! | `tidy-lattice-documents` | [`style`], [`page`], [`content`] |
//! | `tidy-lattice-glyphs` | [`text`], [`font`], [`shaping`] |
//!
//! ```
//! use tidy_lattice_core::describe::{Depth, Question, describe};
//! use tidy_lattice_core::font::{FacePick, FontFile, Limits};
//!
//! # let bytes = tidy_lattice_demo::file("fonts/SkerrymarkSans-Regular.ttf").unwrap().to_vec();
//! let file = FontFile::read(bytes, Limits::DEFAULT).unwrap();
//! let question = Question {
//!     depth: Depth::Summary,
//!     languages: None,
//!     text_language: "en".to_owned(),
//! };
//! let described = describe(&file, &FacePick::default(), &question).unwrap();
//! assert_eq!(described.identity.names.family, "Skerrymark Sans");
//! ```
//!
//! Lengths are in CSS px, in em (multiples of the font size) or in font units;
//! every public item says which.

pub use tidy_lattice_coverage::{lattice, need, platform};
pub use tidy_lattice_documents::{content, page, style};
pub use tidy_lattice_glyphs::{font, shaping, text};
pub use tidy_lattice_layout as layout;
pub use tidy_lattice_standin as standin;

pub mod compare;
pub mod describe;
pub mod forecast;
pub mod rank;
pub mod record;
pub mod shift;
pub mod stack;
pub mod trim;
