//! Strikes with what libFuzzer makes of platforms.

#![no_main]

use libfuzzer_sys::fuzz_target;
use tidy_lattice_attack::Target;

fuzz_target!(|bytes: &[u8]| {
    Target::Platform.strike("x", bytes, false);
});
