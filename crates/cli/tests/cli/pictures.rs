//! Pictures of the demo, as pixels: each is held against `pictures/`, where it lies as the mean
//! grey of each part of it. `TIDY_LATTICE_WRITE=1` writes these anew.

use std::fmt::Write as _;
use std::path::{Path, PathBuf};

use rstest::rstest;

use crate::workshop::Workshop;

/// A part is so wide and high, in px: a letter of running text.
const PART: usize = 16;

/// How far the grey of a part may be off, of 255: rounding of edges.
const NEAR: u8 = 4;

/// The size of a picture and the mean grey of its parts, row by row.
#[derive(Debug, PartialEq)]
struct Parts {
    size: (usize, usize),
    rows: Vec<Vec<u8>>,
}

fn parts(path: &Path) -> Parts {
    let file = std::io::BufReader::new(std::fs::File::open(path).expect("a picture"));
    let mut decoder = png::Decoder::new(file);
    decoder.set_transformations(png::Transformations::normalize_to_color8());
    let mut reader = decoder.read_info().expect("PNG");
    let mut pixels = vec![0; reader.output_buffer_size().expect("a size")];
    let info = reader.next_frame(&mut pixels).expect("pixels");
    let channels = info.color_type.samples();
    let (width, height) = (info.width as usize, info.height as usize);
    let grey = |x: usize, y: usize| {
        let at = (y * width + x) * channels;
        let colours = channels.min(3);
        let sum: usize = pixels[at..at + colours]
            .iter()
            .map(|c| usize::from(*c))
            .sum();
        sum / colours
    };
    let mean = |column: usize, row: usize| {
        let across = column * PART..((column + 1) * PART).min(width);
        let down = row * PART..((row + 1) * PART).min(height);
        let count = across.len() * down.len();
        let sum: usize = down
            .flat_map(|y| across.clone().map(move |x| (x, y)))
            .map(|(x, y)| grey(x, y))
            .sum();
        (sum / count) as u8
    };
    let row = |row: usize| {
        (0..width.div_ceil(PART))
            .map(|column| mean(column, row))
            .collect()
    };
    Parts {
        size: (width, height),
        rows: (0..height.div_ceil(PART)).map(row).collect(),
    }
}

fn written(parts: &Parts) -> String {
    let mut text = format!("{} {}\n", parts.size.0, parts.size.1);
    for row in &parts.rows {
        for grey in row {
            let _ = write!(text, "{grey:02x}");
        }
        text.push('\n');
    }
    text
}

fn read(text: &str) -> Parts {
    let mut lines = text.lines();
    let size = lines
        .next()
        .and_then(|line| line.split_once(' '))
        .expect("a size");
    let number = |text: &str| text.parse().expect("a number");
    let row = |line: &str| {
        let pairs = line.as_bytes().chunks(2);
        pairs
            .map(|pair| {
                let pair = std::str::from_utf8(pair).expect("digits");
                u8::from_str_radix(pair, 16).expect("two hex digits")
            })
            .collect()
    };
    Parts {
        size: (number(size.0), number(size.1)),
        rows: lines.map(row).collect(),
    }
}

#[rstest]
#[case::describe("describe fonts/SkerrymarkSans-Regular.ttf")]
#[case::compare("compare fonts/SkerrymarkSans-Regular.ttf installed/QuaydeskUI-Regular.ttf")]
#[case::rank("rank fonts/SkerrymarkSans-Regular.ttf --platform platforms/quaykiosk.toml")]
#[case::build("build --web fonts/SkerrymarkSans-Regular.ttf --platform platforms/quaykiosk.toml")]
#[case::shift("shift site/index.html --platform platforms/quaykiosk.toml --viewport phone")]
fn a_picture_is_drawn_as_before(#[case] arguments: &str) {
    let workshop = Workshop::new();
    for (path, bytes) in tidy_lattice_demo::files() {
        let file = workshop.path(&path);
        std::fs::create_dir_all(file.parent().expect("a folder")).expect("a folder");
        std::fs::write(file, bytes).expect("a file");
    }
    let run = workshop.run(&format!("{arguments} --picture picture.png"));
    assert!(run.status < 2, "{}", run.err);
    let drawn = parts(&workshop.path("picture.png"));
    // Something is drawn: paper, ink, and what lies between.
    let greys: std::collections::BTreeSet<u8> = drawn.rows.iter().flatten().copied().collect();
    assert!(greys.len() > 40, "{} greys", greys.len());
    let command = arguments.split(' ').next().expect("a command");
    let golden = PathBuf::from(env!("CARGO_MANIFEST_DIR")).join("tests/cli/pictures");
    let golden = golden.join(format!("{command}.txt"));
    if std::env::var_os("TIDY_LATTICE_WRITE").is_some() {
        std::fs::write(&golden, written(&drawn)).expect("a golden");
    }
    let golden = read(&std::fs::read_to_string(&golden).expect("a golden"));
    assert_eq!(drawn.size, golden.size);
    let mut off = Vec::new();
    for (number, (row, known)) in drawn.rows.iter().zip(&golden.rows).enumerate() {
        for (column, (grey, known)) in row.iter().zip(known).enumerate() {
            if grey.abs_diff(*known) > NEAR {
                off.push((column * PART, number * PART, *grey, *known));
            }
        }
    }
    assert!(
        off.is_empty(),
        "{} parts differ: {:?}",
        off.len(),
        &off[..off.len().min(9)]
    );
}

#[test]
fn what_is_written_is_read_again() {
    let parts = Parts {
        size: (40, 17),
        rows: vec![vec![0, 128, 255], vec![7, 15, 16]],
    };
    assert_eq!(read(&written(&parts)), parts);
}
