//! Draws the demo's fonts anew: `cargo run -p tidy-lattice-demo --features draw`.

use std::path::Path;
use std::{fs, io};

fn main() -> io::Result<()> {
    let project = Path::new(env!("CARGO_MANIFEST_DIR")).join("project");
    for (path, bytes) in tidy_lattice_demo::draw::draw_all() {
        println!("{path}: {} bytes", bytes.len());
        let target = project.join(path);
        if let Some(folder) = target.parent() {
            fs::create_dir_all(folder)?;
        }
        fs::write(target, bytes)?;
    }
    Ok(())
}
