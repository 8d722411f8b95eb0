//! A paragraph of a sample as it is set: its lines, in runs of one size.

use std::collections::HashMap;

use tidy_lattice_glyphs::font::Face;

use super::ruler::Ruler;
use super::sample::TextSample;
use super::slices::Slice;

/// A line of a paragraph.
#[derive(Debug, Clone, PartialEq)]
pub struct SetLine {
    /// Its text, without the space at its end.
    pub text: String,
    /// The same in runs that are shaped together, each with the factor of its
    /// size.
    pub runs: Vec<(String, f64)>,
}

/// Sets a paragraph of `sample`, by its number, in `face`, in a column of `measure`
/// em; in `slices` where there are some, else at its own size.
pub fn set_paragraph(
    sample: &TextSample,
    paragraph: usize,
    face: &Face,
    slices: &[Slice],
    measure: f64,
) -> Vec<SetLine> {
    let Some(indices) = sample.paragraphs().get(paragraph) else {
        return Vec::new();
    };
    let pieces: Vec<_> = sample.pieces().map(|(piece, _)| piece).collect();
    let mut ruler = Ruler::new(face);
    let factor = Factors::new(slices);
    let mut lines = Vec::new();
    let (mut line, mut width) = (String::new(), 0.0);
    for index in indices {
        let piece = pieces[*index as usize];
        let whole =
            factor.width(&mut ruler, &piece.in_context()) - factor.width(&mut ruler, &piece.before);
        let hanging = if piece.spaced {
            factor.width(&mut ruler, " ")
        } else {
            0.0
        };
        if !line.is_empty() && width + whole - hanging > measure {
            lines.push(factor.line(line.trim_end()));
            (line, width) = (String::new(), 0.0);
        }
        line.push_str(&piece.text);
        if piece.spaced {
            line.push(' ');
        }
        width += whole;
    }
    if !line.is_empty() {
        lines.push(factor.line(line.trim_end()));
    }
    lines
}

/// The factor of each character.
struct Factors {
    of: HashMap<char, f64>,
    others: f64,
}

impl Factors {
    fn new(slices: &[Slice]) -> Self {
        let mut of = HashMap::new();
        for slice in slices {
            let points = slice.range.iter().flat_map(|range| range.iter());
            of.extend(
                points
                    .filter_map(char::from_u32)
                    .map(|c| (c, slice.size_adjust / 100.0)),
            );
        }
        let base = slices.iter().find(|slice| slice.range.is_none());
        Factors {
            of,
            others: base.map_or(1.0, |slice| slice.size_adjust / 100.0),
        }
    }

    fn runs(&self, text: &str) -> Vec<(String, f64)> {
        let mut runs: Vec<(String, f64)> = Vec::new();
        for character in text.chars() {
            let factor = self.of.get(&character).copied().unwrap_or(self.others);
            match runs.last_mut() {
                Some((run, last)) if *last == factor => run.push(character),
                _ => runs.push((character.to_string(), factor)),
            }
        }
        runs
    }

    fn width(&self, ruler: &mut Ruler<'_>, text: &str) -> f64 {
        let runs = self.runs(text);
        runs.iter()
            .map(|(run, factor)| ruler.width(run) * factor)
            .sum()
    }

    fn line(&self, text: &str) -> SetLine {
        SetLine {
            text: text.to_owned(),
            runs: self.runs(text),
        }
    }
}
