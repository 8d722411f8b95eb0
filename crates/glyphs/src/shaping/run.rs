//! Stretches of text of one face, script and direction, shaped once and measured
//! in parts.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};

use harfrust::{Direction, Language, ShaperFont};

use super::engine::{Engine, Segment, feature, script};
use super::slices::by_slice;
use crate::font::{Body, Face};

/// How a run is shaped.
#[derive(Debug, Clone, PartialEq, Eq, Hash, Default)]
pub struct RunStyle {
    /// The ISO 15924 code of the script; `None` where no letter tells.
    pub script: Option<[u8; 4]>,
    /// Whether it runs from right to left.
    pub rtl: bool,
    /// The BCP 47 language.
    pub language: Option<Arc<str>>,
    /// Features by tag with values; 0 turns one off.
    pub features: Arc<Vec<(String, u32)>>,
    /// The slice of a face that is several files; 0 for all others.
    pub slice: usize,
}

/// A shaped run.
#[derive(Debug, Default)]
pub struct ShapedRun {
    /// The byte that each cluster starts at, in the order of the text, and the
    /// length of the text.
    starts: Vec<u32>,
    /// How far the pen moves before each cluster and at the end, in font units.
    pens: Vec<f64>,
    /// Whether the text may be cut before each cluster without changing how
    /// either side is shaped.
    safe: Vec<bool>,
}

impl ShapedRun {
    /// The clusters: where each starts.
    pub fn clusters(&self) -> &[u32] {
        self.starts.split_last().map_or(&[], |(_, starts)| starts)
    }

    fn place(&self, byte: usize) -> usize {
        let byte = u32::try_from(byte).unwrap_or(u32::MAX);
        self.starts.partition_point(|start| *start < byte)
    }

    /// How far the pen is before `byte`, in font units, were nothing cut.
    pub fn pen(&self, byte: usize) -> f64 {
        let place = self.place(byte).min(self.pens.len().saturating_sub(1));
        self.pens.get(place).copied().unwrap_or_default()
    }
}

/// Shapes runs of one face, each text once.
pub struct RunShaper {
    face: Arc<Face>,
    engine: Engine<RunStyle>,
    known: HashMap<RunStyle, HashMap<Box<str>, Arc<ShapedRun>>>,
}

/// The shapers of all faces.
#[derive(Default)]
pub struct Shapers(Mutex<HashMap<usize, Arc<Mutex<RunShaper>>>>);

impl Shapers {
    /// The shaper of `face`.
    pub fn of(&self, face: &Arc<Face>) -> Arc<Mutex<RunShaper>> {
        // What a shaper knows stays right wherever a thread stopped.
        let mut known = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        // The shaper keeps its face, so that no other ever has its address.
        known
            .entry(Arc::as_ptr(face).addr())
            .or_insert_with(|| Arc::new(Mutex::new(RunShaper::new(face.clone()))))
            .clone()
    }
}

impl RunShaper {
    /// A shaper for `face`.
    pub fn new(face: Arc<Face>) -> Self {
        RunShaper {
            face,
            engine: Engine::new(),
            known: HashMap::new(),
        }
    }

    /// The face.
    pub fn face(&self) -> &Arc<Face> {
        &self.face
    }

    /// `text`, shaped.
    pub fn shape(&mut self, text: &str, style: &RunStyle) -> Arc<ShapedRun> {
        if let Some(known) = self.known.get(style).and_then(|texts| texts.get(text)) {
            return known.clone();
        }
        let face = self.face.clone();
        let shaped = Arc::new(match face.body() {
            _ if !face.slices().is_empty() => self.shape_slices(&face, text, style),
            Body::Font(font) => self.shape_font(font, text, style),
            Body::Card(card) => by_words(text, |part| card.units(part) as f64),
        });
        self.known
            .entry(style.clone())
            .or_default()
            .insert(text.into(), shaped.clone());
        shaped
    }

    /// The width of the part from byte `start` to before `end` of `text`, set by
    /// itself, in font units.
    pub fn part(
        &mut self,
        text: &str,
        shaped: &ShapedRun,
        (start, end): (usize, usize),
        style: &RunStyle,
    ) -> f64 {
        if start >= end {
            return 0.0;
        }
        let (from, to) = (shaped.place(start), shaped.place(end));
        let is_safe = |place: usize| shaped.safe.get(place).copied().unwrap_or(true);
        let whole = |from: usize, to: usize| shaped.pens[to] - shaped.pens[from];
        if is_safe(from) && is_safe(to) {
            return whole(from, to);
        }
        // Only the stretches between a cut and the nearest place where cutting
        // changes nothing are shaped anew.
        let first = (from..=to).find(|place| is_safe(*place));
        let last = (from..=to).rev().find(|place| is_safe(*place));
        match (first, last) {
            (Some(first), Some(last)) if first < last => {
                let byte = |place: usize| shaped.starts[place] as usize;
                let mut width = whole(first, last);
                if first > from {
                    width += self.alone(&text[start..byte(first)], style);
                }
                if last < to {
                    width += self.alone(&text[byte(last)..end], style);
                }
                width
            }
            _ => self.alone(&text[start..end], style),
        }
    }

