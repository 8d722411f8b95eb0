//! The faces that a style sets its text in, and which of them sets which cluster.

use std::cell::RefCell;
use std::collections::HashMap;
use std::sync::{Arc, PoisonError};

use tidy_lattice_coverage::lattice::{Adjusted, Candidate, Judge, Presentation};
use tidy_lattice_documents::page::{LineHeight, TextStyle};
use tidy_lattice_documents::style::read::FontUnits;
use tidy_lattice_glyphs::font::{CharacterSet, Face, LineSource};
use tidy_lattice_glyphs::shaping::Shapers;
use tidy_lattice_glyphs::text::is_shown;

use crate::{Engine, LineParts};

/// A face as a style uses it.
#[derive(Clone)]
pub struct Typeface {
    /// The face.
    pub face: Arc<Face>,
    /// How its rule resizes and re-measures it.
    pub adjusted: Adjusted,
}

/// The faces of a style on one device, in the order in which they are tried; all of
/// them are measured.
pub struct StyleFaces<'a> {
    style: &'a TextStyle,
    candidates: &'a [Candidate],
    /// How many of the candidates the style asks for; what is behind them is what
    /// the browser turns to by itself.
    asked: usize,
    judge: RefCell<Judge<'a>>,
    known: RefCell<HashMap<char, Option<usize>>>,
    primary: Option<usize>,
    features: Arc<Vec<(String, u32)>>,
    /// For each candidate, whether small capitals are made of large ones.
    fakes_capitals: Vec<bool>,
    /// For each candidate, whether its substitutions look at spaces, once asked.
    minds_spaces: RefCell<HashMap<usize, bool>>,
}

impl<'a> StyleFaces<'a> {
    /// The faces of `style`; only the first `asked` are named by it.
    pub fn new(style: &'a TextStyle, candidates: &'a [Candidate], asked: usize) -> Self {
        let has_space = |candidate: &Candidate| {
            let range = candidate.range.as_ref();
            candidate.face.is_some() && range.is_none_or(|range| range.contains(u32::from(' ')))
        };
        let primary = candidates.iter().position(has_space);
        let small = asked_capitals(style);
        let fakes_capitals = candidates
            .iter()
            .map(|candidate| {
                // Installed families hardly ever have small capitals: where nobody looked,
                // they are taken to be made of large ones.
                let tags = candidate.face.as_ref().map(|face| face.feature_tags());
                small && tags.is_none_or(|tags| !tags.contains("smcp"))
            })
            .collect();
        StyleFaces {
            style,
            candidates,
            asked,
            judge: RefCell::new(Judge::new(candidates)),
            known: RefCell::default(),
            primary,
            features: Arc::new(features(style)),
            fakes_capitals,
            minds_spaces: RefCell::default(),
        }
    }

