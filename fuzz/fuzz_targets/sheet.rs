//! Strikes with what libFuzzer makes of sheets.

#![no_main]

use libfuzzer_sys::fuzz_target;
use tidy_lattice_attack::Target;

fuzz_target!(|bytes: &[u8]| {
    Target::Sheet.strike("x", bytes, false);
});
