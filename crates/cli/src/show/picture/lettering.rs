//! Text as outlines.

use kurbo::{BezPath, Shape as _};
use tidy_lattice_core::font::{Body, Face, FacePick, FontFile, Limits, Outlines};
use tidy_lattice_core::shaping::{ShapeSettings, Shaper};

use super::canvas::{Canvas, to_px};

/// The face that labels are set in: the widest of the demo's.
const LABELS: &str = "fonts/SkerrymarkText-Regular.ttf";
/// The face of titles.
const TITLES: &str = "fonts/SkerrymarkSans-Bold.ttf";

/// A face, ready to set text in.
pub struct Lettering<'a> {
    face: &'a Face,
    shaper: Shaper<'a>,
    outlines: Option<Outlines>,
}

impl<'a> Lettering<'a> {
    /// Lettering in `face`; a card has no outlines, so its letters are boxes.
    pub fn new(face: &'a Face) -> Self {
        Lettering {
            face,
            shaper: Shaper::new(face),
            outlines: Outlines::of(face),
        }
    }

    /// Whether the face has all characters of `text`.
    pub fn has(&self, text: &str) -> bool {
        let shown = |c: char| tidy_lattice_core::text::is_shown(c);
        text.chars().all(|c| !shown(c) || self.face.maps(c))
    }

    /// The width of `text` at `size` px.
    pub fn width(&mut self, text: &str, size: f64, settings: ShapeSettings<'_>) -> f64 {
        match self.face.body() {
            Body::Font(_) => {
                let glyphs = self.shaper.glyphs(text, settings);
                let units: i64 = glyphs.iter().map(|glyph| i64::from(glyph.advance)).sum();
                units as f64 * self.scale(size)
            }
            Body::Card(_) => self.shaper.width(text) * size,
        }
    }

    fn scale(&self, size: f64) -> f64 {
        size / f64::from(self.face.units_per_em())
    }

    /// Sets `text` on `canvas` at `size` px from `x` on the baseline `y`, in
    /// `fill`, and returns its width.
    pub fn set(
        &mut self,
        canvas: &mut Canvas,
        text: &str,
        (x, y): (f64, f64),
        size: f64,
        fill: &str,
        settings: ShapeSettings<'_>,
    ) -> f64 {
        self.set_in(canvas, text, (x, y), size, (fill, 1.0), settings)
    }

    /// As [`Lettering::set`], so that what lies under it shines through.
    pub fn set_faint(
        &mut self,
        canvas: &mut Canvas,
        text: &str,
        at: (f64, f64),
        size: f64,
        fill: &str,
        settings: ShapeSettings<'_>,
    ) -> f64 {
        self.set_in(canvas, text, at, size, (fill, 0.6), settings)
    }

    fn set_in(
        &mut self,
        canvas: &mut Canvas,
        text: &str,
        (x, y): (f64, f64),
        size: f64,
        (fill, opacity): (&str, f64),
        settings: ShapeSettings<'_>,
    ) -> f64 {
        if self.face.is_card() {
            return self.set_boxes(canvas, text, (x, y), size, fill);
        }
        let scale = self.scale(size);
        let mut pen = x;
        let mut path = BezPath::new();
        for glyph in self.shaper.glyphs(text, settings) {
            let at = (
                pen + f64::from(glyph.offset.0) * scale,
                y - f64::from(glyph.offset.1) * scale,
            );
            if let Some(outlines) = &self.outlines {
                path.extend(to_px(at.0, at.1, scale) * outlines.glyph(glyph.glyph));
            }
            pen += f64::from(glyph.advance) * scale;
        }
        canvas.path(&path, fill, opacity);
        canvas.reach(y + size * 0.3);
        pen - x
    }

