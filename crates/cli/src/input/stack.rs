//! The stack that the command line or the project names, and the devices to look
//! at it on.

use std::path::{Path, PathBuf};
use std::sync::Arc;

use tidy_lattice_core::font::Limits;
use tidy_lattice_core::lattice::{
    Arrival, Candidate, Entry, Fonts, Request, Resolved, WebFace, resolve,
};
use tidy_lattice_core::page::{PageProblem, PlacedFace, TextStyle, font_faces};
use tidy_lattice_core::platform::{self, Platform};
use tidy_lattice_core::style::read::{FamilyName, Viewport, families};

use super::web::{FontLoader, LARGEST, Site};
use super::{face, platforms, read_bounded};
use crate::args::StackArgs;
use crate::error::CliError;
use crate::output;
use crate::project::Project;

/// The screen that media queries are judged for.
pub const SCREEN: Viewport = Viewport::screen(1280.0, 800.0);

/// Everything that says which font shows a text.
pub struct NamedStack {
    /// The style: families, weight and so on.
    pub style: TextStyle,
    /// The `@font-face` rules with their files.
    pub web: Vec<WebFace>,
    /// Faces given by themselves; where there are some, they are the stack.
    pub given: Vec<Candidate>,
    /// The platforms to look at, with where each comes from.
    pub platforms: Vec<NamedPlatform>,
}

/// A platform and the folder that its cards and fonts lie beside.
pub struct NamedPlatform {
    /// The platform.
    pub platform: Platform,
    folder: PathBuf,
}

impl NamedStack {
    /// The stack of these arguments.
    pub fn read(args: &StackArgs, limits: Limits) -> Result<Self, CliError> {
        let project = Project::find(args.project.as_deref())?;
        let mut style = TextStyle::default();
        let mut given = Vec::new();
        if args.fonts.is_empty() {
            style.families = named_families(args, project.as_ref(), &mut style)?;
        } else {
            for (entry, named) in args.fonts.iter().enumerate() {
                given.push(Candidate::given(entry, Arc::new(face(named, limits)?)));
            }
        }
        let mut sheets = args.sheets.clone();
        if sheets.is_empty()
            && args.fonts.is_empty()
            && let Some(project) = &project
        {
            sheets = project
                .sheets
                .iter()
                .map(|sheet| project.path(sheet))
                .collect();
        }
        let site = site(project.as_ref(), sheets.first().map(PathBuf::as_path));
        let placed = faces_of_sheets(&sheets, &site)?;
        let wanted = |placed: &&PlacedFace| {
            let family = placed
                .face
                .family
                .as_deref()
                .unwrap_or_default()
                .to_lowercase();
            style
                .families
                .iter()
                .any(|known| known.as_str().to_lowercase() == family)
        };
        let mut loader = FontLoader::new(&site, limits);
        let web = placed
            .iter()
            .filter(wanted)
            .map(|placed| loader.load(placed))
            .collect();
        let platforms = if given.is_empty() || !args.platforms.is_empty() {
            named_platforms(&args.platforms, project.as_ref(), limits)?
        } else {
            Vec::new()
        };
        Ok(NamedStack {
            style,
            web,
            given,
            platforms,
        })
    }

    /// What the stack comes down to on `device`.
    pub fn resolve(&self, device: Option<&platform::Device<'_>>, before_load: bool) -> Resolved {
        if !self.given.is_empty() {
            let entries = self.given.iter().map(|candidate| Entry {
                family: FamilyName::Named(candidate.family.clone()),
                stands_for: None,
                absent: None,
            });
            return Resolved {
                entries: entries.collect(),
                candidates: self.given.clone(),
            };
        }
        let fonts = Fonts {
            web: &self.web,
            device,
            arrival: if before_load {
                Arrival::Awaited
            } else {
                Arrival::Here
            },
        };
        resolve(&Request::of(&self.style), fonts)
    }
}

impl NamedPlatform {
    /// The platform with the measurements of its faces.
    pub fn device(&self, limits: Limits) -> platform::Device<'_> {
        platform::Device::new(&self.platform, move |found| {
            platforms::measured(&self.platform, found, &self.folder, limits).ok()
        })
    }
}

