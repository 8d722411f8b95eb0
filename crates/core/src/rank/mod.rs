//! Candidates for a fallback, closest first: how near each is to the web font in
//! class, build, widths and lines on the user's own text, and what it covers.

mod reason;
mod score;
mod suited;

use serde::Serialize;

pub use self::score::{Part, Parts, Weights};

use tidy_lattice_glyphs::font::{Body, Class, ClassJudgement, Face, Names, Slope};
use tidy_lattice_glyphs::text::exemplars::Language;

use crate::describe::{LetterShape, judge_languages};
use tidy_lattice_standin::{FitOptions, Fitting, WidthsOfStandIn};

/// A face that may stand in.
pub struct Candidate<'a> {
    /// The face.
    pub face: &'a Face,
    /// The platforms that have it.
    pub platforms: Vec<String>,
}

/// What candidates are held against.
pub struct Ranking<'a> {
    web: &'a Face,
    shape: LetterShape,
    class: Class,
    fitting: &'a Fitting<'a>,
    fit: FitOptions,
    weights: Weights,
    features: Vec<String>,
    languages: Option<Vec<(String, &'static Language)>>,
    /// The script of most of the text.
    script: Option<String>,
    /// The factor up to which Firefox makes lines as high as the web font's.
    room: Option<f64>,
}

/// One candidate, measured.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Ranked {
    /// What it calls itself.
    pub names: Names,
    /// The platforms that have it.
    pub platforms: Vec<String>,
    /// Whether only a card of it is known.
    pub card: bool,
    /// Its place from 1; `None` where it is rejected.
    pub place: Option<u32>,
    /// 0 to 100: the weighted mean of the parts.
    pub score: f64,
    /// The parts of the score.
    pub parts: Parts,
    /// Why it stands where it does, in words.
    pub reason: String,
    /// Whether it cannot serve at all.
    pub rejected: bool,
    /// What it is made for in place of running text of the script, where it is; such a face
    /// does not stand in even where nothing else is there.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub made_for: Option<String>,
    /// Its class.
    pub class: Class,
    /// Its weight on the scale of `font-weight`.
    pub weight: f32,
    /// Its slope.
    pub slope: Slope,
    /// Heights and strokes in em.
    pub shape: LetterShape,
    /// Its x-height against the web font's at equal size; 1 is equal.
    pub x_height_ratio: Option<f64>,
    /// The same once resized to the web font's widths.
    pub x_height_ratio_fitted: Option<f64>,
    /// Its cap height against the web font's once resized.
    pub cap_height_ratio_fitted: Option<f64>,
    /// Its stem against the web font's once resized.
    pub stem_ratio_fitted: Option<f64>,
    /// Its widths on the text, resized by one factor; `None` where it shares no
    /// word with the web font.
    pub widths: Option<WidthsOfStandIn>,
    /// Languages that the web font writes (tags), and whether it does too.
    pub languages_kept: Vec<String>,
    /// Languages that it would lose.
    pub languages_lost: Vec<String>,
    /// Features of the web font that it has too.
    pub features_kept: Vec<String>,
    /// Features that would be lost until the web font arrives.
    pub features_lost: Vec<String>,
    /// Characters of the text that it has and the web font lacks.
    pub gained: Vec<char>,
}

