//! Builds a stack from a web font and the faces that play the installed ones.

use std::collections::HashSet;

use serde::Serialize;

use crate::font::{Face, LineMetrics, Names};
use crate::layout::Overrides;
use crate::layout::firefox::Design;
use crate::standin::{
    LineFit, LineRequest, ResizedFace, StandInLines, TextSample, WidthFit, WidthFitter, fit_lines,
};
use crate::style::{FontFaceRule, SourceRef, StyleSheet, custom_property, family_list};

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

/// What widths were fitted on.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum SampleKind {
    /// The user's own text.
    OwnText {
        /// Where it came from.
        sources: Vec<String>,
    },
    /// The built-in sample of a language.
    Language {
        /// The language's BCP 47 tag.
        language: String,
    },
}

impl SampleKind {
    /// The sample in words.
    pub fn label(&self) -> String {
        match self {
            SampleKind::OwnText { sources } => match sources.as_slice() {
                [one] => one.clone(),
                many => format!("{} texts", many.len()),
            },
            SampleKind::Language { language } => {
                format!("the built-in sample for language {language}")
            }
        }
    }
}

/// A finished stack.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Built {
    /// The web font and what its rule states.
    pub web: WebFont,
    /// What widths were fitted on.
    pub sample: SampleKind,
    /// The stand-ins, in stack order.
    pub stand_ins: Vec<StandIn>,
    /// The families in order, the generic last.
    pub stack: Vec<String>,
    /// The value for `font-family`.
    pub font_family: String,
    /// The name of the custom property that holds it.
    pub custom_property: String,
    /// Sizes in px that the user named.
    pub sizes: Vec<f32>,
    /// What the user should know.
    pub notes: Vec<Note>,
    /// The style sheet.
    pub css: String,
}

/// The web font of a stack.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct WebFont {
    /// The family in the style sheet.
    pub family: String,
    /// The face as it describes itself.
    pub face: StackFace,
    /// The URL in the style sheet.
    pub url: String,
    /// What the rule states so that engines treat it like its stand-ins.
    pub pinned: Option<Overrides>,
    /// Whether the line gap went half into ascent and half into descent.
    pub gap_folded: bool,
    /// Sizes in px at which pinning changes its own lines in Chromium.
    pub own_lines_changed: Vec<f32>,
}

/// A face as a stack sees it.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct StackFace {
    /// Its names.
    pub names: Names,
    /// Its weight, 1 to 1000.
    pub weight: f32,
    /// The line metrics that browsers use, in em.
    pub line: LineMetrics,
}

impl StackFace {
    /// What a stack needs to know of `face`.
    pub fn of(face: &Face) -> Self {
        StackFace {
            names: face.names().clone(),
            weight: face.weight(),
            line: face.line(),
        }
    }
}

/// A stand-in over one local face.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct StandIn {
    /// The family in the style sheet.
    pub family: String,
    /// The names in `local()`.
    pub local: Vec<String>,
    /// The face as it describes itself.
    pub face: StackFace,
    /// The width fit.
    pub width: WidthFit,
    /// The line fit.
    pub lines: StandInLines,
}

/// Something that the user should know about a stack.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct Note {
    /// A stable code.
    pub code: &'static str,
    /// Whether it counts as a finding (exit status 1).
    pub finding: bool,
    /// What, where, why it matters and what to do.
    pub text: String,
}

