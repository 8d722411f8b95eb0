//! Who shows what: needs of texts, families of platforms, and their crossing.
//!
//! - [`need`]: text → clusters with their counts and places
//! - [`platform`]: families that kinds of devices have installed; the built-in
//!   catalogue
//! - [`lattice`]: needs x fonts → who serves what, gaps; whether scripts work; which
//!   font shows each piece of a text; surveys of whole projects
//!
//! ```
//! use tidy_lattice_coverage::need::Need;
//! use tidy_lattice_glyphs::text::Source;
//!
//! let text = Source { name: "notice".to_owned(), text: "Tidal \u{e9}tude".to_owned() };
//! let need = Need::gather(&[text]);
//! assert!(need.clusters.iter().any(|cluster| cluster.text == "\u{e9}"));
//! ```

pub mod lattice;
pub mod need;
pub mod platform;
