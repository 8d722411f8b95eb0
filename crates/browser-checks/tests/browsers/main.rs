//! tidy-lattice's models against real browsers and Debian's fonts.

mod breaks;
mod cards;
mod computed;
mod coverage;
mod demo_stack;
mod families;
mod frameworks;
mod held_out;
mod layouts;
mod line_heights;
mod pages;
mod pairs;
mod random_pages;
mod rounding;
mod shift;
mod shown_fonts;
mod stand_ins;
mod traces;
mod trimmed;
mod writing;
