//! The specimen sheet of a face: its name, its line, a waterfall of sizes,
//! letters of its scripts, features before and after.

use icu_properties::CodePointMapData;
use icu_properties::props::{GeneralCategory, GeneralCategoryGroup, Script};
use tidy_lattice_core::describe::{Description, FeatureDescription};
use tidy_lattice_core::font::{Face, writing_scripts};
use tidy_lattice_core::shaping::ShapeSettings;
use tidy_lattice_core::text::{samples, script_name, words};

use super::canvas::{Canvas, FACES, INK, RULE, SOFT, WIDTH};
use super::lettering::{LabelFaces, Labels, Lettering};
use crate::show::text::{count, em, kilobytes};

const MARGIN: f64 = 48.0;
const INNER: f64 = WIDTH - 2.0 * MARGIN;

/// The sizes of the waterfall, in px.
const SIZES: [f64; 7] = [54.0, 40.0, 30.0, 22.0, 17.0, 14.0, 11.0];

/// How many features are shown.
const FEATURES: usize = 14;

/// Draws the sheet of `face`, which `description` tells of; `tag` is the
/// language of the waterfall where the face has it.
pub fn specimen(description: &Description, face: &Face, tag: &str) -> String {
    let mut canvas = Canvas::new();
    let Some(label_faces) = LabelFaces::open() else {
        return canvas.svg();
    };
    let mut sheet = Sheet {
        canvas: &mut canvas,
        labels: label_faces.labels(),
        face,
        lettering: Lettering::new(face),
        y: 56.0,
    };
    sheet.head(description);
    sheet.line(description);
    sheet.waterfall(tag);
    sheet.scripts(description);
    sheet.features(description);
    let bottom = sheet.y + 40.0;
    canvas.reach(bottom);
    canvas.svg()
}

struct Sheet<'a> {
    canvas: &'a mut Canvas,
    labels: Labels<'a>,
    face: &'a Face,
    lettering: Lettering<'a>,
    /// Where the next part starts.
    y: f64,
}

