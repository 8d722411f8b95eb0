//! Builds a stack from a web font and the faces that play the installed ones.

use std::collections::HashSet;

use super::notes::notes;
use super::{Built, SampleKind, StackFace, StandIn, WebFont};
use crate::font::Face;
use crate::layout::firefox::Design;
use crate::standin::{LineRequest, ResizedFace, TextSample, WidthFit, WidthFitter, fit_lines};
use crate::style::{FontFaceRule, SourceRef, StyleSheet, custom_property, family_list};

/// The `size-adjust` that a stand-in may have, in %; fonts for text are within
/// 50 and 200, and a damaged one could ask for nothing or for thousands.
const SIZE_ADJUSTS: std::ops::RangeInclusive<f64> = 10.0..=1000.0;

/// What a stack is built from.
pub struct BuildRequest<'a> {
    /// The web font.
    pub web: &'a Face,
    /// The family name for the style sheet; the font's own where `None`.
    pub family: Option<String>,
    /// The URL of the web font's file, encoded.
    pub url: String,
    /// `font-display`.
    pub display: String,
    /// The local faces, in stack order.
    pub locals: &'a [Face],
    /// The text that widths are fitted on.
    pub sample: &'a TextSample,
    /// What the sample is, for the reader of the result.
    pub sample_kind: SampleKind,
    /// Sizes in use, in px.
    pub sizes: Vec<f32>,
    /// The generic family at the end; judged from the web font where `None`.
    pub generic: Option<String>,
    /// Whether the web font's rule states its line metrics.
    pub pin: bool,
}

/// Why no stack can be built.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum BuildError {
    /// The web font shows no word of the text.
    #[error(
        "{font} has no whole word of {sample}; give text that this font is meant for \
         (text files or `--text`), or another `--language`"
    )]
    NothingToFit {
        /// The web font.
        font: String,
        /// The text.
        sample: String,
    },
    /// A local face shares no word with the web font.
    #[error(
        "{local} and {web} have no whole word of {sample} in common, so their widths cannot \
         be compared; leave {local} out, or give text that both can show"
    )]
    NothingInCommon {
        /// The local face.
        local: String,
        /// The web font.
        web: String,
        /// The text.
        sample: String,
    },
    /// A local face would have to be resized beyond reason.
    #[error(
        "{local} would have to be resized to {size_adjust} % to set text as wide as {web}; \
         leave it out, or check that both files are what they should be"
    )]
    TooDifferent {
        /// The local face.
        local: String,
        /// The web font.
        web: String,
        /// The `size-adjust` that widths ask for, in %.
        size_adjust: f64,
    },
    /// A local face has neither a full nor a PostScript name.
    #[error(
        "{local} has neither a full nor a PostScript name, so local() cannot find it; of a \
         variable font pick a named position"
    )]
    Nameless {
        /// The local face.
        local: String,
    },
    /// The web font states no vertical metrics.
    #[error(
        "{font} states no vertical metrics (hhea and OS/2 are zero), so its lines cannot be met"
    )]
    NoLine {
        /// The web font.
        font: String,
    },
}

/// Builds the stack that `request` describes.
///
/// # Errors
///
/// [`BuildError`], where widths or lines cannot be compared at all.
pub fn build(request: &BuildRequest<'_>) -> Result<Built, BuildError> {
    let web_label = request.web.names().label();
    let family = request
        .family
        .clone()
        .unwrap_or_else(|| request.web.names().family.clone());
    let line = request.web.line();
    if line.ascent + line.descent <= 0.0 {
        return Err(BuildError::NoLine { font: web_label });
    }
    let (widths, words_lacked) = fit_widths(request, &web_label)?;
    let fitted = fit_lines(&LineRequest {
        web: line,
        web_design: Design::of(request.web),
        stand_ins: widths
            .iter()
            .zip(request.locals)
            .map(|(width, local)| ResizedFace {
                size_adjust: width.size_adjust,
                design: Design::of(local),
            })
            .collect(),
        sizes: request.sizes.clone(),
        pin: request.pin,
    });
    let names = stand_in_families(&family, request.locals);
    let mut stand_ins = Vec::with_capacity(request.locals.len());
    let parts = request
        .locals
        .iter()
        .zip(names)
        .zip(widths)
        .zip(&fitted.stand_ins);
    for (((local, family), width), lines) in parts {
        let local_names = local_names(local);
        if local_names.is_empty() {
            return Err(BuildError::Nameless {
                local: local.names().label(),
            });
        }
        stand_ins.push(StandIn {
            family,
            local: local_names,
            face: StackFace::of(local),
            width,
            lines: lines.clone(),
        });
    }
    let generic = request.generic.clone().unwrap_or_else(|| {
        request
            .web
            .stated_generic()
            .unwrap_or("sans-serif")
            .to_owned()
    });
    let notes = notes(request, &fitted, &stand_ins, words_lacked);
    let mut built = Built {
        web: WebFont {
            family: family.clone(),
            face: StackFace::of(request.web),
            url: request.url.clone(),
            pinned: fitted.pinned,
            gap_folded: fitted.gap_folded,
            own_lines_changed: fitted.own_lines_changed,
            words_lacked,
        },
        sample: request.sample_kind.clone(),
        font_family: family_list(
            std::iter::once(family.as_str()).chain(stand_ins.iter().map(|s| s.family.as_str())),
            &generic,
        ),
        stack: std::iter::once(family.clone())
            .chain(stand_ins.iter().map(|stand_in| stand_in.family.clone()))
            .chain([generic])
            .collect(),
        custom_property: custom_property(&format!("{family} stack")),
        stand_ins,
        sizes: request.sizes.clone(),
        notes,
        css: String::new(),
    };
    built.css = sheet(request, &built).to_css();
    Ok(built)
}

