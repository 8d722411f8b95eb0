//! Web fonts and the installed fonts that stand in for them.

use std::fs;

use tidy_lattice_browser_checks::{Server, fonts};
use tidy_lattice_core::need::Source;
use tidy_lattice_core::stack::{BuildRequest, Built, SampleKind, build};
use tidy_lattice_core::standin::TextSample;

/// File names of a web font and an installed font.
pub type Pair = (&'static str, &'static str);

/// Different designs, different line metrics, wider and narrower.
pub const PAIRS: [Pair; 4] = [
    ("OpenSans-Regular.ttf", "LiberationSans-Regular.ttf"),
    ("Lato-Regular.ttf", "DejaVuSans.ttf"),
    ("NotoSerif-Regular.ttf", "LiberationSerif-Regular.ttf"),
    ("Carlito-Regular.ttf", "NotoSans-Regular.ttf"),
];

/// Twelve paragraphs, some of one line.
pub const PARAGRAPHS: &str = include_str!("paragraphs.txt");

/// The family that the web font has in the pages.
pub const FAMILY: &str = "Checked Web Font";

/// Builds the stack of `pair`, fitted on the paragraphs; the web font is
/// served at `url`.
pub fn stack(server: &Server, pair: Pair, url: &str, sizes: &[f32]) -> Built {
    let (web, local) = (fonts::named(pair.0), fonts::named(pair.1));
    server.put(url, "font/ttf", fs::read(&web).expect("the web font"));
    let sample = TextSample::gather(&[Source {
        name: "paragraphs".to_owned(),
        text: PARAGRAPHS.to_owned(),
    }]);
    build(&BuildRequest {
        web: &fonts::face(&web),
        family: Some(FAMILY.to_owned()),
        url: url.to_owned(),
        display: "swap".to_owned(),
        locals: &[fonts::face(&local)],
        sample: &sample,
        sample_kind: SampleKind::OwnText {
            sources: vec!["paragraphs".to_owned()],
        },
        sizes: sizes.to_vec(),
        generic: None,
        pin: true,
    })
    .expect("a stack")
}
