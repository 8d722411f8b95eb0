//! The core on the demo's fonts and on real ones.

mod boxes;
mod cards;
mod compare;
mod containers;
mod content;
mod cover;
mod css;
mod describe;
mod flow;
mod hostile;
mod hostile_content;
mod laid;
mod lines;
mod matching;
mod material;
mod pages;
mod platforms;
mod ranks;
mod sheets;
mod slices;
mod stacks;
mod surveys;
mod traces;
mod vertical_metrics;
mod width_model;
mod widths;
