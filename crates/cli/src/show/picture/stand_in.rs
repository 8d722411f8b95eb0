//! One paragraph in the web font, with the plain fallback laid over it and with
//! the stand-in laid over it; lines that end elsewhere are marked.

use tidy_lattice_core::font::Face;
use tidy_lattice_core::shaping::ShapeSettings;
use tidy_lattice_core::stack::{Built, StandIn, StandInFace};
use tidy_lattice_core::standin::{SetLine, Slice, TextSample, set_paragraph};

use super::canvas::{Canvas, FACES, INK, RULE, SOFT, WIDTH};
use super::lettering::{LabelFaces, Labels, Lettering};

const MARGIN: f64 = 48.0;
const GUTTER: f64 = 64.0;
const COLUMN: f64 = (WIDTH - 2.0 * MARGIN - GUTTER) / 2.0;
/// The size of the text, in px.
const SIZE: f64 = 21.0;
/// How many paragraphs are looked through for one that shows the difference.
const LOOKED_AT: usize = 60;

/// What is drawn.
pub struct StandInPicture<'a> {
    /// The stack.
    pub built: &'a Built,
    /// The stand-in.
    pub stand_in: &'a StandIn,
    /// Its face.
    pub made: &'a StandInFace,
    /// The web font.
    pub web: &'a Face,
    /// The local face.
    pub local: &'a Face,
    /// The text.
    pub sample: &'a TextSample,
}

/// Sets a paragraph, by its number, in a face and its slices.
type Setter<'a> = dyn Fn(&Face, &[Slice], usize) -> Vec<SetLine> + 'a;

/// Draws it.
pub fn stand_in(picture: &StandInPicture<'_>) -> String {
    let mut canvas = Canvas::new();
    let Some(label_faces) = LabelFaces::open() else {
        return canvas.svg();
    };
    let mut labels = label_faces.labels();
    let measure = COLUMN / SIZE;
    let set = |face: &Face, slices: &[Slice], paragraph: usize| {
        set_paragraph(picture.sample, paragraph, face, slices, measure)
    };
    let slices = &picture.made.width.slices;
    let paragraph = telling(picture, &set);
    let web = set(picture.web, &[], paragraph);
    let title = format!(
        "{} and {}",
        picture.made.face.names.label(),
        picture.stand_in.family
    );
    labels.title(&mut canvas, &title, (MARGIN, 64.0), 26.0, INK);
    let verdict = format!(
        "{}: blue is {}, red what shows before it arrives",
        picture.built.role, picture.built.web.family
    );
    labels.label(&mut canvas, &verdict, (MARGIN, 92.0), 14.0, SOFT);
    let plain = set(picture.local, &[], paragraph);
    let fitted = set(picture.local, slices, paragraph);
    let breaks = |breaks: Option<tidy_lattice_core::standin::BreakCount>| {
        breaks.map_or(String::new(), |breaks| {
            format!(", {:.1} % of paragraphs wrap differently", breaks.share())
        })
    };
    let width = &picture.made.width;
    let columns = [
        (
            format!(
                "as it is: words {:.1} % off{}",
                width.before.word_mean,
                breaks(width.breaks_before)
            ),
            plain,
        ),
        (
            format!(
                "as stand-in: words {:.1} % off{}",
                width.after.word_mean,
                breaks(width.breaks_after)
            ),
            fitted,
        ),
    ];
    for (index, (caption, lines)) in columns.iter().enumerate() {
        let x = MARGIN + index as f64 * (COLUMN + GUTTER);
        labels.label(&mut canvas, caption, (x, 132.0), 14.0, INK);
        column(&mut canvas, &mut labels, picture, &web, lines, (x, 150.0));
    }
    canvas.svg()
}

/// The first paragraph of three to nine lines, in characters that both faces have,
/// of which the stand-in saves most lines.
fn telling(picture: &StandInPicture<'_>, set: &Setter<'_>) -> usize {
    let count = picture.sample.paragraphs().len().min(LOOKED_AT);
    let score = |paragraph: usize| {
        let web = set(picture.web, &[], paragraph);
        let kept = |slices: &[Slice]| {
            let other = set(picture.local, slices, paragraph);
            let both = web.iter().zip(&other);
            both.filter(|(web, other)| web.text == other.text).count() as i64
        };
        let kept_all = kept(&picture.made.width.slices) == web.len() as i64;
        let shown = web.iter().all(|line| {
            let mut shown = line.text.chars().filter(|c| !c.is_whitespace());
            shown.all(|c| picture.web.maps(c) && picture.local.maps(c))
        });
        let saved = kept(&picture.made.width.slices) - kept(&[]);
        (shown && (3..=9).contains(&web.len()), kept_all, saved)
    };
    (0..count)
        .max_by_key(|paragraph| (score(*paragraph), std::cmp::Reverse(*paragraph)))
        .unwrap_or(0)
}

fn column(
    canvas: &mut Canvas,
    labels: &mut Labels<'_>,
    picture: &StandInPicture<'_>,
    web: &[SetLine],
    other: &[SetLine],
    (x, top): (f64, f64),
) {
    let step = SIZE * 1.75;
    canvas.rule(x, top, COLUMN, RULE, false);
    let mut in_web = Lettering::new(picture.web);
    let mut in_local = Lettering::new(picture.local);
    for row in 0..web.len().max(other.len()) {
        let baseline = top + step * (row as f64 + 0.8);
        if let Some(line) = web.get(row) {
            set(canvas, &mut in_web, line, (x, baseline), FACES[0]);
        }
        if let Some(line) = other.get(row) {
            let end = set(canvas, &mut in_local, line, (x, baseline), FACES[1]);
            let same = web.get(row).is_some_and(|web| web.text == line.text);
            if !same {
                canvas.rule(x, baseline + 6.0, (end - x).max(1.0), FACES[1], true);
            }
        }
    }
    let lines = web.len().max(other.len()) as f64;
    let broken = web.iter().enumerate();
    let broken = broken
        .filter(|(row, line)| other.get(*row).is_none_or(|other| other.text != line.text))
        .count();
    let verdict = match broken {
        0 => format!("all {} lines end where they did", web.len()),
        broken => format!("{broken} of {} lines end elsewhere", web.len()),
    };
    let bottom = top + step * lines + 24.0;
    labels.label(
        canvas,
        &verdict,
        (x, bottom),
        14.0,
        if broken == 0 { SOFT } else { FACES[1] },
    );
    canvas.reach(bottom + 40.0);
}

/// Sets a line and returns where it ends.
fn set(
    canvas: &mut Canvas,
    lettering: &mut Lettering<'_>,
    line: &SetLine,
    (x, baseline): (f64, f64),
    colour: &str,
) -> f64 {
    let mut pen = x;
    for (run, factor) in &line.runs {
        let plain = ShapeSettings::default();
        pen += lettering.set_faint(canvas, run, (pen, baseline), SIZE * factor, colour, plain);
    }
    pen
}
