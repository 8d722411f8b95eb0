//! A page on a device, before and after its web fonts arrive.

use std::collections::{BTreeSet, HashMap};
use std::sync::Arc;

use tidy_lattice_coverage::lattice::{Arrival, Candidate, Fonts, Request, WebFace, resolve};
use tidy_lattice_coverage::platform::Device;
use tidy_lattice_documents::page::{Flow, FlowKind, TextStyle};
use tidy_lattice_documents::style::read::{FamilyName, Viewport};
use tidy_lattice_glyphs::font::CharacterSet;
use tidy_lattice_glyphs::shaping::Shapers;
use tidy_lattice_layout::Engine;
use tidy_lattice_layout::flow::{LaidPage, Stage, lay_out};
use tidy_lattice_layout::text::StyleFaces;

use super::unloaded::{LocalRule, StyleText, unloaded};
use super::{Score, Shift};

/// What a page is looked at on.
#[derive(Clone, Copy)]
pub struct Setting<'a> {
    /// The page.
    pub flow: &'a Flow,
    /// Its `@font-face` rules with their files.
    pub web: &'a [WebFace],
    /// The device; `None` where nothing is installed.
    pub device: Option<&'a Device<'a>>,
    /// The engine.
    pub engine: Engine,
    /// The viewport.
    pub viewport: Viewport,
}

/// Before or after.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Stand {
    /// While web fonts are on their way.
    Before,
    /// Once they are there.
    After,
}

/// The styles of a page and what their stacks come down to.
pub struct SettingFonts {
    styles: Vec<Arc<TextStyle>>,
    style_of: Vec<usize>,
    before: Vec<Measured>,
    after: Vec<Measured>,
    unloaded: Vec<String>,
}

/// The measured faces of a stack.
struct Measured {
    candidates: Vec<Candidate>,
    /// How many of them the style asks for with nothing before that is known by name
    /// only.
    asked: usize,
    /// Faces that hide their text while they load: their ranges.
    hides: Vec<Option<CharacterSet>>,
}

impl SettingFonts {
    /// Resolves every style of the page, before and after.
    pub fn of(setting: &Setting<'_>) -> Self {
        let mut styles: Vec<Arc<TextStyle>> = Vec::new();
        let mut scripts: Vec<Option<&'static str>> = Vec::new();
        let mut known: HashMap<(*const TextStyle, Option<&'static str>), usize> = HashMap::new();
        let mut style_of = Vec::with_capacity(setting.flow.nodes.len());
        for node in &setting.flow.nodes {
            let language = node.language.as_deref();
            let script = setting
                .device
                .and_then(|device| device.script_for(language));
            let key = (Arc::as_ptr(&node.text), script);
            let number = *known.entry(key).or_insert_with(|| {
                let mut all = styles.iter().zip(&scripts);
                let same = all.position(|(style, known_script)| {
                    **style == *node.text && *known_script == script
                });
                same.unwrap_or_else(|| {
                    styles.push(node.text.clone());
                    scripts.push(script);
                    styles.len() - 1
                })
            });
            style_of.push(number);
        }
        let all = |arrival| {
            let all = styles.iter().zip(&scripts);
            all.map(|(style, script)| resolved(style, *script, setting, arrival))
                .collect()
        };
        let mut fonts = SettingFonts {
            before: all(Arrival::Awaited),
            after: all(Arrival::Late),
            styles: Vec::new(),
            style_of,
            unloaded: Vec::new(),
        };
        if setting.engine == Engine::Firefox && !setting.flow.loads_fonts {
            let here: Vec<Measured> = all(Arrival::Here);
            fonts.leave_unloaded(setting.flow, &here);
        }
        SettingFonts { styles, ..fonts }
    }

    /// The families of which Firefox loads no face before the web fonts are there.
    pub fn unloaded(&self) -> &[String] {
        &self.unloaded
    }

    /// Takes out what Firefox leaves unloaded before; `here` is what styles come down to
    /// once all files are there.
    fn leave_unloaded(&mut self, flow: &Flow, here: &[Measured]) {
        let mut styles: Vec<StyleText<'_>> = (here.iter())
            .map(|measured| StyleText {
                candidates: &measured.candidates,
                characters: BTreeSet::new(),
            })
            .collect();
        for (node, style) in flow.nodes.iter().zip(&self.style_of) {
            if let FlowKind::Text(text, _) = &node.kind {
                styles[*style].characters.extend(text.chars());
            }
        }
        let rules = unloaded(&styles);
        let (mut shown, mut gone) = (BTreeSet::new(), BTreeSet::new());
        for measured in &mut self.before {
            let mut asked = 0;
            let mut number = 0;
            measured.candidates.retain(|candidate| {
                let rule = LocalRule::of(candidate);
                let stays = rule.as_ref().is_none_or(|rule| !rules.contains(rule));
                asked += usize::from(stays && number < measured.asked);
                number += 1;
                let families = if stays { &mut shown } else { &mut gone };
                families.extend(rule.map(|rule| rule.family));
                stays
            });
            measured.asked = asked;
        }
        self.unloaded = gone.difference(&shown).cloned().collect();
    }
}

/// What a style comes down to, with what browsers turn to behind its stack.
fn resolved(
    style: &TextStyle,
    script: Option<&'static str>,
    setting: &Setting<'_>,
    arrival: Arrival,
) -> Measured {
    let fonts = Fonts {
        web: setting.web,
        device: setting.device,
        arrival,
        hosted: false,
    };
    let asks = Request {
        script,
        ..Request::of(style)
    };
    let mut candidates = resolve(&asks, fonts).candidates;
    let mut asked = candidates
        .iter()
        .take_while(|candidate| candidate.face.is_some())
        .count();
    candidates.retain(|candidate| candidate.face.is_some());
    if candidates.is_empty() {
        // Then the browser's standard font shows: with serifs, but without in scripts that
        // have generic families of their own.
        let standard = match script {
            None => ["serif", "sans-serif"],
            Some(_) => ["sans-serif", "serif"],
        };
        let standard = standard.map(|name| FamilyName::Generic(name.to_owned()));
        let request = Request {
            families: &standard,
            ..asks
        };
        candidates = resolve(&request, fonts).candidates;
        candidates.retain(|candidate| candidate.face.is_some());
        candidates.truncate(1);
        asked = if style.families.is_empty() {
            candidates.len()
        } else {
            0
        };
    }
    Measured {
        candidates,
        asked,
        hides: hides(style, setting, arrival),
    }
}

/// The ranges of the faces that hide text in the block period of `font-display`
/// (CSS Fonts 4, §11.1), which is taken not to be over when fonts come.
fn hides(style: &TextStyle, setting: &Setting<'_>, arrival: Arrival) -> Vec<Option<CharacterSet>> {
    let mut hides = Vec::new();
    if arrival != Arrival::Awaited {
        return hides;
    }
    for family in &style.families {
        for rule in setting.web {
            let face = &rule.placed.face;
            let declared_family = face.family.as_deref().unwrap_or_default();
            let blocks = matches!(face.display.as_deref(), None | Some("auto" | "block"));
            let loads = rule.files.iter().flatten().any(Result::is_ok);
            if blocks && loads && declared_family.eq_ignore_ascii_case(family.as_str()) {
                hides.push(face.range.clone());
            }
        }
    }
    hides
}

/// A page on a device, ready to be laid out.
pub struct Scene<'a> {
    setting: Setting<'a>,
    fonts: &'a SettingFonts,
    style_of: &'a [usize],
    before: Vec<StyleFaces<'a>>,
    after: Vec<StyleFaces<'a>>,
    shapers: &'a Shapers,
}

