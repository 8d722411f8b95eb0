//! The maker of the demo's fonts: pen strokes in, TrueType files out.
//!
//! `skeleton` holds the letters as strokes, `pen` turns strokes into
//! outlines in a `Hand`, `repertoire` says which characters a font
//! gets, `arabic` has the joined forms of Arabic letters, `devanagari` letters, half forms
//! and marks of Devanagari, `variable` an axis of weights, `pictures` a table of coloured
//! pictures, `assemble` writes the tables, `fonts` lists what is made.

mod arabic;
mod assemble;
mod devanagari;
mod fonts;
mod layout;
mod pen;
mod pictures;
mod repertoire;
mod skeleton;
mod variable;

pub use fonts::draw_all;
