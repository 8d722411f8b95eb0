//! The core on the demo's fonts and on real ones.

mod any_text;
mod boxes;
mod cards;
mod compare;
mod containers;
mod cover;
mod describe;
mod device_stacks;
mod flow;
mod held_out;
mod hostile;
mod hostile_content;
mod laid;
mod lines;
mod material;
mod measured;
mod page_parts;
mod platforms;
mod ranks;
mod slices;
mod stacks;
mod surveys;
mod texts;
mod traces;
mod vertical_metrics;
mod widths;
