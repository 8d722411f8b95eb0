//! Web fonts and the installed fonts that stand in for them.

use std::fs;

use tidy_lattice_browser_checks::{Server, fonts};
use tidy_lattice_core::need::Source;
use tidy_lattice_core::stack::{BuildError, BuildRequest, Built, SampleKind, build};
use tidy_lattice_core::standin::TextSample;

/// File names of a web font and an installed font.
pub type Pair<'a> = (&'a str, &'a str);

/// Different designs, different line metrics, wider and narrower.
pub const PAIRS: [Pair<'_>; 6] = [
    // The web font has an old kerning table that browsers drop.
    ("OpenSans-Regular.ttf", "LiberationSans-Regular.ttf"),
    // Ascent and descent make 1 em, with a gap.
    ("Lato-Regular.ttf", "DejaVuSans.ttf"),
    ("NotoSerif-Regular.ttf", "LiberationSerif-Regular.ttf"),
    ("Carlito-Regular.ttf", "NotoSans-Regular.ttf"),
    // A low underline, and an em that is no power of two.
    ("Inter-SemiBold.otf", "Roboto-Bold.ttf"),
    // A small gap.
    ("LiberationSans-Regular.ttf", "Cantarell-Regular.otf"),
];

/// Twelve paragraphs, some of one line.
pub const PARAGRAPHS: &str = include_str!("paragraphs.txt");

/// The family that the web font has in the pages.
pub const FAMILY: &str = "Checked Web Font";

/// Builds the stack of `pair`, fitted on the paragraphs; the web font is
/// served in `folder` under its own name, as browsers keep fonts by address.
pub fn stack(
    server: &Server,
    pair: Pair<'_>,
    folder: &str,
    sizes: &[f32],
) -> Result<Built, BuildError> {
    let (web, local) = (fonts::named(pair.0), fonts::named(pair.1));
    let url = format!("{folder}/{}", pair.0);
    server.put(&url, "font/ttf", fs::read(&web).expect("the web font"));
    let sample = TextSample::gather(&[Source {
        name: "paragraphs".to_owned(),
        text: PARAGRAPHS.to_owned(),
    }]);
    build(&BuildRequest {
        web: &fonts::web_face(&web),
        family: Some(FAMILY.to_owned()),
        url,
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
}

/// Names of `count` pairs of Latin fonts, picked from all that are installed;
/// the same in every run on the same fonts.
pub fn random_pairs(count: usize) -> Vec<(String, String)> {
    let latin: Vec<String> = fonts::installed()
        .iter()
        .filter(|path| fonts::try_face(path).is_ok_and(|face| face.maps('a') && face.maps('z')))
        .filter_map(|path| path.file_name()?.to_str().map(str::to_owned))
        .collect();
    // Steps that have no common factor with the number of fonts reach all.
    let pick = |index: usize, step: usize| latin[index * step % latin.len()].clone();
    (1..=count)
        .map(|index| (pick(index, 7_919), pick(index, 104_729)))
        .collect()
}