    /// The advance of a character by itself, in font units.
    pub fn advance(&mut self, character: char) -> f64 {
        self.alone(character.encode_utf8(&mut [0; 4]), &RunStyle::default())
    }

    fn alone(&mut self, text: &str, style: &RunStyle) -> f64 {
        let shaped = self.shape(text, style);
        shaped.pens.last().copied().unwrap_or_default()
    }

    /// The runs of the slices one behind the other; what two slices show can be cut
    /// apart.
    fn shape_slices(&mut self, face: &Face, text: &str, style: &RunStyle) -> ShapedRun {
        let mut run = ShapedRun::default();
        let (mut start, mut pen) = (0, 0.0);
        for (number, part) in by_slice(face, text) {
            let Body::Font(font) = face.slices()[number].face.body() else {
                continue;
            };
            let keyed = RunStyle {
                slice: number,
                ..style.clone()
            };
            let shaped = self.shape_font(font, part, &keyed);
            let offset = u32::try_from(start).unwrap_or(u32::MAX);
            let clusters = shaped.clusters().len();
            run.starts
                .extend(shaped.clusters().iter().map(|at| at + offset));
            run.pens
                .extend(shaped.pens.iter().take(clusters).map(|x| x + pen));
            run.safe.extend(shaped.safe.iter().take(clusters));
            pen += shaped.pens.last().copied().unwrap_or_default();
            start += part.len();
        }
        run.starts
            .push(u32::try_from(text.len()).unwrap_or(u32::MAX));
        run.pens.push(pen);
        run.safe.push(true);
        run
    }

    fn shape_font(&mut self, font: &harfrust::Font, text: &str, style: &RunStyle) -> ShapedRun {
        let font = ShaperFont::new(font);
        let features = style.features.iter();
        let segment = Segment {
            script: style
                .script
                .as_ref()
                .and_then(|tag| script(std::str::from_utf8(tag).ok()?)),
            direction: Some(if style.rtl {
                Direction::RightToLeft
            } else {
                Direction::LeftToRight
            }),
            language: style.language.as_deref().and_then(Language::new),
            features: features
                .filter_map(|(tag, value)| feature(tag, *value))
                .collect(),
        };
        let key = |_, _| Some(style.clone());
        let Some(shaped) = self.engine.shape(&font, text, &segment, key) else {
            return by_words(text, |_| 0.0);
        };
        let mut clusters: Vec<(u32, f64, bool)> = Vec::new();
        let infos = shaped.glyph_infos().iter();
        for (info, position) in infos.zip(shaped.glyph_positions()) {
            let advance = f64::from(position.x_advance);
            match clusters.last_mut() {
                Some((start, width, safe)) if *start == info.cluster => {
                    *width += advance;
                    *safe &= !info.unsafe_to_break();
                }
                _ => clusters.push((info.cluster, advance, !info.unsafe_to_break())),
            }
        }
        clusters.sort_by_key(|(start, ..)| *start);
        let mut run = ShapedRun::default();
        let mut pen = 0.0;
        for (start, width, safe) in clusters {
            run.starts.push(start);
            run.pens.push(pen);
            run.safe.push(safe || start == 0);
            pen += width;
        }
        run.starts
            .push(u32::try_from(text.len()).unwrap_or(u32::MAX));
        run.pens.push(pen);
        run.safe.push(true);
        run
    }
}

/// A run of which only the widths of whole words are known: each word with the
/// blanks before it is one step, its letters share the width.
fn by_words(text: &str, units: impl Fn(&str) -> f64) -> ShapedRun {
    let mut run = ShapedRun::default();
    let mut pen = 0.0;
    let mut start = 0;
    let blank = units(" ");
    let bytes = text.len();
    let mut ends: Vec<usize> = text
        .char_indices()
        .filter(|(at, c)| *c == ' ' && *at > 0)
        .map(|(at, _)| at)
        .collect();
    ends.push(bytes);
    for end in ends {
        let part = &text[start..end];
        let width = if part.starts_with(' ') && part.len() > 1 {
            // Kerned with the blanks on both sides.
            let closing = if end < bytes { blank } else { 0.0 };
            let with = if end < bytes {
                format!("{part} ")
            } else {
                part.to_owned()
            };
            units(&with) - closing
        } else {
            units(part)
        };
        let mut letters: Vec<usize> = part.char_indices().map(|(at, _)| at).collect();
        let led = part.starts_with(' ') && letters.len() > 1;
        let mut rest = width;
        if led {
            run.starts.push(start as u32);
            run.pens.push(pen);
            run.safe.push(true);
            letters.remove(0);
            rest -= blank;
        }
        let from = pen + if led { blank } else { 0.0 };
        let step = rest / letters.len().max(1) as f64;
        for (number, at) in letters.iter().enumerate() {
            run.starts.push((start + at) as u32);
            run.pens.push(from + step * number as f64);
            run.safe.push(true);
        }
        pen += width;
        start = end;
    }
    run.starts.push(bytes as u32);
    run.pens.push(pen);
    run.safe.push(true);
    run
}
