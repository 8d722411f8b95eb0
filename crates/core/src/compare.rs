//! Faces side by side: class, weight, heights, lines, widths on a text, what one
//! can write or do and another cannot, bytes.
//!
//! Widths compare with the first face, at the same font size and at the size
//! that makes both texts equally long.

use std::collections::{BTreeMap, BTreeSet};

use serde::Serialize;
use tidy_lattice_glyphs::font::{Body, Class, ClassJudgement, Face, LineMetrics, Names, Slope};
use tidy_lattice_glyphs::shaping::Shaper;
use tidy_lattice_glyphs::text::exemplars::Language;

use crate::describe::{
    Bytes, LanguageVerdict, LetterShape, Verdict, feature_does, judge_languages,
};
use tidy_lattice_standin::{TextSample, WidthFit, WidthFitter};

/// A face to compare.
pub struct Candidate<'a> {
    /// The face.
    pub face: &'a Face,
    /// What its file weighs; `None` where only a card is known.
    pub bytes: Option<Bytes>,
}

/// Faces side by side.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Comparison {
    /// The faces, in the order given.
    pub faces: Vec<ComparedFace>,
    /// Languages that some of the faces can write and others cannot.
    pub languages: Vec<LanguageDifference>,
    /// Features that some of the faces have and others lack.
    pub features: Vec<FeatureDifference>,
    /// The words whose widths differ most after scaling, of the text's most
    /// frequent ones.
    pub words: Vec<WordDifference>,
}

/// One face of a comparison.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct ComparedFace {
    /// What the face calls itself.
    pub names: Names,
    /// Whether only a card of the face is known.
    pub card: bool,
    /// The family that the card was made from, where it is another one of the
    /// same widths: characters, languages and features are that one's.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub measured_on: Option<String>,
    /// Whether nothing but the widths of its characters is known.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    pub only_widths: bool,
    /// Scripts (Unicode names) whose widths the card does not know.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub unknown_widths: Vec<String>,
    /// The class.
    pub class: Class,
    /// The weight on the scale of `font-weight`.
    pub weight: f32,
    /// The width as `font-stretch` counts it, in %.
    pub width: f32,
    /// The slope.
    pub slope: Slope,
    /// Height of `x`, in em.
    pub x_height: Option<f64>,
    /// Height of `H`, in em.
    pub cap_height: Option<f64>,
    /// The font size, in % of the first face's, at which `x` is as high as in
    /// the first face.
    pub size_for_x_height: Option<f64>,
    /// The vertical metrics that browsers use, in em; where their source is
    /// `not-known`, the values mean nothing.
    pub line: LineMetrics,
    /// The width of the text in em, over the words that the face has.
    pub text_width: f64,
    /// Words of the text, repeats included, that the face has.
    pub words_shown: u64,
    /// Widths against the first face; `None` where they share no word.
    pub fit: Option<WidthFit>,
    /// How many characters the face has.
    pub characters: u64,
    /// How many languages it can write.
    pub languages: u64,
    /// How many features it has; `null` where nobody looked.
    pub features: Option<u64>,
    /// Bytes; `None` where only a card is known.
    pub bytes: Option<Bytes>,
}

/// A language that the faces treat differently.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct LanguageDifference {
    /// The BCP 47 tag.
    pub tag: String,
    /// The English name.
    pub name: String,
    /// The verdict on each face, in their order.
    pub verdicts: Vec<Verdict>,
}

/// A feature that some faces lack.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct FeatureDifference {
    /// The tag.
    pub tag: String,
    /// What it does.
    pub does: String,
    /// Whether each face has it, in their order; `null` where nobody looked.
    pub has: Vec<Option<bool>>,
}

/// A word and its widths.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct WordDifference {
    /// The word.
    pub word: String,
    /// How often it occurs.
    pub count: u64,
    /// How much wider each face sets it than the first, in %, when scaled so
    /// that the whole text is equally long; `None` where the face lacks the word.
    pub wider: Vec<Option<f64>>,
}

/// How many of the most frequent words are looked at, and how many are told.
const WORDS: (usize, usize) = (120, 8);