impl<'a> Ranking<'a> {
    /// A ranking of fallbacks for `web`, measured on the text of `fitting`;
    /// `languages` are those that matter.
    pub fn new(
        web: &'a Face,
        fitting: &'a Fitting<'a>,
        languages: Option<&[&'static Language]>,
        weights: Weights,
    ) -> Self {
        let written = languages.map(|asked| {
            let verdicts = judge_languages(web, Some(asked));
            let both = verdicts.into_iter().zip(asked);
            both.filter(|(verdict, _)| verdict.writes)
                .map(|(verdict, language)| (verdict.tag, *language))
                .collect()
        });
        Ranking {
            web,
            shape: shape_of(web),
            class: ClassJudgement::of(web),
            fitting,
            fit: FitOptions::default(),
            weights,
            features: web.feature_tags().into_iter().collect(),
            languages: written,
            script: suited::script_of(fitting, web),
            room: None,
        }
    }

    /// Minds that lines are as high as the web font's up to the factor `room` only, as
    /// Firefox makes none lower than the em.
    #[must_use]
    pub fn with_room(self, room: f64) -> Self {
        Ranking {
            room: Some(room),
            ..self
        }
    }

    /// Measures `candidate`.
    pub fn measure(&self, candidate: &Candidate<'_>) -> Ranked {
        let face = candidate.face;
        let shape = shape_of(face);
        let class = ClassJudgement::of(face);
        let script = self.script.as_deref();
        let made_for = script.and_then(|script| suited::made_for_other(face, class, script));
        let widths = self.fitting.fit(face, &self.fit);
        let factor = widths.as_ref().map(|w| w.mean_size_adjust() / 100.0);
        let ratio = |value: Option<f64>, web: Option<f64>| {
            Some(round(value? / web.filter(|web| *web > 0.0)?))
        };
        let fitted = |value: Option<f64>, web| ratio(Some(value? * factor?), web);
        let has = face.feature_tags();
        // Of features that nobody looked for, nothing is said.
        let asked = self.features.iter().filter(|_| face.knows_features());
        let (features_kept, features_lost) = asked.cloned().partition(|tag| has.contains(tag));
        let (languages_kept, languages_lost) = self.languages(face);
        let mut ranked = Ranked {
            names: face.names().clone(),
            platforms: candidate.platforms.clone(),
            card: face.is_card(),
            place: None,
            score: 0.0,
            parts: Parts::default(),
            reason: String::new(),
            rejected: false,
            made_for,
            class,
            weight: face.weight(),
            slope: face.slope(),
            x_height_ratio: ratio(shape.x_height, self.shape.x_height),
            x_height_ratio_fitted: fitted(shape.x_height, self.shape.x_height),
            cap_height_ratio_fitted: fitted(shape.cap_height, self.shape.cap_height),
            stem_ratio_fitted: fitted(shape.stem, self.shape.stem),
            shape,
            widths,
            languages_kept,
            languages_lost,
            features_kept,
            features_lost,
            gained: self.gained(face),
        };
        ranked.parts = self.parts(&ranked);
        ranked.score = ranked.parts.score(&self.weights);
        let far = || reason::far_and_unknown(face, &ranked);
        if let Some(why) = self.why_not(&ranked).or_else(far) {
            ranked.rejected = true;
            ranked.reason = why;
        }
        ranked
    }

    /// Scores candidates against each other: a part that is not known of one neither wins
    /// nor loses, but counts as it does for the others in the mean.
    pub fn settle<'r>(&self, ranked: impl IntoIterator<Item = &'r mut Ranked>) {
        let mut ranked: Vec<&mut Ranked> = ranked.into_iter().collect();
        let serving = ranked.iter().filter(|one| !one.rejected);
        let usual = Parts::mean(serving.map(|one| &one.parts));
        for one in &mut ranked {
            one.score = one.parts.score_among(&usual, &self.weights);
        }
    }

    /// Puts measured candidates in order, closest first, the rejected ones last,
    /// and says why.
    pub fn order(&self, mut ranked: Vec<Ranked>) -> Vec<Ranked> {
        self.settle(&mut ranked);
        ranked.sort_by(|a, b| {
            a.rejected
                .cmp(&b.rejected)
                .then(b.score.total_cmp(&a.score))
                .then_with(|| a.names.label().cmp(&b.names.label()))
        });
        let accepted = ranked
            .iter()
            .filter(|candidate| !candidate.rejected)
            .count();
        for place in 0..accepted {
            ranked[place].place = Some(place as u32 + 1);
            let next = ranked.get(place + 1).filter(|next| !next.rejected).cloned();
            ranked[place].reason = if place == 0 {
                self.why_first(&ranked[0], next.as_ref())
            } else {
                let first = ranked[0].clone();
                self.why_behind(&ranked[place], &first)
            };
        }
        ranked
    }

    /// The web font's class.
    pub fn class(&self) -> Class {
        self.class
    }

    /// The web font's letters.
    pub fn shape(&self) -> LetterShape {
        self.shape
    }

    fn languages(&self, face: &Face) -> (Vec<String>, Vec<String>) {
        let Some(asked) = &self.languages else {
            return (Vec::new(), Vec::new());
        };
        let languages: Vec<_> = asked.iter().map(|(_, language)| *language).collect();
        let verdicts = judge_languages(face, Some(&languages));
        let (kept, lost): (Vec<_>, Vec<_>) = verdicts.into_iter().partition(|v| v.writes);
        let tags = |verdicts: Vec<crate::describe::LanguageVerdict>| {
            verdicts.into_iter().map(|verdict| verdict.tag).collect()
        };
        (tags(kept), tags(lost))
    }

    fn gained(&self, face: &Face) -> Vec<char> {
        let mut gained: Vec<char> = self
            .fitting
            .characters()
            .into_iter()
            .filter(|c| !self.web.maps(*c) && face.maps(*c))
            .collect();
        gained.sort_unstable();
        gained
    }
}

/// The letters of a face; nothing is known of those of a card that was measured on another
/// face of the same widths.
fn shape_of(face: &Face) -> LetterShape {
    match face.body() {
        Body::Card(card) if card.card().measured_on.is_some() => LetterShape::default(),
        _ => LetterShape::of(face),
    }
}

/// To three decimals.
fn round(ratio: f64) -> f64 {
    (ratio * 1000.0).round() / 1000.0
}
