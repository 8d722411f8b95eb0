//! Strikes with what libFuzzer makes of projects.

#![no_main]

use libfuzzer_sys::fuzz_target;
use tidy_lattice_attack::Target;

fuzz_target!(|bytes: &[u8]| {
    Target::Project.strike("x", bytes, false);
});
