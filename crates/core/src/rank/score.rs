//! One score from many measurements.

use std::collections::BTreeMap;

use serde::Serialize;
use tidy_lattice_glyphs::font::{Class, Slope};

use super::{Ranked, Ranking};

/// What a score is made of.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Part {
    /// The same class: serif, sans, monospace.
    Class,
    /// Widths of words once resized; an error of 8 % is nothing.
    Words,
    /// Paragraphs whose lines all break as in the web font.
    Lines,
    /// How little it must be resized; 15 % leave a third.
    Size,
    /// The x-height once resized; 12 % off leave a third.
    XHeight,
    /// The cap height once resized; 12 % off leave a third.
    CapHeight,
    /// The thickness of stems once resized; 40 % off leave a third.
    Stroke,
    /// The contrast of strokes.
    Contrast,
    /// Upright or sloped as the web font is.
    Slope,
    /// Words of the text that it can show.
    Coverage,
    /// Languages that it keeps.
    Languages,
    /// Features that it keeps.
    Features,
    /// Whether lines can be as high as the web font's in Firefox, which makes none lower
    /// than the em once resized; 5 % too large leave a third.
    Room,
}

impl Part {
    /// All parts, as they are shown.
    pub const ALL: [Part; 13] = [
        Part::Class,
        Part::Words,
        Part::Lines,
        Part::Size,
        Part::XHeight,
        Part::CapHeight,
        Part::Stroke,
        Part::Contrast,
        Part::Slope,
        Part::Coverage,
        Part::Languages,
        Part::Features,
        Part::Room,
    ];

    /// Its name on the command line and in JSON.
    pub fn name(self) -> &'static str {
        match self {
            Part::Class => "class",
            Part::Words => "words",
            Part::Lines => "lines",
            Part::Size => "size",
            Part::XHeight => "x-height",
            Part::CapHeight => "cap-height",
            Part::Stroke => "stroke",
            Part::Contrast => "contrast",
            Part::Slope => "slope",
            Part::Coverage => "coverage",
            Part::Languages => "languages",
            Part::Features => "features",
            Part::Room => "room",
        }
    }

    /// A choice, not a measurement: that letters show and are of the same kind counts most;
    /// that lines break alike, more than how each letter looks; what few texts need, least.
    fn usual_weight(self) -> f64 {
        match self {
            Part::Class | Part::Coverage => 4.0,
            Part::Words | Part::Lines | Part::Slope => 3.0,
            Part::Size | Part::XHeight | Part::Stroke | Part::Room => 2.0,
            Part::CapHeight | Part::Contrast | Part::Languages | Part::Features => 1.0,
        }
    }
}

/// How much each part counts, 0 or more.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Weights(BTreeMap<Part, f64>);

impl Default for Weights {
    fn default() -> Self {
        Weights(
            Part::ALL
                .iter()
                .map(|part| (*part, part.usual_weight()))
                .collect(),
        )
    }
}

impl Weights {
    /// Sets how much `part` counts; what is no weight counts nothing.
    pub fn set(&mut self, part: Part, weight: f64) {
        self.0.insert(
            part,
            if weight.is_finite() {
                weight.max(0.0)
            } else {
                0.0
            },
        );
    }

    pub(super) fn of(&self, part: Part) -> f64 {
        self.0.get(&part).copied().unwrap_or(0.0)
    }
}

/// The parts of a score, each 0 to 1; what is not known is missing.
#[derive(Debug, Clone, Default, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Parts(pub BTreeMap<Part, f64>);

impl Parts {
    /// One part.
    pub fn get(&self, part: Part) -> Option<f64> {
        self.0.get(&part).copied()
    }

    /// The weighted mean of the parts that are known, 0 to 100, to one decimal.
    pub fn score(&self, weights: &Weights) -> f64 {
        let total: f64 = self.0.keys().map(|part| weights.of(*part)).sum();
        if total <= 0.0 {
            return 0.0;
        }
        let sum: f64 = self
            .0
            .iter()
            .map(|(part, value)| weights.of(*part) * value)
            .sum();
        (sum / total * 1000.0).round() / 10.0
    }