/// Compares `candidates` on `sample`; languages are `asked` or all.
pub fn compare(
    candidates: Vec<Candidate<'_>>,
    sample: &TextSample,
    asked: Option<&[&'static Language]>,
) -> Comparison {
    let Some(first) = candidates.first().map(|candidate| candidate.face) else {
        return Comparison {
            faces: Vec::new(),
            languages: Vec::new(),
            features: Vec::new(),
            words: Vec::new(),
        };
    };
    let traits: Vec<Traits> = candidates
        .iter()
        .map(|c| Traits::of(c.face, asked))
        .collect();
    let fitter = WidthFitter::new(first, sample);
    let fits: Vec<Option<WidthFit>> = candidates.iter().map(|c| fitter.fit(c.face)).collect();
    let first_x = traits[0].x_height;
    let words = words(&candidates, &fits, sample);
    let languages = languages(&traits);
    let features = features(&traits);
    let faces = candidates
        .into_iter()
        .zip(traits)
        .zip(fits)
        .map(|((Candidate { face, bytes }, traits), fit)| {
            let (text_width, words_shown) = text_width(face, sample);
            let card = match face.body() {
                Body::Card(card) => Some(card.card()),
                Body::Font(_) => None,
            };
            ComparedFace {
                names: face.names().clone(),
                card: card.is_some(),
                only_widths: face.only_widths(),
                measured_on: card.and_then(|card| card.measured_on.clone()),
                unknown_widths: card.map_or_else(Vec::new, |card| card.unknown_widths.clone()),
                class: traits.class,
                weight: face.weight(),
                width: face.width(),
                slope: face.slope(),
                x_height: traits.x_height,
                cap_height: traits.cap_height,
                size_for_x_height: (first_x.zip(traits.x_height))
                    .map(|(first, second)| (first / second * 10_000.0).round() / 100.0),
                line: face.line(),
                text_width,
                words_shown,
                fit,
                characters: face.characters().len(),
                languages: traits.languages.iter().filter(|l| l.writes).count() as u64,
                features: traits.features.as_ref().map(|tags| tags.len() as u64),
                bytes,
            }
        })
        .collect();
    Comparison {
        faces,
        languages,
        features,
        words,
    }
}

/// What comparing needs to know of a face.
struct Traits {
    class: Class,
    x_height: Option<f64>,
    cap_height: Option<f64>,
    features: Option<BTreeSet<String>>,
    languages: Vec<LanguageVerdict>,
}

impl Traits {
    fn of(face: &Face, asked: Option<&[&'static Language]>) -> Self {
        let shape = LetterShape::of(face);
        Traits {
            class: ClassJudgement::of(face),
            x_height: shape.x_height,
            cap_height: shape.cap_height,
            features: face.knows_features().then(|| face.feature_tags()),
            languages: judge_languages(face, asked),
        }
    }
}

fn text_width(face: &Face, sample: &TextSample) -> (f64, u64) {
    let mut shaper = Shaper::new(face);
    let (mut width, mut shown) = (0.0, 0);
    for (word, count) in sample.words() {
        if word.chars().all(|c| face.maps(c)) && shaper.knows_width(word) {
            width += shaper.width(&format!("{word} ")) * *count as f64;
            shown += count;
        }
    }
    ((width * 1000.0).round() / 1000.0, shown)
}

fn languages(traits: &[Traits]) -> Vec<LanguageDifference> {
    let first = &traits[0].languages;
    let rows = first.iter().enumerate().map(|(index, language)| {
        let verdicts: Vec<Verdict> = traits
            .iter()
            .map(|traits| traits.languages[index].verdict)
            .collect();
        LanguageDifference {
            tag: language.tag.clone(),
            name: language.name.clone(),
            verdicts,
        }
    });
    rows.filter(|row| {
        let complete = row.verdicts.iter().filter(|v| v.writes());
        (1..row.verdicts.len()).contains(&complete.count())
    })
    .collect()
}

fn features(traits: &[Traits]) -> Vec<FeatureDifference> {
    let known = traits.iter().map(|face| face.features.as_ref());
    let none: Vec<Option<bool>> = known.clone().map(|tags| tags.map(|_| false)).collect();
    let mut has: BTreeMap<&str, Vec<Option<bool>>> = BTreeMap::new();
    for (index, tags) in known.enumerate() {
        for tag in tags.into_iter().flatten() {
            has.entry(tag).or_insert_with(|| none.clone())[index] = Some(true);
        }
    }
    has.into_iter()
        .filter(|(_, has)| has.contains(&Some(false)))
        .map(|(tag, has)| FeatureDifference {
            tag: tag.to_owned(),
            does: feature_does(tag),
            has,
        })
        .collect()
}

/// The words that differ most from the first face after scaling.
fn words(
    candidates: &[Candidate<'_>],
    fits: &[Option<WidthFit>],
    sample: &TextSample,
) -> Vec<WordDifference> {
    let widths: Vec<Vec<Option<f64>>> = candidates
        .iter()
        .map(|candidate| {
            let mut shaper = Shaper::new(candidate.face);
            let words = sample.words().iter().take(WORDS.0);
            words
                .map(|(word, _)| {
                    let shown = word.chars().all(|c| candidate.face.maps(c));
                    (shown && shaper.knows_width(word)).then(|| shaper.width(word))
                })
                .collect()
        })
        .collect();
    let rows = sample.words().iter().take(WORDS.0).enumerate();
    let mut rows: Vec<WordDifference> = rows
        .filter_map(|(index, (word, count))| {
            let first = widths[0][index].filter(|width| *width > 0.0)?;
            let wider = widths.iter().zip(fits).map(|(widths, fit)| {
                let factor = fit.as_ref()?.size_adjust / 100.0;
                Some(((widths[index]? * factor / first - 1.0) * 10_000.0).round() / 100.0)
            });
            Some(WordDifference {
                word: word.clone(),
                count: *count,
                wider: wider.collect(),
            })
        })
        .collect();
    // Words of one or two letters differ most and tell least.
    rows.retain(|row| row.word.chars().count() > 2);
    let most = |row: &WordDifference| {
        row.wider
            .iter()
            .flatten()
            .fold(0.0, |m: f64, w| m.max(w.abs()))
    };
    rows.sort_by(|a, b| {
        most(b)
            .total_cmp(&most(a))
            .then_with(|| a.word.cmp(&b.word))
    });
    rows.truncate(WORDS.1);
    rows.retain(|row| most(row) > 0.0);
    rows
}
