//! Strikes with what libFuzzer makes of cards.

#![no_main]

use libfuzzer_sys::fuzz_target;
use tidy_lattice_attack::Target;

fuzz_target!(|bytes: &[u8]| {
    Target::Card.strike("x", bytes, false);
});