impl Sheet<'_> {
    /// The name in the face itself, and what people ask first.
    fn head(&mut self, d: &Description) {
        let name = d.identity.names.label();
        let plain = ShapeSettings::default();
        if self.lettering.has(&name) && d.class.class != tidy_lattice_core::font::Class::Symbol {
            let size = (INNER / self.lettering.width(&name, 1.0, plain).max(1.0)).min(60.0);
            self.y += size * 0.55;
            self.lettering
                .set(self.canvas, &name, (MARGIN, self.y), size, INK, plain);
        } else {
            self.y += 20.0;
            self.labels
                .title(self.canvas, &name, (MARGIN, self.y), 40.0, INK);
        }
        let written = d.languages.iter().flatten();
        let written = written.filter(|l| l.writes).count() as u64;
        let facts = [
            format!("{}, weight {}", d.class.class.label(), d.identity.weight),
            count(d.characters.count, "character", "characters"),
            format!("writes {}", count(written, "language", "languages")),
            count(d.features.len() as u64, "feature", "features"),
            format!("{} KB", kilobytes(d.bytes.file)),
            d.rights.statement.clone(),
        ];
        self.y += 36.0;
        let facts = facts.join("  ·  ");
        for text in self.labels.lines(&facts, 15.0, INNER) {
            self.labels
                .label(self.canvas, &text, (MARGIN, self.y), 15.0, SOFT);
            self.y += 22.0;
        }
        for script in d.shaping.iter().flatten() {
            if script.works != tidy_lattice_core::font::Works::Works {
                let text = format!(
                    "{}: has letters, but shaping is {}; it cannot write the script",
                    script.script,
                    script.works.label()
                );
                self.labels
                    .label(self.canvas, &text, (MARGIN, self.y), 15.0, FACES[1]);
                self.y += 22.0;
            }
        }
    }

    /// A part's title between rules.
    fn part(&mut self, title: &str) {
        self.y += 18.0;
        self.canvas.rule(MARGIN, self.y, INNER, RULE, false);
        self.y += 24.0;
        self.labels
            .title(self.canvas, title, (MARGIN, self.y), 15.0, INK);
    }

    /// A word with the levels of the line.
    fn line(&mut self, d: &Description) {
        const SIZE: f64 = 120.0;
        let units = f64::from(d.line.units_per_em);
        let mut levels = vec![
            ("ascent", d.line.used.ascent),
            ("baseline", 0.0),
            ("descent", -d.line.used.descent),
        ];
        let heights = [
            ("cap height", d.line.cap_height),
            ("x-height", d.line.x_height),
        ];
        for (name, height) in heights {
            levels.extend(height.best().map(|height| (name, height / units)));
        }
        levels.sort_by(|a, b| b.1.total_cmp(&a.1));
        self.part("Line");
        let top = levels[0].1.clamp(0.5, 2.0);
        let baseline = self.y + 26.0 + top * SIZE;
        let word = if self.lettering.has("Hxgp") {
            "Hxgpd"
        } else {
            ""
        };
        let word = if word.is_empty() {
            self.letters(3)
        } else {
            word.to_owned()
        };
        let mut last = f64::NEG_INFINITY;
        let mut lowest = baseline;
        for (name, level) in levels {
            let y = baseline - level.clamp(-2.0, 2.0) * SIZE;
            self.canvas
                .rule(MARGIN + 190.0, y, INNER - 190.0, SOFT, name != "baseline");
            let place = (y + 4.0).max(last + 14.0);
            let text = format!("{name} {}", em(level));
            self.labels
                .label(self.canvas, &text, (MARGIN, place), 13.0, SOFT);
            last = place;
            lowest = lowest.max(y).max(place);
        }
        let mut x = MARGIN + 210.0;
        for text in [word.as_str(), "AÅÇy"] {
            if self.lettering.has(text) {
                let plain = ShapeSettings::default();
                x += self
                    .lettering
                    .set(self.canvas, text, (x, baseline), SIZE, INK, plain)
                    + 40.0;
            }
        }
        self.y = lowest + 6.0;
    }

    /// Some letters of the face, or signs where it has no letters.
    fn letters(&self, most: usize) -> String {
        let categories = CodePointMapData::<GeneralCategory>::new();
        let scripts = CodePointMapData::<Script>::new();
        let main = writing_scripts(self.face).into_iter().next();
        let characters = self.face.characters();
        let all = || characters.iter().filter_map(char::from_u32);
        let letters: String = all()
            .filter(|c| GeneralCategoryGroup::Letter.contains(categories.get(*c)))
            .filter(|c| main.as_ref() == Some(&script_name(scripts.get(*c))))
            .take(most)
            .collect();
        if letters.is_empty() {
            let shown = all().filter(|c| tidy_lattice_core::text::is_shown(*c));
            return shown.take(most).collect();
        }
        letters
    }

    /// One line of text at every size.
    fn waterfall(&mut self, tag: &str) {
        self.part("Sizes");
        let text = self.sample(tag);
        for size in SIZES {
            self.y += size * 1.28 + 4.0;
            let label = format!("{size} px");
            self.labels
                .label(self.canvas, &label, (MARGIN, self.y), 12.0, SOFT);
            let text = self.fitting(&text, size, INNER - 60.0);
            let at = (MARGIN + 60.0, self.y);
            self.lettering
                .set(self.canvas, &text, at, size, INK, ShapeSettings::default());
        }
        self.y += 8.0;
    }

    /// A text that the face has: in the language `tag`, else in any with a
    /// sample, else its first letters.
    fn sample(&self, tag: &str) -> String {
        let written = samples::of(tag).or_else(|| words::sample(tag, 40));
        let samples = std::iter::once(written);
        let samples = samples.chain(samples::tags().map(samples::of));
        for sample in samples.flatten() {
            let start: String = sample
                .text
                .lines()
                .find(|line| !line.trim().is_empty())
                .unwrap_or_default()
                .chars()
                .take(160)
                .collect();
            if self.lettering.has(&start) {
                return start;
            }
        }
        self.letters(120)
    }

    /// As many words of `text`, or letters where the first word is too long, as
    /// fit into `width` px.
    fn fitting(&mut self, text: &str, size: f64, width: f64) -> String {
        let plain = ShapeSettings::default();
        let mut fitting = String::new();
        for piece in text.split_inclusive(' ') {
            let longer = format!("{fitting}{piece}");
            if self.lettering.width(longer.trim_end(), size, plain) > width {
                break;
            }
            fitting = longer;
        }
        if fitting.is_empty() {
            for letter in text.chars() {
                fitting.push(letter);
                if self.lettering.width(&fitting, size, plain) > width {
                    fitting.pop();
                    break;
                }
            }
        }
        fitting
    }

    /// Letters of each script.
    fn scripts(&mut self, d: &Description) {
        const SIZE: f64 = 24.0;
        const MOST: usize = 8;
        self.part("Scripts");
        let scripts = CodePointMapData::<Script>::new();
        let characters = self.face.characters();
        let mut shares: Vec<(String, String)> = d
            .characters
            .writing_scripts()
            .take(MOST)
            .map(|share| {
                let title = format!("{} {} of {}", share.name, share.covered, share.assigned);
                (share.name.clone(), title)
            })
            .collect();
        // A face of one or two scripts has room for more of each.
        let rows = if shares.len() <= 3 { 2 } else { 1 };
        shares.push(("Common".to_owned(), "Shared signs".to_owned()));
        for (name, title) in shares {
            let categories = CodePointMapData::<GeneralCategory>::new();
            let of_script = |c: &char| {
                tidy_lattice_core::text::is_shown(*c)
                    && script_name(scripts.get(*c)) == name
                    && !GeneralCategoryGroup::Mark.contains(categories.get(*c))
            };
            let letters = characters
                .iter()
                .filter_map(char::from_u32)
                .filter(of_script);
            let letters: Vec<String> = letters.take(200).map(|c| c.to_string()).collect();
            if letters.is_empty() {
                continue;
            }
            self.y += SIZE * 1.5;
            self.labels
                .label(self.canvas, &title, (MARGIN, self.y - 2.0), 13.0, SOFT);
            // Letters stand apart, so that those of joining scripts do not join.
            let mut text = letters.join(" ");
            for row in 0..rows {
                let line = self.fitting(&text, SIZE, INNER - 200.0);
                if line.is_empty() {
                    break;
                }
                if row > 0 {
                    self.y += SIZE * 1.4;
                }
                let at = (MARGIN + 200.0, self.y);
                self.lettering
                    .set(self.canvas, &line, at, SIZE, INK, ShapeSettings::default());
                text = text[line.len()..].to_owned();
            }
        }
        self.y += 12.0;
    }

    /// Features in two columns: off, then on.
    fn features(&mut self, d: &Description) {
        let shown: Vec<&FeatureDescription> = d
            .features
            .iter()
            .filter(|feature| !feature.samples.is_empty() && feature.tag != "aalt")
            .take(FEATURES)
            .collect();
        if shown.is_empty() {
            return;
        }
        self.part("Features, off and on");
        const ROW: f64 = 56.0;
        let column = INNER / 2.0;
        for (index, feature) in shown.iter().enumerate() {
            let x = MARGIN + column * (index % 2) as f64;
            if index % 2 == 0 {
                self.y += ROW;
            }
            self.feature(feature, x, column - 30.0);
        }
        let rest = d.features.len() - shown.len();
        if rest > 0 {
            self.y += 34.0;
            let text = format!(
                "and {}",
                count(rest as u64, "feature more", "features more")
            );
            self.labels
                .label(self.canvas, &text, (MARGIN, self.y), 13.0, SOFT);
        }
    }

    fn feature(&mut self, feature: &FeatureDescription, x: f64, width: f64) {
        const SIZE: f64 = 26.0;
        let y = self.y;
        self.labels
            .label(self.canvas, &feature.tag, (x, y - 12.0), 14.0, FACES[0]);
        let does = feature.name.as_ref().unwrap_or(&feature.does);
        let mut does = does.clone();
        while self.labels.width(&does, 11.0) > width - 60.0 && does.chars().count() > 8 {
            does = does
                .chars()
                .take(does.chars().count() - 2)
                .collect::<String>()
                + "…";
        }
        self.labels
            .label(self.canvas, &does, (x, y + 8.0), 11.0, SOFT);
        let start = x + 60.0;
        let (off, on) = ([(feature.tag.as_str(), 0)], [(feature.tag.as_str(), 1)]);
        let mut pen = start;
        for sample in &feature.samples {
            let language = sample.language.as_deref();
            let before = ShapeSettings {
                features: if language.is_some() { &[] } else { &off },
                ..ShapeSettings::default()
            };
            let after = ShapeSettings {
                features: if language.is_some() { &[] } else { &on },
                language,
                ..ShapeSettings::default()
            };
            let needed = self.lettering.width(&sample.text, SIZE, before)
                + self.lettering.width(&sample.text, SIZE, after)
                + 50.0;
            if pen + needed > x + width {
                if pen > start {
                    break;
                }
                continue;
            }
            let at = (pen, y - 10.0);
            pen += self
                .lettering
                .set(self.canvas, &sample.text, at, SIZE, SOFT, before);
            self.canvas.arrow(pen + 7.0, y - 17.0, 12.0, SOFT);
            pen += 26.0;
            let at = (pen, y - 10.0);
            pen += self
                .lettering
                .set(self.canvas, &sample.text, at, SIZE, INK, after);
            pen += 26.0;
        }
    }
}
