//! Widths of pieces of text in a face, where the face has them.

use foldhash::HashMap;

use icu_segmenter::GraphemeClusterSegmenter;
use tidy_lattice_coverage::lattice::{Fit, fit};
use tidy_lattice_glyphs::font::Face;
use tidy_lattice_glyphs::shaping::Shaper;

use super::sample::Piece;

/// Measures pieces in a face, where the face has them.
pub struct Ruler<'a> {
    face: &'a Face,
    shaper: Shaper<'a>,
    space: f64,
    known: HashMap<String, bool>,
}

impl<'a> Ruler<'a> {
    /// A ruler for `face`.
    pub fn new(face: &'a Face) -> Self {
        let mut shaper = Shaper::new(face);
        Ruler {
            face,
            space: shaper.width(" "),
            shaper,
            known: HashMap::default(),
        }
    }

    /// The width in em that `word` and a space after it add to a line, kerning
    /// with the spaces on both sides included, as Chromium shapes whole lines.
    /// `None` where the face cannot show all of the word.
    pub fn word(&mut self, word: &str) -> Option<f64> {
        if !self.shows(word) {
            return None;
        }
        let width = self.shaper.width(&format!(" {word} ")) - self.space;
        Some(width).filter(|width| *width > 0.0)
    }

    /// The width in em that `piece` adds to a line; `None` where the face cannot
    /// show all of it.
    pub fn piece(&mut self, piece: &Piece) -> Option<f64> {
        if !self.shows(&piece.text) {
            return None;
        }
        let width = self.width(&piece.in_context()) - self.width(&piece.before);
        Some(width).filter(|width| *width > 0.0)
    }

    /// The width of `text` in em, whether or not the face has all of it.
    pub fn width(&mut self, text: &str) -> f64 {
        if text == " " {
            self.space
        } else {
            self.shaper.width(text)
        }
    }

    /// Whether the face shows every cluster of `text` and its width is known.
    pub fn shows(&mut self, text: &str) -> bool {
        let mut start = 0;
        for end in GraphemeClusterSegmenter::new().segment_str(text).skip(1) {
            let cluster = &text[start..end];
            start = end;
            let known = match self.known.get(cluster) {
                Some(known) => *known,
                None => {
                    let whole = fit(self.face, &mut self.shaper, cluster) == Fit::Whole;
                    self.known.insert(cluster.to_owned(), whole);
                    whole
                }
            };
            if !known {
                return false;
            }
        }
        self.shaper.knows_width(text)
    }
}
