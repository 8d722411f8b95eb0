//! The fonts of the demo.

use super::assemble::font_file;
use super::pen::Hand;
use super::repertoire::Set;
use super::skeleton;

/// A font to draw.
#[derive(Debug, Clone)]
pub struct Design {
    /// Where the file goes in the demo project.
    pub path: &'static str,
    /// The family name.
    pub family: &'static str,
    /// Bold, else regular.
    pub bold: bool,
    /// Whether it is an italic.
    pub italic: bool,
    /// How it is drawn.
    pub hand: Hand,
    /// Which characters it has.
    pub sets: &'static [Set],
    /// Whether it has ligatures, tabular figures and small capitals.
    pub features: bool,
    /// Its Arabic letters.
    pub arabic: Shaping,
    /// Its Devanagari letters.
    pub devanagari: Shaping,
    /// Whether it has an axis of weights.
    pub weights: bool,
    /// Whether it has pictures, drawn by their own table alone.
    pub pictures: bool,
    /// Ascender, descender (positive) and line gap, in font units.
    pub line: (i16, i16, i16),
    /// Whether OS/2 sets USE_TYPO_METRICS.
    pub use_typo_metrics: bool,
    /// PANOSE.
    pub panose: [u8; 10],
}

/// How a font has the letters of a script that must be shaped.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Shaping {
    /// It has none.
    None,
    /// The letters alone: they stand apart, and marks fall where they may.
    Letters,
    /// Letters that join or form conjuncts, and marks in their place.
    Shaped,
}

const SANS: [u8; 10] = [2, 11, 5, 3, 2, 2, 2, 2, 2, 4];
const MONO: [u8; 10] = [2, 11, 5, 9, 2, 2, 2, 2, 2, 4];
const SYMBOLS: [u8; 10] = [5, 0, 0, 0, 0, 0, 0, 0, 0, 0];

/// Latin with Vietnamese, Greek and Cyrillic.
const WIDE: &[Set] = &[
    Set::Ascii,
    Set::Western,
    Set::LatinExtended,
    Set::Vietnamese,
    Set::Greek,
    Set::Cyrillic,
    Set::Currency,
    Set::Marks,
];

/// A plain hand that the designs vary.
const PLAIN: Hand = Hand {
    weight: 76.0,
    contrast: 0.92,
    width: 1.0,
    rhythm: 1.0,
    side: 46.0,
    cap_height: 700.0,
    x_height: 500.0,
    ascender: 740.0,
    descender: 200.0,
    round: true,
    slant: 0.0,
    fixed_advance: None,
};

fn designs() -> Vec<Design> {
    use Set::*;
    let brand = Design {
        path: "fonts/SkerrymarkSans-Regular.ttf",
        family: "Skerrymark Sans",
        bold: false,
        italic: false,
        hand: PLAIN,
        sets: &[Ascii, Western],
        features: true,
        arabic: Shaping::None,
        devanagari: Shaping::None,
        weights: false,
        pictures: false,
        // An ascent of .968 puts the product with 16 px near a half.
        line: (968, 246, 0),
        use_typo_metrics: true,
        panose: SANS,
    };
    vec![
        Design {
            path: "fonts/SkerrymarkSans-Bold.ttf",
            bold: true,
            hand: Hand {
                weight: 128.0,
                side: 38.0,
                width: 1.02,
                contrast: 0.84,
                ..PLAIN
            },
            panose: [2, 11, 8, 3, 2, 2, 2, 2, 2, 4],
            ..brand.clone()
        },
        Design {
            path: "fonts/SkerrymarkSans-Italic.ttf",
            italic: true,
            hand: Hand {
                slant: 0.19,
                width: 0.97,
                ..PLAIN
            },
            panose: [2, 11, 5, 3, 2, 2, 2, 9, 2, 4],
            ..brand.clone()
        },
        Design {
            path: "fonts/TidefallArabic-Regular.ttf",
            family: "Tidefall Arabic",
            sets: &[Ascii],
            features: false,
            arabic: Shaping::Shaped,
            line: (1060, 420, 0),
            use_typo_metrics: false,
            ..brand.clone()
        },
        Design {
            path: "installed/Driftplain-Regular.ttf",
            family: "Driftplain",
            hand: Hand {
                weight: 66.0,
                width: 1.03,
                round: false,
                ..PLAIN
            },
            sets: &[Ascii, Western],
            features: false,
            arabic: Shaping::Letters,
            line: (1000, 380, 0),
            use_typo_metrics: false,
            ..brand.clone()
        },
        Design {
            path: "fonts/SkerrymarkText-Regular.ttf",
            family: "Skerrymark Text",
            hand: Hand {
                weight: 72.0,
                contrast: 0.66,
                width: 0.94,
                side: 48.0,
                x_height: 480.0,
                round: false,
                ..PLAIN
            },
            sets: WIDE,
            features: false,
            line: (1010, 270, 0),
            use_typo_metrics: false,
            ..brand.clone()
        },
        Design {
            path: "fonts/Lanternsign.ttf",
            family: "Lanternsign",
            sets: &[Arrows, Pictograms],
            features: false,
            line: (900, 200, 0),
            use_typo_metrics: false,
            panose: SYMBOLS,
            ..brand.clone()
        },
        Design {
            path: "fonts/FerrygateMono-Regular.ttf",
            family: "Ferrygate Mono",
            hand: Hand {
                weight: 70.0,
                width: 1.08,
                side: 30.0,
                fixed_advance: Some(600.0),
                ..PLAIN
            },
            sets: &[Ascii, Western, LatinExtended, Currency, Arrows],
            features: false,
            line: (950, 250, 60),
            use_typo_metrics: false,
            panose: MONO,
            ..brand.clone()
        },
        Design {
            path: "installed/QuaydeskUI-Regular.ttf",
            family: "Quaydesk UI",
            hand: Hand {
                weight: 82.0,
                contrast: 0.86,
                width: 1.07,
                rhythm: 0.72,
                side: 50.0,
                x_height: 530.0,
                cap_height: 720.0,
                ascender: 760.0,
                round: false,
                ..PLAIN
            },
            sets: WIDE,
            features: false,
            line: (1005, 210, 33),
            use_typo_metrics: false,
            ..brand.clone()
        },
        Design {
            path: "installed/QuaydeskUI-Bold.ttf",
            family: "Quaydesk UI",
            bold: true,
            hand: Hand {
                weight: 126.0,
                contrast: 0.8,
                width: 1.07,
                rhythm: 0.72,
                side: 42.0,
                x_height: 530.0,
                cap_height: 720.0,
                ascender: 760.0,
                round: false,
                ..PLAIN
            },
            sets: WIDE,
            features: false,
            line: (1005, 210, 33),
            use_typo_metrics: false,
            panose: [2, 11, 8, 3, 2, 2, 2, 2, 2, 4],
            ..brand.clone()
        },
        Design {
            path: "installed/QuaydeskUI-Italic.ttf",
            family: "Quaydesk UI",
            italic: true,
            hand: Hand {
                weight: 82.0,
                contrast: 0.86,
                width: 1.07,
                rhythm: 0.72,
                side: 48.0,
                x_height: 530.0,
                cap_height: 720.0,
                ascender: 760.0,
                round: false,
                slant: 0.17,
                ..PLAIN
            },
            sets: WIDE,
            features: false,
            line: (1005, 210, 33),
            use_typo_metrics: false,
            panose: [2, 11, 5, 3, 2, 2, 2, 9, 2, 4],
            ..brand.clone()
        },
        Design {
            path: "installed/Pebbleroom-Regular.ttf",
            family: "Pebbleroom",
            hand: Hand {
                weight: 70.0,
                contrast: 0.9,
                width: 0.9,
                rhythm: 1.16,
                side: 42.0,
                x_height: 515.0,
                cap_height: 690.0,
                ..PLAIN
            },
            sets: &[Ascii, Western, LatinExtended, Cyrillic, Arrows],
            features: false,
            line: (1050, 270, 0),
            use_typo_metrics: false,
            ..brand.clone()
        },
        brand.clone(),
    ]
}

