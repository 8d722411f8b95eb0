//! Text cut into runs of one face each, as engines do before they shape.

use std::ops::Range;
use std::sync::{Arc, Mutex, PoisonError};

use icu_properties::props::{EmojiPresentation, Script};
use icu_properties::{CodePointSetData, PropertyNamesShort};
use icu_segmenter::GraphemeClusterSegmenter;
use tidy_lattice_glyphs::shaping::{RunShaper, RunStyle, ShapedRun, Shapers};

use super::face::StyleFaces;
use super::scripts::{Scripts, script_run};
use crate::Engine;

/// How much wider Firefox makes every glyph of a bold that it fakes, in em.
const FAKED_BOLD: f64 = 1.0 / 48.0;

/// A stretch of text in one style and direction.
#[derive(Clone)]
pub struct Span<'a, 's> {
    /// Where it stands, in bytes.
    pub range: Range<usize>,
    /// The faces of its style.
    pub faces: &'s StyleFaces<'a>,
    /// The BCP 47 language.
    pub language: Option<Arc<str>>,
    /// Whether it runs from right to left.
    pub rtl: bool,
    /// Whether blanks collapse.
    pub collapses: bool,
    /// What tells it apart from others of the same style, such as an edge between
    /// them that has a width; spans with the same mark are shaped as one.
    pub mark: usize,
}

/// A stretch of text of one face.
pub struct Run {
    /// Where it stands, in bytes.
    pub range: Range<usize>,
    /// The number of the face in its style; nothing where no face has the text.
    pub face: Option<usize>,
    text: Box<str>,
    style: RunStyle,
    shaped: Arc<ShapedRun>,
    shaper: Option<Arc<Mutex<RunShaper>>>,
    /// Px for a font unit.
    scale: f64,
    letter: f64,
    word: f64,
    /// The unit in px that the advance of every cluster is rounded to; 0 for none.
    unit: f64,
    /// What no face has in Firefox.
    missing: Option<Missing>,
}

/// Cuts and shapes text.
#[derive(Clone, Copy)]
pub struct Setter<'s> {
    /// The engine.
    pub engine: Engine,
    /// The shapers of all faces.
    pub shapers: &'s Shapers,
}

/// What the clusters of a run have in common.
#[derive(PartialEq, Clone, Copy)]
struct Kind {
    span: usize,
    face: Option<usize>,
    script: Option<Script>,
    small: bool,
    /// Of Firefox, which shapes words by themselves unless the face minds the spaces
    /// between, whether it is a blank.
    blank: bool,
    /// Of Firefox, which draws boxes of its own, whether no face has it.
    missing: bool,
}

/// How Firefox shows what no face has.
#[derive(Debug, Clone, Copy)]
struct Missing {
    /// How wide the box of a character is at least, in px.
    least: f64,
    /// How wide an emoji is, in px: Firefox brings a font for them, of one em each.
    emoji: f64,
}

/// How wide Firefox makes the box of a character that no font has, in px: two digits of the
/// code in a line, three above U+FFFF (`gfxFontMissingGlyphs.cpp`).
const BOXES: (f64, f64) = (13.0, 17.0);

