//! The computation behind `tidy-lattice`: which font of a stack shows each
//! piece of a text, and how a locally installed fallback must be resized and
//! re-measured so that nothing moves when the web font arrives.
//!
//! There is no terminal, no argument parsing and no file access in here: bytes
//! and strings come in, plain serde-able structs go out. Data flows one way:
//!
//! bytes → [`font`] → [`lattice`] (with [`need`]) → [`standin`] (with
//! [`layout`]) → [`stack`] → [`style`].
//!
//! Lengths are in CSS px, in em (multiples of the font size) or in font units;
//! every public item says which.

pub mod compare;
pub mod describe;
pub mod font;
pub mod lattice;
pub mod layout;
pub mod need;
pub mod page;
pub mod platform;
pub mod rank;
pub mod record;
pub mod shift;
pub mod stack;
pub mod standin;
pub mod style;
