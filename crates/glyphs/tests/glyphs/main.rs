//! Fonts and cards.

mod width_model;
