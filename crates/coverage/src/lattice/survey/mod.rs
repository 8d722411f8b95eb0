//! The lattice of a whole project: every text with the stack and style that it is
//! set in, on every device.
//!
//! Texts come in buckets: clusters of one source, role, language and style. For
//! each the stack is resolved on each device ([`super::resolve`]) and every
//! cluster judged ([`super::Judge`]); results are put together by stack (sets), by
//! cluster (gaps), by face, by feature and by source.

mod cost;
mod faces;
mod features;
mod gaps;
mod needs;
mod sets;

pub use cost::{FontCost, TextCost};
pub use faces::FaceUse;
pub use features::FeatureLack;
pub use gaps::{Allowed, SurveyGap};
pub use needs::{NeededCluster, RoleNeed, needs};
pub use sets::{EntryShare, SetCoverage, SetDevice, SetRow};

use std::collections::{HashMap, HashSet};

use rayon::prelude::*;
use serde::Serialize;
use tidy_lattice_documents::page::TextStyle;

use super::serve::{GapCause, cause};
use super::serving::{Judge, Presentation};
use super::stack::{Arrival, Fonts, Request, RequestKey, Resolved, WebFace, resolve};
use crate::need::{ClusterNeed, Need};
use crate::platform::Device;

/// Clusters of one source, role, language and style.
#[derive(Debug, Clone)]
pub struct Bucket {
    /// The file or page.
    pub source: String,
    /// What the text is for.
    pub role: String,
    /// The language; `None` where it is not known.
    pub language: Option<String>,
    /// The style, by its number in [`Survey::styles`].
    pub style: usize,
    /// The `@font-face` rules that hold, by their number in [`Survey::web`].
    pub web: usize,
    /// The first element of the page that has it, as a short selector.
    pub element: Option<String>,
    /// What must show.
    pub need: Need,
}

/// All texts of a project and how they are set.
#[derive(Default)]
pub struct Survey {
    /// Styles.
    pub styles: Vec<TextStyle>,
    /// Sets of `@font-face` rules.
    pub web: Vec<Vec<WebFace>>,
    /// Those of these sets that style sheets on the network may add to.
    pub hosted: HashSet<usize>,
    /// Texts.
    pub buckets: Vec<Bucket>,
    /// Gaps that are known and accepted.
    pub allowed: Vec<Allowed>,
    /// Faces that might fill gaps, with their names.
    pub known: Vec<(String, tidy_lattice_glyphs::font::Face)>,
}

/// What came of it.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Surveyed {
    /// Clusters that show something, repeats included.
    pub clusters: u64,
    /// Clusters, repeats included, that fall through on some device and are not
    /// allowed to.
    pub gap_clusters: u64,
    /// The same for those that are allowed.
    pub allowed_clusters: u64,
    /// Devices, by their short names.
    pub platforms: Vec<String>,
    /// What falls through or is drawn wrongly, most frequent first.
    pub gaps: Vec<SurveyGap>,
    /// What no font of a stack has, but the system shows by itself.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub left: Vec<SurveyGap>,
    /// Whether a style sheet that may define families lies on the network and was not
    /// read, so that this is not all.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    pub open: bool,
    /// One lattice a stack.
    pub sets: Vec<SetCoverage>,
    /// What font matching picks for each weight and style in use.
    pub faces: Vec<FaceUse>,
    /// Features that are asked for where the font has none.
    pub features: Vec<FeatureLack>,
    /// How many fonts each text touches.
    pub texts: Vec<TextCost>,
}

/// What decides over the fonts of a bucket on a device.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
struct Key {
    device: usize,
    web: usize,
    /// The first style that asks for the same.
    style: usize,
    /// The script whose generic families the device has for the language.
    script: Option<&'static str>,
}

/// A cluster of a bucket, judged on one device.
#[derive(Clone)]
struct Judged {
    /// The face that shows it, by its number among the candidates.
    by: Option<usize>,
    certain: bool,
    cause: Option<GapCause>,
    /// Candidates that could show it.
    could: Vec<usize>,
}

/// One stack on one device, with everything that was judged in it.
struct Judgement<'r> {
    resolved: &'r Resolved,
    judge: Judge<'r>,
    presentation: Presentation,
    judged: HashMap<String, Judged>,
}

impl Judgement<'_> {
    fn judge(&mut self, cluster: &ClusterNeed) -> &Judged {
        if !self.judged.contains_key(&cluster.text) {
            let served = self.judge.serve_briefly(&cluster.text, self.presentation);
            let could = (0..self.resolved.candidates.len())
                .filter(|number| self.judge.could_serve(*number, &cluster.text))
                .collect();
            let judged = Judged {
                by: served.by,
                certain: served.certain,
                cause: cause(&served, &cluster.text),
                could,
            };
            self.judged.insert(cluster.text.clone(), judged);
        }
        &self.judged[&cluster.text]
    }
}

/// A bucket on a device: where its clusters went.
struct Outcome<'a> {
    bucket: &'a Bucket,
    number: usize,
    device: usize,
    resolved: &'a Resolved,
    judged: Vec<Judged>,
}

