//! Font mistakes in style sheets and pages: small, old, and found late.
//!
//! - [`source`], [`raw`]: texts with places in them, CSS as it stands
//! - [`catalogue`], [`finding`]: what there is to find, what was found, how to mend it
//! - [`inputs`]: sheets, pages, fonts and families, gathered by the caller
//! - [`rules`]: the rules, a file a subject; [`check`] runs them all
//! - [`silence`], [`mend`]: findings that are meant to be so, and changes to files
//!
//! No file is read here:
//!
//! ```
//! use tidy_lattice_checks::inputs::{Inputs, SheetInput};
//!
//! let mut inputs = Inputs::default();
//! inputs.sheets.push(SheetInput::of("a.css", "p { font-family: Open+Sans, serif }"));
//! let found = tidy_lattice_checks::check(&inputs);
//! assert_eq!(found[0].code, "name-encoded");
//! assert_eq!((found[0].place.line, found[0].place.column), (1, 18));
//! assert_eq!(found[0].mend[0].text, "\"Open Sans\"");
//! ```

pub mod catalogue;
pub mod finding;
pub mod inputs;
pub mod mend;
pub mod raw;
pub mod rules;
pub mod silence;
pub mod source;

pub use catalogue::Level;
pub use finding::{Edit, Finding};
pub use rules::check;
