//! Style sheets, pages and message catalogues.

mod anything;
mod cascade;
mod content;
mod counters;
mod css;
mod matching;
mod pages;
mod selectors;
mod sheets;
mod values;
