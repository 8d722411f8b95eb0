//! The stacks that `build` makes of a project, and the style sheet of them.

use std::path::{Path, PathBuf};

use tidy_lattice_core::need::Need;
use tidy_lattice_core::platform::Device;
use tidy_lattice_core::stack::of_devices::DeviceStack;
use tidy_lattice_core::stack::{
    BuildRequest, Built, KeptFamily, LocalFamily, ScriptSource, Sheets, SignSource, WebSource,
    build, sheets,
};
use tidy_lattice_core::standin::{FitOptions, Minimise, Slices, TextSample};
use tidy_lattice_core::text::Source;

use super::built::sheet_of;
use super::device_stacks::device_stacks;
use super::file::{self, Aim, BuildRules, Project, Role, SlicesChoice};
use super::ingredients::{Ingredients, LocalPart, RoleParts, families_of};
use super::request::{BuildParts, SiteRequest};
use super::sampling::sampled;
use super::set_pages::{in_family, texts_of};
use super::{Access, ProjectError};

/// Stacks, what they were made from, and the parts of their style sheet.
pub struct Stacks {
    /// The stacks.
    pub built: Vec<Built>,
    /// The text that each was fitted on.
    pub samples: Vec<TextSample>,
    /// What they were made from.
    pub ingredients: Ingredients,
    /// The families of the platforms; none where local fonts were named.
    pub locals: Vec<LocalPart>,
    /// Stacks of installed families, for roles without a web font.
    pub of_devices: Vec<DeviceStack>,
    /// Their style sheet, whole and in parts.
    pub sheets: Sheets,
}

/// How stacks are built.
#[derive(Debug, Clone, PartialEq)]
pub struct Settings {
    /// `font-display` of web fonts.
    pub display: &'static str,
    /// How many slices of letters have a size of their own.
    pub slices: SlicesChoice,
    /// What the fit makes small.
    pub minimise: file::Minimise,
    /// How uneven letters may become, in %.
    pub most_spread: Option<f64>,
    /// How much taller lines may be pinned, in % of an em.
    pub taller: f64,
    /// Whether web fonts state their own line metrics.
    pub pin: bool,
    /// Whether the style sheet says why each entry is there.
    pub comments: bool,
}

impl Aim {
    /// The value of `font-display` that serves it (CSS Fonts 4, §11).
    pub fn display(self) -> &'static str {
        match self {
            Aim::TextFirst => "swap",
            Aim::BrandFirst => "block",
            Aim::NoLateChange => "optional",
        }
    }

    /// All values that serve it, the best first.
    pub fn displays(self) -> &'static [&'static str] {
        match self {
            Aim::TextFirst => &["swap", "fallback", "optional"],
            Aim::BrandFirst => &["block"],
            Aim::NoLateChange => &["optional"],
        }
    }
}

impl Settings {
    /// What a project says, and the defaults for the rest.
    pub fn of(rules: &BuildRules) -> Self {
        let purpose = rules.purpose.unwrap_or_default();
        Settings {
            display: rules.aim.unwrap_or(Aim::TextFirst).display(),
            slices: rules.slices.unwrap_or(purpose.slices()),
            minimise: rules.minimise.unwrap_or(file::Minimise::Lines),
            most_spread: rules.most_spread.or(purpose.most_spread()),
            taller: rules.taller.unwrap_or(0.0),
            pin: rules.pin.unwrap_or(true),
            comments: rules.comments.unwrap_or(true),
        }
    }

    fn fit(&self, exact: bool) -> FitOptions {
        FitOptions {
            slices: match self.slices {
                SlicesChoice::Off => Slices::Exactly(1),
                SlicesChoice::Auto => Slices::Auto,
                SlicesChoice::Exactly(number) => Slices::Exactly(usize::from(number)),
            },
            minimise: match self.minimise {
                file::Minimise::Words => Minimise::Words,
                file::Minimise::Lines => Minimise::Lines,
            },
            most_spread: self.most_spread,
            most_factor: None,
            exact,
        }
    }
}

/// Builds the stacks that `parts`, or else the project, names; URLs lead from the folder
/// of the style sheet `sheet`.
///
/// # Errors
///
/// [`ProjectError`] where something that was named cannot be had, or makes no stack.
pub fn stacks(
    parts: &BuildParts,
    project: Option<&Project>,
    settings: &Settings,
    sheet: Option<&Path>,
    access: Access<'_>,
) -> Result<Stacks, ProjectError> {
    let ingredients = Ingredients::gather(parts, project, sheet, access)?;
    let devices: Vec<Device<'_>> = ingredients
        .platforms
        .iter()
        .map(|platform| platform.device(access))
        .collect();
    let locals = if ingredients.locals_named {
        Vec::new()
    } else {
        families_of(&devices)
    };
    let (built, samples) = build_all(settings, &ingredients, &devices, &locals, &parts.language)?;
    let of_devices = device_stacks(parts, project, &devices, access)?;
    drop(devices);
    Ok(Stacks {
        sheets: sheets(&built, &of_devices, settings.display, settings.comments),
        of_devices,
        built,
        samples,
        ingredients,
        locals,
    })
}

