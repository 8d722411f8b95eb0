//! What people write: style sheets, pages, texts and message catalogues.
//!
//! - [`style`]: CSS understood ([`style::read`]), CSS written, faces of a family
//!   matched
//! - [`page`]: HTML → tree → cascade → computed styles → texts, and boxes for layout
//! - [`content`]: one file a format; what of a message shows
//!
//! ```
//! use tidy_lattice_documents::content::{Format, Reading, read};
//!
//! let catalogue = b"msgid \"Timetable\"\nmsgstr \"Fahrplan %s\"\n";
//! let mut shown = String::new();
//! read(catalogue, Format::of("de.po"), Reading::default(), &mut |piece| {
//!     shown.push_str(piece.text);
//! })
//! .unwrap();
//! assert!(shown.starts_with("Fahrplan "));
//! ```

pub mod content;
pub mod page;
pub mod style;
