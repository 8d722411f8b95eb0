//! A folder with fonts, and what is found in a file of it.

use std::path::Path;

use tidy_lattice_checks::{Finding, check};
use tidy_lattice_core::platform;
use tidy_lattice_project::checking::{CheckRequest, gather, texts};
use tidy_lattice_project::{Access, stack};

/// A folder with the demo's fonts and what examples name.
pub fn folder() -> tempfile::TempDir {
    let folder = tempfile::tempdir().expect("a folder");
    let write = |name: &str, bytes: &[u8]| {
        let path = folder.path().join(name);
        std::fs::create_dir_all(path.parent().expect("a folder")).expect("a folder");
        std::fs::write(path, bytes).expect("a file");
    };
    for (path, bytes) in tidy_lattice_demo::files() {
        if path.starts_with("fonts/") {
            write(&path, bytes);
        }
    }
    let variable = tidy_lattice_demo::file("shop/public/assets/fonts/HarbourlineVF.ttf");
    write("fonts/HarbourlineVF.ttf", variable.expect("a demo font"));
    write("empty.css", b"");
    write("importing.css", b"@import \"empty.css\";");
    write("broken.woff2", b"wOF2 and nothing behind it");
    let plain = tidy_lattice_demo::file("fonts/SkerrymarkSans-Regular.ttf");
    write("brand.woff", &woff(plain.expect("a demo font")));
    folder
}

/// A font of the demo as WOFF, its tables stored as they are.
fn woff(sfnt: &[u8]) -> Vec<u8> {
    let be = |at: usize, length: usize| &sfnt[at..at + length];
    let number = |at: usize| u32::from_be_bytes(be(at, 4).try_into().expect("four bytes")) as usize;
    let count = usize::from(u16::from_be_bytes(be(4, 2).try_into().expect("two bytes")));
    let (mut directory, mut data) = (Vec::new(), Vec::new());
    let start = 44 + count * 20;
    for record in (0..count).map(|place| 12 + place * 16) {
        let (offset, length) = (number(record + 8), number(record + 12));
        directory.extend(be(record, 4));
        directory.extend(((start + data.len()) as u32).to_be_bytes());
        directory.extend([(length as u32).to_be_bytes(); 2].concat());
        directory.extend(be(record + 4, 4));
        data.extend(be(offset, length));
        data.resize(data.len().next_multiple_of(4), 0);
    }
    let mut woff = [b"wOFF".as_slice(), be(0, 4)].concat();
    woff.extend(((start + data.len()) as u32).to_be_bytes());
    woff.extend((count as u16).to_be_bytes());
    woff.extend([0, 0]);
    woff.extend((sfnt.len() as u32).to_be_bytes());
    woff.extend([0; 24]);
    [woff, directory, data].concat()
}

/// What is found in the file `name` with this text.
pub fn found(folder: &Path, name: &str, text: &str) -> Vec<Finding> {
    std::fs::write(folder.join(name), text).expect("a file");
    let request = CheckRequest {
        paths: vec![folder.join(name)],
        ..CheckRequest::default()
    };
    let platforms: Vec<_> = platform::platforms().iter().collect();
    let access = Access::of_machine();
    let mut inputs = gather(&request, None, &platforms, access).expect("inputs");
    let named = stack::named_platforms(&[], None, access).expect("platforms");
    let devices: Vec<_> = named.iter().map(|one| one.device(access)).collect();
    texts(&mut inputs, &request, None, &devices, access).expect("texts");
    check(&inputs)
}