impl Setter<'_> {
    /// The runs of `text`, in order, where `spans` cover all that is set.
    pub fn runs(&self, text: &str, spans: &[Span<'_, '_>]) -> Vec<Run> {
        let mut runs = Vec::new();
        let mut first = 0;
        while first < spans.len() {
            let mut last = first;
            while last + 1 < spans.len() && self.joins(&spans[last], &spans[last + 1]) {
                last += 1;
            }
            let range = spans[first].range.start..spans[last].range.end;
            self.cut(text, range, &spans[first], first, &mut runs);
            first = last + 1;
        }
        runs
    }

    fn joins<'a>(self, one: &Span<'a, '_>, next: &Span<'a, '_>) -> bool {
        one.range.end == next.range.start
            && std::ptr::eq(one.faces, next.faces)
            && one.mark == next.mark
            && one.rtl == next.rtl
            && one.language == next.language
    }

    fn cut(
        &self,
        text: &str,
        range: Range<usize>,
        span: &Span<'_, '_>,
        number: usize,
        runs: &mut Vec<Run>,
    ) {
        let part = &text[range.clone()];
        let mut scripts = Scripts::of(part);
        let mut start = 0;
        let mut open: Option<(usize, Kind)> = None;
        let mut boxes: Option<(Range<usize>, Option<usize>)> = None;
        for end in GraphemeClusterSegmenter::new().segment_str(part).skip(1) {
            let cluster = &part[start..end];
            let script = scripts.next(cluster);
            let served = span.faces.serve(cluster);
            let missing = self.engine == Engine::Firefox
                && served.is_none()
                && cluster.chars().any(tidy_lattice_glyphs::text::is_shown);
            let primary = missing.then(|| span.faces.primary_number()).flatten();
            let face = served.or(primary).or_else(|| {
                let known = boxes.take().filter(|(run, _)| run.contains(&start));
                let (run, face) = known.unwrap_or_else(|| {
                    let run = script_run(part, start);
                    // Blanks at both ends of a paragraph collapse before it is shaped.
                    let mut shaped = &part[run.clone()];
                    if span.collapses {
                        if range.start + run.end == text.len() {
                            shaped = shaped.trim_end();
                        }
                        if range.start + run.start == 0 {
                            shaped = shaped.trim_start();
                        }
                    }
                    let face = span.faces.boxes(shaped);
                    (run, face)
                });
                boxes = Some((run, face));
                face
            });
            // What nobody has, and what does not show, goes with what is before.
            let face = match (face, &open) {
                (None, Some((_, kind)))
                    if !cluster.chars().any(tidy_lattice_glyphs::text::is_shown) =>
                {
                    kind.face
                }
                (face, _) => face,
            };
            let small = face.is_some_and(|face| span.faces.fakes_capitals(face))
                && cluster.chars().any(char::is_lowercase);
            let kind = Kind {
                span: number,
                face,
                script,
                small,
                blank: self.engine == Engine::Firefox
                    && cluster == " "
                    && !face.is_some_and(|face| span.faces.minds_spaces(face)),
                missing,
            };
            if let Some((from, known)) = open
                && known != kind
            {
                let range = range.start + from..range.start + start;
                runs.push(self.run(text, range, span, known));
                open = Some((start, kind));
            } else if open.is_none() {
                open = Some((start, kind));
            }
            start = end;
        }
        if let Some((from, kind)) = open {
            let range = range.start + from..range.end;
            runs.push(self.run(text, range, span, kind));
        }
    }

    fn run(&self, text: &str, range: Range<usize>, span: &Span<'_, '_>, kind: Kind) -> Run {
        let names = PropertyNamesShort::<Script>::new();
        let code = kind.script.and_then(|script| names.get(script));
        let style = RunStyle {
            script: code.and_then(|code| code.as_bytes().try_into().ok()),
            rtl: span.rtl,
            language: span.language.clone(),
            features: span.faces.features().clone(),
            slice: 0,
        };
        let mut shown: Box<str> = text[range.clone()].into();
        let asked = span.faces.style();
        let mut size = asked.size;
        if kind.small {
            size = self.engine.faked_capitals(size);
            shown = capitals(&shown);
        }
        let typeface = kind.face.and_then(|face| span.faces.typeface(face));
        let missing = kind.missing.then(|| Missing {
            least: span.faces.average_in_firefox(self.shapers),
            emoji: f64::from(size),
        });
        let (shaper, shaped, scale) = match typeface.filter(|_| !kind.missing) {
            Some(typeface) => {
                let shaper = self.shapers.of(&typeface.face);
                let shaped = shaper
                    .lock()
                    .unwrap_or_else(PoisonError::into_inner)
                    .shape(&shown, &style);
                let px = self.engine.glyph_size(size, &typeface.adjusted);
                let units = f64::from(typeface.face.units_per_em());
                (Some(shaper), shaped, px / units)
            }
            None => (None, Arc::new(ShapedRun::default()), 0.0),
        };
        let firefox = self.engine == Engine::Firefox;
        let unit = if firefox { self.engine.unit() } else { 0.0 };
        let spacing = |px: f32| {
            if firefox {
                (f64::from(px) / unit).round() * unit
            } else {
                f64::from(px)
            }
        };
        // A bold that Firefox fakes is wider; that of the others is not.
        let fakes = kind.face.is_some_and(|face| span.faces.fakes_bold(face));
        let bolder = if firefox && fakes {
            f64::from(size) * FAKED_BOLD
        } else {
            0.0
        };
        Run {
            range,
            face: kind.face,
            text: shown,
            style,
            shaped,
            shaper,
            scale,
            letter: spacing(asked.letter_spacing) + bolder,
            word: spacing(asked.word_spacing),
            unit,
            missing,
        }
    }
}

