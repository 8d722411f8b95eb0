//! Other ways to serve a page, as the command line names them.

use std::sync::Arc;

use tidy_lattice_core::font::{CharacterSet, Face, Slice};
use tidy_lattice_core::lattice::{Adjusted, Arrival, Fonts, Request, WebFace, resolve};
use tidy_lattice_core::layout::Engine;
use tidy_lattice_core::need::Need;
use tidy_lattice_core::page::{Files, Flow, FlowKind, OpenedFile, Unread, font_faces};
use tidy_lattice_core::platform::Device;
use tidy_lattice_core::shaping::Shapers;
use tidy_lattice_core::shift::{Change, changed};
use tidy_lattice_core::stack::{BuildRequest, LocalFamily, SampleKind, WebSlice, WebSource, build};
use tidy_lattice_core::standin::{FitOptions, SetText, Slices, TextSample};
use tidy_lattice_core::style::read::{FaceSource, FamilyName, FontFace, families};
use tidy_lattice_core::text::Source;

use super::ProjectError;
use super::in_place::InPlace;
use super::pages::Window;
use super::set_pages::{SetPage, in_family};

/// The most slices of a variant.
const MOST_SLICES: usize = 24;

/// One way to serve a page.
#[derive(Debug, Clone, PartialEq)]
pub enum Variant {
    /// Without resizing or line metrics.
    Plain,
    /// Without line metrics.
    NoLineMetrics,
    /// In WebKit, which ignores line metrics.
    Webkit,
    /// With stand-ins of so many slices over what shows now.
    Slices(usize),
    /// With another fallback first.
    Fallback(String),
    /// With another `font-display`.
    Display(String),
    /// With the stacks of `build` put in.
    Built,
}

impl Variant {
    /// The usual ones where they are asked for, and those that are named.
    pub fn of(usual: bool, named: &[String]) -> Result<Vec<Self>, ProjectError> {
        let mut variants = Vec::new();
        if usual {
            variants.extend([
                Variant::Plain,
                Variant::NoLineMetrics,
                Variant::Slices(1),
                Variant::Slices(6),
                Variant::Display("optional".to_owned()),
                Variant::Webkit,
            ]);
        }
        for text in named {
            let variant = Self::read(text)?;
            if !variants.contains(&variant) {
                variants.push(variant);
            }
        }
        Ok(variants)
    }

    fn read(text: &str) -> Result<Self, ProjectError> {
        let unknown = || {
            ProjectError::Usage(format!(
                "there is no variant {text:?}: there are plain, built, one-factor, slices=N (1 to \
                 {MOST_SLICES}), no-line-metrics, webkit, fallback=FAMILY, and display=auto, \
                 block, swap, fallback or optional"
            ))
        };
        Ok(match text.split_once('=') {
            None => match text {
                "plain" => Variant::Plain,
                "built" => Variant::Built,
                "one-factor" => Variant::Slices(1),
                "no-line-metrics" => Variant::NoLineMetrics,
                "webkit" => Variant::Webkit,
                _ => return Err(unknown()),
            },
            Some(("slices", count)) => {
                let count = count.parse().ok();
                let count = count.filter(|count| (1..=MOST_SLICES).contains(count));
                Variant::Slices(count.ok_or_else(unknown)?)
            }
            Some(("fallback", family)) if families(family).is_some_and(|list| list.len() == 1) => {
                Variant::Fallback(family.to_owned())
            }
            Some(("display", value))
                if ["auto", "block", "swap", "fallback", "optional"].contains(&value) =>
            {
                Variant::Display(value.to_owned())
            }
            Some(_) => return Err(unknown()),
        })
    }

