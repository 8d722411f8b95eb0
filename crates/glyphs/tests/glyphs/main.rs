//! Fonts and cards.

mod width_model;
mod words;
