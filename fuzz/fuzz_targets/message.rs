//! Strikes with what libFuzzer makes of message catalogues; the first byte says of which
//! format.

#![no_main]

use libfuzzer_sys::fuzz_target;
use tidy_lattice_attack::Target;

const NAMES: [&str; 12] = [
    "a.json",
    "a.po",
    "a.xlf",
    "a.yml",
    "a.properties",
    "a.strings",
    "a.arb",
    "a.resx",
    "a.xml",
    "a.csv",
    "a.md",
    "a.txt",
];

fuzz_target!(|bytes: &[u8]| {
    if let Some((format, bytes)) = bytes.split_first() {
        Target::Message.strike(NAMES[usize::from(*format) % NAMES.len()], bytes, false);
    }
});