    /// The name that the command line takes.
    pub fn name(&self) -> String {
        match self {
            Variant::Plain => "plain".to_owned(),
            Variant::Built => "built".to_owned(),
            Variant::NoLineMetrics => "no-line-metrics".to_owned(),
            Variant::Webkit => "webkit".to_owned(),
            Variant::Slices(1) => "one-factor".to_owned(),
            Variant::Slices(count) => format!("slices={count}"),
            Variant::Fallback(family) => format!("fallback={family}"),
            Variant::Display(value) => format!("display={value}"),
        }
    }

    /// What it is, in words.
    pub fn what(&self) -> String {
        match self {
            Variant::Plain => "without size-adjust and line metrics".to_owned(),
            Variant::NoLineMetrics => "without line metrics in the rules".to_owned(),
            Variant::Webkit => "as it is, in WebKit".to_owned(),
            Variant::Built => "with the stacks that build makes for this project".to_owned(),
            Variant::Slices(1) => "a stand-in of one factor over each fallback".to_owned(),
            Variant::Slices(count) => format!("a stand-in of {count} slices over each fallback"),
            Variant::Fallback(family) => format!("{family} first behind web fonts"),
            Variant::Display(value) => format!("font-display: {value}"),
        }
    }

    /// The engine, where it is another.
    pub fn engine(&self) -> Option<Engine> {
        (*self == Variant::Webkit).then_some(Engine::Webkit)
    }
}

/// A page served in another way, on a device; `in_place` are the project's stacks.
pub fn vary(
    variant: &Variant,
    (web, flow): (&[WebFace], &Flow),
    device: &Device<'_>,
    window: &Window,
    in_place: Option<&InPlace>,
) -> Result<(Vec<WebFace>, Flow), ProjectError> {
    let change = match variant {
        Variant::Plain => Change::NoAdjustment,
        Variant::NoLineMetrics => Change::NoLineMetrics,
        Variant::Display(value) => Change::Display(value.clone()),
        Variant::Fallback(family) => {
            let mut list = families(family).unwrap_or_default();
            let Some(family) = list.pop() else {
                return Ok((web.to_vec(), flow.clone()));
            };
            Change::Fallback(family)
        }
        Variant::Webkit => return Ok((web.to_vec(), flow.clone())),
        Variant::Built => {
            let in_place = in_place.ok_or_else(|| {
                ProjectError::Usage(
                    "the variant built takes a project with a role that `build` builds (web = [...]); \
                     there is none"
                        .to_owned(),
                )
            })?;
            return Ok(in_place.put_in(web, flow));
        }
        Variant::Slices(count) => return sliced(*count, web, flow, device, window),
    };
    Ok(changed(&change, web, flow))
}

/// Sheets of stand-ins name no files that are read.
struct NoFiles;

impl Files for NoFiles {
    fn read(&self, _: &str, _: &str, _: &str) -> Result<OpenedFile, Unread> {
        Err(Unread::Remote)
    }
}

/// The page with stand-ins over what shows now while web fonts are on their way.
fn sliced(
    slices: usize,
    web: &[WebFace],
    flow: &Flow,
    device: &Device<'_>,
    window: &Window,
) -> Result<(Vec<WebFace>, Flow), ProjectError> {
    let page = SetPage {
        flow: flow.clone(),
        web: web.to_vec(),
        window: window.clone(),
    };
    let set = page.texts(Some(device), &Shapers::default());
    let (mut web, mut flow) = (web.to_vec(), flow.clone());
    let mut names: Vec<String> = Vec::new();
    for rule in &web {
        if let Some(name) = &rule.placed.face.family
            && rule.files.iter().flatten().any(Result::is_ok)
            && !names.iter().any(|known| known.eq_ignore_ascii_case(name))
        {
            names.push(name.clone());
        }
    }
    for family in names {
        let Some(mut plan) = Plan::of(&family, &web, &flow, device) else {
            continue;
        };
        plan.set = in_family(&set, &family);
        let (rules, stand_ins) = plan.build(&family, slices, window)?;
        let same = |rule: &WebFace| {
            let declared_family = rule.placed.face.family.as_deref().unwrap_or_default();
            declared_family.eq_ignore_ascii_case(&family)
        };
        // The rules of the web font itself are those of the stack, which may state
        // line metrics.
        let files: Vec<WebFace> = web.iter().filter(|rule| same(rule)).cloned().collect();
        web.retain(|rule| !same(rule));
        web.extend(rules.into_iter().map(|placed| {
            let sources = placed.face.sources.iter();
            let found = sources.map(|source| match source {
                FaceSource::Local { .. } => None,
                FaceSource::Url { url, .. } => {
                    let number: Option<usize> = url.parse().ok();
                    let rule = number.and_then(|number| files.get(number));
                    rule.and_then(|rule| rule.files.iter().flatten().next().cloned())
                }
            });
            WebFace {
                files: found.collect(),
                placed: placed.clone(),
            }
        }));
        (web, flow) = changed(&Change::Behind(family, stand_ins), &web, &flow);
    }
    Ok((web, flow))
}

