//! The core on the demo's fonts and on real ones.

mod containers;
mod cover;
mod css;
mod hostile;
mod lines;
mod material;
mod stacks;
mod vertical_metrics;
mod widths;