/// Fits every local face; with the words of the sample that the web font lacks.
fn fit_widths(
    request: &BuildRequest<'_>,
    web_label: &str,
) -> Result<(Vec<WidthFit>, u64), BuildError> {
    let fitter = WidthFitter::new(request.web, request.sample);
    if fitter.words_in_web_font() == 0 {
        return Err(BuildError::NothingToFit {
            font: web_label.to_owned(),
            sample: request.sample_kind.label(),
        });
    }
    let fits = request.locals.iter().map(|local| {
        let label = || local.names().label();
        let fit = fitter
            .fit(local)
            .ok_or_else(|| BuildError::NothingInCommon {
                local: label(),
                web: web_label.to_owned(),
                sample: request.sample_kind.label(),
            })?;
        if SIZE_ADJUSTS.contains(&fit.size_adjust) {
            Ok(fit)
        } else {
            Err(BuildError::TooDifferent {
                local: label(),
                web: web_label.to_owned(),
                size_adjust: fit.size_adjust,
            })
        }
    });
    let lacked = fitter.words() - fitter.words_in_web_font();
    Ok((fits.collect::<Result<_, _>>()?, lacked))
}

/// `"<web family> via <local family>"`; where two local faces share a family,
/// each takes its full label, then a number.
fn stand_in_families(web: &str, locals: &[Face]) -> Vec<String> {
    let mut taken = HashSet::new();
    let families: Vec<&str> = locals
        .iter()
        .map(|local| local.names().family.as_str())
        .collect();
    locals
        .iter()
        .map(|local| {
            let family = local.names().family.as_str();
            let shared = families.iter().filter(|other| **other == family).count() > 1;
            let stem = if shared {
                format!("{web} via {}", local.names().label())
            } else {
                format!("{web} via {family}")
            };
            let mut name = stem.clone();
            let mut number = 2;
            while !taken.insert(name.clone()) {
                name = format!("{stem} {number}");
                number += 1;
            }
            name
        })
        .collect()
}

/// What `local()` can match: the full and the PostScript name.
fn local_names(face: &Face) -> Vec<String> {
    let names = face.names();
    let mut local: Vec<String> = Vec::new();
    for name in [&names.full, &names.postscript].into_iter().flatten() {
        if !local.contains(name) {
            local.push(name.clone());
        }
    }
    local
}

fn sheet(request: &BuildRequest<'_>, built: &Built) -> StyleSheet {
    let web = &built.web;
    let mut rules = vec![FontFaceRule {
        comment: if web.pinned.is_some() {
            "The web font, pinned: it states its own line metrics, so that browsers round it and its stand-ins alike.".to_owned()
        } else {
            "The web font.".to_owned()
        },
        family: web.family.clone(),
        sources: vec![SourceRef::Url {
            url: web.url.clone(),
            format: request.web.container().css_format(),
        }],
        weight: request.web.weight(),
        style: request.web.slope().css(),
        display: Some(request.display.clone()),
        size_adjust: None,
        overrides: web.pinned,
    }];
    rules.extend(built.stand_ins.iter().map(|stand_in| {
        FontFaceRule {
            comment: format!(
                "{} in its place: words differ by {:.1} % on average ({:.1} % without).",
                stand_in.face.names.label(),
                stand_in.width.after.word_mean,
                stand_in.width.before.word_mean,
            ),
            family: stand_in.family.clone(),
            sources: stand_in
                .local
                .iter()
                .cloned()
                .map(SourceRef::Local)
                .collect(),
            weight: request.web.weight(),
            style: request.web.slope().css(),
            display: None,
            size_adjust: Some(stand_in.width.size_adjust),
            overrides: Some(stand_in.lines.overrides),
        }
    }));
    StyleSheet {
        heading: vec![
            format!("Made by tidy-lattice: {} and its stand-ins.", web.family),
            format!("Widths fitted on {}.", built.sample.label()),
            format!("Use it with font-family: var({});", built.custom_property),
        ],
        rules,
        properties: vec![(built.custom_property.clone(), built.font_family.clone())],
    }
}
