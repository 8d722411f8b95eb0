//! The text that stand-ins are fitted on: its words with counts, and its running
//! paragraphs in the pieces that lines break between.

use std::collections::HashMap;

use icu_segmenter::options::LineBreakOptions;
use icu_segmenter::{GraphemeClusterSegmenter, LineSegmenter};

use tidy_lattice_glyphs::text::Source;

/// The most distinct words that are shaped; the most frequent come first.
const MOST_WORDS: usize = 20_000;

/// The most pieces of running text; what comes after them only counts as words.
const MOST_PIECES: usize = 40_000;

/// Words of a text with how often each occurs, and its running text.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct TextSample {
    words: Vec<(String, u64)>,
    pieces: Vec<Piece>,
    counts: Vec<u64>,
    paragraphs: Vec<Vec<u32>>,
}

/// What stands between two places where a line may end (UAX #14): a word with
/// the space after it, or a part of a word.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct Piece {
    /// What stands before it on the line and may be kerned with it: a space, or
    /// the last cluster of the piece before.
    pub before: String,
    /// Its letters.
    pub text: String,
    /// Whether a space follows, which hangs where the line ends.
    pub spaced: bool,
}

impl Piece {
    /// The text that is shaped: what stands before, the piece, its space.
    pub fn in_context(&self) -> String {
        let space = if self.spaced { " " } else { "" };
        format!("{}{}{space}", self.before, self.text)
    }
}

impl TextSample {
    /// Counts the words of `sources` and cuts their paragraphs into pieces.
    /// Words end at white space, paragraphs at empty lines.
    pub fn gather(sources: &[Source]) -> Self {
        Self::of_texts(sources.iter().map(|source| (source.text.as_str(), 1)))
    }

    /// As [`TextSample::gather`], of texts that each count some times.
    pub fn of_texts<'t>(texts: impl IntoIterator<Item = (&'t str, u64)>) -> Self {
        let mut counts: HashMap<&str, u64> = HashMap::new();
        let mut cutter = Cutter::default();
        for (text, times) in texts {
            for word in text.split_whitespace() {
                *counts.entry(word).or_default() += times;
            }
            for paragraph in paragraphs(text) {
                cutter.paragraph(&paragraph, times);
            }
        }
        let counts = counts.into_iter();
        cutter.sample(
            counts
                .map(|(word, count)| (word.to_owned(), count))
                .collect(),
        )
    }

    /// The same with `texts`, a paragraph each, before all others; and the number of each of
    /// their paragraphs, `None` where a text has no pieces or there are too many.
    pub fn preceded_by(&self, texts: &[&str]) -> (Self, Vec<Option<usize>>) {
        let mut cutter = Cutter::default();
        let mut counts: HashMap<String, u64> = HashMap::new();
        let places = texts.iter().map(|text| {
            let before = cutter.paragraphs.len();
            cutter.paragraph(text, 1);
            for word in text.split_whitespace() {
                *counts.entry(word.to_owned()).or_default() += 1;
            }
            let is_new = cutter.paragraphs.len() > before;
            (is_new && !cutter.paragraphs[before].is_empty()).then_some(before)
        });
        let places = places.collect();
        for (word, count) in &self.words {
            *counts.entry(word.clone()).or_default() += count;
        }
        let added: Vec<Option<u32>> = self
            .pieces
            .iter()
            .zip(&self.counts)
            .map(|(piece, count)| cutter.piece(piece.clone(), *count))
            .collect();
        for paragraph in &self.paragraphs {
            let indices: Vec<u32> = paragraph
                .iter()
                .filter_map(|index| added[*index as usize])
                .collect();
            cutter.run(indices);
        }
        (cutter.sample(counts), places)
    }

    /// The first paragraphs, up to `pieces` pieces, and the most frequent words in as many;
    /// all where there are no more. Enough to tell faces apart.
    pub fn beginning(&self, pieces: usize) -> Self {
        let mut short = TextSample {
            words: self.words.iter().take(pieces).cloned().collect(),
            ..TextSample::default()
        };
        let mut known: HashMap<u32, u32> = HashMap::new();
        let mut running = 0;
        for paragraph in &self.paragraphs {
            if running > 0 && running + paragraph.len() > pieces {
                break;
            }
            running += paragraph.len();
            let indices = paragraph.iter().map(|index| {
                *known.entry(*index).or_insert_with(|| {
                    short.pieces.push(self.pieces[*index as usize].clone());
                    short.counts.push(0);
                    short.pieces.len() as u32 - 1
                })
            });
            let indices: Vec<u32> = indices.collect();
            for index in &indices {
                short.counts[*index as usize] += 1;
            }
            short.paragraphs.push(indices);
        }
        short
    }

    /// The words and how often each occurs, most frequent first.
    pub fn words(&self) -> &[(String, u64)] {
        &self.words
    }

    /// How many words the sample counts, repeats included.
    pub fn total(&self) -> u64 {
        self.words.iter().map(|(_, count)| count).sum()
    }

    /// The distinct pieces with how often each occurs, in order of appearance.
    pub fn pieces(&self) -> impl ExactSizeIterator<Item = (&Piece, u64)> {
        self.pieces.iter().zip(self.counts.iter().copied())
    }

    /// The running paragraphs, as indices of [`TextSample::pieces`].
    pub fn paragraphs(&self) -> &[Vec<u32>] {
        &self.paragraphs
    }
}

