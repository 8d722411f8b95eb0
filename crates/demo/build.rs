//! Builds again when a file of the demo changes, comes or goes.

fn main() {
    println!("cargo:rerun-if-changed=project");
}