    /// Frames as wide as the letters and as high as the card says.
    fn set_boxes(
        &mut self,
        canvas: &mut Canvas,
        text: &str,
        (x, y): (f64, f64),
        size: f64,
        fill: &str,
    ) -> f64 {
        let em = f64::from(self.face.units_per_em());
        let Body::Card(card) = self.face.body() else {
            return 0.0;
        };
        let card = card.card();
        let x_height = card.x_height.unwrap_or(em / 2.0) / em * size;
        let cap_height = card.cap_height.unwrap_or(em * 0.7) / em * size;
        let mut path = BezPath::new();
        let (mut before, mut start) = (String::new(), 0.0);
        for letter in text.chars() {
            before.push(letter);
            let end = self.shaper.width(&before) * size;
            let tall = letter.is_uppercase() || letter.is_numeric() || "bdfhklt".contains(letter);
            let height = if tall { cap_height } else { x_height };
            if !letter.is_whitespace() && end - start > 2.0 {
                let letter_box = kurbo::Rect::new(x + start + 1.0, y - height, x + end - 1.0, y);
                path.extend(letter_box.path_elements(0.1));
                // The other way round, so that only a frame is filled.
                let hole = letter_box.inset(-1.5);
                path.extend(hole.to_path(0.1).reverse_subpaths());
            }
            start = end;
        }
        canvas.path(&path, fill, 1.0);
        start
    }

    /// The outline of `text` from the origin, y upwards, in font units.
    pub fn outline(&mut self, text: &str) -> BezPath {
        let mut path = BezPath::new();
        let mut pen = 0.0;
        for glyph in self.shaper.glyphs(text, ShapeSettings::default()) {
            if let Some(outlines) = &self.outlines {
                let at = (pen + f64::from(glyph.offset.0), f64::from(glyph.offset.1));
                path.extend(kurbo::Affine::translate(at) * outlines.glyph(glyph.glyph));
            }
            pen += f64::from(glyph.advance);
        }
        path
    }
}

/// The faces that pictures are labelled in.
pub struct LabelFaces {
    text: Face,
    title: Face,
}

impl LabelFaces {
    /// Opens them; `None` only if the demo were damaged.
    pub fn open() -> Option<Self> {
        let open = |path| {
            let bytes = tidy_lattice_demo::file(path)?.to_vec();
            let file = FontFile::read(bytes, Limits::DEFAULT).ok()?;
            Face::open(&file, &FacePick::default()).ok()
        };
        Some(LabelFaces {
            text: open(LABELS)?,
            title: open(TITLES)?,
        })
    }

    /// Lettering for labels.
    pub fn labels(&self) -> Labels<'_> {
        Labels {
            text: Lettering::new(&self.text),
            title: Lettering::new(&self.title),
        }
    }
}

/// Labels of a picture.
pub struct Labels<'a> {
    text: Lettering<'a>,
    title: Lettering<'a>,
}

impl Labels<'_> {
    /// A label; characters that the label face lacks become question marks.
    pub fn label(
        &mut self,
        canvas: &mut Canvas,
        text: &str,
        at: (f64, f64),
        size: f64,
        fill: &str,
    ) -> f64 {
        let text = self.spelled(text);
        self.text
            .set(canvas, &text, at, size, fill, ShapeSettings::default())
    }

    /// A label whose end is at `at`.
    pub fn label_before(
        &mut self,
        canvas: &mut Canvas,
        text: &str,
        at: (f64, f64),
        size: f64,
        fill: &str,
    ) {
        let width = self.width(text, size);
        self.label(canvas, text, (at.0 - width, at.1), size, fill);
    }

    /// The width of a label.
    pub fn width(&mut self, text: &str, size: f64) -> f64 {
        let text = self.spelled(text);
        self.text.width(&text, size, ShapeSettings::default())
    }

    /// A title.
    pub fn title(
        &mut self,
        canvas: &mut Canvas,
        text: &str,
        at: (f64, f64),
        size: f64,
        fill: &str,
    ) -> f64 {
        if self.title.has(text) {
            self.title
                .set(canvas, text, at, size, fill, ShapeSettings::default())
        } else {
            self.label(canvas, text, at, size, fill)
        }
    }

    /// `text` broken into lines of at most `width` px.
    pub fn lines(&mut self, text: &str, size: f64, width: f64) -> Vec<String> {
        let mut lines: Vec<String> = Vec::new();
        for word in text.split_whitespace() {
            let longer = lines.last().map(|line| format!("{line} {word}"));
            match longer.filter(|longer| self.width(longer, size) <= width) {
                Some(longer) => {
                    lines.pop();
                    lines.push(longer);
                }
                None => lines.push(word.to_owned()),
            }
        }
        lines
    }

    fn spelled(&self, text: &str) -> String {
        text.chars()
            .map(|c| {
                if self.text.has(c.encode_utf8(&mut [0; 4])) {
                    c
                } else {
                    '?'
                }
            })
            .collect()
    }
}
