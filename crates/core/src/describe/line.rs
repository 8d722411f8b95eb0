//! How a face sits on the line: the three sets of vertical metrics, x-height
//! and cap height as stated and as drawn, ink, and mean advance.

use kurbo::Shape as _;
use serde::Serialize;
use skrifa::font::metrics::LineBox;

use tidy_lattice_glyphs::font::{Face, LineMetrics, Outlines, Underline};
use tidy_lattice_glyphs::shaping::Shaper;
use tidy_lattice_glyphs::text::words;

/// The line of a face; lengths in font units unless said otherwise.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct LineDescription {
    /// Font units per em.
    pub units_per_em: u16,
    /// The `hhea` table.
    pub hhea: Option<MetricSet>,
    /// OS/2 typographic metrics.
    pub typo: Option<MetricSet>,
    /// OS/2 Windows metrics; they have no gap, and the descent is negated to
    /// point the same way as the others.
    pub win: Option<MetricSet>,
    /// Whether OS/2 USE_TYPO_METRICS is set.
    pub use_typo_metrics: bool,
    /// The metrics that browsers use, in em, and where they come from.
    pub used: LineMetrics,
    /// The x-height.
    pub x_height: Height,
    /// The cap height.
    pub cap_height: Height,
    /// The highest and the lowest point of all glyphs (`head` `yMax`, `yMin`).
    pub ink: (f64, f64),
    /// The underline (`post`).
    pub underline: Underline,
    /// The mean advance of a character, kerning included, in running text of a
    /// language: tag and em.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub mean_advance: Option<MeanAdvance>,
}

/// Ascender, descender and line gap in font units; the descender is negative
/// below the baseline.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, schemars::JsonSchema)]
pub struct MetricSet {
    /// Above the baseline.
    pub ascender: f64,
    /// Below the baseline, negative.
    pub descender: f64,
    /// Between lines.
    pub line_gap: f64,
}

/// A height as the tables declare it and as the outlines show it.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Height {
    /// As OS/2 declares it; `None` where it does not, or declares 0.
    pub declared: Option<f64>,
    /// The top of `x` or `H` as drawn.
    pub measured: Option<f64>,
}

impl Height {
    /// The height as drawn, else as declared.
    pub fn best(self) -> Option<f64> {
        self.measured.or(self.declared)
    }

    /// Whether table and outline differ by more than 2 % of the em.
    pub fn contradicts(self, units_per_em: u16) -> bool {
        match (self.declared, self.measured) {
            (Some(declared), Some(measured)) => {
                (declared - measured).abs() > 0.02 * f64::from(units_per_em)
            }
            _ => false,
        }
    }
}

/// The mean advance of characters in a text.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct MeanAdvance {
    /// The language whose words were measured, as often as each occurs.
    pub language: String,
    /// The mean, in em.
    pub em: f64,
}

impl LineDescription {
    pub(crate) fn read(face: &Face, measure: bool, text_language: &str) -> Option<Self> {
        let font = face.font()?;
        let metrics = font.metrics();
        let set = |line: LineBox| MetricSet {
            ascender: line.ascender.to_f64(),
            descender: line.descender.to_f64(),
            line_gap: line.line_gap.to_f64(),
        };
        let outlines = measure.then(|| Outlines::of(face)).flatten();
        let top = |letter| {
            let path = outlines.as_ref()?.letter(letter)?;
            Some(path.bounding_box().y1.round())
        };
        let declared = |height: Option<f64>| height.filter(|height| *height > 0.0);
        Some(LineDescription {
            units_per_em: metrics.units_per_em,
            hhea: metrics.hhea_line.map(set),
            typo: metrics.typo_line.map(set),
            win: metrics.win_line.map(|win| MetricSet {
                ascender: win.ascender.to_f64(),
                descender: win.descender.to_f64(),
                line_gap: 0.0,
            }),
            use_typo_metrics: metrics.use_typo_metrics,
            used: face.line(),
            x_height: Height {
                declared: declared(metrics.x_height.map(|height| height.to_f64())),
                measured: top('x'),
            },
            cap_height: Height {
                declared: declared(metrics.cap_height.map(|height| height.to_f64())),
                measured: top('H'),
            },
            ink: (metrics.bounds.y_max.to_f64(), metrics.bounds.y_min.to_f64()),
            underline: face.underline().unwrap_or_default(),
            mean_advance: measure.then(|| mean_advance(face, text_language)).flatten(),
        })
    }
}

/// How many words a mean advance is measured on.
const WORDS: usize = 1000;

/// The mean advance in words of `tag`, over the words that the face has.
fn mean_advance(face: &Face, tag: &str) -> Option<MeanAdvance> {
    let sample = words::sample(tag, WORDS)?;
    let mut shaper = Shaper::new(face);
    let (mut width, mut characters) = (0.0, 0);
    for word in sample.text.split_whitespace() {
        if word.chars().all(|c| face.maps(c)) {
            width += shaper.width(&format!("{word} "));
            characters += word.chars().count() + 1;
        }
    }
    (characters > 0).then(|| MeanAdvance {
        language: tag.to_owned(),
        em: (width / characters as f64 * 10_000.0).round() / 10_000.0,
    })
}