/// A rule by its number, its file, and whether it states a range.
type Part = (usize, Slice, bool);

/// A rule of a face.
struct RuleOfFace {
    /// Its number among the rules of the family.
    number: usize,
    /// Its `unicode-range`.
    range: Option<CharacterSet>,
}

/// The files of a face by the numbers of their rules; none of a plain rule.
fn slices_of(face: &Face, rules: &[RuleOfFace]) -> Vec<WebSlice> {
    if let [only] = rules
        && only.range.is_none()
    {
        return Vec::new();
    }
    let format = face.container().css_format();
    let rules = rules.iter().map(|rule| WebSlice {
        sources: vec![(rule.number.to_string(), format.to_owned())],
        range: rule
            .range
            .clone()
            .unwrap_or_else(|| CharacterSet::of_ranges([(0, 0x10_ffff)])),
    });
    rules.collect()
}

/// What a stack is built from.
struct Plan {
    /// Each face with the rules that it is in, by their numbers, and their ranges.
    web: Vec<(Face, Vec<RuleOfFace>)>,
    local: Vec<Arc<Face>>,
    display: String,
    text: String,
    sizes: Vec<f32>,
    /// The texts as the page sets them.
    set: Vec<SetText>,
}

impl Plan {
    /// The faces of `family` and of what shows in its place; nothing where it is not
    /// used, or nothing measured shows.
    fn of(family: &str, web: &[WebFace], flow: &Flow, device: &Device<'_>) -> Option<Self> {
        let is_first = |name: &FamilyName| name.as_str().eq_ignore_ascii_case(family);
        let mut plan = Plan {
            web: Vec::new(),
            local: Vec::new(),
            display: "swap".to_owned(),
            text: String::new(),
            sizes: Vec::new(),
            set: Vec::new(),
        };
        let of_family = web.iter().filter(|rule| {
            let of_family = rule.placed.face.family.as_deref();
            of_family.is_some_and(|of_family| of_family.eq_ignore_ascii_case(family))
        });
        // Rules of the same traits are one face in several files.
        let mut faces: Vec<(&FontFace, Vec<Part>)> = Vec::new();
        for (number, rule) in of_family.enumerate() {
            let mut files = rule.files.iter().flatten();
            let file = files.find_map(|file| file.as_ref().ok())?;
            let declared = &rule.placed.face;
            if let Some(display) = &declared.display {
                plan.display.clone_from(display);
            }
            let all = || CharacterSet::of_ranges([(0, 0x10_ffff)]);
            let slice = Slice {
                range: declared.range.clone().unwrap_or_else(all),
                face: (*file.face).clone(),
            };
            let same = |(known, _): &&mut (&FontFace, _)| {
                (known.weight, known.style, known.stretch)
                    == (declared.weight, declared.style, declared.stretch)
            };
            let part: Part = (number, slice, declared.range.is_some());
            match faces.iter_mut().find(same) {
                Some((_, parts)) => parts.push(part),
                None => faces.push((declared, vec![part])),
            }
        }
        for (_, parts) in faces {
            let rules = parts
                .iter()
                .map(|(number, slice, ranged)| RuleOfFace {
                    number: *number,
                    range: ranged.then(|| slice.range.clone()),
                })
                .collect();
            let mut slices: Vec<Slice> = parts.into_iter().map(|(_, slice, _)| slice).collect();
            let face = if slices.len() == 1 {
                slices.pop()?.face
            } else {
                Face::of_slices(slices)?
            };
            plan.web.push((face, rules));
        }
        for node in &flow.nodes {
            let FlowKind::Text(text, _) = &node.kind else {
                continue;
            };
            if !node.text.families.first().is_some_and(is_first) {
                continue;
            }
            plan.text.push_str(text);
            plan.text.push_str("\n\n");
            if !plan.sizes.contains(&node.text.size) {
                plan.sizes.push(node.text.size);
            }
            let fonts = Fonts {
                web,
                device: Some(device),
                arrival: Arrival::Awaited,
                hosted: false,
            };
            let language = node.language.as_deref();
            let asks = Request::of(&node.text).in_language(language, Some(device));
            let resolved = resolve(&asks, fonts);
            let shows = resolved.candidates.iter().find(|candidate| {
                candidate.face.is_some()
                    && candidate.range.is_none()
                    && candidate.adjusted == Adjusted::default()
            });
            let face = shows.and_then(|candidate| candidate.face.clone());
            if let Some(face) = face
                && !plan.local.iter().any(|known| Arc::ptr_eq(known, &face))
            {
                plan.local.push(face);
            }
        }
        plan.sizes.sort_by(f32::total_cmp);
        (!plan.local.is_empty() && !plan.text.trim().is_empty()).then_some(plan)
    }

