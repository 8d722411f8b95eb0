//! The maker of the demo's fonts: pen strokes in, TrueType files out.
//!
//! `skeleton` holds the letters as strokes, `pen` turns strokes into
//! outlines in a `Hand`, `repertoire` says which characters a font
//! gets, `arabic` has the joined forms of Arabic letters, `assemble` writes the tables, `fonts` lists what is made.

mod arabic;
mod assemble;
mod fonts;
mod layout;
mod pen;
mod repertoire;
mod skeleton;

pub use fonts::draw_all;