/// The fonts of the company's shop.
fn shop() -> Vec<Design> {
    use Set::*;
    let hand = Hand {
        weight: 70.0,
        contrast: 0.8,
        width: 0.96,
        side: 44.0,
        x_height: 490.0,
        ..PLAIN
    };
    let slice = Design {
        path: "shop/public/assets/mooringlight/mooringlight-latin.ttf",
        family: "Mooringlight",
        bold: false,
        italic: false,
        hand,
        sets: &[Ascii, Western],
        features: false,
        arabic: Shaping::None,
        devanagari: Shaping::None,
        weights: false,
        pictures: false,
        line: (980, 260, 0),
        use_typo_metrics: true,
        panose: SANS,
    };
    vec![
        Design {
            path: "shop/public/assets/mooringlight/mooringlight-latin-ext.ttf",
            sets: &[LatinExtended],
            ..slice.clone()
        },
        Design {
            path: "shop/public/assets/mooringlight/mooringlight-greek.ttf",
            sets: &[Greek],
            ..slice.clone()
        },
        Design {
            path: "shop/public/assets/fonts/HarbourlineVF.ttf",
            family: "Harbourline",
            hand: Hand {
                weight: 74.0,
                width: 0.92,
                x_height: 520.0,
                ..PLAIN
            },
            sets: &[Ascii, Western, LatinExtended],
            weights: true,
            line: (960, 240, 0),
            ..slice.clone()
        },
        Design {
            path: "shop/public/assets/fonts/NaavghatDevanagari-Regular.ttf",
            family: "Naavghat Devanagari",
            sets: &[Ascii],
            devanagari: Shaping::Shaped,
            line: (1060, 380, 0),
            ..slice.clone()
        },
        Design {
            path: "shop/public/assets/fonts/GhatplainDevanagari-Regular.ttf",
            family: "Ghatplain Devanagari",
            hand: Hand {
                weight: 60.0,
                round: false,
                ..hand
            },
            sets: &[Ascii],
            devanagari: Shaping::Letters,
            line: (1060, 380, 0),
            ..slice.clone()
        },
        Design {
            path: "shop/hosted/Lampcolour.ttf",
            family: "Lampcolour",
            sets: &[],
            pictures: true,
            line: (950, 250, 0),
            use_typo_metrics: false,
            panose: SYMBOLS,
            ..slice.clone()
        },
        slice,
    ]
}

/// Draws every font: path in the demo project and bytes, in order of path.
/// The same program draws the same bytes.
pub fn draw_all() -> Vec<(&'static str, Vec<u8>)> {
    let skeletons = skeleton::read();
    let mut files: Vec<(&'static str, Vec<u8>)> = designs()
        .iter()
        .chain(&shop())
        .map(|design| (design.path, font_file(design, &skeletons)))
        .collect();
    files.sort_by_key(|(path, _)| *path);
    files
}