    /// The rules of the stack, and the families of its stand-ins.
    fn build(
        &self,
        family: &str,
        slices: usize,
        window: &Window,
    ) -> Result<(Vec<tidy_lattice_core::page::PlacedFace>, Vec<String>), ProjectError> {
        let sample = TextSample::of_texts([(self.text.as_str(), 1)]);
        let need = Need::gather(&[Source {
            name: "page".to_owned(),
            text: self.text.clone(),
        }]);
        let mut locals: Vec<LocalFamily<'_>> = Vec::new();
        for face in &self.local {
            let name = &face.names().family;
            match locals.iter_mut().find(|known| known.name == *name) {
                Some(known) => known.faces.push(face),
                None => locals.push(LocalFamily {
                    name: name.clone(),
                    faces: vec![face],
                    platforms: Vec::new(),
                }),
            }
        }
        let request = BuildRequest {
            role: "page".to_owned(),
            family: family.to_owned(),
            web: self
                .web
                .iter()
                .map(|(face, rules)| WebSource {
                    faces: vec![face],
                    url: rules[0].number.to_string(),
                    weights: None,
                    widths: None,
                    slices: slices_of(face, rules),
                })
                .collect(),
            display: self.display.clone(),
            signs: Vec::new(),
            scripts: Vec::new(),
            kept: Vec::new(),
            locals,
            keep_order: true,
            devices: &[],
            sample: &sample,
            sample_kind: SampleKind::OwnText {
                sources: vec!["page".to_owned()],
            },
            set: &self.set,
            line_height_specified: false,
            need: &need,
            sizes: self.sizes.clone(),
            widths: vec![window.width * 0.5, window.width * 0.75, window.width * 0.9],
            generic: None,
            pin: true,
            taller: 0.0,
            fit: FitOptions {
                slices: Slices::Exactly(slices),
                ..FitOptions::default()
            },
            comments: false,
        };
        let built = build(&request, None)?;
        let (placed, _) = font_faces(&built.css, "stack", &NoFiles, window.viewport());
        let stand_ins = built.stand_ins.into_iter().map(|stand_in| stand_in.family);
        Ok((placed, stand_ins.collect()))
    }
}
