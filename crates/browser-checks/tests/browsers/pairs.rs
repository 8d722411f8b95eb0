//! Web fonts and the installed fonts that stand in for them.

use std::fs;

use tidy_lattice_browser_checks::{Server, fonts};
use tidy_lattice_core::font::Face;
use tidy_lattice_core::need::Need;
use tidy_lattice_core::stack::{
    BuildRequest, Built, LocalFamily, SampleKind, StandInFace, WebSource, build,
};
use tidy_lattice_core::standin::{FitOptions, Slices, TextSample};
use tidy_lattice_core::text::Source;

/// File names of a web font and an installed font.
pub type Pair<'a> = (&'a str, &'a str);

/// Different designs, different line metrics, wider and narrower; upright, bold,
/// italic and both.
pub const PAIRS: [Pair<'_>; 13] = [
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
    ("NotoSerif-Italic.ttf", "LiberationSerif-Italic.ttf"),
    ("Carlito-Bold.ttf", "LiberationSans-Bold.ttf"),
    ("Lato-BoldItalic.ttf", "LiberationSans-BoldItalic.ttf"),
    ("Inter-Regular.otf", "NimbusSans-Regular.otf"),
    ("Roboto-Italic.ttf", "LiberationSans-Italic.ttf"),
    ("OpenSans-Bold.ttf", "DejaVuSans-Bold.ttf"),
    ("Caladea-Bold.ttf", "NimbusRoman-Bold.otf"),
];

/// Twelve paragraphs, some of one line.
pub const PARAGRAPHS: &str = include_str!("paragraphs.txt");

/// A long English text that every Debian has.
const LONG_TEXT: &str = "/usr/share/common-licenses/GPL-3";

/// The family that the web font has in the pages.
pub const FAMILY: &str = "Checked Web Font";

/// What a stack is built for.
#[derive(Clone)]
pub struct Wish<'a> {
    /// The text that widths are fitted on.
    pub text: &'a str,
    /// Sizes in use, in px.
    pub sizes: &'a [f32],
    /// Widths of columns in use, in px.
    pub widths: &'a [f64],
    /// How many slices.
    pub slices: usize,
    /// Whether the web font is pinned.
    pub pin: bool,
}

/// 31 widths of columns, in px.
pub fn widths() -> Vec<f64> {
    (0..31).map(|step| 200.0 + 20.0 * f64::from(step)).collect()
}

/// The paragraphs and a long text, whose lines are as long as the paragraphs are.
pub fn long_text() -> String {
    let long = fs::read_to_string(LONG_TEXT).expect("a licence of Debian's base-files");
    let paragraphs = format!("{long}\n\n{PARAGRAPHS}");
    let clean: Vec<String> = paragraphs
        .split("\n\n")
        .map(|paragraph| paragraph.split_whitespace().collect::<Vec<_>>().join(" "))
        .filter(|paragraph| !paragraph.is_empty())
        .collect();
    clean.join("\n\n")
}

/// Builds the stack of `pair`; the web font is served in `folder` under its own
/// name, as browsers keep fonts by address.
pub fn stack(server: &Server, pair: Pair<'_>, folder: &str, wish: &Wish<'_>) -> Built {
    let (web, local) = (fonts::named(pair.0), fonts::named(pair.1));
    let url = format!("{folder}/{}", pair.0);
    server.put(&url, "font/ttf", fs::read(&web).expect("the web font"));
    let sample = TextSample::of_texts([(wish.text, 1)]);
    let need = Need::gather(&[Source {
        name: "text".to_owned(),
        text: wish.text.to_owned(),
    }]);
    let (web, local) = (fonts::web_face(&web), fonts::face(&local));
    let request = BuildRequest {
        role: "checked".to_owned(),
        family: FAMILY.to_owned(),
        web: vec![WebSource {
            faces: vec![&web],
            url,
            weights: None,
            widths: None,
            slices: Vec::new(),
        }],
        display: "swap".to_owned(),
        signs: Vec::new(),
        scripts: Vec::new(),
        kept: Vec::new(),
        locals: vec![LocalFamily {
            name: local.names().family.clone(),
            faces: vec![&local],
            platforms: Vec::new(),
        }],
        keep_order: true,
        devices: &[],
        sample: &sample,
        sample_kind: SampleKind::OwnText {
            sources: vec!["text".to_owned()],
        },
        set: &[],
        line_height_specified: false,
        need: &need,
        sizes: wish.sizes.to_vec(),
        widths: wish.widths.to_vec(),
        generic: None,
        pin: wish.pin,
        taller: 0.0,
        fit: FitOptions {
            slices: Slices::Exactly(wish.slices),
            ..FitOptions::default()
        },
        comments: false,
    };
    build(&request, None).expect("there is a web font")
}

/// The stand-in of a stack that has one.
pub fn stand_in(built: &Built) -> Option<(&str, &StandInFace)> {
    let stand_in = built.stand_ins.first()?;
    Some((&stand_in.family, stand_in.faces.first()?))
}

/// Declarations that pick the face of `font`, as the rules state it.
pub fn style_of(font: &Face) -> String {
    format!(
        "font-weight: {}; font-style: {}",
        font.weight(),
        font.slope().css()
    )
}

/// Names of `count` pairs of Latin fonts, picked from all that are installed;
/// the same in every run on the same fonts.
pub fn random_pairs(count: usize) -> Vec<(String, String)> {
    // Signs in the places of letters, installed as Type 1 as well, which Firefox takes.
    let signs = ["D050000L.otf", "StandardSymbolsPS.otf"];
    let latin: Vec<String> = fonts::installed()
        .iter()
        .filter(|path| fonts::try_face(path).is_ok_and(|face| face.maps('a') && face.maps('z')))
        .filter_map(|path| path.file_name()?.to_str().map(str::to_owned))
        .filter(|name| !signs.contains(&name.as_str()))
        .collect();
    // Fonts that are installed later change few of the pairs.
    let drawn = |salt: u32| {
        let mut names = latin.clone();
        names.sort_by_key(|name| mixed(salt, name));
        names
    };
    drawn(1).into_iter().zip(drawn(2)).take(count).collect()
}

/// A number that looks random (FNV-1a).
fn mixed(salt: u32, text: &str) -> u32 {
    text.bytes().fold(0x811c_9dc5 ^ salt, |hash, byte| {
        (hash ^ u32::from(byte)).wrapping_mul(0x0100_0193)
    })
}