impl Run {
    /// How far the pen is before byte `at` of the text, in px, were nothing cut.
    pub fn pen(&self, at: usize) -> f64 {
        let at = at.clamp(self.range.start, self.range.end) - self.range.start;
        if let Some(missing) = self.missing {
            return self.boxes(0, at, missing);
        }
        if self.unit > 0.0 {
            return self.rounded(0, at) + self.spacing(0, at);
        }
        self.shaped.pen(at) * self.scale + self.spacing(0, at)
    }

    /// The width in px of what of `range` is in the run, set by itself.
    pub fn width(&self, range: Range<usize>) -> f64 {
        let start = range.start.max(self.range.start);
        let end = range.end.min(self.range.end);
        if let Some(missing) = self.missing.filter(|_| start < end) {
            return self.boxes(start - self.range.start, end - self.range.start, missing);
        }
        let Some(shaper) = self.shaper.as_ref().filter(|_| start < end) else {
            return 0.0;
        };
        let (start, end) = (start - self.range.start, end - self.range.start);
        if self.unit > 0.0 {
            return self.rounded(start, end) + self.spacing(start, end);
        }
        let mut shaper = shaper.lock().unwrap_or_else(PoisonError::into_inner);
        let units = shaper.part(&self.text, &self.shaped, (start, end), &self.style);
        units * self.scale + self.spacing(start, end)
    }

    /// The width in px of `part` of the run in a line of which the run has `line`: only
    /// at the ends of the line the text is cut, elsewhere letters stay kerned with what
    /// stands beside them, in another element too.
    pub fn width_in_line(&self, part: Range<usize>, line: &Range<usize>) -> f64 {
        let inside = |at: usize| at.clamp(self.range.start, self.range.end);
        let (start, end) = (inside(line.start), inside(line.end));
        let (from, to) = (part.start.clamp(start, end), part.end.clamp(start, end));
        if from >= to {
            return 0.0;
        }
        // From the start of the line to `at`.
        let up_to = |at: usize| {
            if at == start {
                0.0
            } else if at == end {
                self.width(start..end)
            } else {
                let last = self.range.end;
                self.width(start..last) - (self.pen(last) - self.pen(at))
            }
        };
        up_to(to) - up_to(from)
    }

    /// The width of the boxes and emoji of a part.
    fn boxes(&self, start: usize, end: usize, missing: Missing) -> f64 {
        let pictures = CodePointSetData::new::<EmojiPresentation>();
        let is_emoji = |c: char| c == '\u{FE0F}' || pictures.contains(c);
        let text = &self.text[start..end];
        let mut px = 0.0;
        let mut from = 0;
        for to in GraphemeClusterSegmenter::new().segment_str(text).skip(1) {
            let cluster = &text[from..to];
            if cluster.chars().any(is_emoji) {
                px += missing.emoji + self.letter;
            } else {
                let shown = cluster.chars();
                let shown = shown.filter(|c| tidy_lattice_glyphs::text::is_shown(*c));
                px += shown
                    .map(|c| {
                        let width = if c > '\u{FFFF}' { BOXES.1 } else { BOXES.0 };
                        missing.least.max(width) + self.letter
                    })
                    .sum::<f64>();
            }
            from = to;
        }
        px
    }

    /// The width of the clusters of a part, each rounded by itself.
    fn rounded(&self, start: usize, end: usize) -> f64 {
        let clusters = self.shaped.clusters();
        let byte = |place: usize| {
            clusters
                .get(place)
                .map_or(self.text.len(), |at| *at as usize)
        };
        let first = clusters.partition_point(|at| (*at as usize) < start);
        let mut px = 0.0;
        for place in first..clusters.len() {
            if byte(place) >= end {
                break;
            }
            let units = self.shaped.pen(byte(place + 1)) - self.shaped.pen(byte(place));
            px += (units * self.scale / self.unit).round() * self.unit;
        }
        px
    }

    fn spacing(&self, start: usize, end: usize) -> f64 {
        let mut px = 0.0;
        if self.letter != 0.0 {
            let clusters = self.shaped.clusters().iter();
            let inside = clusters.filter(|at| (start..end).contains(&(**at as usize)));
            px += inside.count() as f64 * self.letter;
        }
        if self.word != 0.0 {
            let spaces = self.text[start..end].chars();
            px += spaces.filter(|c| matches!(c, ' ' | '\u{a0}')).count() as f64 * self.word;
        }
        px
    }
}

/// Large letters, where they are as many bytes as the small ones.
fn capitals(text: &str) -> Box<str> {
    text.chars()
        .map(|small| {
            let mut large = small.to_uppercase();
            match (large.next(), large.next()) {
                (Some(large), None) if large.len_utf8() == small.len_utf8() => large,
                _ => small,
            }
        })
        .collect()
}
