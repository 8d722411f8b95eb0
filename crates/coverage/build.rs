//! The catalogue is embedded; cargo does not see its files by itself.

fn main() {
    println!("cargo::rerun-if-changed=data/catalogue");
}