    /// The mean of each part over those of which it is known.
    pub fn mean<'p>(all: impl Iterator<Item = &'p Parts>) -> Self {
        let mut sums: BTreeMap<Part, (f64, f64)> = BTreeMap::new();
        for parts in all {
            for (part, value) in &parts.0 {
                let (sum, count) = sums.entry(*part).or_default();
                *sum += value;
                *count += 1.0;
            }
        }
        let means = sums.into_iter();
        Parts(
            means
                .map(|(part, (sum, count))| (part, sum / count))
                .collect(),
        )
    }

    /// The score with what is not known taken from `usual`, as [`Parts::mean`] gives it.
    pub fn score_among(&self, usual: &Parts, weights: &Weights) -> f64 {
        let mut all = usual.clone();
        all.0.extend(&self.0);
        all.score(weights)
    }

    fn note(&mut self, part: Part, value: Option<f64>) {
        if let Some(value) = value {
            let value = (value.clamp(0.0, 1.0) * 1000.0).round() / 1000.0;
            self.0.insert(part, value);
        }
    }
}

impl Ranking<'_> {
    /// The parts of the score of `ranked`.
    pub(super) fn parts(&self, ranked: &Ranked) -> Parts {
        // What is off falls off slowly, so that far and farther stay apart.
        let near = |ratio: Option<f64>, third: f64| {
            ratio.map(|ratio| (-(ratio - 1.0).abs() / third).exp())
        };
        let share = |kept: usize, lost: usize| {
            (kept + lost > 0).then(|| kept as f64 / (kept + lost) as f64)
        };
        let widths = ranked.widths.as_ref();
        let mut parts = Parts::default();
        let class = if ranked.class == self.class {
            1.0
        } else if ranked.class == Class::Unknown || self.class == Class::Unknown {
            0.5
        } else {
            0.0
        };
        parts.note(Part::Class, Some(class));
        let words = widths.map_or(0.0, |widths| 1.0 - widths.after.word_mean / 8.0);
        parts.note(Part::Words, Some(words));
        let lines = widths.and_then(|widths| Some(1.0 - widths.breaks_after?.share() / 100.0));
        parts.note(Part::Lines, lines);
        let size = widths.map(|widths| widths.mean_size_adjust() / 100.0);
        parts.note(Part::Size, near(size, 0.15));
        parts.note(Part::XHeight, near(ranked.x_height_ratio_fitted, 0.12));
        parts.note(Part::CapHeight, near(ranked.cap_height_ratio_fitted, 0.12));
        parts.note(Part::Stroke, near(ranked.stem_ratio_fitted, 0.4));
        let contrasts = ranked.shape.contrast.zip(self.shape.contrast);
        let contrast = contrasts.map(|(value, web)| 1.0 - (value - web).abs() / 0.5);
        parts.note(Part::Contrast, contrast);
        let sloped = |slope: Slope| slope != Slope::Normal;
        let same = sloped(ranked.slope) == sloped(self.web.slope());
        parts.note(Part::Slope, Some(f64::from(u8::from(same))));
        let shown = widths.map_or(Some(0.0), |widths| {
            share(widths.words as usize, widths.words_left_out as usize)
        });
        parts.note(Part::Coverage, shown);
        let languages = share(ranked.languages_kept.len(), ranked.languages_lost.len());
        parts.note(Part::Languages, languages);
        let features = share(ranked.features_kept.len(), ranked.features_lost.len());
        parts.note(Part::Features, features);
        let too_large = self
            .room
            .zip(size)
            .map(|(room, size)| (size - room).max(0.0));
        parts.note(Part::Room, too_large.map(|off| (-off / 0.05).exp()));
        parts
    }
}
