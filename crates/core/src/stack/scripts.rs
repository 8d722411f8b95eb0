//! How large a font for another script is set beside the web font: so that what
//! the eye compares is equally high.
//!
//! - Where the font has Latin letters of its own, its designer has already
//!   balanced them with the script, so these are brought to the web font's:
//!   the x-height for alphabets with small letters, the cap height for ideographs,
//!   kana and Hangul, which stand as high as the capitals and more.
//! - Else a letter of the script itself is measured: see [`LETTERS`].

use kurbo::Shape as _;
use tidy_lattice_glyphs::font::{Face, Outlines};

use crate::describe::LetterShape;

/// What a letter is compared with.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Beside {
    /// The x-height.
    XHeight,
    /// The cap height.
    CapHeight,
    /// Half way between the two.
    Between,
}

/// Scripts by their Unicode names: a letter of plain height, and what it is
/// brought to.
const LETTERS: [(&str, char, Beside); 22] = [
    ("Greek", 'α', Beside::XHeight),
    ("Cyrillic", 'н', Beside::XHeight),
    ("Armenian", 'ո', Beside::XHeight),
    ("Georgian", 'ა', Beside::XHeight),
    ("Hebrew", 'ה', Beside::Between),
    ("Arabic", 'ا', Beside::CapHeight),
    ("Devanagari", 'क', Beside::Between),
    ("Bengali", 'ক', Beside::Between),
    ("Gurmukhi", 'ਕ', Beside::Between),
    ("Gujarati", 'ક', Beside::Between),
    ("Tamil", 'க', Beside::Between),
    ("Telugu", 'క', Beside::Between),
    ("Kannada", 'ಕ', Beside::Between),
    ("Malayalam", 'ക', Beside::Between),
    ("Sinhala", 'ක', Beside::Between),
    ("Thai", 'ก', Beside::XHeight),
    ("Lao", 'ກ', Beside::XHeight),
    ("Khmer", 'ក', Beside::XHeight),
    ("Han", '国', Beside::CapHeight),
    ("Hiragana", 'あ', Beside::CapHeight),
    ("Katakana", 'ア', Beside::CapHeight),
    ("Hangul", '한', Beside::CapHeight),
];

/// Ideographs fill their square, and stand a quarter higher than capitals where
/// both look equally large.
const IDEOGRAPHS: f64 = 1.25;

/// A font is never resized beyond these, in %.
const SIZES: std::ops::RangeInclusive<f64> = 70.0..=140.0;

/// The `size-adjust` in % for `font` beside `web` in `script`, and by what rule.
pub fn scale(web: &LetterShape, font: &Face, script: &str) -> (f64, String) {
    let known = LETTERS.iter().find(|(name, ..)| *name == script);
    let square = matches!(known, Some((_, _, Beside::CapHeight))) && script != "Arabic";
    let shape = LetterShape::of(font);
    let found = if square && font.maps('H') {
        ratio(web.cap_height, shape.cap_height).map(|size| (size, "cap height"))
    } else if !square && font.maps('x') {
        ratio(web.x_height, shape.x_height).map(|size| (size, "x-height"))
    } else {
        None
    };
    if let Some((size, what)) = found {
        return (
            within(size),
            format!("its own Latin {what} is brought to the web font's"),
        );
    }
    let by_letter = known.and_then(|(_, letter, beside)| {
        let height = ink_height(font, *letter)?;
        let goal = match beside {
            Beside::XHeight => web.x_height?,
            Beside::CapHeight => web.cap_height? * if square { IDEOGRAPHS } else { 1.0 },
            Beside::Between => (web.x_height? + web.cap_height?) / 2.0,
        };
        let what = match beside {
            Beside::XHeight => "the x-height",
            Beside::CapHeight if square => "1.25 times the cap height",
            Beside::CapHeight => "the cap height",
            Beside::Between => "half way between x-height and cap height",
        };
        Some((
            within(goal / height * 100.0),
            format!("its {letter} is brought to {what}"),
        ))
    });
    by_letter.unwrap_or_else(|| {
        (
            100.0,
            "nothing to compare, so it is left as it is".to_owned(),
        )
    })
}

fn ratio(web: Option<f64>, value: Option<f64>) -> Option<f64> {
    Some(web? / value.filter(|value| *value > 0.0)? * 100.0)
}

fn within(size: f64) -> f64 {
    (size.clamp(*SIZES.start(), *SIZES.end()) * 100.0).round() / 100.0
}

/// The height of a letter's ink above the baseline, in em.
fn ink_height(font: &Face, letter: char) -> Option<f64> {
    let glyph = font.font()?.charmap().map_unicode(letter)?;
    let path = Outlines::of(font)?.glyph(glyph.to_u32());
    let top = path.bounding_box().y1;
    (top > 0.0).then(|| top / f64::from(font.units_per_em()))
}
