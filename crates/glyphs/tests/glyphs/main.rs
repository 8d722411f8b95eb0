//! Fonts and cards.

mod spaces;
mod width_model;
mod words;