fn named_families(
    args: &StackArgs,
    project: Option<&Project>,
    style: &mut TextStyle,
) -> Result<Vec<FamilyName>, CliError> {
    let invalid = |stack: &str| {
        CliError::Usage(format!(
            "--stack {stack:?} is no list of families as font-family takes it; quote names that \
             hold signs or digits at the start of a word"
        ))
    };
    if let Some(stack) = &args.stack {
        return families(stack).ok_or_else(|| invalid(stack));
    }
    let Some(project) = project else {
        return Err(CliError::Usage(
            "there is no stack: name fonts with --font, families with --stack, or a --role of a \
             project file"
                .to_owned(),
        ));
    };
    let names: Vec<&str> = project.role.keys().map(String::as_str).collect();
    let name = match (&args.role, names.as_slice()) {
        (Some(role), _) => role.as_str(),
        (None, [only]) => only,
        (None, _) => {
            return Err(CliError::Usage(format!(
                "the project has several roles ({}); name one with --role",
                names.join(", ")
            )));
        }
    };
    let role = project.role.get(name).ok_or_else(|| {
        CliError::Usage(format!(
            "the project has no role {name:?}; it has {}",
            names.join(", ")
        ))
    })?;
    apply_role(style, role);
    if role.stack.is_empty() {
        return Err(CliError::Usage(format!(
            "role.{name} has no stack yet: put what `build` makes into role.{name}.stack"
        )));
    }
    families(&role.stack).ok_or_else(|| invalid(&role.stack))
}

/// Sets `style` as the role says, but for its families.
pub fn apply_role(style: &mut TextStyle, role: &crate::project::Role) {
    use tidy_lattice_core::page::StyleValue;
    style.weight = role.weight.unwrap_or(style.weight);
    style.size = role.size.unwrap_or(style.size);
    style.style = match role.style.as_deref() {
        Some("italic") => StyleValue::Italic,
        Some("oblique") => StyleValue::Oblique(14.0),
        _ => style.style,
    };
    style.features = role.features.iter().map(|tag| (tag.clone(), 1)).collect();
}

/// The site of a project; else that of the folder of `file`.
pub fn site(project: Option<&Project>, file: Option<&Path>) -> Site {
    let root = match project {
        Some(project) => project.path(project.root.clone().unwrap_or_default()),
        None => file
            .and_then(Path::parent)
            .map(Path::to_owned)
            .unwrap_or_default(),
    };
    Site {
        root,
        root_is_known: project.is_some(),
    }
}

/// The `@font-face` rules of `sheets`; what cannot be read of them is told.
pub fn faces_of_sheets(sheets: &[PathBuf], site: &Site) -> Result<Vec<PlacedFace>, CliError> {
    let mut faces = Vec::new();
    for sheet in sheets {
        let bytes = read_bounded(sheet, LARGEST)?;
        let css = String::from_utf8_lossy(&bytes);
        let (more, problems) = font_faces(&css, &sheet.display().to_string(), site, SCREEN);
        faces.extend(more);
        problems.iter().for_each(tell);
    }
    Ok(faces)
}

/// Says what was left out of a page or sheet.
pub fn tell(problem: &PageProblem) {
    output::note(&format!(
        "{}:{}: {}",
        problem.file, problem.line, problem.what
    ));
}

/// The platforms called `names`; by default those of the project, else all that
/// are built in.
pub fn named_platforms(
    names: &[String],
    project: Option<&Project>,
    limits: Limits,
) -> Result<Vec<NamedPlatform>, CliError> {
    let mut names = names.to_vec();
    if names.is_empty()
        && let Some(project) = project
    {
        names = project
            .platforms
            .iter()
            .map(|name| project.platform(name))
            .collect();
    }
    if names.is_empty() {
        names = platform::platforms()
            .iter()
            .map(|known| known.name.clone())
            .collect();
    }
    names
        .iter()
        .map(|name| {
            let platform = if name == "here" {
                platforms::here(limits)?
            } else {
                platforms::platform(name, platform::platforms(), limits)?
            };
            let folder = Path::new(name)
                .parent()
                .map(Path::to_owned)
                .unwrap_or_default();
            Ok(NamedPlatform { platform, folder })
        })
        .collect()
}
