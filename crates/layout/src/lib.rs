//! How browsers make lines and lay pages out.
//!
//! - [`chromium`], [`firefox`]: line boxes, as each engine makes them of a face's
//!   metrics ([`Engine`], [`LineParts`])
//! - [`text`]: runs of text in the faces that show it; where lines may end
//! - [`flow`]: blocks, lines, floats, tables, flexible boxes and grids laid out
//!
//! ```
//! use tidy_lattice_layout::chromium;
//!
//! // Chromium cuts sizes to 1/100 px before it rounds lines to whole px.
//! assert_eq!(chromium::used_size(15.999, 100.0), 15.99);
//! ```

pub mod chromium;
mod engine;
pub mod firefox;
pub mod flow;
mod parts;
pub mod text;

pub use engine::Engine;
pub use parts::LineParts;