/// Judges every text on every device; without devices nothing is installed.
pub fn survey(survey: &Survey, devices: &[Device<'_>]) -> Surveyed {
    let names: Vec<String> = devices
        .iter()
        .map(|one| one.platform().name.clone())
        .collect();
    let places = devices.len().max(1);
    let mut asked: HashMap<(RequestKey, Presentation), usize> = HashMap::new();
    let keys: Vec<usize> = survey
        .styles
        .iter()
        .enumerate()
        .map(|(at, style)| {
            let key = (Request::of(style).key(), presentation(style));
            *asked.entry(key).or_insert(at)
        })
        .collect();
    let key = |bucket: &Bucket, device: usize| Key {
        device,
        web: bucket.web,
        style: keys[bucket.style],
        script: devices
            .get(device)
            .and_then(|device| device.script_for(bucket.language.as_deref())),
    };
    let mut stacks: HashMap<Key, Resolved> = HashMap::new();
    for bucket in &survey.buckets {
        for device in 0..places {
            stacks.entry(key(bucket, device)).or_insert_with(|| {
                let fonts = Fonts {
                    web: &survey.web[bucket.web],
                    device: devices.get(device),
                    arrival: Arrival::Here,
                    hosted: survey.hosted.contains(&bucket.web),
                };
                let request = Request::of(&survey.styles[bucket.style]);
                let language = bucket.language.as_deref();
                resolve(&request.in_language(language, fonts.device), fonts)
            });
        }
    }
    // Devices share nothing, so each is judged on a core of its own.
    let by_device: Vec<Vec<Outcome<'_>>> = (0..places)
        .into_par_iter()
        .map(|device| on_device(survey, device, &stacks, &key))
        .collect();
    // Bucket by bucket, and in each the devices in order.
    let mut outcomes: Vec<Outcome<'_>> = by_device.into_iter().flatten().collect();
    outcomes.sort_by_key(|outcome| (outcome.number, outcome.device));
    let (gaps, left) = gaps::gather(survey, &outcomes, devices);
    let counted = |allowed: bool| -> u64 {
        let gaps = gaps.iter().filter(|gap| gap.allowed == allowed);
        gaps.map(|gap| gap.count).sum()
    };
    let ((sets, texts), (faces, features)) = rayon::join(
        || {
            rayon::join(
                || sets::gather(survey, &outcomes, &names),
                || cost::gather(&outcomes),
            )
        },
        || {
            let faces = faces::gather(survey, &outcomes, &names);
            (faces, features::gather(survey, &outcomes, &names))
        },
    );
    Surveyed {
        clusters: survey.buckets.iter().map(|bucket| bucket.need.total).sum(),
        gap_clusters: counted(false),
        allowed_clusters: counted(true),
        sets,
        faces,
        features,
        texts,
        platforms: names,
        open: !survey.hosted.is_empty(),
        left,
        gaps,
    }
}

/// Judges every text on one device.
fn on_device<'a>(
    survey: &'a Survey,
    device: usize,
    stacks: &'a HashMap<Key, Resolved>,
    key: &(impl Fn(&Bucket, usize) -> Key + Sync),
) -> Vec<Outcome<'a>> {
    let mut judgements: HashMap<&Key, Judgement<'_>> = HashMap::new();
    let mut outcomes = Vec::with_capacity(survey.buckets.len());
    for (number, bucket) in survey.buckets.iter().enumerate() {
        let Some((key, resolved)) = stacks.get_key_value(&key(bucket, device)) else {
            continue;
        };
        let judgement = judgements.entry(key).or_insert_with(|| Judgement {
            resolved,
            judge: Judge::new(&resolved.candidates).in_engines(resolved.engines),
            presentation: presentation(&survey.styles[bucket.style]),
            judged: HashMap::new(),
        });
        let clusters = bucket.need.clusters.iter();
        outcomes.push(Outcome {
            bucket,
            number,
            device,
            resolved,
            judged: clusters
                .map(|cluster| judgement.judge(cluster).clone())
                .collect(),
        });
    }
    outcomes
}

/// What `font-variant-emoji` of a style says.
fn presentation(style: &TextStyle) -> Presentation {
    let declared = style
        .variants
        .iter()
        .find(|(property, _)| property == "font-variant-emoji");
    match declared
        .and_then(|(_, words)| words.first())
        .map(String::as_str)
    {
        Some("text") => Presentation::Text,
        Some("emoji") => Presentation::Emoji,
        _ => Presentation::Normal,
    }
}

/// The names of devices, in order; all of them is nothing special.
fn platforms_of(devices: impl IntoIterator<Item = usize>, names: &[String]) -> Vec<String> {
    let mut devices: Vec<usize> = devices.into_iter().collect();
    devices.sort_unstable();
    devices.dedup();
    devices
        .iter()
        .filter_map(|device| names.get(*device).cloned())
        .collect()
}

/// Puts `value` into a list that holds each once.
fn once<T: PartialEq>(list: &mut Vec<T>, value: T) {
    if !list.contains(&value) {
        list.push(value);
    }
}
