//! Why a candidate stands where it does, in words.

use tidy_lattice_glyphs::font::{Class, Face, Slope};

use super::{Part, Ranked, Ranking};

/// Factors beyond these make letters that nobody takes for the web font's.
const FACTORS: std::ops::RangeInclusive<f64> = 50.0..=200.0;

/// Nor does anybody know how these look, where nothing but widths of a face is known.
const KNOWN_FACTORS: std::ops::RangeInclusive<f64> = 75.0..=133.0;

/// Why a face of which nothing but widths is known cannot serve: it is much wider or narrower.
pub(super) fn far_and_unknown(face: &Face, ranked: &Ranked) -> Option<String> {
    let factor = ranked.widths.as_ref()?.mean_size_adjust();
    (face.only_widths() && !KNOWN_FACTORS.contains(&factor)).then(|| {
        format!(
            "it would have to be resized to {factor:.0} % to be as wide, and how its letters then \
             look is not known"
        )
    })
}

impl Ranking<'_> {
    /// Why `ranked` cannot serve.
    pub(super) fn why_not(&self, ranked: &Ranked) -> Option<String> {
        if let Some(other) = &ranked.made_for {
            return Some(format!("it is made for {other}"));
        }
        let Some(widths) = &ranked.widths else {
            return Some(
                "it shares no whole word of the text with the web font, or its widths are not \
                 known"
                    .to_owned(),
            );
        };
        let shown = widths.words as f64 / (widths.words + widths.words_left_out).max(1) as f64;
        if shown < 0.5 {
            return Some(format!(
                "it can show only {:.0} % of the words",
                shown * 100.0
            ));
        }
        let factor = widths.mean_size_adjust();
        if !FACTORS.contains(&factor) {
            return Some(format!(
                "it would have to be resized to {factor:.0} % to be as wide"
            ));
        }
        if ranked.class != self.class
            && ranked.class != Class::Unknown
            && self.class != Class::Unknown
        {
            return Some(format!(
                "it is {}, the web font is {}",
                ranked.class.label(),
                self.class.label()
            ));
        }
        let sloped = |slope: Slope| slope != Slope::Normal;
        if sloped(ranked.slope) != sloped(self.web.slope()) {
            let (value, web) = if sloped(ranked.slope) {
                ("sloped", "upright")
            } else {
                ("upright", "sloped")
            };
            return Some(format!("it is {value}, the web font is {web}"));
        }
        if (ranked.weight - self.web.weight()).abs() >= 250.0 {
            return Some(format!(
                "its weight is {}, that of the web font {}",
                ranked.weight,
                self.web.weight()
            ));
        }
        None
    }

    /// Why `first` is first, and what the next one is behind in.
    pub(super) fn why_first(&self, first: &Ranked, next: Option<&Ranked>) -> String {
        let mut text = format!("closest: {}", self.measured(first));
        if let Some(next) = next {
            let gaps = self.gaps(next, first);
            if let Some((part, _)) = gaps.first() {
                text.push_str(&format!(
                    "; ahead of {} mostly in {}",
                    next.names.label(),
                    self.called(*part)
                ));
            }
        }
        text
    }

    /// What `ranked` is behind `first` in.
    pub(super) fn why_behind(&self, ranked: &Ranked, first: &Ranked) -> String {
        let behind: Vec<&str> = self
            .gaps(ranked, first)
            .into_iter()
            .take(2)
            .map(|(part, _)| self.called(part))
            .collect();
        if behind.is_empty() {
            return self.measured(ranked);
        }
        format!(
            "behind in {}: {}",
            behind.join(" and "),
            self.measured(ranked)
        )
    }

    /// The parts in which `behind` loses most against `ahead`, worst first.
    fn gaps(&self, behind: &Ranked, ahead: &Ranked) -> Vec<(Part, f64)> {
        let mut gaps: Vec<(Part, f64)> = Part::ALL
            .into_iter()
            .filter_map(|part| {
                let gap = ahead.parts.get(part)? - behind.parts.get(part)?;
                Some((part, gap * self.weights.of(part)))
            })
            .filter(|(_, gap)| *gap > 0.02)
            .collect();
        gaps.sort_by(|a, b| b.1.total_cmp(&a.1));
        gaps
    }

    fn called(&self, part: Part) -> &'static str {
        match part {
            Part::Class => "class",
            Part::Words => "widths of words",
            Part::Lines => "line breaks",
            Part::Size => "size",
            Part::XHeight => "x-height",
            Part::CapHeight => "cap height",
            Part::Stroke => "thickness of strokes",
            Part::Contrast => "contrast of strokes",
            Part::Slope => "slope",
            Part::Coverage => "words it can show",
            Part::Languages => "languages",
            Part::Features => "features",
            Part::Room => "height of lines in Firefox",
        }
    }

    /// The measurements that matter most, in a phrase.
    fn measured(&self, ranked: &Ranked) -> String {
        let mut phrases = Vec::new();
        if let Some(widths) = &ranked.widths {
            phrases.push(format!("words {:.1} % off", widths.after.word_mean));
            if let Some(breaks) = widths.breaks_after {
                phrases.push(format!(
                    "{:.0} % of paragraphs break elsewhere",
                    breaks.share()
                ));
            }
        }
        if let Some(ratio) = ranked.x_height_ratio_fitted {
            let percent = (ratio - 1.0) * 100.0;
            phrases.push(if percent.abs() < 0.5 {
                "x-height equal".to_owned()
            } else if percent > 0.0 {
                format!("x-height {percent:.0} % taller")
            } else {
                format!("x-height {:.0} % lower", -percent)
            });
        }
        phrases.join(", ")
    }
}