    /// The style.
    pub fn style(&self) -> &'a TextStyle {
        self.style
    }

    /// The features that it shapes with.
    pub fn features(&self) -> &Arc<Vec<(String, u32)>> {
        &self.features
    }

    /// The first face that counts for lines: the first with a space (CSS Fonts 4,
    /// §5.3, "first available font").
    pub fn primary(&self) -> Option<Typeface> {
        self.primary.and_then(|number| self.typeface(number))
    }

    /// The face `number`; nothing where it is known by name only.
    pub fn typeface(&self, number: usize) -> Option<Typeface> {
        let candidate = self.candidates.get(number)?;
        Some(Typeface {
            face: candidate.face.clone()?,
            adjusted: candidate.adjusted,
        })
    }

    /// What units of the first face come to in this style, in px.
    pub fn units(&self, shapers: &Shapers) -> FontUnits {
        let half = self.style.size * 0.5;
        let Some(typeface) = self.primary() else {
            return FontUnits { ch: half, ex: half };
        };
        let face = &typeface.face;
        let px = self.style.size * typeface.adjusted.size;
        let zero = face.maps('0').then(|| {
            let advance = shapers
                .of(face)
                .lock()
                .unwrap_or_else(PoisonError::into_inner)
                .advance('0');
            advance as f32 / f32::from(face.units_per_em()) * px
        });
        FontUnits {
            ch: zero.unwrap_or(half),
            ex: face.x_height().map_or(half, |em| em as f32 * px),
        }
    }

    /// What Firefox takes for the average width of letters, in px: the average of the first
    /// face (OS/2 `xAvgCharWidth`) in whole px, or a zero where that is wider.
    pub fn average_in_firefox(&self, shapers: &Shapers) -> f64 {
        let zero = f64::from(self.units(shapers).ch);
        let Some(typeface) = self.primary() else {
            return zero;
        };
        let size = f64::from(typeface.adjusted.size) * f64::from(self.style.size);
        let average = typeface.face.average_width().unwrap_or_default() * size;
        average.round().max(zero)
    }

    /// The number of the first face that counts for lines.
    pub fn primary_number(&self) -> Option<usize> {
        self.primary
    }

    /// Whether the style names the face `number`.
    pub fn is_asked(&self, number: usize) -> bool {
        number < self.asked
    }

    /// Whether the face `number` has `character`.
    pub fn has(&self, number: usize, character: char) -> bool {
        let face = self.candidates[number].face.as_ref();
        face.is_some_and(|face| face.maps(character))
    }

    /// Whether it is known how high lines of the face `number` are: measured of itself, or
    /// stated by its rule, or in the style.
    pub fn knows_lines(&self, number: usize) -> bool {
        let candidate = &self.candidates[number];
        let adjusted = &candidate.adjusted;
        let specified = [adjusted.ascent, adjusted.descent, adjusted.line_gap];
        let face = candidate.face.as_ref();
        self.style.line_height != LineHeight::Normal
            || specified.iter().all(Option::is_some)
            || face.is_none_or(|face| face.line().source != LineSource::NotKnown)
    }

    /// The PostScript name of the face `number`, by which browsers' tools call it.
    pub fn postscript(&self, number: usize) -> Option<&str> {
        self.candidates[number].postscript.as_deref()
    }

    /// What the face is called.
    pub fn name(&self, number: usize) -> &str {
        &self.candidates[number].name
    }

    /// Whether the browser thickens the face `number`.
    pub fn fakes_bold(&self, number: usize) -> bool {
        self.candidates[number].faked.bold
    }

    /// Whether small capitals of the face `number` are large ones, set small.
    pub fn fakes_capitals(&self, number: usize) -> bool {
        self.fakes_capitals.get(number).copied().unwrap_or(false)
    }

    /// Whether substitutions of the face `number` look at spaces.
    pub fn minds_spaces(&self, number: usize) -> bool {
        let face = self
            .candidates
            .get(number)
            .and_then(|one| one.face.as_ref());
        let mut known = self.minds_spaces.borrow_mut();
        *known
            .entry(number)
            .or_insert_with(|| face.is_some_and(|face| face.minds_spaces()))
    }

    /// The face that has `cluster`, by its number; nothing where none does.
    pub fn serve(&self, cluster: &str) -> Option<usize> {
        let mut characters = cluster.chars();
        let single = match (characters.next(), characters.next()) {
            (Some(only), None) => Some(only),
            _ => None,
        };
        if let Some(only) = single
            && let Some(known) = self.known.borrow().get(&only)
        {
            return *known;
        }
        let mut judge = self.judge.borrow_mut();
        let served = if cluster.chars().any(is_shown) {
            let served = judge.serve_briefly(cluster, Presentation::Normal);
            served.by.or(served.base_by)
        } else {
            judge.serve_blank(cluster)
        };
        if let Some(only) = single {
            self.known.borrow_mut().insert(only, served);
        }
        served
    }

    /// The face that draws a box for what no face has, by its number, in a run of one script:
    /// the first that Chromium looks into for the run, as its range holds some of it.
    pub fn boxes(&self, run: &str) -> Option<usize> {
        let looked_into = |candidate: &Candidate| {
            let range = candidate.range.as_ref();
            let some = |range: &CharacterSet| run.chars().any(|c| range.contains(u32::from(c)));
            candidate.face.is_some() && range.is_none_or(some)
        };
        let first = self.candidates.iter().position(looked_into);
        first.or(self.primary)
    }

    /// What the face `number` gives to a line.
    pub fn line_parts(&self, engine: Engine, number: usize) -> LineParts {
        match self.typeface(number) {
            Some(typeface) => {
                engine.line_parts(&typeface.face, &typeface.adjusted, self.style.size)
            }
            None => LineParts::default(),
        }
    }
}

fn asked_capitals(style: &TextStyle) -> bool {
    style.variants.iter().any(|(property, words)| {
        property == "font-variant-caps" && words.iter().any(|word| word == "small-caps")
    })
}

/// The features that a style turns on and off.
fn features(style: &TextStyle) -> Vec<(String, u32)> {
    let mut features: Vec<(String, u32)> = Vec::new();
    let mut put = |tag: &str, value: u32| {
        features.retain(|(known, _)| known != tag);
        features.push((tag.to_owned(), value));
    };
    if style.kerning == "none" {
        put("kern", 0);
    }
    // Letters that are set apart do not join (CSS Text 4, §8.2).
    if style.letter_spacing != 0.0 {
        put("liga", 0);
        put("clig", 0);
    }
    for (property, words) in &style.variants {
        if property != "font-variant-ligatures" {
            continue;
        }
        for word in words {
            match word.as_str() {
                "none" => ["liga", "clig", "dlig", "hlig", "calt"]
                    .iter()
                    .for_each(|tag| put(tag, 0)),
                "no-common-ligatures" => ["liga", "clig"].iter().for_each(|tag| put(tag, 0)),
                "no-contextual" => put("calt", 0),
                _ => {}
            }
        }
    }
    for (tag, _) in style.asked_features() {
        put(&tag, 1);
    }
    for (tag, value) in &style.features {
        put(tag, *value);
    }
    features.sort();
    features
}