impl<'a> Scene<'a> {
    /// A scene of a page whose styles came down to `fonts`; shapers may be shared
    /// with other scenes.
    pub fn new(setting: Setting<'a>, fonts: &'a SettingFonts, shapers: &'a Shapers) -> Self {
        let faces = |all: &'a [Measured]| {
            let styles = fonts.styles.iter().zip(all);
            styles
                .map(|(style, resolved)| {
                    StyleFaces::new(style, &resolved.candidates, resolved.asked)
                })
                .collect()
        };
        Scene {
            setting,
            fonts,
            style_of: &fonts.style_of,
            before: faces(&fonts.before),
            after: faces(&fonts.after),
            shapers,
        }
    }

    /// The page laid out.
    pub fn lay_out(&self, stand: Stand) -> LaidPage {
        let faces = match stand {
            Stand::Before => &self.before,
            Stand::After => &self.after,
        };
        lay_out(&Stage {
            flow: self.setting.flow,
            faces,
            style_of: self.style_of,
            shapers: self.shapers,
            engine: self.setting.engine,
            viewport: self.setting.viewport,
            installed: &|character| {
                let device = self.setting.device;
                device.is_some_and(|device| device.any_has(character))
            },
        })
    }

    /// For each node, whether it is a text that does not show before: engines count no
    /// movement of it.
    pub fn hidden(&self) -> Vec<bool> {
        let nodes = self.setting.flow.nodes.iter().zip(self.style_of);
        let hidden = nodes.map(|(node, style)| match &node.kind {
            FlowKind::Text(text, _) => {
                let hides = &self.fonts.before[*style].hides;
                hides.iter().any(|range| match range {
                    Some(range) => text.chars().any(|c| range.contains(u32::from(c))),
                    None => true,
                })
            }
            _ => false,
        });
        hidden.collect()
    }

    /// The score of two layouts of the page.
    pub fn score(&self, before: &LaidPage, after: &LaidPage) -> Score {
        let viewport = self.setting.viewport;
        super::score_of_pages(
            self.setting.flow,
            (before, after),
            &self.hidden(),
            (f64::from(viewport.width), f64::from(viewport.height)),
        )
    }

    /// What moves.
    pub fn shift(&self) -> Shift {
        let before = self.lay_out(Stand::Before);
        let after = self.lay_out(Stand::After);
        let viewport = self.setting.viewport;
        let mut shift = super::compare(
            self.setting.flow,
            (&before, &after),
            self.setting.engine,
            (f64::from(viewport.width), f64::from(viewport.height)),
            before.guessed.max(after.guessed),
            self.score(&before, &after),
        );
        shift.unloaded = self.fonts.unloaded().to_vec();
        shift
    }
}
