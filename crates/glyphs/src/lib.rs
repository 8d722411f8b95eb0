//! Fonts, characters and shaping: what everything else rests on.
//!
//! - [`text`]: characters, their scripts and names; languages with their letters,
//!   signs and samples
//! - [`font`]: bytes → container → [`Face`](font::Face): names, metrics, characters,
//!   lookups; what browsers drop of web fonts; cards, which are faces known by their
//!   measurements only
//! - [`shaping`]: text set with a face: glyphs, widths, places where it may be cut
//!
//! ```
//! use tidy_lattice_glyphs::font::{Face, FacePick, FontFile, Limits};
//! use tidy_lattice_glyphs::shaping::Shaper;
//!
//! # fn main() -> Result<(), tidy_lattice_glyphs::font::FontError> {
//! # let bytes = tidy_lattice_demo::file("fonts/SkerrymarkSans-Regular.ttf").unwrap().to_vec();
//! let file = FontFile::read(bytes, Limits::DEFAULT)?;
//! let face = Face::open(&file, &FacePick::default())?;
//! assert!(face.maps('ß'));
//! // Widths are in em, kerning and ligatures included.
//! assert!(Shaper::new(&face).width("Fähre") > 2.0);
//! # Ok(())
//! # }
//! ```

pub mod font;
pub mod shaping;
pub mod text;