/// Why no stack can be built.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum BuildError {
    /// The web font shows no word of the text.
    #[error(
        "{font} has no whole word of {sample}; give text that this font is meant for \
         (`--text`, `--read`), or another `--language`"
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
    /// A local face has neither a full nor a PostScript name.
    #[error("{local} states neither a full nor a PostScript name, so local() cannot find it")]
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
    let widths = fit_widths(request, &web_label)?;
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
    let notes = notes(request, &web_label, &fitted, &stand_ins);
    let mut built = Built {
        web: WebFont {
            family: family.clone(),
            face: StackFace::of(request.web),
            url: request.url.clone(),
            pinned: fitted.pinned,
            gap_folded: fitted.gap_folded,
            own_lines_changed: fitted.own_lines_changed,
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

fn fit_widths(request: &BuildRequest<'_>, web_label: &str) -> Result<Vec<WidthFit>, BuildError> {
    let mut fitter = WidthFitter::new(request.web, request.sample);
    if fitter.words_in_web_font() == 0 {
        return Err(BuildError::NothingToFit {
            font: web_label.to_owned(),
            sample: request.sample_kind.label(),
        });
    }
    let fits = request.locals.iter().map(|local| {
        fitter
            .fit(local)
            .ok_or_else(|| BuildError::NothingInCommon {
                local: local.names().label(),
                web: web_label.to_owned(),
                sample: request.sample_kind.label(),
            })
    });
    fits.collect()
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

fn notes(
    request: &BuildRequest<'_>,
    web_label: &str,
    fitted: &LineFit,
    stand_ins: &[StandIn],
) -> Vec<Note> {
    let mut notes = Vec::new();
    let mut note = |code, finding, text| {
        notes.push(Note {
            code,
            finding,
            text,
        });
    };
    if request.web.kerning_dropped() {
        note(
            "kerning-dropped",
            false,
            format!(
                "browsers drop the old kerning table of {web_label} when they load it as a web font, \
                 so it is measured without; installed it is kerned and narrower"
            ),
        );
    }
    let changed: Vec<f32> = wanted(&fitted.own_lines_changed, &request.sizes);
    if !changed.is_empty() {
        note(
            "pinned-lines-changed",
            false,
            format!(
                "stating its own metrics changes the lines of {web_label} by 1 px in Chromium at {}; \
             the text then stays put while loading",
                px_list(&changed)
            ),
        );
    }
    if fitted.gap_folded {
        note(
            "gap-folded",
            false,
            format!(
                "the line gap of {web_label} was folded into its ascent and descent, half each, because \
             Firefox makes equal lines only so; backgrounds of inline boxes grow by that much"
            ),
        );
    }
    for stand_in in stand_ins {
        let local = stand_in.face.names.label();
        let off = |sizes: &[f32], engine: &str| {
            format!(
                "at {} lines of {local} and {web_label} differ in {engine}; no triple of overrides \
                 agrees there, so state a line-height for text of these sizes",
                px_list(sizes)
            )
        };
        let chromium = wanted(&stand_in.lines.off_in_chromium, &request.sizes);
        if !chromium.is_empty() {
            note("lines-off-chromium", true, off(&chromium, "Chromium"));
        }
        let firefox = wanted(
            stand_in.lines.off_in_firefox.as_deref().unwrap_or_default(),
            &request.sizes,
        );
        if !firefox.is_empty() {
            note("lines-off-firefox", true, off(&firefox, "Firefox"));
        }
        if (stand_in.face.weight - request.web.weight()).abs() >= 100.0 {
            note(
                "weight-differs",
                false,
                format!(
                    "{local} has weight {}, {web_label} has {}; the text will change its colour when \
                 the web font arrives, so give the local face of the same weight",
                    stand_in.face.weight,
                    request.web.weight()
                ),
            );
        }
        if stand_in.width.words_left_out > 0 {
            note(
                "words-left-out",
                false,
                format!(
                    "{} of {} words were left out of the width fit of {local}, because it or {web_label} \
                 lacks a character of them",
                    stand_in.width.words_left_out,
                    stand_in.width.words + stand_in.width.words_left_out
                ),
            );
        }
    }
    for (local, stand_in) in request.locals.iter().zip(stand_ins) {
        if let (Some(web), Some(class)) = (request.web.stated_generic(), local.stated_generic())
            && web != class
        {
            note(
                "class-differs",
                false,
                format!(
                    "{} is {class}, {web_label} is {web}; the swap will be seen even where nothing moves",
                    stand_in.face.names.label()
                ),
            );
        }
    }
    if !request.pin {
        note(
            "firefox-not-met",
            false,
            format!(
                "{web_label} is not pinned; Firefox then rounds its lines in another way than those of \
             its stand-ins, and they can differ by a pixel or more"
            ),
        );
    }
    notes
}

/// The sizes of `off` that the user named.
fn wanted(off: &[f32], sizes: &[f32]) -> Vec<f32> {
    off.iter()
        .copied()
        .filter(|size| sizes.contains(size))
        .collect()
}

fn px_list(sizes: &[f32]) -> String {
    let sizes: Vec<String> = sizes.iter().map(|size| format!("{size} px")).collect();
    sizes.join(", ")
}
