//! Devanagari letters, their half forms and marks, from `data/devanagari.txt`.

use kurbo::{Affine, BezPath};

/// How high the headline is, in font units.
pub const HEADLINE: f64 = 600.0;
/// How much of its width the half form of a letter without a stem keeps.
const HALF: f64 = 0.66;
/// Space between the strokes of a letter and its neighbour's.
const SIDE: f64 = 70.0;
/// Ra before a consonant: a hook above the letter that follows.
pub const REPH: &str = "M-60,0 C-80,120 60,150 70,60";

/// What a letter is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Kind {
    /// A consonant with a stem at its right.
    Stemmed,
    /// A consonant without one.
    Stemless,
    /// Another letter under the headline.
    Vowel,
    /// Without a headline.
    Figure,
    /// A mark above.
    Above,
    /// A mark below.
    Below,
}

/// One letter or mark.
#[derive(Debug, Clone)]
pub struct Letter {
    /// The character.
    pub character: char,
    /// What it is.
    pub kind: Kind,
    width: f64,
    strokes: BezPath,
}

/// Strokes of a form, how wide it is, and where marks stand on it.
pub struct Form {
    /// The strokes, from x 0.
    pub strokes: BezPath,
    /// The advance in font units.
    pub advance: f64,
    /// x of marks, y above and below.
    pub anchor: (f64, f64, f64),
}

/// Reads the letters.
///
/// # Panics
///
/// Where a line of the data is wrong: the data is part of this crate.
pub fn read() -> Vec<Letter> {
    let lines = include_str!("../../data/devanagari.txt").lines();
    let letters = lines.filter(|line| !line.is_empty() && !line.starts_with('#'));
    letters
        .map(|line| letter(line).unwrap_or_else(|| panic!("devanagari.txt: {line}")))
        .collect()
}

fn letter(line: &str) -> Option<Letter> {
    let mut fields = line.splitn(4, ' ');
    Some(Letter {
        character: fields.next()?.chars().next()?,
        kind: match fields.next()? {
            "s" => Kind::Stemmed,
            "n" => Kind::Stemless,
            "v" => Kind::Vowel,
            "f" => Kind::Figure,
            "a" => Kind::Above,
            "b" => Kind::Below,
            _ => return None,
        },
        width: fields.next()?.parse().ok()?,
        strokes: BezPath::from_svg(fields.next()?).ok()?,
    })
}

impl Letter {
    /// Whether it is a mark without a place of its own.
    pub fn is_mark(&self) -> bool {
        matches!(self.kind, Kind::Above | Kind::Below)
    }

    /// The strokes of a mark, as they are.
    pub fn mark(&self) -> &BezPath {
        &self.strokes
    }

    /// The letter as it stands alone.
    pub fn whole(&self) -> Form {
        let mut strokes = self.strokes.clone();
        if self.kind == Kind::Stemmed {
            line(&mut strokes, (self.width, HEADLINE), (self.width, 0.0));
        }
        placed(strokes, self.width, self.kind != Kind::Figure)
    }

    /// Its half form; `None` where it is no consonant.
    pub fn half(&self) -> Option<Form> {
        let factor = match self.kind {
            Kind::Stemmed => 1.0,
            Kind::Stemless => HALF,
            _ => return None,
        };
        let strokes = Affine::scale_non_uniform(factor, 1.0) * self.strokes.clone();
        // Without its stem, the next letter may come closer.
        let width = self.width * factor - if factor < 1.0 { 0.0 } else { SIDE };
        Some(placed(strokes, width, true))
    }
}

/// Sets strokes between their sides, and draws the headline from edge to edge, so that
/// the headlines of neighbours meet.
fn placed(strokes: BezPath, width: f64, headline: bool) -> Form {
    let advance = width + 2.0 * SIDE;
    let mut strokes = Affine::translate((SIDE, 0.0)) * strokes;
    if headline {
        line(&mut strokes, (0.0, HEADLINE), (advance, HEADLINE));
    }
    Form {
        strokes,
        advance,
        anchor: (advance / 2.0, HEADLINE + 60.0, 0.0),
    }
}

fn line(strokes: &mut BezPath, from: (f64, f64), to: (f64, f64)) {
    strokes.move_to(from);
    strokes.line_to(to);
}
