//! Strikes with what libFuzzer makes of results of measuring pages.

#![no_main]

use libfuzzer_sys::fuzz_target;
use tidy_lattice_attack::Target;

fuzz_target!(|bytes: &[u8]| {
    Target::Measured.strike("x", bytes, false);
});