/// The paragraphs of `text`, each with single spaces.
fn paragraphs(text: &str) -> Vec<String> {
    let mut found = Vec::new();
    let mut words: Vec<&str> = Vec::new();
    for line in text.lines().chain([""]) {
        if line.trim().is_empty() {
            if !words.is_empty() {
                found.push(words.join(" "));
                words.clear();
            }
        } else {
            words.extend(line.split_whitespace());
        }
    }
    found
}

/// Cuts paragraphs into pieces, each known once.
#[derive(Default)]
struct Cutter {
    known: HashMap<Piece, u32>,
    pieces: Vec<Piece>,
    counts: Vec<u64>,
    paragraphs: Vec<Vec<u32>>,
    running: usize,
}

impl Cutter {
    fn paragraph(&mut self, text: &str, times: u64) {
        let mut indices = Vec::new();
        let mut before = " ".to_owned();
        let mut start = 0;
        for end in break_places(text) {
            let stretch = &text[start..end];
            start = end;
            let spaced = stretch.ends_with(' ') || end == text.len();
            let letters = stretch.trim_end_matches(' ');
            if letters.is_empty() {
                continue;
            }
            let next = if spaced { " " } else { last_cluster(letters) };
            let piece = Piece {
                before: std::mem::replace(&mut before, next.to_owned()),
                text: letters.to_owned(),
                spaced,
            };
            indices.extend(self.piece(piece, times));
        }
        self.run(indices);
    }

    /// The number of a piece, which occurs `times` more; `None` where there are too many.
    fn piece(&mut self, piece: Piece, times: u64) -> Option<u32> {
        let index = match self.known.get(&piece) {
            Some(index) => *index,
            None if self.pieces.len() >= MOST_WORDS => return None,
            None => {
                let index = self.pieces.len() as u32;
                self.known.insert(piece.clone(), index);
                self.pieces.push(piece);
                self.counts.push(0);
                index
            }
        };
        self.counts[index as usize] += times;
        Some(index)
    }

    /// A running paragraph of the pieces of these numbers, where it is not too much.
    fn run(&mut self, indices: Vec<u32>) {
        if self.running + indices.len() <= MOST_PIECES {
            self.running += indices.len();
            self.paragraphs.push(indices);
        }
    }

    /// What was cut, with its words and how often each occurs.
    fn sample(self, counts: HashMap<String, u64>) -> TextSample {
        let mut words: Vec<(String, u64)> = counts.into_iter().collect();
        words.sort_by(|a, b| b.1.cmp(&a.1).then_with(|| a.0.cmp(&b.0)));
        words.truncate(MOST_WORDS);
        TextSample {
            words,
            pieces: self.pieces,
            counts: self.counts,
            paragraphs: self.paragraphs,
        }
    }
}

/// Where lines of `text` may end, its end included.
fn break_places(text: &str) -> Vec<usize> {
    let segmenter = LineSegmenter::new_auto(LineBreakOptions::default());
    segmenter.segment_str(text).filter(|end| *end > 0).collect()
}

fn last_cluster(text: &str) -> &str {
    let (mut last, mut end) = (0, 0);
    for next in GraphemeClusterSegmenter::new().segment_str(text) {
        last = std::mem::replace(&mut end, next);
    }
    &text[last..]
}
