//! Arabic letters in their joined forms, from `data/arabic.txt`.

use kurbo::{Affine, BezPath, Shape as _};

/// The forms of a letter, in the order of [`Letter::forms`].
pub const FORMS: [&str; 4] = ["isol", "init", "medi", "fina"];

/// Marks that are put on letters: the character, whether it stands above, and
/// its strokes from the middle.
pub const MARKS: [(char, bool, &str); 9] = [
    ('\u{64b}', true, "M-60,0 L60,40 M-60,70 L60,110"),
    ('\u{64c}', true, "M-60,40 A40,40 0 1 1 20,40 M20,40 L70,0"),
    ('\u{64d}', false, "M-60,0 L60,40 M-60,-70 L60,-30"),
    ('\u{64e}', true, "M-60,0 L60,40"),
    ('\u{64f}', true, "M-30,60 A30,30 0 1 1 30,60 L-40,0"),
    ('\u{650}', false, "M-60,0 L60,40"),
    ('\u{651}', true, "M-70,70 V20 H0 V70 M0,20 H70 V70"),
    (
        '\u{652}',
        true,
        "M40,40 A40,40 0 1 1 -40,40 A40,40 0 1 1 40,40 Z",
    ),
    ('\u{670}', true, "M0,0 V110"),
];

/// How a letter joins its neighbours.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Joins {
    /// On both sides.
    Both,
    /// What comes before it, at its right.
    Before,
    /// Nothing.
    Nothing,
}

/// One letter.
#[derive(Debug, Clone)]
pub struct Letter {
    /// The character.
    pub character: char,
    /// How it joins.
    pub joins: Joins,
    width: f64,
    body: BezPath,
    signs: BezPath,
}

/// Strokes of one form, and how wide it is.
pub struct Form {
    /// The strokes, from x 0.
    pub strokes: BezPath,
    /// The advance in font units.
    pub advance: f64,
    /// Where marks stand: x, and y above and below.
    pub anchor: (f64, f64, f64),
}

/// Reads the letters.
///
/// # Panics
///
/// Where a line of the data is wrong: the data is part of this crate.
pub fn read() -> Vec<Letter> {
    let lines = include_str!("../../data/arabic.txt").lines();
    let letters = lines.filter(|line| !line.is_empty() && !line.starts_with('#'));
    letters
        .map(|line| letter(line).unwrap_or_else(|| panic!("arabic.txt: {line}")))
        .collect()
}

fn letter(line: &str) -> Option<Letter> {
    let mut fields = line.splitn(5, ' ');
    let character = fields.next()?.chars().next()?;
    let joins = match fields.next()? {
        "d" => Joins::Both,
        "r" => Joins::Before,
        "n" => Joins::Nothing,
        _ => return None,
    };
    let width: f64 = fields.next()?.parse().ok()?;
    let signs = fields.next()?;
    let body = BezPath::from_svg(fields.next()?).ok()?;
    let bounds = body.bounding_box();
    let place = if signs.ends_with('b') {
        Affine::translate((width / 2.0, bounds.y0.min(0.0) - 130.0))
    } else {
        Affine::translate((width / 2.0, bounds.y1 + 130.0))
    };
    let drawn = match signs.get(..1)? {
        "1" => "M0,0 h6",
        "2" => "M-60,0 h6 M60,0 h6",
        "3" => "M-60,0 h6 M60,0 h6 M0,90 h6",
        "h" => "M50,60 C-30,80 -30,10 40,10 M-50,-30 L60,0",
        "m" => "M-90,0 C-40,60 40,-40 90,30",
        _ => "",
    };
    Some(Letter {
        character,
        joins,
        width,
        signs: place * BezPath::from_svg(drawn).ok()?,
        body,
    })
}

impl Letter {
    /// The form number `form` of [`FORMS`], with `side` beside it where it does
    /// not join.
    pub fn form(&self, form: usize, side: f64) -> Form {
        const TAIL: f64 = 120.0;
        let joins_left = matches!(form, 1 | 2);
        let joins_right = matches!(form, 2 | 3);
        let tail = if self.joins == Joins::Both && !joins_left {
            TAIL
        } else {
            0.0
        };
        // What joins runs to the very edge of the advance.
        let edge = |joins: bool| if joins { side / 2.0 } else { side };
        let (left, right) = (edge(joins_left) + tail, edge(joins_right));
        let advance = left + self.width + right;
        let place = Affine::translate((left, 0.0));
        let mut strokes = place * self.body.clone();
        strokes.extend(place * self.signs.clone());
        if tail > 0.0 {
            let start = left - tail;
            let path = format!("M{left},0 C{},0 {start},-30 {start},-150", left - 50.0);
            strokes.extend(BezPath::from_svg(&path).unwrap_or_default());
        }
        let mut level = |from: f64, to: f64| {
            strokes.move_to((from, 0.0));
            strokes.line_to((to, 0.0));
        };
        if joins_left {
            level(0.0, left);
        }
        if joins_right {
            level(left + self.width, advance);
        }
        let bounds = strokes.bounding_box();
        Form {
            advance,
            anchor: (
                left + self.width / 2.0,
                bounds.y1 + 90.0,
                bounds.y0.min(0.0) - 130.0,
            ),
            strokes,
        }
    }

    /// Which forms of [`FORMS`] the letter has.
    pub fn forms(&self) -> &'static [usize] {
        match self.joins {
            Joins::Both => &[0, 1, 2, 3],
            Joins::Before => &[0, 3],
            Joins::Nothing => &[0],
        }
    }
}
