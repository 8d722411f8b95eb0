//! Which of a font's three sets of vertical metrics count.
//!
//! CSS Inline 3, §2 ("ascent metric" and "descent metric") recommends the
//! typographic metrics where the font asks for them and leaves the rest to the
//! platform. What engines on every platform but old Windows ones do:
//!
//! 1. OS/2 `sTypoAscender`, `sTypoDescender`, `sTypoLineGap`, where `fsSelection`
//!    bit 7 (USE_TYPO_METRICS, OpenType 1.9.1 OS/2) is set;
//! 2. else `hhea` `ascender`, `descender`, `lineGap`, unless ascender and
//!    descender are both zero;
//! 3. else the OS/2 typographic values, unless both are zero;
//! 4. else OS/2 `usWinAscent` and `usWinDescent`, without a gap.
//!
//! In a variable font `MVAR` deltas (`hasc`, `hdsc`, `hlgp`, `hcla`, `hcld`)
//! are applied first.

use serde::{Deserialize, Serialize};
use skrifa::font::metrics::{LineBox, Metrics};

/// Ascent, descent and line gap of a face, in em, and where they come from.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, schemars::JsonSchema)]
pub struct LineMetrics {
    /// Height above the baseline, in em. Usually 0.7 to 1.2.
    pub ascent: f64,
    /// Depth below the baseline, in em; positive. Usually 0.2 to 0.4.
    pub descent: f64,
    /// Extra space between lines, in em; often 0.
    pub line_gap: f64,
    /// The table and fields that these values come from.
    pub source: LineSource,
}

/// The fields that hold the vertical metrics in use.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum LineSource {
    /// OS/2 typographic metrics, because USE_TYPO_METRICS is set.
    Os2TypoAsked,
    /// The `hhea` table.
    Hhea,
    /// OS/2 typographic metrics, because `hhea` has none.
    Os2Typo,
    /// OS/2 Windows metrics, because all others are zero.
    Os2Win,
    /// The font states no vertical metrics; all are zero.
    None,
    /// What a browser made of the font, whose tables nobody read.
    Browser,
    /// Nobody measured them: the values are those of another face, which has
    /// the same widths only.
    NotKnown,
}

impl LineSource {
    /// The fields in words.
    pub fn label(self) -> &'static str {
        match self {
            LineSource::Os2TypoAsked => "OS/2 typographic (USE_TYPO_METRICS)",
            LineSource::Hhea => "hhea",
            LineSource::Os2Typo => "OS/2 typographic (hhea has none)",
            LineSource::Os2Win => "OS/2 Windows (others are zero)",
            LineSource::None => "none stated",
            LineSource::Browser => "as a browser counts them",
            LineSource::NotKnown => "not known",
        }
    }
}

impl LineMetrics {
    /// Chooses among the sets of `metrics`, as this module describes.
    pub fn choose(metrics: &Metrics) -> Self {
        let filled =
            |line: &LineBox| line.ascender.to_f64() != 0.0 || line.descender.to_f64() != 0.0;
        let hhea = metrics.hhea_line;
        let typo = metrics.typo_line;
        let win = metrics.win_line.map(|win| LineBox {
            ascender: win.ascender,
            descender: win.descender,
            line_gap: Default::default(),
        });
        let (line, source) = if let Some(typo) = typo.filter(|_| metrics.use_typo_metrics) {
            (typo, LineSource::Os2TypoAsked)
        } else if let Some(hhea) = hhea.filter(filled) {
            (hhea, LineSource::Hhea)
        } else if let Some(typo) = typo.filter(filled) {
            (typo, LineSource::Os2Typo)
        } else if let Some(win) = win.filter(filled) {
            (win, LineSource::Os2Win)
        } else {
            (LineBox::default(), LineSource::None)
        };
        let em = f64::from(metrics.units_per_em);
        LineMetrics {
            ascent: line.ascender.to_f64() / em,
            descent: -line.descender.to_f64() / em,
            line_gap: line.line_gap.to_f64().max(0.0) / em,
            source,
        }
    }
}