/// Has `request` say what `build` would write where the style sheet of `build` does not
/// lie there yet; that is told. Pages and roles that ask for it then have it.
///
/// # Errors
///
/// As [`stacks`].
pub fn stand_for_missing(
    request: &mut SiteRequest,
    project: Option<&Project>,
    access: Access<'_>,
) -> Result<(), ProjectError> {
    let Some(project) = project.filter(|_| request.made.is_none()) else {
        return Ok(());
    };
    let sheet = sheet_of(project);
    if access.exists(&sheet) || !project.role.values().any(Role::is_built) {
        return Ok(());
    }
    let parts = BuildParts {
        site: request.clone(),
        language: "en".to_owned(),
        ..BuildParts::default()
    };
    let settings = Settings::of(&project.build);
    let made = match stacks(&parts, Some(project), &settings, Some(&sheet), access) {
        Ok(made) => made,
        // Roles that list their families can do without.
        Err(error) if project.role.values().all(|role| !role.stack.is_empty()) => {
            access.note(&format!(
                "{} is not there yet, and `build` cannot make it: {error}",
                sheet.display()
            ));
            return Ok(());
        }
        Err(error) => return Err(error),
    };
    access.note(&format!(
        "{} is not there yet, so what `build` would write is taken for it",
        sheet.display()
    ));
    request.made = Some(made.sheets.whole());
    Ok(())
}

/// Builds the stack of every role, and what each was fitted on; `language` is that of
/// roles without texts and languages.
fn build_all(
    settings: &Settings,
    ingredients: &Ingredients,
    devices: &[Device<'_>],
    locals: &[LocalPart],
    language: &str,
) -> Result<(Vec<Built>, Vec<TextSample>), ProjectError> {
    let (mut built, mut samples) = (Vec::new(), Vec::new());
    let set = texts_of(&ingredients.pages, devices.first());
    for role in &ingredients.roles {
        // Roles with the same fonts share their rules, so they are fitted on all
        // of their texts.
        let alike: Vec<&RoleParts> = ingredients
            .roles
            .iter()
            .filter(|other| same_fonts(other, role))
            .collect();
        let texts: Vec<&Source> = alike.iter().flat_map(|role| &role.texts).collect();
        let main = alike.iter().flat_map(|role| &role.languages).next();
        let (sample, kind) = sampled(&texts, main.map(String::as_str), language)?;
        let set = in_family(&set, &role.family);
        let shared = Need::merged(alike.iter().map(|role| &role.need));
        let named: Vec<LocalFamily<'_>> = role.locals.iter().map(local_family).collect();
        let keep_order = !named.is_empty();
        let request = BuildRequest {
            role: role.name.clone(),
            family: role.family.clone(),
            web: role
                .web
                .iter()
                .map(|web| WebSource {
                    faces: web.faces.iter().collect(),
                    url: web.url.clone(),
                    weights: web.weights,
                    widths: web.widths,
                    slices: web.slices.clone(),
                })
                .collect(),
            display: settings.display.to_owned(),
            signs: role
                .signs
                .iter()
                .map(|(face, url, wanted)| SignSource {
                    face,
                    url: url.clone(),
                    wanted: wanted.clone(),
                })
                .collect(),
            scripts: role
                .scripts
                .iter()
                .map(|(face, url)| ScriptSource {
                    face,
                    url: url.clone(),
                })
                .collect(),
            kept: role
                .kept
                .iter()
                .map(|(name, face)| KeptFamily {
                    name: name.clone(),
                    face,
                })
                .collect(),
            locals: if keep_order {
                named
            } else {
                locals.iter().map(local_family).collect()
            },
            keep_order,
            devices,
            sample: &sample,
            sample_kind: kind.clone(),
            need: &role.need,
            set: &set,
            line_height_specified: role.line_height_specified,
            sizes: union(alike.iter().map(|role| role.sizes_or(&set))),
            widths: union(alike.iter().map(|role| role.widths.clone())),
            generic: role.generic.clone(),
            pin: settings.pin,
            taller: settings.taller,
            fit: settings.fit(kind.is_own()),
            comments: settings.comments,
        };
        built.push(build(&request, Some(&shared))?);
        samples.push(sample);
    }
    Ok((built, samples))
}

fn local_family(part: &LocalPart) -> LocalFamily<'_> {
    LocalFamily {
        name: part.name.clone(),
        faces: part.faces.iter().map(|face| &**face).collect(),
        platforms: part.platforms.clone(),
    }
}

fn same_fonts(a: &RoleParts, b: &RoleParts) -> bool {
    let files = |role: &RoleParts| -> Vec<PathBuf> {
        role.web.iter().map(|web| web.named.clone()).collect()
    };
    let locals = |role: &RoleParts| -> Vec<String> {
        role.locals.iter().map(|local| local.name.clone()).collect()
    };
    a.family == b.family && files(a) == files(b) && locals(a) == locals(b)
}

fn union<T: PartialOrd + Copy>(lists: impl Iterator<Item = Vec<T>>) -> Vec<T> {
    let mut all: Vec<T> = lists.flatten().collect();
    all.sort_by(|a, b| a.partial_cmp(b).unwrap_or(std::cmp::Ordering::Equal));
    all.dedup();
    all
}
