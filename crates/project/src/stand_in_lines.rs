//! Whether the lines of stand-ins are as high as those of the web fonts that they stand for, at
//! the sizes of texts whose `line-height` the font decides.

use std::collections::{BTreeMap, BTreeSet};

use tidy_lattice_checks::inputs::LinesOff;
use tidy_lattice_core::font::LineSource;
use tidy_lattice_core::lattice::survey::Survey;
use tidy_lattice_core::lattice::{Arrival, Candidate, Fonts, Origin, Request, resolve};
use tidy_lattice_core::layout::Engine;
use tidy_lattice_core::page::LineHeight;
use tidy_lattice_core::platform::Device;

use super::uses::rule_place;

/// Less is arithmetic, in px.
const SEEN: f64 = 0.5;

/// The lines that differ on `devices`, each rule and size once.
pub fn off(survey: &Survey, devices: &[Device<'_>]) -> Vec<LinesOff> {
    let asked: BTreeSet<(usize, usize)> = survey
        .buckets
        .iter()
        .map(|bucket| (bucket.style, bucket.web))
        .collect();
    let mut found: BTreeMap<(String, u32, u32), LinesOff> = BTreeMap::new();
    for (style, web) in asked {
        let style = &survey.styles[style];
        if style.line_height != LineHeight::Normal {
            continue;
        }
        for device in devices {
            let first = |arrival| {
                let fonts = Fonts {
                    web: &survey.web[web],
                    device: Some(device),
                    arrival,
                    hosted: false,
                };
                let resolved = resolve(&Request::of(style), fonts);
                resolved.candidates.into_iter().next()
            };
            let (Some(web), Some(other)) = (first(Arrival::Here), first(Arrival::Awaited)) else {
                continue;
            };
            let (Origin::Web { .. }, Origin::Local { rule, .. }) = (&web.origin, &other.origin)
            else {
                continue;
            };
            let height = |candidate: &Candidate| {
                let face = candidate.face.as_ref()?;
                let declared = &candidate.adjusted;
                let all = [declared.ascent, declared.descent, declared.line_gap];
                // Of some faces only the widths are known.
                let known = face.line().source != LineSource::NotKnown;
                let known = known || all.iter().all(Option::is_some);
                let parts = Engine::Chromium.line_parts(face, declared, style.size);
                known.then_some(parts.normal)
            };
            let (Some(wanted), Some(gets)) = (height(&web), height(&other)) else {
                continue;
            };
            let Some(place) = rule_place(rule).filter(|_| (wanted - gets).abs() > SEEN) else {
                continue;
            };
            let key = (place.0.clone(), place.1, (style.size * 100.0) as u32);
            let one = found.entry(key).or_insert_with(|| LinesOff {
                rule: place,
                family: web.family.clone(),
                size: style.size,
                wanted,
                gets,
                platforms: Vec::new(),
            });
            let title = &device.platform().title;
            if !one.platforms.contains(title) {
                one.platforms.push(title.clone());
            }
        }
    }
    found.into_values().collect()
}
